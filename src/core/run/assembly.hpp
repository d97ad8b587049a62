// Residual and tangent of the whole problem at given displacements.
#pragma once
#include <set>
#include <string>
#include <vector>

#include "core/linear/reusing_solver.hpp"
#include "core/problem/problem.hpp"
#include "core/run/constraints.hpp"

namespace anvil::analysis {

/// Times of the parts of an iteration, seconds.
struct Timing {
  double elements = 0, contact = 0, assembly = 0, factorisation = 0, solution = 0;
  double storing = 0;  ///< of results, by who stores them
  int iterations = 0;
};

/// What one evaluation found.
struct Evaluation {
  bool inverted = false;
  int invertedCell = -1, invertedBlock = -1;
  int failedLine = -1;  ///< with `inverted`: the line of slender cells one of which found no state
  double plasticIncrement = 0;
  double averageForce = 0;      ///< mean nodal force over the elements
  contact::PairReport contact;  ///< worst over all pairs
  int worstPair = -1;
};

/// Where the increment stands: everything time-dependent that enters the residual.
struct LoadLevel {
  Instant time = 0;
  double size = 1, stepShare = 1, stepTime = 1;
  double calm = 1;  ///< the part of the stabilisations' strength that is used
  int step = 0;
  const VectorXd* stepStart = nullptr;      ///< displacements at the step's start
  const VectorXd* before = nullptr;         ///< displacements at the increment's start
  const VectorXd* releasedForce = nullptr;  ///< reactions let go at the step's start; they fade over the step
};

class Assembly {
 public:
  explicit Assembly(Problem& problem);

  /// Renumbers for a step; the pattern is made anew.
  void setConstraints(const Constraints& constraints);

  /// Residual (internal + contact - external forces over all dofs, local components), and with `tangent` the matrix.
  /// `du` (may be null): prescribed corrections whose effect goes to the right-hand side. `ahead` ≥ 0, without `tangent`: the
  /// share taken of the last correction; cells then answer with the pressures they foresee.
  Evaluation evaluate(const VectorXd& u, const LoadLevel& level, bool tangent, bool decideContact, bool elasticTrial,
                      const VectorXd* du, double ahead = -1);

  /// Settles the contacts' status where the last evaluation was, without another one; what it says of them goes to `e`.
  void decide(Evaluation& e);
  /// Opens what would pull after the last correction (contact::Pair::releasePulling) and changes the matrix at hand and its
  /// right-hand side by that alone. True when there was some: the next `solve` finds the correction without it.
  bool releasePulling(const VectorXd* du);
  /// Whether cells answer with pressures foreseen (see `ahead`): then what a search sees is not the residual.
  bool foresees() const;

  const VectorXd& residual() const { return residual_; }  ///< local components
  /// Of the last tangent, with the pressures foreseen for it (see element::Foresight).
  VectorXd foreseenResidual() const { return residual_ + shift_; }
  const VectorXd& external() const { return external_; }  ///< global components
  const VectorXd& viscous() const { return viscous_; }
  const VectorXd& rightHandSide() const { return rhs_; }  ///< per equation

  /// What rounding alone leaves in the residual at displacements u, per dof, N: in every cell strains are off by a roundoff
  /// of themselves and of the displacements over its shortest length, and its forces by the stiffness against that.
  VectorXd noise(const VectorXd& u) const;
  /// The largest of 1, ½, ¼ … of a correction that leaves every cell a sound part of its volume.
  double soundShare(const VectorXd& u, const VectorXd& du) const;

