// Tools that move until they touch and are then pushed by a force: the recipe of forming, and what is said where something is
// loose.
#include <gtest/gtest.h>

#include <fmt/format.h>

#include "run/small_runs.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

/// A flat sheet on a ring-shaped die, a holder above it, a punch in the middle. `gap`: between holder and sheet at first;
/// `closes`: how far the holder moves before the force takes it.
std::string cup(double gap, const std::string& holder, const std::string& force, double deep) {
  return fmt::format(R"({{"anvil": 1, "space": "axisymmetric",
    "materials": {{"sheet": {{"elastic": {{"E": 205000, "nu": 0.3}}, "plastic": {{"yield": 170, "tangent": 900}}}}}},
    "parts": {{"sheet": {{"material": "sheet", "element": "quad4", "shape": {{"rectangle": {{"at": [0, 0], "size": [40, 1]}}}},
      "mesh": {{"count": [40, 2]}}}},
      "die": {{"rigid": true, "shape": {{"profile": {{"start": [80, 0], "path": [{{"line": [27, 0], "fillet": 6}}, {{
        "line": [27, -60]}}]}}}}}},
      "holder": {{"rigid": true, "shape": {{"profile": {{"start": [27, {0}], "path": [{{"line": [80, {0}]}}]}}}}}},
      "punch": {{"rigid": true, "shape": {{"profile": {{"start": [0, 1], "path": [{{"line": [25.3, 1], "fillet": 6}}, {{
        "line": [25.3, 60]}}]}}}}}}}},
    "contacts": {{"die": {{"between": ["sheet.bottom", "die"], "friction": 0.08}}, "holder": {{"between": ["sheet.top",
      "holder"], "friction": 0.08}},
      "punch": {{"between": ["sheet.top", "punch"], "friction": 0.08}}}},
    "steps": {{"close": {{}}, "hold": {{}}, "draw": {{}}}}, "supports": {{"axis": {{"on": "sheet.left", "fix": "r"}}}},
    "motions": {{{1} "punch": {{"on": "punch", "along": "z", "course": {{"close": 0, "hold": "hold", "draw": {2}}}}}}},
    "loads": {{"hold": {{"on": "holder", "kind": "force", "along": "z", "course": {3}}}}}}})",
                     1 + gap, holder, -deep, force);
}

void expectHeld(const Solved& s, double force) {
  EXPECT_NEAR(std::abs(s.last("contacts/holder/force z")), force, 1e-3 * force);
  EXPECT_DOUBLE_EQ(s.course.all.back().time, 3);
}

/// All iterations, those of increments that were shortened as well.
struct Counted : RunLog {
  int iterations = 0;
  void iterated(const analysis::IterationReport&) override { ++iterations; }
};

}  // namespace

TEST(Forming, AToolMovedExactlyToTouchIsThenPushed) {
  expectHeld(solved(cup(0.5, R"("holder": {"on": "holder", "along": "z", "course": {"close": -0.5, "hold": "off"}},)",
                        R"({"hold": -2000})", 3)),
             2000);
}

TEST(Forming, AToolThatTouchesFromTheStartIsPushedAtOnce) { expectHeld(solved(cup(0, "", R"({"close": -2000})", 3)), 2000); }

TEST(Forming, AToolUnderForceFindsTheSheetByItself) { expectHeld(solved(cup(0.3, "", R"({"close": -2000})", 3)), 2000); }

TEST(Forming, AForceOfNothingGoesOnTouching) {
  expectHeld(solved(cup(0.5, R"("holder": {"on": "holder", "along": "z", "course": {"close": -0.5, "hold": "off"}},)",
                        R"({"hold": 0, "draw": -2000})", 1)),
             2000);
}

TEST(Forming, TheLooseBodyIsNamedWithItsDirection) {
  // pushed away from the sheet, nothing holds it
  const auto words = sentence([] {
    solved(cup(0.5, R"("holder": {"on": "holder", "along": "z", "course": {"close": -0.5, "hold": "off"}},)", R"({"hold": 2000})",
               1));
  });
  EXPECT_SAYS(words, "'holder' (along z)");
  EXPECT_SAYS(words, "\"off\"");
}

TEST(Forming, AStabilisationMaySteadyARigidPart) {
  auto text = cup(0.5, "", R"({"close": -2000})", 1);
  text = with(text, R"("loads":)", R"("stabilisations": {"calm": {"on": "holder", "during": "close"}}, "loads":)");
  expectHeld(solved(text), 2000);
}

