// The plane and axisymmetric cases again in space, with hexes, wedges (on the axis) and tets.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "cli/verify/cases.hpp"
#include "cli/verify/in_space.hpp"
#include "core/model/actions.hpp"
#include "core/model/carriers.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/results/fields.hpp"

namespace anvil::cli {
namespace {

/// Value of a nodal field at the node nearest to a point of the undeformed shape.
double atPoint(const Solved& s, const std::string& field, size_t row, const Eigen::Vector3d& x) {
  const auto values = results::nodalField(s.reader(), field, row);
  const auto& nodes = s.reader().header().mesh.x;
  size_t best = 0;
  for (size_t i = 0; i < nodes.size(); ++i)
    if ((nodes[i] - x).norm() < (nodes[best] - x).norm()) best = i;
  return values[best];
}

std::function<void(model::Document&)> solid(double extent, int layers, const std::string& element) {
  return [=](model::Document& d) { intoSpace(d, {extent, layers, element}); };
}

}  // namespace

void caseM1Solid(Study& study) {
  // not with tets: a block of several necks beyond Considère's strain of 0.1, as it should
  for (const std::string element : {"hex8", "hex20"})
    for (const bool axis : {false, true}) {  // a tube's sector, or one that reaches the axis with wedges
      for (const std::string hardening : {"isotropic", "kinematic", "mixed"}) {
        if (hardening != "isotropic" && (axis || element != "hex8")) continue;
        const auto s = study.solve("M1-uniaxial", {}, [&](model::Document& d) {
          d.materials.front().second.plastic->hardening = hardening;
          if (!axis) d.parts.front().second.shape.front().rectangle->at = {1, 0};
          intoSpace(d, {30, 1, element});
        });
        double worst = 0;
        const size_t top = s.rowAt(1);
        for (size_t r = 0; r <= top; ++r) {
          const double alpha = results::pointField(s.reader(), "equivalent plastic strain", r)[0];
          if (alpha > 0)
            worst = std::max(worst, std::abs(results::pointField(s.reader(), "stress y", r)[0] / tableOfM1(alpha) - 1));
        }
        const std::string name = axis ? (element == "hex8" ? "wedge6" : "wedge15") : element;
        study.row("M1", name + " solid, " + hardening + ": true stress up to strain 1 against the table, worst relative error", 0,
                  s.outcome() == "finished" ? worst : 1, 1e-6, &s);
      }
    }
}

void caseM2Solid(Study& study) {
  for (const std::string element : {"hex8", "hex20", "tet10"}) {
    const bool perfect = element == "hex8";  // elements with free mid-side nodes localise where nothing hardens
    const auto s = study.solve("M2-shear", {perfect ? "tangent=0" : "tangent=300"}, [&](model::Document& d) {
      if (!perfect) d.materials.front().second.plastic->hardening = "kinematic";
      intoSpace(d, {1, 1, element});
    });
    const auto stress = [&](size_t row) { return results::pointField(s.reader(), "shear stress xy", row)[0]; };
    double drop = 0, most = 0;
    for (size_t r = 0; r <= s.last(); ++r) drop = std::max(drop, most - stress(r)), most = std::max(most, stress(r));
    const std::string name = element + " solid, " + (perfect ? "perfect plasticity: " : "linear kinematic hardening: ");
    if (perfect) study.row("M2", name + "shear stress at a shear of 4, plateau", 300 / std::sqrt(3.), stress(s.last()), 1e-3, &s);
    study.row("M2", name + "largest drop on the way, over the plateau", 0, drop / 300 * std::sqrt(3.), 1e-3, &s);
  }
}

void caseP1Solid(Study& study) {
  const double a = 40, b = 90, k = 260 / std::sqrt(3.), c = 60, p = k * (2 * std::log(c / a) + 1 - c * c / (b * b));
  for (const auto& [element, n] :
       {std::pair{"hex8", 128}, {"hex20", 16}, {"tet10", 24}}) {  // a linear element knows the bore's stress to first order only
    const auto s = study.solve("P1-cylinder", {"p=" + std::to_string(p), "n=" + std::to_string(n)}, [&](model::Document& d) {
      d.parts.front().second.shape.front().rectangle->size = {50, 4};
      intoSpace(d, {6, 1, element});
    });
    // the front lies in the plane z = 0, where the hoop stress is that along z; in the elastic ring it tells the radius
    const double outer = atPoint(s, "stress z", s.rowAt(1), {b, 0, 0}), bore = atPoint(s, "stress z", s.last(), {a, 0, 0});
    const std::string name = std::string(element) + " solid, " + std::to_string(n) + " elements: ";
    study.row("P1", name + "radius of the plastic zone by the outer hoop stress", c, b * std::sqrt(outer / (2 * k)), 0.02, &s);
    study.row("P1", name + "residual hoop stress at the bore", -p + 2 * k - p * (b * b + a * a) / (b * b - a * a), bore, 0.01,
              &s);
    const auto limit = study.solve("P1-cylinder", {"p=260", "n=" + std::to_string(n)}, [&](model::Document& d) {
      d.parts.front().second.shape.front().rectangle->size = {50, 4};
      intoSpace(d, {6, 1, element});
      d.steps.pop_back();
      d.loads.front().second.course.stages.pop_back();
      d.solver.plasticStrainLimit = 5;
    });
    study.row("P1", name + "limit pressure (largest carried)", 2 * k * std::log(b / a),
              limit.history("loads/pressure/value", limit.last()), 0.01, &limit);
  }
}

void caseP4Solid(Study& study) {
  for (const auto& [element, n] : {std::pair{"hex8", 16}, {"hex20", 10}, {"tet10", 8}}) {
    const auto s = study.solve("P4-punch", {"n=" + std::to_string(n)}, solid(0.25, 1, element));
    study.row("P4",
              std::string(element) + " solid, " + std::to_string(n) +
                  " elements under half the punch: mean pressure over the shear yield stress",
              2 + pi, -s.history("motions/push/force y", s.last()) / 0.25 / 300 * std::sqrt(3.), 0.02, &s);
  }
}

void caseP5Solid(Study& study) {
  for (const auto& [element, n] : {std::pair{"hex20", 8}, {"tet10", 10}}) {
    const auto s = study.solve("P5-bending", {"n=" + std::to_string(n)}, [&, e = std::string(element)](model::Document& d) {
      intoSpace(d, {1, 1, e});
      std::erase_if(d.supports, [](const auto& x) {
        return x.first == "ends of the slice";
      });  // its thickness is free, the end a rigid block
      d.carriers.front().second.hold = "rigid";
      d.supports("upright").on = {d.carriers.front().first}, d.supports.back().second.fix = {"z", "turn x", "turn y"};
    });
    const double h = 10, first = 2 * 300 / (200000 * h), limitMoment = 300 * h * h / 6, stiffness = 200000 * h * h * h / 12;
    const auto curvature = [&](size_t row) {
      return 2 * (s.history("watch/middle/uy", row) - s.history("watch/beside/uy", row)) / (h * h);
    };
    const auto moment = [&](size_t row) { return std::abs(s.history("motions/bend/moment z", row)); };
    const size_t bent = s.rowAt(1);
    const double k = curvature(bent) / first;
    const std::string name = std::string(element) + " solid, " + std::to_string(n) + " across: ";
    study.row("P5", name + "moment over that of first yield at " + std::to_string(k).substr(0, 4) + " times its curvature",
              1.5 - 0.5 / (k * k), moment(bent) / limitMoment, 0.005, &s);
    study.row("P5", name + "let go, residual curvature, 1/m", 1e3 * (curvature(bent) - moment(bent) / stiffness),
              1e3 * curvature(s.last()), 0.005, &s);
  }
}

void caseP6Solid(Study& study) {
  for (const auto& [element, plane, n] : {std::tuple{"hex8", "quad4", 20}, {"hex20", "quad8", 10}}) {
    const std::string count = "n=" + std::to_string(n);
    const auto flat = study.solve("P6-necking", {count}, [&](model::Document& d) { d.parts.front().second.element = plane; });
    const double angle = n == 20 ? 3 : 10;  // a linear slice must be thin to neck like the round bar
    const auto s = study.solve("P6-necking", {count}, solid(angle, 1, element));
    double peak = 0;
    for (double f : s.reader().history("motions/pull/force y")) peak = std::max(peak, 360 / angle * f);
    const std::string name = std::string(element) + " solid, " + std::to_string(n) + " across: ";
    study.row("P6", name + "peak load, N", 79700 * 0.982 * 0.982, peak, 0.02, &s);
    study.row("P6", name + "load at elongation 14 against axisymmetric", flat.history("motions/pull/force z", flat.last()),
              360 / angle * s.history("motions/pull/force y", s.last()), 0.02, &s);
    study.row("P6", name + "neck radius against axisymmetric", 6.413 * 0.982 + flat.history("watch/neck/ur", flat.last()),
              6.413 * 0.982 + s.history("watch/neck/ux", s.last()), 0.02, &s);
  }
}

void caseL5(Study& study) {
  for (const int n : {20, 40}) {
    const auto s = study.solve("L5-plate", {"n=" + std::to_string(n)});
    study.row("L5", "hex20, " + std::to_string(n) + " along: tip down", 6.698, s.history("watch/tip/uy", s.last()), 0.005, &s);
    study.row("L5", "hex20, " + std::to_string(n) + " along: tip in", 3.286, -s.history("watch/tip/ux", s.last()), 0.005, &s);
  }
}

namespace {

constexpr double star = 210000 / (2 * (1 - 0.09)), R = 50;  // of the contacts of two steels, and the roller's radius

}  // namespace

void caseC2Solid(Study& study) {
  for (const auto& [n, limit] : {std::pair{32, 0.05}, {64, 0.02}}) {
    const auto s = study.solve("C2-cylinder", {"n=" + std::to_string(n)}, solid(0.2, 1, "hex8"));
    const double P = -2 * s.history("motions/press/force y", s.last()) / 0.2, a = std::sqrt(4 * P * R / (pi * star));
    const std::string name =
        "hex8 solid, " + std::to_string(n) + " elements, force per length " + std::to_string(P).substr(0, 6) + ": ";
    study.row("C2", name + "peak pressure", 2 * P / (pi * a), s.history("contacts/touch/greatest pressure", s.last()), limit, &s);
    study.row("C2", name + "half width of the contact", a, hertzWidth(s), limit, &s);
  }
}

void caseC3Solid(Study& study) {
  for (const auto& [n, around, limit] : {std::tuple{28, 6, 0.06}, {40, 6, 0.03}}) {  // a quarter in space
    const auto s =
        study.solve("C2-cylinder", {"n=" + std::to_string(n), "depth=0.0268"}, [&, layers = around](model::Document& d) {
          d.space = "axisymmetric";
          d.motions.front().second.along.axis = "z";
          d.supports.find("base")->fix = {"z"};
          intoSpace(d, {90, layers, "hex8"});
        });
    const double P = -4 * s.history("motions/press/force y", s.last()), a = std::cbrt(0.75 * P * R / star);
    const std::string name = "hex8 solid, " + std::to_string(n) + " elements, force " + std::to_string(P).substr(0, 6) + ": ";
    study.row("C3", name + "peak pressure", 1.5 * P / (pi * a * a), s.history("contacts/touch/greatest pressure", s.last()),
              limit, &s);
    study.row("C3", name + "radius of the contact", a, hertzWidth(s), limit, &s);
  }
}

void caseC3Free(Study& study) {
  for (const auto& [h, limit] : {std::pair{"0.3", 0.06}, {"0.2", 0.03}}) {
    const auto s = study.solve("C3-solid", {std::string("h=") + h});
    const double P = -4 * s.history("motions/press/force z", s.last()), a = std::cbrt(0.75 * P * R / star);
    const std::string name = "free tet10, elements of " + std::string(h) + " mm, force " + std::to_string(P).substr(0, 6) + ": ";
    study.row("C3", name + "peak pressure", 1.5 * P / (pi * a * a), s.history("contacts/touch/greatest pressure", s.last()),
              limit, &s);
    // on a quarter the resultant of Hertz's pressure stands 3a/8 off both planes: a measure that takes every node in
    const double off =
        (std::abs(s.history("contacts/touch/moment x", s.last())) + std::abs(s.history("contacts/touch/moment y", s.last()))) /
        2 / std::abs(s.history("contacts/touch/force z", s.last()));
    study.row("C3", name + "radius of the contact, by the moments of its pressure", a, off * 8 / 3, limit, &s);
  }
}

void caseC4Solid(Study& study) {
  const auto s = study.solve("C4-tangential", {"n=24", "share=0.5"}, solid(0.2, 1, "hex8"));
  const auto state = s.reader().contact(0, s.last());
  const auto& nodes = s.reader().header().contacts[0].nodes;
  size_t middle = 0;
  for (size_t i = 0; i < nodes.size(); ++i)
    if (std::abs(s.reader().header().mesh.x[size_t(nodes[i])].x()) <
        std::abs(s.reader().header().mesh.x[size_t(nodes[middle])].x()))
      middle = i;
  study.row(
      "C4", "hex8 solid, 24 elements a side, Q/μP 0.5: stick zone over contact width", std::sqrt(0.5),
      1 - std::abs(double(state[results::contactColumns * middle + 1])) / (0.3 * double(state[results::contactColumns * middle])),
      0.03, &s);
}

void caseC5Solid(Study& study) {
  for (const std::string element : {"hex8", "hex20", "tet10"}) {
    const auto s = study.solve("C5-friction", {}, solid(2, 1, element));
    study.row("C5", element + " solid: force at which the block slides", 0.3 * 10 * 20 * 2,
              s.history("motions/push/force x", s.last()), 1e-3, &s);
    const auto off = s.reader().history("energy/imbalance"), friction = s.reader().history("energy/friction");
    study.row("C5", element + " solid: imbalance of energy over the friction work", 0,
              (off.back() - off[s.rowAt(1)]) / friction.back(), 1e-3, &s);
  }
}

void caseC6Solid(Study& study) {
  const auto s = study.solve("C6-belt", {"n=30"}, solid(0.5, 1, "hex20"));
  study.row("C6", "hex20 solid, wrapped 90°, 30 per quarter: T2/T1", std::exp(0.3 * pi / 2),
            std::abs(s.history("motions/draw/force x", s.last())) / 5, 0.01, &s);
}

void caseC7Solid(Study& study) {
  const double E = 205000, r = 18, outer = 40, overlap = 0.015, p = E * overlap / (2 * r) * (1 - r * r / (outer * outer));
  for (const std::string element : {"hex20", "hex8", "tet10"}) {
    const auto s = study.solve("C7-overlap", {"h=3"}, solid(30, element == "hex8" ? 4 : 2, element));
    study.row("C7", element + " solid, by overlap: mean pressure", p, s.history("contacts/fit/mean pressure", s.last()), 0.02,
              &s);
  }
  const auto cooled = study.solve("C7-overlap", {"overlap=0", "h=3"}, [&](model::Document& d) {
    intoSpace(d, {30, 2, "hex20"});
    d.contacts.front().second.start = {};
    d.materials.front().second.expansion = 12e-6;
    d.temperatures("change").on = {"hub"}, d.temperatures.back().second.rise.value = -overlap / r / 12e-6;
  });
  study.row("C7", "hex20 solid, hub cooled: mean pressure", p, cooled.history("contacts/fit/mean pressure", cooled.last()), 0.02,
            &cooled);
  const auto turned = study.solve("C7-overlap", {"h=4"}, [&](model::Document& d) {  // the whole fit, its hub turned on the shaft
    intoSpace(d, {360, 24, "hex20"});
    std::erase_if(d.supports, [](const auto& x) { return x.first == "ends of the slice"; });
    d.contacts.front().second.friction = 0.1;
    d.steps("turn").increments.largest = 0.25;
    d.supports("shaft").on = {"shaft.low"}, d.supports.back().second.fix = {"x", "z"};
    auto& turn = d.motions("turn");
    turn.on = {"hub.outer"}, turn.along.axis = "turn y",
    turn.course.stages = {{"fit", {model::How::off, {}}}, {"turn", {model::How::ramp, 0.3}}};
    d.supports("hub").on = {"hub.outer"}, d.supports.back().second.fix = {"around y"}, d.supports.back().second.during = {"fit"};
  });
  // what is turned is the fit as it grips then: the hub's outside is no longer free to breathe while it is turned
  study.row("C7", "hex20 solid, turned until it slips: torque over 2πr²Lμp",
            2 * pi * r * r * 12 * 0.1 * turned.history("contacts/fit/mean pressure", turned.last()),
            std::abs(turned.history("motions/turn/moment y", turned.last())), 0.02, &turned);
  const auto press = study.solve("C7-press", {}, [&](model::Document& d) { intoSpace(d, {8, 1, "hex8"}); });
  study.row("C7", "hex8 solid, by pressing in: force at full length", 0.1 * p * 2 * pi * r * 60,
            -45 * press.history("motions/press/force y", press.rowAt((60 + 6.1) / 70)), 0.05, &press);
}

void caseC7Free(Study& study) {
  const double E = 205000, r = 18, outer = 40, overlap = 0.015, p = E * overlap / (2 * r) * (1 - r * r / (outer * outer));
  // not hex8: the flat facets of linear elements that do not match stand off by more than the overlap
  for (const std::string element : {"tet10", "hex20"}) {
    const std::string name = (element == "tet10" ? "free tet10" : element + " swept by itself") + ", ";
    const auto with = [&](model::Document& d) {
      for (auto& [part, q] : d.parts) q.element = element;
    };
    if (element == "tet10") {
      const auto fine = study.solve("C7-solid", {"h=2.5"}, with);
      study.row("C7", name + "by overlap, elements of 2.5 mm: mean pressure", p,
                fine.history("contacts/fit/mean pressure", fine.last()), 0.015, &fine);
    }
    const auto s = study.solve("C7-solid", {}, with);
    study.row("C7", name + "by overlap: mean pressure", p, s.history("contacts/fit/mean pressure", s.last()), 0.02, &s);
    const auto cooled = study.solve("C7-solid", {"overlap=0"}, [&](model::Document& d) {
      with(d);
      d.contacts.front().second.start = {};
      d.materials.front().second.expansion = 12e-6;
      d.temperatures("change").on = {"hub"}, d.temperatures.back().second.rise.value = -overlap / r / 12e-6;
    });
    study.row("C7", name + "hub cooled: mean pressure", p, cooled.history("contacts/fit/mean pressure", cooled.last()), 0.02,
              &cooled);
  }
}

void caseC8Solid(Study& study) {
  for (const auto& [element, n] : {std::pair{"hex8", 100}, {"hex20", 100}}) {
    const auto s =
        study.solve("C8-ironing", {"n=" + std::to_string(n), "way=4"}, [&, e = std::string(element)](model::Document& d) {
          intoSpace(d, {0.5, 1, e});
          d.steps.back().second.increments.largest = 0.025;  // of a third of the way: still four to an element's edge
        });
    for (const char* axis : {"y", "x"}) {
      double low = 1e300, high = -1e300, sum = 0, count = 0;
      for (size_t r = s.rowAt(1.5); r <= s.last(); ++r) {
        const double f = std::abs(s.history(std::string("contacts/rub/force ") + axis, r));
        low = std::min(low, f), high = std::max(high, f), sum += f, ++count;
      }
      study.row("C8",
                std::string(element) + " solid, " + std::to_string(n) + " along, friction 0.2: ripple of the force along " +
                    axis + " over its mean",
                0, (high - low) / (sum / count), 0.03, &s);
    }
  }
}

void caseC9Solid(Study& study) {
  const auto s = study.solve("C9-ring", {"n=48"}, solid(2, 1, "hex8"));
  double deepest = 0;
  for (const char* pair : {"inside", "above", "below"})
    for (double v : s.reader().history(std::string("contacts/") + pair + "/greatest penetration")) deepest = std::max(deepest, v);
  const size_t flat = s.rowAt(1);
  study.row("C9", "hex8 solid: the run goes through to the end, time", 2, s.reader().times().back(), 1e-9, &s);
  study.row("C9", "hex8 solid: greatest penetration over the element size", 0, deepest / (pi * 19 / 48), 1e-3, &s);
  study.row("C9", "hex8 solid: the inside touches itself, missing touch (1 if not)", 0,
            s.history("contacts/inside/area", flat) > 0 ? 0 : 1, 0, &s);
  study.row("C9", "hex8 solid: crushed, left against right, over their travel", 0,
            (s.history("watch/right/ux", flat) + s.history("watch/left/ux", flat)) / s.history("watch/right/ux", flat), 1e-4, &s);
  study.row("C9", "hex8 solid: let go, force on the ram against the greatest", 0,
            s.history("contacts/above/pressure times area", s.last()) / s.history("contacts/above/pressure times area", flat),
            1e-3, &s);
}

void caseC10Solid(Study& study) {
  // a node's friction is laid into the tangent plane of each point around it: that costs a twelfth of the squared angle between
  // nodes, 0.14 % at 48 around
  for (const auto& [element, n] : {std::pair{std::string("hex8"), 12}, {"hex20", 12}, {"hex20", 24}}) {
    const auto s = study.solve("C10-turn", {"n=" + std::to_string(n)}, solid(3, 1, element));
    const double torque = s.history("motions/turn/moment z", s.last());
    study.row("C10",
              element + " solid, " + std::to_string(4 * n) +
                  " around: torque on the shaft against the moment of the contact's tractions on the ring",
              1, torque / s.history("contacts/fit/moment z", s.last()), 1e-6, &s);
    study.row("C10", element + " solid, " + std::to_string(4 * n) + " around: torque against friction × radius × contact force",
              0.2 * 10.02 * s.history("contacts/fit/pressure times area", s.last()), std::abs(torque), n == 24 ? 1e-3 : 4e-3, &s);
  }
}

}  // namespace anvil::cli
