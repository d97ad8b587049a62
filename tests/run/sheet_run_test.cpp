// Thin parts through the whole solver: a strip as a beam, points watched in its middle, contact on its sides; what readiness
// says.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cmath>

#include "core/checks/readiness.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "run/small_runs.hpp"
#include "run/tangents.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

const char* const heldStrip = R"({
  "anvil": 1, "space": "solid", "geometry": "small",
  "materials": {"spring": {"elastic": {"E": 200000, "nu": 0}}, "stiff": {"elastic": {"E": 1e8, "nu": 0}}},
  "parts": {"leaf": {"material": "spring", "mesh": {"count": [20, 2]}, "shape": {"rectangle": {"at": [0, 0], "size": [40, 4]}},
    "thin": {"thickness": 0.5, "points": 2}}},
  "steps": {"push": {"increments": {"first": 1}}},
  "supports": {"clamp": {"on": "leaf.left", "fix": ["x", "y", "z"]}},
  "loads": {"tip": {"on": "leaf.right", "kind": "force", "along": "z", "course": 0.1}},
  "watch": {"middle": {"part": "leaf", "at": [40, 2, 0]}, "upper": {"part": "leaf", "at": [40, 2, 0.25]}}
})";

checks::Report readinessOf(const std::string& text) { return checks::readiness(model::parse(text)); }

bool isSaid(const checks::Report& r, const std::string& words) {
  for (const auto& f : r.findings)
    if (f.what.find(words) != std::string::npos) return true;
  return false;
}

}  // namespace

TEST(SheetRun, AStripBendsAsABeam) {
  const auto s = solved(heldStrip);
  const double beam = 0.1 * std::pow(40, 3) / (3 * 200000 * 4 * std::pow(0.5, 3) / 12);
  EXPECT_NEAR(s.last("watch/middle/uz"), beam, 0.005 * beam);
  // the middle does not move along the strip, its upper side does, by the slope there times half the thickness
  EXPECT_NEAR(s.last("watch/middle/ux"), 0, 1e-9);
  EXPECT_NEAR(s.last("watch/upper/ux"), -0.25 * 1.5 * beam / 40, 0.01 * 0.25 * 1.5 * beam / 40);
  EXPECT_NEAR(s.last("supports/clamp/force z"), -0.1, 1e-9);
  EXPECT_NEAR(s.last("supports/clamp/moment y"), 0.1 * 40, 0.02);
}

const char* const tipForce = R"("tip": {"on": "leaf.right", "kind": "force", "along": "z", "course": 0.1})";

TEST(SheetRun, AMomentAlongAnEdgeBendsAStripIntoAnArc) {
  const double EI = 200000 * 4 * std::pow(0.5, 3) / 12, pi = 3.14159265358979;
  const auto s =
      solved(with(heldStrip, tipForce, R"("tip": {"on": "leaf.right", "kind": "moment", "along": "y", "course": -2})"));
  EXPECT_NEAR(s.last("watch/middle/uz"), 2 * 40 * 40 / (2 * EI), 1e-3 * 2 * 40 * 40 / (2 * EI));
  EXPECT_NEAR(s.last("supports/clamp/moment y"), 2, 1e-6);
  // far round: half a circle
  auto round = with(with(heldStrip, R"("small")", R"("large")"), R"({"increments": {"first": 1}})", "{}");
  round =
      with(round, tipForce,
           R"("tip": {"on": "leaf.right", "kind": "moment", "along": "y", "course": )" + fmt::format("{}", -pi * EI / 40) + "}");
  const auto bent = solved(round);
  EXPECT_NEAR(bent.last("watch/middle/uz"), 2 * 40 / pi, 0.005 * 2 * 40 / pi);
  EXPECT_NEAR(bent.last("watch/middle/ux"), -40, 0.005 * 40);
  EXPECT_NEAR(bent.last("balance/moment"), 0, 1e-3);
  EXPECT_LT(tangentError(with(round, R"("count": [20, 2])", R"("count": [3, 1])"), 0), 1e-5);
  EXPECT_SAYS(sentence([&] {
                lowered(with(round, R"("on": "leaf.right", "kind": "moment")", R"("on": "leaf.upper", "kind": "moment")"));
              }),
              "along edges of thin parts");
}

