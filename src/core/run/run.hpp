// The run: steps, increments, Newton iterations. Emits every converged increment to an observer before the next begins.
#pragma once
#include <array>
#include <string>
#include <vector>

#include "core/base/recorded.hpp"
#include "core/problem/problem.hpp"
#include "core/run/assembly.hpp"

namespace anvil::analysis {

struct IterationReport {
  int step = 0, increment = 0, iteration = 0, attempt = 0;
  double time = 0, size = 0;
  double force = 0, forceLimit = 0;            ///< residual and what it must fall below, N
  double correction = 0, correctionLimit = 0;  ///< mm
  int contactChanges = 0, contactActive = 0;
  double gapError = 0;
  int worstNode = -1;
};

/// What a run has learnt of how its increments are best taken.
struct Habits {
  double failedSize = 0;   ///< of time, that an increment of the step last failed at
  double mostSize = 0;     ///< where increments of one size fail again and again, those to come stay below it; 0: no limit
  double plainFirst = 0;   ///< so many increments are tried without a forecast first
  double calm = 1;         ///< the part of the stabilisations' strength that is used, see Run::spareStabilisation
  double plasticRate = 0;  ///< greatest plastic strain per time of the last increment, 1/s
  double fineFactors = 0;  ///< so many attempts are made with factors in double precision
  double softHelped = 0;   ///< 1 where increments that did not settle have been got through with soft contact
};

/// State to go on from.
struct Restart {
  int step = 0, increment = 0;
  double time = 0, nextSize = 0, averageForce = 0;
  double lastSize = 0;                              ///< of time, in the last increment; 0 when nothing follows from it
  double share = 0, arcUnit = 0, arcTravelled = 0;  ///< of an arc-length step
  Habits habits;
  VectorXd displacement, stepStart, released;
  VectorXd travelled;  ///< in the last increment
  std::vector<std::vector<double>> blockStates, pairStates;
  std::vector<double> energies;
};

/// Throws Error unless a restart is of the size of this problem.
void requireFit(const Problem& problem, const Restart& restart);

struct ContactOutput {
  std::vector<contact::Shown> own, opposite;  ///< per corner of the slave and of the master
};

/// A converged increment.
struct Increment {
  int step = 0, index = 0, iterations = 0, cutbacks = 0;
  double time = 0, size = 0;
  VectorXd displacement, reaction;                       ///< per dof, global components
  std::vector<element::PointOutput> points;              ///< block by block, cell by cell
  std::vector<std::array<element::BeamEnd, 2>> slender;  ///< both ends of every cell, line by line
  std::vector<ContactOutput> contacts;
  std::vector<double> histories;  ///< parallel to historyNames
  std::vector<double> residuals;  ///< residual over limit after each iteration
  Restart restart;
};

/// Receives what a run does. Calls come from the thread that runs it.
class Observer {
 public:
  virtual ~Observer() = default;
  virtual void iterated(const IterationReport&) {}
  virtual void converged(const Increment&) {}
  virtual void cutBack(const IterationReport&, const std::string& /*reason*/, double /*newSize*/) {}
  virtual void warned(const std::string&) {}
  /// Asked between iterations: true ends the run and keeps what is solved.
  virtual bool stop() { return false; }
};

enum class Outcome { finished, stopped };

/// What is recorded at every increment, in the order of Increment::histories.
std::vector<Recorded> histories(const Problem& problem);
/// Their names, "group/name/quantity".
std::vector<std::string> historyNames(const Problem& problem);

/// Solves all steps, from the start or from a stored state. Throws Error with the diagnosis when a step cannot be done;
/// what was converged has been handed to the observer.
Outcome run(Problem& problem, Observer& observer, const Restart* from = nullptr, Timing* timing = nullptr);

}  // namespace anvil::analysis
