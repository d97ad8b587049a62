// Arc-length steps: closed forms past load limits, agreement with displacement control, restarts, stability, bad input.
#include <gtest/gtest.h>

#include <cmath>

#include "core/lower/lower.hpp"
#include "run/small_runs.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

/// Two springs meeting at an apex 10 above their feet; a clamped block that carries nothing.
const char* const truss = R"({
  "anvil": 1,
  "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
  "parts": {
    "foot": {"material": "steel", "element": "quad4", "shape": {"rectangle": {"at": [-102, -2], "size": [2, 2]}}, "mesh": {
      "count": 1}},
    "apex": {"rigid": true, "shape": {"profile": {"start": [-1, 10], "path": [{"line": [1, 10]}]}}, "pivot": [0, 10], "loose": [
      "y"]}},
  "springs": {"left": {"between": ["apex"], "at": [-100, 0], "stiffness": 1000}, "right": {"between": ["apex"], "at": [100, 0],
    "stiffness": 1000}},
  "steps": {"snap": {"control": "arc length", "increments": {"first": 0.05, "largest": 0.1}}},
  "supports": {"ground": {"on": ["foot.bottom", "foot.left", "foot.top", "foot.right"], "fix": ["x", "y"]}},
  "loads": {"weight": {"on": "apex", "kind": "force", "along": "y", "course": -100}}
})";

/// Half of a flat arch, clamped at its foot, pushed down at the crown by a force spread over its cut.
const char* const arch = R"({
  "anvil": 1, "space": "plane stress", "thickness": 1,
  "materials": {"spring": {"elastic": {"E": 2000, "nu": 0.3}}},
  "parts": {"arch": {"material": "spring", "element": "quad8", "shape": {"ring": {"center": [0, -100], "inner": 99, "outer": 101,
    "from": 70, "to": 90}}, "mesh": {"count": [12, 1]}}},
  "steps": {"push": {"control": "arc length", "increments": {"first": 0.1, "largest": 0.2}}},
  "supports": {"foot": {"on": "arch.start", "fix": ["x", "y"]}, "crown": {"on": "arch.end", "fix": "x"}},
  "loads": {"press": {"on": "arch.end", "kind": "force", "along": "y", "course": -8}},
  "watch": {"crown": {"part": "arch", "at": [0, 0]}}
})";

double exact(double w) {
  const double rest = std::hypot(100., 10.), now = std::hypot(100., 10 + w);
  return 2000 * (now - rest) * (10 + w) / now;
}

std::string refused(const std::string& text) {
  return sentence([&] { solved(text); });
}

}  // namespace

TEST(ArcLength, FollowsTheTrussThroughBothLimits) {
  auto p = lowered(truss);
  RunLog course;
  EXPECT_EQ(analysis::run(*p, course), analysis::Outcome::finished);
  double least = 0, greatest = 0;
  for (const auto& inc : course.all) {
    const double w = historyOf(*p, inc, "bodies/apex/uy"), P = historyOf(*p, inc, "loads/weight/value");
    EXPECT_NEAR(P, exact(w), 1e-5);
    EXPECT_NEAR(P, -100 * historyOf(*p, inc, "step/share of the loading"), 1e-9);
    if (w > -20) least = std::min(least, P), greatest = std::max(greatest, P);
  }
  EXPECT_LT(least, -36);  // both limits lie at 38.3
  EXPECT_GT(greatest, 36);
  EXPECT_DOUBLE_EQ(historyOf(*p, course.all.back(), "loads/weight/value"), -100);
  EXPECT_DOUBLE_EQ(course.all.back().time, 1);
  for (size_t i = 1; i < course.all.size(); ++i) EXPECT_GT(course.all[i].time, course.all[i - 1].time);
}

TEST(ArcLength, LostStabilityIsSaidOnce) {
  const auto run = solved(truss);
  const auto& course = run.course;
  EXPECT_EQ(course.said("no longer stable"), 1);
  EXPECT_EQ(solved(with(truss, "\"course\": -100", "\"course\": -20")).course.said("stable"), 0);  // never past the limit
}

TEST(ArcLength, AStoredIncrementIsGoneOnFromWithTheSameAnswer) {
  const auto wholeRun = solved(truss);
  const auto& whole = wholeRun.course;
  RunLog first;
  first.after = 6;
  auto p = lowered(truss);
  EXPECT_EQ(analysis::run(*p, first), analysis::Outcome::stopped);
  auto again = lowered(truss);
  RunLog rest;
  EXPECT_EQ(analysis::run(*again, rest, &first.all.back().restart), analysis::Outcome::finished);
  ASSERT_EQ(first.all.size() + rest.all.size(), whole.all.size());
  EXPECT_LT((rest.all.back().displacement - whole.all.back().displacement).cwiseAbs().maxCoeff(), 1e-12);
}

TEST(ArcLength, EndsWhereAWatchedDisplacementPasses) {
  // whole load far beyond what the arch carries before the crown has gone down by 4
  auto text = with(arch, "\"control\": \"arc length\"",
                   "\"control\": \"arc length\", \"until\": {\"watch\": \"crown\", \"along\": \"y\", \"passes\": -4}");
  text = with(text, "\"course\": -8", "\"course\": -800");
  text = with(text, "\"first\": 0.1, \"largest\": 0.2", "\"first\": 0.0005, \"largest\": 0.002");
  auto p = lowered(text);
  RunLog course;
  EXPECT_EQ(analysis::run(*p, course), analysis::Outcome::finished);
  EXPECT_LE(historyOf(*p, course.all.back(), "watch/crown/uy"), -4);
  EXPECT_GT(historyOf(*p, course.all[course.all.size() - 2], "watch/crown/uy"), -4);
  EXPECT_DOUBLE_EQ(course.all.back().time, 1);
  EXPECT_LT(historyOf(*p, course.all.back(), "step/share of the loading"), 0.5);
}

