// Symmetry planes: found where a support makes one, and only there.
#include <gtest/gtest.h>

#include "core/lower/lower.hpp"
#include "core/mesh/symmetry.hpp"
#include "core/model/actions.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/regions.hpp"
#include "core/problem/problem.hpp"

using namespace anvil;

namespace {

const char* const quarter = R"({
  "anvil": 1, "space": "solid",
  "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
  "parts": {"block": {"material": "steel", "element": "hex8", "shape": {"rectangle": {"at": [1, 2], "size": [4, 3]}}, "mesh": {
    "count": 2}, "extrude": {"depth": 5, "count": 2}}},
  "steps": {"push": {}, "hold": {}},
  "supports": {"cut": {"on": ["block.left", "block.front"], "fix": "normal"}, "seat": {"on": "block.bottom", "fix": ["x", "y",
    "z"]}},
  "loads": {"press": {"on": "block.top", "kind": "pressure", "course": 1}}
})";

std::vector<mesh::MirrorPlane> planes(const std::function<void(model::Document&)>& change = {}, const char* text = quarter) {
  auto d = model::parse(text);
  if (change) change(d);
  return mesh::mirrorPlanes(d, analysis::buildMesh(d, model::Quantities(d)));
}

}  // namespace

TEST(Symmetry, FlatFacesHeldAlongTheirNormalsArePlanes) {
  const auto p = planes();
  ASSERT_EQ(p.size(), 2u);
  EXPECT_EQ(p[0].axis, 0);
  EXPECT_DOUBLE_EQ(p[0].at, 1);
  EXPECT_EQ(p[1].axis, 2);
  EXPECT_EQ(p[1].support, "cut");
}

TEST(Symmetry, ByRegionAndByAxisNameToo) {
  const auto p = planes([](model::Document& d) {
    d.regions("sides").edges = {"block.left"};
    d.supports("cut").on = {"sides"}, d.supports("cut").fix = {"x"};
  });
  ASSERT_EQ(p.size(), 1u);
  EXPECT_EQ(p[0].axis, 0);
}

TEST(Symmetry, AClampAWrongDirectionOrOneStepMakesNone) {
  EXPECT_TRUE(planes([](model::Document& d) { d.supports("cut").fix = {"x", "y", "z"}; }).empty());
  EXPECT_TRUE(planes([](model::Document& d) { d.supports("cut").fix = {"y"}; }).empty());
  EXPECT_TRUE(planes([](model::Document& d) { d.supports("cut").during = {"push"}; }).empty());
  EXPECT_EQ(planes([](model::Document& d) { d.supports("cut").during = {"push", "hold"}; }).size(), 2u);
}

TEST(Symmetry, APartBeyondThePlaneRulesItOut) {
  const auto p = planes([](model::Document& d) {
    auto& other = d.parts("other");
    other = *d.parts.find("block");
    other.shape[0].rectangle->at = {-3, 2};
  });
  ASSERT_EQ(p.size(), 1u);
  EXPECT_EQ(p[0].axis, 2);
}

TEST(Symmetry, CurvedFacesAndTheAxisOfRevolutionAreNone) {
  const char* const ring = R"({
    "anvil": 1, "space": "axisymmetric",
    "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
    "parts": {"disc": {"material": "steel", "shape": {"rectangle": {"at": [0, 0], "size": [4, 3]}}, "mesh": {"count": 2}}},
    "steps": {"push": {}},
    "supports": {"axis": {"on": "disc.left", "fix": "r"}, "middle": {"on": "disc.bottom", "fix": "z"}}
  })";
  const auto p = planes({}, ring);
  ASSERT_EQ(p.size(), 1u);
  EXPECT_EQ(p[0].axis, 1);
}