namespace {

const char* const heldAtLeft = R"("clamp": {"on": "leaf.left", "fix": ["x", "y", "z"]})";
/// The strip on two hinges: the left one firm, the right one free to slide along.
const std::string onHinges =
    with(with(heldStrip, heldAtLeft, R"("clamp": {"on": "leaf.left", "edge": "hinged", "fix": ["x", "y", "z"]},
      "slide": {"on": "leaf.right", "edge": "hinged", "fix": ["z"]})"),
         tipForce, R"("tip": {"on": "leaf.upper", "kind": "pressure", "course": 0.001})");

}  // namespace

TEST(SheetRun, HingedEdgesTurnAboutTheirMiddleLine) {
  const double EI = 200000 * 4 * std::pow(0.5, 3) / 12, load = 0.001 * 4, L = 40;
  const std::string watch = R"("middle": {"part": "leaf", "at": [40, 2, 0]})";
  const auto s = solved(with(onHinges, watch, R"("middle": {"part": "leaf", "at": [20, 2, 0]},
    "end": {"part": "leaf", "at": [40, 2, 0]})"));
  const double sag = 5 * load * std::pow(L, 4) / (384 * EI);
  EXPECT_NEAR(s.last("watch/middle/uz"), -sag, 0.005 * sag);
  EXPECT_NEAR(s.last("watch/end/uz"), 0, 1e-12);
  EXPECT_NEAR(s.last("supports/clamp/force z"), load * L / 2, 1e-8);
  EXPECT_NEAR(s.last("supports/slide/force z"), load * L / 2, 1e-8);
  EXPECT_NEAR(s.last("supports/clamp/moment y"), 0, 1e-8);
  EXPECT_NEAR(s.last("balance/force"), 0, 1e-8);
  EXPECT_NEAR(s.last("balance/moment"), 0, 1e-8);
  // far: the middle lines stay where they are, the strip hangs between them like a rope
  auto far = with(with(onHinges, R"("small")", R"("large")"), R"({"increments": {"first": 1}})", "{}");
  far = with(far, R"("edge": "hinged", "fix": ["z"]})", R"("edge": "hinged", "fix": ["x", "z"]})");
  far = with(far, R"("course": 0.001)", R"("course": 0.05)");
  const auto hung = solved(far);
  EXPECT_NEAR(hung.last("supports/clamp/force z"), 0.05 * 4 * L / 2, 0.02 * 0.05 * 4 * L / 2);
  EXPECT_NEAR(hung.last("watch/middle/ux"), 0, 1e-9);
  EXPECT_NEAR(hung.last("balance/force"), 0, 1e-4);
  EXPECT_NEAR(hung.last("balance/moment"), 0, 1e-4);
  EXPECT_LT(std::abs(hung.last("energy/imbalance")), 0.03 * hung.last("energy/strain"));
  EXPECT_LT(tangentError(with(far, R"("count": [20, 2])", R"("count": [3, 1])"), 0), 1e-5);
}

TEST(SheetRun, AHingeIsMovedAndLetGo) {
  // pressed down by its middle line, then turned about it by nothing: let go it springs back
  auto text =
      with(heldStrip, R"("loads": {"tip": {"on": "leaf.right", "kind": "force", "along": "z", "course": 0.1}})",
           R"("motions": {"tip": {"on": "leaf.right", "edge": "hinged", "along": "z", "course": {"push": 0.4, "let": "off"}}})");
  text = with(
      text, R"("steps": {"push": {"increments": {"first": 1}}})",
      R"("steps": {"push": {"increments": {"first": 1, "largest": 1}}, "let": {"increments": {"first": 0.5, "largest": 0.5}}})");
  const auto s = solved(text);
  ASSERT_EQ(s.course.all.size(), 3u);
  const double force = 3 * 200000 * 4 * std::pow(0.5, 3) / 12 * 0.4 / std::pow(40, 3);
  EXPECT_NEAR(s.at(0, "motions/tip/force z"), force, 0.005 * force);
  EXPECT_NEAR(s.at(0, "motions/tip/travel"), 0.4, 1e-10);
  EXPECT_NEAR(s.at(1, "watch/middle/uz"), 0.2, 1e-6);
  EXPECT_NEAR(s.last("watch/middle/uz"), 0, 1e-9);
  EXPECT_NEAR(s.last("motions/tip/force z"), 0, 1e-9);
}

TEST(SheetRun, WhatHeldAHingedEdgeBesidesIsLetGoOnce) {
  // turned by nothing at first, since its upper line is held as well; let go, the strip comes down evenly over the step
  auto text =
      with(onHinges, R"("slide": {)", R"("upper": {"on": "leaf.left & leaf.upper", "fix": ["x"], "during": "push"}, "slide": {)");
  text = with(text, R"({"push": {"increments": {"first": 1}}})",
              R"({"push": {"increments": {"first": 1, "largest": 1}}, "let": {"increments": {"first": 0.5, "largest": 0.5}}})");
  text = with(text, R"("at": [40, 2, 0])", R"("at": [20, 2, 0])");
  const auto s = solved(text);
  ASSERT_EQ(s.course.all.size(), 3u);
  const double first = s.at(0, "watch/middle/uz"), half = s.at(1, "watch/middle/uz"), last = s.at(2, "watch/middle/uz");
  EXPECT_LT(last, 1.5 * first);  // both point down
  EXPECT_NEAR(half, (first + last) / 2, 1e-6 * std::abs(last));
  EXPECT_NEAR(s.last("supports/clamp/moment y"), 0, 1e-8);
}

TEST(SheetRun, AForcePerLengthActsAlongEdgesAndLines) {
  const double beam = 0.1 * std::pow(40, 3) / (3 * 200000 * 4 * std::pow(0.5, 3) / 12);
  const auto s = solved(with(heldStrip, tipForce,
                             R"("tip": {"on": "leaf.right", "kind": "force per length", "along": "z", "course": "0.025 N/mm"})"));
  EXPECT_NEAR(s.last("watch/middle/uz"), beam, 0.005 * beam);
  EXPECT_NEAR(s.last("supports/clamp/force z"), -0.1, 1e-9);
  const auto line =
      solved(with(heldStrip, tipForce,
                  R"("tip": {"on": "leaf.right & leaf.upper", "kind": "force per length", "along": "z", "course": 0.025})"));
  EXPECT_NEAR(line.last("supports/clamp/force z"), -0.1, 1e-9);
  const auto onFace =
      with(heldStrip, tipForce, R"("tip": {"on": "leaf.upper", "kind": "force per length", "along": "z", "course": 1})");
  EXPECT_SAYS(sentence([&] { lowered(onFace); }), "does not act on faces");
}

TEST(SheetRun, ReadinessFaultsAnEdgeThatIsHeldAndHinged) {
  const auto both = with(heldStrip, heldAtLeft,
                         std::string(heldAtLeft) + R"(, "turns": {"on": "leaf.left", "edge": "hinged", "fix": ["x", "y", "z"]})");
  const auto r = readinessOf(both);
  EXPECT_TRUE(isSaid(r, "hinged, and held at once")) << testing::PrintToString(r.findings.size());
  EXPECT_FALSE(isSaid(readinessOf(onHinges), "hinged, and held at once"));
  EXPECT_SAYS(sentence([&] { lowered(with(onHinges, R"("leaf.left", "edge")", R"("leaf.lower", "edge")")); }),
              "only edges of thin parts are hinged");
}

TEST(SheetRun, StepsEndWhereTheMiddleComesTo) {
  const auto s = solved(with(with(heldStrip, R"("small")", R"("large")"), R"("push": {"increments": {"first": 1}})",
                             R"("push": {"control": "arc length", "increments": {"largest": 0.1},
                                "until": {"watch": "middle", "along": "z", "passes": 0.1}})"));
  EXPECT_GE(s.last("watch/middle/uz"), 0.1);
  EXPECT_LT(s.last("step/share of the loading"), 0.9);
}

TEST(SheetRun, BothSidesTouch) {
  const std::string above = R"({
    "anvil": 1, "space": "solid",
    "materials": {"spring": {"elastic": {"E": 200000, "nu": 0}}},
    "parts": {
      "leaf": {"material": "spring", "mesh": {"count": [8, 2]}, "shape": {"rectangle": {"at": [0, 0], "size": [40, 4]}},
        "thin": {"thickness": 0.5, "points": 2}},
      "stop": {"rigid": true, "shape": {"profile": {"start": [-10, 0], "path": [{"line": [60, 0]}]}},
        "extrude": {"from": -10, "depth": 20}, "place": {"axis": "x", "angle": 90, "shift": [0, 0, 0.35]}}
    },
    "contacts": {"side": {"between": ["leaf.upper", "stop"]}},
    "steps": {"push": {}},
    "supports": {"clamp": {"on": "leaf.left", "fix": ["x", "y", "z"]}},
    "loads": {"tip": {"on": "leaf.right", "kind": "force", "along": "z", "course": 0.5}}
  })";
  std::string below = above;
  for (const auto& [from, to] : std::vector<std::pair<std::string, std::string>>{{"[-10, 0]", "[60, 0]"},
                                                                                 {R"("line": [60, 0])", R"("line": [-10, 0])"},
                                                                                 {"0, 0.35]", "0, -0.35]"},
                                                                                 {"leaf.upper", "leaf.lower"},
                                                                                 {R"("course": 0.5)", R"("course": -0.5)"}})
    below = with(below, from, to);
  const auto up = solved(above), down = solved(below);
  // the tip would come 1.28 mm up and is stopped after 0.1: most of the force is the stop's, the rest the clamp's
  const double stop = up.last("contacts/side/normal force z"), clamp = up.last("supports/clamp/force z");
  EXPECT_LT(stop, -0.4);
  EXPECT_NEAR(stop + clamp, -0.5, 1e-6);
  EXPECT_NEAR(up.last("contacts/side/normal force z"), -down.last("contacts/side/normal force z"), 1e-6);
  for (const auto* s : {&up, &down}) EXPECT_LT(s->last("contacts/side/greatest penetration"), 1e-4);
}

