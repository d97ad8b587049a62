// Verification cases of contact and large deflection.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "cli/verify/cases.hpp"
#include "core/model/actions.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/results/fields.hpp"

namespace anvil::cli {

double plasticRadius(const Solved& s, size_t row) {
  const auto& h = s.reader().header();
  const auto alpha = results::pointField(s.reader(), "equivalent plastic strain", row);
  // radii of the integration points, by the bilinear map of the corners
  const double g = 1 / std::sqrt(3.);
  const double S[4] = {-g, g, g, -g}, T[4] = {-g, -g, g, g};
  std::vector<std::pair<double, double>> points;
  size_t at = 0;
  for (const auto& b : h.mesh.blocks)
    for (size_t c = 0; c < b.count(); ++c)
      for (int p = 0; p < 4; ++p, ++at) {
        Eigen::Vector3d x(0, 0, 0);
        const double n[4] = {(1 - S[p]) * (1 - T[p]) / 4, (1 + S[p]) * (1 - T[p]) / 4, (1 + S[p]) * (1 + T[p]) / 4,
                             (1 - S[p]) * (1 + T[p]) / 4};
        for (int k = 0; k < 4; ++k) x += n[k] * h.mesh.x[size_t(b.cell(c)[k])];
        const bool slab = h.mesh.x[size_t(b.cell(c)[0])].y() < 3 && h.mesh.parts[0] == "wall";
        points.emplace_back(slab ? x.x() : x.norm(), alpha[at]);
      }
  std::sort(points.begin(), points.end());
  double inner = 0, outer = 1e300;
  for (const auto& [r, a] : points)
    if (a > 1e-12) inner = std::max(inner, r);
  for (const auto& [r, a] : points)
    if (a <= 1e-12 && r > inner) outer = std::min(outer, r);
  return outer > 1e299 ? inner : (inner + outer) / 2;
}

static void contactPatch(Study& study, const std::string& model, const std::vector<std::string>& elements) {
  for (const auto& element : elements)
    for (const std::string side : {"first", "second"})
      for (const std::string angle : {"0", "0.6"}) {
        const auto s = study.solve(model, {"angle=" + angle}, [&](model::Document& d) {
          for (auto& [n, p] : d.parts) p.element = element;
          d.contacts.front().second.pressureOn = side;
        });
        const auto state = s.reader().contact(0, s.last());
        double low = 1e300, high = 0;
        const size_t carriers = s.reader().header().contacts[0].carriers;
        for (size_t i = 0; i < carriers; ++i)
          low = std::min(low, double(state[results::contactColumns * i])),
          high = std::max(high, double(state[results::contactColumns * i]));
        const auto [least, most] = s.range("von Mises stress", s.last());
        const std::string name = element + ", pressure on the " + side + " side, turned by " + angle;
        study.row("C1", name + ": spread of the contact pressure", 0, (high - low) / 100, 1e-6, &s);
        study.row("C1", name + ": spread of the von Mises stress", 0, (most - least) / most, 1e-6, &s);
      }
}

void caseC1(Study& study) { contactPatch(study, "C1-patch", {"quad4", "quad8"}); }
void caseC1Solid(Study& study) { contactPatch(study, "C1-solid", {"hex8", "hex20", "tet10"}); }

double hertzWidth(const Solved& s) {
  const auto state = s.reader().contact(0, s.last());
  const auto u = s.reader().field("displacement", s.last());
  const auto& mesh = s.reader().header().mesh;
  const auto& surface = s.reader().header().contacts[0];
  const std::vector<int> nodes(surface.nodes.begin(), surface.nodes.begin() + std::ptrdiff_t(surface.carriers));
  const auto dim = size_t(mesh.dim);
  double deep = 0;  // a slice is thin along z, a round contact is not
  for (int node : nodes) deep = std::max(deep, mesh.x[size_t(node)].z());
  const bool round = deep > 0.5;
  double peak = 0, n = 0, X = 0, Y = 0, XX = 0, XY = 0;
  for (size_t i = 0; i < nodes.size(); ++i) peak = std::max(peak, double(state[results::contactColumns * i]));
  for (size_t i = 0; i < nodes.size(); ++i) {
    const double pressure = state[results::contactColumns * i];
    if (pressure < 0.2 * peak) continue;
    const auto k = size_t(nodes[i]);
    const double x = mesh.x[k].x() + double(u[dim * k]), z = round ? mesh.x[k].z() + double(u[dim * k + 2]) : 0,
                 xx = x * x + z * z, yy = pressure * pressure;
    n += 1, X += xx, Y += yy, XX += xx * xx, XY += xx * yy;
  }
  const double slope = (n * XY - X * Y) / (n * XX - X * X);
  return std::sqrt(X / n - Y / n / slope);
}

namespace {

/// Peak pressure and half width (radius) against Hertz's at the force that was reached.
void hertz(Study& study, const std::string& id, bool round, int n, double limit) {
  const auto s =
      study.solve("C2-cylinder", {"n=" + std::to_string(n), round ? "depth=0.0268" : "depth=0.0186"}, [&](model::Document& d) {
        if (!round) return;
        d.space = "axisymmetric";
        for (auto& [name, support] : d.supports)
          for (auto& f : support.fix) f = f == "x" ? "r" : "z";
        d.motions.front().second.along.axis = "z";
      });
  const double star = 210000 / (2 * (1 - 0.09)), R = 50, pi = std::numbers::pi;
  const double P = -s.history(round ? "motions/press/force z" : "motions/press/force y", s.last()) * (round ? 1 : 2);
  const double a = round ? std::cbrt(0.75 * P * R / star) : std::sqrt(4 * P * R / (pi * star)),
               peak = round ? 1.5 * P / (pi * a * a) : 2 * P / (pi * a);
  const std::string what =
      (round ? "force " : "force per length ") + std::to_string(P).substr(0, 6) + ", " + std::to_string(n) + " elements: ";
  study.row(id, what + "peak pressure", peak, s.history("contacts/touch/greatest pressure", s.last()), limit, &s);
  study.row(id, what + (round ? "radius of the contact" : "half width of the contact"), a, hertzWidth(s), limit, &s);
}

}  // namespace

void caseC2(Study& study) {
  hertz(study, "C2", false, 40, 0.05);
  hertz(study, "C2", false, 80, 0.02);
}
void caseC3(Study& study) {
  hertz(study, "C3", true, 40, 0.06);
  hertz(study, "C3", true, 80, 0.03);
}

void caseC5(Study& study) {
  const auto s = study.solve("C5-friction");
  const double slip = 0.3 * 10 * 20;
  study.row("C5", "force at which the block slides", slip, s.history("motions/push/force x", s.last()), 1e-3, &s);
  const auto external = s.reader().history("energy/external work"), off = s.reader().history("energy/imbalance");
  const auto friction = s.reader().history("energy/friction");
  study.row("C5", "imbalance of energy over the friction work", 0, (off.back() - off[s.rowAt(1)]) / friction.back(), 1e-3, &s);
}

void caseC7(Study& study) {
  const double E = 205000, r = 18, R = 40, overlap = 0.015, p = E * overlap / (2 * r) * (1 - r * r / (R * R));
  for (double h : {3., 1.5}) {
    const auto s = study.solve("C7-overlap", {"h=" + std::to_string(h)});
    study.row("C7", "by overlap: mean pressure, element size " + std::to_string(h).substr(0, 3), p,
              s.history("contacts/fit/mean pressure", s.last()), 0.02, &s);
  }
  const auto given = study.solve("C7-overlap", {"overlap=0"}, [](model::Document& d) {
    d.contacts.front().second.start = {};
    d.contacts.front().second.interference.value = 0.015;
  });
  study.row("C7", "overlap given as a number: mean pressure", p, given.history("contacts/fit/mean pressure", given.last()), 0.02,
            &given);
  for (const bool hub : {true, false}) {
    const auto warm = study.solve("C7-overlap", {"overlap=0"}, [&](model::Document& d) {
      d.contacts.front().second.start = {};
      d.materials.front().second.expansion = 12e-6;
      auto& t = d.temperatures("change");
      t.on = {hub ? "hub" : "shaft"}, t.rise.value = (hub ? -1 : 1) * overlap / r / 12e-6;
    });
    study.row("C7", hub ? "hub cooled: mean pressure" : "shaft warmed: mean pressure", p,
              warm.history("contacts/fit/mean pressure", warm.last()), 0.02, &warm);
  }
  const auto s = study.solve("C7-press");
  // the moment at which the cone has just left the hub
  const size_t full = s.rowAt((60 + 6.1) / 70);
  study.row("C7", "by pressing in: force at full length", 0.1 * p * 2 * std::numbers::pi * r * 60,
            -s.history("motions/press/force z", full), 0.05, &s);
  const auto state = s.reader().contact(0, full);
  const auto& surface = s.reader().header().contacts[0];
  const std::vector<int> nodes(surface.nodes.begin(), surface.nodes.begin() + std::ptrdiff_t(surface.carriers));
  double sum = 0, count = 0;
  for (size_t i = 0; i < nodes.size(); ++i) {
    const double z = s.reader().header().mesh.x[size_t(nodes[i])].y() + 0.1;
    if (z > -42 && z < -24) sum += double(state[results::contactColumns * i]), ++count;
  }
  study.row("C7", "by pressing in: pressure away from the ends", p, sum / count, 0.02, &s);
}

void caseL1(Study& study) {
  const double k[] = {1, 2, 5, 10}, in[] = {0.0564, 0.1606, 0.3876, 0.5550}, down[] = {0.3017, 0.4935, 0.7138, 0.8106};
  for (int i = 0; i < 4; ++i)
    for (int n : {30, 60}) {
      const auto s = study.solve("L1-cantilever", {"k=" + std::to_string(k[i]), "n=" + std::to_string(n)});
      const std::string name = "P L²/EI " + std::to_string(int(k[i])) + ", " + std::to_string(n) + " quad8: ";
      study.row("L1", name + "deflection over length", down[i], s.history("watch/tip/uy", s.last()) / 100, 0.005, &s);
      study.row("L1", name + "shortening over length", in[i], -s.history("watch/tip/ux", s.last()) / 100, 0.005, &s);
    }
}

void caseL1Solid(Study& study) {
  const double k[] = {1, 10}, in[] = {0.0564, 0.5550}, down[] = {0.3017, 0.8106};
  for (const std::string element : {"hex20", "tet10"})
    for (int i = 0; i < 2; ++i)
      for (int n : {30, 60}) {
        const auto s = study.solve("L1-solid", {"k=" + std::to_string(k[i]), "n=" + std::to_string(n)},
                                   [&](model::Document& d) { d.parts.front().second.element = element; });
        const std::string name = element + ", P L²/EI " + std::to_string(int(k[i])) + ", " + std::to_string(n) + " along: ";
        study.row("L1", name + "deflection over length", down[i], s.history("watch/tip/uy", s.last()) / 100, 0.005, &s);
        study.row("L1", name + "shortening over length", in[i], -s.history("watch/tip/ux", s.last()) / 100, 0.005, &s);
      }
}

double quadraticConstant(const Solved& s) {
  double worst = 0;
  for (size_t row = 0; row <= s.last(); ++row) {
    const auto r = s.reader().residuals(row);  // over the limit, which is 1e-6 of the average force
    for (size_t i = 0; i + 1 < r.size(); ++i) {
      const double a = r[i] * 1e-6, b = r[i + 1] * 1e-6;
      if (i + 2 == r.size() && a < 1e-4 && b > 1e-12) worst = std::max(worst, b / (a * a));
    }
  }
  return worst;
}

void caseCrimp(Study& study) {
  const std::string model = "../examples/ferrule-crimp/ferrule-crimp";
  const auto one = study.solve(model, {}, {}, 1), two = study.solve(model, {}, {}, 2), fine = study.solve(model, {"h=0.125"});
  const auto u = one.reader().restart(one.last()).at("displacement"), v = two.reader().restart(two.last()).at("displacement");
  double off = u.size() == v.size() ? 0 : 1e300, size = 0;
  for (size_t i = 0; i < std::min(u.size(), v.size()); ++i)
    off = std::max(off, std::abs(u[i] - v[i])), size = std::max(size, std::abs(u[i]));
  study.row("crimp", "1 against 2 threads: largest difference of the final displacements, relative", 0, off / size, 1e-9, &one);
  study.row("crimp", "iterations per increment, at most 6", 0, double(two.iterations()) / two.increments(), 6, &two);
  const auto grip = [](const Solved& s) { return s.history("contacts/grip/pressure times area", s.rowAt(2)); };
  const auto pull = [](const Solved& s) { return s.history("motions/pull/force z", s.last()); };
  study.row("crimp", "residual grip force, against a mesh of half the size", grip(fine), grip(two), 0.03, &fine);
  study.row("crimp", "pull-out force, against a mesh of half the size", pull(fine), pull(two), 0.03, &fine);
  study.row("crimp", "pull-out force against the axial force of the grip", two.history("contacts/grip/force z", two.last()),
            pull(two), 1e-3, &two);
  study.row("crimp", "plastic strain at the groove is 0.2 or more", 0,
            std::max(0., 0.2 - two.history("plasticity/greatest plastic strain", two.last())), 1e-12, &two);
}

const std::vector<VerifyCase>& verifyCases() {
  static const std::vector<VerifyCase> cases{{"E1", "patch test, large stretch", false, caseE1},
                                             {"E2", "consistent tangents", false, caseE2},
                                             {"M1", "uniaxial test and reversal", false, caseM1},
                                             {"M2", "simple shear", false, caseM2},
                                             {"M3", "rubber", false, caseM3},
                                             {"P4", "flat punch", true, caseP4},
                                             {"C2", "cylinder on a flat", true, caseC2},
                                             {"C3", "sphere on a flat", true, caseC3},
                                             {"P1", "thick cylinder", false, caseP1},
                                             {"P2", "hollow sphere", false, caseP2},
                                             {"P2", "hollow sphere, solid", true, caseP2Solid},
                                             {"P3", "notched strip, solid", true, caseP3Solid},
                                             {"P3", "notched strip, plane strain limit", true, caseP3},
                                             {"L1", "cantilever bent far", false, caseL1},
                                             {"L1", "cantilever bent far, solid", true, caseL1Solid},
                                             {"C1", "contact patch test, solid", false, caseC1Solid},
                                             {"C1", "contact patch test", false, caseC1},
                                             {"C5", "block with friction", false, caseC5},
                                             {"C7", "press fit", true, caseC7},
                                             {"P5", "bar bent past yield", false, caseP5},
                                             {"P6", "necking of a round bar", true, caseP6},
                                             {"L3", "two-bar truss past its load limits", false, caseL3},
                                             {"L2", "strip bent into a circle", true, caseL2},
                                             {"C4", "roller pressed and pushed", true, caseC4},
                                             {"C6", "belt on a drum", false, caseC6},
                                             {"C8", "ironing", true, caseC8},
                                             {"C9", "ring crushed flat", true, caseC9},
                                             {"C10", "shaft turned in its fit", false, caseC10},
                                             {"M1", "uniaxial test, solid", false, caseM1Solid},
                                             {"M2", "simple shear, solid", false, caseM2Solid},
                                             {"P1", "thick cylinder, solid", false, caseP1Solid},
                                             {"P4", "flat punch, solid", true, caseP4Solid},
                                             {"P5", "bar bent past yield, solid", false, caseP5Solid},
                                             {"P6", "necking of a round bar, solid", true, caseP6Solid},
                                             {"L5", "cantilever plate, solid", false, caseL5},
                                             {"C2", "cylinder on a flat, solid", true, caseC2Solid},
                                             {"C3", "sphere on a flat, solid", true, caseC3Solid},
                                             {"C3", "sphere on a flat, solids of features", true, caseC3Free},
                                             {"C4", "roller pressed and pushed, solid", true, caseC4Solid},
                                             {"C5", "block with friction, solid", false, caseC5Solid},
                                             {"C6", "belt on a drum, solid", true, caseC6Solid},
                                             {"C7", "press fit, solid", true, caseC7Solid},
                                             {"C7", "press fit, solids of features", true, caseC7Free},
                                             {"C8", "ironing, solid", true, caseC8Solid},
                                             {"C9", "ring crushed flat, solid", true, caseC9Solid},
                                             {"C10", "shaft turned in its fit, solid", true, caseC10Solid},
                                             {"X1", "billet upset between platens", true, caseX1},
                                             {"X2", "rubber block under a cylinder", true, caseX2},
                                             {"B1", "bolted joint pulled until it opens", false, caseB1},
                                             {"B2", "bolts tightened in turn", false, caseB2},
                                             {"X3", "strip drawn round a die radius", true, caseX3},
                                             {"S1", "patch of thin elements", false, caseS1},
                                             {"S2", "barrel roof, thin", false, caseS2},
                                             {"S3", "cylinder pinched, thin", false, caseS3},
                                             {"S4", "hemisphere pulled and pushed, thin", true, caseS4},
                                             {"S5", "twisted strip, thin", false, caseS5},
                                             {"S6", "strips and a plate bent far, thin", false, caseS6},
                                             {"S7", "sheet stretched two ways", false, caseS7},
                                             {"S8", "round plate's limit load, thin", true, caseS8},
                                             {"S9", "strip bent past yield, thin", false, caseS9},
                                             {"S10", "sphere and tube blown up, thin", true, caseS10},
                                             {"S11", "sheets on a block", false, caseS11},
                                             {"S12", "plate pressed by a ball, thin", true, caseS12},
                                             {"S13", "ring crushed flat, thin", true, caseS13},
                                             {"S14", "folded sheet", true, caseS14},
                                             {"N1", "cantilevers and a frame of beams", false, caseN1},
                                             {"N2", "bend in space", false, caseN2},
                                             {"N3", "short beams", false, caseN3},
                                             {"N4", "yielding sections", false, caseN4},
                                             {"N5", "plastic hinges", false, caseN5},
                                             {"N6", "columns", false, caseN6},
                                             {"N7", "frames turned and joined", false, caseN7},
                                             {"crimp", "example ferrule-crimp", true, caseCrimp}};
  return cases;
}

}  // namespace anvil::cli
