// What contact kinds promise, against closed forms, in the plane and in space: friction and its shear limit, rough, tied,
// sliding without opening, a gap closed without strain, an overlap given as a number.
#include <gtest/gtest.h>

#include <fmt/format.h>

#include "run/small_runs.hpp"

using namespace anvil;

namespace {

/// A block of 10 × 4 (× 2) on a rigid floor at `level`; `contact` are the entries of its contact.
std::string onFloor(const std::string& space, const std::string& contact, const std::string& acting, double level = 0) {
  const bool solid = space == "solid";
  return fmt::format(R"({{"space": "{}", {}"materials": {{"m": {{"elastic": {{"E": 1000, "nu": 0}}}}}},
    "parts": {{"block": {{"material": "m", "element": "{}", "mesh": {{"count": [5, 2]}}, "shape": {{"rectangle": {{"at": [0, 0],
      "size": [10, 4]}}}}{}}},
               "floor": {{"rigid": true, "shape": {{"profile": {{"start": [60, {}], "path": [{{"line": [-60, {}]}}]}}}}{}}}}},
    "contacts": {{"sole": {{"between": ["block.bottom", "floor"]{}}}}},
    "steps": {{"press": {{"increments": {{"first": 0.5, "largest": 0.5}}}}, "move": {{"increments": {{"first": 0.02,
      "largest": 0.05}}}}}}, {}}})",
                     space, solid ? "" : R"("thickness": 2, )", solid ? "hex8" : "quad4",
                     solid ? R"(, "extrude": {"depth": 2, "count": 1})" : "", level, level,
                     solid ? R"(, "extrude": {"from": -10, "depth": 30})" : "", contact, acting);
}

/// Pressed by 5 MPa on its top (area 20), then pushed along x at both ends together.
std::string pushed(const std::string& space, const std::string& contact, double way) {
  return onFloor(space, contact,
                 fmt::format(R"("loads": {{"weight": {{"on": "block.top", "kind": "pressure", "course": 5}}}},
                   "supports": {{"guide": {{"on": ["block.left", "block.right"], "fix": "x", "during": "press"}}{}}},
                   "motions": {{"push": {{"on": ["block.left", "block.right"], "along": "x", "course": {{"move": {}}}}}}})",
                             space == "solid" ? R"(, "front": {"on": "block.front", "fix": "z"})" : "", way));
}

class Kinds : public ::testing::TestWithParam<std::string> {};

TEST_P(Kinds, FrictionSlipsAtItsCoefficientTimesTheForce) {
  const auto s = solved(pushed(GetParam(), R"(, "friction": 0.4)", 2));
  EXPECT_NEAR(-s.last("contacts/sole/friction force x") / s.last("contacts/sole/normal force y"), 0.4, 1e-6);
  EXPECT_NEAR(s.last("motions/push/force x"), 40, 0.05) << "the top turns a little with the block, and the pressure with it";
  EXPECT_NEAR(s.last("contacts/sole/force y"), 5 * 20, 0.2) << "the weight stays, but for the top's turning with the block";
  EXPECT_NEAR(s.last("energy/friction") / (0.4 * 5 * 20 * 2), 1, 0.03) << "but for what it stuck at first";
}

TEST_P(Kinds, TheShearLimitCapsFriction) {
  const auto s = solved(pushed(GetParam(), R"(, "friction": 0.4, "shear limit": 0.7)", 2));
  EXPECT_NEAR(s.last("motions/push/force x"), 0.7 * 20, 0.02) << "0.4 times 5 MPa would be 2";
}

TEST_P(Kinds, RoughNeverSlips) {
  // its top is pressed down and moved aside: a coefficient of 0.4 slips, rough follows by shear alone
  const auto moved = [](const char* contact) {
    return solved(onFloor(
        GetParam(), contact,
        std::string(R"("supports": {"left": {"on": "block.left", "fix": "x", "during": "press"})") +
            (GetParam() == "solid" ? R"(, "front": {"on": "block.front", "fix": "z"})" : "") +
            R"(}, "motions": {"down": {"on": "block.top", "along": "y", "course": {"press": -0.1, "move": "hold"}}, "along": {
        "on": "block.top", "along": "x", "course": {"press": 0, "move": 0.1}}})"));
  };
  const auto rough = moved(R"(, "kind": "rough")"), slips = moved(R"(, "friction": 0.1)");
  const double shear = 500 * (0.1 / 4) * 20;
  EXPECT_GT(rough.last("motions/along/force x"), 0.7 * shear);
  EXPECT_LT(rough.last("motions/along/force x"), 1.05 * shear);
  EXPECT_LT(slips.last("motions/along/force x"), 0.5 * shear);
  EXPECT_NEAR(slips.last("motions/along/force x") / slips.last("contacts/sole/force y"), 0.1, 1e-4);
  EXPECT_NEAR(rough.last("energy/friction"), 0, 0.02 * rough.last("energy/strain")) << "what does not slip does no friction work";
}

