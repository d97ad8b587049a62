#include "core/linear/softest_mode.hpp"

#include <algorithm>
#include <cmath>
#include <random>
#include "core/base/dense.hpp"

namespace anvil::linear {

SoftMode softestMode(int n, const std::function<Eigen::VectorXd(Eigen::VectorXd)>& solve) {
  const int most = std::min(n, 40);
  std::mt19937 random(7);                                             // a fixed start: the same mode in every run
  Eigen::MatrixXd V(n, most), H = Eigen::MatrixXd::Zero(most, most);  // K⁻¹ V = V H and what is beyond
  Eigen::VectorXd v(n);
  for (int i = 0; i < n; ++i) v[i] = std::ldexp(double(random()), -32) - 0.5;
  V.col(0) = v.normalized();
  SoftMode mode;
  for (int k = 0; k < most; ++k) {
    Eigen::VectorXd w = solve(V.col(k));
    if (!w.allFinite()) break;
    for (int twice = 0; twice < 2; ++twice) {
      const Eigen::VectorXd along = V.leftCols(k + 1).transpose() * w;
      w -= V.leftCols(k + 1) * along, H.col(k).head(k + 1) += along;
    }
    const double beyond = w.norm();
    const bool last = k + 1 == most || beyond <= 1e-12 * H.topLeftCorner(k + 1, k + 1).norm();
    if (k % 4 == 3 || last) {
      const auto ritz = leastRealMode(H.topLeftCorner(k + 1, k + 1));
      if (ritz.vector.size() && ritz.value < 0) {
        mode = {(V.leftCols(k + 1) * ritz.vector).normalized(), 1 / ritz.value};
        if (std::abs(beyond * ritz.vector[k]) < 1e-3 * std::abs(ritz.value)) break;
      }
    }
    if (last) break;
    V.col(k + 1) = w / beyond, H(k + 1, k) = beyond;
  }
  return mode;
}

}  // namespace anvil::linear
