#include "core/base/dense.hpp"

#include <Eigen/Eigenvalues>
#include <Eigen/LU>
#include <Eigen/QR>

namespace anvil {

SymmetricModes symmetricModes(const Eigen::MatrixXd& a) {
  const Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd> eigen(a);
  return {eigen.eigenvalues(), eigen.eigenvectors()};
}

SymmetricModes tridiagonalModes(const Eigen::VectorXd& diagonal, const Eigen::VectorXd& beside) {
  Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd> eigen;
  eigen.computeFromTridiagonal(diagonal, beside);
  return {eigen.eigenvalues(), eigen.eigenvectors()};
}

Eigen::VectorXd solveSquare(const Eigen::MatrixXd& a, const Eigen::VectorXd& b) { return a.fullPivLu().solve(b); }

Eigen::VectorXd leastSquares(const Eigen::MatrixXd& a, const Eigen::VectorXd& b) { return a.colPivHouseholderQr().solve(b); }

}  // namespace anvil
