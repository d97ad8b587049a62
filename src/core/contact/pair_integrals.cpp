// What a contact's sides bring, gathered at its corners.
#include <algorithm>
#include <unordered_map>

#include "core/base/parallel.hpp"
#include "core/contact/pair.hpp"
#include "core/contact/side_integral.hpp"

namespace anvil::contact {
namespace {

/// What slave sides meet: integrals, and the facing sides that each is with.
struct Found {
  std::vector<std::vector<SideIntegral>> integrals;
  std::vector<std::vector<int>> with;
};

/// Whether a side lies opposite others all over, so that what slides off the one slides on to the next. Outlines of quadratic
/// faces that are not quite convex lose slivers in clipping.
bool isCovered(const std::vector<Meeting>& meetings) {
  double covered = 0;
  for (const auto& m : meetings) covered += m.points.covered;
  return covered > 1 - 1e-3;
}

/// How a side is integrated: `awake`, as it is asked for; `holding`, over points found before.
enum : char { awake, asleep, woken, holding };

/// Finds what sides share that are not known, as they are or were at the start of the increment. Of then only what holds counts,
/// not what had gone through.
void findMeetings(const SideContext& context, const std::vector<std::vector<int>>& facing, const std::vector<char>& known,
                  bool atStart, std::vector<std::vector<Meeting>>& meetings) {
  forEach(
      known.size(),
      [&](size_t s) {
        if (known[s]) return;
        meetings[s].clear();
        for (int m : facing[s])
          if (auto shared = pointsShared(context, s, m, atStart); !shared.points.empty() || (!atStart && !shared.empty()))
            meetings[s].push_back({m, std::move(shared)});
      },
      8);
}

}  // namespace

/// In space most of the work is the slopes of the integrals, and they are needed only where something touches or is about to.
/// Sides that are open all over are looked at by their values first; those of which a corner may close in this evaluation are
/// woken.
void Pair::integrate(const Configuration& c, std::vector<Contribution>* out, double* leastGap, Wanted wanted) {
  const auto& sides = setup_.slave.sides;
  const SideContext context{setup_, c, hasFriction(), [this](int corner) -> const NodeState& { return now_[size_t(corner)]; }};
  const bool inSpace = !met_.empty();
  search(context);
  auto kinds = sidesHeld(context);
  if (inSpace) meet(context, kinds);
  if (dim_ == 3 && !keeps())
    for (size_t s = 0; s < sides.size(); ++s) {
      const auto rests = [&](int A) {
        const auto& state = now_[size_t(A)];
        return state.status == Status::open && state.pressure == 0 && state.friction.isZero(0);
      };
      if (std::all_of(sides[s].corner.begin(), sides[s].corner.begin() + sides[s].corners, rests)) kinds[s] = asleep;
    }
  Found met;
  met.integrals.resize(sides.size()), met.with.resize(sides.size());
  const auto ofKind = [&](char kind, Wanted what) {
    forEach(
        sides.size(),
        [&](size_t s) {
          if (kinds[s] != kind) return;
          met.integrals[s].clear(), met.with[s].clear();
          const auto take = [&](int m, SideIntegral&& l) {
            if (l.touched || l.leastGap < 1e300 || l.lookedOver[0] > 0)
              met.integrals[s].push_back(std::move(l)), met.with[s].push_back(m);
          };
          if (!inSpace) {
            for (int m : facing_[s]) take(m, integrateSide(context, s, m, what));
            return;
          }
          const auto& meetings = kind == holding ? held_[s] : met_[s];
          const auto follow = kind == holding ? Follow::held : isCovered(meetings) ? Follow::sliding : Follow::anew;
          for (const auto& m : meetings) take(m.facing, integrateMeeting(context, s, m, follow, what));
        },
        8);
  };
  ofKind(awake, wanted), ofKind(holding, wanted);
  if (std::find(kinds.begin(), kinds.end(), char(asleep)) != kinds.end()) {
    ofKind(asleep, Wanted::distance);
    const auto near = mayClose(met.integrals);
    for (size_t s = 0; s < sides.size(); ++s)
      if (kinds[s] == asleep && std::any_of(sides[s].corner.begin(), sides[s].corner.begin() + sides[s].corners,
                                            [&](int A) { return near[size_t(A)]; }))
        kinds[s] = woken;
    ofKind(woken, wanted);
  }
  gather(met.integrals, wanted, out, leastGap);
  recovered_.assign(corners_.size(), {}), opposite_.assign(setup_.master.corners.size(), {});
  for (size_t s = 0; s < sides.size(); ++s)
    for (size_t k = 0; k < met.integrals[s].size(); ++k)
      if (met.integrals[s][k].touched) recover(sides[s], met.with[s][k], met.integrals[s][k]);
  for (size_t a = 0; a < corners_.size(); ++a) {
    const auto& k = corners_[a];
    gap_[a] = k.kappa > 0 ? k.gap / k.kappa : k.lookedOver > 0 ? k.distance / k.lookedOver : setup_.reach;
    seen_[a] = k.lookedOver > 0;
  }
  turnOldFriction(c, wanted == Wanted::slopes);
}

/// Sides all over which the bodies hold each other: tied, or sticking since before the increment. What they have in common is
/// found once, as it was at the increment's start; a side on which a corner lets go is integrated anew for the rest of it.
std::vector<char> Pair::sidesHeld(const SideContext& context) {
  const auto& sides = setup_.slave.sides;
  std::vector<char> kinds(sides.size(), awake);
  if (held_.empty() || soft_ || !active_ || setup_.behaviour == Behaviour::sliding) return kinds;
  std::vector<Point3> from;
  for (const auto* surface : {&setup_.slave, &setup_.master})
    for (int node : surface->corners) from.push_back(context.place.place(node, true));
  if (from != heldFrom_) heldFrom_ = std::move(from), held_.assign(sides.size(), {});
  const auto holds = [&](int corner) {
    const auto A = size_t(corner);
    return setup_.behaviour == Behaviour::tied ||
           (now_[A].status == Status::sticking && old_[A].status == Status::sticking && !fresh_[A] && !reopened_[A]);
  };
  std::vector<char> unknown(sides.size(), 1);  // as `facingSides` is asked: 0 for those that are sought
  bool seeks = false;
  for (size_t s = 0; s < sides.size(); ++s) {
    const auto& side = sides[s];
    letGo_[s] |= !std::all_of(side.corner.begin(), side.corner.begin() + side.corners, holds);
    if (letGo_[s]) continue;
    kinds[s] = holding;
    if (held_[s].empty()) unknown[s] = 0, seeks = true;
  }
  if (!seeks) return kinds;
  findMeetings(context, facing_, unknown, true, held_);
  for (size_t s = 0; s < sides.size(); ++s)
    if (!unknown[s] && held_[s].empty()) kinds[s] = awake, letGo_[s] = 1;  // they do not meet
  return kinds;
}

/// Sees that all sides are known that may face each other, and notes where everything is. What was sought with a margin serves
/// until something has moved by half of it.
void Pair::search(const SideContext& context) {
  std::vector<Point3> at;
  at.reserve(2 * nodes_.size());
  for (int node : nodes_)
    for (const bool old : {false, true}) at.push_back(context.place.place(node, old));
  if (at != metAt_) metAt_ = std::move(at), metKnown_.assign(metKnown_.size(), 0);
  const double margin = 0.25 * setup_.slave.meanLength;
  bool serves = !facing_.empty();
  for (size_t i = 0; serves && i < metAt_.size(); ++i) serves = (metAt_[i] - facingFrom_[i]).squaredNorm() < margin * margin / 4;
  if (!serves) facing_ = facingSides(setup_, context.place, margin), facingFrom_ = metAt_;
}

/// Finds what sides meet that are not known yet where the bodies are now, and do not hold.
void Pair::meet(const SideContext& context, const std::vector<char>& kinds) {
  std::vector<char> known(metKnown_);
  for (size_t s = 0; s < known.size(); ++s) known[s] |= kinds[s] == holding;
  findMeetings(context, facing_, known, false, met_);
  for (size_t s = 0; s < known.size(); ++s) metKnown_[s] |= kinds[s] != holding;
}

/// Corners whose gap, less the most by which contact may yet begin early (meetWhereClosest), is all but closed.
std::vector<char> Pair::mayClose(const std::vector<std::vector<SideIntegral>>& met) const {
  const size_t n = corners_.size();
  std::vector<double> kappa(n, 0), gap(n, 0), closest(n, 1e300);
  for (size_t s = 0; s < met.size(); ++s)
    for (const auto& l : met[s])
      for (size_t a = 0; a < size_t(l.corners); ++a) {
        const auto A = size_t(setup_.slave.sides[s].corner[a]);
        kappa[A] += l.kappa[a], gap[A] += l.gap[a], closest[A] = std::min(closest[A], l.closest);
      }
  double early = 0;
  for (size_t a = 0; a < n; ++a)
    if (kappa[a] > 0 && closest[a] < 1e300) early = std::max(early, gap[a] / kappa[a] - closest[a]);
  std::vector<char> may(n, 0);
  for (size_t a = 0; a < n; ++a) {
    const double left = gap[a] + kappa[a] * (offset(a) + advance_[a] - std::max(advance_[a], early));
    may[a] = kappa[a] > 0 && left <= 0.02 * kappa[a] * setup_.slave.cornerLength[a];
  }
  return may;
}

/// Adds what the sides bring up at their corners, in a fixed order: the same for any number of threads.
void Pair::gather(std::vector<std::vector<SideIntegral>>& met, Wanted wanted, std::vector<Contribution>* out, double* leastGap) {
  const auto& sides = setup_.slave.sides;
  std::vector<std::unordered_map<int, Eigen::Index>> index(corners_.size());
  std::vector<Eigen::Index> places;  // of each integral's dofs among those of its corners, one after the other
  for (auto& k : corners_) k.dofs.clear(), k.kappa = k.gap = k.lookedOver = k.distance = 0, k.slip.setZero();
  const int T = tangents_;
  for (size_t s = 0; s < sides.size(); ++s)
    for (const auto& l : met[s]) {
      if (!l.touched || wanted < Wanted::rows) continue;
      for (size_t a = 0; a < size_t(l.corners); ++a) {
        const size_t A = size_t(sides[s].corner[a]);
        auto& dofs = corners_[A].dofs;
        for (size_t i = 0; i < l.dofs.size(); ++i) {
          const int dof = l.dofs[i];
          const size_t next = i > 0 && dof == l.dofs[i - 1] + 1 ? size_t(places.back()) + 1 : dofs.size();  // of the same node
          if (next < dofs.size() && dofs[next] == dof) {
            places.push_back(Eigen::Index(next));
            continue;
          }
          const auto [known, isNew] = index[A].try_emplace(dof, Eigen::Index(dofs.size()));
          if (isNew) dofs.push_back(dof);
          places.push_back(known->second);
        }
      }
    }
  const bool friction = dim_ == 2 || hasFriction();
  for (auto& k : corners_) k.row = Eigen::MatrixXd::Zero(Eigen::Index(k.dofs.size()), 3 + (friction ? 2 * T : 0));
  closest_.assign(corners_.size(), 1e300);
  size_t place = 0;
  for (size_t s = 0; s < sides.size(); ++s)
    for (auto& l : met[s]) {
      for (size_t a = 0; a < size_t(l.corners); ++a) {
        double& closest = closest_[size_t(sides[s].corner[a])];
        closest = std::min(closest, l.closest);
      }
      if (leastGap) *leastGap = std::min(*leastGap, l.leastGap);
      for (size_t a = 0; a < size_t(l.corners); ++a) {
        auto& k = corners_[size_t(sides[s].corner[a])];
        k.lookedOver += l.lookedOver[a], k.distance += l.distance[a];
      }
      if (!l.touched) continue;
      for (size_t a = 0; a < size_t(l.corners); ++a) {
        const size_t A = size_t(sides[s].corner[a]);
        auto& k = corners_[A];
        k.kappa += l.kappa[a], k.gap += l.gap[a], k.slip += l.slip[a];
        const auto col = Eigen::Index(a);
        for (size_t i = 0; i < l.dofs.size() && wanted >= Wanted::rows; ++i) {
          auto row = k.row.row(places[place++]);
          const auto I = Eigen::Index(i);
          row[2] += l.normal(I, col);
          for (int t = 0; friction && t < T; ++t) row[3 + T + t] += l.tangential(I, T * col + t);
          if (l.dKappa.size() == 0) continue;
          row[0] += l.dKappa(I, col), row[1] += l.dGap(I, col);
          for (int t = 0; friction && t < T; ++t) row[3 + t] += l.dSlip(I, T * col + t);
        }
      }
      if (out && !l.dofs.empty() && l.force.cwiseAbs().maxCoeff() > 0) {
        Contribution part;
        part.dofs = std::move(l.dofs), part.condensed = Eigen::VectorXd::Zero(l.force.size());
        part.force = std::move(l.force), part.stiffness = std::move(l.stiffness);
        out->push_back(std::move(part));
      }
    }
}

void Pair::recover(const Side& side, int facing, const SideIntegral& l) {
  for (int A = 0; A < l.corners; ++A) {
    auto& r = recovered_[size_t(side.corner[size_t(A)])];
    r.area += l.kappa[size_t(A)];
    for (int B = 0; B < l.corners; ++B) {
      const auto& state = now_[size_t(side.corner[size_t(B)])];
      r.pressure += l.mass(A, B) * state.pressure, r.friction += l.mass(A, B) * state.friction;
    }
  }
  if (facing < 0) return;
  const auto& other = setup_.master.sides[size_t(facing)];
  for (int B = 0; B < other.corners; ++B) {
    auto& r = opposite_[size_t(other.corner[size_t(B)])];
    r.area += l.area[B];
    for (int A = 0; A < l.corners; ++A) {
      const auto& state = now_[size_t(side.corner[size_t(A)])];
      r.pressure += l.onMaster(B, A) * state.pressure, r.friction -= l.onMaster(B, A) * state.friction;
      if (l.kappa[size_t(A)] > 0) r.gap += l.onMaster(B, A) * l.gap[size_t(A)] / l.kappa[size_t(A)];
      if (l.onMaster(B, A) > 1e-9 * l.area[B] && int(state.status) > int(r.status)) r.status = state.status;
    }
  }
}

}  // namespace anvil::contact
