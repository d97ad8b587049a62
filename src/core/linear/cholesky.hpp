// Sparse Cholesky factors of symmetric positive definite matrices (CHOLMOD, supernodal).
#pragma once
#include <Eigen/Core>
#include <memory>
#include <vector>

namespace anvil::linear {

struct SparsePattern;

class Cholesky {
 public:
  Cholesky();
  ~Cholesky();
  Cholesky(const Cholesky&) = delete;
  Cholesky& operator=(const Cholesky&) = delete;

  /// Analyses a pattern; `order` lists the equations in the order of elimination.
  void analyse(const SparsePattern& pattern, const std::vector<int>& order);
  /// Factors the matrix of these values (the lower triangle is read). False when it is not positive definite, or so nearly
  /// singular that a pivot kept less than 1e-12 of its diagonal entry, or when memory does not suffice.
  bool factor(const std::vector<double>& values);
  /// Solves in place with the last factors.
  void solve(Eigen::VectorXd& rhs);
  /// Entries of the factor, and operations that make it; after `analyse`.
  double entries() const;
  double operations() const;
  /// Memory of the factors, MB.
  double memory() const;

 private:
  struct Data;
  std::unique_ptr<Data> data_;
};

}  // namespace anvil::linear
