// Estimates learn from finished runs: what is kept, what is made of it.
#include "core/checks/pace.hpp"

#include <gtest/gtest.h>

#include <cstdlib>

#include "core/base/files.hpp"
#include "core/checks/estimate.hpp"
#include "core/job/run_model.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"
#include "core/problem/problem.hpp"
#include "scratch.hpp"

using namespace anvil;
using checks::FinishedRun;
using checks::RunKind;

namespace {

class Pace : public ScratchCache {
 protected:
  std::string kept() const { return (folder / "unyielding-anvil" / "runs" / "finished.json").string(); }
};

FinishedRun ran(const std::string& model, RunKind kind, int planned, int iterations, double ratio) {
  return {model, kind, planned, iterations / 3, iterations, iterations * 0.5 * ratio, 0.5};
}

const char* const pulledBar = R"({"anvil": 1, "space": "plane stress", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
  "parts": {"p": {"material": "m", "shape": {"rectangle": {"at": [0, 0], "size": [2, 1]}}, "mesh": {"count": [4, 2]}}},
  "steps": {"pull": {}, "rest": {}}, "supports": {"foot": {"on": "p.left", "fix": ["x", "y"]}},
  "motions": {"pull": {"on": "p.right", "along": "x", "course": {"pull": 0.4, "rest": 0.2}}}})";

}  // namespace

TEST_F(Pace, WhatIsRememberedComesBackAndTheOldestIsForgotten) {
  EXPECT_TRUE(checks::finishedRuns().empty());
  for (int i = 0; i < 205; ++i) checks::remember(ran("m" + std::to_string(i), {true, false, true}, 2, 30 + i, 1.5));
  const auto runs = checks::finishedRuns();
  ASSERT_EQ(runs.size(), 200u);
  EXPECT_EQ(runs.front().model, "m5");
  EXPECT_EQ(runs.back().iterations, 234);
  EXPECT_TRUE((runs.back().kind == RunKind{true, false, true}));
  EXPECT_DOUBLE_EQ(runs.back().seconds, 234 * 0.75);
}

TEST_F(Pace, AFileThatIsNotWhatItShouldBeIsAsGoodAsNone) {
  checks::remember(ran("m", {}, 1, 10, 1));
  for (const char* text : {"", "[{\"model\": 3}]", "{\"a\"", "[1, 2]", "[{\"model\": \"m\", \"planned\": 1}]"}) {
    writeWhole(kept(), text);
    EXPECT_TRUE(checks::finishedRuns().empty()) << text;
  }
  checks::remember(ran("n", {}, 1, 10, 1));
  EXPECT_EQ(checks::finishedRuns().size(), 1u);
}

TEST_F(Pace, TheMiddleOfRunsAlikeIsTakenAndTheSameModelGoesFirst) {
  const RunKind contact{true, true, false}, plain{};
  std::vector<FinishedRun> runs{ran("a", contact, 20, 100, 3), ran("b", contact, 10, 40, 4), ran("c", contact, 40, 480, 40),
                                ran("d", plain, 10, 20, 0.8)};
  auto p = checks::paceOf(runs, "new", contact, 0.5);
  EXPECT_DOUBLE_EQ(p.speed, 4) << "the middle one; a run beside others says little";
  EXPECT_DOUBLE_EQ(p.iterationsEach, 5);
  EXPECT_FALSE(p.sameModel);
  EXPECT_DOUBLE_EQ(checks::paceOf(runs, "new", contact, 0.01).speed, 1) << "small models say nothing of large ones";
  p = checks::paceOf(runs, "c", contact, 0.5);
  EXPECT_DOUBLE_EQ(p.iterationsEach, 12);
  EXPECT_DOUBLE_EQ(p.speed, 40);
  EXPECT_TRUE(p.sameModel);
  p = checks::paceOf(runs, "new", plain, 0.5);
  EXPECT_DOUBLE_EQ(p.speed, 0.8);
  EXPECT_GT(p.iterationsEach, 2) << "one run is no middle";
  EXPECT_DOUBLE_EQ(checks::paceOf({}, "new", plain, 0.5).speed, 1);
}

TEST_F(Pace, PlannedIncrementsGrowFromTheFirstToTheLargest) {
  const auto planned = [](const std::string& increments) {
    return checks::plannedIncrements(model::parse(R"({"steps": {"a": {"increments": )" + increments + "}}}"));
  };
  EXPECT_EQ(planned(R"({"first": 0.1, "largest": 0.1})"), 10);
  EXPECT_EQ(planned(R"({"first": 0.2, "largest": 1})"), 4) << "0.2, 0.3, 0.45 and the rest";
  EXPECT_EQ(planned(R"({"first": 1, "largest": 0.05})"), 20);
}

TEST_F(Pace, TheSameModelIsEstimatedFromItsLastRun) {
  const auto d = model::parse(pulledBar);
  const auto mesh = analysis::buildMesh(d, model::Quantities(d));
  EXPECT_FALSE(checks::estimate(d, mesh).known);
  job::RunOptions options;
  options.out = (folder / "run.h5").string(), options.threads = 1;
  job::runModel(d, options);
  EXPECT_TRUE(checks::finishedRuns().empty()) << "unless it is asked for, nothing is written";
  options.remember = true;
  job::runModel(d, options);
  ASSERT_EQ(checks::finishedRuns().size(), 1u);
  const auto run = checks::finishedRuns().front();
  const auto e = checks::estimate(d, mesh);
  EXPECT_TRUE(e.known);
  EXPECT_NEAR(e.iterations, run.iterations, 1e-9);
  EXPECT_EQ(run.planned, checks::plannedIncrements(d));
  EXPECT_NE(checks::inWords(e).find("last run"), std::string::npos) << checks::inWords(e);
  auto other = d;
  other.title = "another";
  EXPECT_FALSE(checks::estimate(other, mesh).known);
}
