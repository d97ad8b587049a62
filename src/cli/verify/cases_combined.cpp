// Contact, plastic flow or rubber, and large deflection at once: an upset billet, a rubber block under a cylinder, a drawn
// strip. There is no closed form: different models of the same thing, meshes, and the energy must agree.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "cli/verify/cases.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"

namespace anvil::cli {
namespace {

/// A history at a time, straight between increments.
double at(const Solved& s, const std::string& name, double time) {
  const auto t = s.reader().times(), v = s.reader().history(name);
  const auto k = std::min<size_t>(size_t(std::lower_bound(t.begin(), t.end(), time - 1e-12) - t.begin()), t.size() - 1);
  const double t0 = k ? t[k - 1] : 0, v0 = k ? v[k - 1] : 0;
  return v0 + (v[k] - v0) * (std::min(time, t[k]) - t0) / (t[k] - t0);
}

std::string shortly(double v) { return std::to_string(v).substr(0, 4); }

}  // namespace

void caseX1(Study& study) {
  const auto plane = study.solve("X1-billet", {"n=12"}), fine = study.solve("X1-billet", {"n=24"}),
             space = study.solve("X1-billet-solid");
  const std::string force = "motions/down/force z";
  study.plot({"X1",
              "upset billet: force against way down",
              "mm",
              "kN",
              {{"axisymmetric", plane.curve("motions/down/travel", force, -1, -1e-3)},
               {"eighth in space", space.curve("motions/down/travel", force, -1, -4e-3), true}}});
  for (const double time : {0.4, 0.6, 0.8, 1.})
    study.row("X1", "eighth in space against axisymmetric, height reduced by " + shortly(time / 2) + ": force, kN",
              -at(plane, force, time) / 1e3, -4 * at(space, force, time) / 1e3, 0.01, &space);
  for (const double time : {0.5, 1.})
    study.row("X1", "12 against 24 across, height reduced by " + shortly(time / 2) + ": force, kN", -at(fine, force, time) / 1e3,
              -at(plane, force, time) / 1e3, 0.02, &fine);
  study.row("X1", "24 across: work not found again, over the work", 0,
            fine.history("energy/imbalance", fine.last()) / fine.history("energy/external work", fine.last()), 0.01, &fine);
}

void caseX2(Study& study) {
  const auto force = [](const Solved& s) { return -s.history("motions/down/force y", s.last()); };
  const auto coarse = study.solve("X2-rubber", {"n=12"}), fine = study.solve("X2-rubber", {"n=24"});
  const auto quadratic = study.solve("X2-rubber", {"n=12"}, [](model::Document& d) { d.parts.front().second.element = "quad8"; });
  study.plot({"X2",
              "rubber under a cylinder: force against depth",
              "mm",
              "N/mm",
              {{"24 to a radius", fine.curve("motions/down/travel", "motions/down/force y", -1, -1)},
               {"12", coarse.curve("motions/down/travel", "motions/down/force y", -1, -1), true}}});
  study.row("X2", "quad4, 12 against 24 to a radius: force, N/mm", force(fine), force(coarse), 0.01, &coarse);
  study.row("X2", "quad8, 12, against quad4, 24 to a radius: force, N/mm", force(fine), force(quadratic), 0.01, &quadratic);
  study.row("X2", "depth reached over the radius", 1.2, -fine.history("motions/down/travel", fine.last()) / 10, 1e-9, &fine);
  study.row("X2", "work not found again, over the work", 0,
            fine.history("energy/imbalance", fine.last()) / fine.history("energy/external work", fine.last()), 0.01, &fine);
}

/// Angle of the wall against the vertical from two points of its middle line, degrees.
void caseX3(Study& study) {
  const auto angle = [](const Solved& s, size_t row) {
    const auto u = [&](const char* what) { return s.history(std::string("watch/") + what, row); };
    return std::atan2(17 + u("upper/ux") - 13 - u("lower/ux"), u("upper/uy") - u("lower/uy")) * 180 / std::numbers::pi;
  };
  std::vector<double> free, back;
  for (const int n : {6, 8, 10}) {  // square elements; 4 is too coarse for the die's radius: 6.6 % from 6
    const auto s = study.solve("X3-strip", {"n=" + std::to_string(n)});
    free.push_back(angle(s, s.last())), back.push_back(angle(s, s.last()) - angle(s, s.rowAt(1)));
    if (n == 6) continue;
    const auto k = free.size() - 1;
    const std::string what = std::to_string(n - 2) + " against " + std::to_string(n) + " quad8 through the strip: ";
    study.row("X3", what + "wall angle when let go, degrees", free[k], free[k - 1], n == 8 ? 0.06 : 0.03, &s);
    study.row("X3", what + "springback, degrees", back[k], back[k - 1], n == 8 ? 0.06 : 0.03, &s);
    study.row("X3", std::to_string(n) + " through the strip: forces from outside that do not cancel", 0,
              s.history("balance/force", s.last()), 1e-6, &s);
  }
}

}  // namespace anvil::cli
