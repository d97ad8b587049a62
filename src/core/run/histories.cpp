#include "core/run/histories.hpp"
#include "core/run/bolt_parts.hpp"
#include "core/run/carrier_parts.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <set>

#include "core/run/run.hpp"

namespace anvil::analysis {

static std::string motionPrefix(const Motion& m) { return (m.support ? "supports/" : "motions/") + m.name + "/"; }

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

std::vector<std::string> historyNames(const Problem& p) {
  std::vector<std::string> names;
  const auto perAxis = [&](const std::string& what) {
    for (int k = 0; k < p.dim(); ++k) names.push_back(what + p.axis(k));
  };
  for (size_t i = 0; i < p.motions.size(); ++i) {
    if (!firstOfName(p, i)) continue;
    const auto prefix = motionPrefix(p.motions[i]);
    perAxis(prefix + "force ");
    names.push_back(prefix + "travel");
    if (!hasMoment(p)) continue;
    if (p.dim() == 3)
      perAxis(prefix + "moment ");
    else
      names.push_back(prefix + "moment");
  }
  for (const auto& l : p.loads) names.push_back("loads/" + l.name + "/value");
  for (const auto& pair : p.pairs) {
    const auto prefix = "contacts/" + pair.setup().name + "/";
    perAxis(prefix + "force "), perAxis(prefix + "normal force "), perAxis(prefix + "friction force ");
    if (p.dim() == 3)
      perAxis(prefix + "moment ");
    else if (hasMoment(p))
      names.push_back(prefix + "moment");
    for (const char* q : {"area", "mean pressure", "greatest pressure", "pressure times area", "friction times area",
                          "greatest penetration", "friction work"})
      names.push_back(prefix + q);
  }
  for (const auto& c : p.carriers) {
    if (c.ofBolt) continue;
    const auto prefix = "carriers/" + c.name + "/";
    perAxis(prefix + "u"), perAxis(prefix + "force ");
    if (p.dim() == 3)
      perAxis(prefix + "turn "), perAxis(prefix + "moment ");
    else
      names.push_back(prefix + "turn"), names.push_back(prefix + "moment");
  }
  for (const auto& b : p.bolts)
    for (const char* what : {"force", "shear force", "bending moment", "shortening"})
      names.push_back("bolts/" + b.name + "/" + what);
  for (size_t b = 0; b < p.rigid.size(); ++b) {  // rigid parts that loads or contact may move
    const auto& body = p.bodies[b];
    if (!movesFreely(p, int(b))) continue;
    perAxis("bodies/" + body.name + "/u");
    if (p.dim() == 3)
      perAxis("bodies/" + body.name + "/turn ");
    else
      names.push_back("bodies/" + body.name + "/turn");
  }
  for (const auto& s : p.springs)
    names.push_back("springs/" + s.name + "/extension"), names.push_back("springs/" + s.name + "/force");
  for (const auto& w : p.watch) perAxis("watch/" + w.name + "/u");
  for (const char* e :
       {"external work", "strain", "plastic", "friction", "stabilisation", "springs", "dashpots", "thermal", "imbalance"})
    names.push_back(std::string("energy/") + e);
  names.push_back("step/share of the loading");
  names.push_back("balance/force"), names.push_back("balance/moment");
  names.push_back("plasticity/greatest plastic strain");
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
  const auto add = [&](const Vector3d& v) { row.insert(row.end(), v.data(), v.data() + p.dim()); };
  for (size_t i = 0; i < p.motions.size(); ++i) {
    if (!firstOfName(p, i)) continue;
    const auto& m = p.motions[i];
    if (m.body >= 0) {
      const int dof = p.rigidDof(m.body, 0);
      Vector3d force = Vector3d::Zero();
      for (int k = 0; k < p.dim(); ++k) force[k] = reaction[dof + k];
      add(force);
      row.push_back(m.anyAxis ? time.of(m.course) : u[dof + m.bodyAxis]);
      if (!hasMoment(p)) continue;
      if (p.dim() == 2)
        row.push_back(reaction[dof + 2]);
      else
        add(contact::spatialMoment(u.segment<3>(dof + 3), reaction.segment<3>(dof + 3)));
      continue;
    }
    const auto sameName = [&](const Motion& other) { return other.name == m.name && other.support == m.support; };
    std::set<int> nodes;  // of all motions of this name
    for (const auto& other : p.motions)
      if (sameName(other)) nodes.insert(other.nodes.begin(), other.nodes.end());
    Vector3d force = Vector3d::Zero(), moment = force;
    const Vector3d about = momentPoint(p, m, nodes);
    for (int n : nodes)
      for (const auto& part : constraints.held(n, p.at(reaction, n)))
        if (sameName(p.motions[size_t(part.motion)]))
          force += part.force, moment += (p.mesh.x[size_t(n)] + p.at(u, n) - about).cross(part.force);
    add(force);
    double travel = 0;
    for (size_t k = 0; k < m.nodes.size() && !m.turn; ++k)
      travel += p.at(u, m.nodes[k]).dot(m.direction[k]) / double(m.nodes.size());
    row.push_back(m.turn ? time.of(m.course) : travel);
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
    const int dof = p.rigidDof(b, 0);
    row.insert(row.end(), u.data() + dof, u.data() + dof + p.dim());
    if (on) add(on->force);
    row.insert(row.end(), u.data() + dof + p.dim(), u.data() + dof + p.rigidSize());
    if (on && p.dim() == 3)
      add(on->moment);
    else if (on)
      row.push_back(on->moment.z());
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
  for (const auto& w : p.watch) add(p.at(u, w.node));
  row.insert(row.end(), {energies.external, energies.strain, energies.plastic, energies.friction, energies.stabilisation,
                         energies.springs, energies.dashpots, energies.thermal, energies.balance()});
  row.push_back(time.stepShare());
  return row;
}

}  // namespace anvil::analysis
