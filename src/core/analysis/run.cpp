#include "core/analysis/run.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/analysis/run_state.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"

namespace anvil::analysis {

Outcome Run::go(const Restart* from) {
  int firstStep = 0;
  if (from) restore(*from), firstStep = from->step;
  else startContacts();
  for (int s = firstStep; s < int(p_.steps.size()); ++s) {
    const bool resumed = from && s == firstStep;
    if (resumed && from->time >= p_.steps[size_t(s)].end * (1 - 1e-12)) continue;
    if (!step(s, resumed ? from : nullptr)) return Outcome::stopped;
  }
  return Outcome::finished;
}

void Run::startContacts() {
  for (auto& pair : p_.pairs) {
    const auto start = pair.measureInitial(configuration(u_, u_));
    if (start.nodes && start.leastGap < 0 && -start.leastGap > std::max(pair.setup().closeWithin, 1e-6 * pair.setup().slave.meanLength) && pair.setup().behaviour == contact::Behaviour::touching)
      observer_.warned("Contact '" + pair.setup().name + "' starts with an overlap of " + shortNumber(-start.leastGap, 4) +
                       " mm; it is resolved " + (resolved(pair) ? "gradually." : "in the first increment."));
  }
}

void Run::enter(int s, const Constraints& constraints, const Restart* resume) {
  const auto& plan = p_.steps[size_t(s)];
  stepStart_ = u_;
  if (!resume) release(constraints, s);
  else stepStart_ = resumedStepStart_, released_ = resume->released;
  constraints_ = &constraints;
  assembly_.setConstraints(constraints);
  time_ = resume ? resume->time : plan.begin;
  lastSize_ = resume ? resume->lastSize : 0;
  newStep_ = !resume;
  if (resume) return;
  for (auto& pair : p_.pairs) pair.stiffen();
}

bool Run::step(int s, const Restart* resume) {
  const auto& plan = p_.steps[size_t(s)];
  if (plan.arcLength) return arcStep(s, resume);
  const Constraints constraints(p_, s);
  enter(s, constraints, resume);
  const double length = plan.end - plan.begin;
  double size = resume && resume->nextSize > 0 ? resume->nextSize : plan.first * length;
  Stride stride;
  stride.step = s, stride.index = resume ? resume->increment : 0;
  while (time_ < plan.end * (1 - 1e-12) - 1e-300) {
    if (stride.index >= plan.most)
      throw Error("the step needs more than " + std::to_string(plan.most) + " increments", "step '" + plan.name + "'", "Raise \"most\" or allow larger increments.");
    ++stride.index;
    stride.at = Instant(nextTime(plan, size), plan);
    stride.size = stride.at.time - time_;
    // Extrapolation meets continued plastic flow; the plain start answers elastically, which suits a turn of the loading.
    // Repeated attempts take them in turn.
    stride.ahead = p_.control.predictor && lastSize_ > 0 && stride.attempt % 2 == 0 ? stride.size / lastSize_ : 0;
    stopAtTouch(stride);
    Attempt a = solve(stride);
    if (a.stopped) return false;
    if (a.converged) {
      size = nextSize(a, size, stride.size, plan.largest * length);
      accept(stride, a, size);
      stride.attempt = 0;
      if (observer_.stop()) return stride.at.time >= p_.steps.back().end * (1 - 1e-12);
      continue;
    }
    lastTrouble_ = a;
    if (a.trouble == Trouble::plasticStrain) size = stride.size * std::clamp(0.8 * p_.control.plasticStrainLimit / a.plasticIncrement, 0.05, 0.8);
    else size = stride.size * (a.trouble == Trouble::diverged || a.trouble == Trouble::notFinite ? 0.5 * p_.control.cut : p_.control.cut);
    observer_.cut(a.last, sentenceOf(a), size);
    if (a.trouble == Trouble::iterations)
      for (auto& pair : p_.pairs) pair.soften();
    if (size < plan.smallest * length) throw diagnosis(s, stride.index, stride.size);
    ++stride.attempt, --stride.index;
  }
  warnOfStabilisation(plan), warnOfEnergy(plan);
  return true;
}

double Run::furthestTravel(const VectorXd& from, const VectorXd& to) const {
  double most = 0;
  for (int n = 0; n < p_.nodeCount(); ++n) most = std::max(most, (p_.at(to, n) - p_.at(from, n)).norm());
  for (int b = 0; b < int(p_.bodies.size()); ++b) {
    const VectorXd change = to.segment(p_.rigidDof(b, 0), p_.rigidSize()) - from.segment(p_.rigidDof(b, 0), p_.rigidSize());
    most = std::max(most, change.head(p_.dim()).norm() + p_.bodies[size_t(b)].lever * change.tail(p_.rigidSize() - p_.dim()).norm());
  }
  return most;
}

void Run::stopAtTouch(Stride& stride) {
  constexpr double depth = 0.3;   // of the edge length: less is no harm
  double shortest = 1e300;
  for (const auto& pair : p_.pairs)
    for (double length : pair.setup().slave.cornerLength) shortest = std::min(shortest, length);
  if (p_.pairs.empty()) return;
  VectorXd there = u_;
  if (stride.ahead != 0) there += lastChange_ * stride.ahead;
  impose(stride.at, there);
  if (2 * furthestTravel(u_, there) < depth * shortest) return;   // nothing comes that deep
  setContacts(stride);
  double share = 1;
  for (auto& pair : p_.pairs) share = std::min(share, pair.shareToTouch(configuration(there, u_), depth));
  if (share >= 1) return;
  share = std::clamp(share + 0.02, 0.1, 1.);
  stride.at.time = time_ + share * stride.size, stride.size *= share, stride.ahead *= share;
}

void Run::warnOfStabilisation(const StepPlan& plan) {
  const double inParts = energies_.strain + energies_.plastic;
  if (energies_.stabilisation > 0.02 * std::abs(inParts) && !p_.stabilisations.empty())
    observer_.warned("By the end of step '" + plan.name + "' the stabilisation has taken up " + shortNumber(energies_.stabilisation, 3) + " N mm, " +
                     shortNumber(100 * energies_.stabilisation / std::max(inParts, 1e-300), 2) +
                     " % of the energy in the parts. Check that this is only the way to first touch; else lower its strength.");
}

void Run::release(const Constraints& now, int s) {
  released_.setZero();
  if (!constraintEquations_.empty())
    for (int dof = 0; dof < p_.bodyEnd(); ++dof)
      if (constraintEquations_[size_t(dof)] < 0 && now.equation(dof) >= 0) released_[dof] = reaction_[dof];
  constraintEquations_ = now.equationOfDof();
  for (size_t i = 0; s > 0 && i < p_.pairs.size(); ++i) {   // contacts that are switched off
    if (!p_.contactPlans[i].active[size_t(s) - 1] || p_.contactPlans[i].active[size_t(s)]) continue;
    std::vector<contact::Contribution> parts;
    p_.pairs[i].begin();
    p_.pairs[i].evaluate(configuration(u_, u_), false, false, parts);
    for (const auto& part : parts)
      for (size_t k = 0; k < part.dofs.size(); ++k) released_[part.dofs[k]] -= part.force[Eigen::Index(k)];
  }
}

double Run::nextTime(const StepPlan& plan, double size) const {
  double target = std::min(time_ + size, plan.end);
  const auto corner = [&](const model::TimedCourse& c) {
    for (double t : c.curve.x)
      if (t > time_ + 1e-9 * (plan.end - plan.begin) && t < target) target = t;
  };
  for (const auto& m : p_.motions) corner(m.course);
  for (const auto& l : p_.loads) corner(l.course);
  for (const auto& t : p_.temperatures) corner(t.rise);
  if (plan.end - target < 0.02 * (target - time_)) target = plan.end;  // no sliver at the end
  return target;
}

double Run::nextSize(const Attempt& a, double size, double taken, double largest) const {
  const auto& c = p_.control;
  double next = size;
  if (a.iterations <= c.easyIterations) next = std::max(size, taken * c.growth);
  else if (a.iterations > c.mostIterations * 3 / 4) next = size * 0.75;
  if (a.plasticIncrement > 0) next = std::min(next, std::max(0.9 * c.plasticStrainLimit / a.plasticIncrement, 0.2) * taken);   // meets the limit before it is broken
  return std::min(next, largest);
}

Attempt Run::failed(Attempt& a, Trouble t, const std::string& where) {
  a.trouble = t, a.where = where;
  return a;
}

Outcome run(Problem& problem, Observer& observer, const Restart* from, Timing* timing) {
  Run run(problem, observer);
  const Outcome outcome = run.go(from);
  if (timing) *timing = run.timing();
  return outcome;
}

}  // namespace anvil::analysis
