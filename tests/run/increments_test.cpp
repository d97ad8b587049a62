// How increments are chosen: few where nothing is hard, and none wasted where it is known what a shorter one comes to.
#include <fmt/format.h>

#include <map>

#include "run/small_runs.hpp"

using namespace anvil;

namespace {

std::string smoothBar(const std::string& plastic, double pull, const std::string& increments) {
  return fmt::format(R"({{"anvil": 1, "space": "plane strain", "materials": {{"m": {{"elastic": {{"E": 200000, "nu": 0.3}}{}}}}},
    "parts": {{"bar": {{"material": "m", "element": "quad4", "shape": {{"rectangle": {{"at": [0, 0], "size": [10, 4]}},
      "edges": ["low", "end", "high", "root"]}}, "mesh": {{"count": [5, 2]}}}}}},
    "steps": {{"pull": {{"increments": {{{}}}}}}},
    "supports": {{"root": {{"on": "bar.root", "fix": ["x"]}}, "low": {{"on": "bar.low", "fix": ["y"]}}}},
    "motions": {{"pull": {{"on": "bar.end", "along": "x", "course": {}}}}}}})",
                     plastic, increments, pull);
}

/// Iterations of every attempt, by increment and attempt.
struct Attempts : RunLog {
  std::map<std::pair<int, int>, int> iterations;
  void iterated(const analysis::IterationReport& r) override { ++iterations[{r.increment, r.attempt}]; }
};

}  // namespace

TEST(Increments, ASmoothStepTakesSeven) {
  const auto run = solved(smoothBar("", 0.1, ""));
  EXPECT_EQ(run.course.all.size(), 7u);
  EXPECT_EQ(run.course.cutbacks, 0);
  const auto seen = solved(smoothBar("", 0.1, R"("largest": 0.04)"));
  EXPECT_EQ(seen.course.all.size(), 25u) << "as fine as it is asked for";
  EXPECT_NEAR(run.last("motions/pull/force x"), seen.last("motions/pull/force x"), 1e-5 * seen.last("motions/pull/force x"));
}

TEST(Increments, WhatStrainsTooMuchIsTakenShorterFromItsOwnAnswer) {
  // 1.8 mm on 10: some 0.2 of plastic strain, of which an increment may bring 0.05
  auto p = lowered(smoothBar(R"(, "plastic": {"yield": 200, "tangent": 1500})", 1.8, R"("first": 0.5, "largest": 0.5)"));
  Attempts course;
  analysis::run(*p, course);
  ASSERT_GT(course.cutbacks, 0);
  int retried = 0;
  for (const auto& [which, iterations] : course.iterations) {
    if (which.second == 0 || which.first == 1) continue;
    ++retried;
    EXPECT_LE(iterations, 3) << "increment " << which.first;
  }
  const int first = course.iterations.at({1, 0}), again = course.iterations.at({1, 1});
  EXPECT_LE(again, first - 2) << "the part of a balance that went too far is near the answer";
  for (const auto& i : course.all) EXPECT_LT(i.iterations, 8);
}

TEST(Increments, TheLimitOfPlasticStrainIsMetBeforeItIsBroken) {
  // the root is held across, too: flow gathers beside it, ever more of it with each part of the way
  auto p = lowered(
      with(smoothBar(R"(, "plastic": {"yield": 300, "tangent": 700})", 1.5, ""), R"("fix": ["x"])", R"("fix": ["x", "y"])"));
  RunLog course;
  analysis::run(*p, course);
  EXPECT_LE(course.cutbacks, 2);
  EXPECT_GT(course.all.size(), 5u);
}
