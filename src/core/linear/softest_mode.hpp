// The direction in which a structure gives way first.
#pragma once
#include <Eigen/Core>
#include <functional>

namespace anvil::linear {

/// A direction in which a structure gives way by itself: K v = curvature v, curvature negative.
struct SoftMode {
  Eigen::VectorXd direction;  ///< of length 1; empty when none was found
  double curvature = 0;
};

/// Finds the mode that belongs to the negative eigenvalue of K nearest zero, by Arnoldi's method on K⁻¹ (`solve` applies it)
/// with full reorthogonalisation: of a symmetric K that is Lanczos' method (B. Parlett, The Symmetric Eigenvalue Problem, 1980),
/// of others it finds real eigenvalues (Y. Saad, Numerical Methods for Large Eigenvalue Problems, 2011). `n` is the number of
/// equations.
SoftMode softestMode(int n, const std::function<Eigen::VectorXd(Eigen::VectorXd)>& solve);

}  // namespace anvil::linear
