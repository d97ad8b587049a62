#include "core/checks/overlapping.hpp"

#include <gtest/gtest.h>

#include "core/lower/lower.hpp"
#include "core/mesh/mapped.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/problem/problem.hpp"

using namespace anvil;

namespace {

/// Two boxes of 10 x 10 x 10, the second moved by `shift`, of cells of the given kind.
std::vector<checks::Overlap> ofBoxes(const std::string& element, const std::string& shift) {
  const auto box = [&](const std::string& place) {
    return R"({"material": "steel", "element": ")" + element + R"(", "shape": {"rectangle": {"at": )" + place +
           R"(, "size": [10, 10]}}, "extrude": {"depth": 10, "count": 4}, "mesh": {"size": 2.5}})";
  };
  const auto p = analysis::lower(
      model::parse(R"({"anvil": 1, "space": "solid", "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
    "parts": {"a": )" +
                   box("[0, 0]") + ", \"b\": " + box(shift) +
                   R"(}, "steps": {"go": {}}, "supports": {"s": {"on": "a.front", "fix": ["x", "y", "z"]}}})"));
  return checks::overlaps(p->mesh);
}

}  // namespace

TEST(Overlapping, TheDepthIsThatOfTheBoxes) {
  for (const char* element : {"hex8", "hex20", "tet10"}) {
    const auto found = ofBoxes(element, "[8.75, 0]");  // a quarter of its cells' length beyond a row of nodes
    ASSERT_EQ(found.size(), 1u) << element;
    EXPECT_EQ(found[0].first, 0);
    EXPECT_EQ(found[0].second, 1);
    EXPECT_NEAR(found[0].depth, 1.25, 1e-9) << element;
  }
}

TEST(Overlapping, WhatOnlyTouchesOrStandsBesideDoesNot) {
  for (const auto& o : ofBoxes("hex8", "[10, 0]")) EXPECT_LT(o.depth, 1e-9);
  EXPECT_TRUE(ofBoxes("hex8", "[10.001, 0]").empty());
}
