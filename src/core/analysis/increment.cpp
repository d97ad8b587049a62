// One increment: Newton's iterations to convergence, or what hindered it.
#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <set>

#include "core/analysis/run_state.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"

namespace anvil::analysis {

Moment Run::moment(const Stride& stride) const {
  const auto& plan = p_.steps[size_t(stride.step)];
  Moment m;
  m.time = stride.at, m.size = stride.size, m.step = stride.step, m.stepTime = plan.end - plan.begin;
  m.stepShare = stride.at.stepShare();
  m.stepStart = &stepStart_, m.before = &u_, m.releasedForce = released_.isZero(0) ? nullptr : &released_;
  return m;
}

void Run::setContacts(const Stride& stride) {
  const int s = stride.step;
  for (size_t i = 0; i < p_.pairs.size(); ++i) {
    const auto& plan = p_.contactPlans[i];
    p_.pairs[i].begin();
    p_.pairs[i].setActive(plan.active[size_t(s)]);
    const double share = plan.resolveStep < 0 || s > plan.resolveStep ? 1 : s < plan.resolveStep ? 0 : stride.at.stepShare();
    p_.pairs[i].setInterference(plan.hasInterference ? stride.at.of(plan.interference) : 0, share);
  }
}

bool Run::hasFailed(Attempt& a, const Evaluation& e, bool maySink) {
  if (!std::isfinite(a.last.force)) failed(a, Trouble::notFinite, "");
  else if (!maySink && overshot(e)) failed(a, Trouble::overshoot, pairName(e));
  return a.trouble != Trouble::none;
}

Attempt Run::solve(const Stride& stride) {
  Attempt a = newton(stride, {1});
  if (a.converged || a.stopped || !a.unsettled) return a;
  Attempt soft = newton(stride, {1e-4, 1e-3, 1e-2, 1e-1, 1});
  for (auto& pair : p_.pairs) pair.setHardness(1);
  soft.iterations += a.iterations;
  return soft;
}

Attempt Run::newton(const Stride& stride, const std::vector<double>& stages) {
  Attempt a;
  size_t stage = 0;
  for (auto& pair : p_.pairs) pair.setHardness(stages.front());
  const auto m = moment(stride);
  setContacts(stride);
  for (auto& b : p_.blocks) b->reject();
  VectorXd trial = u_;
  const bool predict = stride.ahead != 0;
  if (predict) trial += lastChange_ * stride.ahead;
  VectorXd local = u_;
  constraints_->toLocal(local);
  VectorXd wanted = local;
  constraints_->prescribe(stride.at, stepStart_, wanted);
  VectorXd pull = VectorXd::Zero(p_.dofs());      // prescribed corrections still to be made, local components
  VectorXd localTrial = trial;
  constraints_->toLocal(localTrial);
  for (int dof = 0; dof < p_.dofs(); ++dof)
    if (constraints_->equation(dof) < 0) {
      if (predict) localTrial[dof] = wanted[dof];
      else pull[dof] = wanted[dof] - local[dof];
    }
  trial = localTrial;
  constraints_->toGlobal(trial);
  const bool elastic = newStep_ && !predict;
  double correction = 1e300, firstResidual = 0;
  int settledFor = 0, stageBegan = 0, balancedFor = 0, turned = 0;
  for (int it = 0;; ++it) {
    const bool start = it == 0, soft = stage + 1 < stages.size();
    auto e = assembly_.evaluate(trial, m, true, true, start && elastic, start && !predict ? &pull : nullptr);
    if (!e.inverted) turned = e.contact.turned;
    a.unsettled = it > 1 && turned >= 4;
    if (e.inverted) return failed(a, Trouble::inverted, "the element " + std::to_string(e.invertedCell + 1) + " of " + wherePart(e));
    report(a, stride, e, correction, it, trial);
    settledFor = e.contact.changes ? 0 : settledFor + 1;
    balancedFor = a.last.force <= 0.1 * a.last.forceLimit && correction <= a.last.correctionLimit ? balancedFor + 1 : 0;
    if (it > 0) a.residuals.push_back(a.last.force / std::max(a.last.forceLimit, 1e-300));
    if (hasFailed(a, e, it == 0 || soft)) return a;
    if (soft && it > 0 && e.contact.changes == 0 && a.last.force <= 1e3 * a.last.forceLimit) {
      stageBegan = it;
      for (auto& pair : p_.pairs) pair.setHardness(stages[stage + 1]);
      ++stage;
    } else if (!soft && isDone(a, e, it, predict, balancedFor >= 3)) {
      break;
    }
    const bool cycles = stages.size() == 1 && it >= 10 && turned >= 4 && a.last.force > 1e4 * a.last.forceLimit;
    if (cycles || it - stageBegan >= (soft ? 2 : 1) * p_.control.mostIterations) {
      a.unsettled = cycles || turned > 0;
      return failed(a, Trouble::iterations, settledFor < 2 ? pairName(e) : p_.whereIs(a.last.worstNode));
    }
    if (it == 1) firstResidual = a.last.force;
    if (it > 5 && settledFor > 3 && a.last.force > 1e4 * std::max(firstResidual, a.last.forceLimit)) return failed(a, Trouble::diverged, p_.whereIs(a.last.worstNode));
    if (observer_.stop()) {
      a.stopped = true;
      return a;
    }
    VectorXd du = correctionOf(start && !predict ? pull : VectorXd::Zero(p_.dofs()));
    if (!checkPivots(a, stride.step, stages.size() > 1)) return a;
    if (!du.allFinite()) return failed(a, Trouble::notFinite, "");
    const double taken = searchAlong(trial, du, m, it, soft && (it > 0 || predict));
    correction = du.head(p_.nodeDofs()).cwiseAbs().maxCoeff() * taken;
    ++a.iterations;
  }
  auto e = assembly_.evaluate(trial, m, false, false, false, nullptr);
  a.plasticIncrement = e.plasticIncrement;
  if (e.plasticIncrement > p_.control.plasticStrainLimit) return failed(a, Trouble::plasticStrain, shortNumber(e.plasticIncrement, 3));
  a.converged = true;
  trial_ = trial;
  return a;
}

VectorXd Run::correctionOf(const VectorXd& prescribed) {
  const VectorXd x = assembly_.solve();
  VectorXd du = prescribed;
  for (int dof = 0; dof < p_.dofs(); ++dof)
    if (const int eq = constraints_->equation(dof); eq >= 0) du[dof] = x[eq];
  localCorrection_ = du;
  constraints_->toGlobal(du);
  for (auto& pair : p_.pairs) pair.solveMultipliers(du);
  return du;
}

double Run::searchAlong(VectorXd& trial, const VectorXd& du, const Moment& m, int it, bool soft) {
  const VectorXd start = trial;
  const auto size = [&] {
    double sum = 0;
    const VectorXd& r = assembly_.residual();
    for (int dof = 0; dof < p_.dofs(); ++dof)
      if (constraints_->equation(dof) >= 0) sum += r[dof] * r[dof] / (lever(dof) * lever(dof));
    return std::sqrt(sum);
  };
  const double size0 = size(), slope0 = assembly_.residual().dot(localCorrection_);
  const auto place = [&](double fraction) {
    trial = start + fraction * du;
    for (auto& pair : p_.pairs) pair.step(fraction);
  };
  place(1);
  if (soft && p_.control.lineSearch) return searchWork(start, trial, du, m);
  if (!p_.control.lineSearch || it == 0) return 1;
  double best = 1, least = 1e300;
  for (const double s : {1., 0.5, 0.25}) {
    if (s < 1) place(s);
    const auto probe = assembly_.evaluate(trial, m, false, false, false, nullptr);
    const double now = probe.inverted ? 1e300 : size();
    if (now < least) least = now, best = s;
    if (now <= size0 || (!probe.inverted && std::abs(assembly_.residual().dot(localCorrection_)) <= 0.5 * std::abs(slope0))) break;
  }
  place(best);
  return best;
}

double Run::searchWork(const VectorXd& start, VectorXd& trial, const VectorXd& du, const Moment& m) {
  const auto slope = [&](double s) {
    trial = start + s * du;
    for (auto& pair : p_.pairs) pair.step(s);
    const auto probe = assembly_.evaluate(trial, m, false, true, false, nullptr);
    return probe.inverted ? std::numeric_limits<double>::infinity() : assembly_.residual().dot(localCorrection_);
  };
  const double before = assembly_.residual().dot(localCorrection_);
  double low = 0, high = 1, s = 1, atLow = before;
  for (int k = 0; k < 8; ++k) {
    const double now = slope(s);
    if (std::abs(now) <= 0.2 * std::abs(before)) return s;
    if (now * before > 0) {   // still downhill
      if (s >= 1) return s;
      low = s, atLow = now;
    } else {
      high = s;
    }
    const double secant = std::isfinite(now) && now * atLow < 0 && s == high ? low + (high - low) * atLow / (atLow - now) : 0.5 * (low + high);
    s = std::clamp(secant, low + 0.1 * (high - low), high - 0.1 * (high - low));
  }
  (void)slope(s);
  return s;
}

bool Run::isDone(const Attempt& a, const Evaluation& e, int it, bool predicted, bool calm) const {
  if (it == 0 && !predicted) return false;
  if (it < p_.control.fewestIterations) return false;
  const auto& l = a.last;
  if (e.contact.changes && !calm) return false;
  double h = 1e300;
  for (const auto& pair : p_.pairs) h = std::min(h, pair.setup().slave.meanLength);
  if (!p_.pairs.empty() && e.contact.gapError > 1e-6 * h) return false;
  if (l.force > l.forceLimit) return false;
  return l.correction <= l.correctionLimit || l.force <= 0.01 * l.forceLimit || it == 0;
}

/// Greatest force of springs, and of loads on bodies, for models whose elements hardly carry any.
double Run::bodyForce(const Stride& stride, const VectorXd& trial) const {
  double most = 0;
  for (const auto& s : p_.springs) most = std::max(most, std::abs(springLaw(s.force, springExtension(p_, s, trial)).force));
  for (const auto& l : p_.loads)
    if (l.body >= 0 && l.course.active[size_t(stride.step)]) most = std::max(most, std::abs(stride.at.of(l.course)) / (l.moment ? p_.bodies[size_t(l.body)].lever : 1));
  return most;
}

void Run::report(Attempt& a, const Stride& stride, const Evaluation& e, double correction, int it, const VectorXd& trial) {
  const VectorXd& r = assembly_.residual();
  auto& l = a.last;
  l = {stride.step, stride.index, it, stride.attempt, stride.at.time, stride.size, 0, 0, correction, 0, e.contact.changes, e.contact.active, e.contact.gapError, -1};
  for (int dof = 0; dof < p_.dofs(); ++dof)
    if (constraints_->equation(dof) >= 0 && !(std::abs(r[dof]) / lever(dof) <= l.force)) {
      l.force = std::abs(r[dof]) / lever(dof);
      l.worstNode = dof < p_.nodeDofs() ? dof / p_.dim() : -1;
    }
  currentAverage_ = std::max({e.averageForce, runningAverage_, 1e-3 * bodyForce(stride, trial)});
  // rounding of the displacement gradient leaves forces of this size in a body that only moves or grows freely
  double floor = 2e-15 * p_.youngScale * width_ * (edge_ + trial.head(p_.nodeDofs()).cwiseAbs().maxCoeff());
  // and of the places that carriers compare
  for (const auto& carrier : p_.carriers) floor = std::max(floor, 4e-15 * carrier.scale * (carrier.centre.norm() + p_.bodies[size_t(carrier.body)].lever));
  for (const auto& bolt : p_.bolts)
    if (!bolt.beam) floor = std::max(floor, 4e-15 * bolt.scale * (p_.mesh.cuts[size_t(bolt.cut)].centre.norm() + p_.mesh.cuts[size_t(bolt.cut)].radius));
  l.forceLimit = std::max(p_.control.forceTolerance * currentAverage_, floor);
  const double change = (trial - u_).head(p_.nodeDofs()).cwiseAbs().maxCoeff();
  l.correctionLimit = p_.control.correctionTolerance * change;
  if (it > 0 || a.iterations > 0) observer_.iterated(l);
}

bool Run::checkPivots(Attempt& a, int s, bool triedBefore) {
  const auto& nulls = assembly_.nullEquations();
  if (nulls.empty()) return true;
  std::map<std::string, std::set<std::string>> freeParts;
  std::set<std::string> freeBodies;
  for (int eq : nulls) {
    int axis;
    const int node = assembly_.nodeOfEquation(eq, axis);
    if (node < 0) {
      if (const int body = p_.bodyOf(axis); body >= 0) freeBodies.insert(p_.bodies[size_t(body)].name);
      for (const auto& carrier : p_.carriers)
        if (axis >= carrier.firstMultiplier && axis < carrier.firstMultiplier + carrier.multipliers(p_.dim()) && s == 0 && time_ == 0)
          throw Error("carrier '" + carrier.name + "' is held twice: its face and the carrier are both prescribed in the same direction", "step '" + p_.steps[size_t(s)].name + "'",
                      "Take one of the two supports or motions out.");
      continue;
    }
    for (const auto& b : p_.mesh.blocks)
      if (std::find(b.nodes.begin(), b.nodes.end(), node) != b.nodes.end()) freeParts[p_.mesh.parts[size_t(b.part)]].insert(p_.axis(axis));
  }
  if (s == 0 && time_ == 0 && a.iterations == 0 && !triedBefore) {
    std::vector<std::string> words;
    for (const auto& [part, axes] : freeParts) words.push_back("part '" + part + "' can move or turn freely (seen along " + inProse({axes.begin(), axes.end()}) + ")");
    for (const auto& body : freeBodies) words.push_back("'" + body + "' can move or turn freely");
    throw Error(words.empty() ? "a body can move freely" : inProse(words), "step '" + p_.steps[size_t(s)].name + "'",
                "Add a support or a symmetry plane, close the gap to what holds it (\"start\": {\"close within\": …}), or add a stabilisation for the part.");
  }
  failed(a, Trouble::singular, freeParts.empty() ? "" : "part '" + freeParts.begin()->first + "'");
  return false;
}

}  // namespace anvil::analysis
