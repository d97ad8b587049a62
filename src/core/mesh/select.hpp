// Faces by rule: what lies on one cylinder, what goes on without a corner, what lies in a plane or a box.
#pragma once
#include <string>
#include <vector>

#include "core/mesh/mesh.hpp"

namespace anvil::mesh {

/// A circular cylinder through facets.
struct Cylinder {
  Eigen::Vector3d axis{0, 0, 1}, centre{0, 0, 0};  ///< unit; a point on the axis, in the middle of the facets
  double radius = 0;
  double misfit = 1;  ///< of the nodes, over the radius
  bool fits() const { return misfit < 0.01; }
};
/// The cylinder that fits the nodes of facets best (least squares; I. Kåsa, IEEE Trans. Instrum. Meas. 25, 1976, across the
/// axis).
Cylinder cylinderOf(const Mesh& mesh, const std::vector<Facet>& facets);

/// True where facets on a cylinder look at its axis: a hole; false for a shaft.
bool isHole(const Mesh& mesh, const std::vector<Facet>& facets, const Cylinder& cylinder);

/// Named faces of the same part, in space, that lie on the cylinder of `facets`; the facets' own among them. Empty when they lie
/// on none.
std::vector<std::string> facesOnCylinder(const Mesh& mesh, const std::vector<Facet>& facets);

/// Named faces of the same part, in space, that can be reached from `facets` over edges where the surface turns by less than
/// `angle`, rad; the facets' own among them.
std::vector<std::string> facesTangentTo(const Mesh& mesh, const std::vector<Facet>& facets, double angle = 0.2);

/// Outside facets of parts that lie within a distance of a plane with all their corners.
std::vector<Facet> facetsInPlane(const Mesh& mesh, const std::vector<int>& parts, const Eigen::Vector3d& at,
                                 const Eigen::Vector3d& normal, double within);
/// Outside facets of parts whose corners all lie in a box.
std::vector<Facet> facetsInBox(const Mesh& mesh, const std::vector<int>& parts, const Eigen::Vector3d& from,
                               const Eigen::Vector3d& to);

}  // namespace anvil::mesh