TEST(SheetRun, ARigidPartIsNoSheet) {
  const auto model = with(heldStrip, R"("leaf": {)", R"("tool": {"rigid": true, "thin": {"thickness": 1}, "shape": {"profile": {
    "start": [0, 9], "path": [{"line": [5, 9]}]}}, "extrude": {"depth": 1}}, "leaf": {)");
  EXPECT_SAYS(sentence([&] { (void)lowered(model); }), "rigid and thin");
}

TEST(SheetRun, ReadinessDoubtsWhatIsNotThin) {
  EXPECT_FALSE(isSaid(readinessOf(heldStrip), "more than a fifth"));
  EXPECT_TRUE(
      isSaid(readinessOf(with(heldStrip, R"("thickness": 0.5)", R"("thickness": 2.5)")), "more than a fifth of its width"));
  const std::string tube = R"({
    "anvil": 1, "space": "solid", "materials": {"spring": {"elastic": {"E": 200000, "nu": 0}}},
    "parts": {"tube": {"material": "spring", "mesh": {"size": 1}, "shape": {"disc": {"radius": 10}}, "extrude": {"depth": 20},
      "thin": {"thickness": 1.5}}},
    "steps": {"rest": {}}, "supports": {"clamp": {"on": "tube.front", "fix": ["x", "y", "z"]}}
  })";
  EXPECT_FALSE(isSaid(readinessOf(tube), "more than a fifth"));
  EXPECT_TRUE(
      isSaid(readinessOf(with(tube, R"("thickness": 1.5)", R"("thickness": 2.5)")), "more than a fifth of its radius of 10 mm"));
  const auto facts = readinessOf(tube).facts;
  EXPECT_TRUE(std::any_of(facts.begin(), facts.end(), [](const auto& f) {
    return f.find("thin hex8") != std::string::npos && f.find("aspect ratio up to 1") != std::string::npos;
  }));
}

