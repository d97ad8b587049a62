// Sparse LU or LDLᵀ factors by MUMPS (P. Amestoy, I. Duff, J. Koster, J.-Y. L'Excellent, SIAM J. Matrix Anal. Appl. 23, 2001), in
// double or in single precision. Single precision takes half the memory and about 0.6 of the time; it is for preconditioning.
#pragma once
#include <Eigen/Core>
#include <memory>
#include <string>
#include <vector>

namespace anvil::linear {

struct SparsePattern;

/// What factors cost: entries, and operations that make them.
struct FactorCost {
  double entries = 0, operations = 0;
};

/// `Number`: double or float.
template <class Number>
class Mumps {
 public:
  Mumps();
  ~Mumps();
  Mumps(const Mumps&) = delete;
  Mumps& operator=(const Mumps&) = delete;

  /// Analyses a pattern, which must outlive the use; `order` lists the equations in the order of elimination. `symmetric`: LDLᵀ
  /// of the lower triangle, else LU. Throws Error when memory does not suffice.
  void analyse(const SparsePattern& pattern, const std::vector<int>& order, bool symmetric);
  /// Whether a pattern is analysed.
  bool live() const;
  /// Gives the memory back.
  void close();
  /// Of the analysed pattern, until it is closed: factors lie in files in this folder, and memory holds what they are made with.
  void layOnDisk(const std::string& folder);
  /// Throws Error when memory does not suffice, or where values are no numbers.
  void factor(const std::vector<double>& values);
  /// Solves in place.
  void solve(Eigen::VectorXd& rhs);

  /// Equations whose pivot vanished in the last factorisation; in single precision also those that came near it.
  const std::vector<int>& nullPivots() const;
  /// Negative pivots; of LU whether their number is odd (1) or even (0), by the determinant's sign, 0 where pivots vanished.
  int negativePivots() const;
  /// Of the analysed pattern.
  FactorCost cost() const;
  /// What is expected to be taken, MB: memory, with factors in it or on disk; and disk.
  double memory() const;
  double memoryBesideDisk() const;
  double disk() const;

 private:
  struct Data;
  std::unique_ptr<Data> data_;
};

}  // namespace anvil::linear
