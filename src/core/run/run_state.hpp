// A run in progress: the state it carries from increment to increment. For use inside this folder.
#pragma once
#include <cmath>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/error.hpp"
#include "core/run/balance.hpp"
#include "core/run/histories.hpp"
#include "core/run/run.hpp"

namespace anvil::analysis {

enum class Trouble { none, inverted, section, iterations, diverged, plasticStrain, overshoot, singular, notFinite, unstable };

struct Attempt {
  int settling = 0;  ///< iterations in which contact still changed
  bool converged = false, stopped = false;
  Trouble trouble = Trouble::none;
  int iterations = 0;
  IterationReport last;
  std::string where;  ///< of the trouble, in words
  std::vector<double> residuals;
  double plasticIncrement = 0;  ///< largest plastic strain increment at a point
  bool unsettled = false;       ///< contact status still changed when iterations ran out
  bool soughtStable = false;    ///< the search for a stable state ended with it, found or not
  bool jumped = false;          ///< it left a state that was not stable
};

/// An increment that is tried.
struct Stride {
  int step = 0, index = 0, attempt = 0;
  Instant at;                       ///< its end
  double size = 0;                  ///< of time
  double ahead = 0;                 ///< the last increment's change is extrapolated by this factor; 0: not at all
  const VectorXd* start = nullptr;  ///< displacements that Newton's iterations set out from, in place of these
};

/// Where an arc-length step stands.
struct Arc {
  double share = 0;      ///< of the step's loading
  double size = 0;       ///< of the next increment: length of its displacements
  double unit = 0;       ///< length of the displacements per share at the step's start
  double travelled = 0;  ///< length of the way behind
};

/// How a step chooses its increments: by time, or along the arc of displacements. One loop drives either.
class StepDriver {
 public:
  virtual ~StepDriver() = default;
  virtual bool done() const = 0;
  /// Sets where the increment is to end.
  virtual void aim(Stride& stride) = 0;
  virtual Attempt take(Stride& stride) = 0;
  /// The increment has converged and is about to be accepted. Returns what a restart stores as the next one's size.
  virtual double proceed(const Stride& stride, const Attempt& a) = 0;
  /// The increment has failed: what comes is smaller. Returns its size in time, nothing when that would be too small.
  virtual std::optional<double> shorten(const Stride& stride, const Attempt& a) = 0;
  /// Whether states that are not stable are left for the stable path.
  virtual bool seeksStability() const = 0;
  /// Makes the next increment this long, in time, where the driver counts in time.
  virtual void setSize(double) {}
  virtual std::string tooMany() const { return "Raise \"most\" or allow larger increments."; }
};

class Run {
 public:
  Run(Problem& problem, Observer& observer) : p_(problem), observer_(observer), assembly_(problem) {
    u_ = lastChange_ = released_ = VectorXd::Zero(p_.dofs());
    reaction_ = external_ = u_;
    edge_ = p_.sizeScale();
    Vector3d low = Vector3d::Constant(1e300), high = -low;
    for (const auto& x : p_.mesh.x) low = low.cwiseMin(x), high = high.cwiseMax(x);
    reach_ = std::max((high - low).norm(), 1e-300);
  }
  Outcome go(const Restart* from);
  const Timing& timing() const { return assembly_.timing; }

 private:
  friend class RampDriver;
  friend class ArcDriver;
  contact::Configuration configuration(const VectorXd& now, const VectorXd& before) const {
    return {p_.dim(), &p_.mesh.x, &now, &before, &p_.rigid, p_.depth()};
  }
  void startContacts();
  std::string whenResolved(const contact::Pair& pair) const;
  bool step(int s, const Restart* resume);
  /// Reactions of what is let go at the start of the step, and forces of contacts switched off then, are kept as forces
  /// that fade over the step.
  void release(const Constraints& now, int s);
  /// Gets ready for a step, or for the rest of one.
  void enter(int s, const Constraints& constraints, const Restart* resume);
  void warnOfStabilisation(const StepPlan& plan);
  /// Weakens the stabilisations where the parts are strained by them: `calmed`, `strained`: an increment's work, N mm.
  void spareStabilisation(double calmed, double strained);
  void warnOfEnergy(const StepPlan& plan);
  /// Moments are measured by the forces they are at the body's size.
  double lever(int dof) const { return p_.isTurn(dof) ? p_.bodies[size_t(p_.bodyOf(dof))].lever : 1; }
  /// A bound on how far any point of the model moves from one state to another.
  double furthestTravel(const VectorXd& from, const VectorXd& to) const;
  /// Shortens an increment in which a gap would close and a body be overshot, to where it closes.
  void stopAtTouch(Stride& stride);
  /// The pair whose bodies went through each other between the increment's start and `end`, where it travels farther than contact
  /// is looked for; -1: none. The way is looked at in straight pieces of half of that.
  int passedThrough(const VectorXd& end);
  bool overshot(const Evaluation& e) const { return e.contact.leastGap < -0.6; }
  Attempt failed(Attempt& a, Trouble t, const std::string& where);

