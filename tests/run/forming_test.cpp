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
