// Small dense matrices: by what defines each result.
#include <gtest/gtest.h>

#include <cstdlib>

#include "core/base/dense.hpp"

using namespace anvil;
using Eigen::MatrixXd;
using Eigen::Vector3d;
using Eigen::VectorXd;

TEST(ShortestTurn, LeadsOneDirectionToTheOtherAndKeepsWhatIsAcrossBoth) {
  std::srand(1);
  for (int i = 0; i < 50; ++i) {
    const Vector3d from = 3 * Vector3d::Random(), to = 0.2 * Vector3d::Random(), across = from.cross(to);
    const Eigen::Matrix3d turn = shortestTurn(from, to);
    EXPECT_LT((turn * from.normalized() - to.normalized()).norm(), 1e-13);
    EXPECT_LT((turn * across - across).norm(), 1e-13);
    EXPECT_LT((turn * turn.transpose() - Eigen::Matrix3d::Identity()).norm(), 1e-13);
  }
}

TEST(ShortestTurn, IsAHalfTurnBetweenOppositesAndNoneBetweenEquals) {
  for (const Vector3d& d : {Vector3d(0, 0, 1), Vector3d(1, -2, 0.5)}) {
    const Eigen::Matrix3d half = shortestTurn(d, -4 * d);
    EXPECT_LT((half * d + d).norm(), 1e-12);
    EXPECT_NEAR(half.determinant(), 1, 1e-12) << "a rotation, no mirror";
    EXPECT_NEAR(half.trace(), -1, 1e-12);
    EXPECT_LT((shortestTurn(d, 7 * d) - Eigen::Matrix3d::Identity()).norm(), 1e-13);
  }
}

TEST(Dense, ModesRiseAndMakeTheMatrixAgain) {
  std::srand(2);
  for (const int n : {1, 3, 12}) {
    const MatrixXd r = MatrixXd::Random(n, n), a = r + r.transpose();
    const auto modes = symmetricModes(a);
    EXPECT_LT((modes.vectors * modes.values.asDiagonal() * modes.vectors.transpose() - a).norm(), 1e-12);
    for (int i = 1; i < n; ++i) EXPECT_LE(modes.values[i - 1], modes.values[i]);
  }
}

TEST(Dense, TheLeastRealModeIsOneAndComplexOnesAreNone) {
  MatrixXd a = MatrixXd::Zero(4, 4);  // turns by 90 degrees, eigenvalues ±i, beside 5 and -2
  a(0, 1) = -1, a(1, 0) = 1, a(2, 2) = 5, a(3, 3) = -2, a(2, 3) = 0.7;
  const auto mode = leastRealMode(a);
  EXPECT_NEAR(mode.value, -2, 1e-12);
  EXPECT_LT((a * mode.vector + 2 * mode.vector).norm(), 1e-12);
  EXPECT_EQ(leastRealMode(a.topLeftCorner(2, 2)).vector.size(), 0);
}

TEST(Dense, SolutionsFitAndLeastSquaresLeaveAResidualAcrossTheColumns) {
  std::srand(3);
  const MatrixXd a = MatrixXd::Random(6, 6), tall = MatrixXd::Random(9, 4);
  const VectorXd b = VectorXd::Random(6), c = VectorXd::Random(9);
  EXPECT_LT((a * solveSquare(a, b) - b).norm(), 1e-11);
  EXPECT_LT((tall.transpose() * (tall * leastSquares(tall, c) - c)).norm(), 1e-12);
  MatrixXd singular = a;
  singular.row(5) = singular.row(0) + singular.row(1);
  const VectorXd fits = singular * b;
  EXPECT_LT((singular * solveSquare(singular, fits) - fits).norm(), 1e-11) << "one of the solutions there are";
}
