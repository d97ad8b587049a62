#include "core/run/balance.hpp"
#include "core/run/bolt_parts.hpp"
#include "core/run/carrier_parts.hpp"

#include <Eigen/Geometry>

#include "core/contact/rotation.hpp"

namespace anvil::analysis {

Balance balanceOf(const Problem& p, const VectorXd& u, const VectorXd& before, double size, const VectorXd& given,
                  const Balance& least) {
  VectorXd f = given;
  for (const auto& spring : p.springs) {
    std::vector<contact::Contribution> parts;
    springParts(p, spring, u, before, size, false, parts);
    for (const auto& part : parts)
      for (size_t i = 0; i < part.dofs.size(); ++i) f[part.dofs[i]] -= part.force[Eigen::Index(i)];
  }
  const int dim = p.dim();
  const bool axisymmetric = p.setting.space == element::Space::axisymmetric;
  Vector3d middle = Vector3d::Zero(), force = middle, moment = middle;
  for (const auto& x : p.mesh.x) middle += x / double(p.mesh.x.size());
  double forces = 0, moments = 0;
  const auto add = [&](const Vector3d& at, Vector3d one, const Vector3d& turning) {
    if (axisymmetric) one.x() = 0;
    const Vector3d m = (at - middle).cross(one) + turning;
    force += one, moment += m, forces += one.norm(), moments += m.norm();
  };
  for (int n = 0; n < p.nodeCount(); ++n) add(p.mesh.x[size_t(n)] + p.at(u, n), p.at(f, n), Vector3d::Zero());
  for (int b = 0; b < int(p.bodies.size()); ++b) {
    const Vector3d shift = p.shiftOf(u, b);
    Vector3d turning = p.turnOf(f, b);
    if (dim == 3 && p.setting.large) turning = contact::spatialMoment(p.turnOf(u, b), turning);
    add(p.bodies[size_t(b)].pivot + shift, p.isNodeBody(b) ? Vector3d(Vector3d::Zero()) : p.shiftOf(f, b), turning);
  }
  if (axisymmetric) moments = 0;
  const double f0 = std::max(forces, least.forces), m0 = std::max(moments, least.moments);
  return {f0 > 0 ? force.norm() / f0 : 0, m0 > 0 && !axisymmetric ? moment.norm() / m0 : 0, forces, moments};
}

}  // namespace anvil::analysis
