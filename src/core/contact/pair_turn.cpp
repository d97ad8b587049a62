// Friction of the start of an increment, turned with the surface.
#include <Eigen/Geometry>
#include <algorithm>

#include "core/contact/pair.hpp"

namespace anvil::contact {

/// Frame at a corner from the places of itself, the next and the previous corner: along the next edge, normal, across.
static Eigen::Matrix3d frameOf(const std::array<Point3, 3>& x) {
  const Point3 along = (x[1] - x[0]).normalized(), normal = along.cross(x[2] - x[0]).normalized();
  return (Eigen::Matrix3d() << along, normal, along.cross(normal)).finished();
}

/// Friction of the start of the increment, turned with the surface at its node: from the frame of the first side there
/// then to its frame now. Its slope is taken by central differences of the frame.
void Pair::turnOldFriction(const Configuration& c, bool slopes) {
  for (size_t a = 0; a < old_.size(); ++a) oldFriction_[a] = old_[a].friction;
  if (dim_ == 2 || !hasFriction()) return;
  turned_.resize(old_.size());
  std::vector<char> done(old_.size(), 0);
  for (const auto& s : setup_.slave.sides)
    for (int i = 0; i < s.corners; ++i) {
      const auto a = size_t(s.corner[size_t(i)]);
      if (done[a] || old_[a].friction.isZero(0)) continue;
      done[a] = 1;
      const int node[3] = {s.node[size_t(i)], s.node[size_t((i + 1) % s.corners)],
                           s.node[size_t((i + s.corners - 1) % s.corners)]};
      std::array<Point3, 3> now, before;
      for (size_t k = 0; k < 3; ++k) now[k] = c.place(node[k], false), before[k] = c.place(node[k], true);
      const Point3 own = frameOf(before).transpose() * old_[a].friction;
      oldFriction_[a] = frameOf(now) * own;
      const double h = 1e-5 * setup_.slave.meanLength;
      for (int k = 0; slopes && k < 9; ++k) {
        auto moved = now;
        moved[size_t(k / 3)][k % 3] += h;
        const Point3 plus = frameOf(moved) * own;
        moved[size_t(k / 3)][k % 3] -= 2 * h;
        turned_[a].slope.row(k) = ((plus - frameOf(moved) * own) / (2 * h)).transpose();
        turned_[a].dofs[size_t(k)] = 3 * node[k / 3] + k % 3;
      }
    }
}

Eigen::MatrixXd Pair::oldFrictionSlope(size_t a) const {
  const auto& dofs = corners_[a].dofs;
  Eigen::MatrixXd slope = Eigen::MatrixXd::Zero(Eigen::Index(dofs.size()), tangents_);
  if (dim_ == 2 || old_[a].friction.isZero(0)) return slope;
  for (size_t k = 0; k < 9; ++k) {
    const auto it = std::find(dofs.begin(), dofs.end(), turned_[a].dofs[k]);
    if (it != dofs.end()) slope.row(it - dofs.begin()) += turned_[a].slope.row(Eigen::Index(k));
  }
  return slope;
}

}  // namespace anvil::contact
