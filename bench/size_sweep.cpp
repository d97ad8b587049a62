// Time per Newton iteration by part, against the number of unknowns: a block of plastic metal pressed by a round rigid
// tool with friction, in plane strain or in space; or a sheet that a ball presses onto a ring, with contact on both sides (141
// elements per edge are 20 000). Prints a table; ratios hold better than seconds.
//   solver-bench [THREADS] [plane|solid|sheet] [ELEMENTS PER EDGE …]
#include <fmt/format.h>
#include <cmath>
#include <cstdlib>
#include <cstring>

#include "core/base/error.hpp"
#include "core/base/memory.hpp"
#include "core/base/parallel.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/run/run.hpp"

using namespace anvil;

namespace {

std::string planeModel(int n) {
  return fmt::format(R"({{"parameters": {{"n": {}}}, "space": "plane strain",
      "materials": {{"steel": {{"elastic": {{"E": 205000, "nu": 0.3}}, "plastic": {{"rows": [[0, 260], [0.1, 400], [1,
        600]]}}}}}},
      "parts": {{
        "block": {{"material": "steel", "element": "quad4", "shape": {{"rectangle": {{"at": [0, 0], "size": [20, 10]}}}},
        "mesh": {{"count": ["=2*n", "=n"]}}}},
        "tool": {{"rigid": true, "shape": {{"profile": {{"start": [0, 20.01], "path": [{{"arc": [20, 20.01], "center": [10,
        20.01]}}]}}}}}}}},
      "contacts": {{"press": {{"between": ["block.top", "tool"], "friction": 0.1}}}},
      "steps": {{"press": {{"increments": {{"first": 0.1, "largest": 0.1, "most": 400}}}}}},
      "supports": {{"base": {{"on": "block.bottom", "fix": ["x", "y"]}}}},
      "motions": {{"push": {{"on": "tool", "along": "y", "course": -0.12}}}}}})",
                     n);
}

std::string solidModel(int n) {
  return fmt::format(R"({{"parameters": {{"n": {}}}, "space": "solid",
      "materials": {{"steel": {{"elastic": {{"E": 205000, "nu": 0.3}}, "plastic": {{"rows": [[0, 260], [0.1, 400], [1,
        600]]}}}}}},
      "parts": {{
        "block": {{"material": "steel", "element": "hex8", "shape": {{"rectangle": {{"at": [0, 0], "size": [10, 10]}}}},
        "extrude": {{"depth": 10, "count": "=n"}}, "mesh": {{"count": ["=n", "=n"]}}}},
        "ball": {{"rigid": true, "shape": {{"profile": {{"start": [0, -15], "path": [{{"arc": [10, -11.180339887498949],
        "center": [0, 0]}}]}}}}, "revolve": {{"angle": 360}}, "place": {{"shift": [5, 25.01, 5]}}}}}},
      "contacts": {{"press": {{"between": ["block.top", "ball"], "friction": 0.1}}}},
      "steps": {{"press": {{"increments": {{"first": 0.5, "largest": 0.5, "most": 400}}}}}},
      "supports": {{"base": {{"on": "block.bottom", "fix": ["x", "y", "z"]}}}},
      "motions": {{"push": {{"on": "ball", "along": "y", "course": -0.12}}}}}})",
                     n);
}

std::string sheetModel(int n) {
  return fmt::format(R"({{"parameters": {{"n": {}}}, "space": "solid",
      "materials": {{"steel": {{"elastic": {{"E": 205000, "nu": 0.3}}, "plastic": {{"rows": [[0, 260], [0.1, 400], [1,
        600]]}}}}}},
      "parts": {{
        "sheet": {{"material": "steel", "shape": {{"rectangle": {{"at": [0, 0], "size": [20, 20]}}}},
        "thin": {{"thickness": 0.5}},
        "mesh": {{"count": ["=n", "=n"]}}}},
        "ball": {{"rigid": true, "shape": {{"disc": {{"center": [0, 0], "radius": 8}}}}, "revolve": {{"angle": 360}},
        "place": {{"shift": [0, 0, 8.25]}}}},
        "ring": {{"rigid": true, "shape": {{"disc": {{"center": [14, 0], "radius": 3}}}}, "revolve": {{"angle": 360}},
        "place": {{"axis": "x", "angle": 90, "shift": [0, 0, -3.25]}}}}}},
      "contacts": {{"press": {{"between": ["sheet.upper", "ball"], "friction": 0.1}},
        "stand": {{"between": ["sheet.lower", "ring"],
        "friction": 0.1}}}},
      "steps": {{"press": {{"increments": {{"first": 0.5, "largest": 0.5, "most": 400}}}}}},
      "supports": {{"left": {{"on": "sheet.left", "fix": "x"}}, "bottom": {{"on": "sheet.bottom", "fix": "y"}},
        "corner": {{"on": "sheet.right & sheet.top", "fix": "z"}}}},
      "motions": {{"push": {{"on": "ball", "along": "z", "course": -0.3}}}}}})",
                     n);
}

/// Of the largest models a few iterations tell enough.
struct Patience : analysis::Observer {
  int left;
  explicit Patience(int iterations) : left(iterations) {}
  bool stop() override { return --left <= 0; }
};

}  // namespace

int main(int argc, char** argv) {
  const int threads = argc > 1 ? std::atoi(argv[1]) : 2;
  const auto asked = [&](const char* word) { return argc > 2 && std::strcmp(argv[2], word) == 0; };
  const bool solid = asked("solid"), sheet = asked("sheet");
  std::vector<int> sizes;
  for (int i = 3; i < argc; ++i) sizes.push_back(std::atoi(argv[i]));
  if (sizes.empty())
    sizes = solid ? std::vector<int>{14, 21, 31} : sheet ? std::vector<int>{36, 71, 141} : std::vector<int>{35, 70, 140};
  const ThreadLimit limit(threads);
  fmt::print("{}, threads {}\n{:>9} {:>6} {:>10} {:>10} {:>10} {:>10} {:>10} {:>10} {:>8} {:>9} {:>9}\n",
             solid   ? "solid hex8"
             : sheet ? "sheet, 5 points through it"
                     : "plane quad4",
             threads, "unknowns", "iter", "elements", "contact", "assembly", "factor", "solve", "sum ms", "outside", "peak MB",
             "exponent");
  double before = 0, unknowns = 0;
  for (int n : sizes) {
    auto problem = analysis::lower(model::parse(solid ? solidModel(n) : sheet ? sheetModel(n) : planeModel(n)));
    Patience quiet(problem->dofs() > (sheet ? 100000 : 150000) ? 8 : 1 << 30);
    analysis::Timing t;
    try {
      analysis::run(*problem, quiet, nullptr, &t);
    } catch (const Error& e) {
      fmt::print("{:>9} {}\n", problem->dofs(), e.what());
      continue;
    }
    const double k = 1000. / t.iterations, sum = t.elements + t.contact + t.assembly + t.factorisation + t.solution;
    const double exponent = before > 0 ? std::log(k * sum / before) / std::log(problem->dofs() / unknowns) : 0;
    before = k * sum, unknowns = problem->dofs();
    fmt::print("{:>9} {:>6} {:>10.2f} {:>10.2f} {:>10.2f} {:>10.2f} {:>10.2f} {:>10.2f} {:>7.0f}% {:>9.0f} {:>9.2f}\n",
               problem->dofs(), t.iterations, k * t.elements, k * t.contact, k * t.assembly, k * t.factorisation, k * t.solution,
               k * sum, 100 * (t.elements + t.contact + t.assembly) / sum, mostUsedMemory(), exponent);
    std::fflush(stdout);
  }
}
