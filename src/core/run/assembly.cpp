#include "core/run/assembly.hpp"

#include <algorithm>

#include "core/base/parallel.hpp"
#include "core/base/stopwatch.hpp"
#include "core/run/bolt_parts.hpp"
#include "core/run/carrier_parts.hpp"
#include "core/run/hinges.hpp"

namespace anvil::analysis {

Assembly::Assembly(Problem& problem) : p_(problem) {
  colourBlocks();
  for (const auto& b : p_.blocks) {
    std::vector<element::Rounding> rounding(b->cells().count());
    for (size_t c = 0; c < rounding.size(); ++c) rounding[c] = b->rounding(c);
    rounding_.push_back(std::move(rounding));
  }
  residual_ = external_ = viscous_ = VectorXd::Zero(p_.dofs());
}

void Assembly::setConstraints(const Constraints& constraints) {
  constraints_ = &constraints;
  covered_.clear();
  pattern_ = {}, freshSize_ = 0;
  analysed_ = false;
  solver_.forget();
}

Evaluation Assembly::elements(const VectorXd& u, bool tangent, bool elasticTrial, const VectorXd* du, double ahead) {
  Stopwatch watch{timing.elements};
  Evaluation result;
  double forceSum = 0;
  size_t forceCount = 0;
  VectorXd magnitude = VectorXd::Zero(p_.nodeCount());  // vectors, so that it does not matter how the model is turned
  for (size_t i = 0; i < p_.blocks.size(); ++i) {
    auto& b = *p_.blocks[i];
    const int dim = p_.dim(), d = b.dofs(), nodes = d / dim;
    std::vector<element::ElementReport> reports(b.cells().count());
    for (const auto& group : maps_[i].colours)
      forEach(group.size(), [&](size_t g) {
        const auto c = size_t(group[g]);
        const int* cell = b.cells().cell(c);
        Eigen::Matrix<double, element::mostDofs, 1> ue, re, shift;
        alignas(32) double Ke[element::mostDofs * element::mostDofs];
        for (int a = 0; a < nodes; ++a) ue.segment(dim * a, dim) = u.segment(dim * cell[a], dim);
        const bool shifts = tangent && b.foresees();
        reports[c] =
            b.integrate(c, ue.data(), re.data(), tangent ? Ke : nullptr, elasticTrial, {ahead, shifts ? shift.data() : nullptr});
        if (reports[c].inverted) return;
        Eigen::Map<Eigen::MatrixXd> K(Ke, d, d);
        if (constraints_->anyFrame())
          for (int a = 0; a < nodes; ++a)
            if (constraints_->framed(cell[a])) {
              const auto Q = constraints_->frame(cell[a]);
              re.segment(dim * a, dim) = (Q.transpose() * re.segment(dim * a, dim)).eval();
              if (shifts) shift.segment(dim * a, dim) = (Q.transpose() * shift.segment(dim * a, dim)).eval();
              if (!tangent) continue;
              K.middleRows(dim * a, dim) = (Q.transpose() * K.middleRows(dim * a, dim)).eval();
              K.middleCols(dim * a, dim) = (K.middleCols(dim * a, dim) * Q).eval();
            }
        for (int a = 0; a < nodes; ++a) {
          residual_.segment(dim * cell[a], dim) += re.segment(dim * a, dim);
          if (shifts) shift_.segment(dim * cell[a], dim) += shift.segment(dim * a, dim);
          magnitude[cell[a]] += re.segment(dim * a, dim).norm();
        }
        if (!tangent) return;
        const int* position = maps_[i].position.data() + c * size_t(d) * size_t(d);
        for (int r = 0; r < d; ++r) {
          const int er = constraints_->equation(dim * cell[r / dim] + r % dim);
          if (er < 0) continue;
          for (int s = 0; s < d; ++s) {
            const int at = position[r * d + s];
            if (at >= 0)
              values_[size_t(at)] += K(r, s);
            else if (du)
              rhs_[er] -= K(r, s) * (*du)[dim * cell[s / dim] + s % dim];
          }
        }
      });
    for (size_t c = 0; c < reports.size(); ++c) {
      if (reports[c].inverted && !result.inverted)
        result.inverted = true, result.invertedCell = int(c), result.invertedBlock = int(i);
      result.plasticIncrement = std::max(result.plasticIncrement, reports[c].plasticIncrement);
    }
  }
  if (!result.inverted) slender(u, tangent, elasticTrial, du, magnitude, result);
  const double most = magnitude.size() ? magnitude.maxCoeff() : 0;
  for (double m : magnitude)
    if (m > 1e-5 * most) forceSum += m, ++forceCount;
  result.averageForce = forceCount ? forceSum / double(forceCount) : 0;
  return result;
}

void Assembly::addDense(const std::vector<int>& dofs, const Eigen::MatrixXd& K, const VectorXd* du) {
  std::vector<std::pair<int, Eigen::Index>> free;  // equations in order, as a row of the pattern has them
  std::vector<Eigen::Index> given;
  for (size_t j = 0; j < dofs.size(); ++j)
    if (const int ej = constraints_->equation(dofs[j]); ej >= 0)
      free.emplace_back(ej, Eigen::Index(j));
    else
      given.push_back(Eigen::Index(j));
  std::sort(free.begin(), free.end());
  for (const auto& [ei, i] : free) {
    if (du)
      for (const auto j : given) rhs_[ei] -= K(i, j) * (*du)[dofs[size_t(j)]];
    const int* column = pattern_.column.data() + pattern_.start[size_t(ei)];
    double* value = values_.data() + pattern_.start[size_t(ei)];
    for (const auto& [ej, j] : free) {
      const double k = K(i, j);
      if (k == 0) continue;  // such couplings need not be in the pattern
      while (*column < ej) ++column, ++value;
      *value += k;
    }
  }
}

/// Turns the entries of framed nodes into their own axes. A node's dofs stand together in a contribution.
void Assembly::intoFrames(contact::Contribution& part) const {
  const int dim = p_.dim();
  for (size_t k = 0; k + size_t(dim) <= part.dofs.size(); ++k) {
    const int dof = part.dofs[k];
    if (dof % dim || dof >= p_.nodeDofs() || part.dofs[k + size_t(dim) - 1] != dof + dim - 1 || !constraints_->framed(dof / dim))
      continue;
    const Eigen::MatrixXd Q = constraints_->frame(dof / dim);
    const auto at = Eigen::Index(k);
    part.force.segment(at, dim) = (Q.transpose() * part.force.segment(at, dim)).eval();
    part.condensed.segment(at, dim) = (Q.transpose() * part.condensed.segment(at, dim)).eval();
    for (Eigen::MatrixXd* rows : {&part.stiffness, &part.left, &part.right})
      if (rows->size()) rows->middleRows(at, dim) = (Q.transpose() * rows->middleRows(at, dim)).eval();
    if (part.stiffness.size()) part.stiffness.middleCols(at, dim) = (part.stiffness.middleCols(at, dim) * Q).eval();
  }
}

/// Takes what a pair reports to that of the others.
void Assembly::join(Evaluation& e, size_t pair, const contact::PairReport& r) const {
  auto& all = e.contact;
  all.changes += r.changes, all.turned += r.turned, all.active += r.active, all.sticking += r.sticking;
  if (r.changes || r.gapError > all.gapError) e.worstPair = int(pair);
  if (r.worstNode >= 0) all.worstNode = r.worstNode;
  all.gapError = std::max(all.gapError, r.gapError), all.violation += r.violation;
  if (!p_.pairs[pair].active()) return;
  const double least = r.leastGap / p_.pairs[pair].setup().reach;
  if (least < -0.6) e.worstPair = int(pair);  // a body about to be overshot
  all.leastGap = std::min(all.leastGap, least);
}

void Assembly::decide(Evaluation& e) {
  Stopwatch watch{timing.contact};
  e.contact = {}, e.worstPair = -1;
  for (size_t i = 0; i < p_.pairs.size(); ++i) join(e, i, p_.pairs[i].decide());
}

void Assembly::contacts(const VectorXd& u, const LoadLevel& level, bool tangent, bool decide, const VectorXd* du, Evaluation& e) {
  std::vector<contact::Contribution> parts;
  {
    Stopwatch watch{timing.contact};
    const contact::Configuration c{p_.dim(), &p_.mesh.x, &u, level.before, &p_.rigid, p_.depth()};
    for (size_t i = 0; i < p_.pairs.size(); ++i) join(e, i, p_.pairs[i].evaluate(c, tangent, decide, parts));
  }
  Stopwatch watch{timing.assembly};
  for (const auto& carrier : p_.carriers) carrierParts(p_, carrier, u, tangent, parts);
  for (const auto& bolt : p_.bolts) boltParts(p_, bolt, u, level, tangent, parts);
  for (const auto& spring : p_.springs) springParts(p_, spring, u, *level.before, level.size, tangent, parts);
  hingeParts(p_, *constraints_, u, level, tangent, parts);
  addParts(parts, tangent, du);
}

/// Adds contributions to residual and matrix; the pattern grows where they couple what it does not hold yet.
void Assembly::addParts(std::vector<contact::Contribution>& parts, bool tangent, const VectorXd* du) {
  if (constraints_->anyFrame())
    for (auto& part : parts) intoFrames(part);
  for (const auto& part : parts)
    for (size_t i = 0; i < part.dofs.size(); ++i) residual_[part.dofs[i]] += part.force[Eigen::Index(i)];
  if (!tangent) return;
  cover(neighbourhood(parts));
  for (const auto& part : parts) {
    if (part.stiffness.size()) addDense(part.dofs, part.stiffness, du);
    if (part.left.size()) addDense(part.dofs, part.left * part.right.transpose(), du);
    for (size_t i = 0; i < part.dofs.size(); ++i)
      if (const int eq = constraints_->equation(part.dofs[i]); eq >= 0) rhs_[eq] -= part.condensed[Eigen::Index(i)];
  }
}

void Assembly::stabilise(const VectorXd& u, const LoadLevel& level, bool tangent) {
  viscous_.setZero();
  const double fade = 1 - level.stepShare;
  for (const auto& s : p_.stabilisations) {
    if (!s.active[size_t(level.step)]) continue;
    const double rate = level.calm * std::max(fade, 0.) * level.stepTime / level.size;
    viscous_ += rate * s.viscosity.cwiseProduct(u - *level.before);
    if (tangent)
      for (int dof = 0; dof < p_.dofs(); ++dof)
        if (const int eq = constraints_->equation(dof); eq >= 0 && s.viscosity[dof] > 0)
          values_[size_t(pattern_.find(eq, eq))] += rate * s.viscosity[dof];
  }
}

Evaluation Assembly::evaluate(const VectorXd& u, const LoadLevel& level, bool tangent, bool decide, bool elasticTrial,
                              const VectorXd* du, double ahead) {
  if (tangent && pattern_.size() != constraints_->equations()) {
    Stopwatch watch{timing.assembly};
    buildPattern({});
  }
  residual_.setZero();
  if (tangent) hardlyChanged_ = false;
  if (tangent)
    shift_.setZero(residual_.size()), std::fill(values_.begin(), values_.end(), 0),
        rhs_ = VectorXd::Zero(constraints_->equations());
  for (size_t i = 0; i < p_.blocks.size() && !p_.temperatures.empty(); ++i) {
    double strain = 0;
    for (const auto& t : p_.temperatures)
      if (t.rise.active[size_t(level.step)]) strain += t.expansion[i] * level.time.of(t.rise);
    p_.blocks[i]->points().setThermalStrain(strain);
  }
  for (size_t i = 0; i < p_.slender.size() && !p_.temperatures.empty(); ++i) {
    double strain = 0;
    for (const auto& t : p_.temperatures)
      if (t.rise.active[size_t(level.step)]) strain += t.expansion[p_.blocks.size() + i] * level.time.of(t.rise);
    p_.slender[i].cells->setThermalStrain(strain);
  }
  auto e = elements(u, tangent, elasticTrial, du, ahead);
  if (e.inverted) return e;
  contacts(u, level, tangent, decide, du, e);
  Stopwatch watch{timing.assembly};
  loads(u, level, tangent, du);
  stabilise(u, level, tangent);
  VectorXd applied = external_ - viscous_;
  constraints_->toLocal(applied);
  residual_ -= applied;
  if (!tangent) return e;
  for (int dof = 0; dof < p_.dofs(); ++dof)
    if (const int eq = constraints_->equation(dof); eq >= 0) rhs_[eq] -= residual_[dof];
  bool symmetric = true;
  for (const auto& b : p_.blocks) symmetric &= b->symmetric();  // slender cells are
  for (const auto& pair : p_.pairs) symmetric &= !pair.active();
  for (const auto& l : p_.loads) symmetric &= !(l.moment && p_.dim() == 3 && p_.setting.large);
  if (p_.setting.large)
    for (const auto& l : p_.loads) symmetric &= !l.pressure;
  if (symmetric != symmetric_) symmetric_ = symmetric, analysed_ = false;
  return e;
}

bool Assembly::releasePulling(const VectorXd* du) {
  std::vector<contact::Contribution> changes;
  {
    Stopwatch watch{timing.contact};
    bool any = false;
    for (auto& pair : p_.pairs) any |= pair.releasePulling(changes);
    if (!any) return false;
  }
  Stopwatch watch{timing.assembly};
  addParts(changes, true, du);
  return hardlyChanged_ = true;
}

bool Assembly::foresees() const {
  return std::any_of(p_.blocks.begin(), p_.blocks.end(), [](const auto& b) { return b->foresees(); });
}

/// Lets the solver do something, and notes how long it took.
template <class Act>
void Assembly::withSolver(const Act& act) {
  if (!analysed_) solver_.analyseNext(pattern_, symmetric_), analysed_ = true;
  const double factoring = solver_.factoring, solving = solver_.solving;
  act();
  timing.factorisation += solver_.factoring - factoring, timing.solution += solver_.solving - solving;
}

void Assembly::factor() {
  if (pattern_.size() == 0) return;
  withSolver([&] { solver_.factor(values_); });
}

VectorXd Assembly::diagonal() const {
  VectorXd d(pattern_.size());
  for (int i = 0; i < pattern_.size(); ++i) d[i] = values_[size_t(pattern_.find(i, i))];
  return d;
}

void Assembly::addToDiagonal(const VectorXd& d) {
  for (int i = 0; i < pattern_.size(); ++i) values_[size_t(pattern_.find(i, i))] += d[i];
}

VectorXd Assembly::solve() {
  if (pattern_.size() == 0) return VectorXd();  // everything is prescribed
  ++timing.iterations;
  VectorXd x = rhs_;
  withSolver([&] { hardlyChanged_ ? solver_.solveNear(values_, x) : solver_.solve(values_, x); });
  hardlyChanged_ = false;
  return x;
}

VectorXd Assembly::throughFactors(VectorXd x) {
  if (pattern_.size() == 0) return VectorXd();
  withSolver([&] { solver_.throughFactors(x); });
  return x;
}

VectorXd Assembly::solveAgain(VectorXd x) {
  if (pattern_.size() == 0) return VectorXd();
  withSolver([&] { solver_.solveAgain(values_, x); });
  return x;
}

int Assembly::nodeOfEquation(int equation, int& axis) const {
  const auto& map = constraints_->equationOfDof();
  const auto it = std::find(map.begin(), map.end(), equation);
  const int dof = int(it - map.begin());
  axis = dof < p_.nodeDofs() ? dof % p_.dim() : dof;
  return dof < p_.nodeDofs() ? dof / p_.dim() : -1;
}

}  // namespace anvil::analysis
