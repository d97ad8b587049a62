// Small dense matrices of any size. Compiled once, here, since Eigen's decompositions are long to compile.
#pragma once
#include <Eigen/Core>

namespace anvil {

/// Eigenvalues of a symmetric matrix in rising order, and the eigenvectors as columns.
struct SymmetricModes {
  Eigen::VectorXd values;
  Eigen::MatrixXd vectors;
};
SymmetricModes symmetricModes(const Eigen::MatrixXd& a);

/// The least of the real eigenvalues of any square matrix (parts that turn by less than a thousandth count as real), and its
/// vector, of length 1; empty when all are complex.
struct RealMode {
  double value = 0;
  Eigen::VectorXd vector;
};
RealMode leastRealMode(const Eigen::MatrixXd& a);

/// Solves A x = b by LU with full pivoting. Where A is singular: one solution, if there is any.
Eigen::VectorXd solveSquare(const Eigen::MatrixXd& a, const Eigen::VectorXd& b);

/// Least squares of A x = b (Householder QR with pivoting).
Eigen::VectorXd leastSquares(const Eigen::MatrixXd& a, const Eigen::VectorXd& b);

/// The rotation by the shortest way from one direction to another; either may have any length.
Eigen::Matrix3d shortestTurn(const Eigen::Vector3d& from, const Eigen::Vector3d& to);

}  // namespace anvil
