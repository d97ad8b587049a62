// Parts that are only carried along: no forces, but for rounding. Every one must balance at once and stay without stress, and
// nothing is said about forces and work that are nothing but noise.
#include <gtest/gtest.h>

#include <fmt/format.h>

#include "run/small_runs.hpp"

using namespace anvil;

namespace {

struct Carried {
  double length, offset, far, young, nu;
  const char* element;
};

class Carry : public ::testing::TestWithParam<Carried> {};

TEST_P(Carry, BalancesAtOnceAndNothingIsSaid) {
  const auto& c = GetParam();
  const auto s = solved(fmt::format(R"({{"anvil": 1, "materials": {{"m": {{"elastic": {{"E": {}, "nu": {}}}}}}},
    "parts": {{"bar": {{"material": "m", "element": "{}", "shape": {{"rectangle": {{"at": [{}, 0], "size": [{}, 1]}}}}, "mesh":
      {{"count": [10, 10], "grading": [1, 60]}}}}}},
    "steps": {{"go": {{}}}}, "motions": {{"x": {{"on": "bar.left", "along": "x", "course": {}}}, "y": {{"on": "bar.left",
      "along": "y", "course": {}}}}}}})",
                                    c.young, c.nu, c.element, c.offset, c.length, c.far, 0.5 * c.far));
  EXPECT_EQ(s.course.cutbacks, 0);
  EXPECT_TRUE(s.course.notes.empty()) << s.course.notes.front();
  for (const auto& inc : s.course.all) {
    EXPECT_LE(inc.iterations, 3);
    double stress = 0;
    for (const auto& point : inc.points) stress = std::max(stress, point.stress.norm());
    EXPECT_LT(stress, 1e-9 * c.young * (1 + c.far)) << "of rounding only";
  }
}

INSTANTIATE_TEST_SUITE_P(Shapes, Carry,
                         ::testing::Values(Carried{1, 0, 50, 210000, 0.3, "quad8"}, Carried{100, 0, 50, 210000, 0.3, "quad8"},
                                           Carried{100, 1e4, 50, 210000, 0.3, "quad8"},
                                           Carried{100, 1e4, 5000, 210000, 0.3, "quad4"}, Carried{100, 0, 50, 1, 0.3, "quad8"},
                                           Carried{100, 0, 50, 1e6, 0.3, "tri6"}, Carried{100, 0, 50, 1000, 0.4999, "quad4"},
                                           Carried{0.01, 0, 50, 210000, 0.3, "quad8"}));

class Rubber : public ::testing::TestWithParam<double> {};

TEST_P(Rubber, NearlyIncompressibleIsCarriedToo) {
  const auto s = solved(fmt::format(
      R"({{"anvil": 1, "space": "axisymmetric", "materials": {{"rubber": {{"rubber": {{"mooney": [0.3, 0.1], "bulk": {}}}}}}},
    "parts": {{"tube": {{"material": "rubber", "shape": {{"rectangle": {{"at": [8, 0], "size": [2, 40]}}}}, "mesh": {{
      "count": [4, 40]}}}}}},
    "steps": {{"go": {{}}}}, "motions": {{"z": {{"on": "tube.bottom", "along": "z", "course": 30}}}}}})",
      GetParam()));
  EXPECT_EQ(s.course.cutbacks, 0);
  EXPECT_TRUE(s.course.notes.empty()) << s.course.notes.front();
}

INSTANTIATE_TEST_SUITE_P(Bulk, Rubber, ::testing::Values(20., 150., 1500., 15000.));

}  // namespace

TEST(Rounding, AFinishedUnloadingIsNotOutOfBalance) {
  // pulled and let go again: at the end no force acts, and what is left of the sums is rounding
  const auto s = solved(R"({"anvil": 1, "materials": {"m": {"elastic": {"E": 210000, "nu": 0.3}}},
    "parts": {"bar": {"material": "m", "shape": {"rectangle": {"at": [0, 0], "size": [10, 2]}}, "mesh": {"count": [5, 2]}}},
    "steps": {"pull": {}, "release": {}}, "supports": {"left": {"on": "bar.left", "fix": ["x", "y"]}},
    "loads": {"pull": {"on": "bar.right", "kind": "force", "along": "x", "course": {"pull": 1000, "release": 0}}}})");
  EXPECT_TRUE(s.course.notes.empty()) << s.course.notes.front();
  EXPECT_LT(s.last("balance/force"), 1e-6);
}
