// The linear systems of Newton's iterations, one after the other: by factors of their own, or by GMRES with those of an earlier
// system (Y. Saad, M. Schultz, SIAM J. Sci. Stat. Comp. 7, 1986; preconditioned from the left, so that what it converges in is
// the correction), whichever is expected to cost less. Which it is follows from counts alone, never from clocks: runs repeat.
// Factors of large general systems are of single precision, and GMRES makes up for it (E. Carson, N. Higham, SIAM J. Sci. Comput.
// 40, 2018): half the memory, and less time. Where it does not, or a pivot all but vanishes, they are made again in double.
#pragma once
#include <Eigen/SparseCore>

#include "core/linear/direct_solver.hpp"

namespace anvil::linear {

/// Of an unsymmetric matrix whose factors are made in single precision. In smaller ones the library's bookkeeping costs as much
/// as the sums.
inline constexpr size_t entriesForSingle = 200'000;

class ReusingSolver {
 public:
  /// The next factorisation begins with an analysis; the pattern must outlive the solver's use.
  void analyseNext(const SparsePattern& pattern, bool symmetric);
  /// The next system gets factors of its own; with `fine` all that follow are in double precision.
  void forget(bool fine = false);
  /// In double precision. Throws Error as DirectSolver does.
  void factor(const std::vector<double>& values);
  /// Solves in place.
  void solve(const std::vector<double>& values, Eigen::VectorXd& rhs);
  /// The same, for a matrix that differs in few places from the one that was solved with last.
  void solveNear(const std::vector<double>& values, Eigen::VectorXd& rhs);
  /// Another right-hand side of the system that was solved or factorised last.
  void solveAgain(const std::vector<double>& values, Eigen::VectorXd& rhs);

  /// Solves in place with the factors at hand, whichever system they are of.
  void throughFactors(Eigen::VectorXd& rhs);
  const DirectSolver& factors() const { return direct_; }

  double factoring = 0, solving = 0;  ///< seconds so far
  int factorisations = 0;             ///< so far
  bool wantedFine = false;            ///< since `forget`: factors of single precision did not do

 private:
  bool iterate(const std::vector<double>& values, Eigen::VectorXd& rhs, int most);
  bool solveCoarsely(const std::vector<double>& values, Eigen::VectorXd& rhs);
  using Rows = Eigen::Map<const Eigen::SparseMatrix<double, Eigen::RowMajor>>;
  Rows rowsOf(const std::vector<double>& values) const;
  bool isSound(const std::vector<double>& values);
  void analyseIfDue();
  void madeFactors();
  DirectSolver direct_;
  const SparsePattern* pattern_ = nullptr;
  bool symmetric_ = false, due_ = false, kept_ = false, fine_ = false;
  bool sound_ = false;              ///< since `forget`: factors of single precision were looked at, and hold everything
  int age_ = 0;                     ///< systems solved since the factors were made
  int iterations_ = 0;              ///< of the last of them
  double spent_ = 0;                ///< on the factors and since, in iterations
  double price_ = 0;                ///< of factors, in iterations
  int resting_ = 0, patience_ = 1;  ///< systems that get factors after one that could not do without; how many next time
};

}  // namespace anvil::linear
