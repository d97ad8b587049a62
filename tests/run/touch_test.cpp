// Increments and contact: shortened where a gap closes, contact that fades when switched off, bodies that bend between
// others, corners of the shape, balances.
#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cmath>

#include "run/small_runs.hpp"

using namespace anvil;

namespace {

const char* const pressedTogether = R"({
  "anvil": 1,
  "materials": {"soft": {"elastic": {"E": 1000, "nu": 0.3}}},
  "parts": {
    "block": {"material": "soft", "element": "quad4", "shape": {"rectangle": {"at": [0, 0], "size": [10, 5]}}, "mesh": {
      "size": 1}},
    "tool": {"rigid": true, "shape": {"profile": {"start": [-5, 6], "path": [{"line": [15, 6]}]}}}},
  "contacts": {"press": {"between": ["block.top", "tool"], "search": 2}},
  "steps": {"press": {"increments": {"first": 1, "largest": 1}}},
  "supports": {"floor": {"on": "block.bottom", "fix": "y"}, "left": {"on": "block.left", "fix": "x"}},
  "motions": {"down": {"on": "tool", "along": "y", "course": -2}}
})";

/// Crossing rods of radius 4, their surfaces 2 mm apart, in elements of about 3 mm; the upper one comes down in two steps.
std::string crossingRods(const std::string& element, double first, double second) {
  const auto rod = [&](const std::string& from, const std::string& to) {
    return R"({"material": "m", "element": ")" + element + R"(", "solid": [{"cylinder": {"from": [)" + from + R"(], "to": [)" +
           to + R"(], "radius": 4}}], "mesh": {"size": 3}})";
  };
  return R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {"low": )" +
         rod("0, -10, 0", "0, 10, 0") + R"(, "high": )" + rod("-9, 0, 10", "11, 0, 10") + R"(},
    "contacts": {"touch": {"between": ["high.cylinder.side", "low.cylinder.side"]}},
    "steps": {"near": {"increments": {"first": 1, "largest": 1}}, "press": {"increments": {"first": 0.1, "largest": 0.1}}},
    "supports": {"foot": {"on": ["low.cylinder.start", "low.cylinder.end"], "fix": ["x", "y", "z"]},
      "hand": {"on": ["high.cylinder.start", "high.cylinder.end"], "fix": ["x", "y"]}},
    "motions": {"press": {"on": ["high.cylinder.start", "high.cylinder.end"], "along": "z", "course": {"near": )" +
         fmt::format("{}", -first) + ", \"press\": " + fmt::format("{}", -second) + "}}}}";
}

}  // namespace

TEST(Touch, PointContactBeginsWhereTheBodiesMeet) {
  for (const std::string element : {"hex20", "hex8"}) {
    const auto s = solved(crossingRods(element, 1.97, 2.1));
    size_t first = 0;  // increment of the second step
    while (s.course.all[first].step == 0) ++first;
    EXPECT_EQ(s.at(first - 1, "contacts/touch/area"), 0) << element;
    // 0.03 of the last 0.13 mm are left: touched in the third or fourth increment out of ten
    ASSERT_GE(s.course.all.size(), first + 10);
    EXPECT_EQ(s.at(first + 1, "contacts/touch/area"), 0) << element;
    EXPECT_GT(s.at(first + 3, "contacts/touch/area"), 0) << element;
    EXPECT_GT(-s.last("motions/press/force z"), 10) << element;
    // no more than two half-spaces of that roundness would need (H. Hertz), as the rods bend as well
    const double hertz = 4. / 3 * 1000 / (2 * 0.91) * std::sqrt(4.) * std::pow(0.1, 1.5);
    EXPECT_LT(-s.last("motions/press/force z"), 1.5 * hertz) << element;
  }
}

TEST(Touch, AnIncrementIsShortenedToWhereTheGapCloses) {
  const auto s = solved(pressedTogether);
  EXPECT_EQ(s.course.cutbacks, 0);
  ASSERT_GE(s.course.all.size(), 2u);
  // the gap of 1 closes at half the way of 2; a little deeper, so that contact is felt
  EXPECT_GT(s.course.all[0].time, 0.5);
  EXPECT_LT(s.course.all[0].time, 0.53);
  // uniform: T = E/(1 - ν²) ln 0.8 over the undeformed volume, T/J over the width that has grown by ν/(1 - ν) ln 1.25
  const double strain = std::log(5 / 4.), side = 0.3 / 0.7 * strain,
               stress = 1000 / (1 - 0.09) * strain / std::exp(side - strain);
  EXPECT_NEAR(-s.last("motions/down/force y"), stress * 10 * std::exp(side), 2e-3 * stress * 10);
}

TEST(Touch, AToolThatStaysClearShortensNothing) {
  const auto s = solved(with(pressedTogether, "\"course\": -2", "\"course\": -0.9"));
  EXPECT_EQ(s.course.all.size(), 1u);
  EXPECT_EQ(s.last("contacts/press/area"), 0);
}

TEST(Touch, ContactThatIsSwitchedOffFadesOverTheStep) {
  auto text = with(pressedTogether, "\"press\": {\"increments\": {\"first\": 1, \"largest\": 1}}",
                   "\"press\": {}, \"off\": {\"increments\": {\"first\": 0.25, \"largest\": 0.25}}");
  text = with(text, "\"search\": 2", "\"search\": 2, \"during\": \"press\"");
  text = with(text, "\"course\": -2", "\"course\": {\"press\": -2}");
  text = with(text, "\"motions\"", "\"watch\": {\"top\": {\"part\": \"block\", \"at\": [5, 5]}}, \"motions\"");
  const auto s = solved(text);
  size_t first = 0;
  while (s.course.all[first].step == 0) ++first;
  const double held = s.at(first - 1, "watch/top/uy");
  EXPECT_NEAR(held, -1, 1e-3);
  double before = held;
  for (size_t row = first; row < s.course.all.size(); ++row) {  // springs back bit by bit
    const double u = s.at(row, "watch/top/uy");
    EXPECT_GT(u, before - 1e-12);
    const double share = s.course.all[row].time - 1;
    EXPECT_NEAR(u, held * (1 - share), 0.12) << share;
    before = u;
  }
  EXPECT_NEAR(before, 0, 1e-9);
}

TEST(Touch, AStripWithoutPlayBetweenDieAndHolderBends) {
  // every node of both faces touches at the start: the active set alone goes round in circles
  const auto s = solved(R"({
    "anvil": 1,
    "materials": {"sheet": {"elastic": {"E": 205000, "nu": 0.3}}},
    "parts": {
      "strip": {"material": "sheet", "element": "quad8", "shape": {"rectangle": {"at": [0, 0], "size": [30, 1]}}, "mesh": {
        "count": [40, 2]}},
      "die": {"rigid": true, "shape": {"profile": {"start": [60, 0], "path": [{"line": [10, 0], "fillet": 5}, {
        "line": [10, -40]}]}}},
      "holder": {"rigid": true, "shape": {"profile": {"start": [9, 1], "path": [{"line": [60, 1]}]}}},
      "punch": {"rigid": true, "shape": {"profile": {"start": [-10, 1], "path": [{"line": [7, 1], "fillet": 3}, {"line": [7,
        30]}]}}}},
    "contacts": {"die": {"between": ["strip.bottom", "die"]}, "holder": {"between": ["strip.top", "holder"]}, "punch": {
      "between": ["strip.top", "punch"]}},
    "steps": {"draw": {"increments": {"first": 0.2, "largest": 0.25}}},
    "supports": {"middle": {"on": "strip.left", "fix": "x"}},
    "motions": {"punch": {"on": "punch", "along": "y", "course": -1.5}}
  })");
  EXPECT_LE(s.course.cutbacks, 3);
  EXPECT_LT(s.last("balance/force"), 1e-6);
  EXPECT_LT(s.last("balance/moment"), 1e-6);
  // what the punch puts in is bending energy: nothing else takes any up
  EXPECT_NEAR(s.last("energy/strain"), s.last("energy/external work"), 0.03 * s.last("energy/strain"));
  EXPECT_LT(s.last("contacts/holder/greatest penetration"), 1e-3);
}