TEST(SheetRun, EdgesAreTiedToEachOtherAndToFaces) {
  // the strip in two halves of other divisions, end to end; and its root on the face of a block that hardly gives
  const double beam = 0.1 * std::pow(40, 3) / (3 * 200000 * 4 * std::pow(0.5, 3) / 12);
  const auto strip = [](const std::string& name, int rows, double from, double length) {
    return fmt::format(
        R"("{}": {{"material": "spring", "mesh": {{"count": [{}, {}]}},
    "shape": {{"rectangle": {{"at": [{}, 0], "size": [{}, 4]}}}}, "thin": {{"thickness": 0.5, "points": 2}}}})",
        name, std::lround(length / 2), rows, from, length);
  };
  const auto tied = [](const std::string& one, const std::string& other) {
    return R"(}, "contacts": {"seam": {"between": [")" + one + R"(", ")" + other + R"("], "kind": "tied"})";
  };
  const std::string whole = strip("leaf", 2, 0, 40);
  const auto halves =
      with(with(heldStrip, whole, strip("root", 3, 0, 20) + ", " + strip("leaf", 2, 20, 20) + tied("root.right", "leaf.left")),
           R"("on": "leaf.left")", R"("on": "root.left")");
  const auto joined = solved(halves);
  EXPECT_NEAR(joined.last("watch/middle/uz"), beam, 0.01 * beam);
  EXPECT_NEAR(std::abs(joined.last("contacts/seam/force z")), 0.1, 1e-6);
  const auto onBlock = solved(with(with(heldStrip, whole,
                                        whole + R"(, "wall": {"material": "stiff", "element": "hex8", "mesh": {"count": [2, 3]},
      "shape": {"rectangle": {"at": [-4, -1], "size": [4, 6]}}, "extrude": {"from": -2, "depth": 4, "count": 3}})" +
                                            tied("leaf.left", "wall.right")),
                                   R"("on": "leaf.left", "fix")", R"("on": "wall.left", "fix")"));
  EXPECT_NEAR(onBlock.last("watch/middle/uz"), beam, 0.02 * beam);
  EXPECT_NEAR(onBlock.last("supports/clamp/force z"), -0.1, 1e-6);
}

