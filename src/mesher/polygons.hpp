// Triangles on faces made to quads: neighbours are joined, what is left is parted, and the nodes are moved about on the faces.
#pragma once
#include <Eigen/Geometry>
#include <functional>
#include <optional>
#include <vector>

namespace anvil::mesher {

/// Polygons of three or four corners, anticlockwise seen against their normals.
struct Polygons {
  std::vector<Eigen::Vector3d> x;
  std::vector<std::vector<int>> cells;
  std::vector<int> face;                ///< of each cell
  std::vector<Eigen::Vector3d> normal;  ///< of each cell, unit
};

/// Where polygons lie: puts points back on a face, and points halfway between two on the border of a face (`other`: the face
/// beyond, -1 for none) on that border.
struct Ground {
  std::function<Eigen::Vector3d(int face, const Eigen::Vector3d& x)> onFace;
  std::function<Eigen::Vector3d(int face, int other, const Eigen::Vector3d& a, const Eigen::Vector3d& b)> onBorder;
};

/// Least sine of a corner's angle seen against the normal, negative where the quad is folded; 1 for a rectangle.
double scaledJacobian(const Eigen::Vector3d& a, const Eigen::Vector3d& b, const Eigen::Vector3d& c, const Eigen::Vector3d& d,
                      const Eigen::Vector3d& normal);

/// Quads of triangles: neighbouring ones are joined, best ones first; then every quad is parted in four and every triangle in
/// three, and inner nodes are moved where that makes their worst quad better.
Polygons quadsOf(Polygons triangles, const Ground& ground);

}  // namespace anvil::mesher
