// Verification cases of elements and materials.
#include <array>
#include <cmath>
#include <numbers>
#include <random>

#include "cli/verify/cases.hpp"
#include "core/lower/lower.hpp"
#include "core/model/actions.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/results/fields.hpp"
#include "core/run/assembly.hpp"
#include "core/run/run.hpp"

namespace anvil::cli {
static void patch(Study& study, const std::string& model, const std::string& element, const std::string& space) {
  const auto s = study.solve(model, {}, [&](model::Document& d) { d.parts.front().second.element = element, d.space = space; });
  const auto field = [&](size_t row) { return s.range("von Mises stress", row); };
  const size_t pulled = s.rowAt(1);
  const auto [low, high] = field(pulled);
  const auto [lowTurned, highTurned] = field(s.last());
  study.row("E1", element + ", " + space + ": spread of von Mises stress over its size", 0, (high - low) / high, 1e-6, &s);
  study.row("E1", element + ", " + space + ": its change by turning the whole by 100°", 0,
            std::max(std::abs(highTurned - high), std::abs(lowTurned - low)) / high, 1e-6, &s);
}

void caseE1(Study& study) {
  for (const std::string element : {"quad4", "quad8", "tri6"})
    for (const std::string space : {"plane strain", "plane stress"}) patch(study, "E1-patch", element, space);
  for (const std::string element : {"hex8", "hex20", "tet10"}) patch(study, "E1-solid", element, "solid");
}

namespace {

/// Worst difference between the assembled tangent and differences of the residual, over its largest entry. Contact
/// multipliers follow the displacements as the tangent supposes: their conditions are satisfied on both sides.
double tangentError(analysis::Problem& p, const analysis::VectorXd& u, const analysis::VectorXd& before, double h) {
  const analysis::Constraints constraints(p, 0);
  analysis::Assembly assembly(p);
  assembly.setConstraints(constraints);
  analysis::LoadLevel m;
  m.time = 1, m.before = &before;
  const analysis::VectorXd none = analysis::VectorXd::Zero(p.dofs());
  const auto residual = [&](const analysis::VectorXd& v) {
    for (int i = 0; i < (p.pairs.empty() ? 0 : 6); ++i) {
      assembly.evaluate(v, m, true, true, false, nullptr);
      for (auto& pair : p.pairs) pair.solveMultipliers(none), pair.step(1);
    }
    assembly.evaluate(v, m, false, false, false, nullptr);
    return assembly.residual();
  };
  assembly.evaluate(u, m, true, true, false, nullptr);
  residual(u);
  assembly.evaluate(u, m, true, true, false, nullptr);
  const auto pattern = assembly.pattern();
  const auto values = assembly.values();
  double worst = 0, size = 0;
  for (double v : values) size = std::max(size, std::abs(v));
  for (int dof = 0; dof < p.nodeDofs(); ++dof) {
    const int column = constraints.equation(dof);
    if (column < 0 || constraints.framed(dof / p.dim())) continue;  // framed dofs turn with their node: checked by their rows
    analysis::VectorXd v = u;
    v[dof] += h;
    const analysis::VectorXd plus = residual(v);
    v[dof] -= 2 * h;
    const analysis::VectorXd minus = residual(v);
    for (int row = 0; row < p.dofs(); ++row) {
      const int eq = constraints.equation(row);
      if (eq < 0) continue;
      const int at = pattern.find(eq, column);
      worst = std::max(worst, std::abs((plus[row] - minus[row]) / (2 * h) - (at < 0 ? 0 : values[size_t(at)])) / size);
    }
  }
  return worst;
}

void tangentOfModel(Study& study, const std::string& model, const std::string& element, const std::string& space) {
  auto d = study.document(model);
  d.parts.front().second.element = element, d.space = space;
  auto p = analysis::lower(d);
  std::mt19937 gen(4);
  std::uniform_real_distribution<double> noise(-0.03, 0.03);
  analysis::VectorXd u(p->dofs()), before = analysis::VectorXd::Zero(p->dofs());
  for (auto& v : u) v = noise(gen);
  study.row("E2", element + ", " + space + ", plastic, follower pressure: tangent against differences", 0,
            tangentError(*p, u, before, 1e-6), 1e-6);
}

/// From the end of a solved increment a little further, so that contact is closed and slides or sticks.
void tangentOfContact(Study& study, const std::string& model, double friction) {
  auto d = study.document(model);
  for (auto& [name, c] : d.contacts)
    if (friction == 0) c.friction = 0;
  auto p = analysis::lower(d);
  struct Last : analysis::Observer {
    analysis::VectorXd u, before;
    void converged(const analysis::Increment& i) override {
      before = u.size() ? u : analysis::VectorXd(0 * i.displacement), u = i.displacement;
    }
  } last;
  analysis::run(*p, last);
  for (auto& pair : p->pairs) pair.begin();
  std::mt19937 gen(9);
  std::uniform_real_distribution<double> noise(-1e-3, 1e-3);
  analysis::VectorXd u = last.u + 0.05 * (last.u - last.before);
  for (auto& v : u) v += noise(gen);
  study.row("E2", model + (friction > 0 ? ", with friction" : ", without friction") + ": tangent against differences", 0,
            tangentError(*p, u, last.u, 1e-6), 1e-6);
}

}  // namespace

void caseE2(Study& study) {
  for (const std::string element : {"quad4", "quad8", "tri6"})
    for (const std::string space : {"plane strain", "plane stress", "axisymmetric"})
      tangentOfModel(study, "E2-tangent", element, space);
  for (const std::string element : {"hex8", "hex20", "tet10"}) tangentOfModel(study, "E2-solid", element, "solid");
  for (const std::string model : {"E2-contact", "E2-contact-solid"})
    for (double friction : {0., 1.}) tangentOfContact(study, model, friction);
}

double tableOfM1(double e) {
  const double x[] = {0, 0.1, 0.4, 2}, y[] = {250, 400, 520, 700};
  for (int i = 0; i < 3; ++i)
    if (e <= x[i + 1]) return y[i] + (y[i + 1] - y[i]) * (e - x[i]) / (x[i + 1] - x[i]);
  return y[3];
}

void caseM1(Study& study) {
  for (const std::string hardening : {"isotropic", "kinematic", "mixed"}) {
    const auto s =
        study.solve("M1-uniaxial", {}, [&](model::Document& d) { d.materials.front().second.plastic->hardening = hardening; });
    const size_t top = s.rowAt(1);
    double worst = 0;
    VerifyPlot plot{"M1",
                    hardening + ": pulled to a strain of 1, pushed back",
                    "equivalent plastic strain",
                    "MPa",
                    {{"table", {}}, {"computed", {}, true}}};
    for (double e = 0; e <= 1; e += 0.02) plot.lines[0].points.emplace_back(e, tableOfM1(e));
    for (size_t r = 0; r <= s.last(); ++r)
      plot.lines[1].points.emplace_back(results::pointField(s.reader(), "equivalent plastic strain", r)[0],
                                        results::pointField(s.reader(), "stress z", r)[0]);
    study.plot(plot);
    for (size_t r = 0; r <= top; ++r) {
      const double alpha = results::pointField(s.reader(), "equivalent plastic strain", r)[0];
      if (alpha > 0) worst = std::max(worst, std::abs(results::pointField(s.reader(), "stress z", r)[0] / tableOfM1(alpha) - 1));
    }
    study.row("M1", hardening + ": true stress up to strain 1 against the table, worst relative error", 0, worst, 1e-6, &s);
    // the first stress after renewed yielding: on the line through two later points, taken back to the plastic strain at the turn
    const double alpha0 = results::pointField(s.reader(), "equivalent plastic strain", top)[0],
                 peak = results::pointField(s.reader(), "stress z", top)[0];
    std::vector<std::pair<double, double>> flow;
    for (size_t r = top + 1; r <= s.last(); ++r) {
      const double a = results::pointField(s.reader(), "equivalent plastic strain", r)[0];
      if (a > alpha0 + 1e-5) flow.emplace_back(a, results::pointField(s.reader(), "stress z", r)[0]);
    }
    if (flow.size() < 2) {
      study.row("M1", hardening + ": renewed yield was not reached", 1, 0, 1e-6, &s);
      continue;
    }
    const auto a = flow.front(), b = flow.back();
    const double onset = a.second + (b.second - a.second) * (alpha0 - a.first) / (b.first - a.first);
    const double share = hardening == "isotropic" ? 0 : hardening == "kinematic" ? 1 : 0.5;
    const double radius = (1 - share) * peak + share * 250;
    study.row("M1", hardening + ": stress at renewed yield after the turn", peak - 2 * radius, onset, 5e-5, &s);
  }
}

void caseM2(Study& study) {
  const auto s = study.solve("M2-shear");
  std::vector<double> shear;
  for (size_t r = 0; r <= s.last(); ++r) shear.push_back(results::pointField(s.reader(), "shear stress xy", r)[0]);
  const double plateau = 300 / std::sqrt(3.);
  double drop = 0, most = 0;
  for (double v : shear) drop = std::max(drop, (most - v) / plateau), most = std::max(most, v);
  study.row("M2", "perfect plasticity: shear stress at a shear of 4, plateau", plateau, shear.back(), 1e-3, &s);
  study.row("M2", "perfect plasticity: largest drop on the way, over the plateau", 0, drop, 1e-3, &s);
  const auto k = study.solve("M2-shear", {"tangent=300"},
                             [](model::Document& d) { d.materials.front().second.plastic->hardening = "kinematic"; });
  double last = -1e300, worst = 0;
  for (size_t r = 0; r <= k.last(); ++r) {
    const double v = results::pointField(k.reader(), "shear stress xy", r)[0];
    worst = std::max(worst, (last - v) / plateau), last = std::max(last, v);
  }
  study.row("M2", "linear kinematic hardening: largest drop of the shear stress, over the plateau", 0, worst, 1e-3, &k);
}

namespace {

/// Nominal stress of an incompressible rubber, by Ogden's terms: stretch one way, equally two ways, or with one width held.
double nominal(const std::vector<std::pair<double, double>>& terms, const std::string& test, double l) {
  double p = 0;
  for (const auto& [mu, alpha] : terms)
    p += mu * (std::pow(l, alpha - 1) - std::pow(l, test == "one way"    ? -alpha / 2 - 1
                                                    : test == "two ways" ? -2 * alpha - 1
                                                                         : -alpha - 1));
  return p;
}
double nominalYeoh(const std::array<double, 3>& c, const std::string& test, double l) {
  const double other = test == "one way" ? std::pow(l, -2) : test == "two ways" ? std::pow(l, -5) : std::pow(l, -3);
  const double i = (test == "one way"    ? l * l + 2 / l
                    : test == "two ways" ? 2 * l * l + std::pow(l, -4)
                                         : l * l + 1 + 1 / (l * l)) -
                   3;
  return 2 * (l - other) * (c[0] + 2 * c[1] * i + 3 * c[2] * i * i);
}

}  // namespace

void caseM3(Study& study) {
  const std::vector<std::pair<double, double>> mooney{{2 * 0.4, 2}, {-2 * 0.1, -2}}, ogden{{0.63, 1.3}, {0.0012, 5}, {-0.01, -2}};
  const std::array<double, 3> yeoh{0.5, -0.01, 0.001};
  for (const std::string kind : {"neo-Hookean", "Mooney-Rivlin", "Yeoh", "Ogden"})
    for (const std::string test : {"one way", "two ways", "plane"})
      for (const std::string element : {"hex8", "hex20", "tet10"}) {
        if (element != "hex8" && kind != "Ogden") continue;
        const auto s = study.solve("M3-rubber", {}, [&](model::Document& d) {
          d.parts.front().second.element = element;
          auto& r = *d.materials.front().second.rubber;
          if (kind != "neo-Hookean") r.neoHooke = {};
          if (kind == "Mooney-Rivlin") r.mooney = {0.4, 0.1};
          if (kind == "Yeoh") r.yeoh = {yeoh[0], yeoh[1], yeoh[2]};
          if (kind == "Ogden")
            for (const auto& [mu, alpha] : ogden) r.ogden.push_back({mu, alpha});
          if (test == "two ways")
            d.motions("also").on = {"cube.top"}, d.motions.back().second.along.axis = "y",
            d.motions.back().second.course.value = 2;
          if (test == "plane") d.supports.find("z")->on = {"cube.front", "cube.back"};
        });
        const auto force = s.reader().history("motions/pull/force x"), travel = s.reader().history("motions/pull/travel");
        double worst = 0;
        for (size_t i = 0; i < force.size(); ++i) {
          const double l = 1 + travel[i], p = kind == "Yeoh"
                                                  ? nominalYeoh(yeoh, test, l)
                                                  : nominal(kind == "neo-Hookean" ? std::vector<std::pair<double, double>>{{1, 2}}
                                                            : kind == "Ogden"     ? ogden
                                                                                  : mooney,
                                                            test, l);
          worst = std::max(worst, std::abs(force[i] / p - 1));
        }
        if (test == "one way" && element == "hex8") {
          VerifyPlot plot{"M3",
                          kind + ", pulled one way",
                          "stretch less 1",
                          "nominal stress, MPa",
                          {{"closed form", {}}, {"computed", s.curve("motions/pull/travel", "motions/pull/force x"), true}}};
          for (double l = 1; l <= 3.001; l += 0.05)
            plot.lines[0].points.emplace_back(
                l - 1, kind == "Yeoh" ? nominalYeoh(yeoh, test, l)
                                      : nominal(kind == "neo-Hookean" ? std::vector<std::pair<double, double>>{{1, 2}}
                                                : kind == "Ogden"     ? ogden
                                                                      : mooney,
                                                test, l));
          study.plot(plot);
        }
        study.row("M3", kind + ", " + test + ", " + element + ": nominal stress up to a stretch of 3, worst error", 0,
                  s.outcome() == "finished" ? worst : 1, 1e-4, &s);
      }
}

void caseP4(Study& study) {
  for (const std::string element : {"quad4", "quad8", "tri6"})
    for (int n : {8, 16}) {
      const auto s = study.solve("P4-punch", {"n=" + std::to_string(n)},
                                 [&](model::Document& d) { d.parts.front().second.element = element; });
      study.row(
          "P4", element + ", " + std::to_string(n) + " elements under half the punch: mean pressure over the shear yield stress",
          2 + std::numbers::pi, -s.history("motions/push/force y", s.last()) / 300 * std::sqrt(3.), n == 16 ? 0.02 : 0.05, &s);
    }
}

void caseP1(Study& study) {
  const double a = 40, b = 90, yield = 260, k = yield / std::sqrt(3.);
  const auto pressureFor = [&](double c) { return k * (2 * std::log(c / a) + 1 - c * c / (b * b)); };
  const auto elastic = study.solve("P1-cylinder", {"p=60"});
  const auto mises = results::nodalField(elastic.reader(), "von Mises stress", elastic.rowAt(1));
  double atBore = 0;
  for (size_t n = 0; n < mises.size(); ++n)
    if (std::abs(elastic.reader().header().mesh.x[n].x() - a) < 1e-9) atBore = std::max(atBore, mises[n]);
  const double exact = 120.5 * std::sqrt(3.) / std::sqrt(3 + std::pow(1 - 0.6, 2) * std::pow(a / b, 4));
  study.row("P1", "pressure at first yield, from a unit run", exact, 60 * yield / atBore, 0.01, &elastic);
  for (double c : {50., 60., 75.})
    for (int n : {12, 24}) {
      const auto s = study.solve("P1-cylinder", {"p=" + std::to_string(pressureFor(c)), "n=" + std::to_string(n)});
      study.row("P1",
                "radius of the plastic zone at p " + std::to_string(pressureFor(c)).substr(0, 5) + ", " + std::to_string(n) +
                    " elements",
                c, plasticRadius(s, s.rowAt(1)), 0.02, &s);
      if (c == 60 && n == 24) {
        const auto hoop = results::nodalField(s.reader(), "stress hoop", s.last());
        double bore = 0;
        for (size_t i = 0; i < hoop.size(); ++i)
          if (std::abs(s.reader().header().mesh.x[i].x() - a) < 1e-9) bore = hoop[i];
        const double p = pressureFor(c), reference = -p + 2 * k - p * (b * b + a * a) / (b * b - a * a);
        study.row("P1", "residual hoop stress at the bore after release from c 60", reference, bore, 0.01, &s);
      }
    }
  const auto limit = study.solve("P1-cylinder", {"p=260"}, [](model::Document& d) {
    d.steps.pop_back();
    d.loads.front().second.course.stages.pop_back();
    d.solver.plasticStrainLimit = 5;
  });
  study.row("P1", "limit pressure (largest carried)", 2 * k * std::log(b / a),
            limit.history("loads/pressure/value", limit.last()), 0.01, &limit);
}

void caseP2(Study& study) {
  const double a = 40, b = 90, yield = 260;
  const auto pressureFor = [&](double c) { return 2 * yield * std::log(c / a) + 2 * yield / 3 * (1 - c * c * c / (b * b * b)); };
  const auto elastic = study.solve("P2-sphere", {"p=60"});
  const auto mises = results::nodalField(elastic.reader(), "von Mises stress", elastic.last());
  double sum = 0, count = 0;
  for (size_t n = 0; n < mises.size(); ++n)
    if (std::abs(elastic.reader().header().mesh.x[n].norm() - a) < 1e-6) sum += mises[n], ++count;
  study.row("P2", "pressure at first yield, from a unit run", pressureFor(a), 60 * yield / (sum / count), 0.005, &elastic);
  for (double c : {50., 60., 75.})
    for (int n : {10, 20}) {
      const auto s = study.solve("P2-sphere", {"p=" + std::to_string(pressureFor(c)), "n=" + std::to_string(n)});
      // in the elastic shell σθ - σr falls with r⁻³ from the yield stress at c, so the outer hoop stress tells c
      const auto hoop = results::nodalField(s.reader(), "stress hoop", s.last());
      double outer = 0, nodes = 0;
      for (size_t i = 0; i < hoop.size(); ++i)
        if (std::abs(s.reader().header().mesh.x[i].norm() - b) < 1e-6) outer += hoop[i], ++nodes;
      const double found = b * std::cbrt(outer / nodes / yield);
      study.row("P2",
                "pressure for the plastic radius found (" + std::to_string(found).substr(0, 5) + "), " + std::to_string(n) +
                    " elements",
                pressureFor(c), pressureFor(found), 0.005, &s);
      if (c == 60 && n == 20) {
        const auto plain = study.solve("P2-sphere", {"p=" + std::to_string(pressureFor(c))}, [](model::Document& d) {
          d.geometry = "large", d.solver.predictor = false;
          d.steps.front().second.increments.first = 0.5, d.steps.front().second.increments.largest = 0.5;
        });
        study.row(
            "P2",
            "Newton's end is quadratic: last residual over the square of the one before (relative to the forces), at most 10", 0,
            quadraticConstant(plain), 10, &plain);
        study.row("P2", "iterations per increment, at most 6", 0, double(s.iterations()) / s.increments(), 6, &s);
      }
    }
}

void caseP2Solid(Study& study) {
  const double a = 40, b = 90, yield = 260;
  const auto pressureFor = [&](double c) { return 2 * yield * std::log(c / a) + 2 * yield / 3 * (1 - c * c * c / (b * b * b)); };
  for (const std::string element : {"hex20", "hex8", "tet10"})
    for (const bool fine : {false, true}) {
      const int n = element == "hex20" ? (fine ? 10 : 6) : fine ? 18 : 8, m = element == "hex20" ? (fine ? 8 : 4) : fine ? 16 : 6;
      const auto s =
          study.solve("P2-solid", {"p=" + std::to_string(pressureFor(60)), "n=" + std::to_string(n), "m=" + std::to_string(m)},
                      [&](model::Document& d) { d.parts.front().second.element = element; });
      // the outer surface of the elastic shell moves out by b (1-ν) σθ / E, and σθ there is σy c³/b³
      const auto& x = s.reader().header().mesh.x;
      const auto u = s.reader().field("displacement", s.last());
      double out = 0, nodes = 0;
      for (size_t i = 0; i < x.size(); ++i)
        if (std::abs(x[i].norm() - b) < 1e-3)
          out += (u[3 * i] * x[i].x() + u[3 * i + 1] * x[i].y() + u[3 * i + 2] * x[i].z()) / b, ++nodes;
      const double found = b * std::cbrt(out / nodes * 205000 / (b * 0.7) / yield);
      study.row("P2",
                element + " solid, " + std::to_string(n) + " elements: pressure for the plastic radius found (" +
                    std::to_string(found).substr(0, 5) + ")",
                pressureFor(60), pressureFor(found), fine ? 0.005 : 0.03, &s);
    }
}

void caseP3Solid(Study& study) {
  for (const auto& [element, ns] : {std::pair{std::string("hex8"), std::array{8, 12}}, {"hex20", {5, 8}}, {"tet10", {3, 5}}})
    for (const int n : ns) {
      const auto s = study.solve("P3-solid", {"n=" + std::to_string(n)},
                                 [name = element](model::Document& d) { d.parts.front().second.element = name; });
      const bool fine = n == ns[1];
      const auto force = s.reader().history("motions/pull/force y");
      const double limit = (1 + std::numbers::pi / 2) * 2 / std::sqrt(3.), last = force.back() / 0.2 / 450,
                   before = force[force.size() - 2] / 0.2 / 450;
      study.row("P3",
                element + " solid, " + std::to_string(n) + " elements in the half ligament: mean ligament stress over yield",
                limit, last, fine ? 0.01 : 0.03, &s);
      if (fine) study.row("P3", element + " solid: rise over the last tenth (plateau)", 0, (last - before) / last, 2e-3, &s);
    }
}

void caseP3(Study& study) {
  for (const std::string element : {"quad4", "quad8", "tri6"})
    for (int n : {8, 16}) {
      const auto s = study.solve("P3-notched", {"n=" + std::to_string(n)},
                                 [&](model::Document& d) { d.parts.front().second.element = element; });
      const auto force = s.reader().history("motions/pull/force y");
      const double limit = (1 + std::numbers::pi / 2) * 2 / std::sqrt(3.);
      const double last = force.back() / 450, before = force[force.size() - 2] / 450;
      study.row("P3", element + ", " + std::to_string(n) + " elements in the half ligament: mean ligament stress over yield",
                limit, last, n == 16 ? 0.01 : 0.03, &s);
      if (n == 16) study.row("P3", element + ": rise over the last tenth (plateau)", 0, (last - before) / last, 2e-3, &s);
    }
}

}  // namespace anvil::cli
