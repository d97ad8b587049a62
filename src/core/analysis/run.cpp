#include "core/analysis/run.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <set>

#include "core/analysis/histories.hpp"
#include "core/base/error.hpp"
#include "core/base/parallel.hpp"
#include "core/base/text.hpp"

namespace anvil::analysis {
namespace {

enum class Trouble { none, inverted, iterations, diverged, plasticStrain, overshoot, singular, notFinite };

struct Attempt {
  bool converged = false, stopped = false;
  Trouble trouble = Trouble::none;
  int iterations = 0;
  IterationReport last;
  std::string where;                 ///< of the trouble, in words
  std::vector<double> residuals;
};

class Run {
public:
  Run(Problem& problem, Observer& observer) : p_(problem), observer_(observer), assembly_(problem) {
    u_ = lastChange_ = released_ = VectorXd::Zero(p_.dofs());
    reaction_ = external_ = u_;
    width_ = p_.dim() == 3 ? p_.sizeScale() : p_.setting.thickness;
    if (p_.setting.space == element::Space::axisymmetric)
      for (const auto& x : p_.mesh.x) width_ = std::max(width_, 2 * std::numbers::pi * x.x());
  }

  Outcome go(const Restart* from) {
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
  const Timing& timing() const { return assembly_.timing; }

private:
  contact::Configuration configuration(const VectorXd& now, const VectorXd& before) const { return {p_.dim(), &p_.mesh.x, &now, &before, &p_.rigid, p_.measure()}; }

  void startContacts() {
    for (auto& pair : p_.pairs) {
      const auto start = pair.measureInitial(configuration(u_, u_));
      if (start.nodes && start.leastGap < 0 && -start.leastGap > std::max(pair.setup().closeWithin, 1e-6 * pair.setup().slave.meanLength) && pair.setup().behaviour == contact::Behaviour::touching)
        observer_.warned("Contact '" + pair.setup().name + "' starts with an overlap of " + shortNumber(-start.leastGap, 4) +
                         " mm; it is resolved " + (resolved(pair) ? "gradually." : "in the first increment."));
    }
  }
  bool resolved(const contact::Pair& pair) const { return p_.contactPlans[size_t(&pair - p_.pairs.data())].resolveStep >= 0; }

  // ---- a step ------------------------------------------------------------------------------------------------------

  bool step(int s, const Restart* resume) {
    const auto& plan = p_.steps[size_t(s)];
    stepStart_ = u_;
    const Constraints constraints(p_, s);
    if (!resume) release(constraints);
    else stepStart_ = resumedStepStart_, released_ = resume->released;
    constraints_ = &constraints;
    assembly_.setConstraints(constraints);
    const double length = plan.end - plan.begin;
    time_ = resume ? resume->time : plan.begin;
    double size = resume && resume->nextSize > 0 ? resume->nextSize : plan.first * length;
    int index = resume ? resume->increment : 0, cuts = 0;
    lastSize_ = 0;
    newStep_ = !resume;
    for (auto& pair : p_.pairs) pair.stiffen();
    while (time_ < plan.end * (1 - 1e-12) - 1e-300) {
      if (index >= plan.most)
        throw Error("the step needs more than " + std::to_string(plan.most) + " increments", "step '" + plan.name + "'", "Raise \"most\" or allow larger increments.");
      const double target = nextTime(plan, size);
      const double taken = target - time_;
      Attempt a = solve(target, taken, s, index + 1, cuts);
      if (a.stopped) return false;
      if (a.converged) {
        const double used = size;
        size = nextSize(a, used, taken, plan, length);
        accept(target, taken, s, ++index, a, cuts, size);
        cuts = 0;
        if (observer_.stop()) return target >= p_.steps.back().end * (1 - 1e-12);
        continue;
      }
      lastTrouble_ = a;
      const double smaller = taken * (a.trouble == Trouble::diverged || a.trouble == Trouble::notFinite ? 0.5 * p_.control.cut : p_.control.cut);
      observer_.cut(a.last, sentenceOf(a), smaller);
      ++cuts;
      if (a.trouble == Trouble::iterations)
        for (auto& pair : p_.pairs) pair.soften();
      if (smaller < plan.smallest * length) throw diagnosis(s, index + 1, taken);
      size = smaller;
    }
    const double inParts = energies_.strain + energies_.plastic;
    if (energies_.stabilisation > 0.02 * std::abs(inParts) && !p_.stabilisations.empty())
      observer_.warned("By the end of step '" + plan.name + "' the stabilisation has taken up " + shortNumber(energies_.stabilisation, 3) + " N mm, " +
                       shortNumber(100 * energies_.stabilisation / std::max(inParts, 1e-300), 2) +
                       " % of the energy in the parts. Check that this is only the way to first touch; else lower its strength.");
    return true;
  }

  /// Reactions of what is let go at the start of the step are kept as forces that fade over the step.
  void release(const Constraints& now) {
    released_.setZero();
    if (!constraintEquations_.empty())
      for (int dof = 0; dof < p_.bodyEnd(); ++dof)
        if (constraintEquations_[size_t(dof)] < 0 && now.equation(dof) >= 0) released_[dof] = reaction_[dof];
    constraintEquations_ = now.equationOfDof();
  }

  /// Increments end where courses have corners.
  double nextTime(const StepPlan& plan, double size) const {
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

  double nextSize(const Attempt& a, double size, double taken, const StepPlan& plan, double length) const {
    const auto& c = p_.control;
    double next = size;
    if (a.iterations <= c.easyIterations) next = std::max(size, taken * c.growth);
    else if (a.iterations > c.mostIterations * 3 / 4) next = size * 0.75;
    return std::min(next, plan.largest * length);
  }

  // ---- an increment ------------------------------------------------------------------------------------------------

  Moment moment(double target, double size, int s) const {
    const auto& plan = p_.steps[size_t(s)];
    Moment m;
    m.time = target, m.size = size, m.step = s, m.stepTime = plan.end - plan.begin;
    m.stepShare = (target - plan.begin) / m.stepTime;
    m.before = &u_, m.releasedForce = released_.isZero(0) ? nullptr : &released_;
    return m;
  }

  void setContacts(double target, int s) {
    for (size_t i = 0; i < p_.pairs.size(); ++i) {
      const auto& plan = p_.contactPlans[i];
      const auto& step = p_.steps[size_t(s)];
      p_.pairs[i].begin();
      p_.pairs[i].setActive(plan.active[size_t(s)]);
      const double share = plan.resolveStep < 0 || s > plan.resolveStep ? 1 : s < plan.resolveStep ? 0 : (target - step.begin) / (step.end - step.begin);
      p_.pairs[i].setInterference(plan.hasInterference ? plan.interference.curve(target) : 0, share);
    }
  }

  Attempt solve(double target, double size, int s, int index, int attempt) {
    Attempt a;
    const auto m = moment(target, size, s);
    setContacts(target, s);
    for (auto& b : p_.blocks) b->reject();
    VectorXd trial = u_;
    // Extrapolation meets continued plastic flow; the plain start answers elastically, which suits a turn of the loading.
    // Repeated attempts take them in turn.
    const bool predict = p_.control.predictor && lastSize_ > 0 && attempt % 2 == 0;
    if (predict) trial += lastChange_ * (size / lastSize_);
    VectorXd local = u_;
    constraints_->toLocal(local);
    VectorXd wanted = local;
    constraints_->prescribe(target, stepStart_, wanted);
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
    int settledFor = 0;
    for (int it = 0;; ++it) {
      const bool start = it == 0;
      auto e = assembly_.evaluate(trial, m, true, true, start && elastic, start && !predict ? &pull : nullptr);
      if (e.inverted) return failed(a, Trouble::inverted, "the element " + std::to_string(e.invertedCell + 1) + " of " + wherePart(e));
      const VectorXd& r = assembly_.residual();
      report(a, r, e, correction, target, size, s, index, it, attempt, trial);
      settledFor = e.contact.changes ? 0 : settledFor + 1;
      if (!std::isfinite(a.last.force)) return failed(a, Trouble::notFinite, "");
      if (it > 0) a.residuals.push_back(a.last.force / std::max(a.last.forceLimit, 1e-300));
      if (it > 0 && overshot(e)) return failed(a, Trouble::overshoot, pairName(e));
      if (isDone(a, e, it, predict)) break;
      if (it >= p_.control.mostIterations) return failed(a, Trouble::iterations, settledFor < 2 ? pairName(e) : p_.whereIs(a.last.worstNode));
      if (it == 1) firstResidual = a.last.force;
      if (it > 5 && settledFor > 3 && a.last.force > 1e4 * std::max(firstResidual, a.last.forceLimit)) return failed(a, Trouble::diverged, p_.whereIs(a.last.worstNode));
      if (observer_.stop()) {
        a.stopped = true;
        return a;
      }
      VectorXd du = correctionOf(start && !predict ? pull : VectorXd::Zero(p_.dofs()));
      if (!checkPivots(a, s)) return a;
      if (!du.allFinite()) return failed(a, Trouble::notFinite, "");
      const double taken = searchAlong(trial, du, m, it);
      correction = du.head(p_.nodeDofs()).cwiseAbs().maxCoeff() * taken;
      ++a.iterations;
    }
    auto e = assembly_.evaluate(trial, m, false, false, false, nullptr);
    if (e.plasticIncrement > p_.control.plasticStrainLimit) return failed(a, Trouble::plasticStrain, shortNumber(e.plasticIncrement, 3));
    a.converged = true;
    trial_ = trial;
    return a;
  }

  /// Full correction (all dofs, global components) from the solved equations and the prescribed part.
  VectorXd correctionOf(const VectorXd& prescribed) {
    const VectorXd x = assembly_.solve();
    VectorXd du = prescribed;
    for (int dof = 0; dof < p_.dofs(); ++dof)
      if (const int eq = constraints_->equation(dof); eq >= 0) du[dof] = x[eq];
    localCorrection_ = du;
    constraints_->toGlobal(du);
    for (auto& pair : p_.pairs) pair.solveMultipliers(du);
    return du;
  }

  /// Takes the correction, shortened where neither the residual nor its work along the correction falls
  /// (after H. Matthies, G. Strang, IJNME 14, 1979; few trials, since friction has no potential to descend).
  double searchAlong(VectorXd& trial, const VectorXd& du, const Moment& m, int it) {
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

  /// Moments are measured by the forces they are at the body's size.
  double lever(int dof) const { return p_.isTurn(dof) ? p_.bodies[size_t(p_.bodyOf(dof))].lever : 1; }

  bool overshot(const Evaluation& e) const { return e.contact.leastGap < -0.6; }

  bool isDone(const Attempt& a, const Evaluation& e, int it, bool predicted) const {
    if (it == 0 && !predicted) return false;
    if (it < p_.control.fewestIterations) return false;
    const auto& l = a.last;
    if (e.contact.changes) return false;
    double h = 1e300;
    for (const auto& pair : p_.pairs) h = std::min(h, pair.setup().slave.meanLength);
    if (!p_.pairs.empty() && e.contact.gapError > 1e-6 * h) return false;
    if (l.force > l.forceLimit) return false;
    return l.correction <= l.correctionLimit || l.force <= 0.01 * l.forceLimit || it == 0;
  }

  void report(Attempt& a, const VectorXd& r, const Evaluation& e, double correction, double target, double size, int s, int index, int it, int attempt, const VectorXd& trial) {
    auto& l = a.last;
    l = {s, index, it, attempt, target, size, 0, 0, correction, 0, e.contact.changes, e.contact.active, e.contact.gapError, -1};
    for (int dof = 0; dof < p_.dofs(); ++dof)
      if (constraints_->equation(dof) >= 0 && !(std::abs(r[dof]) / lever(dof) <= l.force)) {
        l.force = std::abs(r[dof]) / lever(dof);
        l.worstNode = dof < p_.nodeDofs() ? dof / p_.dim() : -1;
      }
    currentAverage_ = std::max(e.averageForce, runningAverage_);
    // rounding of the displacement gradient leaves forces of this size in a body that only moves
    double floor = 2e-15 * p_.youngScale * width_ * (1e-3 + trial.head(p_.nodeDofs()).cwiseAbs().maxCoeff());
    // and of the places that carriers compare
    for (const auto& carrier : p_.carriers) floor = std::max(floor, 4e-15 * carrier.scale * (carrier.centre.norm() + p_.bodies[size_t(carrier.body)].lever));
    l.forceLimit = std::max(p_.control.forceTolerance * currentAverage_, floor);
    const double change = (trial - u_).head(p_.nodeDofs()).cwiseAbs().maxCoeff();
    l.correctionLimit = p_.control.correctionTolerance * change;
    if (it > 0 || a.iterations > 0) observer_.iterated(l);
  }

  bool checkPivots(Attempt& a, int s) {
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
    if (s == 0 && time_ == 0 && a.iterations == 0) {
      std::vector<std::string> words;
      for (const auto& [part, axes] : freeParts) words.push_back("part '" + part + "' can move or turn freely (seen along " + inProse({axes.begin(), axes.end()}) + ")");
      for (const auto& body : freeBodies) words.push_back("'" + body + "' can move or turn freely");
      throw Error(words.empty() ? "a body can move freely" : inProse(words), "step '" + p_.steps[size_t(s)].name + "'",
                  "Add a support or a symmetry plane, close the gap to what holds it (\"start\": {\"close within\": …}), or add a stabilisation for the part.");
    }
    failed(a, Trouble::singular, freeParts.empty() ? "" : "part '" + freeParts.begin()->first + "'");
    return false;
  }

  Attempt failed(Attempt& a, Trouble t, const std::string& where) {
    a.trouble = t, a.where = where;
    return a;
  }

  // ---- acceptance --------------------------------------------------------------------------------------------------

  void accept(double target, double size, int s, int index, const Attempt& a, int cuts, double nextSizeValue) {
    VectorXd reaction = assembly_.residual();
    for (int dof = 0; dof < p_.dofs(); ++dof)
      if (constraints_->equation(dof) >= 0) reaction[dof] = 0;
    constraints_->toGlobal(reaction);
    const VectorXd change = trial_ - u_;
    const VectorXd applied = assembly_.external();
    energies_.external += 0.5 * change.dot(applied + external_ + reaction + reaction_);
    energies_.stabilisation += change.dot(assembly_.viscous());

    Increment inc;
    inc.step = s, inc.index = index, inc.iterations = a.iterations, inc.cuts = cuts, inc.time = target, inc.size = size;
    inc.residuals = a.residuals;
    const auto c = configuration(trial_, u_);
    collectPoints(inc);
    for (auto& pair : p_.pairs) {
      const auto r = pair.resultant(c);
      energies_.friction += r.slipWork, energies_.external += r.overlapWork;
    }
    energies_.springs = 0;
    for (const auto& spring : p_.springs) {
      const double e = springExtension(p_, spring, trial_), travelled = e - springExtension(p_, spring, u_);
      energies_.springs += springLaw(spring.force, e).energy;
      energies_.dashpots += spring.damping * travelled * travelled / size;
    }
    inc.histories = historyRow(p_, trial_, reaction, c, energies_, s, target);
    double greatest = 0;
    for (const auto& point : inc.points) greatest = std::max(greatest, point.equivalentPlastic);
    inc.histories.push_back(greatest);
    for (auto& b : p_.blocks) b->accept();
    for (auto& pair : p_.pairs) {
      pair.accept();
      inc.contacts.push_back({pair.states(), pair.gaps(), pair.slips()});
    }
    u_ = trial_, reaction_ = reaction, external_ = applied;
    lastChange_ = change, lastSize_ = size, time_ = target, newStep_ = false;
    runningAverage_ = std::max(0.5 * runningAverage_, currentAverage_);
    inc.displacement = u_, inc.reaction = reaction;
    shortenTurns();
    fillRestart(inc.restart, s, index, nextSizeValue);
    observer_.converged(inc);
  }

  /// Rotation vectors of freely turning bodies are kept shorter than π: beyond 2π they would lose a direction. The same
  /// rotation, written θ (1 - 2π/|θ|).
  void shortenTurns() {
    for (int b = 0; p_.dim() == 3 && b < int(p_.bodies.size()); ++b) {
      const int first = p_.rigidDof(b, 3);
      bool isFree = true;
      for (int k = 0; k < 3; ++k) isFree = isFree && constraints_->equation(first + k) >= 0;
      const double angle = u_.segment<3>(first).norm();
      if (!isFree || angle < 1.1 * std::numbers::pi) continue;
      const double factor = 1 - 2 * std::numbers::pi / angle;
      u_.segment<3>(first) *= factor, lastChange_.segment<3>(first) *= -1;
      lastSize_ = 0;   // the course of this vector breaks off
    }
  }

  void collectPoints(Increment& inc) {
    size_t total = 0;
    std::vector<size_t> start;
    for (const auto& b : p_.blocks) start.push_back(total), total += b->cells().count() * size_t(mesh::info(b->cells().type).points);
    inc.points.resize(total);
    for (size_t i = 0; i < p_.blocks.size(); ++i) {
      const auto& b = *p_.blocks[i];
      const auto points = size_t(mesh::info(b.cells().type).points);
      forEach(b.cells().count(), [&](size_t cell) {
        Eigen::Matrix<double, element::mostDofs, 1> ue;
        const int dim = p_.dim();
        for (int k = 0; k < b.dofs() / dim; ++k) ue.segment(dim * k, dim) = trial_.segment(dim * b.cells().cell(cell)[k], dim);
        b.output(cell, ue.data(), inc.points.data() + start[i] + cell * points);
      });
    }
    energies_.strain = energies_.plastic = 0;
    for (const auto& point : inc.points) energies_.strain += point.strainEnergy * point.volume, energies_.plastic += point.plasticWork * point.volume;
  }

  void fillRestart(Restart& r, int s, int index, double next) const {
    r.step = s, r.increment = index, r.time = time_, r.nextSize = next, r.averageForce = runningAverage_;
    r.displacement = u_, r.lastChange = stepStart_, r.released = released_;
    for (const auto& b : p_.blocks) r.blockStates.push_back(b->state());
    for (const auto& pair : p_.pairs) r.pairStates.push_back(pair.save());
    r.energies = {energies_.external, energies_.strain, energies_.plastic, energies_.friction, energies_.stabilisation, energies_.springs, energies_.dashpots};
    r.energies.insert(r.energies.end(), reaction_.begin(), reaction_.end());
    r.energies.insert(r.energies.end(), external_.begin(), external_.end());
  }

  void restore(const Restart& r) {
    if (r.displacement.size() != p_.dofs() || r.blockStates.size() != p_.blocks.size() || r.pairStates.size() != p_.pairs.size() ||
        r.energies.size() != 7 + 2 * size_t(p_.dofs()) || r.step >= int(p_.steps.size()))
      throw Error("the stored run does not fit this model", "continue", "Only values may differ from the stored run, not shapes, meshes or contacts. Run from the start.");
    u_ = r.displacement, resumedStepStart_ = r.lastChange, runningAverage_ = r.averageForce, time_ = r.time;
    for (size_t i = 0; i < p_.blocks.size(); ++i) p_.blocks[i]->setState(r.blockStates[i]);
    for (size_t i = 0; i < p_.pairs.size(); ++i) p_.pairs[i].restore(r.pairStates[i]);
    energies_ = {r.energies[0], r.energies[1], r.energies[2], r.energies[3], r.energies[4], r.energies[5], r.energies[6]};
    reaction_ = Eigen::Map<const VectorXd>(r.energies.data() + 7, p_.dofs());
    external_ = Eigen::Map<const VectorXd>(r.energies.data() + 7 + p_.dofs(), p_.dofs());
    if (r.step < int(p_.steps.size())) constraintEquations_ = Constraints(p_, r.step).equationOfDof();
  }

  // ---- words -------------------------------------------------------------------------------------------------------

  std::string wherePart(const Evaluation& e) const {
    const auto& cells = p_.blocks[size_t(e.invertedBlock)]->cells();
    return p_.whereIs(cells.cell(size_t(e.invertedCell))[0]);
  }
  std::string pairName(const Evaluation& e) const { return e.worstPair < 0 ? "" : "contact '" + p_.pairs[size_t(e.worstPair)].setup().name + "'"; }

  std::string sentenceOf(const Attempt& a) const {
    switch (a.trouble) {
      case Trouble::inverted: return "An element turned inside out: " + a.where + ".";
      case Trouble::iterations: return "No balance after " + std::to_string(a.iterations) + " iterations; the worst is at " + a.where + ".";
      case Trouble::diverged: return "The residual grew; the worst is at " + a.where + ".";
      case Trouble::plasticStrain: return "A plastic strain increment of " + a.where + " is over the limit.";
      case Trouble::overshoot: return "A body went too deep into another at " + a.where + ".";
      case Trouble::singular: return "The stiffness vanished at " + (a.where.empty() ? "some place" : a.where) + ": a body came loose or a limit load was reached.";
      case Trouble::notFinite: return "The correction was not a finite number.";
      default: return "";
    }
  }

  Error diagnosis(int s, int index, double size) const {
    const auto& a = lastTrouble_;
    std::string remedy;
    switch (a.trouble) {
      case Trouble::inverted: remedy = "Try a finer or better graded mesh there, quad4 elements, then smaller increments; check that loads are not too large."; break;
      case Trouble::overshoot: remedy = "Try smaller increments where contact starts, a larger contact search distance, then check the motion's size."; break;
      case Trouble::singular: remedy = "Check what holds the part once contact opens; add a stabilisation; if the load exceeds what yielding sections carry, drive it by a motion instead of a force."; break;
      case Trouble::plasticStrain: remedy = "Allow a larger \"plastic strain limit\" or smaller increments; a perfectly plastic part may have reached its limit load."; break;
      default:
        remedy = p_.pairs.empty() ? "The load may exceed what the part can carry: drive it by a motion instead of a force. Then try smaller increments and a finer mesh."
                                  : "Try smaller increments, a finer mesh on the contact surfaces, and stabilisation for parts held only by contact; the load may also exceed what the parts can carry.";
    }
    return Error("increment " + std::to_string(index) + " at time " + shortNumber(time_) + " s could not be solved, down to a size of " + shortNumber(size, 3) + " s. " +
                     sentenceOf(a) + " Everything up to this time is kept",
                 "step '" + p_.steps[size_t(s)].name + "'", remedy);
  }

  Problem& p_;
  Observer& observer_;
  Assembly assembly_;
  const Constraints* constraints_ = nullptr;
  VectorXd u_, trial_, lastChange_, stepStart_, resumedStepStart_, released_, reaction_, external_, localCorrection_;
  std::vector<int> constraintEquations_;
  Energies energies_;
  double width_ = 1;   ///< thickness, or the longest circumference
  double time_ = 0, lastSize_ = 0, runningAverage_ = 0, currentAverage_ = 0;
  bool newStep_ = true;
  Attempt lastTrouble_;
};

}  // namespace

Outcome run(Problem& problem, Observer& observer, const Restart* from, Timing* timing) {
  Run run(problem, observer);
  const Outcome outcome = run.go(from);
  if (timing) *timing = run.timing();
  return outcome;
}

}  // namespace anvil::analysis
