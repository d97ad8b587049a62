// Steps whose loading rises with time.
#include <algorithm>
#include <cmath>

#include "core/run/run_state.hpp"
#include "core/run/step_drivers.hpp"

namespace anvil::analysis {

class RampDriver : public StepDriver {
 public:
  RampDriver(Run& run, const StepPlan& plan, const Restart* resume)
      : r_(run),
        plan_(plan),
        length_(plan.end - plan.begin),
        size_(resume && resume->nextSize > 0 ? resume->nextSize : plan.first * length_) {
    if (!resume) r_.habits_.failedSize = r_.habits_.mostSize = r_.habits_.plasticRate = 0;
  }
  bool done() const override { return r_.time_ >= plan_.end * (1 - 1e-12) - 1e-300; }
  bool seeksStability() const override { return true; }
  void setSize(double size) override { size_ = size; }

  void aim(Stride& stride) override {
    stride.at = Instant(nextTime(), plan_);
    stride.size = stride.at.time - r_.time_;
    // Extrapolation meets continued plastic flow; the plain start answers elastically, which suits a turn of the loading.
    // Repeated attempts take them in turn, with contact both (solve); where one balanced and only strained too much, a part of it
    // is near the answer.
    const double size = r_.course().size;
    const bool goesOn = stride.attempt % 2 == 0 || r_.tooFarSize_ > 0 || !r_.p_.pairs.empty();
    stride.ahead = r_.p_.control.predictor && size > 0 && goesOn ? stride.size / size : 0;
    r_.stopAtTouch(stride);
  }

  Attempt take(Stride& stride) override { return r_.solve(stride); }

  double proceed(const Stride& stride, const Attempt& a) override {
    const auto& c = r_.p_.control;
    if (a.jumped) r_.habits_.failedSize = r_.habits_.mostSize = 0;           // what comes has its own difficulties
    double next = a.soughtStable ? std::max(size_, r_.soughtFrom_) : size_;  // on as before the search
    if (a.iterations - std::min(a.settling, 2) <= c.easyIterations)
      next = std::max(next, stride.size * c.growth);
    else if (a.iterations > c.mostIterations * 3 / 4)
      next = std::min(next, size_ * 0.75);
    // meets the limit before it is broken, also where flow gathers at a place
    const double rate = a.plasticIncrement / stride.size, before = r_.habits_.plasticRate;
    const double gathers = before > 0 ? std::clamp(rate / before, 1., 1.5) : 1;
    if (rate > 0) next = std::min(next, std::max(0.92 * c.plasticStrainLimit / (rate * gathers), 0.2 * stride.size));
    r_.habits_.plasticRate = rate;
    if (auto& most = r_.habits_.mostSize; most > 0) next = std::min(next, most *= 1.1);
    return size_ = std::min(next, plan_.largest * length_);
  }

  std::optional<double> shorten(const Stride& stride, const Attempt& a) override {
    const auto& c = r_.p_.control;
    if (a.trouble != Trouble::plasticStrain && a.trouble != Trouble::unstable) {  // a failure costs as much as several increments
      if (stride.size < 2 * r_.habits_.failedSize) r_.habits_.mostSize = 0.7 * stride.size;
      r_.habits_.failedSize = stride.size;
    }
    if (a.trouble != Trouble::plasticStrain) r_.tooFarSize_ = 0;
    if (a.trouble == Trouble::plasticStrain)
      size_ = stride.size * std::clamp(0.8 * c.plasticStrainLimit / a.plasticIncrement, 0.05, 0.8);
    else
      size_ = stride.size * (a.trouble == Trouble::diverged || a.trouble == Trouble::notFinite ? 0.5 * c.cutback : c.cutback);
    if (size_ < plan_.smallest * length_) return {};
    return size_;
  }

 private:
  double nextTime() const;
  Run& r_;
  const StepPlan& plan_;
  double length_, size_;
};

std::unique_ptr<StepDriver> rampDriver(Run& run, const StepPlan& plan, const Restart* resume) {
  return std::make_unique<RampDriver>(run, plan, resume);
}

/// Increments end where courses have corners and where results are asked for.
double RampDriver::nextTime() const {
  double target = std::min(r_.time_ + size_, plan_.end);
  if (plan_.end - target < 0.02 * (target - r_.time_)) target = plan_.end;  // no sliver at the end
  const auto stop = [&](const std::vector<double>& times) {
    for (double t : times)
      if (t > r_.time_ + 1e-9 * length_ && t < target) target = t;
  };
  for (const auto& m : r_.p_.motions) stop(m.course.curve.x);
  for (const auto& l : r_.p_.loads) stop(l.course.curve.x);
  for (const auto& t : r_.p_.temperatures) stop(t.rise.curve.x);
  stop(plan_.stops);
  return target;
}

double Run::furthestTravel(const VectorXd& from, const VectorXd& to) const {
  double most = 0;
  for (int n = 0; n < p_.nodeCount(); ++n) most = std::max(most, (p_.at(to, n) - p_.at(from, n)).norm());
  for (int b = 0; b < int(p_.bodies.size()); ++b) {
    if (p_.isNodeBody(b)) continue;  // its node is counted
    most = std::max(most, (p_.shiftOf(to, b) - p_.shiftOf(from, b)).norm() +
                              p_.bodies[size_t(b)].lever * (p_.turnOf(to, b) - p_.turnOf(from, b)).norm());
  }
  return most;
}

int Run::passedThrough(const VectorXd& end) {
  const double way = furthestTravel(u_, end);
  for (size_t i = 0; i < p_.pairs.size(); ++i) {
    if (p_.pairs[i].wentThrough(configuration(end, u_))) return int(i);
    const int pieces = int(std::min(200., std::ceil(2 * way / p_.pairs[i].setup().reach)));
    for (int k = 1; k < pieces && pieces > 2; ++k) {
      const VectorXd there = u_ + double(k) / pieces * (end - u_);
      if (p_.pairs[i].goesThrough(configuration(there, u_))) return int(i);
    }
  }
  return -1;
}

void Run::stopAtTouch(Stride& stride) {
  constexpr double depth = 0.3;  // of the edge length: less is no harm
  double shortest = 1e300;
  for (const auto& pair : p_.pairs)
    for (double length : pair.setup().slave.cornerLength) shortest = std::min(shortest, length);
  if (p_.pairs.empty()) return;
  VectorXd there = u_;
  if (stride.ahead != 0) there += course().change * stride.ahead;
  impose(stride.at, there);
  if (2 * furthestTravel(u_, there) < depth * shortest) return;  // nothing comes that deep
  setContacts(stride);
  double share = 1;
  for (auto& pair : p_.pairs) share = std::min(share, pair.shareToTouch(configuration(there, u_), depth));
  if (share >= 1) return;
  share = std::clamp(share + 0.02, 0.1, 1.);
  stride.at.time = time_ + share * stride.size, stride.size *= share, stride.ahead *= share;
}

}  // namespace anvil::analysis
