// Slender parts through the solver: joints, hinges, stays, temperatures, distributed forces, restarts, and bad input.
#include <gtest/gtest.h>

#include <fmt/format.h>
#include <cmath>
#include <numbers>

#include "core/checks/readiness.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "run/small_runs.hpp"
#include "run/tangents.hpp"
#include "words.hpp"

namespace anvil {
namespace {

/// A frame of two posts and a beam; its parts are filled in by the tests.
std::string portal(const std::string& hinged = "none", const std::string& more = "") {
  return R"({
    "anvil": 1, "geometry": "small",
    "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}, "expansion": 1.2e-5}},
    "parts": {"frame": {"material": "steel", "slender": {
      "points": {"a": [0, 0], "b": [0, 1000], "c": [2000, 1000], "d": [2000, 0]},
      "lines": {
        "left": {"from": "a", "to": "b", "count": 2},
        "top": {"from": "b", "to": "c", "count": 2, "hinged": ")" +
         hinged + R"("},
        "right": {"from": "c", "to": "d", "count": 2}},
      "sections": {"bar": {"width": 10, "height": 20}}}}},
    "steps": {"push": {}},
    "supports": {"feet": {"on": ["frame.a", "frame.d"], "fix": ["all"]}})" +
         more + "}";
}

const char* const sideForce = R"(, "loads": {"side": {"on": "frame.b", "kind": "force", "along": "x", "course": 100}},
  "watch": {"b": {"part": "frame", "at": [0, 1000]}, "c": {"part": "frame", "at": [2000, 1000]}})";

TEST(SlenderRun, PortalSwaysAsTheTextbookSays) {
  // slope deflection, fixed feet, k = (I/L beam)/(I/h post) = 1/2: top moment over foot moment 3k/(3k + 1), sway by both
  const auto s = solved(portal("none", sideForce));
  const double h = 1000, F = 100, k = 0.5, foot = F * h / 2 * (3 * k + 1) / (6 * k + 1), top = F * h / 2 * 3 * k / (6 * k + 1);
  const auto& ends = s.course.all.back().slender;
  EXPECT_NEAR(std::abs(ends.front()[0].momentUp), foot, 2e-3 * foot);  // shear and stretch are in it as well
  EXPECT_NEAR(std::abs(ends[1][1].momentUp), top, 2e-3 * top);
  EXPECT_NEAR(s.last("supports/feet/force x"), -F, 1e-6 * F);
  EXPECT_NEAR(s.last("balance/moment"), 0, 1e-6);
  const double EI = 200000. * 10 * 8000 / 12, sway = F / 2 * h * h * h / (3 * EI) - top * h * h / (2 * EI);
  EXPECT_NEAR(s.last("watch/b/ux"), sway, 0.01 * sway);
  EXPECT_LT(s.last("watch/b/turn"), 0);
}

TEST(SlenderRun, HingesCarryNoMoment) {
  const auto s = solved(portal("both", sideForce));
  const double h = 1000, F = 100, EI = 200000. * 10 * 8000 / 12;
  const auto& ends = s.course.all.back().slender;
  EXPECT_NEAR(ends[1][1].momentUp, 0, 1e-6);
  EXPECT_NEAR(std::abs(ends.front()[0].momentUp), F * h / 2, 1e-3 * F * h);
  const double sway = F / 2 * h * h * h / (3 * EI);
  EXPECT_NEAR(s.last("watch/c/ux"), sway, 0.01 * sway);
}

