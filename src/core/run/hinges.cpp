#include "core/run/hinges.hpp"

#include "core/run/assembly.hpp"

namespace anvil::analysis {

void hingeParts(const Problem& p, const Constraints& constraints, const VectorXd& u, const LoadLevel& level, bool tangent,
                std::vector<contact::Contribution>& out) {
  const double s = p.hingeScale;
  for (const auto& h : constraints.hinges()) {
    contact::Contribution part;
    for (const int first : {3 * h.upper, 3 * h.lower})
      for (int k = 0; k < 3; ++k) part.dofs.push_back(first + k);
    part.dofs.push_back(h.multiplier);
    const double gap =
        h.direction.dot(p.at(u, h.upper) + p.at(u, h.lower)) / 2 - constraints.value(h, level.time, *level.stepStart);
    const Vector3d half = s / 2 * h.direction;
    part.force = part.condensed = VectorXd::Zero(7);
    part.force << u[h.multiplier] * half, u[h.multiplier] * half, s * gap;
    if (tangent) {
      part.stiffness = Eigen::MatrixXd::Zero(7, 7);
      part.stiffness.col(6) << half, half, 0;
      part.stiffness.row(6) << half.transpose(), half.transpose(), 0;
    }
    out.push_back(std::move(part));
  }
}

Vector3d hingeForce(const Problem& p, int multiplier, const Vector3d& direction, const VectorXd& u) {
  return -p.hingeScale / 2 * u[multiplier] * direction;
}

VectorXd hingeForces(const Problem& p, const std::vector<Constraints::Hinged>& hinges, const VectorXd& u) {
  VectorXd forces = VectorXd::Zero(p.dofs());
  for (const auto& h : hinges)
    for (const int n : {h.upper, h.lower}) forces.segment<3>(3 * n) += hingeForce(p, h.multiplier, h.direction, u);
  return forces;
}

}  // namespace anvil::analysis
