// One increment: Newton's iterations to convergence, or what hindered it.
#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <optional>
#include <set>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/run/bolt_parts.hpp"
#include "core/run/carrier_parts.hpp"
#include "core/run/run_state.hpp"

namespace anvil::analysis {

LoadLevel Run::level(const Stride& stride) const {
  const auto& plan = p_.steps[size_t(stride.step)];
  LoadLevel m;
  m.time = stride.at, m.size = stride.size, m.step = stride.step, m.stepTime = plan.end - plan.begin;
  m.stepShare = stride.at.stepShare(), m.calm = habits_.calm;
  m.stepStart = &stepStart_, m.before = &u_, m.releasedForce = released_.isZero(0) ? nullptr : &released_;
  return m;
}

void Run::setContacts(const Stride& stride) {
  const int s = stride.step;
  for (size_t i = 0; i < p_.pairs.size(); ++i) {
    const auto& plan = p_.contactPlans[i];
    p_.pairs[i].begin(newStep_);
    p_.pairs[i].setActive(plan.active[size_t(s)]);
    const double share = plan.resolveStep < 0 || s > plan.resolveStep ? 1 : s < plan.resolveStep ? 0 : stride.at.stepShare();
    p_.pairs[i].setInterference(plan.hasInterference ? stride.at.of(plan.interference) : 0, share);
  }
}

bool Run::hasFailed(Attempt& a, const Evaluation& e, bool maySink) {
  if (!assembly_.residual().allFinite())
    failed(a, Trouble::notFinite, "");
  else if (!maySink && overshot(e))
    failed(a, Trouble::overshoot, pairName(e));
  return a.trouble != Trouble::none;
}

Attempt Run::solve(const Stride& stride) {
  Stride first = stride, second = stride;
  // a forecast may take off what holds: then the plain start, which for a while comes first
  const bool both = stride.ahead != 0 && !p_.pairs.empty();
  if (both) (habits_.plainFirst > 0 ? first : second).ahead = 0;
  Attempt a = newton(first, {1}, both);
  if (a.converged) habits_.plainFirst = std::max(habits_.plainFirst - 1, 0.);
  const bool wentAstray = a.trouble == Trouble::iterations || a.trouble == Trouble::inverted || a.trouble == Trouble::diverged ||
                          a.trouble == Trouble::notFinite;
  if (both && !a.converged && !a.stopped && wentAstray) {
    Attempt again = newton(second, {1}, false);
    again.iterations += a.iterations;
    if (again.converged) habits_.plainFirst = habits_.plainFirst > 0 ? 0 : 4;
    a = again;
  }
  if (a.converged || a.stopped || !a.unsettled) return a;
  // soft contact costs as much as several increments: first shorter ones, unless these did not help earlier
  if (stride.attempt < 2 && habits_.softHelped == 0) return a;
  Attempt soft = newton(stride, {1e-4, 1e-3, 1e-2, 1e-1, 1}, false);
  for (auto& pair : p_.pairs) pair.setHardness(1);
  soft.iterations += a.iterations;
  if (soft.converged) habits_.softHelped = 1;
  return soft;
}

Run::Departure Run::departure(const Stride& stride) {
  // a forecast that would turn cells inside out is none
  bool predict = stride.start || stride.ahead != 0;
  Departure d;
  d.trial = stride.start ? *stride.start : VectorXd(u_ + course().change * stride.ahead);
  if (predict && assembly_.soundShare(u_, d.trial - u_) < 1) predict = stride.start != nullptr;
  if (!predict) d.trial = u_;
  VectorXd local = u_;
  constraints_->toLocal(local);
  VectorXd wanted = local;
  constraints_->prescribe(stride.at, stepStart_, wanted);
  d.pull = VectorXd::Zero(p_.dofs());
  constraints_->toLocal(d.trial);
  for (int dof = 0; dof < p_.dofs(); ++dof)
    if (constraints_->equation(dof) < 0) {
      if (predict)
        d.trial[dof] = wanted[dof];
      else
        d.pull[dof] = wanted[dof] - local[dof];
    }
  constraints_->toGlobal(d.trial);
  d.foreseen = predict;
  return d;
}

Attempt Run::newton(const Stride& stride, const std::vector<double>& stages, bool another) {
  Attempt a;
  size_t stage = 0;
  for (auto& pair : p_.pairs) pair.setHardness(stages.front());
  const auto m = level(stride);
  setContacts(stride);
  const bool fine = habits_.fineFactors > 0;
  assembly_.forgetFactors(fine);
  if (fine) --habits_.fineFactors;
  for (auto& b : p_.blocks) b->reject();
  for (auto& s : p_.slender) s.cells->reject();
  auto [trial, pull, predict] = departure(stride);
  bool pulling = !predict;  // prescribed places are not reached yet
  const bool elastic = newStep_ && !predict;
  double correction = 1e300, firstResidual = 0;
  int settledFor = 0, stageBegan = 0, balancedFor = 0, turned = 0;
  std::optional<Evaluation> found;      // by the search, where the iteration begins: without tangents, which the last needs not
  std::vector<std::string> looseWords;  // of the last iteration: what it found no hold for
  const auto fails = [&](Trouble t, const std::string& where) {
    return looseWords.empty() ? failed(a, t, where) : failed(a, Trouble::singular, inProse(looseWords));
  };
  for (int it = 0;; ++it) {
    const bool start = it == 0, soft = stage + 1 < stages.size();
    auto e = found ? *found : assembly_.evaluate(trial, m, true, true, start && elastic, pulling ? &pull : nullptr);
    if (found) assembly_.decide(e);
    if (!e.inverted) turned = e.contact.turned;
    a.unsettled = it > 1 && turned >= 4;
    if (e.failedLine >= 0) return failed(a, Trouble::section, wherePart(e));
    if (e.inverted)
      return failed(a, Trouble::inverted, "the element " + std::to_string(e.invertedCell + 1) + " of " + wherePart(e));
    report(a, stride, e, correction, it, trial);
    settledFor = e.contact.changes ? 0 : settledFor + 1;
    a.settling += it > 0 && e.contact.changes > 0;
    balancedFor = a.last.force <= 0.1 * a.last.forceLimit && correction <= a.last.correctionLimit ? balancedFor + 1 : 0;
    if (it > 0) a.residuals.push_back(a.last.force / std::max(a.last.forceLimit, 1e-300));
    if (hasFailed(a, e, it == 0 || soft)) return a;
    if (soft && it > 0 && e.contact.changes == 0 && a.last.force <= 1e3 * a.last.forceLimit) {
      stageBegan = it;
      for (auto& pair : p_.pairs) pair.setHardness(stages[stage + 1]);
      ++stage;
    } else if (!soft && !pulling && isDone(a, e, it, predict, balancedFor >= 3)) {
      break;
    }
    const bool far = a.last.force > 1e4 * a.last.forceLimit;
    const bool cycles = stages.size() == 1 && it >= 10 && turned >= 4 && far;
    // no nearer after so many iterations: the other start is worth more, or a shorter increment
    const int patience = another ? 5 : stride.attempt < 3 && !p_.pairs.empty() ? 9 : 1000;
    const bool lost = stages.size() == 1 && it >= patience && far && a.last.force > 0.5 * firstResidual;
    // where forces balance and only the status still settles, corner by corner, it is given time
    const bool settling = !soft && e.contact.changes > 0 && a.last.force <= a.last.forceLimit;
    if (cycles || lost || it - stageBegan >= (soft ? 2 : settling ? 3 : 1) * p_.control.mostIterations) {
      a.unsettled = cycles || turned > 0;
      return fails(Trouble::iterations, settledFor < 2 ? pairName(e) : p_.whereIs(a.last.worstNode));
    }
    if (it <= 3)
      firstResidual = std::max(firstResidual, a.last.force);  // the first may be none: a tool has only just come to touch
    if (it > 5 && settledFor > 3 && a.last.force > 1e4 * std::max(firstResidual, a.last.forceLimit))
      return fails(Trouble::diverged, p_.whereIs(a.last.worstNode));
    if (observer_.stop()) {
      a.stopped = true;
      return a;
    }
    if (found) assembly_.evaluate(trial, m, true, false, false, nullptr);
    VectorXd du = correctionOf(pull);
    if (assembly_.wantedFineFactors()) habits_.fineFactors = 16;
    for (int again = 0; again < 4; ++again) {
      if (!assembly_.releasePulling(pulling ? &pull : nullptr)) break;
      du = correctionOf(pull);
    }
    const bool loose = !assembly_.nullEquations().empty();
    looseWords = loose ? looseThings() : std::vector<std::string>();
    if (loose && mayFindHold(stride, it)) du = towardsHold(pull);
    if (!checkPivots(a, stride.step, stages.size() > 1)) return a;
    if (!du.allFinite()) return failed(a, Trouble::notFinite, "");
    // an iteration's overshoot is not the mesh's fault: it is shortened, and fails only where hardly anything is left of it
    const double most = assembly_.soundShare(trial, du);
    if (most < 1. / 64) return failed(a, Trouble::inverted, p_.whereIs(a.last.worstNode));
    found.reset();
    const double taken =
        searchAlong(trial, du, m, e.contact.violation, most, (start && !predict) || pulling || loose, soft && !pulling, found);
    if (stages.size() > 1 || assembly_.foresees()) found.reset();
    pull *= 1 - taken, pulling = pulling && taken < 1;
    if (!pulling) pull.setZero();
    correction = greatestShift(du) * taken;
    ++a.iterations;
  }
  Evaluation e = found ? *found : assembly_.evaluate(trial, m, false, false, false, nullptr);
  a.plasticIncrement = e.plasticIncrement;
  if (e.plasticIncrement > p_.control.plasticStrainLimit) {
    tooFar_ = trial - u_, tooFarSize_ = stride.size;
    return failed(a, Trouble::plasticStrain, shortNumber(e.plasticIncrement, 3));
  }
  if (e.worstPair = passedThrough(trial); e.worstPair >= 0) return failed(a, Trouble::overshoot, pairName(e));
  a.converged = true;
  trial_ = trial;
  return a;
}

double Run::greatestShift(const VectorXd& v) const {
  double most = 0;
  for (int n = 0; n < p_.nodeCount(); ++n) most = std::max(most, v.segment(p_.dim() * n, p_.dim()).squaredNorm());
  return std::sqrt(most);
}

VectorXd Run::correctionOf(const VectorXd& prescribed) {
  const VectorXd x = assembly_.solve();
  warnOfDisk();
  VectorXd du = prescribed;
  for (int dof = 0; dof < p_.dofs(); ++dof)
    if (const int eq = constraints_->equation(dof); eq >= 0) du[dof] = x[eq];
  localCorrection_ = du;
  constraints_->toGlobal(du);
  for (auto& pair : p_.pairs) pair.solveMultipliers(du);
  return du;
}

double Run::searchAlong(VectorXd& trial, const VectorXd& du, const LoadLevel& m, double violation, double most, bool whole,
                        bool soft, std::optional<Evaluation>& there) {
  const VectorXd start = trial;
  const auto size = [&](const VectorXd& r, double violated) {  // of what is out of balance, and of what contact still asks for
    double sum = violated;
    for (int dof = 0; dof < p_.dofs(); ++dof)
      if (constraints_->equation(dof) >= 0) sum += r[dof] * r[dof] / (lever(dof) * lever(dof));
    return std::sqrt(sum);
  };
  const VectorXd foreseen = assembly_.foreseenResidual();
  const double size0 = size(foreseen, violation), slope0 = foreseen.dot(localCorrection_);
  const auto place = [&](double fraction) {
    trial = start + fraction * du;
    for (auto& pair : p_.pairs) pair.step(fraction);
  };
  place(most);
  if (soft && p_.control.lineSearch) return searchWork(start, trial, du, m, most);
  if (!p_.control.lineSearch || whole) return most;
  double best = most, least = 1e300;
  for (const double part : {1., 0.5, 0.25}) {
    const double s = part * most;
    if (part < 1) place(s);
    const auto probe = assembly_.evaluate(trial, m, false, false, false, nullptr, s);
    const double now = probe.inverted ? 1e300 : size(assembly_.residual(), probe.contact.violation);
    there.reset();
    if (now < least) least = now, best = s, there = probe;
    if (now <= size0 || (!probe.inverted && std::abs(assembly_.residual().dot(localCorrection_)) <= 0.5 * std::abs(slope0)))
      break;
  }
  place(best);
  return best;
}

double Run::searchWork(const VectorXd& start, VectorXd& trial, const VectorXd& du, const LoadLevel& m, double most) {
  const auto slope = [&](double s) {
    trial = start + s * du;
    for (auto& pair : p_.pairs) pair.step(s);
    const auto probe = assembly_.evaluate(trial, m, false, true, false, nullptr);
    return probe.inverted ? std::numeric_limits<double>::infinity() : assembly_.residual().dot(localCorrection_);
  };
  const double before = assembly_.residual().dot(localCorrection_);
  double low = 0, high = most, s = most, atLow = before;
  for (int k = 0; k < 8; ++k) {
    const double now = slope(s);
    if (std::abs(now) <= 0.2 * std::abs(before)) return s;
    if (now * before > 0) {  // still downhill
      if (s >= most) return s;
      low = s, atLow = now;
    } else {
      high = s;
    }
    const double secant =
        std::isfinite(now) && now * atLow < 0 && s == high ? low + (high - low) * atLow / (atLow - now) : 0.5 * (low + high);
    s = std::clamp(secant, low + 0.1 * (high - low), high - 0.1 * (high - low));
  }
  (void)slope(s);
  return s;
}

bool Run::isDone(const Attempt& a, const Evaluation& e, int it, bool predicted, bool calm) const {
  if (it == 0 && !predicted) return false;
  if (it < p_.control.fewestIterations) return false;
  const auto& l = a.last;
  const bool still = l.force <= l.forceLimit && l.correction <= stillness();  // only rounding moves and turns
  if (e.contact.changes && !calm && !still) return false;
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
    if (l.body >= 0 && l.course.active[size_t(stride.step)])
      most = std::max(most, std::abs(stride.at.of(l.course)) / (l.moment ? p_.bodies[size_t(l.body)].lever : 1));
  return most;
}

/// What rounding leaves in the residual, per dof: of the cells, and of the places that carriers and bolts compare.
VectorXd Run::noiseFloor(const VectorXd& trial) const {
  VectorXd floor = assembly_.noise(trial);
  double places = 0;
  for (const auto& carrier : p_.carriers)
    places = std::max(places, 4e-15 * carrier.scale * (carrier.centre.norm() + p_.bodies[size_t(carrier.body)].lever));
  for (const auto& bolt : p_.bolts)
    if (!bolt.beam)
      places = std::max(
          places, 4e-15 * bolt.scale * (p_.mesh.cuts[size_t(bolt.cut)].centre.norm() + p_.mesh.cuts[size_t(bolt.cut)].radius));
  if (!constraints_->hinges().empty()) places = std::max(places, 4e-15 * p_.hingeScale * reach_);
  // bodies and multipliers gather the noise of the nodes they hold
  const double most = floor.head(p_.nodeDofs()).size() ? floor.head(p_.nodeDofs()).maxCoeff() : 0;
  floor.tail(p_.dofs() - p_.nodeDofs()).setConstant(std::max(places, most));
  if (places > 0) floor = floor.cwiseMax(places);
  return floor;
}

void Run::report(Attempt& a, const Stride& stride, const Evaluation& e, double correction, int it, const VectorXd& trial) {
  const VectorXd& r = assembly_.residual();
  auto& l = a.last;
  l = {stride.step, stride.index, it, stride.attempt,    stride.at.time,   stride.size,        0,
       0,           correction,   0,  e.contact.changes, e.contact.active, e.contact.gapError, -1};
  currentAverage_ = std::max({e.averageForce, runningAverage_, 1e-3 * bodyForce(stride, trial)});
  const double limit = p_.control.forceTolerance * currentAverage_;
  const VectorXd floor = noiseFloor(trial);
  l.forceLimit = std::max(limit, 1e-300);
  double worst = -1;  // of the residual over what it must fall below, there
  const auto compare = [&](double force, double most, int node) {
    if (force / most <= worst) return;  // true for no number, too
    worst = force / most, l.force = force, l.forceLimit = most, l.worstNode = node;
  };
  const int dim = p_.dim();
  for (int n = 0; n < p_.nodeCount(); ++n) {  // vectors: it does not matter how the model is turned
    double square = 0, noise = 0;
    for (int dof = dim * n; dof < dim * n + dim; ++dof)
      if (constraints_->equation(dof) >= 0) square += r[dof] * r[dof], noise = std::max(noise, floor[dof]);
    compare(std::sqrt(square), std::max({limit, noise, 1e-300}), n);
  }
  for (int dof = p_.nodeDofs(); dof < p_.dofs(); ++dof)
    if (constraints_->equation(dof) >= 0) compare(std::abs(r[dof]) / lever(dof), std::max({limit, floor[dof], 1e-300}), -1);
  const double change = greatestShift(trial - u_);
  l.correctionLimit = std::max(p_.control.correctionTolerance * change, stillness());
  if (it > 0 || a.iterations > 0) observer_.iterated(l);
}

/// What is loose may still come to touch something: contact acts, and it is no part that nothing holds from the very start.
bool Run::mayFindHold(const Stride& stride, int iteration) const {
  if (std::none_of(p_.pairs.begin(), p_.pairs.end(), [](const auto& pair) { return pair.active(); })) return false;
  if (stride.step > 0 || time_ > 0 || iteration > 0) return true;
  int axis;
  for (int eq : assembly_.nullEquations())
    if (assembly_.nodeOfEquation(eq, axis) >= 0) return false;
  return true;
}

VectorXd Run::towardsHold(const VectorXd& prescribed) {
  const double soft = 1e-6 * p_.youngScale * p_.sizeScale() * (p_.dim() == 3 ? 1 : p_.setting.thickness);
  VectorXd more = 1e-6 * assembly_.diagonal().cwiseAbs();
  for (int dof = 0; dof < p_.dofs(); ++dof)
    if (const int eq = constraints_->equation(dof); eq >= 0 && dof < p_.bodyEnd())
      more[eq] = std::max(more[eq], soft * lever(dof) * lever(dof));
  assembly_.addToDiagonal(more);
  VectorXd du = correctionOf(prescribed);
  double reach = 1e300;
  for (const auto& pair : p_.pairs)
    if (pair.active()) reach = std::min(reach, 0.3 * pair.setup().reach);
  const double way = furthestTravel(u_, u_ + du);
  if (way > reach) {
    for (auto& pair : p_.pairs) pair.shorten(reach / way);
    du *= reach / way, localCorrection_ *= reach / way;
  }
  return du;
}

std::vector<std::string> Run::looseThings(const std::string& verb) const {
  std::map<std::string, std::set<std::string>> ways;
  for (int eq : assembly_.nullEquations()) {
    int axis;
    const int node = assembly_.nodeOfEquation(eq, axis);
    if (node < 0) {
      const int body = p_.bodyOf(axis);
      if (body < 0) continue;
      const int k = p_.layout().axisOf(axis);
      ways["'" + p_.bodies[size_t(body)].name + "'"].insert(k < p_.dim()    ? std::string("along ") + p_.axis(k)
                                                            : p_.dim() == 2 ? "turning"
                                                                            : std::string("turning about ") + p_.axis(k - 3));
      continue;
    }
    for (const auto& b : p_.mesh.blocks)
      if (std::find(b.nodes.begin(), b.nodes.end(), node) != b.nodes.end())
        ways["part '" + p_.mesh.parts[size_t(b.part)] + "'"].insert(std::string("along ") + p_.axis(axis));
    for (const auto& l : p_.mesh.lines)
      if (std::find(l.nodes.begin(), l.nodes.end(), node) != l.nodes.end())
        ways["part '" + p_.mesh.parts[size_t(l.part)] + "'"].insert(std::string("along ") + p_.axis(axis));
  }
  std::vector<std::string> words;
  for (const auto& [thing, directions] : ways)
    words.push_back(thing + verb + " (" + inProse({directions.begin(), directions.end()}) + ")");
  return words;
}

bool Run::checkPivots(Attempt& a, int s, bool triedBefore) {
  const auto& nulls = assembly_.nullEquations();
  if (nulls.empty()) return true;
  const bool atStart = s == 0 && time_ == 0;
  for (int eq : nulls) {
    int dof;
    if (!atStart || assembly_.nodeOfEquation(eq, dof) >= 0) continue;
    for (const auto& carrier : p_.carriers)
      if (dof >= carrier.firstMultiplier && dof < carrier.firstMultiplier + carrier.multipliers(p_.dim()))
        throw Error(
            "carrier '" + carrier.name + "' is held twice: its face and the carrier are both prescribed in the same direction",
            "step '" + p_.steps[size_t(s)].name + "'", "Take one of the two supports or motions out.");
  }
  if (const auto loose = looseThings(" can move or turn freely"); atStart && a.iterations == 0 && !triedBefore)
    throw Error(loose.empty() ? "a body can move freely" : inProse(loose), "step '" + p_.steps[size_t(s)].name + "'",
                "Add a support or a symmetry plane; or move it, or what should hold it, by a motion until they touch; or add a "
                "stabilisation for it, which steadies it until then.");
  failed(a, Trouble::singular, inProse(looseThings()));
  return false;
}

}  // namespace anvil::analysis
