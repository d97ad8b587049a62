#include "core/run/run.hpp"

#include <algorithm>
#include <cmath>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/run/hinges.hpp"
#include "core/run/run_state.hpp"
#include "core/run/step_drivers.hpp"

namespace anvil::analysis {

Outcome Run::go(const Restart* from) {
  int firstStep = 0;
  double furthest = 0;
  if (from)
    restore(*from), firstStep = from->step;
  else
    startContacts();
  for (int s = firstStep; s < int(p_.steps.size()); ++s) {
    const bool resumed = from && s == firstStep;
    if (resumed && from->time >= p_.steps[size_t(s)].end * (1 - 1e-12)) continue;
    if (!step(s, resumed ? from : nullptr)) return Outcome::stopped;
    furthest = std::max(furthest, furthestTravel(VectorXd::Zero(p_.dofs()), u_));
  }
  for (const auto& pair : p_.pairs)  // what was closed without strain is left out of all that the parts do
    if (const double closed = pair.greatestClosing(); closed > 0.01 * furthest)
      observer_.warned(
          "Contact '" + pair.setup().name + "' was closed at the start by up to " + shortNumber(closed, 3) + " mm, " +
          shortNumber(100 * closed / std::max(furthest, 1e-300), 2) +
          " % of the furthest way in this run. Move the parts until they touch instead, or close less (\"close within\").");
  warnOfUnstableEnd();
  return Outcome::finished;
}

void Run::startContacts() {
  for (auto& pair : p_.pairs) {
    const auto start = pair.measureInitial(configuration(u_, u_));
    if (start.nodes && start.leastGap < 0 &&
        -start.leastGap > std::max(pair.setup().closeWithin, 1e-6 * pair.setup().slave.meanLength) &&
        pair.setup().behaviour == contact::Behaviour::touching)
      observer_.warned("Contact '" + pair.setup().name + "' starts with an overlap of " + shortNumber(-start.leastGap, 4) +
                       " mm; it is resolved " + whenResolved(pair) + ".");
  }
}

std::string Run::whenResolved(const contact::Pair& pair) const {
  const auto& plan = p_.contactPlans[size_t(&pair - p_.pairs.data())];
  if (plan.resolveStep >= 0) return "gradually, over step '" + p_.steps[size_t(plan.resolveStep)].name + "'";
  const auto first = std::find(plan.active.begin(), plan.active.end(), true);
  if (first == plan.active.begin()) return "in the first increment";
  return first == plan.active.end() ? "nowhere: the contact never acts"
                                    : "in the first increment of step '" + p_.steps[size_t(first - plan.active.begin())].name +
                                          "', unless the parts have moved apart by then";
}

void Run::enter(int s, const Constraints& constraints, const Restart* resume) {
  const auto& plan = p_.steps[size_t(s)];
  stepStart_ = u_;
  if (!resume)
    release(constraints, s);
  else
    stepStart_ = resumedStepStart_, released_ = resume->released;
  constraints_ = &constraints;
  assembly_.setConstraints(constraints);
  time_ = resume ? resume->time : plan.begin;
  lastSize_ = resume ? resume->lastSize : 0;
  newStep_ = !resume;
  shorterForStability_ = 0, soughtFrom_ = 0, softest_ = {};
  if (resume) return;
  unstable_ = false;  // what is held by other things may be stable
  Stride start;
  start.step = s, start.at = Instant(plan.begin, plan);
  setContacts(start);
  for (auto& pair : p_.pairs) pair.stiffen(), pair.holdWhatTouches(configuration(u_, u_));
}

bool Run::step(int s, const Restart* resume) {
  const auto& plan = p_.steps[size_t(s)];
  const Constraints constraints(p_, s);
  enter(s, constraints, resume);
  const auto driver = plan.arcLength ? arcDriver(*this, plan, resume) : rampDriver(*this, plan, resume);
  Stride stride;
  stride.step = s, stride.index = resume ? resume->increment : 0;
  double leaptAt = -1e300;  // where a leap over a load limit was tried
  while (!driver->done()) {
    if (stride.index >= plan.most)
      throw Error("the step needs more than " + std::to_string(plan.most) + " increments", "step '" + plan.name + "'",
                  driver->tooMany());
    ++stride.index;
    driver->aim(stride);
    Attempt a = driver->take(stride);
    if (a.converged && driver->seeksStability()) preferStable(stride, a);
    if (a.stopped) return false;
    if (a.converged) {
      const double next = driver->proceed(stride, a);
      accept(stride, a, next);
      stride.attempt = 0;
      if (a.soughtStable || stride.size >= soughtFrom_) shorterForStability_ = 0, soughtFrom_ = 0;
      if (observer_.stop()) return driver->done() && s + 1 == int(p_.steps.size());
      continue;
    }
    lastTrouble_ = a;
    const auto smaller = driver->shorten(stride, a);
    observer_.cutBack(a.last, sentenceOf(a), smaller.value_or(0));
    if (stride.attempt >= 1) habits_.calm = std::min(3 * habits_.calm, 1.);
    if (a.trouble == Trouble::iterations)
      for (auto& pair : p_.pairs) pair.soften();
    if (driver->seeksStability() && time_ > leaptAt + 1e-3 * (plan.end - plan.begin) && nearsLimit(stride)) {
      leaptAt = time_;
      driver->setSize(0.005 * (plan.end - plan.begin)), driver->aim(stride);
      if (const Attempt beyond = leapLimit(stride); beyond.converged) {
        accept(stride, beyond, driver->proceed(stride, beyond));
        stride.attempt = 0;
        continue;
      }
      if (smaller) driver->setSize(*smaller);
    }
    if (!smaller || stride.attempt >= 60) {
      for (auto& pair : p_.pairs) pair.begin();  // as they were when all was in balance
      throw diagnosis(s, stride.index, stride.size);
    }
    ++stride.attempt, --stride.index;
  }
  warnOfStabilisation(plan), warnOfEnergy(plan);
  return true;
}

void Run::warnOfStabilisation(const StepPlan& plan) {
  const double inParts = std::max(energies_.strain + energies_.plastic, energySeen_);
  if (energies_.stabilisation > 0.02 * std::abs(inParts) && !p_.stabilisations.empty())
    observer_.warned("By the end of step '" + plan.name + "' the stabilisation has taken up " +
                     shortNumber(energies_.stabilisation, 3) + " N mm, " +
                     shortNumber(100 * energies_.stabilisation / std::max(inParts, 1e-300), 2) +
                     " % of the energy in the parts. Check that this is only the way to first touch; else lower its strength.");
}

/// The strength follows from a body's modulus and size, as if it were as thick as long. A slender one (a spring, a strip) is bent
/// by it: there its work is not small against that of the strains, nor these against it, as they are while a body moves freely.
void Run::spareStabilisation(double calmed, double strained) {
  constexpr double small = 0.02, least = 0.01;
  if (calmed <= small * strained || strained <= small * calmed) return;
  habits_.calm = std::max(least, habits_.calm * std::max(0.3, small * strained / calmed));
}

void Run::release(const Constraints& now, int s) {
  released_ = VectorXd::Zero(p_.dofs());
  const VectorXd others = reaction_ - hingeForces(p_, hingesBefore_, u_);
  if (!constraintEquations_.empty())
    for (int dof = 0; dof < p_.bodyEnd(); ++dof)
      if (constraintEquations_[size_t(dof)] < 0 && now.equation(dof) >= 0) released_[dof] = others[dof];
  std::erase_if(hingesBefore_, [&](const Constraints::Hinged& h) {  // those that go on
    return std::any_of(now.hinges().begin(), now.hinges().end(), [&](const Constraints::Hinged& other) {
      return other.upper == h.upper && other.lower == h.lower && std::abs(other.direction.dot(h.direction)) > 1 - 1e-8;
    });
  });
  VectorXd hinged = hingeForces(p_, hingesBefore_, u_);
  now.toLocal(hinged);
  for (int dof = 0; dof < p_.nodeDofs(); ++dof)
    if (now.equation(dof) < 0) hinged[dof] = 0;
  now.toGlobal(hinged);
  released_ += hinged;
  constraintEquations_ = now.equationOfDof(), hingesBefore_ = now.hinges();
  for (size_t i = 0; s > 0 && i < p_.pairs.size(); ++i) {  // contacts that are switched off
    if (!p_.contactPlans[i].active[size_t(s) - 1] || p_.contactPlans[i].active[size_t(s)]) continue;
    std::vector<contact::Contribution> parts;
    p_.pairs[i].begin();
    p_.pairs[i].evaluate(configuration(u_, u_), false, false, parts);
    for (const auto& part : parts)
      for (size_t k = 0; k < part.dofs.size(); ++k) released_[part.dofs[k]] -= part.force[Eigen::Index(k)];
  }
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
