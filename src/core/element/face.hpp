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

/// The same of triangles (3) and quadrangles (4) by their corners alone.
inline FaceShape cornerShape(int corners, const Eigen::Vector2d& local) {
  const double s = local.x(), t = local.y();
  FaceShape f;
  if (corners == 3) {
    f.N = {1 - s - t, s, t}, f.d1 = {-1, 1, 0}, f.d2 = {-1, 0, 1};
    return f;
  }
  const double a = 0.25 * (1 - s), b = 0.25 * (1 + s), c = 0.25 * (1 - t), d = 0.25 * (1 + t);
  f.N = {a * (1 - t), b * (1 - t), b * (1 + t), a * (1 + t)};
  f.d1 = {-c, c, d, -d}, f.d2 = {-a, -b, b, a};
  return f;
}

/// Points and weights that integrate the loads of quadratic sides.
const std::vector<std::pair<Eigen::Vector2d, double>>& faceRule(int corners);

}  // namespace anvil::element