TEST(Touch, ACornerKeepsItsPressureWhenTheSideLeansOver) {
  // the top presses flat; the side belongs to the same surface and leans towards the platen
  const auto s = solved(R"({
    "anvil": 1, "space": "axisymmetric",
    "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}, "plastic": {"yield": 300, "tangent": 700}}},
    "parts": {
      "billet": {"material": "steel", "element": "quad4", "shape": {"rectangle": {"at": [0, 0], "size": [10, 15]}}, "mesh": {
        "count": [6, 9]}},
      "platen": {"rigid": true, "shape": {"profile": {"start": [-10, 15], "path": [{"line": [30, 15]}]}}}},
    "regions": {"outside": {"edges": ["billet.top", "billet.right"]}},
    "contacts": {"press": {"between": ["outside", "platen"], "kind": "rough"}},
    "steps": {"press": {"increments": {"first": 0.05, "largest": 0.1}}},
    "supports": {"middle": {"on": "billet.bottom", "fix": "z"}},
    "motions": {"down": {"on": "platen", "along": "z", "course": -3}}
  })");
  EXPECT_EQ(s.course.cutbacks, 0);
  // the corner stands twice among the corners: on the top and on the side
  const auto& surface = s.p->pairs.front().setup().slave;
  EXPECT_EQ(surface.corners.size(), 7u + 10u);
  const auto& states = s.course.all.back().contacts.front().own;
  for (size_t a = 0; a < surface.corners.size(); ++a) {
    const auto& x = s.p->mesh.x[size_t(surface.corners[a])];
    if (std::abs(x.y() - 15) > 1e-9 || x.x() < 9.9) continue;
    bool onTop = false;
    for (const auto& side : surface.sides)
      for (int i = 0; i < 2; ++i)
        onTop |= side.corner[size_t(i)] == int(a) &&
                 std::abs(s.p->mesh.x[size_t(side.node[0])].y() - s.p->mesh.x[size_t(side.node[1])].y()) < 1e-9;
    EXPECT_EQ(states[a].status != contact::Status::open, onTop);
  }
}

