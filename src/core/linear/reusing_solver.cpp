#include "core/linear/reusing_solver.hpp"

#include <algorithm>
#include <cmath>

#include "core/base/stopwatch.hpp"
#include "core/linear/gmres.hpp"

namespace anvil::linear {
namespace {

/// Of the correction: Newton's iterations take no notice of what is left.
constexpr double accuracy = 1e-7;
constexpr int mostIterations = 40, fewestWorthTrying = 4;
/// Operations of dense factorisation in the time of one of a solution, which waits for memory; as measured on models of 10 000
/// unknowns (more in larger ones, whose factors are dearer than it is thought here).
constexpr double denseFaster = 4;
/// Dearer systems are better given factors of their own: contact has changed, and will again.
constexpr double mostOfPrice = 0.5;
constexpr int mostForSingle = 12;
/// Least force per way, rows scaled to one, with which factors of single precision, which are off by some 1e-7, still
/// precondition well.
constexpr double softest = 1e-8;

}  // namespace

ReusingSolver::Rows ReusingSolver::rowsOf(const std::vector<double>& values) const {
  const auto& p = *pattern_;
  return {p.size(), p.size(), Eigen::Index(p.column.size()), p.start.data(), p.column.data(), values.data()};
}

void ReusingSolver::analyseNext(const SparsePattern& pattern, bool symmetric) {
  if (pattern_ && pattern.size() != direct_.equations()) kept_ = false;
  pattern_ = &pattern, symmetric_ = symmetric, due_ = true;
}

void ReusingSolver::forget(bool fine) { kept_ = false, resting_ = 0, patience_ = 1, fine_ = fine, wantedFine = sound_ = false; }

void ReusingSolver::analyseIfDue() {
  if (due_) direct_.analyse(*pattern_, symmetric_), due_ = false;
  kept_ = false;  // while new ones are being made
}

void ReusingSolver::madeFactors() {
  ++factorisations;
  const auto cost = direct_.cost();
  const double once = 4 * cost.entries + 4 * double(pattern_->column.size());
  kept_ = true, age_ = 0, iterations_ = 0, price_ = spent_ = cost.operations / denseFaster / std::max(once, 1.);
}

void ReusingSolver::factor(const std::vector<double>& values) {
  const Stopwatch watch{factoring};
  analyseIfDue();
  direct_.factor(values);
  madeFactors();
}

void ReusingSolver::solve(const std::vector<double>& values, Eigen::VectorXd& rhs) {
  const int most = int(std::min<double>(mostIterations, mostOfPrice * price_));
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
  if (solveCoarsely(values, rhs)) return;
  factor(values);
  throughFactors(rhs);
}

void ReusingSolver::solveNear(const std::vector<double>& values, Eigen::VectorXd& rhs) {
  constexpr int most = 12;
  const int before = iterations_;
  const bool found = kept_ && age_ == 0 && direct_.nullPivots().empty() && iterate(values, rhs, most);
  iterations_ = before;
  if (found) return;
  kept_ = false;
  solve(values, rhs);
}

bool ReusingSolver::solveCoarsely(const std::vector<double>& values, Eigen::VectorXd& rhs) {
  if (fine_ || symmetric_ || pattern_->column.size() < entriesForSingle) return false;
  {
    const Stopwatch watch{factoring};
    analyseIfDue();
    direct_.factorCoarsely(values);
    madeFactors();
  }
  if (direct_.nullPivots().empty() && isSound(values) && iterate(values, rhs, mostForSingle)) {
    spent_ += iterations_;
    return true;
  }
  fine_ = wantedFine = true;
  return false;
}

/// Whether the softest way is none that costs nothing, as of a part that is free, which single precision cannot tell: it is found
/// with the factors at hand, however little they say of its price, and then freed in double precision of what else is in it.
bool ReusingSolver::isSound(const std::vector<double>& values) {
  if (sound_) return true;
  const Stopwatch watch{solving};
  const auto& p = *pattern_;
  const Rows matrix = rowsOf(values);
  const auto scales = rowScales(p, values);
  const Eigen::Map<const Eigen::VectorXd> scale(scales.data(), p.size());
  Eigen::VectorXd way =
      Eigen::VectorXd::LinSpaced(p.size(), 0, p.size()).unaryExpr([](double k) { return std::sin(k * k) + 0.1; });
  const auto answerTo = [&](const Eigen::VectorXd& force) {
    Eigen::VectorXd x = force.cwiseQuotient(scale);
    direct_.solve(x);
    return Eigen::VectorXd(x.cwiseQuotient(scale));
  };
  const auto forceOf = [&](const Eigen::VectorXd& x) {
    return Eigen::VectorXd(scale.cwiseProduct(matrix * scale.cwiseProduct(x)));
  };
  for (int round = 0; round < 3; ++round) way = answerTo(way).normalized();
  for (int round = 0; round < 2; ++round) {
    Eigen::VectorXd stiff = answerTo(forceOf(way));
    stiff -= stiff.dot(way) * way;
    way = (way - stiff).normalized();
  }
  if (!way.allFinite()) return false;
  return sound_ = forceOf(way).norm() > softest;
}

void ReusingSolver::throughFactors(Eigen::VectorXd& rhs) {
  const Stopwatch watch{solving};
  direct_.solve(rhs);
}

void ReusingSolver::solveAgain(const std::vector<double>& values, Eigen::VectorXd& rhs) {
  const bool exact = age_ == 0 && !direct_.coarse();
  if (!exact && iterate(values, rhs, mostIterations)) return;
  if (!exact) factor(values);
  throughFactors(rhs);
}

/// Single precision spoils what it solves by more than it should: what is left is found in double, and solved for anew.
bool ReusingSolver::iterate(const std::vector<double>& values, Eigen::VectorXd& rhs, int most) {
  const Stopwatch watch{solving};
  const Rows matrix = rowsOf(values);
  const auto apply = [&](const Eigen::VectorXd& v) {
    Eigen::VectorXd y = matrix * v;
    direct_.solve(y);
    return y;
  };
  const bool coarse = direct_.coarse(), fresh = age_ == 0 && coarse;
  constexpr double atATime = 1e-4, contracts = 0.03;
  Eigen::VectorXd x = Eigen::VectorXd::Zero(rhs.size());
  double before = 0;  // size of the last change
  iterations_ = 0;
  for (int stage = 0; iterations_ < most; ++stage) {
    Eigen::VectorXd change = stage == 0 ? rhs : Eigen::VectorXd(rhs - matrix * x);
    direct_.solve(change);
    ++iterations_;
    const double size = change.norm(), ratio = stage == 0 ? 1 : size / before;
    double left = fresh && stage == 0 ? size : ratio * size;  // of the error, where the factors are of this very matrix
    if (!std::isfinite(size)) return false;
    if (stage > 0 && size <= accuracy * x.norm()) left = 0;
    if (left > 0 && !(fresh && (stage == 0 || ratio < contracts))) {
      const double inner = !coarse ? accuracy : std::max(atATime, stage == 0 ? 0 : 0.5 * accuracy * x.norm() / size);
      Eigen::VectorXd found;
      const auto result = gmres(apply, change, inner, most - iterations_, found);
      iterations_ += result.iterations;
      if (!result.converged || !found.allFinite()) return false;
      change = found, left = coarse ? inner * size : 0;
    }
    x += change, before = change.norm();
    if (left > accuracy * x.norm()) continue;
    rhs = x;
    return true;
  }
  return false;
}

}  // namespace anvil::linear
