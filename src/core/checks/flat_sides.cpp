#include "core/checks/flat_sides.hpp"

#include <Eigen/Geometry>
#include <map>
#include <numbers>

#include "core/element/face.hpp"
#include "core/mesh/select.hpp"

namespace anvil::checks {

FlatSides flatSides(const contact::Surface& surface, const mesh::Mesh& mesh) {
  FlatSides result;
  std::map<std::pair<int, int>, std::vector<const contact::Side*>> meeting;  // by the node or the edge that sides share
  for (const auto& s : surface.sides) {
    if (s.quadratic()) continue;
    for (int i = 0; i < s.corners; ++i) {
      const int a = s.node[size_t(i)], b = s.corners == 2 ? a : s.node[size_t((i + 1) % s.corners)];
      meeting[std::minmax(a, b)].push_back(&s);
    }
  }
  const auto at = [&](const contact::Side& s, int i) -> const Eigen::Vector3d& { return mesh.x[size_t(s.node[size_t(i)])]; };
  const auto middle = [&](const contact::Side& s) {
    Eigen::Vector3d sum = Eigen::Vector3d::Zero();
    for (int i = 0; i < s.corners; ++i) sum += at(s, i) / s.corners;
    return sum;
  };
  const auto normal = [&](const contact::Side& s) -> Eigen::Vector3d {
    const Eigen::Vector3d along = at(s, 1) - at(s, 0);
    if (s.corners == 2) return Eigen::Vector3d(along.y(), -along.x(), 0).normalized();
    return (s.corners == 3 ? along.cross(at(s, 2) - at(s, 0)) : (at(s, 2) - at(s, 0)).cross(at(s, 3) - at(s, 1))).normalized();
  };
  for (const auto& [where, two] : meeting) {
    if (two.size() != 2) continue;
    const Eigen::Vector3d n = normal(*two[0]), between = middle(*two[1]) - middle(*two[0]);
    const double angle = std::acos(std::clamp(n.dot(normal(*two[1])), -1., 1.)), h = between.norm();
    if (angle > std::numbers::pi / 6 || angle * h < 8 * result.standOff || h == 0) continue;
    result.standOff = angle * h / 8;
    result.curvature = (between.dot(n) < 0 ? 1 : -1) * angle / h;
  }
  return result;
}

std::optional<RoundFace> roundFace(const contact::Surface& surface, const mesh::Mesh& mesh) {
  std::vector<mesh::Facet> facets;
  for (const auto& s : surface.sides) {
    if (!s.quadratic() || s.corners == 2) return {};
    facets.push_back(s.facet);
  }
  const auto c = mesh::cylinderOf(mesh, facets);
  if (!c.fits()) return {};
  RoundFace face{c.radius, 0, 0};
  const auto outward = [&](const Eigen::Vector3d& x) -> Eigen::Vector3d {
    const Eigen::Vector3d r = x - c.centre;
    return r - c.axis.dot(r) * c.axis;
  };
  for (const auto& s : surface.sides) {
    const auto at = element::faceShape(s.corners, true, s.corners == 3 ? Eigen::Vector2d(1. / 3, 1. / 3) : Eigen::Vector2d(0, 0));
    Eigen::Vector3d middle = Eigen::Vector3d::Zero(), d1 = middle, d2 = middle;
    for (int i = 0; i < s.nodes; ++i) {
      const auto& x = mesh.x[size_t(s.node[size_t(i)])];
      middle += at.N[size_t(i)] * x, d1 += at.d1[size_t(i)] * x, d2 += at.d2[size_t(i)] * x;
      face.standOff = std::max(face.standOff, std::abs(outward(x).norm() - c.radius));
    }
    face.standOff = std::max(face.standOff, std::abs(outward(middle).norm() - c.radius));
    face.bulge += d1.cross(d2).dot(outward(middle)) > 0 ? 1 : -1;
  }
  face.bulge = face.bulge > 0 ? 1 : -1;
  return face;
}

}  // namespace anvil::checks
