#include "core/linear/gmres.hpp"

#include <Eigen/Jacobi>
#include <algorithm>
#include <cmath>
#include <vector>

namespace anvil::linear {

GmresResult gmres(const std::function<Eigen::VectorXd(const Eigen::VectorXd&)>& apply, const Eigen::VectorXd& b, double accuracy,
                  int most, Eigen::VectorXd& x) {
  GmresResult result;
  const double size = b.norm();
  x = Eigen::VectorXd::Zero(b.size());
  if (!(size > 0) || !std::isfinite(size)) return result.converged = size == 0, result;
  Eigen::MatrixXd basis(b.size(), most + 1), H = Eigen::MatrixXd::Zero(most + 1, most);
  Eigen::VectorXd left = Eigen::VectorXd::Zero(most + 1);
  Eigen::VectorXd y;
  std::vector<Eigen::JacobiRotation<double>> turns;
  basis.col(0) = b / size, left[0] = size;
  int k = 0;
  while (k < most && !result.converged) {
    Eigen::VectorXd w = apply(basis.col(k));
    for (int round = 0; round < 2; ++round)  // once more for what rounding left of it
      for (int i = 0; i <= k; ++i) {
        const double part = basis.col(i).dot(w);
        H(i, k) += part, w -= part * basis.col(i);
      }
    H(k + 1, k) = w.norm();
    if (!std::isfinite(H(k + 1, k))) return result;
    if (H(k + 1, k) > 0) basis.col(k + 1) = w / H(k + 1, k);
    for (int i = 0; i < k; ++i) H.col(k).applyOnTheLeft(i, i + 1, turns[size_t(i)].adjoint());
    Eigen::JacobiRotation<double> turn;
    turn.makeGivens(H(k, k), H(k + 1, k));
    turns.push_back(turn);
    H.col(k).applyOnTheLeft(k, k + 1, turn.adjoint()), left.applyOnTheLeft(k, k + 1, turn.adjoint());
    ++k;
    y = H.topLeftCorner(k, k).triangularView<Eigen::Upper>().solve(left.head(k));
    // where the preconditioner all but loses its hold, what it makes of b says nothing: the solution's own size does
    result.iterations = k, result.error = std::abs(left[k]) / std::min(size, y.norm());
    result.converged = result.error <= accuracy;
    // it grows faster as it goes on: half of the mean pace will do
    if (k >= 3 && !result.converged && std::log(result.error) > 0.5 * std::log(accuracy) * k / most) return result;
  }
  if (result.converged) x = basis.leftCols(k) * y;
  return result;
}

}  // namespace anvil::linear
