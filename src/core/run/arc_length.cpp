// Steps along the arc of displacements: past load limits, where neither the load nor a displacement need grow
// (M. Crisfield, Computers & Structures 13, 1981; the constraint on displacements only, its root by the way ahead).
#include <algorithm>
#include <cmath>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/run/run_state.hpp"
#include "core/run/step_drivers.hpp"

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
  assembly_.forgetFactors(true);
  for (auto& b : p_.blocks) b->reject();
  for (auto& s : p_.slender) s.cells->reject();
  const auto fail = [&](Trouble t, const Evaluation& e) {
    return failed(a, t, t == Trouble::inverted ? wherePart(e) : p_.whereIs(a.last.worstNode));
  };
  for (int it = 0;; ++it) {
    stride.at.share = share;
    const auto m = level(stride);
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
    if (assembly_.evaluate(ahead, level(moved), true, false, false, nullptr).inverted) return fail(Trouble::inverted, e);
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
    correction = greatestShift(du);
    ++a.iterations;
    if (std::abs(share) > 1e6) return fail(Trouble::diverged, e);
  }
  const auto e = assembly_.evaluate(trial, level(stride), false, false, false, nullptr);
  if (e.plasticIncrement > p_.control.plasticStrainLimit) return fail(Trouble::plasticStrain, e);
  a.converged = true;
  trial_ = trial;
  return a;
}

bool Run::passes(const StepPlan& plan, const VectorXd& u) const {
  if (plan.untilWatch < 0) return false;
  const auto& watched = p_.watch[size_t(plan.untilWatch)];
  const double start = p_.at(stepStart_, watched)[plan.untilAxis], now = p_.at(u, watched)[plan.untilAxis];
  return (now - plan.untilValue) * (start - plan.untilValue) <= 0 && now != start;
}

class ArcDriver : public StepDriver {
 public:
  ArcDriver(Run& run, const StepPlan& plan, const Restart* resume) : r_(run), plan_(plan) {
    if (!resume) r_.arc_ = {0, plan.first, 0, 0};
  }
  bool done() const override { return r_.time_ >= plan_.end; }  // reached where the share or `until` is, and nowhere else
  bool seeksStability() const override { return false; }
  std::string tooMany() const override {
    return "Its loading has come to " + shortNumber(r_.arc_.share) +
           " of the whole. If the structure never carries the whole load, end the step by \"until\"; else raise \"most\" or "
           "allow larger increments (\"largest\" may be above 1 here).";
  }

  void aim(Stride& stride) override {
    stride.at = Instant(plan_.begin + (plan_.end - plan_.begin) * progress(), plan_);
    stride.size = stride.at.time - r_.time_, stride.ahead = 0;
    if (!(stride.size > 0))
      throw Error("the way along the arc is so long that its increments can no longer be told apart in time",
                  "step '" + plan_.name + "'", "Allow larger increments, or end the step by \"until\".");
  }

  Attempt take(Stride& stride) override {
    tried_ = r_.arc_;
    Attempt a = r_.solveAlongArc(stride, tried_);
    const auto atEnd = [&] { stride.at.time = plan_.end, stride.size = plan_.end - r_.time_; };
    if (a.converged && *stride.at.share >= 1 && r_.arc_.share < 1) {  // land on the whole load
      const VectorXd before = r_.lastChange_;
      const double part = (1 - r_.arc_.share) / (*stride.at.share - r_.arc_.share);
      r_.lastChange_ = r_.trial_ - r_.u_;
      atEnd(), stride.at.share = 1, stride.ahead = part;
      a = r_.solve(stride);
      if (!a.converged) r_.lastChange_ = before;
    } else if (a.converged && r_.passes(plan_, r_.trial_)) {
      atEnd();
    }
    stride.ahead = 0;
    return a;
  }

  double proceed(const Stride& stride, const Attempt& a) override {
    const auto& c = r_.p_.control;
    Arc next = tried_;
    next.share = *stride.at.share, next.travelled += tried_.size;
    // of the loading's own way, or of the way behind where that is longer: a column that has buckled goes a long way
    const double largest = plan_.largest * std::max(next.unit, 0.5 * next.travelled);
    if (a.iterations <= c.easyIterations)
      next.size = std::min(next.size * c.growth, std::max(largest, r_.arc_.size));
    else if (a.iterations > c.mostIterations / 2)
      next.size *= 0.75;
    r_.arc_ = next;
    return next.size;
  }

  std::optional<double> shorten(const Stride& stride, const Attempt&) override {
    auto& arc = r_.arc_;
    if (tried_.unit > 0 && arc.unit == 0) arc.unit = tried_.unit, arc.size = tried_.size;
    arc.size *= r_.p_.control.cutback;
    if (arc.unit > 0 && arc.size < plan_.smallest * arc.unit) return {};
    return stride.size * r_.p_.control.cutback;
  }

 private:
  /// Share of the step's time that counts as done after the next increment. How long the way will be is not known: what lies
  /// ahead is taken as what the loading lacks at the stiffness of the start, and never as less than half of what lies
  /// behind, so that time goes on in steps that can be told however long the way gets.
  double progress() const {
    const auto& arc = r_.arc_;
    const double done = (r_.time_ - plan_.begin) / (plan_.end - plan_.begin);
    if (arc.unit == 0) return done + (1 - done) * arc.size / (1 + arc.size);
    const double rest = std::max({arc.size, 0.5 * arc.travelled, std::abs(1 - arc.share) * arc.unit});
    return done + (1 - done) * arc.size / (arc.size + rest);
  }
  Run& r_;
  const StepPlan& plan_;
  Arc tried_;
};

std::unique_ptr<StepDriver> arcDriver(Run& run, const StepPlan& plan, const Restart* resume) {
  return std::make_unique<ArcDriver>(run, plan, resume);
}

}  // namespace anvil::analysis
