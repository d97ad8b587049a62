// The sparse direct solver against dense algebra: symmetric, unsymmetric, singular, refactored.
#include <gtest/gtest.h>

#include <Eigen/Dense>
#include <filesystem>
#include <fstream>
#include <random>

#include "core/base/dense.hpp"
#include "core/base/disk_room.hpp"
#include "core/base/error.hpp"
#include "core/base/memory.hpp"
#include "core/linear/direct_solver.hpp"
#include "scratch.hpp"

using namespace anvil;

namespace {

struct System {
  linear::SparsePattern pattern;
  std::vector<double> values;
  Eigen::MatrixXd dense;
};

/// A banded matrix with random entries; `shift` on the diagonal.
System random(int n, int band, bool symmetric, double shift, unsigned seed) {
  std::mt19937 gen(seed);
  std::uniform_real_distribution<double> value(-1, 1);
  System s;
  s.dense = Eigen::MatrixXd::Zero(n, n);
  for (int i = 0; i < n; ++i)
    for (int j = std::max(0, i - band); j <= std::min(n - 1, i + band); ++j)
      if (!symmetric || j <= i) s.dense(i, j) = value(gen) + (i == j ? shift : 0);
  if (symmetric) s.dense = s.dense.selfadjointView<Eigen::Lower>();
  s.pattern.start.push_back(0);
  for (int i = 0; i < n; ++i) {
    for (int j = std::max(0, i - band); j <= std::min(n - 1, i + band); ++j)
      s.pattern.column.push_back(j), s.values.push_back(s.dense(i, j));
    s.pattern.start.push_back(int(s.pattern.column.size()));
  }
  return s;
}

class Solver : public ::testing::TestWithParam<bool> {};

TEST_P(Solver, AgreesWithDenseAlgebraAndReusesItsAnalysis) {
  const bool symmetric = GetParam();
  linear::DirectSolver solver;
  for (unsigned seed : {1u, 2u, 3u}) {
    const auto s = random(120, 6, symmetric, 0, seed);  // indefinite
    if (seed == 1) solver.analyse(s.pattern, symmetric);
    solver.factor(s.values);
    const Eigen::VectorXd x = Eigen::VectorXd::Random(120);
    Eigen::VectorXd b = s.dense * x;
    solver.solve(b);
    EXPECT_LT((b - x).norm() / x.norm(), 1e-8);
    EXPECT_TRUE(solver.nullPivots().empty());
    EXPECT_EQ(solver.symmetric(), symmetric);
  }
}

TEST_P(Solver, NamesTheEquationThatIsFree) {
  auto s = random(40, 3, GetParam(), 12, 5);
  const int free = 17;
  for (int i = 0; i < 40; ++i)
    for (int k = s.pattern.start[size_t(i)]; k < s.pattern.start[size_t(i) + 1]; ++k)
      if (i == free || s.pattern.column[size_t(k)] == free) s.values[size_t(k)] = 0;
  linear::DirectSolver solver;
  solver.analyse(s.pattern, GetParam());
  solver.factor(s.values);
  ASSERT_EQ(solver.nullPivots().size(), 1u);
  EXPECT_EQ(solver.nullPivots().front(), free);
}

INSTANTIATE_TEST_SUITE_P(Both, Solver, ::testing::Bool());

TEST(SymmetricSolver, CountsNegativePivotsExactly) {
  for (unsigned seed : {11u, 12u, 13u}) {
    const auto s = random(60, 4, true, 0.3, seed);
    linear::DirectSolver solver;
    solver.analyse(s.pattern, true);
    solver.factor(s.values);
    EXPECT_EQ(solver.negativePivots(), (symmetricModes(s.dense).values.array() < 0).count()) << "Sylvester's law of inertia";
  }
}

TEST(UnsymmetricSolver, TellsWhetherTheNumberOfNegativeEigenvaluesIsOdd) {
  int odd = 0;
  for (unsigned seed = 11; seed < 19; ++seed) {
    const auto s = random(60, 4, false, 0.3, seed);
    linear::DirectSolver solver;
    solver.analyse(s.pattern, false);
    solver.factor(s.values);
    const double sign = s.dense.partialPivLu().determinant();
    EXPECT_EQ(solver.negativePivots(), sign < 0) << seed;
    odd += sign < 0;
  }
  EXPECT_GT(odd, 0);
  EXPECT_LT(odd, 8);
}

TEST(SymmetricSolver, GoesOnWhenAMatrixLosesItsDefiniteness) {
  // definite, indefinite, singular, definite again: the fast way is left and found again under one analysis
  linear::DirectSolver solver;
  for (int round = 0; round < 12; ++round) {
    auto s = random(90, 5, true, round % 3 == 1 ? 0 : 12, unsigned(20 + round));
    if (round == 0) solver.analyse(s.pattern, true);
    solver.factor(s.values);
    EXPECT_EQ(solver.negativePivots(), (symmetricModes(s.dense).values.array() < 0).count()) << round;
    const Eigen::VectorXd x = Eigen::VectorXd::LinSpaced(90, -1, 2);
    Eigen::VectorXd b = s.dense * x;
    solver.solve(b);
    EXPECT_LT((b - x).norm() / x.norm(), 1e-9) << round;
  }
}

TEST(SymmetricSolver, SeesAFreeBodyThatRoundingHides) {
  // springs in a ring: a constant shift costs nothing, but rounding leaves the last pivot a little above or below zero
  for (int n : {30, 61, 200, 333}) {
    linear::SparsePattern p;
    std::vector<double> values;
    p.start.push_back(0);
    std::vector<double> k;
    for (int i = 0; i < n; ++i) k.push_back(1 + 0.37 * std::sin(7. * i));
    for (int i = 0; i < n; ++i) {
      const int before = (i + n - 1) % n, after = (i + 1) % n;
      std::vector<std::pair<int, double>> row{
          {before, -k[size_t(before)]}, {i, k[size_t(before)] + k[size_t(i)]}, {after, -k[size_t(i)]}};
      std::sort(row.begin(), row.end());
      for (const auto& [j, v] : row) p.column.push_back(j), values.push_back(v);
      p.start.push_back(int(p.column.size()));
    }
    linear::DirectSolver solver;
    solver.analyse(p, true);
    solver.factor(values);
    EXPECT_EQ(solver.nullPivots().size(), 1u) << n << " springs";
  }
}

TEST(SymmetricSolver, AnotherPatternCanFollow) {
  linear::DirectSolver solver;
  for (int n : {5, 50, 12}) {
    const auto s = random(n, 2, true, 10, unsigned(n));
    solver.analyse(s.pattern, true);
    solver.factor(s.values);
    Eigen::VectorXd b = s.dense * Eigen::VectorXd::Ones(n);
    solver.solve(b);
    EXPECT_LT((b - Eigen::VectorXd::Ones(n)).norm(), 1e-10);
  }
}

TEST(Pattern, FindsWhatIsThere) {
  const auto s = random(10, 1, false, 1, 3);
  EXPECT_EQ(s.pattern.size(), 10);
  EXPECT_EQ(s.pattern.find(0, 5), -1);
  for (int i = 0; i < 10; ++i) EXPECT_EQ(s.pattern.column[size_t(s.pattern.find(i, i))], i);
}

/// A grid in space, each point coupled to its six neighbours; where `unsymmetric`, to one of two more than to the other.
System gridded(int side, bool unsymmetric) {
  System s;
  s.pattern.start.push_back(0);
  for (int i = 0; i < side * side * side; ++i) {
    const int x = i % side, y = i / side % side, z = i / side / side;
    const auto add = [&](bool there, int j, double v) {
      if (there) s.pattern.column.push_back(j), s.values.push_back(v);
    };
    const double less = unsymmetric ? -0.7 : -1;
    add(z > 0, i - side * side, less), add(y > 0, i - side, less), add(x > 0, i - 1, less);
    add(true, i, 6.1 + std::sin(double(i)) * 0.1);
    add(x + 1 < side, i + 1, -1), add(y + 1 < side, i + side, -1), add(z + 1 < side, i + side * side, -1);
    s.pattern.start.push_back(int(s.pattern.column.size()));
  }
  return s;
}

Eigen::VectorXd product(const System& s, const Eigen::VectorXd& x) {
  Eigen::VectorXd y = Eigen::VectorXd::Zero(x.size());
  for (int i = 0; i < s.pattern.size(); ++i)
    for (int k = s.pattern.start[size_t(i)]; k < s.pattern.start[size_t(i) + 1]; ++k)
      y[i] += s.values[size_t(k)] * x[s.pattern.column[size_t(k)]];
  return y;
}

class OnDisk : public Scratch {
 protected:
  size_t thingsThere() const {
    return size_t(std::distance(std::filesystem::directory_iterator(folder), std::filesystem::directory_iterator()));
  }
};

TEST_F(OnDisk, FactorsThatDoNotFitIntoMemoryLieOnDiskAndSolveAlike) {
  const DiskPlace here(folder);
  const Eigen::VectorXd x = Eigen::VectorXd::LinSpaced(28 * 28 * 28, -1, 1);
  for (const bool unsymmetric : {true, false}) {
    const auto s = gridded(28, unsymmetric);
    double factors = 0;  // MB
    {
      linear::DirectSolver solver;
      solver.analyse(s.pattern, !unsymmetric), solver.factor(s.values);
      EXPECT_EQ(solver.onDisk(), "");
      factors = 8e-6 * solver.cost().entries;
    }
    linear::DirectSolver solver;
    giveBackMemory();                                 // what lies free in holes would count as taken, and be used
    const double analysis = 9e-4 * s.pattern.size();  // MB, as measured
    auto limit = std::make_unique<MemoryLimit>(usedMemory() + analysis + 0.9 * factors);
    solver.analyse(s.pattern, !unsymmetric);
    for (int again = 0; again < 2; ++again) {
      solver.factor(s.values);
      EXPECT_NE(solver.onDisk(), "");
      EXPECT_EQ(thingsThere(), 1u);
      Eigen::VectorXd b = product(s, x);
      solver.solve(b);
      EXPECT_LT((b - x).norm(), 1e-9 * x.norm());
    }
    if (!unsymmetric) continue;
    limit.reset();
    solver.factorCoarsely(s.values);  // in memory again, and the files are gone
    EXPECT_EQ(solver.onDisk(), "");
    EXPECT_EQ(thingsThere(), 0u);
  }
  EXPECT_EQ(thingsThere(), 0u);
}

TEST_F(OnDisk, WhatFitsNowhereIsToldWithItsSizes) {
  const DiskPlace here(folder);
  const auto s = gridded(24, true);
  giveBackMemory();  // what other tests have left would make room
  const MemoryLimit limit(usedMemory() + 1);
  linear::DirectSolver solver;
  solver.analyse(s.pattern, false);
  try {
    solver.factor(s.values);
    FAIL() << "there was no room";
  } catch (const Error& e) {
    EXPECT_NE(e.wrong().find("13824 equations need about"), std::string::npos) << e.what();
    EXPECT_NE(e.wrong().find("where factors lie on disk"), std::string::npos) << e.what();
    EXPECT_NE(e.remedy().find("coarser mesh"), std::string::npos) << e.what();
  }
}

TEST_F(OnDisk, FoldersOfKilledProcessesAreTakenAwayAndHeldOnesAreNot) {
  const DiskPlace here(folder);
  const auto left = folder / ".anvil-factors-a1b2c3", others = folder / ".anvil-factors-of-somebody";
  std::filesystem::create_directories(left), std::filesystem::create_directories(others);
  std::ofstream(left / "held") << "\n";
  std::ofstream(left / "factors_1") << "numbers";
  const DiskFolder first(1);
  EXPECT_FALSE(std::filesystem::exists(left));
  EXPECT_TRUE(std::filesystem::exists(others));  // nothing says that it is ours
  {
    const DiskFolder second(1);
    EXPECT_TRUE(std::filesystem::exists(first.path()));
    EXPECT_NE(first.path(), second.path());
  }
  EXPECT_EQ(thingsThere(), 2u);
  EXPECT_THROW(DiskFolder(1e12), Error);
}

}  // namespace
