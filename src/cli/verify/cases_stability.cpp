// Load limits passed by arc length: snap-through and snap-back.
#include <algorithm>
#include <cmath>

#include "cli/verify/cases.hpp"

namespace anvil::cli {

/// Bars of stiffness k from (±100, 0) to the apex at (0, 10): P(w) = 2 k (L - L0) (10 + w)/L, L² = 100² + (10 + w)².
void caseL3(Study& study) {
  const auto exact = [](double w) {
    const double rest = std::hypot(100., 10.), now = std::hypot(100., 10 + w);
    return 2 * 1000 * (now - rest) * (10 + w) / now;
  };
  // extreme of the parabola through the least load of the first branch and its neighbours
  const auto limitRead = [](const Solved& s) {
    std::vector<std::pair<double, double>> path{{0, 0}};
    for (size_t row = 0; row <= s.last() && path.back().first > -10; ++row)
      path.emplace_back(s.history("bodies/apex/uy", row), s.history("loads/weight/value", row));
    size_t k = 1;
    for (size_t i = 1; i + 1 < path.size(); ++i)
      if (path[i].second < path[k].second) k = i;
    const auto [x0, y0] = path[k - 1];
    const auto [x1, y1] = path[k];
    const auto [x2, y2] = path[k + 1];
    const double d1 = (y1 - y0) / (x1 - x0), d2 = ((y2 - y1) / (x2 - x1) - d1) / (x2 - x0), at = (x0 + x1) / 2 - d1 / (2 * d2);
    return y0 + d1 * (at - x0) + d2 * (at - x0) * (at - x1);
  };
  double limit = 0;
  for (int i = 0; i <= 2000; ++i) limit = std::min(limit, exact(-10. * i / 2000));
  for (const std::string model : {"L3-truss", "L3-snapback"})
    for (const char* first : {"0.05", "0.01"}) {
      const auto s = study.solve(model, {std::string("first=") + first, first[3] == '5' ? "largest=0.1" : "largest=0.01"});
      const bool back = model == "L3-snapback";
      double worst = 0, retreat = 0, furthest = 0;
      VerifyPlot plot{
          "L3",
          back ? "snap-back: load against the head's way" : "snap-through: load against the apex",
          "mm",
          "N",
          {{"exact", {}}, {"computed", s.curve(back ? "bodies/head/uy" : "bodies/apex/uy", "loads/weight/value"), true}}};
      for (double w = 0; w > s.history("bodies/apex/uy", s.last()) - 0.1; w -= 0.1)
        plot.lines[0].points.emplace_back(back ? w + exact(w) / 2 : w, exact(w));
      if (first == std::string("0.05")) study.plot(plot);
      for (size_t row = 0; row <= s.last(); ++row) {
        const double w = s.history("bodies/apex/uy", row), P = s.history("loads/weight/value", row);
        worst = std::max(worst, std::abs(P - exact(w)) / std::abs(limit));
        if (!back) continue;
        const double head = s.history("bodies/head/uy", row);
        worst = std::max(worst, std::abs(head - (w + P / 2)) / 10);
        furthest = std::min(furthest, head), retreat = std::max(retreat, head - furthest);
      }
      const std::string what = std::string(back ? "through a soft spring" : "dead load") + ", first share " + first + ": ";
      study.row("L3", what + "largest distance from the exact curve, over the load limit", 0, worst, 0.001, &s);
      study.row("L3", what + "load limit read by a parabola through three increments, N", limit, limitRead(s), 0.01, &s);
      study.row("L3", what + "ends at the whole load, apex, mm", 1, s.history("loads/weight/value", s.last()) / -200, 1e-9, &s);
      if (back) study.row("L3", what + "the head goes back by, mm (1 when more than 10)", 1, retreat > 10, 1e-12, &s);
    }
}

}  // namespace anvil::cli