TEST(SlenderRun, ARingAlongARoundEdgeHangsByItsWeight) {
  // R. Roark: a ring hung at its top under its own weight w per length gets longer by (pi^2/4 - 2) w R^4/EI
  const double R = 6, d = 0.2, E = 200000, I = std::numbers::pi * std::pow(d, 4) / 64, W = 0.002;
  const std::string ring = R"({"anvil": 1, "space": "solid", "geometry": "small",
    "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
    "parts": {"post": {"material": "steel", "solid": [{"name": "c",
        "cylinder": {"from": [0, 0, 0], "to": [0, 0, 9], "radius": 6}}], "mesh": {"size": 6}},
      "ring": {"material": "steel", "slender": {"points": {}, "lines": {"rim": {"edge": "post.c.end & post.c.side", "count": 96,
          "up": [0, 0, 1]}}, "sections": {"wire": {"form": "round", "diameter": 0.2}}}}},
    "steps": {"hang": {}},
    "supports": {"post": {"on": "post.c.start", "fix": ["x", "y", "z"]}, "top": {"on": "ring.rim from", "fix": ["all"]}},
    "loads": {"weight": {"on": "ring.rim", "kind": "force", "along": [AX, AY, 0], "course": 0.002}},
    "watch": {"low": {"part": "ring", "at": [LX, LY, 9]}}})";
  const auto built = lowered(with(with(with(with(ring, "AX", "1"), "AY", "0"), "LX", "0"), "LY", "0"));
  const Eigen::Vector3d top = built->mesh.x[size_t(built->mesh.spot("ring.rim from")->node)];
  EXPECT_NEAR(top.head<2>().norm(), R, 1e-9);
  const auto s = solved(with(with(with(with(ring, "AX", fmt::format("{}", -top.x() / R)), "AY", fmt::format("{}", -top.y() / R)),
                                  "LX", fmt::format("{}", -top.x())),
                             "LY", fmt::format("{}", -top.y())));
  const double longer = (std::pow(std::numbers::pi, 2) / 4 - 2) * W / (2 * std::numbers::pi * R) * std::pow(R, 4) / (E * I);
  EXPECT_NEAR(-(s.last("watch/low/ux") * top.x() + s.last("watch/low/uy") * top.y()) / R, longer, 0.01 * longer);
}

TEST(SlenderRun, ForceAlongALineIsSpreadByLength) {
  const auto s =
      solved(portal("both", R"(, "loads": {"weight": {"on": "frame.top", "kind": "force", "along": "y", "course": -80}},
    "watch": {"m": {"part": "frame", "at": [1000, 1000]}})"));
  // two elements: a quarter at each end, half in the middle
  const double L = 2000, EI = 200000. * 10 * 8000 / 12;
  EXPECT_NEAR(s.last("watch/m/uy"), -40 * L * L * L / (48 * EI), 0.01 * 40 * L * L * L / (48 * EI));
}

TEST(SlenderRun, HeldBeamsArePressedByWarmth) {
  const auto text = R"({
    "anvil": 1, "space": "solid",
    "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}, "expansion": 1.2e-5}},
    "parts": {"bar": {"material": "steel", "slender": {
      "points": {"a": [0, 0, 0], "b": [100, 0, 0]}, "lines": {"one": {"from": "a", "to": "b", "count": 2}},
      "sections": {"rod": {"form": "round", "diameter": 10}}}}},
    "steps": {"warm": {}},
    "supports": {"ends": {"on": ["bar.a", "bar.b"], "fix": ["all"]}},
    "temperatures": {"sun": {"on": "bar", "rise": 40}}})";
  const auto s = solved(text);
  const double N = -200000 * 1.2e-5 * 40 * std::numbers::pi * 25;
  EXPECT_NEAR(s.course.all.back().slender.front()[0].normal, N, 1e-6 * -N);
  EXPECT_NEAR(s.last("energy/imbalance"), 0, 1e-3 * s.last("energy/strain"));
}

const char* const mast = R"({
  "anvil": 1, "space": "solid",
  "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
  "parts": {
    "mast": {"material": "steel", "slender": {
      "points": {"foot": [0, 0, 0], "top": [0, 0, 3000]},
      "lines": {"shaft": {"from": "foot", "to": "top", "count": 4}},
      "sections": {"tube": {"form": "tube", "diameter": 60, "wall": 3}}}},
    "stays": {"material": "steel", "slender": {
      "points": {"l": [-2000, 0, 0], "r": [2000, 0, 0], "top": [0, 0, 3000]},
      "lines": {
        "left": {"from": "l", "to": "top", "carries": "pull", "tension": 50},
        "right": {"from": "r", "to": "top", "carries": "pull", "tension": 50}},
      "sections": {"wire": {"form": "round", "diameter": 4}}}}},
  "steps": {"blow": {}},
  "supports": {"ground": {"on": "mast.foot", "fix": ["all"]}, "anchors": {"on": ["stays.l", "stays.r"], "fix": ["x", "y", "z"]},
    "side": {"on": "stays.top", "fix": ["y"]}},
  "loads": {"wind": {"on": "stays.top", "kind": "force", "along": "x", "course": 300}}
})";