TEST(ArcLength, AnArchTakesTheSamePathAsUnderDisplacementControl) {
  // the crown's cut moves down as a whole when driven; held parallel by a rigid carrier when loaded
  auto loaded =
      with(arch, "\"loads\": {\"press\": {\"on\": \"arch.end\"",
           "\"carriers\": {\"cut\": {\"on\": \"arch.end\", \"hold\": \"mean\"}}, \"loads\": {\"press\": {\"on\": \"cut\"");
  loaded = with(loaded, "\"first\": 0.1, \"largest\": 0.2", "\"first\": 0.05, \"largest\": 0.08");
  auto driven = with(loaded, "\"control\": \"arc length\", ", "");
  driven = with(driven, "\"loads\": {\"press\": {\"on\": \"cut\", \"kind\": \"force\", \"along\": \"y\", \"course\": -8}}",
                "\"motions\": {\"press\": {\"on\": \"cut\", \"along\": \"y\", \"course\": -14}}");
  driven = with(driven, "\"first\": 0.05, \"largest\": 0.08", "\"first\": 0.01, \"largest\": 0.01");
  auto pa = lowered(loaded), pb = lowered(driven);
  RunLog a, b;
  analysis::run(*pa, a), analysis::run(*pb, b);
  std::vector<std::pair<double, double>> curve{{0, 0}};
  double limit = 0;
  for (const auto& inc : b.all)
    curve.emplace_back(-historyOf(*pb, inc, "motions/press/travel"), -historyOf(*pb, inc, "motions/press/force y"));
  int compared = 0;
  double most = 0, last = 0;
  bool fell = false;
  for (const auto& inc : a.all) {
    const double w = -historyOf(*pa, inc, "carriers/cut/uy"), P = -historyOf(*pa, inc, "loads/press/value");
    fell |= P < last, last = P;
    const auto k = size_t(std::lower_bound(curve.begin(), curve.end(), std::pair{w, -1e300}) - curve.begin());
    if (k < 2 || k + 1 >= curve.size()) continue;
    // parabola through three points of the driven curve
    const auto [x0, y0] = curve[k - 1];
    const auto [x1, y1] = curve[k];
    const auto [x2, y2] = curve[k + 1];
    const double y = y0 * (w - x1) * (w - x2) / ((x0 - x1) * (x0 - x2)) + y1 * (w - x0) * (w - x2) / ((x1 - x0) * (x1 - x2)) +
                     y2 * (w - x0) * (w - x1) / ((x2 - x0) * (x2 - x1));
    limit = std::max(limit, std::abs(y)), most = std::max(most, std::abs(P - y)), ++compared;
  }
  EXPECT_TRUE(fell);  // there was a limit to pass
  EXPECT_GE(compared, 8);
  EXPECT_LT(most, 2e-4 * limit);
}

TEST(ArcLength, MotionsCanBeFollowedToo) {
  // a block pulled by a motion: the share is the motion's, the end the same as with time
  const char* const block = R"({
    "anvil": 1,
    "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}, "plastic": {"yield": 250, "tangent": 2000}}},
    "parts": {"block": {"material": "steel", "element": "quad8", "shape": {"rectangle": {"at": [0, 0], "size": [4, 3]}},
      "mesh": {"count": [2, 2]}}},
    "steps": {"pull": {"control": "arc length", "increments": {"first": 0.1, "largest": 0.2}}},
    "supports": {"left": {"on": "block.left", "fix": "x"}, "bottom": {"on": "block.bottom", "fix": "y"}},
    "motions": {"pull": {"on": "block.right", "along": "x", "course": 0.1}}
  })";
  const auto along = solved(block), timed = solved(with(block, "\"control\": \"arc length\", ", ""));
  EXPECT_LT((along.course.all.back().displacement - timed.course.all.back().displacement).cwiseAbs().maxCoeff(), 1e-7);
}

TEST(ArcLength, WrongEndsAreSaid) {
  const auto until =
      with(truss, "\"control\": \"arc length\"", "\"until\": {\"watch\": \"crown\", \"along\": \"y\", \"passes\": -4}");
  EXPECT_NE(refused(until).find("only an arc-length step"), std::string::npos);
  EXPECT_NE(refused(with(truss, "\"control\": \"arc length\"",
                         "\"control\": \"arc length\", \"until\": {\"watch\": \"crown\", \"along\": \"y\", \"passes\": -4}"))
                .find("no watched point 'crown'"),
            std::string::npos);
  EXPECT_NE(refused(with(arch, "\"control\": \"arc length\"",
                         "\"control\": \"arc length\", \"until\": {\"watch\": \"crown\", \"along\": \"up\", \"passes\": -4}"))
                .find("'up'"),
            std::string::npos);
  EXPECT_NE(refused(with(truss, "\"control\": \"arc length\"", "\"control\": \"arc\"")).find("not one of"), std::string::npos);
  EXPECT_NE(refused(with(truss, "\"largest\": 0.1", "\"largest\": 0.1, \"most\": 5")).find("\"until\""), std::string::npos);
}
