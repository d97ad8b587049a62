// Steps along the arc of displacements: past load limits, where neither the load nor a displacement need grow
// (M. Crisfield, Computers & Structures 13, 1981; the constraint on displacements only, its root by the way ahead).
#include <algorithm>
#include <cmath>

#include "core/analysis/run_state.hpp"
#include "core/base/error.hpp"

namespace anvil::analysis {

/// The displacements among the dofs: turns of bodies and multipliers have another measure.
VectorXd Run::travels(const VectorXd& v) const {
  VectorXd t = v.head(p_.bodyEnd());
  for (int dof = p_.nodeDofs(); dof < p_.bodyEnd(); ++dof)
    if (p_.isTurn(dof)) t[dof] = 0;
  return t;
}

void Run::impose(const Instant& at, VectorXd& trial) const {
  VectorXd local = trial, wanted = trial;
  constraints_->toLocal(local), constraints_->toLocal(wanted);
  constraints_->prescribe(at, stepStart_, wanted);
  for (int dof = 0; dof < p_.dofs(); ++dof)
    if (constraints_->equation(dof) < 0) local[dof] = wanted[dof];
  constraints_->toGlobal(local);
  trial = local;
}

Attempt Run::solveAlongArc(Stride& stride, Arc& arc) {
  Attempt a;
  VectorXd trial = u_;
  double share = arc.share, correction = 1e300;
  const bool goesOn = !newStep_ && !lastChange_.isZero(0);
  stride.at.share = share;
  setContacts(stride);
  for (auto& b : p_.blocks) b->reject();
  const auto fail = [&](Trouble t, const Evaluation& e) { return failed(a, t, t == Trouble::inverted ? wherePart(e) : p_.whereIs(a.last.worstNode)); };
  for (int it = 0;; ++it) {
    stride.at.share = share;
    const auto m = moment(stride);
    auto e = assembly_.evaluate(trial, m, false, true, false, nullptr);
    if (e.inverted) return fail(Trouble::inverted, e);
    report(a, stride, e, correction, it, trial);
    if (it > 0) a.residuals.push_back(a.last.force / std::max(a.last.forceLimit, 1e-300));
    if (hasFailed(a, e, it == 0)) return a;
    if (isDone(a, e, it, false, false)) break;
    if (it >= p_.control.mostIterations) return fail(Trouble::iterations, e);
    if (observer_.stop()) {
      a.stopped = true;
      return a;
    }
    // what the loading's share does to the equations, by difference; then the equations themselves
    const double h = 1e-5;
    Stride moved = stride;
    moved.at.share = share + h;
    VectorXd ahead = trial;
    impose(moved.at, ahead);
    const VectorXd given = (ahead - trial) / h;
    if (assembly_.evaluate(ahead, moment(moved), true, false, false, nullptr).inverted) return fail(Trouble::inverted, e);
    const VectorXd rhsAhead = assembly_.rightHandSide();
    assembly_.evaluate(trial, m, true, false, false, nullptr);
    const VectorXd rhs = assembly_.rightHandSide();
    const VectorXd x = assembly_.solve();
    if (!checkPivots(a, stride.step, false)) return a;
    const VectorXd y = assembly_.solveAgain((rhsAhead - rhs) / h);
    const auto whole = [&](const VectorXd& free, VectorXd full) {
      constraints_->toLocal(full);
      for (int dof = 0; dof < p_.dofs(); ++dof)
        if (const int eq = constraints_->equation(dof); eq >= 0) full[dof] = free[eq];
      constraints_->toGlobal(full);
      return full;
    };
    // `given` carries prescribed dofs only: its free part is replaced
    const VectorXd residualWay = whole(x, VectorXd::Zero(p_.dofs())), loadWay = whole(y, given);
    const VectorXd r = travels(residualWay), q = travels(loadWay), done = travels(VectorXd(trial - u_));
    if (!r.allFinite() || !q.allFinite() || q.norm() == 0) return fail(Trouble::notFinite, e);
    double more;
    if (it == 0) {
      if (arc.unit == 0) arc.unit = q.norm(), arc.size *= arc.unit;
      const double way = !goesOn || travels(lastChange_).dot(q) >= 0 ? 1 : -1;
      more = way * arc.size / q.norm();
    } else {
      const VectorXd d = done + r;
      const double A = q.squaredNorm(), B = 2 * q.dot(d), C = d.squaredNorm() - arc.size * arc.size, root = B * B - 4 * A * C;
      if (root < 0) return fail(Trouble::diverged, e);
      const double one = (-B + std::sqrt(root)) / (2 * A), two = (-B - std::sqrt(root)) / (2 * A);
      more = (d + one * q).dot(done) >= (d + two * q).dot(done) ? one : two;
    }
    const VectorXd du = residualWay + more * loadWay;
    for (auto& pair : p_.pairs) pair.solveMultipliers(du), pair.step(1);
    trial += du, share += more;
    stride.at.share = share;
    impose(stride.at, trial);
    correction = travels(du).cwiseAbs().maxCoeff();
    ++a.iterations;
    if (std::abs(share) > 1e6) return fail(Trouble::diverged, e);
  }
  const auto e = assembly_.evaluate(trial, moment(stride), false, false, false, nullptr);
  if (e.plasticIncrement > p_.control.plasticStrainLimit) return fail(Trouble::plasticStrain, e);
  a.converged = true;
  trial_ = trial;
  return a;
}

/// Share of the step that counts as done after the next increment. The length of the way to come is not known: it is
/// taken as what the loading still lacks, at the stiffness of the start.
double Run::progress(const StepPlan& plan, const Arc& arc) const {
  const double done = (time_ - plan.begin) / (plan.end - plan.begin);
  if (arc.unit == 0) return done + 0.2 * (1 - done) * plan.first;
  const double rest = std::max(4 * arc.size, std::abs(1 - arc.share) * arc.unit);
  return done + (1 - done) * arc.size / (arc.size + rest);
}

bool Run::passes(const StepPlan& plan, const VectorXd& u) const {
  if (plan.untilNode < 0) return false;
  const int dof = p_.dim() * plan.untilNode + plan.untilAxis;
  const double start = stepStart_[dof];
  return (u[dof] - plan.untilValue) * (start - plan.untilValue) <= 0 && u[dof] != start;
}

bool Run::arcStep(int s, const Restart* resume) {
  const auto& plan = p_.steps[size_t(s)];
  const Constraints constraints(p_, s);
  enter(s, constraints, resume);
  if (!resume) arc_ = {0, plan.first, 0};
  const double length = plan.end - plan.begin;
  Stride stride;
  stride.step = s, stride.index = resume ? resume->increment : 0;
  while (time_ < plan.end * (1 - 1e-12)) {
    if (stride.index >= plan.most)
      throw Error("the step needs more than " + std::to_string(plan.most) + " increments; its loading has come to " + std::to_string(arc_.share) + " of the whole", "step '" + plan.name + "'",
                  "If the structure never carries the whole load, end the step by \"until\"; else raise \"most\" or allow larger increments.");
    ++stride.index;
    stride.at = Instant(plan.begin + length * progress(plan, arc_), plan);
    stride.size = stride.at.time - time_;
    Arc arc = arc_;
    Attempt a = solveAlongArc(stride, arc);
    if (a.converged && *stride.at.share >= 1 && arc_.share < 1) {  // land on the whole load
      const double part = (1 - arc_.share) / (*stride.at.share - arc_.share);
      const VectorXd before = lastChange_;
      lastChange_ = trial_ - u_;
      stride.at.time = plan.end, stride.at.share = 1, stride.size = plan.end - time_, stride.ahead = part;
      a = solve(stride);
      if (!a.converged) lastChange_ = before;
    } else if (a.converged && passes(plan, trial_)) {
      stride.at.time = plan.end, stride.size = plan.end - time_;
    }
    stride.ahead = 0;
    if (a.stopped) return false;
    if (a.converged) {
      arc.share = *stride.at.share;
      const double largest = plan.largest * arc.unit;
      if (a.iterations <= p_.control.easyIterations) arc.size = std::min(arc.size * p_.control.growth, std::max(largest, arc_.size));
      else if (a.iterations > p_.control.mostIterations / 2) arc.size *= 0.75;
      arc_ = arc;
      accept(stride, a, arc_.size);
      stride.attempt = 0;
      if (observer_.stop()) return time_ >= p_.steps.back().end * (1 - 1e-12);
      continue;
    }
    lastTrouble_ = a;
    if (arc.unit > 0 && arc_.unit == 0) arc_.unit = arc.unit, arc_.size = arc.size;
    arc_.size *= p_.control.cut;
    observer_.cut(a.last, sentenceOf(a), stride.size * p_.control.cut);
    if (arc_.size < plan.smallest * std::max(arc_.unit, 1e-300) && arc_.unit > 0) throw diagnosis(s, stride.index, stride.size);
    ++stride.attempt, --stride.index;
    if (stride.attempt > 60) throw diagnosis(s, stride.index + 1, stride.size);
  }
  warnOfStabilisation(plan), warnOfEnergy(plan);
  return true;
}

}  // namespace anvil::analysis
