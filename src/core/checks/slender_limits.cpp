#include "core/checks/slender_limits.hpp"

#include "core/problem/problem.hpp"

#include <algorithm>
#include <map>

#include "core/base/text.hpp"

namespace anvil::checks {

void slenderLimits(const analysis::Problem& p, Report& r) {
  struct Extent {
    size_t lines = 0, cells = 0;
    double shortest = 1e300, longest = 0;
  };
  std::map<int, Extent> parts;
  for (size_t i = 0; i < p.slender.size(); ++i) {
    const auto& cells = *p.slender[i].cells;
    auto& e = parts[p.slender[i].part];
    double length = 0;
    for (size_t c = 0; c < cells.count(); ++c) {
      e.shortest = std::min(e.shortest, cells.length(c)), e.longest = std::max(e.longest, cells.length(c));
      length += cells.length(c);
    }
    ++e.lines, e.cells += cells.count();
    const double depth = p.dim() == 2 ? cells.section().height : std::max(cells.section().height, cells.section().width);
    if (cells.bar() || length >= 10 * depth) continue;
    const auto& name = p.mesh.lines[i].name;
    const auto dot = name.find('.');
    r.findings.push_back({false, "parts/" + name.substr(0, dot) + "/slender/lines/" + name.substr(dot + 1),
                          "The line is " + shortNumber(length, 3) + " mm long, less than ten times its section of " +
                              shortNumber(depth, 3) + " mm: sections hardly stay plane there.",
                          "Model it as a solid, or take its answers as rough."});
  }
  for (const auto& [part, e] : parts)
    r.facts.push_back("part '" + p.mesh.parts[size_t(part)] + "': " + std::to_string(e.lines) +
                      (e.lines == 1 ? " line, " : " lines, ") + std::to_string(e.cells) + " slender elements of " +
                      shortNumber(e.shortest, 3) + " to " + shortNumber(e.longest, 3) + " mm");
}

}  // namespace anvil::checks
