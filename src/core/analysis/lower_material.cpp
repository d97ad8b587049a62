// Materials of the document as laws.
#include <cmath>

#include "core/analysis/problem.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"

namespace anvil::analysis {

material::ElasticLaw elasticLaw(const model::Material& m, const model::Quantities& q, const std::string& path) {
  const double E = q(m.elastic.E, Kind::stress, path + "/elastic/E"), nu = q.orElse(m.elastic.nu, Kind::number, 0.3, path + "/elastic/nu");
  if (E <= 0) throw Error("Young's modulus is " + shortNumber(E) + " MPa", path + "/elastic/E", "Give a value above zero.");
  if (nu <= -1 || nu >= 0.5) throw Error("Poisson's ratio is " + shortNumber(nu), path + "/elastic/nu", "Give a value below 0.5; 0.3 for most metals.");
  return material::ElasticLaw::fromYoung(E, nu);
}

namespace {

/// Rows as true stress against plastic logarithmic strain, checked.
Curve tableOf(const model::Plastic& p, double E, const model::Quantities& q, const std::string& path) {
  Curve curve;
  for (size_t i = 0; i < p.rows.size(); ++i) {
    const std::string row = path + "/rows/" + std::to_string(i + 1);
    if (p.rows[i].size() != 2) throw Error("a row needs a strain and a stress", row, "Write [strain, stress].");
    double strain = q(p.rows[i][0], Kind::number, row), stress = q(p.rows[i][1], Kind::stress, row);
    if (stress <= 0) throw Error("the stress is " + shortNumber(stress) + " MPa", row, "Give stresses above zero.");
    if (p.stress == "engineering") {
      if (strain <= -1) throw Error("an engineering strain of -1 or less is not possible", row, "Check the strains.");
      if (p.strain == "plastic") strain += stress / E;   // engineering plastic strain: the total is meant before conversion
      stress *= 1 + strain, strain = std::log1p(strain) - stress / E;
    } else if (p.strain == "total") {
      strain -= stress / E;
    }
    if (i == 0) {
      if (strain > 2e-3 || strain < -2e-3 * std::max(1., stress / E * 500))
        throw Error("the curve does not begin at yield: its first point has a plastic strain of " + shortNumber(strain, 3), row,
                    p.strain == "total" ? "The first row is the yield point: strain = stress/E. Check E and the strains."
                                        : "Begin with [0, yield stress]; if the strains are total ones, set \"strain\": \"total\".");
      strain = 0;
    } else {
      if (strain <= curve.x.back())
        throw Error("the curve turns back: the plastic strain " + shortNumber(strain) + " is not above that of the row before (" +
                        shortNumber(curve.x.back()) + ")", row, "Sort the rows by strain; take out repeated ones.");
      if (stress < curve.y.back() * (1 - 1e-12))
        throw Error("the curve softens: " + shortNumber(stress) + " MPa comes after " + shortNumber(curve.y.back()) + " MPa", row,
                    "End the table at the greatest stress.");
    }
    curve.add(strain, stress);
  }
  return curve;
}

}  // namespace

material::J2Law plasticLaw(const model::Material& m, const model::Quantities& q, const std::string& path) {
  const auto& p = *m.plastic;
  const std::string here = path + "/plastic";
  material::J2Law law;
  law.elastic = elasticLaw(m, q, path);
  const double E = q(m.elastic.E, Kind::stress, path + "/elastic/E");
  if (!p.rows.empty()) {
    if (p.yield.given() || p.tangent.given())
      throw Error("both a table and a yield stress are given", here, "The table's first row is the yield point; take the other out.");
    law.hardening = tableOf(p, E, q, here);
  } else {
    if (!p.yield.given()) throw Error("the plastic material has no yield stress", here + "/yield", "Give \"yield\", or \"rows\" that begin at yield.");
    const double yield = q(p.yield, Kind::stress, here + "/yield");
    if (yield <= 0) throw Error("the yield stress is " + shortNumber(yield) + " MPa", here + "/yield", "Give a value above zero.");
    law.hardening.add(0, yield);
    if (p.tangent.given()) {
      const double tangent = q(p.tangent, Kind::stress, here + "/tangent");
      if (tangent < 0 || tangent >= E)
        throw Error("the tangent modulus is " + shortNumber(tangent) + " MPa", here + "/tangent", "Give a value from zero to below Young's modulus.");
      law.finalSlope = E * tangent / (E - tangent);
    }
  }
  if (p.hardening == "kinematic") law.kinematicShare = 1;
  if (p.hardening == "mixed") {
    law.kinematicShare = q(p.kinematicShare, Kind::number, here + "/kinematic share");
    if (law.kinematicShare < 0 || law.kinematicShare > 1)
      throw Error("the kinematic share is " + shortNumber(law.kinematicShare), here + "/kinematic share", "Give a value from 0 to 1.");
  }
  return law;
}

}  // namespace anvil::analysis
