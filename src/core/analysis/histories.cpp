#include "core/analysis/histories.hpp"

#include "core/analysis/run.hpp"

namespace anvil::analysis {

static std::string motionPrefix(const Motion& m) { return (m.support ? "supports/" : "motions/") + m.name + "/"; }

/// Motions of one name share their sums: only the first writes them.
static bool firstOfName(const Problem& p, size_t i) {
  for (size_t j = 0; j < i; ++j)
    if (p.motions[j].name == p.motions[i].name && p.motions[j].support == p.motions[i].support) return false;
  return true;
}

std::vector<std::string> historyNames(const Problem& p) {
  std::vector<std::string> names;
  const std::string a = p.axis(0), b = p.axis(1);
  for (size_t i = 0; i < p.motions.size(); ++i) {
    if (!firstOfName(p, i)) continue;
    const auto prefix = motionPrefix(p.motions[i]);
    names.insert(names.end(), {prefix + "force " + a, prefix + "force " + b, prefix + "travel"});
    if (p.motions[i].rigid >= 0) names.push_back(prefix + "moment");
  }
  for (const auto& l : p.loads) names.push_back("loads/" + l.name + "/value");
  for (const auto& pair : p.pairs) {
    const auto prefix = "contacts/" + pair.setup().name + "/";
    for (const std::string& q : {"force " + a, "force " + b, "normal force " + a, "normal force " + b, "friction force " + a, "friction force " + b})
      names.push_back(prefix + q);
    for (const char* q : {"area", "mean pressure", "greatest pressure", "pressure times area", "friction times area", "greatest penetration", "friction work"})
      names.push_back(prefix + q);
  }
  for (const auto& w : p.watch) names.insert(names.end(), {"watch/" + w.name + "/u" + a, "watch/" + w.name + "/u" + b});
  for (const char* e : {"external work", "strain", "plastic", "friction", "stabilisation", "imbalance"}) names.push_back(std::string("energy/") + e);
  names.push_back("plasticity/greatest plastic strain");
  return names;
}

static Point2 sumOver(const std::vector<int>& nodes, const VectorXd& v) {
  Point2 sum(0, 0);
  for (int n : nodes) sum += v.segment<2>(2 * n);
  return sum;
}

std::vector<double> historyRow(Problem& p, const VectorXd& u, const VectorXd& reaction, const contact::Configuration& c, const Energies& energies,
                               int step, double time) {
  std::vector<double> row;
  for (size_t i = 0; i < p.motions.size(); ++i) {
    if (!firstOfName(p, i)) continue;
    const auto& m = p.motions[i];
    if (m.rigid >= 0) {
      const int dof = p.rigidDof(m.rigid, 0);
      row.insert(row.end(), {reaction[dof], reaction[dof + 1], u[dof + m.rigidAxis], reaction[dof + 2]});
    } else {
      const Point2 force = sumOver(m.nodes, reaction);
      double travel = 0;
      for (size_t k = 0; k < m.nodes.size(); ++k) travel += u.segment<2>(2 * m.nodes[k]).dot(m.direction[k]) / double(m.nodes.size());
      row.insert(row.end(), {force.x(), force.y(), travel});
    }
  }
  for (const auto& l : p.loads) row.push_back(l.course.active[size_t(step)] ? l.course.curve(time) : 0);
  for (auto& pair : p.pairs) {
    const auto r = pair.resultant(c);
    row.insert(row.end(), {r.force.x(), r.force.y(), r.normalForce.x(), r.normalForce.y(), r.frictionForce.x(), r.frictionForce.y(), r.area,
                           r.area > 0 ? r.pressureIntegral / r.area : 0, r.greatestPressure, r.pressureIntegral, r.frictionIntegral,
                           r.greatestPenetration, r.slipWork});
  }
  for (const auto& w : p.watch) row.insert(row.end(), {u[2 * w.node], u[2 * w.node + 1]});
  row.insert(row.end(), {energies.external, energies.strain, energies.plastic, energies.friction, energies.stabilisation, energies.balance()});
  return row;
}

}  // namespace anvil::analysis
