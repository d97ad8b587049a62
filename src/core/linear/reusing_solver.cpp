#include "core/linear/reusing_solver.hpp"

#include <Eigen/SparseCore>
#include <algorithm>

#include "core/base/stopwatch.hpp"
#include "core/linear/gmres.hpp"

namespace anvil::linear {
namespace {

/// Of the correction: Newton's iterations take no notice of what is left.
constexpr double accuracy = 1e-7;
constexpr int mostIterations = 40, fewestWorthTrying = 4;
/// Operations of dense factorisation in the time of one of a solution, which waits for memory; as measured, on the low side.
constexpr double denseFaster = 8;

using Rows = Eigen::SparseMatrix<double, Eigen::RowMajor>;

}  // namespace

void ReusingSolver::analyseNext(const SparsePattern& pattern, bool symmetric) {
  if (pattern_ && pattern.size() != direct_.equations()) kept_ = false;
  pattern_ = &pattern, symmetric_ = symmetric, due_ = true;
}

void ReusingSolver::forget() { kept_ = false, resting_ = 0, patience_ = 1; }

void ReusingSolver::factor(const std::vector<double>& values) {
  const Stopwatch watch{factoring};
  if (due_) direct_.analyse(*pattern_, symmetric_), due_ = false;
  kept_ = false;  // while they are being made
  direct_.factor(values);
  ++factorisations;
  const auto cost = direct_.cost();
  const double once = 4 * cost.entries + 4 * double(pattern_->column.size());
  kept_ = true, age_ = 0, iterations_ = 0, price_ = spent_ = cost.operations / denseFaster / std::max(once, 1.);
}

void ReusingSolver::solve(const std::vector<double>& values, Eigen::VectorXd& rhs) {
  const int most = int(std::min<double>(mostIterations, 0.8 * price_));
  const bool sound = kept_ && direct_.nullPivots().empty() && most >= fewestWorthTrying;
  // as long as the next system costs less than the mean so far
  const bool pays = iterations_ + 1 < spent_ / (age_ + 1);
  if (sound && resting_-- <= 0 && pays) {
    if (iterate(values, rhs, most)) {
      ++age_, spent_ += iterations_, patience_ = 1, resting_ = 0;
      return;
    }
    resting_ = patience_, patience_ = std::min(2 * patience_, 16);
  }
  factor(values);
  throughFactors(rhs);
}

void ReusingSolver::throughFactors(Eigen::VectorXd& rhs) {
  const Stopwatch watch{solving};
  direct_.solve(rhs);
}

void ReusingSolver::solveAgain(const std::vector<double>& values, Eigen::VectorXd& rhs) {
  if (age_ > 0 && !iterate(values, rhs, mostIterations)) factor(values);
  if (age_ == 0) throughFactors(rhs);
}

bool ReusingSolver::iterate(const std::vector<double>& values, Eigen::VectorXd& rhs, int most) {
  const Stopwatch watch{solving};
  const auto& p = *pattern_;
  const Eigen::Map<const Rows> matrix(p.size(), p.size(), Eigen::Index(p.column.size()), p.start.data(), p.column.data(),
                                      values.data());
  const auto apply = [&](const Eigen::VectorXd& v) {
    Eigen::VectorXd y = matrix * v;
    direct_.solve(y);
    return y;
  };
  Eigen::VectorXd b = rhs, x;
  direct_.solve(b);
  const auto result = gmres(apply, b, accuracy, most, x);
  iterations_ = result.iterations + 1;
  if (!result.converged || !x.allFinite()) return false;
  rhs = x;
  return true;
}

}  // namespace anvil::linear