TEST_P(Kinds, WithoutFrictionNothingHoldsItBack) {
  const auto s = solved(pushed(GetParam(), "", 2));
  EXPECT_NEAR(s.last("motions/push/force x"), 0, 1e-6);
}

/// Its top is moved up by 0.04 and along by 0.08.
std::string lifted(const std::string& space, const std::string& kind) {
  return onFloor(
      space, R"(, "kind": ")" + kind + "\"",
      std::string(R"("supports": {"left": {"on": "block.left", "fix": "x", "during": "press"})") +
          (space == "solid" ? R"(, "front": {"on": "block.front", "fix": "z"})" : "") +
          R"(}, "motions": {"up": {"on": "block.top", "along": "y", "course": {"press": 0.04, "move": "hold"}}, "along": {
        "on": "block.top", "along": "x", "course": {"press": 0, "move": 0.08}}})");
}

TEST_P(Kinds, SlidingHoldsDownButLetsGoSideways) {
  const auto s = solved(lifted(GetParam(), "sliding"));
  EXPECT_NEAR(s.last("motions/up/force y") / (1000 * std::log(1.01) / 1.01 * 20), 1, 1e-3) << "stretched by 1 %: it never opens";
  EXPECT_NEAR(s.last("motions/along/force x"), 0, 1e-5);
}

TEST_P(Kinds, TiedHoldsInEveryDirection) {
  const auto s = solved(lifted(GetParam(), "tied"));
  EXPECT_NEAR(s.last("motions/up/force y") / (1000 * 0.04 / 4 * 20), 1, 0.03);
  // shear of 0.02 over a block that is clamped at both faces: less than G γ A by its free ends
  const double whole = 500 * 0.02 * 20;
  EXPECT_GT(s.last("motions/along/force x"), 0.6 * whole);
  EXPECT_LT(s.last("motions/along/force x"), whole);
}

TEST_P(Kinds, TouchingOpensWhenItIsLifted) {
  auto text = onFloor(GetParam(), "",
                      std::string(R"("supports": {"left": {"on": "block.left", "fix": "x"})") +
                          (GetParam() == "solid" ? R"(, "front": {"on": "block.front", "fix": "z"})" : "") +
                          R"(}, "motions": {"up": {"on": "block.top", "along": "y", "course": {"press": -0.04, "move": 0.1}}})");
  const auto s = solved(text);
  EXPECT_NEAR(s.last("motions/up/force y"), 0, 1e-6);
  EXPECT_EQ(s.last("contacts/sole/area"), 0);
  double atPress = 0;
  for (size_t i = 0; i < s.course.all.size(); ++i)
    if (std::abs(s.course.all[i].time - 1) < 1e-9) atPress = s.at(i, "motions/up/force y");
  EXPECT_NEAR(atPress / (1000 * std::log(0.99) / 0.99 * 20), 1, 1e-3) << "logarithmic strain, no change of width";
}

TEST_P(Kinds, AGapCanBeClosedWithoutStrain) {
  const auto text = [&](double level, const char* start) {
    return onFloor(GetParam(), start,
                   std::string(R"("supports": {"left": {"on": "block.left", "fix": "x"})") +
                       (GetParam() == "solid" ? R"(, "front": {"on": "block.front", "fix": "z"})" : "") +
                       R"(}, "motions": {"down": {"on": "block.top", "along": "y", "course": {"press": -0.02, "move": "hold"}}})",
                   level);
  };
  const double wanted = solved(text(0, "")).last("motions/down/force y");
  EXPECT_NEAR(solved(text(-0.015, R"(, "start": {"close within": 0.02})")).last("motions/down/force y") / wanted, 1, 1e-6);
  EXPECT_NEAR(solved(text(-0.015, "")).last("motions/down/force y") / wanted, 0.25, 0.01)
      << "without it only 0.005 of 0.02 is left to press";
  EXPECT_NEAR(solved(text(0.004, R"(, "start": {"close within": 0.02})")).last("motions/down/force y") / wanted, 1, 1e-6)
      << "and so can an overlap";
}

TEST_P(Kinds, AnOverlapGivenAsANumberPressesLikeOne) {
  const auto s = solved(
      onFloor(GetParam(), R"(, "interference": {"press": 0.02, "move": "hold"})",
              std::string(R"("supports": {"left": {"on": "block.left", "fix": "x"}, "top": {"on": "block.top", "fix": "y"})") +
                  (GetParam() == "solid" ? R"(, "front": {"on": "block.front", "fix": "z"})" : "") + "}"));
  EXPECT_NEAR(s.last("contacts/sole/mean pressure") / (-1000 * std::log(0.995) / 0.995), 1, 2e-3)
      << "strain 0.005 of a block held at its top";
  EXPECT_NEAR(s.last("energy/imbalance"), 0, 2e-2 * s.last("energy/strain"));
}

INSTANTIATE_TEST_SUITE_P(Spaces, Kinds, ::testing::Values("plane stress", "solid"));

}  // namespace
