// Sums over facets of the mesh as it is drawn.
#pragma once
#include <Eigen/Geometry>
#include <numbers>
#include <vector>

#include "core/element/face.hpp"
#include "core/problem/problem.hpp"

namespace anvil::checks {

/// Calls `act` with each point of integration of facets, undeformed: its place, and the normal out of the body times the area
/// that belongs to it; in the plane per unit of thickness.
template <class Act>
void eachFacetPoint(const mesh::Mesh& mesh, const std::vector<mesh::Facet>& facets, const Act& act) {
  for (const auto& f : facets) {
    const auto nodes = mesh.nodesOf(f);
    const int corners = mesh.cornersOf(f);
    for (const auto& [local, weight] : element::faceRule(corners)) {
      const auto shape = element::faceShape(corners, nodes.size() > size_t(corners), local);
      Eigen::Vector3d x{0, 0, 0}, t1{0, 0, 0}, t2{0, 0, 0};
      for (size_t a = 0; a < nodes.size(); ++a) {
        const Eigen::Vector3d& at = mesh.x[size_t(nodes[a])];
        x += shape.N[a] * at, t1 += shape.d1[a] * at, t2 += shape.d2[a] * at;
      }
      if (corners == 2) t2 = Eigen::Vector3d::UnitZ();
      act(x, Eigen::Vector3d(t1.cross(t2) * weight));
    }
  }
}

/// What a plane facet's point stands for: the thickness, or all round the axis, mm; 1 in space.
inline double throughAt(const analysis::Problem& p, const Eigen::Vector3d& x) {
  return p.dim() == 3 ? 1 : p.setting.space == element::Space::axisymmetric ? 2 * std::numbers::pi * x.x() : p.setting.thickness;
}

}  // namespace anvil::checks