TEST(SheetRun, ABoltClampsTwoSheets) {
  // washers are the elements that a region takes in
  const auto s = solved(R"({
    "anvil": 1, "space": "solid",
    "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
    "parts": {
      "top": {"material": "steel", "mesh": {"size": 3}, "shape": {"rectangle": {"at": [-15, -15], "size": [30, 30]}},
        "thin": {"thickness": 1}, "place": {"shift": [0, 0, 1]}},
      "base": {"material": "steel", "mesh": {"size": 3}, "shape": {"rectangle": {"at": [-15, -15], "size": [30, 30]}},
        "thin": {"thickness": 1}}},
    "regions": {"head": {"box": {"from": [-7, -7, 1.4], "to": [7, 7, 1.6]}},
      "nut": {"box": {"from": [-7, -7, -0.6], "to": [7, 7, -0.4]}}},
    "contacts": {"between": {"between": ["top.lower", "base.upper"], "friction": 0.2}},
    "bolts": {"bolt": {"beam": {"head": "head", "nut": "nut", "diameter": 6, "material": "steel"}, "force": {"tighten": 500}}},
    "steps": {"tighten": {"increments": {"first": 0.5, "largest": 0.5}}, "pull": {"increments": {"first": 0.5, "largest": 0.5}}},
    "supports": {"foot": {"on": ["base.left", "base.right"], "fix": ["x", "y", "z"]}},
    "loads": {"pull": {"on": ["top.left", "top.right"], "kind": "force", "along": "z", "course": {"tighten": 0, "pull": 200}}}
  })");
  size_t tight = 0;
  while (tight + 1 < s.course.all.size() && s.course.all[tight].time < 1 - 1e-9) ++tight;
  EXPECT_NEAR(s.at(tight, "bolts/bolt/force"), 500, 1e-6);
  EXPECT_NEAR(std::abs(s.at(tight, "contacts/between/force z")), 500, 0.5);
  EXPECT_NEAR(s.last("supports/foot/force z"), -200, 0.2);
  EXPECT_NEAR(s.last("bolts/bolt/force") - std::abs(s.last("contacts/between/force z")), 200, 0.5);
  EXPECT_GT(s.last("bolts/bolt/force"), 500);
}

TEST(SheetRun, ReadinessSeesASheetThatReachesIntoItsTool) {
  const std::string text = R"({
    "anvil": 1, "space": "solid", "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
    "parts": {"lid": {"material": "steel", "mesh": {"count": [8, 8]}, "shape": {"rectangle": {"at": [0, 0], "size": [40, 40]}},
        "thin": {"thickness": 1}},
      "ball": {"rigid": true, "shape": {"disc": {"center": [0, 0], "radius": 15}}, "revolve": {"angle": 360},
        "place": {"shift": [20, 20, 15]}}},
    "contacts": {"press": {"between": ["lid.upper", "ball"]}},
    "steps": {"press": {}},
    "supports": {"rim": {"on": ["lid.left", "lid.right"], "fix": ["x", "y", "z"]}},
    "motions": {"down": {"on": "ball", "along": "z", "course": -1}}
  })";
  EXPECT_TRUE(isSaid(readinessOf(text), "reaches into what it touches"));
  EXPECT_FALSE(isSaid(readinessOf(with(text, "[20, 20, 15]", "[20, 20, 15.5]")), "reaches into what it touches"));
  EXPECT_FALSE(isSaid(readinessOf(with(text, R"("thickness": 1)", R"("thickness": 1, "given": "upper")")), "reaches into"));
  // a flat tool by the whole thickness, where contact does not look any more
  const auto flat = with(text, R"("revolve": {"angle": 360})", R"("extrude": {"depth": 5})");
  EXPECT_TRUE(isSaid(readinessOf(with(flat, "[20, 20, 15]", "[20, 20, -0.5]")), "reaches into what it touches by 1 mm"));
  EXPECT_FALSE(isSaid(readinessOf(with(flat, "[20, 20, 15]", "[20, 20, 0.5]")), "reaches into"));
  EXPECT_FALSE(isSaid(readinessOf(with(flat, "[20, 20, 15]", "[20, 20, 3]")), "reaches into"));
}
