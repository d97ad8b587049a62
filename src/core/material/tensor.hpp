// Symmetric second-order tensors as 6-vectors in Mandel's notation: [11, 22, 33, √2·12, √2·23, √2·13].
// The double contraction is then the dot product, and fourth-order tensors with minor symmetry are 6x6 matrices.
#pragma once
#include <Eigen/Core>
#include <cmath>
#include <numbers>

namespace anvil::material {

using Mat3 = Eigen::Matrix3d;
using Vec3 = Eigen::Vector3d;
using Vec6 = Eigen::Matrix<double, 6, 1>;
using Mat6 = Eigen::Matrix<double, 6, 6>;

inline constexpr double root2 = std::numbers::sqrt2;
/// Mandel component of the pair (i, j).
inline constexpr int mandelOf[3][3] = {{0, 3, 5}, {3, 1, 4}, {5, 4, 2}};
inline constexpr int rowOf[6] = {0, 1, 2, 0, 1, 0}, columnOf[6] = {0, 1, 2, 1, 2, 2};

inline Vec6 toMandel(const Mat3& a) {
  Vec6 v;
  v << a(0, 0), a(1, 1), a(2, 2), root2 * a(0, 1), root2 * a(1, 2), root2 * a(0, 2);
  return v;
}
inline Mat3 fromMandel(const Vec6& v) {
  Mat3 a;
  a << v[0], v[3] / root2, v[5] / root2, v[3] / root2, v[1], v[4] / root2, v[5] / root2, v[4] / root2, v[2];
  return a;
}
inline Vec6 identity6() { return (Vec6() << 1, 1, 1, 0, 0, 0).finished(); }
inline double trace(const Vec6& v) { return v[0] + v[1] + v[2]; }
inline Vec6 deviator(const Vec6& v) { return v - identity6() * (trace(v) / 3); }
/// Projector onto deviators.
inline Mat6 deviatoricProjector() { return Mat6::Identity() - identity6() * identity6().transpose() / 3; }
/// Von Mises equivalent of a stress.
inline double vonMises(const Vec6& stress) { return std::sqrt(1.5) * deviator(stress).norm(); }

/// Components that a state has: 6, or the first 4 where the third direction stands by itself, as in the plane.
template <int n>
using MatOf = Eigen::Matrix<double, n, n>;

/// Rotation that takes Mandel components in the frame of the columns of Q to global ones.
template <int n = 6>
MatOf<n> mandelRotation(const Mat3& Q) {
  MatOf<n> R;
  for (int b = 0; b < n; ++b)
    for (int a = 0; a < n; ++a) {
      const int i = rowOf[a], j = columnOf[a], k = rowOf[b], l = columnOf[b];
      double r = Q(i, k) * Q(j, l);
      if (k != l) r = (r + Q(i, l) * Q(j, k)) / root2;
      R(a, b) = i != j ? r * root2 : r;
    }
  return R;
}

}  // namespace anvil::material
