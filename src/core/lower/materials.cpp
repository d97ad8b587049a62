// Materials of the document as laws.
#include <cmath>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/lower/lower.hpp"
#include "core/material/test_curve.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/quantities.hpp"
#include "core/problem/problem.hpp"

namespace anvil::analysis {

material::ElasticLaw elasticLaw(const model::Material& m, const model::Quantities& q, const std::string& path) {
  const double E = q(m.elastic.E, Kind::stress, path + "/elastic/E"),
               nu = q.orElse(m.elastic.nu, Kind::number, 0.3, path + "/elastic/nu");
  if (E <= 0) throw Error("Young's modulus is " + shortNumber(E) + " MPa", path + "/elastic/E", "Give a value above zero.");
  if (nu <= -1 || nu >= 0.5)
    throw Error("Poisson's ratio is " + shortNumber(nu), path + "/elastic/nu",
                "Give a value above -1 and below 0.5; 0.3 for most metals.");
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
    if (p.stress == "engineering" && strain <= -1)
      throw Error("an engineering strain of -1 or less is not possible", row, "Check the strains.");
    const auto own = material::plasticTrue({strain, stress}, {p.strain == "total", p.stress == "engineering"}, E);
    strain = own.strain, stress = own.stress;
    if (i == 0) {
      if (strain > 2e-3 || strain < -2e-3 * std::max(1., stress / E * 500))
        throw Error("the curve does not begin at yield: its first point has a plastic strain of " + shortNumber(strain, 3), row,
                    p.strain == "total"
                        ? "The first row is the yield point: strain = stress/E. Check E and the strains."
                        : "Begin with [0, yield stress]; if the strains are total ones, set \"strain\": \"total\".");
      strain = 0;
    } else {
      if (strain <= curve.x.back())
        throw Error("the curve turns back: the plastic strain " + shortNumber(strain) + " is not above that of the row before (" +
                        shortNumber(curve.x.back()) + ")",
                    row, "Sort the rows by strain; take out repeated ones.");
      if (stress < curve.y.back() * (1 - 1e-12))
        throw Error("the curve softens: " + shortNumber(stress) + " MPa comes after " + shortNumber(curve.y.back()) + " MPa", row,
                    "End the table at the greatest stress; if it is engineering stress, say so by \"stress\".");
    }
    curve.add(strain, stress);
  }
  return curve;
}

}  // namespace

/// Yield stress of the laws of the textbooks.
static void textbookHardening(material::Hardening& h, const model::Plastic& p, const model::Quantities& q,
                              const std::string& here) {
  if (p.power && p.voce) throw Error("both a power law and a saturating law are given", here, "Take one of them out.");
  if (p.tangent.given())
    throw Error("a tangent modulus and another law of hardening are given", here + "/tangent", "Take one of them out.");
  h.yield = q(p.yield, Kind::stress, here + "/yield");
  const auto notNegative = [&](const model::Entry& e, Kind kind, const std::string& key) {
    const double v = q(e, kind, here + key);
    if (v < 0) throw Error("the value is " + shortNumber(v), here + key, "Give a value of zero or above.");
    return v;
  };
  if (p.power) {
    h.form = material::Hardening::Form::power;
    h.strain = notNegative(p.power->reference, Kind::number, "/power/reference"),
    h.exponent = notNegative(p.power->exponent, Kind::number, "/power/exponent");
    if (h.strain <= 0 || h.exponent > 1)
      throw Error("the power law needs a reference strain above 0 and an exponent from 0 to 1", here + "/power",
                  "Typical: reference 0.002, exponent 0.2.");
  } else {
    h.form = material::Hardening::Form::voce;
    h.gain = notNegative(p.voce->gain, Kind::stress, "/voce/gain"),
    h.rate = notNegative(p.voce->rate, Kind::number, "/voce/rate");
    h.slope = notNegative(p.voce->slope, Kind::stress, "/voce/slope");
  }
}