  /// Factorises the matrix at hand.
  void factor();
  /// The next matrix is factorised: what follows does not depend on what was solved before. `fine`: all in double precision.
  void forgetFactors(bool fine) { solver_.forget(fine); }
  /// Whether single precision has not sufficed since.
  bool wantedFineFactors() const { return solver_.wantedFine; }
  /// Whether the factors at hand are of single precision.
  bool coarse() const { return solver_.factors().coarse(); }
  /// The folder in which factors lie that do not fit into memory; empty where they do.
  std::string factorsOnDisk() const { return solver_.factors().onDisk(); }
  /// Solves with the factors at hand, be they of this matrix or of an earlier one of the increment.
  VectorXd throughFactors(VectorXd rightHandSide);
  VectorXd diagonal() const;              ///< of the matrix, per equation
  void addToDiagonal(const VectorXd& d);  ///< per equation
  /// Solves for the free corrections, by factors of this matrix or of an earlier one.
  VectorXd solve();
  /// Solves for another right-hand side with the same matrix.
  VectorXd solveAgain(VectorXd rightHandSide);
  /// Negative pivots of the last factorisation; of an unsymmetric matrix 1 when their number is odd, else 0.
  int negativePivots() const { return pattern_.size() ? solver_.factors().negativePivots() : 0; }
  const std::vector<int>& nullEquations() const { return solver_.factors().nullPivots(); }
  /// Node and axis of an equation; for a body or multiplier -1 and the dof.
  int nodeOfEquation(int equation, int& axis) const;
  bool symmetric() const { return symmetric_; }
  const linear::SparsePattern& pattern() const { return pattern_; }
  const std::vector<double>& values() const { return values_; }
  Timing timing;

 private:
  struct BlockMap {
    std::vector<std::vector<int>> colours;  ///< cells that share no node
    std::vector<int> position;              ///< per cell, per (i, j): place in values, -1
  };
  template <class Act>
  void withSolver(const Act& act);
  void colourBlocks();
  /// The pattern of the elements and of these couplings alone.
  void buildPattern(std::vector<std::vector<int>> cliques);
  void widenPattern(const std::vector<std::vector<int>>& cliques);
  void cover(const std::vector<std::vector<int>>& cliques);
  void mapBlocks();
  void cellEquations(const element::Block& b, size_t c, std::vector<int>& eq) const;
  void intoFrames(contact::Contribution& part) const;
  Evaluation elements(const VectorXd& u, bool tangent, bool elasticTrial, const VectorXd* du, double ahead);
  /// The cells of slender parts; `magnitude`: of forces, per node.
  void slender(const VectorXd& u, bool tangent, bool elasticTrial, const VectorXd* du, VectorXd& magnitude, Evaluation& e);
  void contacts(const VectorXd& u, const LoadLevel& level, bool tangent, bool decide, const VectorXd* du, Evaluation& e);
  void join(Evaluation& e, size_t pair, const contact::PairReport& report) const;
  void loads(const VectorXd& u, const LoadLevel& level, bool tangent, const VectorXd* du);
  void edgeMoment(const Load& load, double value, const VectorXd& u, bool tangent, const VectorXd* du);
  void bodyLoad(const Load& load, double value, const VectorXd& u, bool tangent, const VectorXd* du);
  void addParts(std::vector<contact::Contribution>& parts, bool tangent, const VectorXd* du);
  void stabilise(const VectorXd& u, const LoadLevel& level, bool tangent);
  void addDense(const std::vector<int>& dofs, const Eigen::MatrixXd& K, const VectorXd* du);
  std::vector<std::vector<int>> neighbourhood(const std::vector<contact::Contribution>& parts) const;

  Problem& p_;
  const Constraints* constraints_ = nullptr;
  linear::SparsePattern pattern_;
  std::vector<double> values_;
  std::vector<BlockMap> maps_;
  std::vector<std::vector<element::Rounding>> rounding_;  ///< per block and cell
  size_t freshSize_ = 0;                                  ///< entries of the pattern when it was made, with the first couplings
  std::set<std::vector<int>> covered_;                    ///< couplings known to be in the pattern
  linear::ReusingSolver solver_;
  bool symmetric_ = false, analysed_ = false;
  bool hardlyChanged_ = false;  ///< the matrix, since it was solved with
  VectorXd residual_, external_, rhs_, viscous_;
  VectorXd shift_;  ///< of the residual, with the pressures foreseen
};

}  // namespace anvil::analysis
