// Conjugate gradients with algebraic multigrid (BoomerAMG), to see from which size on they would pay.
#pragma once
#include <Eigen/Core>
#include <vector>

struct MultigridTimes {
  double setUp = 0, solve = 0;
  int iterations = 0;
};

/// Solves a symmetric definite system with three unknowns per node to 1e-8, in place.
MultigridTimes multigrid(const std::vector<int>& start, const std::vector<int>& column, const std::vector<double>& values, Eigen::VectorXd& x);
