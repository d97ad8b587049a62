// The outside of a solid in triangles that know the face they lie on.
#pragma once
#include <Eigen/Geometry>
#include <array>
#include <vector>

namespace anvil::mesher {

struct Skin {
  std::vector<Eigen::Vector3d> x;
  std::vector<std::array<int, 3>> triangles;  ///< seen from outside they run counter-clockwise
  std::vector<int> face;                      ///< of each triangle, in the order of the shape's faces, from 0
};

}  // namespace anvil::mesher
