// Time per Newton iteration by part, against the number of unknowns: a block of plastic metal pressed by a round rigid
// tool, plane strain. Prints a table; ratios hold better than seconds.
#include <cstdlib>
#include <fmt/format.h>
#include <sys/resource.h>

#include "core/analysis/run.hpp"
#include "core/base/parallel.hpp"
#include "core/model/json.hpp"

using namespace anvil;

int main(int argc, char** argv) {
  const int threads = argc > 1 ? std::atoi(argv[1]) : 2;
  const ThreadLimit limit(threads);
  fmt::print("threads {}\n{:>9} {:>6} {:>10} {:>10} {:>10} {:>10} {:>10} {:>10} {:>8} {:>9}\n", threads, "unknowns", "iter", "elements", "contact", "assembly",
             "factor", "solve", "sum ms", "outside", "peak MB");
  for (int n : {35, 70, 140}) {
    const auto text = fmt::format(R"({{"parameters": {{"n": {}}}, "space": "plane strain",
      "materials": {{"steel": {{"elastic": {{"E": 205000, "nu": 0.3}}, "plastic": {{"rows": [[0, 260], [0.1, 400], [1, 600]]}}}}}},
      "parts": {{
        "block": {{"material": "steel", "element": "quad4", "shape": {{"rectangle": {{"at": [0, 0], "size": [20, 10]}}}}, "mesh": {{"count": ["=2*n", "=n"]}}}},
        "tool": {{"rigid": true, "shape": {{"profile": {{"start": [0, 20.01], "path": [{{"arc": [20, 20.01], "center": [10, 20.01]}}]}}}}}}}},
      "contacts": {{"press": {{"between": ["block.top", "tool"], "friction": 0.1}}}},
      "steps": {{"press": {{"increments": {{"first": 0.1, "largest": 0.1, "most": 400}}}}}},
      "supports": {{"base": {{"on": "block.bottom", "fix": ["x", "y"]}}}},
      "motions": {{"push": {{"on": "tool", "along": "y", "course": -0.12}}}}}})", n);
    auto problem = analysis::lower(model::parse(text));
    analysis::Observer quiet;
    analysis::Timing t;
    analysis::run(*problem, quiet, nullptr, &t);
    rusage use{};
    getrusage(RUSAGE_SELF, &use);
    const double k = 1000. / t.iterations, sum = t.elements + t.contact + t.assembly + t.factorisation + t.solution;
    fmt::print("{:>9} {:>6} {:>10.2f} {:>10.2f} {:>10.2f} {:>10.2f} {:>10.2f} {:>10.2f} {:>7.0f}% {:>9}\n", problem->dofs(), t.iterations, k * t.elements, k * t.contact,
               k * t.assembly, k * t.factorisation, k * t.solution, k * sum, 100 * (t.elements + t.contact + t.assembly) / sum, use.ru_maxrss / 1024);
    std::fflush(stdout);
  }
}