TEST(SlenderRun, PartsAreJoinedAtAPoint) {
  // the mast is pulled at its top through the stays' point, as if both were one part
  auto text = with(mast, "\"r\": [2000, 0, 0], \"top\": [0, 0, 3000]", "\"r\": [2000, 0, 0], \"top\": \"mast.top\"");
  text = with(text, "\"side\": {\"on\": \"stays.top\", \"fix\": [\"y\"]}",
              "\"side\": {\"on\": \"mast.top\", \"fix\": [\"y\", \"turn x\"]}");
  const auto s = solved(text);
  const auto& ends = s.course.all.back().slender;
  const double slope = 2000 / std::hypot(2000., 3000.), stays = (ends[4][0].normal - ends[5][0].normal) * slope;
  EXPECT_NEAR(stays - ends[0][0].shearUp - ends[0][0].shearAcross, 300, 1);
  EXPECT_GT(ends[4][0].normal, ends[5][0].normal + 100);
  EXPECT_NEAR(ends[3][1].momentUp, 0, 1e-3);
  EXPECT_SAYS(sentence([&] { lowered(with(text, "\"mast.top\"", "\"mast.tip\"")); }), "Did you mean 'mast.top'");
}

TEST(SlenderRun, StaysOfOnePartHoldATop) {
  // the stays alone: their top hangs in them, one goes slack
  auto text = with(mast, "\"side\": {\"on\": \"stays.top\", \"fix\": [\"y\"]}",
                   "\"side\": {\"on\": \"stays.top\", \"fix\": [\"y\", \"z\"]}");
  const auto s = solved(text);
  const auto& ends = s.course.all.back().slender;
  const double left = ends[4][0].normal, right = ends[5][0].normal, slope = 2000 / std::hypot(2000., 3000.);
  EXPECT_GT(left, 500);
  EXPECT_LT(std::abs(right), 1);
  EXPECT_NEAR(left * slope, 300, 3);
}

TEST(SlenderRun, TangentOfAWholeModelIsTheDerivative) {
  const auto text = R"({
    "anvil": 1, "space": "solid",
    "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
    "parts": {
      "block": {"material": "steel", "shape": {"rectangle": {"at": [0, 0], "size": [10, 10]}}, "extrude": {"depth": 10},
        "mesh": {"size": 10}},
      "beam": {"material": "steel", "slender": {
        "points": {"a": [10, 5, 5], "b": [30, 5, 5], "c": [30, 25, 9]},
        "lines": {"one": {"from": "a", "to": "b", "count": 2}, "two": {"from": "b", "to": "c", "count": 2, "hinged": "from"}},
        "sections": {"angle": {"form": "angle", "width": 4, "height": 6, "wall": 1, "shift": [1, 0.5]}}}}},
    "steps": {"push": {}},
    "carriers": {"weld": {"on": "block.right", "end": "beam.a", "hold": "mean"}},
    "supports": {"wall": {"on": "block.left", "fix": ["x", "y", "z"]}, "end": {"on": "beam.c", "fix": ["all"]}},
    "loads": {"m": {"on": "beam.b", "kind": "moment", "along": "z", "course": 100}}})";
  EXPECT_LT(tangentError(text, 0.2), 1e-5);
}

