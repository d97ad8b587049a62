#include "core/run/histories.hpp"
#include "core/run/bolt_parts.hpp"
#include "core/run/carrier_parts.hpp"
#include "core/run/hinges.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <set>

#include "core/run/run.hpp"

namespace anvil::analysis {

/// Motions of one name share their sums: only the first writes them.
static bool firstOfName(const Problem& p, size_t i) {
  for (size_t j = 0; j < i; ++j)
    if (p.motions[j].name == p.motions[i].name && p.motions[j].support == p.motions[i].support) return false;
  return true;
}

/// In axisymmetric models forces round the axis have no moment.
static bool hasMoment(const Problem& p) { return p.setting.space != element::Space::axisymmetric; }

/// A rigid part that something else than a motion moves.
static bool movesFreely(const Problem& p, int body) {
  const auto& loose = p.bodies[size_t(body)].loose;
  bool is = std::any_of(loose.begin(), loose.end(), [](bool b) { return b; });
  for (const auto& l : p.loads) is |= l.body == body;
  return is;
}

namespace {

/// Lists what is recorded, with its kind.
class Listing {
 public:
  explicit Listing(const Problem& p) : p_(p) {}
  void at(const std::string& place) { place_ = place; }
  void one(const std::string& quantity, Kind kind) { all_.push_back({place_, quantity, kind}); }
  void perAxis(const std::string& quantity, Kind kind) {
    for (int k = 0; k < p_.dim(); ++k) one(quantity + p_.axis(k), kind);
  }
  /// About each axis in space, about z in the plane.
  void turning(const std::string& quantity, Kind kind) {
    if (p_.dim() == 3)
      perAxis(quantity + " ", kind);
    else
      one(quantity, kind);
  }
  std::vector<Recorded> done() { return std::move(all_); }

