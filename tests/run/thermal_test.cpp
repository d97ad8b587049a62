// Warmed parts: free growth, held in, and the work of stresses on thermal strains in the energy balance.
#include <gtest/gtest.h>

#include "core/base/error.hpp"
#include "core/lower/lower.hpp"
#include "run/small_runs.hpp"
#include "scratch.hpp"

using namespace anvil;

namespace {

/// A bar of 10 × 2 (× 2) that is warmed; `hold` more supports.
std::string warmBar(const std::string& space, const std::string& hold, const std::string& rise = "100") {
  const bool solid = space == "solid";
  return R"({"space": ")" + space + R"(", "materials": {"m": {"elastic": {"E": 200000, "nu": 0.3}, "expansion": 12e-6}},
    "parts": {"p": {"material": "m", "mesh": {"count": [4, 2]}, "shape": {"rectangle": {"at": [0, 0], "size": [10, 2]}})" +
         (solid ? R"(, "extrude": {"depth": 2, "count": 1})" : "") + R"(}},
    "steps": {"warm": {"increments": {"largest": 0.25}}},
    "supports": {"left": {"on": "p.left", "fix": "x"}, "low": {"on": "p.bottom", "fix": "y"})" +
         (solid ? R"(, "front": {"on": "p.front", "fix": "z"})" : "") + hold + R"(},
    "temperatures": {"warm": {"on": "p", "rise": )" +
         rise + "}}}";
}

class Warm : public ::testing::TestWithParam<std::string> {};

TEST_P(Warm, AFreePartGrowsWithoutStressOrWork) {
  const auto s = solved(warmBar(GetParam(), ""));
  for (const auto& point : s.course.all.back().points) EXPECT_LT(point.stress.norm(), 1e-6);
  EXPECT_NEAR(s.last("energy/thermal"), 0, 1e-9);
  EXPECT_NEAR(s.last("energy/imbalance"), 0, 1e-9);
}

TEST_P(Warm, APartHeldInItsLengthGivesItsHeatWorkBackAsStrainEnergy) {
  const auto s = solved(warmBar(GetParam(), R"(, "right": {"on": "p.right", "fix": "x"})"));
  const double heat = s.last("energy/thermal"), strain = s.last("energy/strain");
  EXPECT_LT(heat, 0) << "warming presses";
  // σ = E α ΔT at 1.2e-3 strain: ½ σ²/E over the volume (per mm of thickness in the plane)
  EXPECT_NEAR(strain, 0.5 * 200000 * 1.2e-3 * 1.2e-3 * (GetParam() == "solid" ? 40 : 20), 0.01 * strain)
      << "but for the change of shape";
  EXPECT_NEAR(s.last("energy/imbalance"), 0, 2e-3 * strain);
  EXPECT_EQ(s.course.said("not found again"), 0);
}

INSTANTIATE_TEST_SUITE_P(Spaces, Warm, ::testing::Values("plane stress", "solid"));

TEST(Warmth, PlasticWorkAndHeatCloseTheBalance) {
  auto text = with(warmBar("plane stress", R"(, "right": {"on": "p.right", "fix": "x"})", R"({"warm": 300, "cool": 0})"),
                   R"("expansion")", R"("plastic": {"yield": 250, "tangent": 2000}, "expansion")");
  text = with(text, R"("largest": 0.25}})", R"("largest": 0.05}}, "cool": {"increments": {"largest": 0.05}})");
  const auto s = solved(text);
  EXPECT_GT(s.last("energy/plastic"), 0.3 * s.last("energy/strain"));
  EXPECT_NEAR(s.last("energy/imbalance"), 0, 0.02 * s.last("energy/plastic"));
  for (const auto& point : s.course.all.back().points)
    EXPECT_GT(point.stress[0], 200) << "what yielded in compression is pulled when it is cold again";
}

TEST(Warmth, AContinuedRunHasTheSameEnergies) {
  const auto text = warmBar("solid", R"(, "right": {"on": "p.right", "fix": "x"})");
  const auto whole = solved(text);
  Solved second{lowered(text), {}};
  {
    auto p = lowered(text);
    RunLog first;
    first.after = 2;
    try {
      analysis::run(*p, first);
    } catch (const Error&) {
    }
    ASSERT_EQ(first.all.size(), 2u);
    analysis::run(*second.p, second.course, &first.all.back().restart);
  }
  for (const char* what : {"energy/thermal", "energy/strain", "energy/imbalance"})
    EXPECT_NEAR(second.last(what), whole.last(what), 1e-9 * std::abs(whole.last("energy/strain"))) << what;
}

}  // namespace