material::J2Law plasticLaw(const model::Material& m, const model::Quantities& q, const std::string& path) {
  const auto& p = *m.plastic;
  const std::string here = path + "/plastic";
  material::J2Law law;
  law.elastic = elasticLaw(m, q, path);
  const double E = q(m.elastic.E, Kind::stress, path + "/elastic/E");
  if (!p.rows.empty()) {
    if (p.yield.given() || p.tangent.given() || p.power || p.voce)
      throw Error("both a table and a yield stress are given", here,
                  "The table's first row is the yield point; take the other out.");
    law.hardening.table = tableOf(p, E, q, here);
  } else {
    if (!p.yield.given())
      throw Error("the plastic material has no yield stress", here + "/yield",
                  "Give \"yield\", or \"rows\" that begin at yield.");
    const double yield = q(p.yield, Kind::stress, here + "/yield");
    if (yield <= 0)
      throw Error("the yield stress is " + shortNumber(yield) + " MPa", here + "/yield", "Give a value above zero.");
    law.hardening.add(0, yield);
    if (p.power || p.voce) textbookHardening(law.hardening, p, q, here);
    if (p.tangent.given()) {
      const double tangent = q(p.tangent, Kind::stress, here + "/tangent");
      if (tangent < 0 || tangent >= E)
        throw Error("the tangent modulus is " + shortNumber(tangent) + " MPa", here + "/tangent",
                    "Give a value from zero to below Young's modulus.");
      law.hardening.finalSlope = E * tangent / (E - tangent);
    }
  }
  if (p.hardening == "kinematic") law.kinematicShare = 1;
  if (p.hardening == "mixed") {
    law.kinematicShare = q(p.kinematicShare, Kind::number, here + "/kinematic share");
    if (law.kinematicShare < 0 || law.kinematicShare > 1)
      throw Error("the kinematic share is " + shortNumber(law.kinematicShare), here + "/kinematic share",
                  "Give a value from 0 to 1.");
  }
  return law;
}

namespace {

material::CyclicLaw cyclicLaw(const model::Material& m, const model::Quantities& q, const std::string& path) {
  const auto base = plasticLaw(m, q, path);
  const std::string here = path + "/plastic/back stresses";
  material::CyclicLaw law;
  law.elastic = base.elastic, law.hardening = base.hardening;
  if (m.plastic->hardening != "isotropic")
    throw Error("back stresses and '" + m.plastic->hardening + "' hardening are both given", path + "/plastic/hardening",
                "With back stresses, leave hardening at isotropic: it is the growth of the yield surface.");
  if (m.plastic->backStresses.size() > material::CyclicLaw::most)
    throw Error("there are " + std::to_string(m.plastic->backStresses.size()) + " back stresses", here, "Give up to four.");
  for (size_t i = 0; i < m.plastic->backStresses.size(); ++i) {
    const auto v = q.list(m.plastic->backStresses[i], Kind::number, here + "/" + std::to_string(i + 1));
    if (v.size() != 2 || v[0] < 0 || v[1] < 0)
      throw Error("a back stress needs a modulus and a recovery rate, none below zero", here + "/" + std::to_string(i + 1),
                  "Write [modulus in MPa, gamma].");
    law.terms.push_back({v[0], v[1]});
  }
  return law;
}

/// Rows of uniaxial tension as the equivalent stress against the equivalent strain e = ε - σ/9K.
material::CurveElasticLaw curveLaw(const model::Material& m, const model::Quantities& q, const std::string& path) {
  const auto linear = elasticLaw(m, q, path);
  material::CurveElasticLaw law;
  law.bulk = linear.lambda + 2. / 3 * linear.mu;
  law.curve.add(0, 0);
  const std::string here = path + "/elastic/rows/";
  for (size_t i = 0; i < m.elastic.rows.size(); ++i) {
    const auto row = here + std::to_string(i + 1);
    if (m.elastic.rows[i].size() != 2) throw Error("a row needs a strain and a stress", row, "Write [strain, stress].");
    double strain = q(m.elastic.rows[i][0], Kind::number, row), stress = q(m.elastic.rows[i][1], Kind::stress, row);
    if (m.elastic.stress == "engineering") stress *= 1 + strain, strain = std::log1p(strain);
    if (strain == 0 && stress == 0) continue;
    const double e = strain - stress / (9 * law.bulk);
    if (!(e > law.curve.x.back()) || stress < law.curve.y.back())
      throw Error(
          "the curve turns back: strain " + shortNumber(strain) + ", stress " + shortNumber(stress) + " MPa", row,
          "Let strain and stress grow from row to row; check E and nu, which give the stiffness against changes of volume.");
    law.curve.add(e, stress);
  }
  if (law.curve.x.size() < 2)
    throw Error("the curve has no point but the origin", path + "/elastic/rows", "Give at least one row beyond [0, 0].");
  const auto n = law.curve.x.size();
  law.finalSlope = (law.curve.y[n - 1] - law.curve.y[n - 2]) / (law.curve.x[n - 1] - law.curve.x[n - 2]);
  return law;
}

}  // namespace

