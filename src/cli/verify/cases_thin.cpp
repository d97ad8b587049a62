// Thin parts.
#include <fmt/format.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <numbers>

#include "cli/verify/cases.hpp"
#include "core/base/quadrature.hpp"
#include "core/model/actions.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "core/results/fields.hpp"

namespace anvil::cli {
namespace {

/// Makes the thin parts of a document of triangles.
void ofTriangles(model::Document& d) {
  for (auto& [name, part] : d.parts)
    if (part.thin) part.thin->cells = "triangles";
}
const std::vector<std::pair<std::string, std::function<void(model::Document&)>>> bothKinds{{"quads", {}},
                                                                                           {"triangles", ofTriangles}};

/// The limit of a mesh: that of the case at the fine one. Coarser ones are there to show convergence: what linear cells are off
/// by falls with the square of their size.
double coarse(int n, int fine, double limit) {
  const double ratio = double(fine) / n;
  return n >= fine ? limit : limit * ratio * ratio;
}

std::string number(int n) { return std::to_string(n); }

}  // namespace

namespace {

constexpr std::array<std::array<double, 2>, 4> innerOfPatch{{{4, 2}, {18, 3}, {16, 8}, {8, 8}}};

/// How far the patch's inner nodes go off the plane through three corners in a direction, each less what theory gives; the
/// farthest, over the size of what they do.
double offPlane(const Solved& s, const std::string& axis, const std::function<double(double, double)>& bow) {
  const auto u = [&](const std::string& name) { return s.history("watch/" + name + "/u" + axis, s.rowAt(1)); };
  double off = 0, size = 0;
  for (size_t i = 0; i < innerOfPatch.size(); ++i) {
    const auto [x, y] = innerOfPatch[i];
    const double own = u(number(int(i) + 1)), plane = u("a") + (u("b") - u("a")) * x / 24 + (u("c") - u("a")) * y / 12;
    off = std::max(off, std::abs(own - plane - bow(x, y))), size = std::max({size, std::abs(own), std::abs(bow(x, y))});
  }
  return off / size;
}

/// Places of the patch's inner nodes from its first corner at a time, mm.
std::vector<double> distancesInPatch(const Solved& s, size_t row) {
  std::vector<double> all;
  for (size_t i = 0; i < innerOfPatch.size(); ++i) {
    double sum = 0;
    for (size_t k = 0; k < 3; ++k) {
      const std::string axis = std::string("/u") + "xyz"[k];
      const double built = k < 2 ? innerOfPatch[i][k] : 0;
      const double d = built + s.history("watch/" + number(int(i) + 1) + axis, row) - s.history("watch/a" + axis, row);
      sum += d * d;
    }
    all.push_back(std::sqrt(sum));
  }
  return all;
}

/// What the nodes do, which is kept in double precision, as fields are not.
void nodesOfPatch(Study& study, const std::string& kind, const std::function<void(model::Document&)>& change) {
  constexpr double t = 0.1, D = 1e6 * t * t * t / 12, nu = 0.25, m = 1e-7;  // D without 1/(1 - nu^2): moments in one direction
  const auto flat = [](double, double) { return 0.; };
  const auto pulled = study.solve("S1-patch", {"force=1e-5"}, change), bent = study.solve("S1-patch", {"moment=1e-7"}, change),
             twisted = study.solve("S1-patch", {"twist=1e-7"}, change);
  study.row("S1", kind + ", membrane: inner nodes off by", 0, std::max(offPlane(pulled, "x", flat), offPlane(pulled, "y", flat)),
            1e-8, &pulled);
  study.row("S1", kind + ", bending: inner nodes off by", 0,
            offPlane(bent, "z", [&](double x, double y) { return -m / D * (x * x - 24 * x - nu * (y * y - 12 * y)) / 2; }), 1e-8,
            &bent);
  study.row("S1", kind + ", twist: inner nodes off by", 0,
            offPlane(twisted, "z", [&](double x, double y) { return m / D * (1 + nu) * x * y; }), 1e-8, &twisted);
}

}  // namespace

void caseS1(Study& study) {
  struct State {
    const char *name, *load, *field;
    double value;
  };
  constexpr double t = 0.1;
  // section forces are those of the sheet as it is now: loads so small that it stays what it was
  const State states[] = {{"membrane: force per length", "force=1e-5", "membrane force 1", 1e-5},
                          {"membrane: shear per length", "force=1e-5", "membrane force 12", 5e-6},
                          {"bending: moment per length", "moment=1e-7", "bending moment 1", 1e-7},
                          {"bending: transverse shear", "moment=1e-7", "transverse shear 1", 0},
                          {"twist: moment per length", "twist=1e-7", "bending moment 12", -1e-7},
                          {"twist: transverse shear", "twist=1e-7", "transverse shear 2", 0}};
  for (const auto& [kind, change] : bothKinds) {
    nodesOfPatch(study, kind, change);
    for (const auto& state : states) {
      const auto s = study.solve("S1-patch", {state.load, fmt::format("t={}", t)}, change);
      const auto v = results::nodalField(s.reader(), state.field, s.rowAt(1));
      double off = state.value;
      for (double x : v)
        if (std::abs(x - state.value) >= std::abs(off - state.value)) off = x;
      const double unit = state.value == 0 ? 1e-7 / t : state.value;  // shear against moment over thickness
      study.row("S1", fmt::format("{}, {}", kind, state.name), state.value / unit, off / unit, 1e-6, &s);
    }
    const auto s = study.solve("S1-patch", {"force=1000"}, [&, &change = change](model::Document& d) {
      d.geometry = "large";
      if (change) change(d);
    });
    const auto [low, high] = s.range("von Mises stress", s.rowAt(1));
    const auto [lowTurned, highTurned] = s.range("von Mises stress", s.last());
    study.row("S1", kind + ", pulled, then turned: time it comes to", 2, s.reader().times().back(), 1e-9, &s);
    const auto before = distancesInPatch(s, s.rowAt(1)), after = distancesInPatch(s, s.last());
    double changed = 0;
    for (size_t i = 0; i < before.size(); ++i) changed = std::max(changed, std::abs(after[i] / before[i] - 1));
    study.row("S1", kind + ", pulled far, turned by 100 degrees: distances change by", 0, changed, 1e-8, &s);
    study.row("S1", kind + ", pulled far, turned by 100 degrees: its change", 0,
              std::max(std::abs(highTurned - high), std::abs(lowTurned - low)) / high, 1e-6, &s);
  }
}

void caseS5(Study& study) {
  for (const auto& [kind, change] : bothKinds)
    for (const bool flat : {false, true})      // how thick
      for (const bool across : {false, true})  // which way the force points at the end
        for (const int n : {12, 24, 48, 96}) {
          const int fine = kind == "quads" ? 24 : 96;  // constant strains bend a band in its plane badly
          if (n > fine || 4 * n < fine) continue;
          const double thickness = flat ? 0.0032 : 0.32, unit = flat ? 1e-6 : 1;
          const auto s =
              study.solve("S5-twisted", {fmt::format("t={}", thickness), fmt::format("force={}", unit), "n=" + number(n)},
                          [&, &change = change](model::Document& d) {
                            if (across) d.loads.find("tip")->along.axis = "x";
                            if (change) change(d);
                          });
          const double reference = flat ? (across ? 0.001294 : 0.005256) : (across ? 0.001754 : 0.005424);
          study.row(
              "S5",
              fmt::format("{}, {} thick, {} along, force {} the end: its way", kind, thickness, n, across ? "across" : "in"),
              reference, s.history(across ? "watch/tip/ux" : "watch/tip/uy", s.last()), coarse(n, fine, 0.02), &s);
        }
}

void caseS2(Study& study) {
  for (const auto& [kind, change] : bothKinds)
    for (const int n : {8, 16, 32}) {
      const auto s = study.solve("S2-roof", {"n=" + number(n)}, change);
      study.row("S2", kind + ", " + number(n) + " along a side: the free edge sinks", 0.3024,
                -s.history("watch/edge/uy", s.last()), coarse(n, 32, 0.02), &s);
    }
}

void caseS3(Study& study) {
  for (const auto& [kind, change] : bothKinds)
    for (const int n : {16, 32, 64}) {
      if (n == 64 && kind == "quads") continue;
      const auto s = study.solve("S3-cylinder", {"n=" + number(n)}, change);
      study.row("S3", kind + ", " + number(n) + " along a side: under the force, 1e-5", 1.8248,
                -1e5 * s.history("watch/top/uy", s.last()), coarse(n, kind == "quads" ? 32 : 64, 0.03), &s);
    }
}

void caseS4(Study& study) {
  for (const auto& [kind, change] : bothKinds)
    for (const int n : {8, 16, 32, 64}) {
      if (n == (kind == "quads" ? 64 : 8)) continue;
      const auto s = study.solve("S4-hemisphere", {"n=" + number(n)}, [&, &change = change](model::Document& d) {
        d.geometry = "small";
        if (change) change(d);
      });
      study.row("S4", kind + ", " + number(n) + " along a side, linear: under the force", 0.0940,
                s.history("watch/out/ux", s.last()), coarse(n, kind == "quads" ? 32 : 64, 0.02), &s);
    }
  for (const auto& [kind, change] : bothKinds)
    for (const int n : {16, 32, 64}) {
      if (kind == "quads" && n == 64) continue;
      const auto s = study.solve("S4-hemisphere", {"n=" + number(n), "load=400"}, change);
      const double limit = coarse(n, kind == "quads" ? 32 : 64, 0.03);
      study.row("S4", kind + ", " + number(n) + " along a side, large: outward", 4.07, s.history("watch/out/ux", s.last()), limit,
                &s);
      study.row("S4", kind + ", " + number(n) + " along a side, large: inward", 8.18, -s.history("watch/in/uz", s.last()), limit,
                &s);
    }
}

void caseS6(Study& study) {
  const double tips[4][3] = {{1, 0.0564, 0.3017}, {2, 0.1606, 0.4935}, {5, 0.3876, 0.7138}, {10, 0.5550, 0.8106}};
  for (const auto& [kind, change] : bothKinds)
    for (const auto& [k, in, down] : tips) {
      const auto s = study.solve("S6-strip", {fmt::format("k={}", k)}, change);
      study.row("S6", fmt::format("L1, {}, k = {}: tip in over the length", kind, k), in,
                -s.history("watch/tip/ux", s.last()) / 100, 0.005, &s);
      study.row("S6", fmt::format("L1, {}, k = {}: tip across over the length", kind, k), down,
                s.history("watch/tip/uz", s.last()) / 100, 0.005, &s);
    }
  for (const auto& [kind, change] : bothKinds)
    for (const int n : {40, 80}) {
      const auto s = study.solve("S6-roll", {"n=" + number(n)}, change);
      study.row("S6", fmt::format("L2, {}, {} along: tip from the root, over the length", kind, n), 0,
                std::hypot(100 + s.history("watch/tip/ux", s.last()), s.history("watch/tip/uz", s.last())) / 100,
                n == 40 ? 0.02 : 0.005, &s);
    }
  for (const auto& [kind, change] : bothKinds)
    for (const int n : {16, 32}) {
      const auto s = study.solve("S6-plate", {"n=" + number(n)}, change);
      study.row("S6", fmt::format("L5, {}, {} along: tip across", kind, n), 6.698, s.history("watch/tip/uz", s.last()), 0.005,
                &s);
      study.row("S6", fmt::format("L5, {}, {} along: tip in", kind, n), 3.286, -s.history("watch/tip/ux", s.last()), 0.005, &s);
    }
}

void caseS7(Study& study) {
  for (const auto& [kind, change] : bothKinds) {
    const auto s = study.solve("S7-stretch", {}, change);
    const double e1 = 0.3, e2 = 0.2, strain = std::sqrt(4. / 3 * (e1 * e1 + e1 * e2 + e2 * e2)), E = 205000;
    // on the straight way the elastic strain lies along the whole: σ = h(ε - σ/E), h = 300 + 250 (ε - 0.1) there
    const double sigma = (300 + 250 * (strain - 0.1)) / (1 + 250 / E);
    const auto worst = [&](const std::string& field, double reference) {
      double off = 0;
      for (double v : results::nodalField(s.reader(), field, s.last()))
        if (std::abs(v - reference) > std::abs(off - reference) || off == 0) off = v;
      return off;
    };
    study.row("S7", kind + ": thickness", 0.8 * std::exp(-0.5), worst("thickness", 0.8 * std::exp(-0.5)), 1e-6, &s);
    const double s1 = 2. / 3 * sigma / strain * (2 * e1 + e2), s2 = 2. / 3 * sigma / strain * (2 * e2 + e1);
    study.row("S7", kind + ": stress x by the table", s1, worst("stress x", s1), 1e-5, &s);
    study.row("S7", kind + ": stress y by the table", s2, worst("stress y", s2), 1e-5, &s);
  }
}

void caseS8(Study& study) {
  for (const bool held : {true, false})
    for (const double size : {6., 3.}) {
      const double factor = held ? 12.5 : 6.51;
      const auto s = study.solve("S8-disc", {fmt::format("size={}", size), fmt::format("limit={}", 1.3 * factor)}, [&](auto& d) {
        if (held) return;
        auto& rim = *d.supports.find("rim");
        rim.on = {"plate.rim & plate.lower"}, rim.fix = {"z"};
      });
      study.row("S8",
                fmt::format("{} rim, {} elements along a radius: limit pressure over Mp/R²", held ? "held" : "hinged",
                            std::lround(100 / size)),
                factor, 1.3 * factor * s.history("step/share of the loading", s.last()), size > 3 ? 0.08 : 0.03, &s);
    }
}

void caseS9(Study& study) {
  for (const int points : {5, 9}) {
    const double h = 10, first = 2 * 300 / (200000 * h), limitMoment = 300 * h * h / 6, stiffness = 200000 * h * h * h / 12,
                 limit = points == 5 ? 0.02 : 0.005;
    // points see the border of yield only as far as they are apart: Gauss points are off by up to 5.5 and 1.9 % of the moment
    const double byPoints = points == 5 ? 0.055 : 0.019;
    const auto carriedByPoints = [&](double k) {
      double sum = 0;
      for (const auto& [zeta, weight] : gaussLine(points)) sum += 1.5 * weight * std::clamp(k * zeta, -1., 1.) * zeta;
      return sum;
    };
    const auto s = study.solve("S9-bending", {"points=" + number(points)});
    const auto curvature = [&](size_t row) {
      return 2 * (s.history("watch/beside/uz", row) - s.history("watch/middle/uz", row)) / (h * h);
    };
    const auto moment = [&](size_t row) { return s.history("motions/bend/moment y", row); };
    const size_t bent = s.rowAt(1);
    const double sense = curvature(bent) > 0 ? 1 : -1, carries = moment(bent) > 0 ? 1 : -1;
    for (const double time : {0.5, 1.}) {
      const size_t row = s.rowAt(time);
      const double k = sense * curvature(row) / first;
      study.row("S9",
                fmt::format("{} points, curvature over that of first yield {:.2f}: moment over that of first yield", points, k),
                1.5 - 0.5 / (k * k), carries * moment(row) / limitMoment, byPoints, &s);
      study.row("S9",
                fmt::format("{} points, curvature over that of first yield {:.2f}: moment that its points carry", points, k),
                carriedByPoints(k), carries * moment(row) / limitMoment, limit, &s);
    }
    study.row("S9", fmt::format("{} points, let go: residual curvature, 1/m", points),
              1e3 * (sense * curvature(bent) - carries * moment(bent) / stiffness), 1e3 * sense * curvature(s.last()), limit, &s);
  }
}

void caseS10(Study& study) {
  for (const bool sphere : {true, false})
    for (const auto& [kind, change] : bothKinds) {
      const double load = sphere ? 1.2 : 0.8;
      const auto s = study.solve(sphere ? "S10-sphere" : "S10-tube", {}, change);
      const double R = 100, T = 0.2, E = 70000, nu = 0.3;
      double worst = 0, highest = 0, expected = 0;
      for (size_t row = 0; row <= s.last(); ++row) {
        const double stretch = 1 + s.history("watch/side/ux", row) / R, r = R * stretch;
        const double p = load * s.history("step/share of the loading", row);
        // thin walls: what is elastic is small, and taken off the strain by the stress it belongs to
        const double whole = sphere ? 2 * std::log(stretch) : 2 / std::sqrt(3.) * std::log(stretch);
        double sigma = 100;
        for (int k = 0; k < 50; ++k) {
          const double plastic =
              whole - (sphere ? 2 * (1 - nu) : 2 / std::sqrt(3.) * 2 / std::sqrt(3.) * (1 - nu * nu)) * sigma / E;
          if (plastic < 0) break;
          sigma = 100 + 200 * std::min(plastic, 0.5) + 100 * std::max(0., plastic - 0.5);
        }
        const double t = sphere ? T * std::exp(-whole) : T / stretch, inner = r - t / 2;
        const double reference = sphere ? 2 * sigma * t * r / (inner * inner) : 2 / std::sqrt(3.) * sigma * t / inner;
        if (stretch > 1.01) worst = std::max(worst, std::abs(p / reference - 1));
        highest = std::max(highest, p), expected = std::max(expected, stretch > 1.01 ? reference : 0);
      }
      const std::string name = fmt::format("{}, {}: ", sphere ? "sphere" : "tube", kind);
      study.row("S10", name + "greatest pressure", expected, highest, 0.005, &s);
      study.row("S10", name + "worst pressure on the way, off by", 0, worst, 0.005, &s);
    }
}

void caseS11(Study& study) {
  for (const bool swapped : {false, true}) {
    const auto s = study.solve("S11-stack", {}, [&](model::Document& d) {
      if (!swapped) return;
      for (auto& [name, c] : d.contacts) std::swap(c.between[0], c.between[1]);
    });
    const std::string name = swapped ? "faces swapped: " : "";
    double off = 0;
    for (const std::string contact : {"low", "high"})
      off = std::max(off, std::abs(s.history("contacts/" + contact + "/greatest pressure", s.last()) / 10 - 1));
    study.row("S11", name + "greatest pressure of both contacts, off by", 0, off, 1e-6, &s);
    const auto [least, greatest] = s.range("stress z", s.last());
    study.row("S11", name + "stress through the stack, least", -10, least, 1e-6, &s);
    study.row("S11", name + "stress through the stack, greatest", -10, greatest, 1e-6, &s);
  }
}

void caseS12(Study& study) {
  const auto solid = study.solve("S12-solid");
  for (const double size : {5., 2.5}) {
    const auto thin = study.solve("S12-plate", {fmt::format("size={}", size)});
    const auto at = [](const Solved& s, const char* name, double time) { return s.history(name, s.rowAt(time)); };
    const double limit = size > 3 ? 0.06 : 0.03;
    study.row("S12", fmt::format("elements of {} mm: force at five thicknesses", size), -at(solid, "contacts/press/force z", 1),
              -4 * at(thin, "contacts/press/force z", 1), limit, &thin);
    study.row("S12", fmt::format("elements of {} mm: depth that stays", size), -at(solid, "watch/middle/uz", 2),
              -at(thin, "watch/middle/uz", 2), limit, &thin);
  }
}

void caseS13(Study& study) {
  // as far as the bends at its sides are not sharper than the ring is thick
  const auto whole = study.solve("C9-ring", {}, [](model::Document& d) { d.parts.front().second.element = "quad8"; });
  const auto thin = study.solve("S13-ring", {}, [](model::Document& d) { d.parts.front().second.thin->points = 9; });
  constexpr double crush = 35.2;  // of both models, mm
  const auto forceAt = [](const Solved& s, double time) {
    const auto curve = s.curve("time", "contacts/above/force y");
    for (size_t i = 1; i < curve.size(); ++i)
      if (curve[i].first >= time) {
        const auto& [t0, f0] = curve[i - 1];
        const auto& [t1, f1] = curve[i];
        return -(f0 + (f1 - f0) * (time - t0) / (t1 - t0));
      }
    return 0.;
  };
  // the force climbs in stairs, one for each element that comes to lie flat; the work up to there does not hang on where they are
  const auto workTo = [](const Solved& s, double time) {
    double sum = 0, before = 0, force = 0;
    for (const auto& [t, f] : s.curve("time", "contacts/above/force y")) {
      const double end = std::min(t, time), atEnd = t > time ? force + (f - force) * (end - before) / (t - before) : f;
      sum -= 0.5 * (force + atEnd) * (end - before) * crush;
      before = t, force = f;
      if (t >= time) break;
    }
    return sum;
  };
  for (const double time : {0.3, 0.5, 0.7}) {
    study.row("S13", fmt::format("crushed by {:.1f} mm: force on the ram", crush * time), forceAt(whole, time),
              forceAt(thin, time), 0.03, &thin);
    study.row("S13", fmt::format("crushed by {:.1f} mm: work of the ram up to there", crush * time), workTo(whole, time),
              workTo(thin, time), 0.03, &thin);
  }
}

void caseS14(Study& study) {
  struct Section {
    const char *name, *solid, *thin, *edge, *other, *axis, *otherAxis, *otherName;
  };
  for (const Section& k :
       {Section{"L, {} along the shorter leg", "S14-solid", "S14-fold", "tip", "fold", "y", "y", "fold across"},
        {"tee, {} along the web", "S14-tee-solid", "S14-tee", "tip", "side", "x", "y", "edge of the flange across"}}) {
    const auto solid = study.solve(k.solid);
    for (const int n : {4, 8}) {
      const auto thin = study.solve(k.thin, {"n=" + number(n)});
      const auto row = [&](const std::string& what, const std::string& history) {
        study.row("S14", fmt::format(fmt::runtime(k.name), 2 * n) + ": " + what, solid.history(history, solid.last()),
                  thin.history(history, thin.last()), n == 4 ? 0.05 : 0.03, &thin);
      };
      row("free edge across", fmt::format("watch/{}/u{}", k.edge, k.axis));
      row(k.otherName, fmt::format("watch/{}/u{}", k.other, k.otherAxis));
    }
  }
}

}  // namespace anvil::cli