 private:
  const Problem& p_;
  std::string place_;
  std::vector<Recorded> all_;
};

}  // namespace

std::vector<Recorded> histories(const Problem& p) {
  Listing list(p);
  for (size_t i = 0; i < p.motions.size(); ++i) {
    if (!firstOfName(p, i)) continue;
    const auto& m = p.motions[i];
    list.at((m.support ? "supports/" : "motions/") + m.name);
    list.perAxis("force ", Kind::force);
    list.one("travel", m.turn || m.anyAxis || m.bodyAxis >= p.dim() ? Kind::angle : Kind::length);
    if (hasMoment(p)) list.turning("moment", Kind::moment);
  }
  for (const auto& l : p.loads)
    list.at("loads/" + l.name), list.one("value", l.perLength  ? Kind::lineForce
                                                  : l.moment   ? Kind::moment
                                                  : l.pressure ? Kind::stress
                                                               : Kind::force);
  for (const auto& pair : p.pairs) {
    list.at("contacts/" + pair.setup().name);
    list.perAxis("force ", Kind::force), list.perAxis("normal force ", Kind::force), list.perAxis("friction force ", Kind::force);
    if (hasMoment(p)) list.turning("moment", Kind::moment);
    list.one("area", Kind::area), list.one("mean pressure", Kind::stress), list.one("greatest pressure", Kind::stress);
    list.one("pressure times area", Kind::force), list.one("friction times area", Kind::force),
        list.one("greatest penetration", Kind::length);
    list.one("friction work", Kind::work);
  }
  for (const auto& c : p.carriers) {
    if (c.ofBolt) continue;
    list.at("carriers/" + c.name);
    list.perAxis("u", Kind::length), list.perAxis("force ", Kind::force), list.turning("turn", Kind::angle),
        list.turning("moment", Kind::moment);
  }
  for (const auto& b : p.bolts) {
    list.at("bolts/" + b.name);
    list.one("force", Kind::force), list.one("shear force", Kind::force), list.one("bending moment", Kind::moment),
        list.one("shortening", Kind::length);
  }
  for (size_t b = 0; b < p.rigid.size(); ++b) {  // rigid parts that loads or contact may move
    if (!movesFreely(p, int(b))) continue;
    list.at("bodies/" + p.bodies[b].name), list.perAxis("u", Kind::length), list.turning("turn", Kind::angle);
  }
  for (const auto& s : p.springs) {
    list.at("springs/" + s.name);
    list.one("extension", s.turning ? Kind::angle : Kind::length), list.one("force", s.turning ? Kind::moment : Kind::force);
  }
  for (const auto& w : p.watch) {
    list.at("watch/" + w.name), list.perAxis("u", Kind::length);
    if (w.body >= 0) list.turning("turn", Kind::angle);
  }
  list.at("energy");
  for (const char* e :
       {"external work", "strain", "plastic", "friction", "stabilisation", "springs", "dashpots", "thermal", "imbalance"})
    list.one(e, Kind::work);
  list.at("step"), list.one("share of the loading", Kind::number);
  list.at("balance"), list.one("force", Kind::number), list.one("moment", Kind::number);  // over what is pushed
  list.at("plasticity"), list.one("greatest plastic strain", Kind::number);
  return list.done();
}

std::vector<std::string> historyNames(const Problem& p) {
  std::vector<std::string> names;
  for (const auto& h : histories(p)) names.push_back(h.name());
  return names;
}

/// The point that moments of a motion or support are reported about.
static Vector3d momentPoint(const Problem& p, const Motion& m, const std::set<int>& nodes) {
  if (m.turn) return m.about;
  Vector3d low = Vector3d::Constant(1e300), high = -low;
  for (int n : nodes) low = low.cwiseMin(p.mesh.x[size_t(n)]), high = high.cwiseMax(p.mesh.x[size_t(n)]);
  return (low + high) / 2;
}

std::vector<double> historyRow(Problem& p, const Constraints& constraints, const VectorXd& u, const VectorXd& reaction,
                               const contact::Configuration& c, const Energies& energies, int step, const Instant& time) {
  std::vector<double> row;
  const VectorXd own = reaction - hingeForces(p, constraints.hinges(), u);
  const auto add = [&](const Vector3d& v) { row.insert(row.end(), v.data(), v.data() + p.dim()); };
  const auto addTurn = [&](const Vector3d& v) { row.insert(row.end(), v.data() + (p.dim() == 2 ? 2 : 0), v.data() + 3); };
  for (size_t i = 0; i < p.motions.size(); ++i) {
    if (!firstOfName(p, i)) continue;
    const auto& m = p.motions[i];
    const auto sameName = [&](const Motion& other) { return other.name == m.name && other.support == m.support; };
    std::set<int> nodes, bodies;  // of all motions of this name
    for (const auto& other : p.motions) {
      if (!sameName(other)) continue;
      nodes.insert(other.nodes.begin(), other.nodes.end()), nodes.insert(other.opposite.begin(), other.opposite.end());
      if (other.body >= 0) bodies.insert(other.body);
    }
    Vector3d force = Vector3d::Zero(), moment = force;
    for (int b : bodies) {
      if (!p.isNodeBody(b)) force += p.shiftOf(reaction, b);
      const Vector3d own = p.turnOf(reaction, b);
      moment += p.dim() == 2 || !p.setting.large ? own : contact::spatialMoment(p.turnOf(u, b), own);
    }
    const Vector3d about = momentPoint(p, m, nodes);
    const auto count = [&](int n, const Vector3d& f) {
      force += f, moment += (p.mesh.x[size_t(n)] + p.at(u, n) - about).cross(f);
    };
    for (int n : nodes)
      for (const auto& part : constraints.held(n, p.at(own, n)))
        if (sameName(p.motions[size_t(part.motion)])) count(n, part.force);
    for (const auto& h : constraints.hinges())
      for (const int n : {h.upper, h.lower})
        if (sameName(p.motions[size_t(h.motion)])) count(n, hingeForce(p, h.multiplier, h.direction, u));
    add(force);
    double travel = 0;
    for (size_t k = 0; k < m.nodes.size() && !m.turn; ++k) {
      const Vector3d other = p.at(u, m.opposite.empty() ? m.nodes[k] : m.opposite[k]);
      travel += (p.at(u, m.nodes[k]) + other).dot(m.direction[k]) / double(2 * m.nodes.size());
    }
    if (m.body >= 0 && !m.anyAxis) travel = u[p.rigidDof(m.body, m.bodyAxis)];
    row.push_back(m.turn || m.anyAxis ? time.of(m.course) : travel);
    if (!hasMoment(p)) continue;
    if (p.dim() == 2)
      row.push_back(moment.z());
    else
      add(moment);
  }
  for (const auto& l : p.loads) row.push_back(l.course.active[size_t(step)] ? time.of(l.course) : 0);
  for (auto& pair : p.pairs) {
    const auto r = pair.resultant(c);
    const double sense = pair.setup().swapped ? -1 : 1;  // sums are on the side that carries the unknowns
    add(sense * r.force), add(sense * r.normalForce), add(sense * r.frictionForce);
    if (p.dim() == 3)
      add(sense * r.moment);
    else if (hasMoment(p))
      row.push_back(sense * r.moment.z());
    row.insert(row.end(), {r.area, r.area > 0 ? r.pressureIntegral / r.area : 0, r.greatestPressure, r.pressureIntegral,
                           r.frictionIntegral, r.greatestPenetration, r.slipWork});
  }
  const auto bodyRow = [&](int b, const CarrierResultant* on) {
    add(p.shiftOf(u, b));
    if (on) add(on->force);
    addTurn(p.turnOf(u, b));
    if (on) addTurn(on->moment);
  };
  for (const auto& carrier : p.carriers) {
    if (carrier.ofBolt) continue;
    const auto r = carrierResultant(p, carrier, u);
    bodyRow(carrier.body, &r);
  }
  for (const auto& b : p.bolts) {
    const auto r = boltResultant(p, b, u);
    row.insert(row.end(), {r.force, r.shear, r.bending, r.shortening});
  }
  for (size_t b = 0; b < p.rigid.size(); ++b)
    if (movesFreely(p, int(b))) bodyRow(int(b), nullptr);
  for (const auto& s : p.springs) {
    const double e = springExtension(p, s, u);
    row.push_back(e), row.push_back(springLaw(s.force, e).force);
  }
  for (const auto& w : p.watch) {
    add(p.at(u, w));
    if (w.body >= 0) addTurn(p.turnOf(u, w.body));
  }
  row.insert(row.end(), {energies.external, energies.strain, energies.plastic, energies.friction, energies.stabilisation,
                         energies.springs, energies.dashpots, energies.thermal, energies.balance()});
  row.push_back(time.stepShare());
  return row;
}

}  // namespace anvil::analysis
