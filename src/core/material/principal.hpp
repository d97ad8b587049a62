// Principal values and directions of symmetric tensors.
#pragma once
#include "core/material/tensor.hpp"

namespace anvil::material {

struct Principal {
  Vec3 values;      ///< in no order
  Mat3 directions;  ///< columns
};

/// One of Jacobi's rotations, in the plane of i and j. False where there is nothing to turn.
template <int i, int j, int k>
bool turnOut(Mat3& a, Mat3& directions, double negligible) {
  const double off = a(i, j);
  if (!(std::abs(off) > negligible)) return false;
  const double theta = 0.5 * (a(j, j) - a(i, i)) / off,
               t = std::copysign(1 / (std::abs(theta) + std::sqrt(theta * theta + 1)), theta), c = 1 / std::sqrt(t * t + 1),
               s = t * c, ik = a(i, k), jk = a(j, k);
  a(i, i) -= t * off, a(j, j) += t * off, a(i, j) = a(j, i) = 0;
  a(i, k) = a(k, i) = c * ik - s * jk, a(j, k) = a(k, j) = s * ik + c * jk;
  for (int r = 0; r < 3; ++r) {
    const double di = directions(r, i), dj = directions(r, j);
    directions(r, i) = c * di - s * dj, directions(r, j) = s * di + c * dj;
  }
  return true;
}

/// By Jacobi's rotations (G. Golub, C. Van Loan, Matrix Computations, 8.5): each value to rounding of the greatest. A tensor
/// whose third direction stands by itself, as in the plane, takes one of them: a closed form.
inline Principal principalOf(Mat3 a) {
  Principal p{Vec3::Zero(), Mat3::Identity()};
  const double negligible = 1e-17 * a.cwiseAbs().maxCoeff();
  for (int sweep = 0; sweep < 30; ++sweep) {
    const bool first = turnOut<0, 1, 2>(a, p.directions, negligible), second = turnOut<0, 2, 1>(a, p.directions, negligible),
               third = turnOut<1, 2, 0>(a, p.directions, negligible);
    if (!first && !second && !third) break;
  }
  p.values = a.diagonal();
  return p;
}

}  // namespace anvil::material