  // one increment: Newton's iterations to convergence, or what hindered it
  LoadLevel level(const Stride& stride) const;
  void setContacts(const Stride& stride);
  Attempt solve(const Stride& stride);
  /// Newton's iterations with contact as hard as each stage says, the last one 1. `another`: there is another start to try, so
  /// that it ends early where it leads nowhere.
  Attempt newton(const Stride& stride, const std::vector<double>& stages, bool another);
  /// Where the iterations of an increment begin.
  struct Departure {
    VectorXd trial, pull;  ///< the first state; prescribed corrections still to be made there, local components
    bool foreseen;         ///< the state is a forecast, with what is prescribed in its places
  };
  Departure departure(const Stride& stride);
  /// The furthest that a node goes in a vector over dofs, mm.
  double greatestShift(const VectorXd& v) const;
  /// What forecasts go on from: a change of displacements, and the size of the increment that made it; 0 where there is none.
  struct Course {
    const VectorXd& change;
    double size;
  };
  Course course() const { return tooFarSize_ > 0 ? Course{tooFar_, tooFarSize_} : Course{lastChange_, lastSize_}; }
  /// Full correction (all dofs, global components) from the solved equations and the prescribed part.
  VectorXd correctionOf(const VectorXd& prescribed);
  /// Says once when factors have gone to disk.
  void warnOfDisk();
  /// Takes the correction, shortened where neither the residual nor its work along the correction falls
  /// (after H. Matthies, G. Strang, IJNME 14, 1979; few trials, since friction has no potential to descend).
  /// `most`: the part of the correction that leaves every cell sound; `whole`: it is not searched, as where prescribed places
  /// move with it. `there`: the evaluation where the search ended, if it was the last.
  double searchAlong(VectorXd& trial, const VectorXd& du, const LoadLevel& m, double violation, double most, bool whole,
                     bool soft, std::optional<Evaluation>& there);
  /// Zero of the residual's work along the correction, nearly: for soft contact, whose energy is convex.
  double searchWork(const VectorXd& start, VectorXd& trial, const VectorXd& du, const LoadLevel& m, double most);
  /// `calm`: the balance has stood for some iterations, whatever status still changes where nothing depends on it.
  bool isDone(const Attempt& a, const Evaluation& e, int it, bool predicted, bool calm) const;
  double bodyForce(const Stride& stride, const VectorXd& trial) const;
  /// Corrections below this mean nothing: a strain of 1e-9 over an element.
  double stillness() const { return 1e-9 * edge_; }
  VectorXd noiseFloor(const VectorXd& trial) const;
  void report(Attempt& a, const Stride& stride, const Evaluation& e, double correction, int it, const VectorXd& trial);
  /// What makes an iteration fail, if anything: names it in the attempt.
  bool hasFailed(Attempt& a, const Evaluation& e, bool maySink);
  bool mayFindHold(const Stride& stride, int iteration) const;
  /// The correction where something is loose: with a soft hold for this one iteration, and no longer than contact looks, so that
  /// it comes to rest on what it meets. What is found in the end has none of it.
  VectorXd towardsHold(const VectorXd& prescribed);
  /// What the last factors found loose, and which way: "'holder' (along z)".
  std::vector<std::string> looseThings(const std::string& verb = {}) const;
  /// Vanishing pivots fail the attempt. At the very start they are free parts, and end the run with their names; not where
  /// the stiffness was sound before and only soft contact let go.
  bool checkPivots(Attempt& a, int s, bool triedBefore);

  // steps along the arc of displacements
  Attempt solveAlongArc(Stride& stride, Arc& arc);
  /// Prescribed dofs of a trial, put where they belong at an instant.
  void impose(const Instant& at, VectorXd& trial) const;
  VectorXd travels(const VectorXd& v) const;
  bool passes(const StepPlan& plan, const VectorXd& u) const;

  // what a converged increment leaves: state, results, restart
  void accept(const Stride& stride, const Attempt& a, double nextSize);

