// What a converged increment leaves: state, results, restart.
#include <algorithm>
#include <cmath>
#include <filesystem>
#include <numbers>

#include "core/base/error.hpp"
#include "core/base/parallel.hpp"
#include "core/base/text.hpp"
#include "core/run/balance.hpp"
#include "core/run/bolt_parts.hpp"
#include "core/run/carrier_parts.hpp"
#include "core/run/hinges.hpp"
#include "core/run/run_state.hpp"

namespace anvil::analysis {

void Run::accept(const Stride& stride, const Attempt& a, double nextSize) {
  VectorXd reaction = assembly_.residual();
  for (int dof = 0; dof < p_.dofs(); ++dof)
    if (constraints_->equation(dof) >= 0) reaction[dof] = 0;
  constraints_->toGlobal(reaction);
  reaction += hingeForces(p_, constraints_->hinges(), trial_);
  const VectorXd change = trial_ - u_;
  const VectorXd applied = assembly_.external();
  const double workBefore = energies_.balance();
  energies_.external += 0.5 * change.dot(applied + external_ + reaction + reaction_);
  const double calmed = change.dot(assembly_.viscous()), before = energies_.strain + energies_.plastic;
  energies_.stabilisation += calmed;

  Increment inc;
  inc.step = stride.step, inc.index = stride.index, inc.iterations = a.iterations, inc.cutbacks = stride.attempt,
  inc.time = stride.at.time, inc.size = stride.size;
  inc.residuals = a.residuals;
  const auto c = configuration(trial_, u_);
  collectPoints(inc);
  for (auto& pair : p_.pairs) {
    const auto r = pair.resultant(c);
    energies_.friction += r.slipWork, energies_.external += r.overlapWork;
    energies_.strain += r.unresolvedEnergy;
  }
  for (const auto& bolt : p_.bolts) {
    const int length = bolt.shortening(), force = bolt.force();
    energies_.external += 0.5 * bolt.scale * (trial_[force] + u_[force]) * change[length];
  }
  if (calmed > 0) spareStabilisation(calmed, energies_.strain + energies_.plastic - before);
  energies_.springs = 0;
  for (const auto& bolt : p_.bolts)
    if (bolt.beam) energies_.springs += beamEnergy(p_, bolt, trial_);
  for (const auto& spring : p_.springs) {
    const double e = springExtension(p_, spring, trial_), travelled = e - springExtension(p_, spring, u_);
    energies_.springs += springLaw(spring.force, e).energy;
    energies_.dashpots += spring.damping * travelled * travelled / stride.size;
  }
  inc.histories = historyRow(p_, *constraints_, trial_, reaction, c, energies_, stride.step, stride.at);
  if (a.jumped) jumpWork_ += energies_.balance() - workBefore;  // what sets a real structure swinging
  // against what forces were, and against their rounding: what is nothing but noise is not out of balance
  const double noise = assembly_.noise(trial_).sum();
  Balance least;
  least.forces = std::max(forcesSeen_.forces, 1e3 * noise), least.moments = std::max(forcesSeen_.moments, 1e3 * noise * reach_);
  VectorXd given = applied + reaction - assembly_.viscous();
  for (auto& pair : p_.pairs)  // what the rest of a whole brings to its sector
    if (pair.setup().image && pair.active())
      for (const auto& part : pair.forces(c))
        for (size_t i = 0; i < part.dofs.size(); ++i) given[part.dofs[i]] -= part.force[Eigen::Index(i)];
  const auto balance = balanceOf(p_, trial_, u_, stride.size, given, least);
  forcesSeen_.forces = std::max(forcesSeen_.forces, balance.forces),
  forcesSeen_.moments = std::max(forcesSeen_.moments, balance.moments);
  noiseWork_ += noise * change.head(p_.nodeDofs()).cwiseAbs().maxCoeff();
  inc.histories.insert(inc.histories.end(), {balance.force, balance.moment});
  if (std::max(balance.force, balance.moment) > 1e-3 && !warnedOfBalance_) {
    warnedOfBalance_ = true;
    observer_.warned(
        "At time " + shortNumber(stride.at.time) + " s the " + (balance.force > 1e-3 ? "forces" : "moments") +
        " from outside do not cancel: " + shortNumber(100 * std::max(balance.force, balance.moment), 2) +
        " % of their sum is left. Tighten the force tolerance; where contact is loose or slides far, refine its mesh.");
  }
  energySeen_ = std::max(energySeen_, std::abs(energies_.strain) + energies_.plastic + energies_.friction +
                                          energies_.stabilisation + energies_.springs);
  double greatest = 0;
  for (const auto& point : inc.points) greatest = std::max(greatest, point.equivalentPlastic);
  for (const auto& cell : inc.slender)
    for (const auto& end : cell) greatest = std::max(greatest, end.plastic);
  inc.histories.push_back(greatest);
  for (auto& b : p_.blocks) b->accept();
  for (auto& s : p_.slender) s.cells->accept();
  for (auto& pair : p_.pairs) {
    pair.accept();
    inc.contacts.push_back({pair.shown(), pair.shownOpposite()});
  }
  u_ = trial_, reaction_ = reaction, external_ = applied;
  lastChange_ = change, lastSize_ = stride.size, time_ = stride.at.time, newStep_ = false, tooFarSize_ = 0;
  runningAverage_ = std::max(0.5 * runningAverage_, currentAverage_);
  inc.displacement = u_, inc.reaction = reaction;
  shortenTurns();
  fillRestart(inc.restart, stride.step, stride.index, nextSize);
  watchStability(stride.at.time);
  observer_.converged(inc);
}

void Run::warnOfDisk() {
  const auto folder = assembly_.factorsOnDisk();
  if (warnedOfDisk_ || folder.empty()) return;
  warnedOfDisk_ = true;
  observer_.warned("The factors of the " + std::to_string(assembly_.pattern().size()) +
                   " equations do not fit into the memory that is free and lie on disk, in " +
                   std::filesystem::path(folder).parent_path().string() +
                   ": iterations take longer. A coarser mesh, a symmetry plane, or more memory avoids it.");
}

/// At the end of a step: does the work put in turn up again?
void Run::warnOfEnergy(const StepPlan& plan) {
  const double put = std::max(std::abs(energies_.external), energySeen_), found = std::abs(energies_.strain) + energies_.plastic +
                                                                                  energies_.friction + energies_.stabilisation +
                                                                                  std::abs(energies_.thermal);
  const double left = std::abs(energies_.balance() - jumpWork_);
  if (left <= 0.03 * std::max(put, found) || left <= 10 * noiseWork_) return;
  observer_.warned("By the end of step '" + plan.name + "' " + shortNumber(100 * left / std::max(put, found), 2) +
                   " % of the work put in (" + shortNumber(put, 4) +
                   " N mm) is not found again as strain energy, plastic work or friction. Work is added up from increment to "
                   "increment: take smaller ones (\"largest\") and see whether it shrinks.");
}

void Run::shortenTurns() {
  for (int b = 0; p_.dim() == 3 && b < int(p_.bodies.size()); ++b) {
    const int first = p_.rigidDof(b, 3);
    bool isFree = true;
    for (int k = 0; k < 3; ++k) isFree = isFree && constraints_->equation(first + k) >= 0;
    const double angle = u_.segment<3>(first).norm();
    if (!isFree || angle < 1.1 * std::numbers::pi) continue;
    const double factor = 1 - 2 * std::numbers::pi / angle;
    u_.segment<3>(first) *= factor, lastChange_.segment<3>(first) *= -1;
    lastSize_ = 0;  // the course of this vector breaks off
  }
}

void Run::collectPoints(Increment& inc) {
  size_t total = 0;
  std::vector<size_t> start;
  for (const auto& b : p_.blocks) start.push_back(total), total += b->cells().count() * size_t(b->cells().points());
  inc.points.resize(total);
  for (size_t i = 0; i < p_.blocks.size(); ++i) {
    const auto& b = *p_.blocks[i];
    const auto points = size_t(b.cells().points());
    forEach(b.cells().count(), [&](size_t cell) {
      Eigen::Matrix<double, element::mostDofs, 1> ue;
      const int dim = p_.dim();
      for (int k = 0; k < b.dofs() / dim; ++k) ue.segment(dim * k, dim) = trial_.segment(dim * b.cells().cell(cell)[k], dim);
      b.output(cell, ue.data(), inc.points.data() + start[i] + cell * points);
    });
  }
  energies_.strain = energies_.plastic = 0;
  for (const auto& point : inc.points)
    energies_.strain += point.strainEnergy * point.volume, energies_.plastic += point.plasticWork * point.volume;
  for (const auto& s : p_.slender)
    for (size_t c = 0; c < s.cells->count(); ++c) {
      double elastic, plastic;
      s.cells->energies(c, elastic, plastic);
      energies_.strain += elastic, energies_.plastic += plastic;
      s.cells->output(c, &inc.slender.emplace_back().front());
    }
  if (p_.temperatures.empty()) return;
  std::vector<double> trace;
  for (size_t i = 0, at = 0; i < p_.blocks.size(); ++i) {
    const double strain = p_.blocks[i]->points().thermalStrain(),
                 change = strain - (thermalStrain_.empty() ? 0 : thermalStrain_[i]);
    const size_t end = i + 1 < p_.blocks.size() ? start[i + 1] : total;
    for (; at < end; ++at) {
      const auto& point = inc.points[at];
      energies_.thermal += change * point.volume * (point.kirchhoffTrace + (trace_.empty() ? 0 : trace_[at])) / 2;
      trace.push_back(point.kirchhoffTrace);
    }
  }
  size_t cell = 0;
  for (size_t i = 0; i < p_.slender.size(); ++i) {  // normal force times length, of every line
    const auto& cells = *p_.slender[i].cells;
    double force = 0;
    for (size_t c = 0; c < cells.count(); ++c) force += inc.slender[cell++].front().normal * cells.length(c);
    const double before = thermalStrain_.empty() ? 0 : thermalStrain_[p_.blocks.size() + i];
    energies_.thermal += (cells.thermalStrain() - before) * (force + (trace_.empty() ? 0 : trace_[total + i])) / 2;
    trace.push_back(force);
  }
  trace_ = std::move(trace);
  thermalStrain_.clear();
  for (const auto& b : p_.blocks) thermalStrain_.push_back(b->points().thermalStrain());
  for (const auto& s : p_.slender) thermalStrain_.push_back(s.cells->thermalStrain());
}

void Run::fillRestart(Restart& r, int s, int index, double next) const {
  r.step = s, r.increment = index, r.time = time_, r.nextSize = next, r.averageForce = runningAverage_;
  r.displacement = u_, r.stepStart = stepStart_, r.lastSize = lastSize_, r.released = released_, r.travelled = lastChange_;
  r.habits = habits_;
  r.share = arc_.share, r.arcUnit = arc_.unit, r.arcTravelled = arc_.travelled;
  for (const auto& b : p_.blocks) r.blockStates.push_back(b->state());
  for (const auto& s : p_.slender) r.blockStates.push_back(s.cells->state());
  for (const auto& pair : p_.pairs) r.pairStates.push_back(pair.save());
  r.energies = {energies_.external,      energies_.strain,    energies_.plastic,  energies_.friction,
                energies_.stabilisation, energies_.springs,   energies_.dashpots, energies_.thermal,
                forcesSeen_.forces,      forcesSeen_.moments, energySeen_,        noiseWork_,
                double(unstable_),       unstableSince_,      double(ofTheMesh_), jumpWork_};
  r.energies.insert(r.energies.end(), reaction_.begin(), reaction_.end());
  r.energies.insert(r.energies.end(), external_.begin(), external_.end());
  for (const auto* list : {&thermalStrain_, &trace_}) r.energies.insert(r.energies.end(), list->begin(), list->end());
}

namespace {

constexpr std::ptrdiff_t scalars = 16;  // of a restart's energies, before the reactions; see fillRestart

size_t thermalCount(const Problem& p) {
  size_t count = 0;
  if (!p.temperatures.empty())
    for (const auto& b : p.blocks) count += 1 + b->cells().count() * size_t(b->cells().points());
  if (!p.temperatures.empty()) count += 2 * p.slender.size();
  return count;
}

}  // namespace

void requireFit(const Problem& p, const Restart& r) {
  bool fits = r.displacement.size() == p.dofs() && r.stepStart.size() == p.dofs() &&
              r.blockStates.size() == p.blocks.size() + p.slender.size() && r.pairStates.size() == p.pairs.size() &&
              r.step >= 0 && r.step < int(p.steps.size()) &&
              r.energies.size() == size_t(scalars) + 2 * size_t(p.dofs()) + thermalCount(p);
  for (size_t i = 0; fits && i < p.blocks.size(); ++i) fits = r.blockStates[i].size() == p.blocks[i]->state().size();
  for (size_t i = 0; fits && i < p.slender.size(); ++i)
    fits = r.blockStates[p.blocks.size() + i].size() == p.slender[i].cells->state().size();
  for (size_t i = 0; fits && i < p.pairs.size(); ++i) fits = r.pairStates[i].size() == p.pairs[i].save().size();
  if (!fits) throw Error("the stored run does not fit this model", "continue", "Run from the start.");
}

void Run::restore(const Restart& r) {
  requireFit(p_, r);
  u_ = r.displacement, resumedStepStart_ = r.stepStart, runningAverage_ = r.averageForce, time_ = r.time,
  lastChange_ = r.travelled;
  habits_ = r.habits;
  arc_ = {r.share, r.nextSize, r.arcUnit, r.arcTravelled};
  for (size_t i = 0; i < p_.blocks.size(); ++i) p_.blocks[i]->setState(r.blockStates[i]);
  for (size_t i = 0; i < p_.slender.size(); ++i) p_.slender[i].cells->setState(r.blockStates[p_.blocks.size() + i]);
  for (size_t i = 0; i < p_.pairs.size(); ++i) p_.pairs[i].restore(r.pairStates[i]);
  forcesSeen_.forces = r.energies[8], forcesSeen_.moments = r.energies[9], energySeen_ = r.energies[10],
  noiseWork_ = r.energies[11];
  unstable_ = r.energies[12] != 0, unstableSince_ = r.energies[13], ofTheMesh_ = r.energies[14] != 0, jumpWork_ = r.energies[15];
  energies_ = {r.energies[0], r.energies[1], r.energies[2], r.energies[3],
               r.energies[4], r.energies[5], r.energies[6], r.energies[7]};
  reaction_ = Eigen::Map<const VectorXd>(r.energies.data() + scalars, p_.dofs());
  external_ = Eigen::Map<const VectorXd>(r.energies.data() + scalars + p_.dofs(), p_.dofs());
  if (thermalCount(p_) > 0) {
    const auto strains = r.energies.begin() + scalars + 2 * p_.dofs(),
               traces = strains + std::ptrdiff_t(p_.blocks.size() + p_.slender.size());
    thermalStrain_.assign(strains, traces), trace_.assign(traces, r.energies.end());
  }
  if (r.step < int(p_.steps.size())) {
    const Constraints then(p_, r.step);
    constraintEquations_ = then.equationOfDof(), hingesBefore_ = then.hinges();
  }
}

}  // namespace anvil::analysis
