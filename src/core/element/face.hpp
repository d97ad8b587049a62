// Shape functions and integration points on the sides of cells: edges (2 corners), triangles and quadrilaterals, linear
// or quadratic. Local coordinates: [-1, 1] on edges and squares, area coordinates on triangles.
#pragma once
#include <Eigen/Core>
#include <array>
#include <utility>
#include <vector>

namespace anvil::element {

/// Values and slopes at a point; corners first, then mid-side nodes.
struct FaceShape {
  std::array<double, 8> N{}, d1{}, d2{};
};

FaceShape faceShape(int corners, bool quadratic, const Eigen::Vector2d& local);

/// Points and weights that integrate the loads of quadratic sides.
const std::vector<std::pair<Eigen::Vector2d, double>>& faceRule(int corners);

}  // namespace anvil::element