TEST(SlenderRun, GoesOnFromAStoredIncrement) {
  const auto text = R"({
    "anvil": 1, "space": "solid",
    "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}, "plastic": {"yield": 250, "tangent": 2000}}},
    "parts": {"beam": {"material": "steel", "slender": {
      "points": {"a": [0, 0, 0], "b": [200, 0, 0]}, "lines": {"one": {"from": "a", "to": "b", "count": 4}},
      "sections": {"bar": {"width": 4, "height": 6}}}}},
    "steps": {"push": {"increments": {"largest": 0.1}}},
    "supports": {"wall": {"on": "beam.a", "fix": ["all"]}},
    "motions": {"push": {"on": "beam.b", "along": "z", "course": -60}}})";
  const auto whole = solved(text);
  RunLog first, rest;
  first.after = 5;
  auto p = lowered(text);
  EXPECT_EQ(analysis::run(*p, first), analysis::Outcome::stopped);
  auto again = lowered(text);
  EXPECT_EQ(analysis::run(*again, rest, &first.all.back().restart), analysis::Outcome::finished);
  ASSERT_EQ(first.all.size() + rest.all.size(), whole.course.all.size());
  EXPECT_LT((rest.all.back().displacement - whole.course.all.back().displacement).cwiseAbs().maxCoeff(), 1e-9);
  EXPECT_GT(whole.last("plasticity/greatest plastic strain"), 0.001);
  EXPECT_NEAR(whole.last("energy/imbalance"), 0, 0.01 * whole.last("energy/plastic"));
}

