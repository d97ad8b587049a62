// Sparse direct solution: Cholesky where the matrix is symmetric and positive definite, else MUMPS (LDLᵀ or LU), both in a
// METIS order of the nodes. The analysis is kept while the pattern stands.
#pragma once
#include <Eigen/Core>
#include <memory>
#include <string>
#include <vector>

#include "core/linear/mumps.hpp"

namespace anvil::linear {

/// Compressed rows; columns sorted; structurally symmetric.
struct SparsePattern {
  std::vector<int> start, column;
  int size() const { return int(start.size()) - 1; }
  /// Position of (i, j) in `column`, or -1.
  int find(int i, int j) const;
};

/// Factors that bring the largest entry of each row near one, where rows and columns are multiplied by them: powers of two.
std::vector<double> rowScales(const SparsePattern& pattern, const std::vector<double>& values);

/// What the Cholesky factor of a symmetric matrix with this pattern costs.
FactorCost factorCost(const SparsePattern& pattern);

class DirectSolver {
 public:
  DirectSolver();
  ~DirectSolver();
  DirectSolver(DirectSolver&&) noexcept;
  DirectSolver& operator=(DirectSolver&&) noexcept;

  /// Orders and analyses; the pattern must outlive the solver's use. `symmetric` uses half the work or less; the values'
  /// lower triangle is then read.
  void analyse(const SparsePattern& pattern, bool symmetric);
  /// Numerical factorisation. Factors that do not fit into memory are laid on disk (see DiskPlace). Throws Error when neither
  /// suffices (with the estimate).
  void factor(const std::vector<double>& values);
  /// The same in single precision, by LU: for preconditioning alone.
  void factorCoarsely(const std::vector<double>& values);
  /// Whether the factors at hand are such.
  bool coarse() const;
  /// The folder in which factors lie that do not fit into memory; empty where they do.
  std::string onDisk() const;
  /// Solves in place.
  void solve(Eigen::VectorXd& rhs);

  /// Equations whose pivot vanished in the last factorisation: free motions.
  const std::vector<int>& nullPivots() const;
  /// Negative pivots of the last factorisation. Of an unsymmetric one only whether their number is odd (1) or even (0), by the
  /// sign of the determinant; 0 where pivots vanished.
  int negativePivots() const;
  bool symmetric() const;
  /// Of the factors, as analysed last.
  FactorCost cost() const;
  int equations() const;

 private:
  struct Data;
  std::unique_ptr<Data> data_;
};

}  // namespace anvil::linear
