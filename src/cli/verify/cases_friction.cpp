// Friction: a roller pressed and pushed, a belt on a drum, ironing, a shaft turned in its fit.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "cli/verify/cases.hpp"
#include "core/model/actions.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"

namespace anvil::cli {

void caseC4(Study& study) {
  for (const char* n : {"16", "24"})
    for (const double share : {0.3, 0.6}) {
      const auto s = study.solve("C4-tangential", {std::string("n=") + n, "share=" + std::to_string(share)});
      const auto state = s.reader().contact(0, s.last());
      const auto& nodes = s.reader().header().contacts[0].nodes;
      // q = μ p0 (sqrt(1 - x²/a²) - (c/a) sqrt(1 - x²/c²)): in the middle 1 - q/(μ p) is c/a, known finer than whole nodes
      size_t middle = 0;
      for (size_t i = 0; i < nodes.size(); ++i)
        if (std::abs(s.reader().header().mesh.x[size_t(nodes[i])].x()) <
            std::abs(s.reader().header().mesh.x[size_t(nodes[middle])].x()))
          middle = i;
      const double ratio =
          std::abs(double(state[results::contactColumns * middle + 1])) / (0.3 * double(state[results::contactColumns * middle]));
      study.row(
          "C4",
          std::string(n) + " elements a side, Q/μP " + std::to_string(share).substr(0, 3) + ": stick zone over contact width",
          std::sqrt(1 - share), 1 - ratio, std::string(n) == "24" ? 0.03 : 0.05, &s);
    }
}

void caseC6(Study& study) {
  for (const char* n : {"30", "60"})
    for (const int angle : {90, 180}) {
      const auto s = study.solve("C6-belt", {std::string("n=") + n, "angle=" + std::to_string(angle)}, [&](model::Document& d) {
        if (angle != 180) return;  // the drawn end leaves downwards
        d.motions.front().second.along.axis = "y", d.motions.front().second.course.stages.back().second.value = -1.5;
        d.parts.front().second.mesh.count[1] = "=2*n";
      });
      const double T2 = std::abs(s.history(angle == 180 ? "motions/draw/force y" : "motions/draw/force x", s.last()));
      study.row("C6", "wrapped " + std::to_string(angle) + "°, " + n + " quad8 per quarter: T2/T1",
                std::exp(0.3 * angle * std::numbers::pi / 180), T2 / 10, 0.01, &s);
    }
}

void caseC8(Study& study) {
  for (const std::string element : {"quad4", "quad8"})
    for (const auto& [friction, n] : {std::pair{0., 40}, {0., 100}, {0.2, 100}}) {
      const auto s = study.solve("C8-ironing", {"n=" + std::to_string(n)}, [&](model::Document& d) {
        for (auto& [name, part] : d.parts)
          if (!part.rigid) part.element = element;
        d.contacts.front().second.friction = friction;
      });
      for (const char* axis : {"y", "x"}) {
        if (friction == 0 && axis[0] == 'x') continue;
        double low = 1e300, high = -1e300, sum = 0, count = 0;
        for (size_t r = s.rowAt(1.25); r <= s.rowAt(1.95); ++r) {
          const double f = std::abs(s.history(std::string("contacts/rub/force ") + axis, r));
          low = std::min(low, f), high = std::max(high, f), sum += f, ++count;
        }
        study.row("C8",
                  element + ", " + std::to_string(n) + " along, friction " + std::to_string(friction).substr(0, 3) +
                      ": ripple of the force along " + axis + " over its mean",
                  0, (high - low) / (sum / count), n == 40 ? 0.08 : 0.03, &s);
      }
    }
}

void caseC10(Study& study) {
  for (const std::string element : {"quad4", "quad8"}) {
    const auto s = study.solve("C10-turn", {}, [&](model::Document& d) { d.parts.front().second.element = element; });
    const double torque = s.history("motions/turn/moment", s.last());
    study.row("C10", element + ": torque on the shaft against the moment of the contact's tractions on the ring", 1,
              torque / s.history("contacts/fit/moment", s.last()), 1e-6, &s);
    double held = 0;  // moment of the rim's reactions about the middle
    const auto force = s.reader().field("reaction", s.last());
    for (const auto& f : s.reader().header().mesh.faces)
      if (f.name == "ring.rim")
        for (int n : s.reader().header().mesh.nodesOf(f.facets)) {
          const auto& x = s.reader().header().mesh.x[size_t(n)];
          held += x.x() * double(force[2 * size_t(n) + 1]) - x.y() * double(force[2 * size_t(n)]);
        }
    study.row("C10", element + ": torque on the shaft against the moment of the rim's reactions (stored in single precision)", 1,
              -torque / held, 1e-6, &s);
    // the bore is 0.02 wider than the shaft was; straight edges lie inside the circle by up to 0.2 %
    study.row("C10", element + ": torque against friction × radius × contact force",
              0.2 * 10.02 * s.history("contacts/fit/pressure times area", s.last()), std::abs(torque),
              element == "quad8" ? 1e-4 : 2e-3, &s);
  }
}

void caseC9(Study& study) {
  for (const std::string element : {"quad4", "quad8"}) {
    const auto s = study.solve("C9-ring", {}, [&](model::Document& d) { d.parts.front().second.element = element; });
    const size_t flat = s.rowAt(1), last = s.last();
    const double edge = std::numbers::pi * 19 / 64;  // mean length of an element along the ring
    double deepest = 0;
    for (const char* pair : {"inside", "above", "below"})
      for (double v : s.reader().history(std::string("contacts/") + pair + "/greatest penetration"))
        deepest = std::max(deepest, v);
    study.row("C9", element + ": the run goes through to the end, time", 2, s.reader().times().back(), 1e-9, &s);
    study.row("C9", element + ": greatest penetration over the element size", 0, deepest / edge, 1e-3, &s);
    study.row("C9", element + ": the inside touches itself, missing touch (1 if not)", 0,
              s.history("contacts/inside/area", flat) > 0 ? 0 : 1, 0, &s);
    study.row("C9", element + ": crushed, left against right, over their travel", 0,
              (s.history("watch/right/ux", flat) + s.history("watch/left/ux", flat)) / s.history("watch/right/ux", flat), 1e-4,
              &s);
    study.row("C9", element + ": let go, force on the ram against the greatest", 0,
              s.history("contacts/above/pressure times area", last) / s.history("contacts/above/pressure times area", flat), 1e-3,
              &s);
  }
}

}  // namespace anvil::cli
