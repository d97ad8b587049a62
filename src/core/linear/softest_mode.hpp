// The direction in which a structure gives way first.
#pragma once
#include <Eigen/Core>
#include <functional>

namespace anvil::linear {

/// A direction of negative curvature of a symmetric matrix K, and its Rayleigh quotient vᵀKv/vᵀv (negative).
struct SoftMode {
  Eigen::VectorXd direction;  ///< of length 1; empty when none was found
  double curvature = 0;
};

/// Finds the mode that belongs to the negative eigenvalue of K nearest zero, by Lanczos' method on K⁻¹ (`solve` applies it)
/// with full reorthogonalisation (B. Parlett, The Symmetric Eigenvalue Problem, 1980). `n` is the number of equations.
SoftMode softestMode(int n, const std::function<Eigen::VectorXd(Eigen::VectorXd)>& solve);

}  // namespace anvil::linear
