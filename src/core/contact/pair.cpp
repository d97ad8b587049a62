#include "core/contact/pair.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/error.hpp"
#include "core/contact/side_integral.hpp"

namespace anvil::contact {

Pair::Pair(PairSetup setup) : setup_(std::move(setup)) {
  const size_t n = setup_.slave.corners.size();
  dim_ = setup_.slave.sides.empty() || setup_.slave.sides.front().corners == 2 ? 2 : 3;
  tangents_ = dim_ == 2 ? 1 : 3;
  const double h = setup_.slave.meanLength;
  const double young = setup_.rigid >= 0 ? setup_.slave.young : std::min(setup_.slave.young, setup_.master.young);
  hardest_ = epsilon_ = 1e3 * young / h, young_ = young;
  if (setup_.rigid < 0) stiffness_ = 1 / (0.91 * (1 / setup_.slave.young + 1 / setup_.master.young));  // plane strain modulus
  old_.resize(n), now_.resize(n), base_.resize(n);
  for (auto* v : {&stepN_, &closed_, &initialOverlap_, &gap_, &totalSlip_, &advance_, &oldAdvance_, &curved_}) v->assign(n, 0);
  for (auto* v : {&stepT_, &direction_, &oldFriction_}) v->assign(n, Point3::Zero());
  seen_.assign(n, false), reopened_.assign(n, false), fresh_.assign(n, false), flips_.assign(n, 0);
  corners_.resize(n);
  if (setup_.rigid >= 0) return;
  std::set<int> nodes;
  for (const auto* surface : {&setup_.slave, &setup_.master})
    for (const auto& side : surface->sides) nodes.insert(side.node.begin(), side.node.begin() + side.nodes);
  nodes_.assign(nodes.begin(), nodes.end());
  if (dim_ == 2) return;
  const size_t sides = setup_.slave.sides.size();
  if (!setup_.self) held_.resize(sides), letGo_.assign(sides, 0);
  met_.resize(sides), metKnown_.assign(sides, 0);
}

double Pair::offset(size_t a) const {
  return closed_[a] + (resolves_ ? initialOverlap_[a] * (1 - resolved_) : 0) - interference_ - advance_[a];
}

/// Where the contact is too small for the mesh (advance_), a corner's pressure is in truth that of a smaller, steeper contact,
/// which yields more than the element does. For round bodies of curvature 1/R and stiffness E* (H. Hertz; K. Johnson, Contact
/// Mechanics, 1985, ch. 3 and 4) the difference between (3F/4E*√R)^(2/3) and 0.95 F/E*b, uniform pressure over the corner's
/// area b², grows to 0.094 b²/R, half of the advance, two thirds of that by a quarter of the force: a straight line and a stop.
Pair::Compliance Pair::compliance(size_t a) const {
  const double p = now_[a].pressure, most = advance_[a] / 2, layer = 0.5 * p * p / epsilon_;
  if (most <= 0) return {p / epsilon_, 1 / epsilon_, layer};
  const double slope = 1.25 * setup_.slave.cornerLength[a] / stiffness_;
  if (slope * p >= most) return {p / epsilon_ + most, 1 / epsilon_, layer + 0.5 * most * most / slope};
  return {p / epsilon_ + slope * p, 1 / epsilon_ + slope, layer + 0.5 * slope * p * p};
}

std::vector<Shown> Pair::shown() const {
  std::vector<Shown> all(corners_.size());
  for (size_t a = 0; a < all.size(); ++a) {
    const auto& r = recovered_[a];
    all[a] = {r.area > 0 ? r.pressure / r.area : 0,
              r.area,
              r.area > 0 ? Point3(r.friction / r.area) : Point3::Zero(),
              now_[a].status,
              gap_[a] + offset(a) + advance_[a] - oldAdvance_[a],  // as the increment saw it, also when it is accepted already
              totalSlip_[a]};
  }
  return all;
}

std::vector<Shown> Pair::shownOpposite() const {
  std::vector<Shown> all(opposite_.size());
  for (size_t b = 0; b < all.size(); ++b) {
    const auto& r = opposite_[b];
    if (r.area > 0)
      all[b] = {r.pressure / r.area, r.area, r.friction / r.area, r.status, r.gap / r.area, 0};
    else
      all[b].gap = setup_.reach;
  }
  return all;
}

double Pair::greatestClosing() const {
  double most = 0;
  for (double c : closed_) most = std::max(most, keeps() ? 0 : std::abs(c));
  return most;
}

/// Corners that look at the other face, in patches that hang together.
std::vector<std::vector<size_t>> Pair::patches() const {
  const size_t n = corners_.size();
  std::vector<std::vector<size_t>> beside(n), all;
  for (const auto& s : setup_.slave.sides)
    for (int i = 0; i < s.corners; ++i)
      for (int j = 0; j < s.corners; ++j)
        if (i != j) beside[size_t(s.corner[size_t(i)])].push_back(size_t(s.corner[size_t(j)]));
  std::vector<char> done(n, 0);
  for (size_t first = 0; first < n; ++first) {
    if (done[first] || !seen_[first]) continue;
    std::vector<size_t> patch{first};
    done[first] = 1;
    for (size_t k = 0; k < patch.size(); ++k)
      for (size_t b : beside[patch[k]])
        if (seen_[b] && !done[b]) done[b] = 1, patch.push_back(b);
    all.push_back(std::move(patch));
  }
  return all;
}

/// Gaps and overlaps up to `closeWithin` are closed. Where the faces fit each other all over, each corner by its own gap: what is
/// left of them is a matter of meshes. Where the gap grows on (a ball on a plate), by one shift, which leaves the shape of the
/// gap as it is, also where contact will spread to; it fades to nothing only where faces do not look for each other any more.
void Pair::closeSmoothly() {
  const double within = setup_.closeWithin;
  for (const auto& patch : patches()) {
    double least = 1e300;
    bool fits = true;
    for (size_t a : patch) {
      const double gap = gap_[a];
      if (std::abs(gap) <= within)
        least = std::min(least, gap);
      else if (gap > within)
        fits = false;
    }
    if (least > within) continue;  // nothing to close
    for (size_t a : patch) {
      const double far = std::clamp((gap_[a] - within) / std::max(setup_.reach - within, 1e-300), 0., 1.),
                   fade = 1 - far * far * (3 - 2 * far);
      if (fits)
        closed_[a] = std::abs(gap_[a]) <= within ? -gap_[a] : 0;
      else if (gap_[a] >= -within)
        closed_[a] = -least * fade;
    }
  }
}

/// Between two deformable bodies in space, patch by patch: the same advance for all corners of a patch, which leaves the shape of
/// the gap as it is. At the start it closes gaps and makes no overlap. From four touching corners to twelve it fades: bodies
/// have then flattened over whole faces, and their mean is what counts. Within an increment only patches that have not touched
/// yet are looked at: what touches keeps its advance until the increment's end.
void Pair::meetWhereClosest(When when) {
  const double few = 4, many = 12;
  if (dim_ == 2 || setup_.rigid >= 0 || setup_.behaviour != Behaviour::touching) return;
  const bool within = when == When::within;
  std::vector<double> curved(corners_.size(), 0), advance = curved;
  if (within) curved = curved_, advance = advance_;
  for (const auto& patch : patches()) {
    double mean = 1e300, closest = 1e300, before = 0, touching = 0, left = 1e300;
    bool touched = false, overlaps = false;
    for (size_t a : patch) {
      overlaps |= initialOverlap_[a] > 0;  // meets over whole faces, whose mean counts from the start
      touching += now_[a].status != Status::open, touched |= old_[a].status != Status::open;
      mean = std::min(mean, gap_[a]), closest = std::min(closest, closest_[a]), left = std::min(left, gap_[a] + closed_[a]);
      before = std::max(before, curved_[a]);
    }
    if (within && (touching > 0 || touched)) continue;
    double more = overlaps ? 0 : std::max(0., mean - closest);
    if (touching > 0) more = std::min(more, before);
    if (when == When::atStart) more = std::clamp(more, 0., std::max(left, 0.));
    for (size_t a : patch) curved[a] = more, advance[a] = more * std::clamp((many - touching) / (many - few), 0., 1.);
  }
  curved_ = std::move(curved), advance_ = std::move(advance);
}

Pair::Initial Pair::measureInitial(const Configuration& c) {
  Initial result;
  integrate(c, nullptr, &result.closest, Wanted::forces);
  for (size_t a = 0; a < corners_.size(); ++a) closed_[a] = 0, initialOverlap_[a] = 0;
  now_ = old_;
  if (setup_.closeWithin > 0) closeSmoothly();
  meetWhereClosest(When::atStart);
  oldAdvance_ = advance_;
  for (size_t a = 0; a < corners_.size(); ++a) {
    if (!seen_[a]) continue;
    result.leastGap = std::min(result.leastGap, gap_[a]);
    result.greatestGap = std::max(result.greatestGap, gap_[a]);
    ++result.nodes;
    const bool tie = keeps();
    if (tie) closed_[a] = -gap_[a];
    const double left = gap_[a] + closed_[a] - advance_[a];
    result.advance = std::max(result.advance, advance_[a]);
    if (left < 0 && gap_[a] < -setup_.closeWithin) initialOverlap_[a] = -left;
    // bodies that touch hold each other from the first iteration on
    if (tie || std::abs(left) <= 1e-6 * setup_.slave.meanLength) old_[a].status = Status::sliding;
  }
  return result;
}

void Pair::holdWhatTouches(const Configuration& c) {
  if (!active_) return;
  integrate(c, nullptr, nullptr, Wanted::forces);
  for (size_t a = 0; a < corners_.size(); ++a)
    if (old_[a].status == Status::open && seen_[a] && std::abs(gap_[a] + offset(a)) <= 1e-5 * setup_.slave.cornerLength[a])
      old_[a].status = Status::sliding, fresh_[a] = true;
  now_ = old_;
}

double Pair::shareToTouch(const Configuration& c, double depth) {
  if (!active_ || keeps()) return 1;
  const Eigen::VectorXd& start = *c.before;
  Configuration there = c;
  there.now = &start;
  integrate(there, nullptr, nullptr, Wanted::forces);
  const auto before = gap_;
  integrate(c, nullptr, nullptr, Wanted::forces);
  double share = 1;
  for (size_t a = 0; a < corners_.size(); ++a) {
    const double g0 = before[a] + offset(a), g1 = gap_[a] + offset(a);
    if (old_[a].status == Status::open && seen_[a] && g0 > 0 && g1 < -depth * setup_.slave.cornerLength[a])
      share = std::min(share, g0 / (g0 - g1));
  }
  return share;
}

constexpr double deep = 0.3;  // of the edge length

bool Pair::wentThrough(const Configuration& c) const {
  if (!active_ || keeps() || setup_.rigid < 0) return false;
  for (int s : sidesGoneThrough(setup_, c, deep)) {
    const auto& side = setup_.slave.sides[size_t(s)];
    bool open = true;
    for (int i = 0; i < side.corners; ++i) open = open && now_[size_t(side.corner[size_t(i)])].status == Status::open;
    if (open) return true;
  }
  return false;
}

bool Pair::goesThrough(const Configuration& c) {
  if (!active_ || keeps()) return false;
  integrate(c, nullptr, nullptr, Wanted::forces);
  for (size_t a = 0; a < corners_.size(); ++a)
    if (now_[a].status == Status::open && seen_[a] && gap_[a] + offset(a) < -deep * setup_.slave.cornerLength[a]) return true;
  return false;
}

PairReport Pair::evaluate(const Configuration& c, bool tangent, bool decides, std::vector<Contribution>& out) {
  if (soft_) {  // pressure by the gap alone
    integrate(c, nullptr, nullptr, Wanted::forces);
    for (size_t a = 0; a < corners_.size(); ++a) {
      const double gap = gap_[a] + offset(a);
      now_[a].pressure = seen_[a] && active_ && (keeps() || gap <= 1e-6 * setup_.slave.meanLength) ? -epsilon_ * gap : 0;
    }
  }
  leastGap_ = 1e300;
  integrate(c, &out, &leastGap_, tangent ? Wanted::slopes : Wanted::forces);
  const PairReport report = decides ? decide() : judge();
  if (tangent)
    for (size_t a = 0; a < corners_.size(); ++a) condense(a, out);
  return report;
}

PairReport Pair::decide() {
  meetWhereClosest(When::within);
  double largest = 0;
  for (const auto& s : now_) largest = std::max(largest, std::abs(s.pressure));
  int changes = 0, turned = 0, worst = -1;
  for (size_t a = 0; a < corners_.size(); ++a)
    if (const auto before = now_[a].status; decideNode(a, largest)) {
      ++changes, worst = setup_.slave.corners[a];
      turned += (before == Status::open) != (now_[a].status == Status::open);
    }
  PairReport report = judge();
  report.changes = changes, report.turned = turned, report.worstNode = worst;
  return report;
}

/// How well the conditions of the present status hold.
PairReport Pair::judge() const {
  PairReport report;
  report.leastGap = leastGap_;
  for (size_t a = 0; a < corners_.size(); ++a) {
    const auto& k = corners_[a];
    if (now_[a].status == Status::open || !(k.kappa > 0)) continue;
    ++report.active;
    double error = std::abs(gap_[a] + offset(a) + compliance(a).value);
    if (now_[a].status == Status::sticking) {
      ++report.sticking;
      if (setup_.behaviour == Behaviour::rough || setup_.behaviour == Behaviour::tied)
        error = std::max(error, (k.slip / k.kappa - (now_[a].friction - oldFriction_[a]) / epsilon_).norm());
    }
    report.gapError = std::max(report.gapError, error);
    const double force = k.kappa * young_ / setup_.slave.cornerLength[a] * error;
    report.violation += force * force;
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

bool Pair::releasePulling(std::vector<Contribution>& changes) {
  if (!active_ || keeps() || soft_) return false;
  double largest = 0;
  for (const auto& s : old_) largest = std::max(largest, s.pressure);
  for (size_t a = 0; a < corners_.size(); ++a) largest = std::max(largest, base_[a].pressure + stepN_[a]);
  bool any = false;
  for (size_t a = 0; a < corners_.size(); ++a) {
    if (now_[a].status == Status::open || !(base_[a].pressure + stepN_[a] < -0.3 * largest) || largest == 0) continue;
    const size_t first = changes.size();
    condense(a, changes);  // as it was: that is taken out again
    for (size_t i = first; i < changes.size(); ++i) changes[i].condensed *= -1, changes[i].left *= -1;
    now_[a].status = Status::open, reopened_[a] = true, any = true;
    condense(a, changes);
  }
  return any;
}

void Pair::step(double fraction) {
  for (size_t a = 0; a < corners_.size(); ++a) {
    now_[a].pressure = base_[a].pressure + fraction * stepN_[a];
    now_[a].friction = base_[a].friction + fraction * stepT_[a];
  }
}

void Pair::begin(bool turns) {
  turns_ = turns;
  now_ = old_;
  reopened_.assign(reopened_.size(), false), flips_.assign(now_.size(), 0);
  for (size_t a = 0; a < now_.size(); ++a) direction_[a] = now_[a].friction;
  letGo_.assign(letGo_.size(), 0);
}

void Pair::accept() {
  fresh_.assign(fresh_.size(), false);
  old_ = now_, oldInterference_ = interference_, oldResolved_ = resolved_, oldAdvance_ = advance_;
  softness_ = std::min(softness_ / 0.7, 1.);  // back again: what slides elastically meanwhile is friction missing afterwards
  for (size_t a = 0; a < corners_.size(); ++a)
    if (corners_[a].kappa > 0 && now_[a].status != Status::open)
      totalSlip_[a] += (dim_ == 2 ? corners_[a].slip.x() : corners_[a].slip.norm()) / corners_[a].kappa;
  if (active_) meetWhereClosest(When::after);
}

std::vector<Contribution> Pair::forces(const Configuration& c) {
  std::vector<Contribution> parts;
  integrate(c, &parts, nullptr, Wanted::forces);
  return parts;
}

PairResultant Pair::resultant(const Configuration& c) {
  PairResultant r;
  integrate(c, nullptr, nullptr, Wanted::rows);
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
      Point3 normal = Point3::Zero(), friction = Point3::Zero();  // residual is minus the force on the slave
      normal[int(d) % dim_] = -s.pressure * k.row(I, 2);
      for (int t = 0; k.row.cols() > 3 && t < tangents_; ++t)
        friction[int(d) % dim_] -= k.row(I, 3 + tangents_ + t) * s.friction[t];
      r.normalForce += normal, r.frictionForce += friction, r.moment += c.place(int(d) / dim_, false).cross(normal + friction);
    }
    if (s.status != Status::open) r.unresolvedEnergy += k.kappa * compliance(a).energy;
    const double advanced = old_[a].status == Status::open ? 0 : advance_[a] - oldAdvance_[a];
    const double taken =
        interference_ - oldInterference_ + advanced + (resolves_ ? initialOverlap_[a] * (resolved_ - oldResolved_) : 0);
    r.overlapWork += 0.5 * (s.pressure + old_[a].pressure) * taken * k.kappa;
    if (s.status == Status::open) continue;
    r.area += k.kappa;
    r.pressureIntegral += s.pressure * k.kappa;
    r.frictionIntegral += (dim_ == 2 ? s.friction.x() : s.friction.norm()) * k.kappa;
    r.greatestPressure = std::max(r.greatestPressure, recovered_[a].pressure / recovered_[a].area);
    r.greatestPenetration = std::max(r.greatestPenetration, -(gap_[a] + offset(a) + advance_[a]));
    r.slipWork += 0.5 * (s.friction + oldFriction_[a]).dot(k.slip);
  }
  r.force = r.normalForce + r.frictionForce;
  return r;
}

std::vector<double> Pair::save() const {
  std::vector<double> v{oldInterference_, oldResolved_, softness_};
  for (size_t a = 0; a < old_.size(); ++a) {
    const auto& o = old_[a];
    v.insert(v.end(), {o.pressure, o.friction.x(), o.friction.y(), o.friction.z(), double(int(o.status)), closed_[a],
                       initialOverlap_[a], totalSlip_[a], advance_[a], oldAdvance_[a], curved_[a]});
  }
  return v;
}

void Pair::restore(const std::vector<double>& v) {
  if (v.size() != 3 + 11 * old_.size())
    throw Error("the stored contact state belongs to another mesh or was written by another version of the program", setup_.name,
                "Run from the start.");
  for (size_t a = 0; a < old_.size(); ++a) {
    const double* p = v.data() + 3 + 11 * a;
    old_[a] = {p[0], {p[1], p[2], p[3]}, Status(int(p[4]))};
    closed_[a] = p[5], initialOverlap_[a] = p[6], totalSlip_[a] = p[7];
    advance_[a] = p[8], oldAdvance_[a] = p[9], curved_[a] = p[10];
  }
  now_ = old_, oldInterference_ = v[0], oldResolved_ = v[1], softness_ = v[2];
}

}  // namespace anvil::contact
