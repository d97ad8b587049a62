#include "core/analysis/assembly.hpp"

#include <algorithm>
#include <atomic>
#include <chrono>
#include <numbers>
#include <set>

#include "core/base/parallel.hpp"

namespace anvil::analysis {
namespace {

using Clock = std::chrono::steady_clock;
struct Stopwatch {
  double& total;
  Clock::time_point start = Clock::now();
  ~Stopwatch() { total += std::chrono::duration<double>(Clock::now() - start).count(); }
};

/// Cells in groups that share no node, greedily; the order within and of the groups does not depend on threads.
std::vector<std::vector<int>> colour(const mesh::Block& b, int nodes) {
  std::vector<std::uint64_t> used(size_t(nodes), 0);
  std::vector<std::vector<int>> groups;
  const int n = mesh::info(b.type).nodes;
  for (size_t c = 0; c < b.count(); ++c) {
    std::uint64_t taken = 0;
    for (int a = 0; a < n; ++a) taken |= used[size_t(b.cell(c)[a])];
    int k = 0;
    while (taken >> k & 1) ++k;
    if (size_t(k) >= groups.size()) groups.resize(size_t(k) + 1);
    groups[size_t(k)].push_back(int(c));
    for (int a = 0; a < n; ++a) used[size_t(b.cell(c)[a])] |= std::uint64_t(1) << k;
  }
  return groups;
}

}  // namespace

Assembly::Assembly(Problem& problem) : p_(problem) {
  for (const auto& b : p_.blocks) maps_.push_back({colour(b->cells(), p_.nodeCount()), {}});
  residual_ = external_ = viscous_ = VectorXd::Zero(p_.dofs());
}

void Assembly::setConstraints(const Constraints& constraints) {
  constraints_ = &constraints;
  cliques_.clear();
  pattern_ = {};
  analysed_ = false;
}

void Assembly::buildPattern(const std::vector<std::vector<int>>& cliques) {
  const int n = constraints_->equations();
  std::vector<std::vector<int>> rows(static_cast<size_t>(n));
  std::vector<int> eq;
  const auto couple = [&](const std::vector<int>& list) {
    for (int i : list) rows[size_t(i)].insert(rows[size_t(i)].end(), list.begin(), list.end());
  };
  for (const auto& b : p_.blocks)
    for (size_t c = 0; c < b->cells().count(); ++c) {
      eq.clear();
      for (int a = 0; a < b->dofs() / 2; ++a)
        for (int k = 0; k < 2; ++k)
          if (const int e = constraints_->equation(2 * b->cells().cell(c)[a] + k); e >= 0) eq.push_back(e);
      couple(eq);
    }
  for (const auto& clique : cliques) couple(clique);
  pattern_ = {};
  pattern_.start.push_back(0);
  for (int i = 0; i < n; ++i) {
    auto& row = rows[size_t(i)];
    row.push_back(i);
    std::sort(row.begin(), row.end());
    row.erase(std::unique(row.begin(), row.end()), row.end());
    pattern_.column.insert(pattern_.column.end(), row.begin(), row.end());
    pattern_.start.push_back(int(pattern_.column.size()));
    std::vector<int>().swap(row);
  }
  values_.assign(pattern_.column.size(), 0);
  analysed_ = false;
  mapBlocks();
}

void Assembly::mapBlocks() {
  for (size_t i = 0; i < p_.blocks.size(); ++i) {
    const auto& b = *p_.blocks[i];
    const auto d = size_t(b.dofs());
    auto& position = maps_[i].position;
    position.assign(b.cells().count() * d * d, -1);
    forEach(b.cells().count(), [&](size_t c) {
      const int* cell = b.cells().cell(c);
      for (size_t r = 0; r < d; ++r) {
        const int er = constraints_->equation(2 * cell[r / 2] + int(r % 2));
        if (er < 0) continue;
        for (size_t s = 0; s < d; ++s)
          if (const int es = constraints_->equation(2 * cell[s / 2] + int(s % 2)); es >= 0) position[(c * d + r) * d + s] = pattern_.find(er, es);
      }
    });
  }
}

Evaluation Assembly::elements(const VectorXd& u, bool tangent, bool elasticTrial, const VectorXd* du) {
  Stopwatch watch{timing.elements};
  Evaluation result;
  double forceSum = 0;
  size_t forceCount = 0;
  VectorXd magnitude = VectorXd::Zero(p_.dofs());
  for (size_t i = 0; i < p_.blocks.size(); ++i) {
    auto& b = *p_.blocks[i];
    const int d = b.dofs(), nodes = d / 2;
    std::vector<element::ElementReport> reports(b.cells().count());
    for (const auto& group : maps_[i].colours)
      forEach(group.size(), [&](size_t g) {
        const auto c = size_t(group[g]);
        const int* cell = b.cells().cell(c);
        Eigen::Matrix<double, 16, 1> ue, re;
        Eigen::Matrix<double, 256, 1> Ke;
        for (int a = 0; a < nodes; ++a) ue.segment<2>(2 * a) = u.segment<2>(2 * cell[a]);
        reports[c] = b.integrate(c, ue.data(), re.data(), tangent ? Ke.data() : nullptr, elasticTrial);
        if (reports[c].inverted) return;
        Eigen::Map<Eigen::MatrixXd> K(Ke.data(), d, d);
        if (constraints_->anyFrame())
          for (int a = 0; a < nodes; ++a)
            if (constraints_->framed(cell[a])) {
              const auto& Q = constraints_->frame(cell[a]);
              re.segment<2>(2 * a) = (Q.transpose() * re.segment<2>(2 * a)).eval();
              if (!tangent) continue;
              K.middleRows(2 * a, 2) = (Q.transpose() * K.middleRows(2 * a, 2)).eval();
              K.middleCols(2 * a, 2) = (K.middleCols(2 * a, 2) * Q).eval();
            }
        for (int a = 0; a < nodes; ++a) {
          residual_.segment<2>(2 * cell[a]) += re.segment<2>(2 * a);
          magnitude.segment<2>(2 * cell[a]) += re.segment<2>(2 * a).cwiseAbs();
        }
        if (!tangent) return;
        const int* position = maps_[i].position.data() + c * size_t(d) * size_t(d);
        for (int r = 0; r < d; ++r) {
          const int er = constraints_->equation(2 * cell[r / 2] + r % 2);
          if (er < 0) continue;
          for (int s = 0; s < d; ++s) {
            const int at = position[r * d + s];
            if (at >= 0) values_[size_t(at)] += K(r, s);
            else if (du) rhs_[er] -= K(r, s) * (*du)[2 * cell[s / 2] + s % 2];
          }
        }
      });
    for (size_t c = 0; c < reports.size(); ++c) {
      if (reports[c].inverted && !result.inverted) result.inverted = true, result.invertedCell = int(c), result.invertedBlock = int(i);
      result.plasticIncrement = std::max(result.plasticIncrement, reports[c].plasticIncrement);
    }
  }
  const double most = magnitude.maxCoeff();
  for (double m : magnitude)
    if (m > 1e-5 * most) forceSum += m, ++forceCount;
  result.averageForce = forceCount ? forceSum / double(forceCount) : 0;
  return result;
}

void Assembly::addDense(const std::vector<int>& dofs, const Eigen::MatrixXd& K, const VectorXd* du) {
  for (size_t i = 0; i < dofs.size(); ++i) {
    const int ei = constraints_->equation(dofs[i]);
    if (ei < 0) continue;
    for (size_t j = 0; j < dofs.size(); ++j) {
      const int ej = constraints_->equation(dofs[j]);
      const double k = K(Eigen::Index(i), Eigen::Index(j));
      if (ej < 0) {
        if (du) rhs_[ei] -= k * (*du)[dofs[j]];
      } else if (k != 0) {
        values_[size_t(pattern_.find(ei, ej))] += k;
      }
    }
  }
}

std::vector<std::vector<int>> Assembly::neighbourhood(const std::vector<contact::Contribution>& parts) const {
  std::vector<std::vector<int>> cliques;
  for (const auto& c : parts) {
    std::vector<int> eq;
    for (int dof : c.dofs)
      if (const int e = constraints_->equation(dof); e >= 0) eq.push_back(e);
    cliques.push_back(eq);
  }
  return cliques;
}

void Assembly::contacts(const VectorXd& u, const Moment& moment, bool tangent, bool decide, const VectorXd* du, Evaluation& e) {
  std::vector<contact::Contribution> parts;
  {
    Stopwatch watch{timing.contact};
    const contact::Configuration c{&p_.mesh.x, &u, moment.before, &p_.rigid, p_.measure()};
    for (size_t i = 0; i < p_.pairs.size(); ++i) {
      const auto r = p_.pairs[i].evaluate(c, tangent, decide, parts);
      e.contact.changes += r.changes, e.contact.active += r.active, e.contact.sticking += r.sticking;
      if (r.changes || r.gapError > e.contact.gapError) e.worstPair = int(i);
      if (r.worstNode >= 0) e.contact.worstNode = r.worstNode;
      e.contact.gapError = std::max(e.contact.gapError, r.gapError);
      if (p_.pairs[i].active() && r.leastGap < -0.6 * p_.pairs[i].setup().reach) e.worstPair = int(i);  // a body about to be overshot
      if (p_.pairs[i].active()) e.contact.leastGap = std::min(e.contact.leastGap, r.leastGap / p_.pairs[i].setup().reach);
    }
    for (auto& part : parts)  // framed nodes
      if (constraints_->anyFrame())
        for (size_t k = 0; k + 1 < part.dofs.size(); ++k) {
          const int dof = part.dofs[k];
          if (dof % 2 || dof >= 2 * p_.nodeCount() || part.dofs[k + 1] != dof + 1 || !constraints_->framed(dof / 2)) continue;
          const auto& Q = constraints_->frame(dof / 2);
          const auto at = Eigen::Index(k);
          part.force.segment<2>(at) = (Q.transpose() * part.force.segment<2>(at)).eval();
          part.condensed.segment<2>(at) = (Q.transpose() * part.condensed.segment<2>(at)).eval();
          part.stiffness.middleRows(at, 2) = (Q.transpose() * part.stiffness.middleRows(at, 2)).eval();
          part.stiffness.middleCols(at, 2) = (part.stiffness.middleCols(at, 2) * Q).eval();
        }
    for (const auto& part : parts)
      for (size_t i = 0; i < part.dofs.size(); ++i) residual_[part.dofs[i]] += part.force[Eigen::Index(i)];
  }
  if (!tangent) return;
  Stopwatch watch{timing.assembly};
  const auto cliques = neighbourhood(parts);
  bool covered = pattern_.size() == constraints_->equations();
  for (const auto& clique : cliques) {
    for (size_t i = 0; covered && i < clique.size(); ++i)
      for (size_t j = 0; covered && j < clique.size(); ++j) covered = pattern_.find(clique[i], clique[j]) >= 0;
    if (!covered) break;
  }
  if (!covered) {
    const std::vector<double> old = values_;
    const SparsePattern was = pattern_;
    if (cliques_.size() > 20 * (cliques.size() + 10)) cliques_.clear();
    cliques_.insert(cliques_.end(), cliques.begin(), cliques.end());
    buildPattern(cliques_);
    for (int i = 0; i < was.size(); ++i)
      for (int k = was.start[size_t(i)]; k < was.start[size_t(i) + 1]; ++k)
        if (const int at = pattern_.find(i, was.column[size_t(k)]); at >= 0) values_[size_t(at)] = old[size_t(k)];
  }
  for (const auto& part : parts) {
    addDense(part.dofs, part.stiffness, du);
    for (size_t i = 0; i < part.dofs.size(); ++i)
      if (const int eq = constraints_->equation(part.dofs[i]); eq >= 0) rhs_[eq] -= part.condensed[Eigen::Index(i)];
  }
}

void Assembly::loads(const VectorXd& u, const Moment& moment, bool tangent, const VectorXd* du) {
  external_.setZero();
  const bool axisymmetric = p_.setting.space == element::Space::axisymmetric;
  static const double gx[3] = {-0.7745966692414834, 0, 0.7745966692414834}, gw[3] = {5. / 9, 8. / 9, 5. / 9};
  for (const auto& load : p_.loads) {
    const double value = load.course.active[size_t(moment.step)] ? load.course.curve(moment.time) : 0;
    if (value == 0) continue;
    double area = 0;
    if (!load.pressure)
      for (const auto& f : load.facets) {
        const auto nodes = p_.mesh.nodesOf(f);
        for (int g = 0; g < 3; ++g) {
          Eigen::Vector2d t = Eigen::Vector2d::Zero(), x = t;
          const bool q = nodes.size() == 3;
          const double s = gx[g], n[3] = {q ? s * (s - 1) / 2 : (1 - s) / 2, q ? s * (s + 1) / 2 : (1 + s) / 2, 1 - s * s};
          const double dn[3] = {q ? s - 0.5 : -0.5, q ? s + 0.5 : 0.5, -2 * s};
          for (size_t a = 0; a < nodes.size(); ++a) t += dn[a] * p_.mesh.x[size_t(nodes[a])].head<2>(), x += n[a] * p_.mesh.x[size_t(nodes[a])].head<2>();
          area += gw[g] * t.norm() * (axisymmetric ? 2 * std::numbers::pi * x.x() : p_.setting.thickness);
        }
      }
    for (const auto& f : load.facets) {
      const auto nodes = p_.mesh.nodesOf(f);
      const bool q = nodes.size() == 3, follow = load.pressure && p_.setting.large;
      const auto m = Eigen::Index(nodes.size());
      VectorXd force = VectorXd::Zero(2 * m);
      Eigen::MatrixXd K = Eigen::MatrixXd::Zero(2 * m, 2 * m);
      std::vector<int> dofs;
      for (int n : nodes) dofs.push_back(2 * n), dofs.push_back(2 * n + 1);
      for (int g = 0; g < 3; ++g) {
        const double s = gx[g], n[3] = {q ? s * (s - 1) / 2 : (1 - s) / 2, q ? s * (s + 1) / 2 : (1 + s) / 2, 1 - s * s};
        const double dn[3] = {q ? s - 0.5 : -0.5, q ? s + 0.5 : 0.5, -2 * s};
        Eigen::Vector2d t = Eigen::Vector2d::Zero(), x = t;
        for (size_t a = 0; a < nodes.size(); ++a) {
          Eigen::Vector2d at = p_.mesh.x[size_t(nodes[a])].head<2>();
          if (follow) at += u.segment<2>(2 * nodes[a]);
          t += dn[a] * at, x += n[a] * at;
        }
        const double scale = axisymmetric ? 2 * std::numbers::pi * x.x() : p_.setting.thickness;
        const Eigen::Vector2d traction = load.pressure ? Eigen::Vector2d(-value * t.y(), value * t.x())
                                                       : Eigen::Vector2d(value / area * t.norm() * load.direction);
        for (Eigen::Index a = 0; a < m; ++a) {
          force.segment<2>(2 * a) += gw[g] * n[a] * scale * traction;
          if (!follow) continue;
          for (Eigen::Index b = 0; b < m; ++b) {  // minus the derivative of the force
            K(2 * a, 2 * b + 1) += gw[g] * n[a] * scale * value * dn[b];
            K(2 * a + 1, 2 * b) -= gw[g] * n[a] * scale * value * dn[b];
            if (axisymmetric) K.block<2, 1>(2 * a, 2 * b) -= gw[g] * n[a] * 2 * std::numbers::pi * n[b] * traction;
          }
        }
      }
      for (size_t i = 0; i < dofs.size(); ++i) external_[dofs[i]] += force[Eigen::Index(i)];
      if (!tangent || !follow) continue;
      for (Eigen::Index a = 0; a < m; ++a)
        if (constraints_->framed(nodes[size_t(a)])) {
          const auto& Q = constraints_->frame(nodes[size_t(a)]);
          K.middleRows(2 * a, 2) = (Q.transpose() * K.middleRows(2 * a, 2)).eval();
          K.middleCols(2 * a, 2) = (K.middleCols(2 * a, 2) * Q).eval();
        }
      addDense(dofs, K, du);
    }
  }
  if (moment.releasedForce) external_ += *moment.releasedForce * (1 - moment.stepShare);
}

void Assembly::stabilise(const VectorXd& u, const Moment& moment, bool tangent) {
  viscous_.setZero();
  const double fade = 1 - moment.stepShare;
  for (const auto& s : p_.stabilisations) {
    if (!s.active[size_t(moment.step)]) continue;
    const double rate = std::max(fade, 0.) * moment.stepTime / moment.size;
    viscous_ += rate * s.viscosity.cwiseProduct(u - *moment.before);
    if (tangent)
      for (int dof = 0; dof < p_.dofs(); ++dof)
        if (const int eq = constraints_->equation(dof); eq >= 0 && s.viscosity[dof] > 0) values_[size_t(pattern_.find(eq, eq))] += rate * s.viscosity[dof];
  }
}

Evaluation Assembly::evaluate(const VectorXd& u, const Moment& moment, bool tangent, bool decide, bool elasticTrial, const VectorXd* du) {
  if (tangent && pattern_.size() != constraints_->equations()) {
    Stopwatch watch{timing.assembly};
    buildPattern(cliques_);
  }
  residual_.setZero();
  if (tangent) std::fill(values_.begin(), values_.end(), 0), rhs_ = VectorXd::Zero(constraints_->equations());
  auto e = elements(u, tangent, elasticTrial, du);
  if (e.inverted) return e;
  contacts(u, moment, tangent, decide, du, e);
  Stopwatch watch{timing.assembly};
  loads(u, moment, tangent, du);
  stabilise(u, moment, tangent);
  VectorXd applied = external_ - viscous_;
  constraints_->toLocal(applied);
  residual_ -= applied;
  if (!tangent) return e;
  for (int dof = 0; dof < p_.dofs(); ++dof)
    if (const int eq = constraints_->equation(dof); eq >= 0) rhs_[eq] -= residual_[dof];
  bool symmetric = true;
  for (const auto& b : p_.blocks) symmetric &= b->symmetric();
  for (const auto& pair : p_.pairs) symmetric &= !pair.active();
  if (p_.setting.large)
    for (const auto& l : p_.loads) symmetric &= !l.pressure;
  if (symmetric != symmetric_) symmetric_ = symmetric, analysed_ = false;
  return e;
}

VectorXd Assembly::solve() {
  if (pattern_.size() == 0) return VectorXd();  // everything is prescribed
  {
    Stopwatch watch{timing.factorisation};
    if (!analysed_) solver_.analyse(pattern_, symmetric_), analysed_ = true;
    solver_.factor(values_);
  }
  Stopwatch watch{timing.solution};
  ++timing.iterations;
  VectorXd x = rhs_;
  solver_.solve(x);
  return x;
}

int Assembly::nodeOfEquation(int equation, int& axis) const {
  const auto& map = constraints_->equationOfDof();
  const auto it = std::find(map.begin(), map.end(), equation);
  const int dof = int(it - map.begin());
  axis = dof % 2;
  return dof < 2 * p_.nodeCount() ? dof / 2 : -1;
}

}  // namespace anvil::analysis
