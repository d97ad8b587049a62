// The same model in the plane and as a slice of the solid: what is said of it, and what comes out.
#include <gtest/gtest.h>

#include "cli/verify/in_space.hpp"
#include "cli/verify/plot.hpp"
#include "core/model/actions.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "run/small_runs.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

std::string pressedStrip(const std::string& space, const std::string& element) {
  return R"({"space": ")" + space +
         R"(", "materials": {"m": {"elastic": {"E": 200000, "nu": 0.3}, "plastic": {"yield": 300, "tangent": 1000}}},
    "parts": {"block": {"material": "m", "element": ")" +
         element + R"(", "mesh": {"count": [5, 3]}, "shape": {"rectangle": {"at": [)" + (space == "axisymmetric" ? "4" : "0") +
         R"(, 0], "size": [6, 3]}}},
              "tool": {"rigid": true, "shape": {"profile": {"start": [-6, 4.863], "path": [{"arc": [18, 4.863], "center": [6,
        43.02], "turn": "left"}]}}}},
    "contacts": {"touch": {"between": ["block.top", "tool"], "friction": 0.1}},
    "steps": {"press": {"increments": {"first": 0.1, "largest": 0.1}}},
    "supports": {"base": {"on": "block.bottom", "fix": ")" +
         (space == "axisymmetric" ? "z" : "y") + R"("}, "side": {"on": "block.left", "fix": ")" +
         (space == "axisymmetric" ? "r" : "x") + R"("}},
    "motions": {"down": {"on": "tool", "along": ")" +
         (space == "axisymmetric" ? "z" : "y") + R"(", "course": -0.3}}})";
}

class Slices : public ::testing::TestWithParam<std::pair<const char*, const char*>> {};

TEST_P(Slices, OfPlaneStrainCarryTheirShare) {
  const auto [flat, solid] = GetParam();
  const auto plane = solved(pressedStrip("plane strain", flat));
  auto d = model::parse(pressedStrip("plane strain", flat));
  cli::intoSpace(d, {0.7, 1, solid});
  const auto slice = solved(model::print(d));
  ASSERT_LT(plane.last("motions/down/force y"), -10);
  EXPECT_NEAR(slice.last("motions/down/force y") / plane.last("motions/down/force y"), 0.7,
              std::string(solid) == "hex8" ? 1e-4 : 2e-3)
      << "contact with the tool is integrated at points here, by exact pieces there";
  EXPECT_NEAR(slice.last("plasticity/greatest plastic strain") / plane.last("plasticity/greatest plastic strain"), 1,
              std::string(solid) == "hex8" ? 1e-3 : 5e-2);
}

INSTANTIATE_TEST_SUITE_P(Elements, Slices, ::testing::Values(std::pair{"quad4", "hex8"}, std::pair{"quad8", "hex20"}));

TEST(RoundSlice, OfAPartCarryTheirAngle) {
  const auto text = [] {
    auto t = pressedStrip("axisymmetric", "quad4");
    for (const auto& [from, to] : {std::pair{R"("motions": {"down": {"on": "tool", "along": "z", "course": -0.3}})",
                                             R"("loads": {"p": {"on": "block.top", "kind": "pressure", "course": 50}})"},
                                   {R"({"space")", R"({"geometry": "small", "space")"},
                                   {R"("contacts": {"touch": {"between": ["block.top", "tool"], "friction": 0.1}},)", ""}})
      t = with(t, from, to);
    return t;
  }();
  const auto round = solved(text);
  auto d = model::parse(text);
  cli::intoSpace(d, {4, 1, "hex8"});
  const auto slice = solved(model::print(d));
  const double whole = round.last("supports/base/force z");
  EXPECT_NEAR(whole, 50 * 3.14159265358979 * (100 - 16), 1e-6 * whole) << "pressure times area";
  EXPECT_NEAR(90 * slice.last("supports/base/force y") / whole, 1, 1e-3) << "a polygon of 90 sides";
}

TEST(IntoSpace, TellsEverythingInThreeDirections) {
  auto d = model::parse(R"({"space": "axisymmetric", "materials": {"m": {"elastic": {"E": 1, "nu": 0}}}, "parameters": {"F": 5},
    "parts": {"p": {"material": "m", "shape": {"rectangle": {"at": [0, 0], "size": [1, 1]}, "edges": ["low", "out", "top",
      "axis"]}}, "t": {"rigid": true, "pivot": [0, 2], "shape": {"profile": {"start": [1, 1], "path": [{"line": [0, 1]}]}}}},
    "steps": {"s": {}}, "supports": {"axis": {"on": "p.axis", "fix": "r"}, "low": {"on": ["p.low", "p.axis"], "fix": ["z", "r"]}},
    "loads": {"f": {"on": "p.top", "kind": "force", "along": "z", "course": {"s": "=F"}}, "q": {"on": "p.out",
      "kind": "pressure", "course": 3}}, "watch": {"w": {"part": "p", "at": [1, 1]}}})");
  cli::intoSpace(d, {36, 2, "hex20"});
  EXPECT_EQ(d.space, "solid");
  EXPECT_FALSE(d.supports.find("axis")) << "the axis has no face in space";
  EXPECT_EQ(d.supports.find("low")->on, std::vector<std::string>{"p.low"});
  EXPECT_EQ(d.supports.find("low")->fix, (std::vector<std::string>{"y", "radial y"}));
  EXPECT_EQ(d.supports.back().second.on, (std::vector<std::string>{"p.front", "p.back"}));
  EXPECT_EQ(d.parts.find("t")->pivot.size(), 3u);
  EXPECT_EQ(d.watch.front().second.at.size(), 3u);
  EXPECT_EQ(d.loads.find("q")->course.value, model::Entry(3)) << "a pressure is the same everywhere";
  EXPECT_NEAR(model::Quantities(d)(d.loads.find("f")->course.stages.front().second.value, Kind::force, ""), 0.5, 1e-9)
      << "a tenth of the force";
  EXPECT_TRUE(model::parse(model::print(d)) == d);
}

TEST(Plot, HasAllPointsInsideItsFrame) {
  cli::VerifyPlot plot{"X0",
                       "a < b & c",
                       "way",
                       "force",
                       {{"reference", {{0, -1}, {1, 2}, {2, 5}}}, {"computed", {{0.5, 0.4}, {1.5, 3.6}}, true}}};
  const auto text = cli::svg(plot);
  EXPECT_EQ(text.find("<svg"), 0u);
  EXPECT_NE(text.find("a &lt; b &amp; c"), std::string::npos) << "words are safe in XML";
  size_t dots = 0;
  for (auto at = text.find("<circle"); at != std::string::npos; at = text.find("<circle", at + 1)) {
    const double x = numberAt(text.substr(text.find("cx=\"", at) + 4)), y = numberAt(text.substr(text.find("cy=\"", at) + 4));
    EXPECT_TRUE(x >= 52 && x <= 348 && y >= 28 && y <= 200) << x << ", " << y;
    ++dots;
  }
  EXPECT_EQ(dots, 2u);
}

}  // namespace