material::RubberLaw rubberLaw(const model::Material& m, const model::Quantities& q, const std::string& path) {
  const auto& r = *m.rubber;
  const std::string here = path + "/rubber";
  if (int(r.neoHooke.given()) + int(!r.mooney.empty()) + int(!r.yeoh.empty()) + int(!r.ogden.empty()) != 1)
    throw Error("a rubber is one of neo-hooke, mooney, yeoh and ogden", here, "Give one of them.");
  if (m.plastic || m.elastic.E.given())
    throw Error("a rubber has no elastic constants and no yield", path, "Take \"elastic\" and \"plastic\" out.");
  material::RubberLaw law;
  if (r.neoHooke.given()) law.terms = {{q(r.neoHooke, Kind::stress, here + "/neo-hooke"), 2}};
  if (!r.mooney.empty()) {
    const auto c = q.list(r.mooney, Kind::stress, here + "/mooney");
    if (c.size() != 2) throw Error("Mooney-Rivlin has two constants", here + "/mooney", "Write [C10, C01].");
    law.terms = {{2 * c[0], 2}, {-2 * c[1], -2}};
  }
  if (!r.yeoh.empty()) {
    const auto c = q.list(r.yeoh, Kind::stress, here + "/yeoh");
    if (c.size() > 3) throw Error("Yeoh has up to three constants", here + "/yeoh", "Write [C1, C2, C3].");
    std::copy(c.begin(), c.end(), law.yeoh.begin());
  }
  for (size_t i = 0; i < r.ogden.size(); ++i) {
    const auto row = here + "/ogden/" + std::to_string(i + 1);
    if (r.ogden[i].size() != 2) throw Error("a term needs mu and alpha", row, "Write [mu, alpha].");
    law.terms.push_back({q(r.ogden[i][0], Kind::stress, row), q(r.ogden[i][1], Kind::number, row)});
    if (law.terms.back().exponent == 0) throw Error("an exponent of zero gives no stress", row, "Give another exponent.");
  }
  const double G = law.shearModulus();
  if (!(G > 0))
    throw Error("the rubber's shear modulus comes out as " + shortNumber(G) + " MPa", here,
                "It must be above zero: check signs.");
  law.bulk = q.orElse(r.bulk, Kind::stress, 1000 * G, here + "/bulk");
  if (law.bulk <= G)
    throw Error("the bulk modulus " + shortNumber(law.bulk) + " MPa is not above the shear modulus", here + "/bulk",
                "Rubbers have a thousand times the shear modulus.");
  return law;
}

double nominalTension(const material::RubberLaw& law, double stretch) {
  const double e = std::log(stretch);
  material::Response r;
  law.respond((material::Vec6() << e, -e / 2, -e / 2, 0, 0, 0).finished(), nullptr, nullptr, {}, r);
  return (r.T[0] - r.T[1]) / stretch;
}

material::AnyLaw materialLaw(const model::Material& m, const model::Quantities& q, const std::string& path) {
  if (m.rubber) return rubberLaw(m, q, path);
  if (m.plastic) {
    if (!m.elastic.rows.empty())
      throw Error("the material is both elastic along a curve and plastic", path, "Take one of them out.");
    if (!m.plastic->backStresses.empty()) return cyclicLaw(m, q, path);
    return plasticLaw(m, q, path);
  }
  if (!m.elastic.rows.empty()) return curveLaw(m, q, path);
  return elasticLaw(m, q, path);
}

double youngOf(const model::Material& m, const model::Quantities& q, const std::string& path) {
  return m.rubber ? 3 * rubberLaw(m, q, path).shearModulus() : q(m.elastic.E, Kind::stress, path + "/elastic/E");
}

}  // namespace anvil::analysis
