// Shape functions and integration points of the cells, fixed sizes. Points lie next to the corners, in their order
// (wedges: the three of the lower triangle, then of the upper).
#pragma once
#include <Eigen/Core>
#include <array>
#include <cmath>
#include <utility>
#include <vector>

#include "core/mesh/mesh.hpp"

namespace anvil::element {

template <int N>
using Shape = Eigen::Matrix<double, N, 1>;
template <int N, int dim>
using ShapeGradient = Eigen::Matrix<double, N, dim>;
template <int dim>
using Local = Eigen::Matrix<double, dim, 1>;
/// Integration points with weights.
template <int dim>
using Rule = std::vector<std::pair<Local<dim>, double>>;

inline Rule<2> squareRule() {
  const double g = 1 / std::sqrt(3.);
  return {{{-g, -g}, 1}, {{g, -g}, 1}, {{g, g}, 1}, {{-g, g}, 1}};
}
inline Rule<3> cubeRule() {
  Rule<3> r;
  for (double z : {-1., 1.})
    for (const auto& [p, w] : squareRule()) r.push_back({{p.x(), p.y(), z / std::sqrt(3.)}, 1});
  return r;
}
inline Rule<2> triangleRule() { return {{{1. / 6, 1. / 6}, 1. / 6}, {{2. / 3, 1. / 6}, 1. / 6}, {{1. / 6, 2. / 3}, 1. / 6}}; }
inline Rule<3> wedgeRule() {
  Rule<3> r;
  for (double z : {-1., 1.})
    for (const auto& [p, w] : triangleRule()) r.push_back({{p.x(), p.y(), z / std::sqrt(3.)}, w});
  return r;
}
inline Rule<3> tetrahedronRule() {
  const double b = (5 - std::sqrt(5.)) / 20, a = 1 - 3 * b;
  return {{{b, b, b}, 1. / 24}, {{a, b, b}, 1. / 24}, {{b, a, b}, 1. / 24}, {{b, b, a}, 1. / 24}};
}

/// Bilinear quadrilateral.
struct Quad4 {
  static constexpr int nodes = 4, corners = 4, points = 4, dim = 2;
  static constexpr bool bar = true;  ///< volumetric part of F taken from its mean
  static Rule<2> rule() { return squareRule(); }
  static Shape<4> shape(const Local<2>& p) {
    const double s = p.x(), t = p.y();
    return Shape<4>((1 - s) * (1 - t), (1 + s) * (1 - t), (1 + s) * (1 + t), (1 - s) * (1 + t)) / 4;
  }
  static ShapeGradient<4, 2> gradient(const Local<2>& p) {
    const double s = p.x(), t = p.y();
    ShapeGradient<4, 2> g;
    g << -(1 - t), -(1 - s), 1 - t, -(1 + s), 1 + t, 1 + s, -(1 + t), 1 - s;
    return g / 4;
  }
};

/// Serendipity quadrilateral, 2x2 (reduced) points.
struct Quad8 {
  static constexpr int nodes = 8, corners = 4, points = 4, dim = 2;
  static constexpr bool bar = false;
  static constexpr double S[4] = {-1, 1, 1, -1}, T[4] = {-1, -1, 1, 1};
  static Rule<2> rule() { return squareRule(); }
  static Shape<8> shape(const Local<2>& p) {
    const double s = p.x(), t = p.y();
    Shape<8> n;
    for (int i = 0; i < 4; ++i) n[i] = (1 + S[i] * s) * (1 + T[i] * t) * (S[i] * s + T[i] * t - 1) / 4;
    n[4] = (1 - s * s) * (1 - t) / 2, n[5] = (1 + s) * (1 - t * t) / 2;
    n[6] = (1 - s * s) * (1 + t) / 2, n[7] = (1 - s) * (1 - t * t) / 2;
    return n;
  }
  static ShapeGradient<8, 2> gradient(const Local<2>& p) {
    const double s = p.x(), t = p.y();
    ShapeGradient<8, 2> g;
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

/// Quadratic triangle, 3 points.
struct Tri6 {
  static constexpr int nodes = 6, corners = 3, points = 3, dim = 2;
  static constexpr bool bar = true;
  static Rule<2> rule() { return triangleRule(); }
  static Shape<6> shape(const Local<2>& p) {
    const double L[3] = {1 - p.x() - p.y(), p.x(), p.y()};
    Shape<6> n;
    for (int i = 0; i < 3; ++i) n[i] = L[i] * (2 * L[i] - 1), n[3 + i] = 4 * L[i] * L[(i + 1) % 3];
    return n;
  }
  static ShapeGradient<6, 2> gradient(const Local<2>& p) {
    const double L[3] = {1 - p.x() - p.y(), p.x(), p.y()}, dL[3][2] = {{-1, -1}, {1, 0}, {0, 1}};
    ShapeGradient<6, 2> g;
    for (int i = 0; i < 3; ++i)
      for (int k = 0; k < 2; ++k) {
        const int j = (i + 1) % 3;
        g(i, k) = (4 * L[i] - 1) * dL[i][k], g(3 + i, k) = 4 * (dL[i][k] * L[j] + L[i] * dL[j][k]);
      }
    return g;
  }
};

inline constexpr double hexCorner[8][3] = {{-1, -1, -1}, {1, -1, -1}, {1, 1, -1}, {-1, 1, -1},
                                           {-1, -1, 1},  {1, -1, 1},  {1, 1, 1},  {-1, 1, 1}};

/// Trilinear hexahedron.
struct Hex8 {
  static constexpr int nodes = 8, corners = 8, points = 8, dim = 3;
  static constexpr bool bar = true;
  static Rule<3> rule() { return cubeRule(); }
  static Shape<8> shape(const Local<3>& p) {
    Shape<8> n;
    for (int i = 0; i < 8; ++i)
      n[i] = (1 + hexCorner[i][0] * p[0]) * (1 + hexCorner[i][1] * p[1]) * (1 + hexCorner[i][2] * p[2]) / 8;
    return n;
  }
  static ShapeGradient<8, 3> gradient(const Local<3>& p) {
    ShapeGradient<8, 3> g;
    for (int i = 0; i < 8; ++i) {
      const auto& c = hexCorner[i];
      const double f[3] = {1 + c[0] * p[0], 1 + c[1] * p[1], 1 + c[2] * p[2]};
      g.row(i) << c[0] * f[1] * f[2] / 8, c[1] * f[0] * f[2] / 8, c[2] * f[0] * f[1] / 8;
    }
    return g;
  }
};

/// Serendipity hexahedron, 2x2x2 (reduced) points.
struct Hex20 {
  static constexpr int nodes = 20, corners = 8, points = 8, dim = 3;
  static constexpr bool bar = false;
  static constexpr double mid[12][3] = {{0, -1, -1}, {1, 0, -1}, {0, 1, -1},  {-1, 0, -1}, {0, -1, 1}, {1, 0, 1},
                                        {0, 1, 1},   {-1, 0, 1}, {-1, -1, 0}, {1, -1, 0},  {1, 1, 0},  {-1, 1, 0}};
  static Rule<3> rule() { return cubeRule(); }
  static Shape<20> shape(const Local<3>& p) {
    Shape<20> n;
    for (int i = 0; i < 8; ++i) {
      const auto& c = hexCorner[i];
      const double x = c[0] * p[0], y = c[1] * p[1], z = c[2] * p[2];
      n[i] = (1 + x) * (1 + y) * (1 + z) * (x + y + z - 2) / 8;
    }
    for (int i = 0; i < 12; ++i) {
      double v = 1. / 4;
      for (int k = 0; k < 3; ++k) v *= mid[i][k] == 0 ? 1 - p[k] * p[k] : 1 + mid[i][k] * p[k];
      n[8 + i] = v;
    }
    return n;
  }
  static ShapeGradient<20, 3> gradient(const Local<3>& p) {
    ShapeGradient<20, 3> g;
    for (int i = 0; i < 8; ++i) {
      const auto& c = hexCorner[i];
      const double q[3] = {c[0] * p[0], c[1] * p[1], c[2] * p[2]}, sum = q[0] + q[1] + q[2] - 2;
      for (int k = 0; k < 3; ++k) {
        const int a = (k + 1) % 3, b = (k + 2) % 3;
        g(i, k) = c[k] * (1 + q[a]) * (1 + q[b]) * (sum + 1 + q[k]) / 8;
      }
    }
    for (int i = 0; i < 12; ++i)
      for (int k = 0; k < 3; ++k) {
        double v = 1. / 4;
        for (int j = 0; j < 3; ++j) {
          const double m = mid[i][j];
          v *= j == k ? (m == 0 ? -2 * p[j] : m) : (m == 0 ? 1 - p[j] * p[j] : 1 + m * p[j]);
        }
        g(8 + i, k) = v;
      }
    return g;
  }
};

/// Quadratic tetrahedron, 4 points.
struct Tet10 {
  static constexpr int nodes = 10, corners = 4, points = 4, dim = 3;
  static constexpr bool bar = true;
  static constexpr int end[6][2] = {{0, 1}, {1, 2}, {2, 0}, {0, 3}, {1, 3}, {2, 3}};
  static Rule<3> rule() { return tetrahedronRule(); }
  static Shape<10> shape(const Local<3>& p) {
    const double L[4] = {1 - p.sum(), p[0], p[1], p[2]};
    Shape<10> n;
    for (int i = 0; i < 4; ++i) n[i] = L[i] * (2 * L[i] - 1);
    for (int e = 0; e < 6; ++e) n[4 + e] = 4 * L[end[e][0]] * L[end[e][1]];
    return n;
  }
  static ShapeGradient<10, 3> gradient(const Local<3>& p) {
    const double L[4] = {1 - p.sum(), p[0], p[1], p[2]}, dL[4][3] = {{-1, -1, -1}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
    ShapeGradient<10, 3> g;
    for (int k = 0; k < 3; ++k) {
      for (int i = 0; i < 4; ++i) g(i, k) = (4 * L[i] - 1) * dL[i][k];
      for (int e = 0; e < 6; ++e) g(4 + e, k) = 4 * (dL[end[e][0]][k] * L[end[e][1]] + L[end[e][0]] * dL[end[e][1]][k]);
    }
    return g;
  }
};

/// Linear wedge.
struct Wedge6 {
  static constexpr int nodes = 6, corners = 6, points = 6, dim = 3;
  static constexpr bool bar = true;
  static Rule<3> rule() { return wedgeRule(); }
  static Shape<6> shape(const Local<3>& p) {
    const double L[3] = {1 - p[0] - p[1], p[0], p[1]};
    Shape<6> n;
    for (int i = 0; i < 3; ++i) n[i] = L[i] * (1 - p[2]) / 2, n[3 + i] = L[i] * (1 + p[2]) / 2;
    return n;
  }
  static ShapeGradient<6, 3> gradient(const Local<3>& p) {
    const double L[3] = {1 - p[0] - p[1], p[0], p[1]}, dL[3][2] = {{-1, -1}, {1, 0}, {0, 1}};
    ShapeGradient<6, 3> g;
    for (int i = 0; i < 3; ++i)
      for (int up = 0; up < 2; ++up) {
        const double z = up ? 1 : -1, h = (1 + z * p[2]) / 2;
        g.row(3 * up + i) << dL[i][0] * h, dL[i][1] * h, L[i] * z / 2;
      }
    return g;
  }
};

/// Serendipity wedge, 3x2 (reduced) points.
struct Wedge15 {
  static constexpr int nodes = 15, corners = 6, points = 6, dim = 3;
  static constexpr bool bar = false;
  static Rule<3> rule() { return wedgeRule(); }
  static Shape<15> shape(const Local<3>& p) {
    const double L[3] = {1 - p[0] - p[1], p[0], p[1]}, t = p[2];
    Shape<15> n;
    for (int i = 0; i < 3; ++i) {
      const int j = (i + 1) % 3;
      n[i] = L[i] * ((2 * L[i] - 1) * (1 - t) - (1 - t * t)) / 2, n[3 + i] = L[i] * ((2 * L[i] - 1) * (1 + t) - (1 - t * t)) / 2;
      n[6 + i] = 2 * L[i] * L[j] * (1 - t), n[9 + i] = 2 * L[i] * L[j] * (1 + t), n[12 + i] = L[i] * (1 - t * t);
    }
    return n;
  }
  static ShapeGradient<15, 3> gradient(const Local<3>& p) {
    const double L[3] = {1 - p[0] - p[1], p[0], p[1]}, dL[3][2] = {{-1, -1}, {1, 0}, {0, 1}}, t = p[2];
    ShapeGradient<15, 3> g;
    for (int i = 0; i < 3; ++i) {
      const int j = (i + 1) % 3;
      for (int k = 0; k < 2; ++k) {
        g(i, k) = dL[i][k] * ((4 * L[i] - 1) * (1 - t) - (1 - t * t)) / 2;
        g(3 + i, k) = dL[i][k] * ((4 * L[i] - 1) * (1 + t) - (1 - t * t)) / 2;
        const double d = dL[i][k] * L[j] + L[i] * dL[j][k];
        g(6 + i, k) = 2 * d * (1 - t), g(9 + i, k) = 2 * d * (1 + t), g(12 + i, k) = dL[i][k] * (1 - t * t);
      }
      g(i, 2) = L[i] * (-(2 * L[i] - 1) + 2 * t) / 2, g(3 + i, 2) = L[i] * ((2 * L[i] - 1) + 2 * t) / 2;
      g(6 + i, 2) = -2 * L[i] * L[j], g(9 + i, 2) = 2 * L[i] * L[j], g(12 + i, 2) = -2 * t * L[i];
    }
    return g;
  }
};

}  // namespace anvil::element