  // stability of what was found
  /// Negative eigenvalues of the last factors beyond those that multipliers make; of unsymmetric ones 1 when their number is odd.
  int unstableModes() const;
  /// Whether the last factors are those of a state that gives way by itself; of unsymmetric ones it may be a false alarm.
  bool isUnstable();
  bool seemsUnstable();
  /// A converged attempt at a state that is not stable, where the state before was: fails it, so that a shorter increment may
  /// find the stable path; when that has been tried, leaves along the softest mode.
  void preferStable(const Stride& stride, Attempt& a);
  /// The softest mode at the factors at hand, and the share of the matrix's diagonal that makes up for it; empty when none is
  /// found.
  struct SoftWay {
    VectorXd way;  ///< per dof, global components
    double shift = 0;
  };
  SoftWay findSoftMode();
  /// A mode that goes to and fro from node to node is the mesh's, and no way for the structure.
  bool isOfTheStructure(const VectorXd& way) const;
  /// Goes downhill from the unstable state found to a stable one at the same loading; nothing where none is found.
  std::optional<Attempt> leaveUnstable(const Stride& stride, const SoftWay& mode);
  /// Whether increments have become short because the ways grow without bound: a load limit is near.
  bool nearsLimit(const Stride& stride) const;
  /// On to a stable state beyond a load limit, at the loading that the stride ends with; not converged where none is found.
  Attempt leapLimit(const Stride& stride);
  /// A stable state at the same loading beside the one found, along a way out; not converged where there is none.
  Attempt solveFrom(const Stride& stride, const VectorXd& found, const VectorXd& way, double shift);
  /// Newton's way with the matrix made positive, from `start` until the matrix is so by itself.
  bool descend(const Stride& stride, VectorXd& start, double shift);
  /// Says when an equilibrium that is not stable was found, once at its onset.
  void watchStability(double time);
  void warnOfUnstableEnd();
  /// Rotation vectors of freely turning bodies are kept shorter than π: beyond 2π they would lose a direction. The same
  /// rotation, written θ (1 - 2π/|θ|).
  void shortenTurns();
  void collectPoints(Increment& inc);
  void fillRestart(Restart& r, int s, int index, double next) const;
  void restore(const Restart& r);

  // failures in words
  std::string wherePart(const Evaluation& e) const;
  std::string pairName(const Evaluation& e) const {
    return e.worstPair < 0 ? "" : "contact '" + p_.pairs[size_t(e.worstPair)].setup().name + "'";
  }
  std::string sentenceOf(const Attempt& a) const;
  std::string standingOnLittle() const;
  Error diagnosis(int s, int index, double size) const;

  Problem& p_;
  Observer& observer_;
  Assembly assembly_;
  const Constraints* constraints_ = nullptr;
  VectorXd u_, trial_, lastChange_, stepStart_, resumedStepStart_, released_, reaction_, external_, localCorrection_;
  std::vector<int> constraintEquations_;
  std::vector<Constraints::Hinged> hingesBefore_;  ///< of the step before
  Energies energies_;
  std::vector<double> thermalStrain_,
      trace_;  ///< with temperatures, at the last increment: per block, and the Kirchhoff trace per point
  double time_ = 0, lastSize_ = 0, runningAverage_ = 0, currentAverage_ = 0;
  Habits habits_;
  bool newStep_ = true;
  Attempt lastTrouble_;
  Arc arc_;
  bool unstable_ = false, warnedOfBalance_ = false, warnedOfDisk_ = false;
  double unstableSince_ = 0;
  bool ofTheMesh_ = false;                 ///< the softest mode goes from node to node
  Balance forcesSeen_;                     ///< greatest sums so far
  double jumpWork_ = 0;                    ///< that motion took when states that were not stable were left
  double energySeen_ = 0, noiseWork_ = 0;  ///< greatest so far; what rounding may have added to the work
  double edge_ = 1;                        ///< length of an element, mm
  double reach_ = 1;                       ///< size of the model, mm
  int shorterForStability_ = 0;            ///< cuts that looked for the stable path
  VectorXd softest_;                       ///< per equation: the way that gave most under an unsymmetric matrix
  double soughtFrom_ = 0;                  ///< size of the increment that was the first of them
  VectorXd tooFar_;                        ///< change of an increment that balanced, but at too large a plastic strain
  double tooFarSize_ = 0;                  ///< and its size; 0: there is none
};

}  // namespace anvil::analysis
