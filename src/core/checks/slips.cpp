#include "core/checks/slips.hpp"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/symmetry.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/timed_course.hpp"
#include "core/problem/problem.hpp"

namespace anvil::checks {
namespace {

void unusedMaterials(const model::Document& d, Report& r) {
  std::set<std::string> used;
  for (const auto& [name, part] : d.parts) used.insert(part.material);
  for (const auto& [name, bolt] : d.bolts)
    if (bolt.beam) used.insert(bolt.beam->material);
  for (const auto& own : d.materials.names())
    if (!used.contains(own))
      r.findings.push_back({false, "materials/" + own, "Nothing is made of the material '" + own + "'.",
                            "Give it to a part, or take it out.", "Take it out", [own](model::Document& doc) {
                              std::erase_if(doc.materials, [&](const auto& m) { return m.first == own; });
                            }});
}

/// Least yield stress of the parts that a load names; of all parts where it names regions.
double yieldUnder(const model::Load& load, const model::Document& d, const model::Quantities& q) {
  std::set<std::string> named;
  for (const auto& place : load.on)
    if (const auto part = place.substr(0, place.find('.')); d.parts.find(part)) named.insert(part);
  double least = 1e300;
  for (const auto& [name, part] : d.parts) {
    if (!named.empty() && !named.contains(name)) continue;
    if (const auto* m = d.materials.find(part.material); m && m->plastic)
      least = std::min(least, analysis::plasticLaw(*m, q, "materials/" + part.material).yieldAt(0));
  }
  return least;
}

void pressures(const model::Document& d, const model::Quantities& q, Report& r) {
  for (const auto& [name, load] : d.loads) {
    if (load.kind != "pressure") continue;
    double most = 0;
    for (double v : model::timed(load.course, Kind::stress, d, q, "loads/" + name + "/course").curve.y)
      most = std::max(most, std::abs(v));
    const double yield = yieldUnder(load, d, q);
    if (most > 3 * yield)
      r.findings.push_back({false, "loads/" + name + "/course",
                            "The pressure is " + shortNumber(most, 3) + " MPa, " + shortNumber(most / yield, 2) +
                                " times the yield stress of what it presses on.",
                            "Check its unit: 1 bar is 0.1 MPa, 1 ksi is 6.9 MPa."});
  }
}

/// Metals' moduli lie between 10 and 500 GPa, and they yield at less than a twentieth of that.
void moduli(const model::Document& d, const model::Quantities& q, Report& r) {
  for (const auto& [name, m] : d.materials) {
    if (!m.elastic.E.given() || m.rubber) continue;
    const std::string place = "materials/" + name;
    const double E = q(m.elastic.E, Kind::stress, place + "/elastic/E");
    if (E > 2e6)
      r.findings.push_back({false, place + "/elastic/E", "Young's modulus is " + shortNumber(E) + " MPa, more than any metal's.",
                            "Check the unit."});
    const double yield = m.plastic ? analysis::plasticLaw(m, q, place).yieldAt(0) : 0;
    if (yield > E / 20)
      r.findings.push_back({false, place + "/plastic",
                            "The yield stress is " + shortNumber(yield) + " MPa, over a twentieth of Young's modulus of " +
                                shortNumber(E) + " MPa" + (E > 20 && E < 600 ? ": is the modulus in GPa?" : "."),
                            "Check the units."});
  }
}

/// Up to its neck a bar's true stress rises by no less than itself per strain (A. Considère, 1885); engineering stress comes to
/// rest there. A table that ends early and almost level is doubted.
void levelTables(const model::Document& d, const model::Quantities& q, Report& r) {
  for (const auto& [name, m] : d.materials) {
    if (!m.plastic || m.plastic->rows.size() < 4 || m.plastic->stress != "true") continue;
    const std::string path = "materials/" + name + "/plastic/rows";
    const auto& rows = m.plastic->rows;
    const auto at = [&](size_t row, size_t k, Kind kind) { return q(rows[row][k], kind, path); };
    const auto slope = [&](size_t row) {  // over the stress, from the row before
      const double strain = at(row, 0, Kind::number) - at(row - 1, 0, Kind::number);
      return (at(row, 1, Kind::stress) - at(row - 1, 1, Kind::stress)) / strain / at(row, 1, Kind::stress);
    };
    const size_t last = rows.size() - 1;
    const double end = at(last, 0, Kind::number);
    if (end < 0.02 || end > 0.35 || slope(last) <= 0 || slope(last) > 0.3 || slope(1) < 2) continue;
    r.findings.push_back({false, path,
                          "The table is called true stress and comes to rest at a strain of " + shortNumber(end, 2) +
                              ", as engineering stress does at its greatest; true stress still rises steeply there.",
                          "Set \"stress\" to engineering if it comes from a tensile test as measured.",
                          "It is engineering stress",
                          [name = name](model::Document& doc) { doc.materials.find(name)->plastic->stress = "engineering"; }});
  }
}

/// A force on a point, edge or face that lies in a plane of symmetry is shared with the half that is not there.
void fullForces(const analysis::Problem& p, const model::Document& d, Report& r) {
  const auto planes = mesh::mirrorPlanes(d, p.mesh);
  if (planes.empty()) return;
  double size = 0;
  for (const auto& x : p.mesh.x) size = std::max(size, (x - p.mesh.x.front()).norm());
  for (const auto& [name, load] : d.loads) {
    if (load.kind != "force") continue;
    std::set<int> nodes;
    try {
      for (const auto& place : load.on) {
        if (place.find(" & ") != std::string::npos) {
          const auto m = analysis::meetingNamed(place, d, p.mesh, "");
          nodes.insert(m.nodes.begin(), m.nodes.end());
        } else {
          for (const auto& f : analysis::facetsOf({place}, d, p.mesh, ""))
            for (int n : p.mesh.nodesOf(f)) nodes.insert(n);
        }
      }
    } catch (const Error&) {
      continue;  // carriers and slender parts
    }
    const auto halved = [&](const model::Entry& e) { return e.text.find("/") != std::string::npos; };
    bool shared = halved(load.course.value);
    for (const auto& [step, stage] : load.course.stages) shared |= halved(stage.value);
    for (const auto& plane : planes) {
      const bool inPlane = !nodes.empty() && std::all_of(nodes.begin(), nodes.end(), [&](int n) {
        return std::abs(p.mesh.x[size_t(n)][plane.axis] - plane.at) < 1e-6 * size;
      });
      if (!inPlane || shared) continue;
      r.findings.push_back({false, "loads/" + name,
                            std::string("The force acts in the plane of symmetry ") + "xyz"[plane.axis] + " = " +
                                shortNumber(std::abs(plane.at) < 1e-9 * size ? 0 : plane.at) +
                                " mm: this half of the model bears half of it.",
                            "Give half of the whole force; write it as a formula, such as =1000/2, and this doubt is gone."});
      break;
    }
  }
}

}  // namespace

void slips(const analysis::Problem& p, const model::Document& d, Report& r) {
  const model::Quantities q(d);
  unusedMaterials(d, r), pressures(d, q, r), moduli(d, q, r), levelTables(d, q, r), fullForces(p, d, r);
}

}  // namespace anvil::checks
