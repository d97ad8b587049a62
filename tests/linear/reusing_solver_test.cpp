// Systems that change little by little, solved with factors that are made now and then.
#include "core/linear/reusing_solver.hpp"

#include <gtest/gtest.h>

#include <Eigen/Dense>
#include <cmath>
#include <random>

#include "core/linear/gmres.hpp"

using namespace anvil;

namespace {

/// A grid in space, each point coupled to its neighbours with random strength, one way more than the other; `time` changes it.
struct Grid {
  linear::SparsePattern pattern;
  explicit Grid(int side) : side_(side) {
    pattern.start.push_back(0);
    for (int i = 0; i < side * side * side; ++i) {
      eachNeighbour(i, [&](int j) { pattern.column.push_back(j); });
      pattern.start.push_back(int(pattern.column.size()));
    }
  }
  std::vector<double> values(double time) const {
    std::vector<double> all;
    for (int i = 0; i < side_ * side_ * side_; ++i)
      eachNeighbour(
          i, [&](int j) { all.push_back(i == j ? 6.1 + std::sin(i + time) : -1 + 0.3 * std::sin(3. * i + 2. * j + time)); });
    return all;
  }
  Eigen::VectorXd times(const std::vector<double>& values, const Eigen::VectorXd& x) const {
    Eigen::VectorXd y = Eigen::VectorXd::Zero(x.size());
    for (int i = 0; i < pattern.size(); ++i)
      for (int k = pattern.start[size_t(i)]; k < pattern.start[size_t(i) + 1]; ++k)
        y[i] += values[size_t(k)] * x[pattern.column[size_t(k)]];
    return y;
  }

 private:
  template <class Act>
  void eachNeighbour(int i, const Act& act) const {
    const int x = i % side_, y = i / side_ % side_, z = i / side_ / side_;
    if (z > 0) act(i - side_ * side_);
    if (y > 0) act(i - side_);
    if (x > 0) act(i - 1);
    act(i);
    if (x + 1 < side_) act(i + 1);
    if (y + 1 < side_) act(i + side_);
    if (z + 1 < side_) act(i + side_ * side_);
  }
  int side_;
};

}  // namespace

TEST(ReusingSolver, SolvesManySystemsWithFewFactorisations) {
  const Grid grid(26);
  linear::ReusingSolver solver;
  solver.analyseNext(grid.pattern, false);
  const Eigen::VectorXd x = Eigen::VectorXd::Random(grid.pattern.size());
  for (int k = 0; k < 6; ++k) {
    const auto values = grid.values(0.02 * k);
    Eigen::VectorXd b = grid.times(values, x);
    solver.solve(values, b);
    EXPECT_LT((b - x).norm(), 1e-6 * x.norm()) << k;
    Eigen::VectorXd again = grid.times(values, 2 * x);
    solver.solveAgain(values, again);
    EXPECT_LT((again - 2 * x).norm(), 1e-6 * x.norm()) << k;
  }
  EXPECT_LT(solver.factorisations, 4);
}

TEST(ReusingSolver, WhatFollowsAForgettingDoesNotDependOnWhatWasBefore) {
  const Grid grid(14);
  const Eigen::VectorXd b = Eigen::VectorXd::LinSpaced(grid.pattern.size(), -1, 2);
  const auto later = [&](linear::ReusingSolver& solver) {
    solver.forget();
    std::vector<Eigen::VectorXd> all;
    for (int k = 0; k < 4; ++k) solver.solve(grid.values(1 + 0.05 * k), all.emplace_back(b));
    return all;
  };
  linear::ReusingSolver one, other;
  for (auto* solver : {&one, &other}) solver->analyseNext(grid.pattern, false);
  for (double time : {0., 5., 0.1, 9., 0.3}) {
    Eigen::VectorXd y = b;
    one.solve(grid.values(time), y);  // some of them fail and cost patience
  }
  const auto first = later(one), second = later(other);
  for (size_t k = 0; k < first.size(); ++k) EXPECT_EQ(first[k], second[k]) << k;
}

TEST(ReusingSolver, AMatrixFarFromThatOfTheFactorsGetsItsOwn) {
  const Grid grid(12);
  linear::ReusingSolver solver;
  solver.analyseNext(grid.pattern, false);
  const Eigen::VectorXd x = Eigen::VectorXd::Random(grid.pattern.size());
  for (double time : {0., 40., 80.}) {
    auto values = grid.values(time);
    for (int i = 0; i < grid.pattern.size(); ++i)  // each row by a factor of its own
      for (int k = grid.pattern.start[size_t(i)]; k < grid.pattern.start[size_t(i) + 1]; ++k)
        values[size_t(k)] *= 1 + time * (1 + std::sin(7. * i));
    Eigen::VectorXd b = grid.times(values, x);
    solver.solve(values, b);
    EXPECT_LT((b - x).norm(), 1e-8 * x.norm());
  }
  EXPECT_EQ(solver.factorisations, 3);
}

