// A run in progress: the state it carries from increment to increment. For use inside this folder.
#pragma once
#include <cmath>
#include <numbers>
#include <string>
#include <vector>

#include "core/analysis/histories.hpp"
#include "core/analysis/run.hpp"
#include "core/base/error.hpp"

namespace anvil::analysis {

enum class Trouble { none, inverted, iterations, diverged, plasticStrain, overshoot, singular, notFinite };

struct Attempt {
  bool converged = false, stopped = false;
  Trouble trouble = Trouble::none;
  int iterations = 0;
  IterationReport last;
  std::string where;                 ///< of the trouble, in words
  std::vector<double> residuals;
  double plasticIncrement = 0;       ///< largest plastic strain increment at a point
  bool unsettled = false;            ///< contact status still changed when iterations ran out
};

/// An increment that is tried.
struct Stride {
  int step = 0, index = 0, attempt = 0;
  Instant at;                        ///< its end
  double size = 0;                   ///< of time
  double ahead = 0;                  ///< the last increment's change is extrapolated by this factor; 0: not at all
};

/// Where an arc-length step stands.
struct Arc {
  double share = 0;                  ///< of the step's loading
  double size = 0;                   ///< of the next increment: length of its displacements
  double unit = 0;                   ///< length of the displacements per share at the step's start
};

class Run {
public:
  Run(Problem& problem, Observer& observer) : p_(problem), observer_(observer), assembly_(problem) {
    u_ = lastChange_ = released_ = VectorXd::Zero(p_.dofs());
    reaction_ = external_ = u_;
    edge_ = p_.sizeScale();
    width_ = p_.dim() == 3 ? edge_ : p_.setting.thickness;
    if (p_.setting.space == element::Space::axisymmetric)
      for (const auto& x : p_.mesh.x) width_ = std::max(width_, 2 * std::numbers::pi * x.x());
  }
  Outcome go(const Restart* from);
  const Timing& timing() const { return assembly_.timing; }

private:
  contact::Configuration configuration(const VectorXd& now, const VectorXd& before) const { return {p_.dim(), &p_.mesh.x, &now, &before, &p_.rigid, p_.measure()}; }
  void startContacts();
  bool resolved(const contact::Pair& pair) const { return p_.contactPlans[size_t(&pair - p_.pairs.data())].resolveStep >= 0; }
  bool step(int s, const Restart* resume);
  /// Reactions of what is let go at the start of the step, and forces of contacts switched off then, are kept as forces
  /// that fade over the step.
  void release(const Constraints& now, int s);
  /// Increments end where courses have corners.
  double nextTime(const StepPlan& plan, double size) const;
  double nextSize(const Attempt& a, double size, double taken, double largest) const;
  /// Gets ready for a step, or for the rest of one.
  void enter(int s, const Constraints& constraints, const Restart* resume);
  void warnOfStabilisation(const StepPlan& plan);
  void warnOfEnergy(const StepPlan& plan);
  /// Moments are measured by the forces they are at the body's size.
  double lever(int dof) const { return p_.isTurn(dof) ? p_.bodies[size_t(p_.bodyOf(dof))].lever : 1; }
  /// A bound on how far any point of the model moves from one state to another.
  double furthestTravel(const VectorXd& from, const VectorXd& to) const;
  /// Shortens an increment in which a gap would close and a body be overshot, to where it closes.
  void stopAtTouch(Stride& stride);
  bool overshot(const Evaluation& e) const { return e.contact.leastGap < -0.6; }
  Attempt failed(Attempt& a, Trouble t, const std::string& where);

  // one increment: Newton's iterations to convergence, or what hindered it
  Moment moment(const Stride& stride) const;
  void setContacts(const Stride& stride);
  Attempt solve(const Stride& stride);
  /// Newton's iterations with contact as hard as each stage says, the last one 1.
  Attempt newton(const Stride& stride, const std::vector<double>& stages);
  /// Full correction (all dofs, global components) from the solved equations and the prescribed part.
  VectorXd correctionOf(const VectorXd& prescribed);
  /// Takes the correction, shortened where neither the residual nor its work along the correction falls
  /// (after H. Matthies, G. Strang, IJNME 14, 1979; few trials, since friction has no potential to descend).
  double searchAlong(VectorXd& trial, const VectorXd& du, const Moment& m, int it, bool soft);
  /// Zero of the residual's work along the correction, nearly: for soft contact, whose energy is convex.
  double searchWork(const VectorXd& start, VectorXd& trial, const VectorXd& du, const Moment& m);
  /// `calm`: the balance has stood for some iterations, whatever status still changes where nothing depends on it.
  bool isDone(const Attempt& a, const Evaluation& e, int it, bool predicted, bool calm) const;
  double bodyForce(const Stride& stride, const VectorXd& trial) const;
  void report(Attempt& a, const Stride& stride, const Evaluation& e, double correction, int it, const VectorXd& trial);
  /// What makes an iteration fail, if anything: names it in the attempt.
  bool hasFailed(Attempt& a, const Evaluation& e, bool maySink);
  /// Vanishing pivots fail the attempt. At the very start they are free parts, and end the run with their names; not where
  /// the stiffness was sound before and only soft contact let go.
  bool checkPivots(Attempt& a, int s, bool triedBefore);

  // steps along the arc of displacements
  bool arcStep(int s, const Restart* resume);
  Attempt solveAlongArc(Stride& stride, Arc& arc);
  /// Prescribed dofs of a trial, put where they belong at an instant.
  void impose(const Instant& at, VectorXd& trial) const;
  VectorXd travels(const VectorXd& v) const;
  double progress(const StepPlan& plan, const Arc& arc) const;
  bool passes(const StepPlan& plan, const VectorXd& u) const;

  // what a converged increment leaves: state, results, restart
  void accept(const Stride& stride, const Attempt& a, double nextSize);
  /// Says when an equilibrium that is not stable was found, once at its onset.
  void watchStability(double time);
  /// Rotation vectors of freely turning bodies are kept shorter than π: beyond 2π they would lose a direction. The same
  /// rotation, written θ (1 - 2π/|θ|).
  void shortenTurns();
  void collectPoints(Increment& inc);
  void fillRestart(Restart& r, int s, int index, double next) const;
  void restore(const Restart& r);

  // failures in words
  std::string wherePart(const Evaluation& e) const;
  std::string pairName(const Evaluation& e) const { return e.worstPair < 0 ? "" : "contact '" + p_.pairs[size_t(e.worstPair)].setup().name + "'"; }
  std::string sentenceOf(const Attempt& a) const;
  Error diagnosis(int s, int index, double size) const;

  Problem& p_;
  Observer& observer_;
  Assembly assembly_;
  const Constraints* constraints_ = nullptr;
  VectorXd u_, trial_, lastChange_, stepStart_, resumedStepStart_, released_, reaction_, external_, localCorrection_;
  std::vector<int> constraintEquations_;
  Energies energies_;
  std::vector<double> thermalStrain_, trace_;   ///< with temperatures, at the last increment: per block, and the Kirchhoff trace per point
  double width_ = 1, edge_ = 1;   ///< thickness, or the longest circumference; length of an element
  double time_ = 0, lastSize_ = 0, runningAverage_ = 0, currentAverage_ = 0;
  bool newStep_ = true;
  Attempt lastTrouble_;
  Arc arc_;
  bool unstable_ = false, warnedOfBalance_ = false;
};

}  // namespace anvil::analysis