TEST(Balances, CloseAndAreSaidWhenTheWorkIsCoarse) {
  const auto fine = solved(with(pressedTogether, "\"first\": 1, \"largest\": 1", "\"first\": 0.05, \"largest\": 0.05"));
  for (size_t row = 0; row < fine.course.all.size(); ++row)
    EXPECT_LT(std::max(fine.at(row, "balance/force"), fine.at(row, "balance/moment")), 1e-6);
  EXPECT_TRUE(fine.course.notes.empty()) << fine.course.notes.front();
  // the force of a ball grows faster than its way: few increments count too much work
  const auto coarse =
      solved(with(with(with(pressedTogether, "\"size\": 1", "\"size\": 2.5"), "\"first\": 1, \"largest\": 1",
                       "\"first\": 0.5, \"largest\": 0.5"),
                  "[-5, 6], \"path\": [{\"line\": [15, 6]}]", "[0, 11], \"path\": [{\"arc\": [10, 11], \"center\": [5, 11]}]"));
  EXPECT_EQ(coarse.course.said("work put in"), 1)
      << coarse.course.all.size() << " increments, " << coarse.last("energy/external work") << " put in, "
      << coarse.last("energy/imbalance") << " left";
}

/// Of an open outline, what lies beside its last line is not inside: as the punch comes down that line comes to be what is
/// nearest to the ends of the beam, and they lie behind it.
TEST(Touch, AnOpenOutlineHasNoInsideFarFromIt) {
  const auto s = solved(R"({"space": "plane stress", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {"beam": {"material": "m", "element": "quad8", "mesh": {"count": [40, 1]}, "shape": {"rectangle": {"at": [-20, 0],
                "size": [40, 1]}}},
              "punch": {"rigid": true, "shape": {"profile": {"start": [-1, 2.1], "path": [{"arc": [1, 2.1], "center": [0, 2.1]},
                {"line": [1, 5]}]}}}},
    "contacts": {"pressing": {"between": ["beam.top", "punch"]}},
    "steps": {"press": {"increments": {"first": 0.1, "largest": 0.1}}},
    "supports": {"ends": {"on": ["beam.left", "beam.right"], "fix": ["x", "y"]}},
    "motions": {"down": {"on": "punch", "along": "y", "course": -2.5}}})");
  EXPECT_EQ(s.course.cutbacks, 0);
  EXPECT_LT(s.last("motions/down/force y"), -1);
}
