// What is shown of a contact: recovered pressures that keep the force, on both faces; closing that keeps the gap's shape; whose
// force it is.
#include <gtest/gtest.h>

#include <fmt/format.h>
#include <cmath>
#include <numbers>

#include "run/small_runs.hpp"

using namespace anvil;

namespace {

/// A round bar's quarter end on a flat block, elastic, pressed by a motion.
std::string roller(const std::string& contact, double lift = 0) {
  return fmt::format(R"({{"anvil": 1, "materials": {{"steel": {{"elastic": {{"E": 210000, "nu": 0.3}}}}}},
    "parts": {{"roller": {{"material": "steel", "element": "quad4", "mesh": {{"count": [30, 20], "grading": [8, 10]}}, "shape":
      {{"profile": {{"start": [0, {0}], "path": [
        {{"arc": [7.5, {1}], "center": [0, {2}], "name": "nose"}}, {{"line": [7.5, {3}], "name": "side"}}, {{"line": [0, {3}],
        "name": "top"}}, {{"line": [0, {0}], "name": "axis"}}]}}}}}},
      "flat": {{"material": "steel", "element": "quad4", "mesh": {{"count": [28, 20], "grading": [8, 0.1]}}, "shape": {{
        "rectangle": {{"at": [0, -8], "size": [7.5, 8]}}, "edges": ["base", "side", "top", "axis"]}}}}}},
    "contacts": {{"touch": {{"between": {4}}}}}, "steps": {{"press": {{}}}},
    "supports": {{"middle": {{"on": ["roller.axis", "flat.axis"], "fix": "x"}}, "base": {{"on": "flat.base", "fix": "y"}}}},
    "motions": {{"press": {{"on": "roller.top", "along": "y", "course": -0.0186}}}}}})",
                     lift, 50 - std::sqrt(2500 - 56.25) + lift, 50 + lift, 8 + lift, contact);
}

}  // namespace

TEST(Shown, PressuresKeepTheForceOnBothFaces) {
  const auto s = solved(roller(R"(["roller.nose", "flat.top"])"));
  const auto& shown = s.course.all.back().contacts.front();
  const double force = std::abs(s.last("motions/press/force y"));
  for (const auto* side : {&shown.own, &shown.opposite}) {
    double sum = 0;
    for (const auto& n : *side) sum += n.pressure * n.area;
    EXPECT_NEAR(sum / force, 1, 2e-3) << "the faces are a little inclined";
  }
  double own = 0, opposite = 0;
  for (const auto& n : shown.own) own = std::max(own, n.pressure);
  for (const auto& n : shown.opposite) opposite = std::max(opposite, n.pressure);
  EXPECT_NEAR(own / opposite, 1, 0.03) << "whichever carries the unknowns";
  EXPECT_DOUBLE_EQ(own, s.last("contacts/touch/greatest pressure"));
}

TEST(Shown, PressuresKeepTheForceOnFacesWithRoundRims) {
  for (const std::string element : {"tet10", "hex20"}) {  // a tube's flat end on a plate
    const auto s = solved(R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
      "parts": {
        "tube": {"material": "m", "element": ")" +
                          element + R"(", "mesh": {"size": 2.5}, "solid": [
          {"cylinder": {"from": [0, 0, 0], "to": [0, 0, 5], "radius": 5}, "name": "c"},
          {"cylinder": {"from": [0, 0, -1], "to": [0, 0, 6], "radius": 2.5}, "how": "cut", "name": "hole"}]},
        "plate": {"material": "m", "element": ")" +
                          element + R"(", "mesh": {"size": 4}, "solid": [
          {"box": {"at": [-7, -7, 5], "size": [14, 14, 4]}, "name": "box"}]}},
      "contacts": {"seat": {"between": ["tube.c.end", "plate.box.front"]}},
      "steps": {"press": {"increments": {"first": 1, "largest": 1}}},
      "supports": {"foot": {"on": "tube.c.start", "fix": ["x", "y", "z"]}, "guide": {"on": "plate.box.back", "fix": ["x", "y"]}},
      "motions": {"down": {"on": "plate.box.back", "along": "z", "course": -0.1}}})");
    const double force = -s.last("motions/down/force z");
    EXPECT_GT(force, 100);
    for (const auto* side : {&s.course.all.back().contacts.front().own, &s.course.all.back().contacts.front().opposite}) {
      double sum = 0;
      for (const auto& n : *side) sum += n.pressure * n.area;
      EXPECT_NEAR(sum / force, 1, 1e-4) << element;
    }
  }
}

