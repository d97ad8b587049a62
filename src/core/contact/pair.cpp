#include "core/contact/pair.hpp"

#include <algorithm>
#include <boost/geometry.hpp>
#include <boost/geometry/geometries/box.hpp>
#include <boost/geometry/geometries/point_xy.hpp>
#include <boost/geometry/index/rtree.hpp>
#include <cmath>
#include <unordered_map>

#include "core/base/error.hpp"
#include "core/base/parallel.hpp"

namespace anvil::contact {
namespace {

namespace bg = boost::geometry;
using BoostPoint = bg::model::d2::point_xy<double>;
using Box = bg::model::box<BoostPoint>;
using Tree = bg::index::rtree<std::pair<Box, int>, bg::index::quadratic<8>>;

/// Box over the way of the increment, so that nothing that is passed through goes unseen.
Box boxOf(const Configuration& c, const Segment& s, double margin) {
  Point2 low(1e300, 1e300), high(-1e300, -1e300);
  for (int i = 0; i < s.count(); ++i)
    for (const bool old : {false, true}) {
      const Point2 p = c.place(s.node[size_t(i)], old);
      low = low.cwiseMin(p), high = high.cwiseMax(p);
    }
  return {{low.x() - margin, low.y() - margin}, {high.x() + margin, high.y() + margin}};
}

LocalNode local(const Configuration& c, int node) { return {c.place(node, false), c.place(node, true)}; }

SlavePatch slavePatch(const Configuration& c, const Segment& s) {
  SlavePatch p;
  p.quadratic = s.node[2] >= 0;
  p.hasBefore = s.before >= 0, p.hasAfter = s.after >= 0;
  p.node[1] = local(c, s.node[0]), p.node[2] = local(c, s.node[1]);
  p.node[3] = p.quadratic ? local(c, s.node[2]) : p.node[1];
  p.node[0] = p.hasBefore ? local(c, s.before) : p.node[1];
  p.node[4] = p.hasAfter ? local(c, s.after) : p.node[2];
  return p;
}

/// Global dofs of the local ones; absent nodes give -1.
void nodeDofs(int node, int* d) { d[0] = node < 0 ? -1 : 2 * node, d[1] = node < 0 ? -1 : 2 * node + 1; }

}  // namespace

Pair::Pair(PairSetup setup) : setup_(std::move(setup)) {
  const size_t n = setup_.slave.corners.size();
  for (size_t a = 0; a < n; ++a) {
    const auto node = size_t(setup_.slave.corners[a]);
    if (cornerIndex_.size() <= node) cornerIndex_.resize(node + 1, -1);
    cornerIndex_[node] = int(a);
  }
  const double h = setup_.slave.meanLength;
  const double young = setup_.rigid >= 0 ? setup_.slave.young : std::min(setup_.slave.young, setup_.master.young);
  epsilon_ = 1e3 * young / h;
  old_.resize(n), now_.resize(n), base_.resize(n);
  for (auto* v : {&stepN_, &stepT_, &closed_, &initialOverlap_, &gap_, &totalSlip_, &direction_}) v->assign(n, 0);
  seen_.assign(n, false);
  corners_.resize(n);
}

double Pair::offset(size_t a) const {
  return closed_[a] + (resolves_ ? initialOverlap_[a] * (1 - resolved_) : 0) - interference_;
}

void Pair::integrate(const Configuration& c, std::vector<Contribution>* out, double* leastGap) {
  const auto& segments = setup_.slave.segments;
  std::vector<std::vector<int>> facing(segments.size(), std::vector<int>(1, -1));
  if (setup_.rigid < 0) {
    std::vector<std::pair<Box, int>> boxes;
    for (size_t m = 0; m < setup_.master.segments.size(); ++m) boxes.emplace_back(boxOf(c, setup_.master.segments[m], setup_.reach), int(m));
    const Tree tree(boxes);
    for (size_t s = 0; s < segments.size(); ++s) {
      facing[s].clear();
      std::vector<std::pair<Box, int>> found;
      tree.query(bg::index::intersects(boxOf(c, segments[s], 0)), std::back_inserter(found));
      for (const auto& f : found) facing[s].push_back(f.second);
      std::sort(facing[s].begin(), facing[s].end());
    }
  }
  struct Found {
    std::vector<int> dofs;
    SegmentIntegral integral;
  };
  std::vector<std::vector<Found>> results(segments.size());
  forEach(segments.size(), [&](size_t s) {
    const auto& g = segments[s];
    const auto patch = slavePatch(c, g);
    std::array<double, 2> ln, lt;
    for (size_t a = 0; a < 2; ++a) {
      const auto& state = now_[size_t(cornerIndex_[size_t(g.node[a])])];
      ln[a] = state.pressure, lt[a] = state.friction;
    }
    for (int m : facing[s]) {
      Found f;
      f.dofs.assign(maxDofs, -1);
      if (m < 0) {
        f.integral.clear(9);
        const RigidPlace place{c.rigidPlace(setup_.rigid, false), c.rigidPlace(setup_.rigid, true)};
        integrateRigid(patch, (*c.rigid)[size_t(setup_.rigid)], place, ln, lt, setup_.reach, c.measure, f.integral);
        for (int i = 0; i < 3; ++i) nodeDofs(g.node[size_t(i)], f.dofs.data() + 2 * i);
        for (int i = 0; i < 3; ++i) f.dofs[size_t(6 + i)] = 2 * int(c.x->size()) + 3 * setup_.rigid + i;
      } else {
        const auto& o = setup_.master.segments[size_t(m)];
        MasterPatch master;
        master.quadratic = o.node[2] >= 0;
        for (size_t i = 0; i < 3; ++i) master.node[i] = local(c, o.node[i] < 0 ? o.node[0] : o.node[i]);
        f.integral.clear(maxDofs);
        integrateFacing(patch, master, ln, lt, setup_.reach, c.measure, f.integral);
        nodeDofs(g.before, f.dofs.data());
        nodeDofs(g.after, f.dofs.data() + 8);
        for (int i = 0; i < 3; ++i) nodeDofs(g.node[size_t(i)], f.dofs.data() + 2 + 2 * i), nodeDofs(o.node[size_t(i)], f.dofs.data() + 10 + 2 * i);
      }
      if (f.integral.touched || f.integral.leastGap < 0) results[s].push_back(std::move(f));
    }
  }, 4);

  std::vector<std::unordered_map<int, size_t>> index(corners_.size());
  for (auto& k : corners_) k.dofs.clear(), k.row.clear(), k.kappa = k.gap = k.slip = 0;
  for (size_t s = 0; s < segments.size(); ++s)
    for (const auto& f : results[s]) {
      const auto& q = f.integral;
      if (leastGap) *leastGap = std::min(*leastGap, q.leastGap);
      std::vector<int> used;
      for (int i = 0; i < q.dofs; ++i)
        if (f.dofs[size_t(i)] >= 0) used.push_back(i);
      for (size_t a = 0; a < 2; ++a) {
        const size_t A = size_t(cornerIndex_[size_t(segments[s].node[a])]);
        auto& k = corners_[A];
        k.kappa += q.kappa[a], k.gap += q.gap[a], k.slip += q.slip[a];
        for (int i : used) {
          const auto [it, fresh] = index[A].try_emplace(f.dofs[size_t(i)], k.dofs.size());
          if (fresh) k.dofs.push_back(f.dofs[size_t(i)]), k.row.push_back({0, 0, 0, 0, 0});
          auto& row = k.row[it->second];
          row[0] += q.dKappa[a][i], row[1] += q.dGap[a][i], row[2] += q.dSlip[a][i];
          row[3] += q.normal[a][i], row[4] += q.tangential[a][i];
        }
      }
      if (out && q.force.cwiseAbs().maxCoeff() > 0) {
        Contribution part;
        const auto n = Eigen::Index(used.size());
        part.force.resize(n), part.condensed = Eigen::VectorXd::Zero(n), part.stiffness.resize(n, n);
        for (Eigen::Index i = 0; i < n; ++i) {
          part.dofs.push_back(f.dofs[size_t(used[size_t(i)])]);
          part.force[i] = q.force[used[size_t(i)]];
          for (Eigen::Index j = 0; j < n; ++j) part.stiffness(i, j) = q.stiffness(used[size_t(i)], used[size_t(j)]);
        }
        out->push_back(std::move(part));
      }
    }
  for (size_t a = 0; a < corners_.size(); ++a) {
    gap_[a] = corners_[a].kappa > 0 ? corners_[a].gap / corners_[a].kappa : setup_.reach;
    seen_[a] = corners_[a].kappa > 0;
  }
}

Pair::Initial Pair::measureInitial(const Configuration& c) {
  Initial result;
  integrate(c, nullptr, nullptr);
  for (size_t a = 0; a < corners_.size(); ++a) {
    closed_[a] = 0, initialOverlap_[a] = 0;
    if (!seen_[a]) continue;
    result.leastGap = std::min(result.leastGap, gap_[a]);
    result.greatestGap = std::max(result.greatestGap, gap_[a]);
    ++result.nodes;
    const bool tie = setup_.behaviour == Behaviour::tied || setup_.behaviour == Behaviour::sliding;
    if (tie || std::abs(gap_[a]) <= setup_.closeWithin) closed_[a] = -gap_[a];
    else if (gap_[a] < 0) initialOverlap_[a] = -gap_[a];
    // bodies that touch hold each other from the first iteration on
    if (tie || std::abs(gap_[a] + closed_[a]) <= 1e-6 * setup_.slave.meanLength) old_[a].status = Status::sliding;
  }
  return result;
}

double Pair::frictionBound(double pressure) const { return std::min(setup_.friction * std::max(pressure, 0.), setup_.shearLimit); }

double Pair::elasticSlip() const { return setup_.elasticSlip * setup_.slave.meanLength; }

double Pair::frictionTrial(size_t a, double bound) const {
  return old_[a].friction + bound * (corners_[a].slip / corners_[a].kappa) / elasticSlip();
}

bool Pair::decideNode(size_t a, double largest) {
  auto& state = now_[a];
  const auto& k = corners_[a];
  const Status previous = state.status;
  if (!active_ || k.kappa <= 0) {
    state.status = Status::open;
    return previous != state.status;
  }
  const double violation = gap_[a] + offset(a) + state.pressure / epsilon_;
  const bool wasActive = previous != Status::open;
  const bool keeps = setup_.behaviour == Behaviour::tied || setup_.behaviour == Behaviour::sliding;
  const double h = setup_.slave.meanLength;
  // An active node's gap condition holds but for second-order terms, so its pressure alone decides; an open node's gap
  // does. Changes that mean nothing at this accuracy are not made: no chatter at the rim of the contact.
  bool active = wasActive ? state.pressure >= -1e-7 * largest : violation < -1e-7 * h;
  if (keeps) active = true;
  if (!active) {
    state.status = Status::open;
    return previous != state.status;
  }
  const bool rough = setup_.behaviour == Behaviour::rough || setup_.behaviour == Behaviour::tied;
  if (rough) {
    state.status = Status::sticking;
  } else if (setup_.friction == 0 || setup_.behaviour == Behaviour::sliding) {
    state.status = Status::sliding;
  } else if (old_[a].status == Status::open) {
    state.status = Status::sliding;  // touches for the first time: smoothed sliding, see condense
  } else {
    const double bound = frictionBound(state.pressure), trial = frictionTrial(a, bound);
    state.status = std::abs(trial) <= bound * (1 + 1e-9) ? Status::sticking : Status::sliding;
    direction_[a] = trial;
  }
  return previous != state.status;
}

void Pair::condense(size_t a, std::vector<Contribution>& out) {
  auto& k = corners_[a];
  const auto& state = now_[a];
  const auto n = Eigen::Index(k.dofs.size());
  k.b.assign(size_t(n), 0), k.bT.assign(size_t(n), 0);
  if (state.status == Status::open || k.kappa <= 0) {
    k.add = -state.pressure, k.addT = -state.friction;
  } else {
    const double compress = offset(a) + state.pressure / epsilon_, factor = epsilon_ / k.kappa;
    k.add = -factor * (k.gap + k.kappa * compress);
    for (Eigen::Index i = 0; i < n; ++i) k.b[size_t(i)] = -factor * (k.row[size_t(i)][1] + compress * k.row[size_t(i)][0]);
    const bool coulomb = setup_.friction > 0 && setup_.behaviour == Behaviour::touching;
    if (state.status == Status::sticking && !coulomb) {
      const double stretch = (state.friction - old_[a].friction) / epsilon_;
      k.addT = factor * (k.slip - k.kappa * stretch);
      for (Eigen::Index i = 0; i < n; ++i) k.bT[size_t(i)] = factor * (k.row[size_t(i)][2] - stretch * k.row[size_t(i)][0]);
    } else if (coulomb && old_[a].status == Status::open) {
      // The slip of the increment includes the way before touching: no place to stick to. Friction against the slip,
      // smoothed over a small part of the element length.
      const double slip = k.slip / k.kappa, reference = 0.02 * setup_.slave.meanLength, size = std::hypot(slip, reference);
      const double share = slip / size, slope = reference * reference / (size * size * size);
      const bool limited = setup_.friction * state.pressure > setup_.shearLimit;
      const double bound = limited ? setup_.shearLimit : setup_.friction * std::max(state.pressure, 0.), rise = limited ? 0 : setup_.friction * share;
      k.addT = bound * share - state.friction + rise * k.add;
      for (Eigen::Index i = 0; i < n; ++i)
        k.bT[size_t(i)] = rise * k.b[size_t(i)] + bound * slope * (k.row[size_t(i)][2] - slip * k.row[size_t(i)][0]) / k.kappa;
    } else if (coulomb && state.status == Status::sticking) {
      const double bound = frictionBound(state.pressure), slip = k.slip / k.kappa, reference = elasticSlip();
      const bool limited = setup_.friction * state.pressure > setup_.shearLimit;
      const double rise = limited ? 0 : setup_.friction * slip / reference;
      k.addT = frictionTrial(a, bound) - state.friction + rise * k.add;
      for (Eigen::Index i = 0; i < n; ++i)
        k.bT[size_t(i)] = rise * k.b[size_t(i)] + bound / reference * (k.row[size_t(i)][2] - slip * k.row[size_t(i)][0]) / k.kappa;
    } else if (coulomb) {
      const double sign = direction_[a] >= 0 ? 1 : -1;
      const bool limited = setup_.friction * state.pressure > setup_.shearLimit;
      const double slope = limited ? 0 : sign * setup_.friction;
      k.addT = sign * std::min(setup_.friction * std::max(state.pressure, 0.), setup_.shearLimit) - state.friction + slope * k.add;
      for (Eigen::Index i = 0; i < n; ++i) k.bT[size_t(i)] = slope * k.b[size_t(i)];
    } else {
      k.addT = -state.friction;
    }
  }
  if (n == 0) return;
  Contribution part;
  part.dofs = k.dofs;
  part.force = Eigen::VectorXd::Zero(n);
  part.condensed.resize(n);
  part.stiffness.resize(n, n);
  for (Eigen::Index i = 0; i < n; ++i) {
    const double cn = k.row[size_t(i)][3], ct = k.row[size_t(i)][4];
    part.condensed[i] = cn * k.add + ct * k.addT;
    for (Eigen::Index j = 0; j < n; ++j) part.stiffness(i, j) = cn * k.b[size_t(j)] + ct * k.bT[size_t(j)];
  }
  out.push_back(std::move(part));
}

PairReport Pair::evaluate(const Configuration& c, bool tangent, bool decide, std::vector<Contribution>& out) {
  PairReport report;
  integrate(c, &out, &report.leastGap);
  double largest = 0;
  for (const auto& s : now_) largest = std::max(largest, std::abs(s.pressure));
  for (size_t a = 0; a < corners_.size(); ++a) {
    if (decide && decideNode(a, largest)) ++report.changes, report.worstNode = setup_.slave.corners[a];
    const auto& k = corners_[a];
    if (now_[a].status != Status::open && k.kappa > 0) {
      ++report.active;
      double error = std::abs(gap_[a] + offset(a) + now_[a].pressure / epsilon_);
      if (now_[a].status == Status::sticking) {
        ++report.sticking;
        if (setup_.behaviour == Behaviour::rough || setup_.behaviour == Behaviour::tied)
          error = std::max(error, std::abs(k.slip / k.kappa - (now_[a].friction - old_[a].friction) / epsilon_));
      }
      report.gapError = std::max(report.gapError, error);
    }
    if (tangent) condense(a, out);
  }
  return report;
}

void Pair::solveMultipliers(const Eigen::VectorXd& du) {
  for (size_t a = 0; a < corners_.size(); ++a) {
    const auto& k = corners_[a];
    double n = k.add, t = k.addT;
    for (size_t i = 0; i < k.b.size(); ++i) n += k.b[i] * du[k.dofs[i]], t += k.bT[i] * du[k.dofs[i]];
    stepN_[a] = n, stepT_[a] = t;
    base_[a] = now_[a];
  }
}

void Pair::step(double fraction) {
  for (size_t a = 0; a < corners_.size(); ++a) {
    now_[a].pressure = base_[a].pressure + fraction * stepN_[a];
    now_[a].friction = base_[a].friction + fraction * stepT_[a];
  }
}

void Pair::begin() {
  now_ = old_;
  for (size_t a = 0; a < now_.size(); ++a) direction_[a] = now_[a].friction;
}

void Pair::accept() {
  old_ = now_;
  for (size_t a = 0; a < corners_.size(); ++a)
    if (corners_[a].kappa > 0 && now_[a].status != Status::open) totalSlip_[a] += corners_[a].slip / corners_[a].kappa;
}

PairResultant Pair::resultant(const Configuration& c) {
  PairResultant r;
  std::vector<Contribution> parts;
  integrate(c, &parts, nullptr);
  std::vector<char> onSlave(2 * c.x->size(), 0);
  for (const auto& s : setup_.slave.segments)
    for (int n : s.node)
      if (n >= 0) onSlave[size_t(2 * n)] = onSlave[size_t(2 * n + 1)] = 1;
  for (size_t a = 0; a < corners_.size(); ++a) {
    const auto& k = corners_[a];
    const auto& s = now_[a];
    for (size_t i = 0; i < k.dofs.size(); ++i) {
      const auto d = size_t(k.dofs[i]);
      if (d >= onSlave.size() || !onSlave[d]) continue;
      r.normalForce[int(d % 2)] -= s.pressure * k.row[i][3];    // residual is minus the force on the slave
      r.frictionForce[int(d % 2)] -= s.friction * k.row[i][4];
    }
    if (s.status == Status::open) continue;
    r.area += k.kappa;
    r.pressureIntegral += s.pressure * k.kappa;
    r.frictionIntegral += s.friction * k.kappa;
    r.greatestPressure = std::max(r.greatestPressure, s.pressure);
    r.greatestPenetration = std::max(r.greatestPenetration, -(gap_[a] + offset(a)));
    r.slipWork += 0.5 * (s.friction + old_[a].friction) * k.slip;
  }
  r.force = r.normalForce + r.frictionForce;
  return r;
}

std::vector<double> Pair::save() const {
  std::vector<double> v;
  for (size_t a = 0; a < old_.size(); ++a)
    v.insert(v.end(), {old_[a].pressure, old_[a].friction, double(int(old_[a].status)), closed_[a], initialOverlap_[a], totalSlip_[a]});
  return v;
}

void Pair::restore(const std::vector<double>& v) {
  if (v.size() != 6 * old_.size()) throw Error("the stored contact state does not fit this mesh", setup_.name, "Run from the start.");
  for (size_t a = 0; a < old_.size(); ++a) {
    const double* p = v.data() + 6 * a;
    old_[a] = {p[0], p[1], Status(int(p[2]))};
    closed_[a] = p[3], initialOverlap_[a] = p[4], totalSlip_[a] = p[5];
  }
  now_ = old_;
}

}  // namespace anvil::contact
