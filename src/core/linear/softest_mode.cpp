#include "core/linear/softest_mode.hpp"

#include <algorithm>
#include <cmath>
#include <random>
#include "core/base/dense.hpp"

namespace anvil::linear {

SoftMode softestMode(int n, const std::function<Eigen::VectorXd(Eigen::VectorXd)>& solve) {
  const int most = std::min(n, 40);
  std::mt19937 random(7);  // a fixed start: the same mode in every run
  Eigen::MatrixXd V(n, most);
  Eigen::VectorXd v(n), diagonal(most), beside(most);
  for (int i = 0; i < n; ++i) v[i] = std::ldexp(double(random()), -32) - 0.5;
  V.col(0) = v.normalized();
  SoftMode mode;
  for (int k = 0; k < most; ++k) {
    Eigen::VectorXd w = solve(V.col(k));
    if (!w.allFinite()) break;
    diagonal[k] = V.col(k).dot(w);
    for (int twice = 0; twice < 2; ++twice) w -= V.leftCols(k + 1) * (V.leftCols(k + 1).transpose() * w);
    beside[k] = w.norm();
    const bool last = k + 1 == most || beside[k] <= 1e-12 * std::abs(diagonal[0]);
    if (k % 4 == 3 || last) {
      const auto ritz = tridiagonalModes(diagonal.head(k + 1), beside.head(k));
      const double theta = ritz.values[0];  // of K⁻¹: the most negative
      if (theta < 0) mode = {V.leftCols(k + 1) * ritz.vectors.col(0), 1 / theta};
      if (theta < 0 && std::abs(beside[k] * ritz.vectors(k, 0)) < 1e-3 * std::abs(theta)) break;
    }
    if (last) break;
    V.col(k + 1) = w / beside[k];
  }
  return mode;
}

}  // namespace anvil::linear
