// Tools that would jump through a part in one increment: they are stopped at it, however thin the one or the other is.
#include <gtest/gtest.h>

#include <fmt/format.h>

#include <numbers>

#include "core/checks/readiness.hpp"
#include "core/contact/rigid_facets.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "run/small_runs.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

/// A sheet 1 mm thick that is held at both ends, and a tool that comes down on its middle from 3 mm above it, in one increment.
std::string sheetUnder(const std::string& outline, double travel) {
  return R"({"anvil": 1, "materials": {"rubber": {"elastic": {"E": 100, "nu": 0.3}}},
    "parts": {"sheet": {"material": "rubber", "element": "quad4", "shape": {"rectangle": {"at": [-20, -1], "size": [40, 1]}},
        "mesh": {"size": 1}},
      "tool": {"rigid": true, "shape": {"profile": )" +
         outline + R"(}}},
    "contacts": {"press": {"between": ["sheet.top", "tool"]}},
    "steps": {"press": {"increments": {"first": 1, "largest": 1}}},
    "supports": {"ends": {"on": ["sheet.left", "sheet.right"], "fix": ["x", "y"]}},
    "motions": {"down": {"on": "tool", "along": "y", "course": )" +
         fmt::format("{}", -travel) + "}}}";
}

const char* const wireTool = R"({"start": [0.4, 3.4], "path": [{"arc": [-0.4, 3.4], "center": [0, 3.4]},
  {"arc": [0.4, 3.4], "center": [0, 3.4]}]})";
const char* const blade = R"({"start": [0.45, 40], "path": [{"line": [0.25, 40]}, {"line": [0.25, 3]}, {"line": [0.45, 3]},
  {"line": [0.45, 40]}]})";
const char* const flatTool = R"({"start": [-5, 3], "path": [{"line": [5, 3]}]})";

}  // namespace

TEST(Passing, AToolSmallerThanAnElementDoesNotJumpThroughASheet) {
  const auto s = solved(sheetUnder(wireTool, 8));
  EXPECT_EQ(s.course.all.back().time, 1);
  EXPECT_GT(s.course.cutbacks, 0);
  // 5 mm deep in the middle: at the least the force of a string of that stretch under a point
  const double half = 20, slope = 5 / std::hypot(half, 5.), stretch = std::hypot(half, 5.) / half - 1;
  EXPECT_GT(-s.last("motions/down/force y"), 2 * 100 * stretch * slope);
  const auto plate = solved(sheetUnder(flatTool, 4));
  EXPECT_GT(plate.course.cutbacks, 0);
  // 1 mm deep, from its edges to the ends
  const double rest = 15, steep = 1 / std::hypot(rest, 1.), longer = (std::hypot(rest, 1.) - rest) / half;
  EXPECT_GT(-plate.last("motions/down/force y"), 2 * 100 * longer * steep);
}

TEST(Passing, WhatGoesInBetweenNodesStopsTheRunAndIsDoubtedBefore) {
  EXPECT_SAYS(sentence([] { (void)solved(sheetUnder(blade, 8)); }), "A body went too deep into another at contact 'press'");
  EXPECT_SAYS(sentence([] { (void)solved(sheetUnder(blade, 8)); }), "finer elements where the tool is narrower");
  std::string doubts;
  for (const auto& f : checks::readiness(model::parse(sheetUnder(blade, 8))).findings) doubts += f.what + " ";
  EXPECT_SAYS(doubts, "'tool' is 0.2 mm wide, less than an element edge");
}

TEST(Passing, WhatGoesPastBesideIsNotHindered) {
  const auto past = sheetUnder(R"({"start": [22.4, 3.4], "path": [{"arc": [21.6, 3.4], "center": [22, 3.4]},
    {"arc": [22.4, 3.4], "center": [22, 3.4]}]})",
                               30);
  const auto s = solved(past);
  EXPECT_EQ(s.course.cutbacks, 0);
  EXPECT_EQ(s.course.all.size(), 1u);
}

TEST(Passing, InSpaceANeedleStopsTheRunToo) {
  const std::string model = R"({"anvil": 1, "space": "solid", "materials": {"rubber": {"elastic": {"E": 100, "nu": 0.3}}},
    "parts": {"sheet": {"material": "rubber", "element": "hex8", "shape": {"rectangle": {"at": [-10, -1], "size": [20, 1]}},
        "extrude": {"depth": 20, "count": 10}, "mesh": {"size": 2}},
      "needle": {"rigid": true, "shape": {"profile": {"start": [0, 3], "path": [{"line": [0.3, 3]}, {"line": [0.3, 60]}]}},
        "revolve": {"angle": 360}, "place": {"shift": [0.9, 0, 10.9]}}},
    "contacts": {"press": {"between": ["sheet.top", "needle"]}},
    "steps": {"press": {"increments": {"first": 1, "largest": 1}}},
    "supports": {"ends": {"on": ["sheet.left", "sheet.right", "sheet.front", "sheet.back"], "fix": ["x", "y", "z"]}},
    "motions": {"down": {"on": "needle", "along": "y", "course": -5}}})";
  EXPECT_SAYS(sentence([&] { (void)solved(model); }), "A body went too deep into another at contact 'press'");
}

TEST(RigidPoints, LieOnTheBodyAndCloseToEachOther) {
  contact::RigidBody ball;  // of radius 5, in space
  ball.curves = {geometry::Curve2::arcTo({0, -5}, {0, 5}, {0, 0}, true)};
  ball.sweep.kind = geometry::Sweep::Kind::revolve, ball.sweep.length = 2 * std::numbers::pi;
  ball.place.shift = {1, 2, 3};
  const auto points = contact::pointsOf(ball, 3, 0.5);
  EXPECT_GT(points.size(), size_t(4 * std::numbers::pi * 25 / 0.25));
  EXPECT_LT(points.size(), 60000u);
  for (const auto& x : points) EXPECT_NEAR((x - ball.place.shift).norm(), 5, 0.01);
}