TEST(SlenderRun, PlaneAndSpaceAgree) {
  const auto tip = [](const std::string& space, const std::string& z, const std::string& up) {
    return solved(R"({
      "anvil": 1)" +
                  space + R"(,
      "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}, "plastic": {"yield": 250, "tangent": 2000}}},
      "parts": {"beam": {"material": "steel", "slender": {
        "points": {"a": [0, 0)" +
                  z + R"(], "b": [200, 50)" + z + R"(]},
        "lines": {"one": {"from": "a", "to": "b", "by": [100, 60)" +
                  z + R"(], "count": 6)" + up + R"(}},
        "sections": {"I": {"form": "I", "width": 6, "height": 8, "wall": 1, "flange": 1.5}}}}},
      "steps": {"push": {}},
      "supports": {"wall": {"on": "beam.a", "fix": ["all"]}},
      "loads": {"push": {"on": "beam.b", "kind": "force", "along": "y", "course": -70}},
      "watch": {"b": {"part": "beam", "at": [200, 50)" +
                  z + R"(]}}})");
  };
  const auto plane = tip("", "", ""), space = tip(R"(, "space": "solid")", ", 0", R"(, "up": [0, 1, 0])");
  EXPECT_GT(plane.last("plasticity/greatest plastic strain"), 1e-4);
  EXPECT_NEAR(plane.last("watch/b/ux"), space.last("watch/b/ux"), 1e-6);
  EXPECT_NEAR(plane.last("watch/b/uy"), space.last("watch/b/uy"), 1e-6);
  EXPECT_NEAR(plane.last("watch/b/turn"), space.last("watch/b/turn z"), 1e-8);
}

TEST(SlenderRun, BadInputIsToldInWords) {
  const auto says = [](const std::string& from, const std::string& to) {
    const auto text = with(mast, from, to);
    return sentence([&] { lowered(text); });
  };
  EXPECT_SAYS(says("\"to\": \"top\", \"count\": 4", "\"to\": \"tip\", \"count\": 4"), "there is no point 'tip'");
  EXPECT_SAYS(says("\"count\": 4}},\n      \"sections\": {\"tube\": {\"form\": \"tube\", \"diameter\": 60, \"wall\": 3}}",
                   "\"count\": 4, \"up\": [0, 0, 2]}}, \"sections\": {\"post\": {\"width\": 60, \"height\": 60}}"),
              "nothing says how the section stands");
  EXPECT_SAYS(says("\"top\": [0, 0, 3000]},", "\"top\": [0, 0, 0]},"), "no length");
  EXPECT_SAYS(says("\"foot\": [0, 0, 0], ", "\"foot\": [0, 0, 0], \"odd\": [1, 2, 3], "), "parts/mast/slender/points/odd");
  EXPECT_SAYS(says("\"on\": \"mast.foot\"", "\"on\": \"mast.feet\""), "mast.foot");
  EXPECT_SAYS(says("\"on\": \"stays.top\", \"fix\": [\"y\"]", "\"on\": \"stays.top\", \"fix\": [\"turn z\"]"),
              "nothing turns at");
  EXPECT_SAYS(says("\"kind\": \"force\", \"along\": \"x\"", "\"kind\": \"pressure\""), "has no faces");
  EXPECT_SAYS(says("\"carries\": \"pull\", \"tension\": 50}", "\"carries\": \"pull\", \"by\": [0, 5, 3]}"), "is straight");
  EXPECT_SAYS(says("\"mast\": {\"material\": \"steel\", ", "\"mast\": {\"material\": \"steel\", \"rigid\": true, "),
              "rigid and slender");
  EXPECT_SAYS(says("\"mast\": {\"material\": \"steel\", ", "\"mast\": {\"material\": \"steel\", \"thin\": {\"thickness\": 1}, "),
              "slender and has a thickness");
}

TEST(SlenderRun, ReadinessKnowsSlenderParts) {
  const auto about = [](const std::string& text, const std::string& words) {
    int found = 0;
    for (const auto& f : checks::readiness(model::parse(text)).findings) found += f.what.find(words) != std::string::npos;
    return found;
  };
  EXPECT_EQ(about(mast, "free to move"), 0);
  const auto joined = with(mast, "\"r\": [2000, 0, 0], \"top\": [0, 0, 3000]", "\"r\": [2000, 0, 0], \"top\": \"mast.top\"");
  EXPECT_EQ(about(joined, "free to move"), 0);  // what the mast holds is not loose
  EXPECT_EQ(about(with(with(joined, "\"on\": \"mast.foot\", \"fix\": [\"all\"]", "\"on\": \"mast.foot\", \"fix\": [\"z\"]"),
                       "\"on\": [\"stays.l\", \"stays.r\"], \"fix\": [\"x\", \"y\", \"z\"]",
                       "\"on\": [\"stays.l\", \"stays.r\"], \"fix\": [\"y\", \"z\"]"),
                  "The parts 'mast' and 'stays' are free to move (along x)"),
            1);
  EXPECT_EQ(
      about(with(mast, "\"on\": \"mast.foot\", \"fix\": [\"all\"]", "\"on\": \"mast.foot\", \"fix\": [\"x\", \"y\", \"z\"]"),
            "free to move (along x, along y and turning about z)"),
      1);
  EXPECT_EQ(about(with(mast, "\"top\": [0, 0, 3000]},", "\"top\": [0, 0, 500]},"), "less than ten times"), 1);
}

/// A beam whose far end stands on a rigid block, which is free and pushed at its far corner.
const char* const beamOnBlock = R"({
  "anvil": 1, "geometry": "small",
  "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
  "parts": {
    "arm": {"material": "steel", "slender": {"points": {"root": [0, 0], "tip": [1000, 0]},
      "lines": {"arm": {"from": "root", "to": "tip", "count": 8}}, "sections": {"bar": {"width": 10, "height": 20}}}},
    "block": {"rigid": true, "pivot": [1100, 0], "loose": ["x", "y", "turn"],
      "shape": {"rectangle": {"at": [1000, -10], "size": [100, 20]}}}},
  "carriers": {"weld": {"end": "arm.tip", "on": "block"}},
  "steps": {"push": {"increments": {"first": 1, "largest": 1}}},
  "supports": {"wall": {"on": "arm.root", "fix": ["all"]}},
  "loads": {"weight": {"on": "block", "kind": "force", "along": "y", "course": -100}},
  "watch": {"tip": {"part": "arm", "at": [1000, 0]}}
})";

TEST(SlenderRun, RigidPartsBesideChangeNothing) {
  const double EI = 200000. * 10 * 8000 / 12, sag = 100. * 1e9 / (3 * EI);
  const auto s = solved(with(with(with(beamOnBlock, R"("carriers": {"weld": {"end": "arm.tip", "on": "block"}},)", ""),
                                  R"("loose": ["x", "y", "turn"],)", ""),
                             R"("on": "block", "kind")", R"("on": "arm.tip", "kind")"));
  EXPECT_NEAR(s.last("watch/tip/uy"), -sag, 2e-3 * sag);
}

TEST(SlenderRun, AnEndStandsOnARigidPart) {
  const auto s = solved(beamOnBlock);
  const double EI = 200000. * 10 * 8000 / 12, F = 100, L = 1000, M = F * 100;
  const double sag = F * L * L * L / (3 * EI) + M * L * L / (2 * EI), turn = F * L * L / (2 * EI) + M * L / EI;
  EXPECT_NEAR(s.last("watch/tip/uy"), -sag, 2e-3 * sag);  // with shear
  EXPECT_NEAR(s.last("watch/tip/turn"), -turn, 1e-6 * turn);
  EXPECT_NEAR(s.last("bodies/block/turn"), -turn, 1e-6 * turn);
  EXPECT_NEAR(s.last("bodies/block/uy"), s.last("watch/tip/uy") - 100 * turn, 1e-6 * sag);
  EXPECT_NEAR(s.last("supports/wall/moment"), F * L + M, 1e-6 * M);
  EXPECT_NEAR(std::abs(s.last("carriers/weld/force y")), F, 1e-6 * F);
  EXPECT_NEAR(s.last("balance/moment"), 0, 1e-8);
  // a rigid part that stands still holds the end
  const auto held = solved(with(with(beamOnBlock, R"("loose": ["x", "y", "turn"],)", ""), R"("on": "block", "kind": "force")",
                                R"("on": "arm.arm", "kind": "force")"));
  EXPECT_NEAR(held.last("watch/tip/uy"), 0, 1e-12);
  EXPECT_NEAR(held.last("supports/wall/force y"), F / 2, 1e-6 * F);
  EXPECT_NEAR(std::abs(held.last("supports/wall/moment")), F * L / 12, 0.02 * F * L / 12);  // eight cells
}

TEST(SlenderRun, AnEndTurnsFarInSpaceWithItsRigidPart) {
  const std::string text = R"({
    "anvil": 1, "space": "solid",
    "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
    "parts": {
      "arm": {"material": "steel", "slender": {"points": {"root": [0, 0, 0], "tip": [1000, 0, 0]},
        "lines": {"arm": {"from": "root", "to": "tip", "count": 6}}, "sections": {"bar": {"width": 20, "height": 20}}}},
      "grip": {"rigid": true, "pivot": [1050, 0, 0], "loose": ["x", "y"],
        "shape": {"rectangle": {"at": [1000, -10], "size": [100, 20]}},
        "extrude": {"from": -10, "depth": 20}}},
    "carriers": {"weld": {"end": "arm.tip", "on": "grip"}},
    "steps": {"turn": {"increments": {"first": 0.1, "largest": 0.1}}},
    "supports": {"wall": {"on": "arm.root", "fix": ["all"]}},
    "motions": {"turn": {"on": "grip", "along": "turn z", "course": "150 deg"}},
    "watch": {"tip": {"part": "arm", "at": [1000, 0, 0]}}
  })";
  const auto s = solved(text);
  const double turn = 150 * std::numbers::pi / 180, EI = 200000. * 20 * 8000 / 12, moment = EI * turn / 1000;
  EXPECT_NEAR(s.last("watch/tip/turn z"), turn, 1e-9);
  // nothing pushes it sideways: it is an arc, and the wall has the moment alone
  EXPECT_NEAR(std::abs(s.last("supports/wall/moment z")), moment, 1e-5 * moment);
  const double radius = 1000. / 6 / (2 * std::sin(turn / 12));  // of the six chords' ends
  EXPECT_NEAR(s.last("watch/tip/ux") + 1000, radius * std::sin(turn), 0.01);
  EXPECT_NEAR(s.last("watch/tip/uy"), radius * (1 - std::cos(turn)), 0.01);
  EXPECT_NEAR(std::abs(s.last("carriers/weld/moment z")), moment, 1e-3 * moment);
  EXPECT_LT(tangentError(with(text, R"("count": 6)", R"("count": 2)"), 0), 1e-5);
}

}  // namespace

}  // namespace anvil