/// Large enough for factors of single precision; `weak` is what holds the last point but for its neighbours' pull.
std::vector<double> laplacian(const Grid& grid, double weak) {
  auto values = grid.values(0);
  for (int i = 0; i < grid.pattern.size(); ++i) {
    double sum = 0;
    int diagonal = 0;
    for (int k = grid.pattern.start[size_t(i)]; k < grid.pattern.start[size_t(i) + 1]; ++k)
      if (grid.pattern.column[size_t(k)] == i)
        diagonal = k;
      else
        values[size_t(k)] = -1, sum += 1;
    values[size_t(diagonal)] = sum + (i + 1 == grid.pattern.size() ? weak : 0);
  }
  return values;
}

TEST(ReusingSolver, LargeSystemsAreSolvedByFactorsOfSinglePrecision) {
  const Grid grid(32);
  linear::ReusingSolver solver;
  solver.analyseNext(grid.pattern, false);
  ASSERT_GT(grid.pattern.column.size(), 200'000u);
  const Eigen::VectorXd x = Eigen::VectorXd::Random(grid.pattern.size());
  auto values = grid.values(0);
  for (double& v : values) v *= 1e30;  // out of single precision's range where they are squared
  Eigen::VectorXd b = grid.times(values, x);
  solver.solve(values, b);
  EXPECT_TRUE(solver.factors().coarse());
  EXPECT_FALSE(solver.wantedFine);
  EXPECT_LT((b - x).norm(), 1e-6 * x.norm());
  Eigen::VectorXd another = grid.times(values, -3 * x);
  solver.solveAgain(values, another);
  EXPECT_LT((another + 3 * x).norm(), 3e-6 * x.norm());
  solver.factor(values);
  EXPECT_FALSE(solver.factors().coarse()) << "what is asked for by itself is in double precision";
  solver.forget(true);
  b = grid.times(values, x);
  solver.solve(values, b);
  EXPECT_FALSE(solver.factors().coarse());
  EXPECT_LT((b - x).norm(), 1e-11 * x.norm());
}

TEST(ReusingSolver, WhatSinglePrecisionCannotTellFromNothingIsLookedAtInDouble) {
  const Grid grid(32);
  const Eigen::VectorXd x = Eigen::VectorXd::Random(grid.pattern.size());
  for (const double weak : {1e-6, 0.}) {  // all but free, and free
    linear::ReusingSolver solver;
    solver.analyseNext(grid.pattern, false);
    const auto values = laplacian(grid, weak);
    Eigen::VectorXd b = grid.times(values, x);
    solver.solve(values, b);
    EXPECT_TRUE(solver.wantedFine) << weak;
    EXPECT_FALSE(solver.factors().coarse()) << weak;
    EXPECT_EQ(solver.factors().nullPivots().size(), weak > 0 ? 0u : 1u) << weak;
    if (weak > 0) {
      EXPECT_LT((b - x).norm(), 1e-4 * x.norm());
    }
  }
}

TEST(Gmres, FindsTheSolutionAndGivesUpWhereItIsSlow) {
  std::mt19937 gen(1);
  std::uniform_real_distribution<double> d(-1, 1);
  Eigen::MatrixXd A = Eigen::MatrixXd::Identity(40, 40).unaryExpr([&](double v) { return v + 0.02 * d(gen); });
  const Eigen::VectorXd x = Eigen::VectorXd::Random(40), b = A * x;
  Eigen::VectorXd found;
  const auto near = linear::gmres([&](const Eigen::VectorXd& v) { return Eigen::VectorXd(A * v); }, b, 1e-10, 30, found);
  EXPECT_TRUE(near.converged);
  EXPECT_LT((found - x).norm(), 1e-8 * x.norm());
  EXPECT_LT(near.iterations, 20);
  // a shift round a ring: nothing is gained before the last iteration
  const auto shift = [](const Eigen::VectorXd& v) {
    Eigen::VectorXd y(v.size());
    for (Eigen::Index i = 0; i < v.size(); ++i) y[i] = v[(i + 1) % v.size()];
    return y;
  };
  const auto slow = linear::gmres(shift, Eigen::VectorXd::Unit(40, 0), 1e-10, 30, found);
  EXPECT_FALSE(slow.converged);
  EXPECT_EQ(slow.iterations, 3);
  EXPECT_TRUE(linear::gmres(shift, Eigen::VectorXd::Zero(40), 1e-10, 30, found).converged);
}
