// Which way across a sheet its sides lie from the nodes of the surface it is drawn on.
#pragma once
#include <Eigen/Core>
#include <string>
#include <vector>

namespace anvil::mesh {

/// A surface of quads: four nodes per cell, with the normal of the cell's face at each (unit), and the face it lies on.
struct DrawnQuads {
  std::vector<Eigen::Vector3d> x;
  std::vector<int> cells;
  std::vector<Eigen::Vector3d> normals;
  std::vector<int> face;
};

/// Per node the way to the upper side over a distance of 1: along the normal; where faces of other normals meet the shortest m
/// with m·n = 1 for all of them (a mitre). Beside a mitre, as far as 2.5 times what it shifts a side by, the nodes of its faces
/// are shifted with it, less and less, so that small elements do not fold. `reach`: distance of the farther side, mm. Throws
/// Error naming `path` where faces fold back by more than 150 degrees.
std::vector<Eigen::Vector3d> waysAcross(const DrawnQuads& surface, double reach, const std::string& path);

}  // namespace anvil::mesh