TEST(Shown, TheForceActsOnTheFirstNamed) {
  for (const char* side : {"first", "second"}) {
    const auto up = solved(roller(fmt::format(R"(["roller.nose", "flat.top"], "pressure on": "{}")", side)));
    const auto down = solved(roller(fmt::format(R"(["flat.top", "roller.nose"], "pressure on": "{}")", side)));
    EXPECT_GT(up.last("contacts/touch/force y"), 0) << "the roller is pushed up";
    EXPECT_LT(down.last("contacts/touch/force y"), 0) << "the flat is pushed down";
    EXPECT_NEAR(up.last("contacts/touch/force y") + down.last("contacts/touch/force y"), 0,
                2e-2 * up.last("contacts/touch/force y"));
    EXPECT_NEAR(up.last("contacts/touch/force y"), up.last("supports/base/force y"), 1e-5 * up.last("contacts/touch/force y"));
  }
}

TEST(Shown, ClosingAGapKeepsItsShape) {
  const double plain = solved(roller(R"(["roller.nose", "flat.top"])")).last("contacts/touch/greatest pressure");
  // the same roller drawn a little too high, and the gap closed: nothing else may change
  for (const double within : {1e-4, 2e-5}) {
    const auto s =
        solved(roller(fmt::format(R"(["roller.nose", "flat.top"], "start": {{"close within": {}}})", within), 0.5 * within));
    EXPECT_NEAR(s.last("contacts/touch/greatest pressure") / plain, 1, 0.005) << within;
    EXPECT_EQ(s.course.said("was closed at the start"), 0) << "small against the way of 0.0186";
  }
  EXPECT_EQ(solved(roller(R"(["roller.nose", "flat.top"], "start": {"close within": 0.002})", 0.001))
                .course.said("was closed at the start"),
            1);
}

TEST(Supports, ReportWhatTheyHoldAlongTheirOwnDirections) {
  // a block pressed into a corner: floor and wall share an edge's nodes
  const auto s = solved(R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {"b": {"material": "m", "element": "hex8", "shape": {"rectangle": {"at": [0, 0], "size": [10, 10]}}, "extrude": {
      "depth": 10, "count": 3}, "mesh": {"count": [3, 3]}}},
    "steps": {"press": {}}, "supports": {"floor": {"on": "b.bottom", "fix": "y"}, "wall": {"on": "b.left", "fix": "x"},
      "behind": {"on": "b.front", "fix": "normal"}},
    "loads": {"down": {"on": "b.top", "kind": "force", "along": "y", "course": -60}, "aside": {"on": "b.right", "kind": "force",
      "along": "x", "course": -30}}})");
  EXPECT_NEAR(s.last("supports/floor/force y"), 60, 1e-4);
  EXPECT_NEAR(s.last("supports/floor/force x"), 0, 1e-12);
  EXPECT_NEAR(s.last("supports/floor/force z"), 0, 1e-12);
  EXPECT_NEAR(s.last("supports/wall/force x"), 30, 1e-4);
  EXPECT_NEAR(s.last("supports/wall/force y"), 0, 1e-12);
  EXPECT_NEAR(s.last("supports/behind/force z"), 0, 1e-4);
}

TEST(Supports, ReportTheMomentAboutTheirMiddle) {
  const auto s = solved(
      R"({"anvil": 1, "space": "plane stress", "thickness": 2, "geometry": "small", "materials": {"m": {"elastic": {"E": 1000,
        "nu": 0.3}}},
    "parts": {"b": {"material": "m", "shape": {"rectangle": {"at": [0, 0], "size": [20, 4]}}, "mesh": {"count": [10, 2]}}},
    "steps": {"press": {}}, "supports": {"root": {"on": "b.left", "fix": ["x", "y"]}}, "loads": {"tip": {"on": "b.right",
      "kind": "force", "along": "y", "course": -3}}})");
  EXPECT_NEAR(s.last("supports/root/force y"), 3, 1e-6);
  EXPECT_NEAR(s.last("supports/root/moment"), 60, 0.1)
      << "force times arm; the tip's own way is not in it in small geometry, but the places of the root's nodes are";
}
