// A meshed face that slides over a rigid nose no larger than its elements: the force must hardly show where the elements end.
#include <gtest/gtest.h>

#include <fmt/format.h>

#include "core/checks/readiness.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "run/small_runs.hpp"

using namespace anvil;

namespace {

std::string latch(double h) {
  return fmt::format(
      R"({{"anvil": 1, "space": "plane stress", "thickness": 5, "materials": {{"m": {{"elastic": {{"E": 2800, "nu": 0.35}}}}}},
    "parts": {{"arm": {{"material": "m", "shape": {{"rectangle": {{"at": [0, 0], "size": [18, 1]}}}}, "mesh": {{"size": {}}}}},
      "nose": {{"rigid": true, "pivot": [10, -0.3], "shape": {{"profile": {{"start": [9.7, -2.3], "path": [{{
        "line": [10.3, -2.3]}}, {{"line": [10.3, -0.3]}},
        {{"arc": [9.7, -0.3], "center": [10, -0.3]}}, {{"line": [9.7, -2.3]}}]}}}}}}}},
    "contacts": {{"touch": {{"between": ["arm.bottom", "nose"]}}}}, "supports": {{"root": {{"on": "arm.left", "fix": ["x",
      "y"]}}}},
    "steps": {{"lift": {{}}, "slide": {{"increments": {{"first": 0.02, "largest": 0.02}}}}}},
    "motions": {{"up": {{"on": "nose", "along": "y", "course": {{"lift": 0.5, "slide": "hold"}}}}, "along": {{"on": "nose",
      "along": "x", "course": {{"slide": 3}}}}}}}})",
      h);
}

/// How far the force sideways, over the lift, is off the slope of a beam lifted by 0.5 at x, which is 3 × 0.5 / 2x, while the
/// nose slides; and of how many increments. Energy has it so, too.
std::pair<double, size_t> offSideways(const Solved& s) {
  double worst = 0;
  size_t count = 0;
  for (size_t i = 0; i < s.course.all.size(); ++i) {
    if (s.course.all[i].time < 1.05) continue;
    const double x = 10 + s.at(i, "motions/along/travel"), up = s.at(i, "motions/up/force y");
    worst = std::max(worst, std::abs(s.at(i, "motions/along/force x") / up + 1.5 * 0.5 / x)), ++count;
  }
  return {worst, count};
}

}  // namespace

TEST(SmallRadius, TheForceOverTheElementsHardlyRipples) {
  const auto s = solved(latch(0.3));
  EXPECT_EQ(s.course.cutbacks, 0);
  // a beam lifted by 0.5 at x: the force falls as the cube of the arm; what is left besides is ripple
  std::vector<double> x, scaled;
  for (size_t i = 0; i < s.course.all.size(); ++i) {
    if (s.course.all[i].time < 1.05) continue;
    const double at = 10 + s.at(i, "motions/along/travel");
    x.push_back(at), scaled.push_back(s.at(i, "motions/up/force y") * at * at * at);
  }
  ASSERT_GT(x.size(), 30u);
  int iterations = 0;
  for (const auto& inc : s.course.all) iterations += inc.iterations;
  EXPECT_LT(double(iterations), 4. * double(s.course.all.size())) << "the contact is handed from node to node without a fight";
  for (size_t i = 5; i + 5 < x.size(); ++i) {
    double mean = 0;
    for (size_t k = i - 5; k <= i + 5; ++k) mean += scaled[k] / 11;
    EXPECT_NEAR(scaled[i] / mean, 1, 0.025) << x[i];
  }
  const auto fine = solved(latch(0.1));
  EXPECT_NEAR(s.last("motions/up/force y") / fine.last("motions/up/force y"), 1, 0.03);
}

/// Without friction the nose is pushed back by the arm's slope.
TEST(SmallRadius, TheForceSidewaysIsTheSlopesNotTheElements) {
  for (const double h : {0.3, 0.15}) {
    const auto s = solved(latch(h));
    const auto [worst, count] = offSideways(s);
    EXPECT_GT(count, 30u);
    EXPECT_LT(worst, 0.02) << h << ": it was 0.14, with the slope at 0.07";
  }
}

/// The same in space, a slice of the arm under noses of every make.
using Nose = std::pair<std::string, std::string>;  ///< element of the arm, shape of the nose
class SmallNose : public ::testing::TestWithParam<Nose> {};
TEST_P(SmallNose, PushesInSpaceAlongTheSlopeToo) {
  const auto& [element, nose] = GetParam();
  const auto s = solved(fmt::format(
      R"({{"anvil": 1, "space": "solid", "materials": {{"m": {{"elastic": {{"E": 2800, "nu": 0.35}}}}}},
    "parts": {{"arm": {{"material": "m", "element": "{}", "shape": {{"rectangle": {{"at": [0, 0], "size": [18, 1]}}}},
        "mesh": {{"size": 0.3}}, "extrude": {{"depth": 0.5, "count": 1}}}},
      "nose": {{"rigid": true, "pivot": [10, -0.3, 0.25], {}}}}},
    "contacts": {{"touch": {{"between": ["arm.bottom", "nose"]}}}}, "supports": {{"root": {{"on": "arm.left", "fix": ["x",
      "y", "z"]}}}},
    "steps": {{"lift": {{}}, "slide": {{"increments": {{"first": 0.06, "largest": 0.06}}}}}},
    "motions": {{"up": {{"on": "nose", "along": "y", "course": {{"lift": 0.5, "slide": "hold"}}}}, "along": {{"on": "nose",
      "along": "x", "course": {{"slide": 0.6}}}}}}}})",
      element, nose));
  EXPECT_EQ(s.course.cutbacks, 0);
  const auto [worst, count] = offSideways(s);
  EXPECT_GT(count, 14u);
  EXPECT_LT(worst, 0.01) << "it was 0.2, with the slope at 0.07";
}
INSTANTIATE_TEST_SUITE_P(
    Makes, SmallNose,
    ::testing::Values(
        Nose{"hex20", R"("shape": {"profile": {"start": [9.7, -2.3], "path": [{"line": [10.3, -2.3]}, {"line": [10.3, -0.3]},
          {"arc": [9.7, -0.3], "center": [10, -0.3]}, {"line": [9.7, -2.3]}]}}, "extrude": {"from": -1, "depth": 3})"},
        Nose{"hex8",
             R"("solid": [{"box": {"at": [9.7, -2.3, -1], "size": [0.6, 2, 3]}}, {"cylinder": {"from": [10, -0.3, -1],
          "to": [10, -0.3, 2], "radius": 0.3}}])"},
        Nose{"tet10", R"("solid": [{"cylinder": {"from": [10, -0.3, -1], "to": [10, -0.3, 2], "radius": 0.3}}])"}));

TEST(SmallRadius, IsDoubtedBeforeTheRun) {
  const auto doubted = [](double h) {
    for (const auto& f : checks::readiness(model::parse(latch(h))).findings)
      if (f.what.find("less than two element edges") != std::string::npos) return !f.fault && f.where == "contacts/touch";
    return false;
  };
  EXPECT_TRUE(doubted(0.2));
  EXPECT_FALSE(doubted(0.1));
}
