// Shape functions and integration points of the plane cells, fixed sizes.
#pragma once
#include <Eigen/Core>
#include <array>
#include <cmath>

#include "core/mesh/mesh.hpp"

namespace anvil::element {

template <int N> using Shape = Eigen::Matrix<double, N, 1>;
template <int N> using ShapeGradient = Eigen::Matrix<double, N, 2>;

/// Bilinear quadrilateral, 2x2 points.
struct Quad4 {
  static constexpr int nodes = 4, points = 4;
  static constexpr mesh::Cell cell = mesh::Cell::quad4;
  static Shape<4> shape(double s, double t) {
    return Shape<4>((1 - s) * (1 - t), (1 + s) * (1 - t), (1 + s) * (1 + t), (1 - s) * (1 + t)) / 4;
  }
  static ShapeGradient<4> gradient(double s, double t) {
    ShapeGradient<4> g;
    g << -(1 - t), -(1 - s), 1 - t, -(1 + s), 1 + t, 1 + s, -(1 + t), 1 - s;
    return g / 4;
  }
};

/// Serendipity quadrilateral, 2x2 (reduced) points.
struct Quad8 {
  static constexpr int nodes = 8, points = 4;
  static constexpr mesh::Cell cell = mesh::Cell::quad8;
  static constexpr double S[4] = {-1, 1, 1, -1}, T[4] = {-1, -1, 1, 1};
  static Shape<8> shape(double s, double t) {
    Shape<8> n;
    for (int i = 0; i < 4; ++i) n[i] = (1 + S[i] * s) * (1 + T[i] * t) * (S[i] * s + T[i] * t - 1) / 4;
    n[4] = (1 - s * s) * (1 - t) / 2, n[5] = (1 + s) * (1 - t * t) / 2;
    n[6] = (1 - s * s) * (1 + t) / 2, n[7] = (1 - s) * (1 - t * t) / 2;
    return n;
  }
  static ShapeGradient<8> gradient(double s, double t) {
    ShapeGradient<8> g;
    for (int i = 0; i < 4; ++i) {
      g(i, 0) = S[i] * (1 + T[i] * t) * (2 * S[i] * s + T[i] * t) / 4;
      g(i, 1) = T[i] * (1 + S[i] * s) * (S[i] * s + 2 * T[i] * t) / 4;
    }
    g.row(4) << -s * (1 - t), -(1 - s * s) / 2;
    g.row(5) << (1 - t * t) / 2, -(1 + s) * t;
    g.row(6) << -s * (1 + t), (1 - s * s) / 2;
    g.row(7) << -(1 - t * t) / 2, -(1 - s) * t;
    return g;
  }
};

/// The 2x2 Gauss points, in the order of the corners they lie next to; all weights are 1.
inline std::array<std::array<double, 2>, 4> gauss2x2() {
  const double g = 1 / std::sqrt(3.);
  return {{{-g, -g}, {g, -g}, {g, g}, {-g, g}}};
}

}  // namespace anvil::element
