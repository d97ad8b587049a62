#include "core/base/dense.hpp"

#include <Eigen/Eigenvalues>
#include <Eigen/Geometry>
#include <Eigen/LU>
#include <Eigen/QR>
#include <cmath>

namespace anvil {

SymmetricModes symmetricModes(const Eigen::MatrixXd& a) {
  const Eigen::SelfAdjointEigenSolver<Eigen::MatrixXd> eigen(a);
  return {eigen.eigenvalues(), eigen.eigenvectors()};
}

RealMode leastRealMode(const Eigen::MatrixXd& a) {
  const Eigen::EigenSolver<Eigen::MatrixXd> eigen(a);
  RealMode least;
  for (Eigen::Index i = 0; eigen.info() == Eigen::Success && i < a.rows(); ++i) {
    const auto value = eigen.eigenvalues()[i];
    if (std::abs(value.imag()) > 1e-3 * std::abs(value.real()) || (least.vector.size() && value.real() >= least.value)) continue;
    least = {value.real(), eigen.eigenvectors().col(i).real().normalized()};
  }
  return least;
}

Eigen::VectorXd solveSquare(const Eigen::MatrixXd& a, const Eigen::VectorXd& b) { return a.fullPivLu().solve(b); }

Eigen::VectorXd leastSquares(const Eigen::MatrixXd& a, const Eigen::VectorXd& b) { return a.colPivHouseholderQr().solve(b); }

Eigen::Matrix3d shortestTurn(const Eigen::Vector3d& from, const Eigen::Vector3d& to) {
  return Eigen::Quaterniond::FromTwoVectors(from, to).toRotationMatrix();
}

}  // namespace anvil