/// What helped an increment that failed must not take friction away from those after it.
TEST(Forming, FrictionDoesNotDependOnIncrementsThatFailed) {
  const std::string model =
      R"({"space": "plane strain", "materials": {"rubber": {"rubber": {"mooney": [0.3, 0.08], "bulk": 500}}},
    "parts": {"block": {"material": "rubber", "element": "quad4", "mesh": {"count": [30, 24]},
        "shape": {"rectangle": {"at": [0, 0], "size": [40, 30]}}},
      "cylinder": {"rigid": true, "shape": {"profile": {"start": [-10, 40], "path": [{"arc": [0, 30], "center": [0, 40]},
        {"arc": [10, 40], "center": [0, 40]}]}}}},
    "contacts": {"press": {"between": ["block.top", "cylinder"], "friction": 0.2}}, "steps": {"press": {}},
    "supports": {"middle": {"on": "block.left", "fix": "x"}, "floor": {"on": "block.bottom", "fix": ["x", "y"]}},
    "motions": {"down": {"on": "cylinder", "along": "y", "course": -12}}})";
  const auto usual = solved(with(model, R"("press": {}})", R"("press": {"increments": {"first": 1, "largest": 1}}})")),
             small = solved(with(model, R"("press": {}})", R"("press": {"increments": {"first": 0.005,
    "largest": 0.05}}})"));
  ASSERT_GT(usual.course.cutbacks, 0) << "else it shows nothing";
  ASSERT_EQ(small.course.cutbacks, 0);
  const char* force = "motions/down/force y";
  EXPECT_NEAR(usual.last(force), small.last(force), 3e-3 * std::abs(small.last(force)));
}

/// Where one increment takes a tool right through what it should push, both ends of the way know of no contact.
TEST(Forming, NothingIsLeaptThrough) {
  const auto s = solved(R"({"space": "plane stress", "materials": {"soft": {"elastic": {"E": 100, "nu": 0.3}}},
    "parts": {"beam": {"material": "soft", "element": "quad4", "mesh": {"count": [40, 3]},
        "shape": {"rectangle": {"at": [0, 0], "size": [60, 3]}}},
      "punch": {"rigid": true, "shape": {"rectangle": {"at": [27, 3.5], "size": [6, 6]}}}},
    "contacts": {"push": {"between": ["beam.top", "punch"]}},
    "steps": {"press": {"increments": {"first": 1, "largest": 1}}},
    "supports": {"left": {"on": "beam.left", "fix": ["x", "y"]}, "right": {"on": "beam.right", "fix": ["x", "y"]}},
    "motions": {"down": {"on": "punch", "along": "y", "course": -18}}})");
  EXPECT_GT(s.course.cutbacks, 0);
  double lowest = 0;
  const auto& u = s.course.all.back().displacement;
  for (int n = 0; n < s.p->nodeCount(); ++n) lowest = std::min(lowest, u[2 * n + 1]);
  EXPECT_NEAR(lowest, -17.5, 0.3) << "it goes along with the punch";
  EXPECT_LT(s.last("motions/down/force y"), -10);
}

TEST(Forming, ASoftTubeIsDrawnThroughASmallerRingByDefault) {
  // rings of nodes slide over a fillet of little more than an element, open and close in turn
  const std::string model = R"({"space": "axisymmetric",
    "materials": {"rubber": {"rubber": {"mooney": [0.4, 0.1], "bulk": "500 MPa"}}},
    "parts": {"tube": {"material": "rubber", "element": "quad4", "mesh": {"count": [3, 24]}, "shape": {"rectangle": {"at": [6, 0],
        "size": [4, 36]}}},
      "ring": {"rigid": true, "shape": {"profile": {"start": [9, 38], "path": [{"line": [16, 38]}, {"line": [16, 48]},
        {"line": [9, 48], "fillet": 2}, {"line": [9, 38], "fillet": 2}]}}}},
    "contacts": {"squeeze": {"between": ["tube.right", "ring"], "friction": 0.1}}, "steps": {"draw": {}},
    "motions": {"pull": {"on": "tube.top", "along": "z", "course": 55}}})";
  const auto p = lowered(model);
  Counted c;
  analysis::run(*p, c);
  double pull = 0, strain = 0;
  for (const auto& i : c.all)
    pull = std::max(pull, historyOf(*p, i, "motions/pull/force z")), strain = std::max(strain, historyOf(*p, i, "energy/strain"));
  EXPECT_GT(pull, 5);
  EXPECT_NEAR(historyOf(*p, c.all.back(), "motions/pull/force z"), 0, 1e-6 * pull) << "it has come through";
  EXPECT_NEAR(historyOf(*p, c.all.back(), "energy/strain"), 0, 1e-9 * strain) << "and is as it was";
  EXPECT_LT(c.iterations, 400) << "it took 1021 once";

  // gone on with from the middle it takes the same increments: what it had learnt of them is stored
  const size_t middle = c.all.size() / 3;
  ASSERT_GT(c.all[middle].restart.habits.failedSize, 0);
  const auto again = lowered(model);
  RunLog rest;
  analysis::run(*again, rest, &c.all[middle].restart);
  ASSERT_EQ(rest.all.size(), c.all.size() - middle - 1);
  for (size_t i = 0; i < rest.all.size(); ++i) EXPECT_NEAR(rest.all[i].time, c.all[middle + 1 + i].time, 1e-9);
}
