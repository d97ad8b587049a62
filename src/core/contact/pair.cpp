#include "core/contact/pair.hpp"

#include <algorithm>
#include <boost/geometry.hpp>
#include <boost/geometry/geometries/box.hpp>
#include <boost/geometry/geometries/point.hpp>
#include <boost/geometry/index/rtree.hpp>
#include <cmath>
#include <unordered_map>

#include "core/base/error.hpp"
#include "core/base/parallel.hpp"

namespace anvil::contact {
namespace {

namespace bg = boost::geometry;
using BoostPoint = bg::model::point<double, 3, bg::cs::cartesian>;
using Box = bg::model::box<BoostPoint>;
using Tree = bg::index::rtree<std::pair<Box, int>, bg::index::quadratic<8>>;

/// Box over the way of the increment, so that nothing that is passed through goes unseen.
Box boxOf(const Configuration& c, const Side& s, double margin) {
  Point3 low = Point3::Constant(1e300), high = -low;
  for (int i = 0; i < s.nodes; ++i)
    for (const bool old : {false, true}) {
      const Point3 p = c.place(s.node[size_t(i)], old);
      low = low.cwiseMin(p), high = high.cwiseMax(p);
    }
  low.array() -= margin, high.array() += margin;
  return {{low.x(), low.y(), low.z()}, {high.x(), high.y(), high.z()}};
}

LocalNode local(const Configuration& c, int node) { return {c.place(node, false).head<2>(), c.place(node, true).head<2>()}; }

SlavePatch slavePatch(const Configuration& c, const Side& s) {
  SlavePatch p;
  p.quadratic = s.quadratic();
  p.hasBefore = s.before >= 0, p.hasAfter = s.after >= 0;
  p.node[1] = local(c, s.node[0]), p.node[2] = local(c, s.node[1]);
  p.node[3] = p.quadratic ? local(c, s.node[2]) : p.node[1];
  p.node[0] = p.hasBefore ? local(c, s.before) : p.node[1];
  p.node[4] = p.hasAfter ? local(c, s.after) : p.node[2];
  return p;
}

SpaceFace spaceFace(const Configuration& c, const Side& s) {
  SpaceFace f;
  f.corners = s.corners, f.nodes = s.nodes;
  for (size_t i = 0; i < size_t(s.nodes); ++i) f.now[i] = c.place(s.node[i], false), f.before[i] = c.place(s.node[i], true);
  return f;
}

}  // namespace

struct Pair::Local {
  std::vector<int> dofs;
  bool touched = false;
  double leastGap = 1e300;
  int corners = 2;
  std::array<double, 4> kappa{}, gap{};
  std::array<Point3, 4> slip;
  Eigen::MatrixXd dKappa, dGap, normal, dSlip, tangential;   // per dof; friction columns T per corner
  Eigen::VectorXd force;
  Eigen::MatrixXd stiffness;
};

Pair::Pair(PairSetup setup) : setup_(std::move(setup)) {
  const size_t n = setup_.slave.corners.size();
  for (size_t a = 0; a < n; ++a) {
    const auto node = size_t(setup_.slave.corners[a]);
    if (cornerIndex_.size() <= node) cornerIndex_.resize(node + 1, -1);
    cornerIndex_[node] = int(a);
  }
  dim_ = setup_.slave.sides.empty() || setup_.slave.sides.front().corners == 2 ? 2 : 3;
  tangents_ = dim_ == 2 ? 1 : 3;
  const double h = setup_.slave.meanLength;
  const double young = setup_.rigid >= 0 ? setup_.slave.young : std::min(setup_.slave.young, setup_.master.young);
  epsilon_ = 1e3 * young / h;
  old_.resize(n), now_.resize(n), base_.resize(n);
  for (auto* v : {&stepN_, &closed_, &initialOverlap_, &gap_, &totalSlip_}) v->assign(n, 0);
  for (auto* v : {&stepT_, &direction_, &oldFriction_}) v->assign(n, Point3::Zero());
  seen_.assign(n, false);
  corners_.resize(n);
}

double Pair::offset(size_t a) const {
  return closed_[a] + (resolves_ ? initialOverlap_[a] * (1 - resolved_) : 0) - interference_;
}

/// Master sides near each slave side; {-1} stands for the rigid body.
std::vector<std::vector<int>> Pair::facingSides(const Configuration& c) const {
  const auto& sides = setup_.slave.sides;
  std::vector<std::vector<int>> facing(sides.size(), std::vector<int>(1, -1));
  if (setup_.rigid >= 0) return facing;
  std::vector<std::pair<Box, int>> boxes;
  for (size_t m = 0; m < setup_.master.sides.size(); ++m) boxes.emplace_back(boxOf(c, setup_.master.sides[m], setup_.reach), int(m));
  const Tree tree(boxes);
  forEach(sides.size(), [&](size_t s) {
    facing[s].clear();
    std::vector<std::pair<Box, int>> found;
    tree.query(bg::index::intersects(boxOf(c, sides[s], 0)), std::back_inserter(found));
    for (const auto& f : found) facing[s].push_back(f.second);
    std::sort(facing[s].begin(), facing[s].end());
  });
  return facing;
}

void Pair::integratePlane(const Configuration& c, size_t side, int facing, Local& out) const {
  const auto& g = setup_.slave.sides[side];
  const auto patch = slavePatch(c, g);
  std::array<double, 2> ln, lt;
  for (size_t a = 0; a < 2; ++a) {
    const auto& state = now_[size_t(cornerIndex_[size_t(g.node[a])])];
    ln[a] = state.pressure, lt[a] = state.friction.x();
  }
  std::vector<int> dofs(maxDofs, -1);
  const auto put = [&](int node, size_t at) {
    if (node >= 0) dofs[at] = 2 * node, dofs[at + 1] = 2 * node + 1;
  };
  SegmentIntegral q;
  const int mid = g.quadratic() ? g.node[2] : -1;
  if (facing < 0) {
    q.clear(9);
    const RigidPlace place{c.rigidPlace(setup_.rigid, false), c.rigidPlace(setup_.rigid, true)};
    integrateRigid(patch, (*c.rigid)[size_t(setup_.rigid)], place, ln, lt, setup_.reach, c.measure, q);
    put(g.node[0], 0), put(g.node[1], 2), put(mid, 4);
    for (int i = 0; i < 3; ++i) dofs[size_t(6 + i)] = c.rigidDof(setup_.rigid) + i;
  } else {
    const auto& o = setup_.master.sides[size_t(facing)];
    MasterPatch master;
    master.quadratic = o.quadratic();
    master.node[0] = local(c, o.node[0]), master.node[1] = local(c, o.node[1]);
    master.node[2] = master.quadratic ? local(c, o.node[2]) : master.node[0];
    q.clear(maxDofs);
    integrateFacing(patch, master, ln, lt, setup_.reach, c.measure, q);
    put(g.before, 0), put(g.node[0], 2), put(g.node[1], 4), put(mid, 6), put(g.after, 8);
    put(o.node[0], 10), put(o.node[1], 12), put(master.quadratic ? o.node[2] : -1, 14);
  }
  out.leastGap = q.leastGap;
  if (!q.touched) return;
  out.touched = true;
  std::vector<int> used;
  for (int i = 0; i < q.dofs; ++i)
    if (dofs[size_t(i)] >= 0) used.push_back(i), out.dofs.push_back(dofs[size_t(i)]);
  const auto n = Eigen::Index(used.size());
  for (auto* m : {&out.dKappa, &out.dGap, &out.normal, &out.dSlip, &out.tangential}) m->resize(n, 2);
  out.force.resize(n), out.stiffness.resize(n, n);
  for (size_t a = 0; a < 2; ++a) {
    out.kappa[a] = q.kappa[a], out.gap[a] = q.gap[a], out.slip[a] = {q.slip[a], 0, 0};
    for (Eigen::Index i = 0; i < n; ++i) {
      const int k = used[size_t(i)];
      const auto A = Eigen::Index(a);
      out.dKappa(i, A) = q.dKappa[a][k], out.dGap(i, A) = q.dGap[a][k], out.dSlip(i, A) = q.dSlip[a][k];
      out.normal(i, A) = q.normal[a][k], out.tangential(i, A) = q.tangential[a][k];
    }
  }
  for (Eigen::Index i = 0; i < n; ++i) {
    out.force[i] = q.force[used[size_t(i)]];
    for (Eigen::Index j = 0; j < n; ++j) out.stiffness(i, j) = q.stiffness(used[size_t(i)], used[size_t(j)]);
  }
}

void Pair::integrateSpace(const Configuration& c, size_t side, int facing, Local& out) const {
  const auto& g = setup_.slave.sides[side];
  const auto slave = spaceFace(c, g);
  std::array<CornerTraction, 4> traction;
  for (size_t a = 0; a < size_t(g.corners); ++a) {
    const auto& state = now_[size_t(cornerIndex_[size_t(g.node[a])])];
    traction[a] = {state.pressure, state.friction};
  }
  FaceIntegral q;
  const auto put = [&](const Side& s) {
    for (size_t i = 0; i < size_t(s.nodes); ++i)
      for (int k = 0; k < 3; ++k) out.dofs.push_back(3 * s.node[i] + k);
  };
  bool near;
  if (facing < 0) {
    SpacePlace place;
    place.now = c.rigidPlace(setup_.rigid, false), place.before = c.rigidPlace(setup_.rigid, true);
    near = integrateFaceRigid(slave, (*c.rigid)[size_t(setup_.rigid)], place, traction, setup_.reach, hasFriction(), q);
  } else {
    near = integrateFaces(slave, spaceFace(c, setup_.master.sides[size_t(facing)]), traction, setup_.reach, hasFriction(), q);
  }
  if (!near) return;
  out.leastGap = q.leastGap;
  if (!q.touched) return;
  put(g);
  if (facing < 0)
    for (int i = 0; i < 6; ++i) out.dofs.push_back(c.rigidDof(setup_.rigid) + i);
  else put(setup_.master.sides[size_t(facing)]);
  out.touched = true, out.corners = q.corners, out.kappa = q.kappa, out.gap = q.gap, out.slip = q.slip;
  out.dKappa = std::move(q.dKappa), out.dGap = std::move(q.dGap), out.normal = std::move(q.normal);
  out.dSlip = std::move(q.dSlip), out.tangential = std::move(q.tangential);
  out.force = std::move(q.force), out.stiffness = std::move(q.stiffness);
}

void Pair::integrate(const Configuration& c, std::vector<Contribution>* out, double* leastGap) {
  const auto& sides = setup_.slave.sides;
  const auto facing = facingSides(c);
  std::vector<std::vector<Local>> results(sides.size());
  forEach(sides.size(), [&](size_t s) {
    for (int m : facing[s]) {
      Local l;
      if (dim_ == 2) integratePlane(c, s, m, l);
      else integrateSpace(c, s, m, l);
      if (l.touched || l.leastGap < 1e300) results[s].push_back(std::move(l));
    }
  }, 8);

  // gathered in a fixed order: the same for any number of threads
  std::vector<std::unordered_map<int, Eigen::Index>> index(corners_.size());
  for (auto& k : corners_) k.dofs.clear(), k.kappa = k.gap = 0, k.slip.setZero();
  const int T = tangents_;
  for (size_t s = 0; s < sides.size(); ++s)
    for (const auto& l : results[s]) {
      if (!l.touched) continue;
      for (size_t a = 0; a < size_t(l.corners); ++a) {
        const size_t A = size_t(cornerIndex_[size_t(sides[s].node[a])]);
        for (int dof : l.dofs)
          if (index[A].try_emplace(dof, Eigen::Index(corners_[A].dofs.size())).second) corners_[A].dofs.push_back(dof);
      }
    }
  const bool friction = dim_ == 2 || hasFriction();
  for (auto& k : corners_) k.row = Eigen::MatrixXd::Zero(Eigen::Index(k.dofs.size()), 3 + (friction ? 2 * T : 0));
  for (size_t s = 0; s < sides.size(); ++s)
    for (auto& l : results[s]) {
      if (leastGap) *leastGap = std::min(*leastGap, l.leastGap);
      if (!l.touched) continue;
      for (size_t a = 0; a < size_t(l.corners); ++a) {
        const size_t A = size_t(cornerIndex_[size_t(sides[s].node[a])]);
        auto& k = corners_[A];
        k.kappa += l.kappa[a], k.gap += l.gap[a], k.slip += l.slip[a];
        const auto col = Eigen::Index(a);
        for (size_t i = 0; i < l.dofs.size(); ++i) {
          auto row = k.row.row(index[A].at(l.dofs[i]));
          const auto I = Eigen::Index(i);
          row[0] += l.dKappa(I, col), row[1] += l.dGap(I, col), row[2] += l.normal(I, col);
          if (!friction) continue;
          for (int t = 0; t < T; ++t) row[3 + t] += l.dSlip(I, T * col + t), row[3 + T + t] += l.tangential(I, T * col + t);
        }
      }
      if (out && l.force.cwiseAbs().maxCoeff() > 0) {
        Contribution part;
        part.dofs = std::move(l.dofs), part.condensed = Eigen::VectorXd::Zero(l.force.size());
        part.force = std::move(l.force), part.stiffness = std::move(l.stiffness);
        out->push_back(std::move(part));
      }
    }
  for (size_t a = 0; a < corners_.size(); ++a) {
    gap_[a] = corners_[a].kappa > 0 ? corners_[a].gap / corners_[a].kappa : setup_.reach;
    seen_[a] = corners_[a].kappa > 0;
  }
  turnOldFriction(c);
}

/// Frame at a corner from the places of itself, the next and the previous corner: along the next edge, normal, across.
static Eigen::Matrix3d frameOf(const std::array<Point3, 3>& x) {
  const Point3 along = (x[1] - x[0]).normalized(), normal = along.cross(x[2] - x[0]).normalized();
  return (Eigen::Matrix3d() << along, normal, along.cross(normal)).finished();
}

/// Friction of the start of the increment, turned with the surface at its node: from the frame of the first side there
/// then to its frame now. Its slope is taken by central differences of the frame.
void Pair::turnOldFriction(const Configuration& c) {
  for (size_t a = 0; a < old_.size(); ++a) oldFriction_[a] = old_[a].friction;
  if (dim_ == 2 || !hasFriction()) return;
  turned_.resize(old_.size());
  std::vector<char> done(old_.size(), 0);
  for (const auto& s : setup_.slave.sides)
    for (int i = 0; i < s.corners; ++i) {
      const auto a = size_t(cornerIndex_[size_t(s.node[size_t(i)])]);
      if (done[a] || old_[a].friction.isZero(0)) continue;
      done[a] = 1;
      const int node[3] = {s.node[size_t(i)], s.node[size_t((i + 1) % s.corners)], s.node[size_t((i + s.corners - 1) % s.corners)]};
      std::array<Point3, 3> now, before;
      for (size_t k = 0; k < 3; ++k) now[k] = c.place(node[k], false), before[k] = c.place(node[k], true);
      const Point3 own = frameOf(before).transpose() * old_[a].friction;
      oldFriction_[a] = frameOf(now) * own;
      const double h = 1e-5 * setup_.slave.meanLength;
      for (int k = 0; k < 9; ++k) {
        auto moved = now;
        moved[size_t(k / 3)][k % 3] += h;
        const Point3 plus = frameOf(moved) * own;
        moved[size_t(k / 3)][k % 3] -= 2 * h;
        turned_[a].slope.row(k) = ((plus - frameOf(moved) * own) / (2 * h)).transpose();
        turned_[a].dofs[size_t(k)] = 3 * node[k / 3] + k % 3;
      }
    }
}

Eigen::MatrixXd Pair::oldFrictionSlope(size_t a) const {
  const auto& dofs = corners_[a].dofs;
  Eigen::MatrixXd slope = Eigen::MatrixXd::Zero(Eigen::Index(dofs.size()), tangents_);
  if (dim_ == 2 || old_[a].friction.isZero(0)) return slope;
  for (size_t k = 0; k < 9; ++k) {
    const auto it = std::find(dofs.begin(), dofs.end(), turned_[a].dofs[k]);
    if (it != dofs.end()) slope.row(it - dofs.begin()) += turned_[a].slope.row(Eigen::Index(k));
  }
  return slope;
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

Point3 Pair::frictionTrial(size_t a, double bound) const {
  return oldFriction_[a] + bound / (corners_[a].kappa * elasticSlip()) * corners_[a].slip;
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
    const double bound = frictionBound(state.pressure);
    direction_[a] = frictionTrial(a, bound);
    state.status = direction_[a].norm() <= bound * (1 + 1e-9) ? Status::sticking : Status::sliding;
  }
  return previous != state.status;
}

void Pair::condense(size_t a, std::vector<Contribution>& out) {
  auto& k = corners_[a];
  const auto& state = now_[a];
  const auto n = Eigen::Index(k.dofs.size());
  const int T = tangents_;
  const bool friction = k.row.cols() > 3;
  k.b = Eigen::VectorXd::Zero(n), k.bT = Eigen::MatrixXd::Zero(n, T);
  k.addT = -state.friction;
  if (state.status == Status::open || k.kappa <= 0) {
    k.add = -state.pressure;
  } else {
    const double compress = offset(a) + state.pressure / epsilon_, factor = epsilon_ / k.kappa;
    k.add = -factor * (k.gap + k.kappa * compress);
    k.b = -factor * (k.row.col(1) + compress * k.row.col(0));
    const Point3 slip = k.slip / k.kappa;
    Eigen::MatrixXd dSlip;   // of the mean slip
    if (friction) dSlip = (k.row.middleCols(3, T) - k.row.col(0) * slip.head(T).transpose()) / k.kappa;
    const bool limited = setup_.friction * state.pressure > setup_.shearLimit;
    const double bound = frictionBound(state.pressure), rise = limited || state.pressure < 0 ? 0 : setup_.friction;
    if (state.status == Status::sticking && !coulomb()) {
      const Point3 stretch = (state.friction - oldFriction_[a]) / epsilon_;
      k.addT = factor * (k.slip - k.kappa * stretch);
      k.bT = factor * (k.row.middleCols(3, T) - k.row.col(0) * stretch.head(T).transpose()) + oldFrictionSlope(a);
    } else if (coulomb() && old_[a].status == Status::open) {
      // The slip of the increment includes the way before touching: no place to stick to. Friction against the slip,
      // smoothed over a small part of the element length.
      const double reference = 0.02 * setup_.slave.meanLength, size = std::hypot(slip.norm(), reference);
      const Point3 share = slip / size;
      const Eigen::MatrixXd slope = (Eigen::MatrixXd::Identity(T, T) - share.head(T) * share.head(T).transpose()) / size;
      k.addT += (bound + rise * k.add) * share;
      k.bT = rise * k.b * share.head(T).transpose() + bound * dSlip * slope;
    } else if (coulomb() && state.status == Status::sticking) {
      const double reference = elasticSlip();
      k.addT += frictionTrial(a, bound) + rise * k.add / reference * slip;
      k.bT = rise / reference * k.b * slip.head(T).transpose() + bound / reference * dSlip + oldFrictionSlope(a);
    } else if (coulomb()) {
      const double size = direction_[a].norm();
      const Point3 d = size > 0 ? Point3(direction_[a] / size) : Point3::UnitX();
      k.addT += (bound + rise * k.add) * d;
      k.bT = rise * k.b * d.head(T).transpose();
      if (T > 1 && size > 0) {  // the direction turns with the trial
        const double reference = elasticSlip();
        const Eigen::Matrix3d across = (Eigen::Matrix3d::Identity() - d * d.transpose()) * (bound / size);
        k.bT += (bound / reference * dSlip + rise / reference * k.b * slip.transpose() + oldFrictionSlope(a)) * across;
      }
    }
  }
  if (n == 0) return;
  Contribution part;
  part.dofs = k.dofs;
  part.force = Eigen::VectorXd::Zero(n);
  part.condensed = k.row.col(2) * k.add;
  part.left.resize(n, friction ? 1 + T : 1), part.right.resize(n, part.left.cols());
  part.left.col(0) = k.row.col(2), part.right.col(0) = k.b;
  if (friction) {
    part.condensed += k.row.middleCols(3 + T, T) * k.addT.head(T);
    part.left.rightCols(T) = k.row.middleCols(3 + T, T), part.right.rightCols(T) = k.bT;
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
          error = std::max(error, (k.slip / k.kappa - (now_[a].friction - oldFriction_[a]) / epsilon_).norm());
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
    Eigen::VectorXd local(k.b.size());
    for (Eigen::Index i = 0; i < local.size(); ++i) local[i] = du[k.dofs[size_t(i)]];
    stepN_[a] = k.add + k.b.dot(local);
    stepT_[a] = k.addT;
    for (int t = 0; local.size() && t < tangents_; ++t) stepT_[a][t] += k.bT.col(t).dot(local);
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
  old_ = now_, oldInterference_ = interference_, oldResolved_ = resolved_;
  for (size_t a = 0; a < corners_.size(); ++a)
    if (corners_[a].kappa > 0 && now_[a].status != Status::open) totalSlip_[a] += (dim_ == 2 ? corners_[a].slip.x() : corners_[a].slip.norm()) / corners_[a].kappa;
}

PairResultant Pair::resultant(const Configuration& c) {
  PairResultant r;
  std::vector<Contribution> parts;
  integrate(c, &parts, nullptr);
  std::vector<char> onSlave(size_t(dim_) * c.x->size(), 0);
  for (const auto& s : setup_.slave.sides)
    for (int i = 0; i < s.nodes; ++i)
      for (int k = 0; k < dim_; ++k) onSlave[size_t(dim_ * s.node[size_t(i)] + k)] = 1;
  for (size_t a = 0; a < corners_.size(); ++a) {
    const auto& k = corners_[a];
    const auto& s = now_[a];
    for (size_t i = 0; i < k.dofs.size(); ++i) {
      const auto d = size_t(k.dofs[i]);
      if (d >= onSlave.size() || !onSlave[d]) continue;
      const auto I = Eigen::Index(i);
      r.normalForce[int(d) % dim_] -= s.pressure * k.row(I, 2);    // residual is minus the force on the slave
      for (int t = 0; k.row.cols() > 3 && t < tangents_; ++t) r.frictionForce[int(d) % dim_] -= k.row(I, 3 + tangents_ + t) * s.friction[t];
    }
    const double taken = interference_ - oldInterference_ + (resolves_ ? initialOverlap_[a] * (resolved_ - oldResolved_) : 0);
    r.overlapWork += 0.5 * (s.pressure + old_[a].pressure) * taken * k.kappa;
    if (s.status == Status::open) continue;
    r.area += k.kappa;
    r.pressureIntegral += s.pressure * k.kappa;
    r.frictionIntegral += (dim_ == 2 ? s.friction.x() : s.friction.norm()) * k.kappa;
    r.greatestPressure = std::max(r.greatestPressure, s.pressure);
    r.greatestPenetration = std::max(r.greatestPenetration, -(gap_[a] + offset(a)));
    r.slipWork += 0.5 * (s.friction + oldFriction_[a]).dot(k.slip);
  }
  r.force = r.normalForce + r.frictionForce;
  return r;
}

std::vector<double> Pair::save() const {
  std::vector<double> v{oldInterference_, oldResolved_};
  for (size_t a = 0; a < old_.size(); ++a) {
    const auto& o = old_[a];
    v.insert(v.end(), {o.pressure, o.friction.x(), o.friction.y(), o.friction.z(), double(int(o.status)), closed_[a], initialOverlap_[a], totalSlip_[a]});
  }
  return v;
}

void Pair::restore(const std::vector<double>& v) {
  if (v.size() != 2 + 8 * old_.size()) throw Error("the stored contact state does not fit this mesh", setup_.name, "Run from the start.");
  for (size_t a = 0; a < old_.size(); ++a) {
    const double* p = v.data() + 2 + 8 * a;
    old_[a] = {p[0], {p[1], p[2], p[3]}, Status(int(p[4]))};
    closed_[a] = p[5], initialOverlap_[a] = p[6], totalSlip_[a] = p[7];
  }
  now_ = old_, oldInterference_ = v[0], oldResolved_ = v[1];
}

}  // namespace anvil::contact
