// Columns and arches pressed past their limit: by arc length to the whole load, by force onto the stable branch, also through
// contact, and what is said where that fails.
#include <gtest/gtest.h>

#include <fmt/format.h>
#include <cmath>
#include <numbers>

#include <Eigen/LU>
#include <Eigen/QR>

#include "core/base/dense.hpp"
#include "core/base/error.hpp"
#include "core/linear/softest_mode.hpp"
#include "run/small_runs.hpp"

using namespace anvil;

namespace {

/// A column 4 x 200, clamped at its foot, pressed at `e` off its middle by `share` of Euler's load.
std::string column(double e, double share, const std::string& step) {
  const double euler = std::pow(std::numbers::pi, 2) * 210000 * 10 * 64 / 12 / (4 * 200. * 200);
  return fmt::format(
      R"({{"anvil": 1, "space": "plane stress", "thickness": 10, "materials": {{"steel": {{"elastic": {{"E": 210000,
        "nu": 0}}}}}},
    "parts": {{"column": {{"material": "steel", "element": "quad8", "shape": {{"rectangle": {{"at": [-2, 0], "size": [4,
      200]}}}}, "mesh": {{"count": [1, 20]}}}}}},
    "carriers": {{"tip": {{"on": "column.top", "at": [{}, 200], "hold": "rigid"}}}}, "steps": {{"press": {{{}}}}},
    "supports": {{"foot": {{"on": "column.bottom", "fix": ["x", "y"]}}}},
    "loads": {{"press": {{"on": "tip", "kind": "force", "along": "y", "course": {}}}}}, "watch": {{"tip": {{"part": "column",
      "at": [0, 200]}}}}}})",
      e, step, -share * euler);
}

/// Sideways way of a cantilever column's tip at `share` of Euler's load, over its length: the elastica
/// (S. Timoshenko, J. Gere, Theory of Elastic Stability, 1961, art. 2.7): sqrt(P/Pe) = 2 K(k)/π, way = 2 k L / K(k).
double elastica(double share) {
  double low = 0, high = 0.999;
  for (int i = 0; i < 100; ++i) {
    const double k = (low + high) / 2;
    (std::comp_ellint_1(k) < std::numbers::pi / 2 * std::sqrt(share) ? low : high) = k;
  }
  return 2 * low / std::comp_ellint_1(low);
}

}  // namespace

TEST(Column, AnArcLengthStepEndsAtItsWholeLoad) {
  const auto s = solved(column(0.05, 1.15, R"("control": "arc length")"));
  EXPECT_DOUBLE_EQ(s.last("step/share of the loading"), 1);
  EXPECT_NEAR(std::abs(s.last("watch/tip/ux")) / 200, elastica(1.15), 0.01);
  for (size_t i = 1; i < s.course.all.size(); ++i) EXPECT_GT(s.course.all[i].time, s.course.all[i - 1].time);
  EXPECT_LT(s.course.all.size(), 200u) << "a long way in steps that grow with it";
}

TEST(Column, TheArcMayTakeStepsLongerThanTheLoadingAlone) {
  const auto s = solved(column(0.05, 1.15, R"("control": "arc length", "increments": {"first": 0.2, "largest": 20})"));
  EXPECT_NEAR(std::abs(s.last("watch/tip/ux")) / 200, elastica(1.15), 0.01);
}

TEST(Column, AnArcThatIsNotDoneSaysSo) {
  try {
    solved(column(0.05, 1.15, R"("control": "arc length", "increments": {"most": 8})"));
    FAIL();
  } catch (const Error& e) {
    EXPECT_NE(std::string(e.what()).find("of the whole"), std::string::npos) << e.what();
  }
}

TEST(Column, AForceLeadsToTheStableBranch) {
  for (const double e : {0.5, 0.005}) {
    const auto s = solved(column(e, 1.15, ""));
    EXPECT_NEAR(std::abs(s.last("watch/tip/ux")) / 200, elastica(1.15), 0.01) << e;
    EXPECT_EQ(s.course.said("not stable"), 0);
    EXPECT_GT(-s.last("watch/tip/ux") * (e > 0 ? -1 : 1), 0) << "to the side it leans to";
  }
}

TEST(Column, AStraightOneIsLedOffItsBranchingPointAndThatIsSaid) {
  const auto s = solved(column(0, 1.05, ""));
  EXPECT_NEAR(std::abs(s.last("watch/tip/ux")) / 200, elastica(1.05), 0.01);
  EXPECT_EQ(s.course.said("along its softest mode"), 1);
  EXPECT_EQ(s.course.said("The last states"), 0);
}

TEST(Column, AnUnstableEndIsSaidInOneLine) {
  // the truss of springs pushed by arc length to a share between its two limits: followed, and told at the end
  const char* const truss = R"({"anvil": 1, "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
    "parts": {"foot": {"material": "steel", "element": "quad8", "shape": {"ring": {"center": [0, -100], "inner": 99,
      "outer": 101, "from": 70, "to": 90}}, "mesh": {"count": [12, 1]}}},
    "steps": {"push": {"control": "arc length", "increments": {"first": 0.01, "largest": 0.02}, "until": {"watch": "crown",
      "along": "y", "passes": -5}}},
    "supports": {"foot": {"on": "foot.start", "fix": ["x", "y"]}, "crown": {"on": "foot.end", "fix": "x"}},
    "loads": {"press": {"on": "foot.end", "kind": "force", "along": "y", "course": -3000}}, "watch": {"crown": {"part": "foot",
      "at": [0, 0]}}})";
  const auto s = solved(truss);
  EXPECT_EQ(s.course.said("The last states of this run"), 1);
  EXPECT_NE(s.course.notes.back().find("The last states"), std::string::npos);
}

namespace {

/// A column between a foot and a rigid press led by force, its head held by nothing but contact; `space` of the plane or solid.
std::string pressedColumn(bool solid, double load) {
  const std::string part = solid ? R"("element": "hex20", "shape": {"rectangle": {"at": [-2, -2], "size": [4, 4]}}, "extrude": {
      "depth": 200, "count": 20}, "mesh": {"count": [2, 2]})"
                                 : R"("element": "quad8", "shape": {"rectangle": {"at": [-2, 0], "size": [4, 200]}}, "mesh": {
      "count": [2, 40]})";
  const std::string press = solid ? R"("shape": {"rectangle": {"at": [-30, -30], "size": [60, 60]}}, "extrude": {"depth": 10},
      "place": {"shift": [0, 0, 200]})"
                                  : R"("shape": {"rectangle": {"at": [-30, 200], "size": [60, 10]}})";
  const char axis = solid ? 'z' : 'y';
  return fmt::format(R"({{"anvil": 1, "space": "{}", "thickness": 4, "materials": {{"steel": {{"elastic": {{"E": 210000,
      "nu": 0}}}}}},
    "parts": {{"column": {{"material": "steel", {}}}, "press": {{"rigid": true, "loose": ["{}"], {}}}}},
    "contacts": {{"head": {{"between": ["column", "press"]}}}}, "steps": {{"press": {{}}}},
    "supports": {{"foot": {{"on": "column.{}", "fix": ["x", "y"{}]}}}},
    "loads": {{"press": {{"on": "press", "kind": "force", "along": "{}", "course": {}}}}}}})",
                     solid ? "solid" : "plane stress", part, axis, press, solid ? "front" : "bottom", solid ? R"(, "z")" : "",
                     axis, -load);
}

/// A clamped flat arch of radius 130 over a span of 100, rising 10, 1.5 thick, under a round rigid tool, without friction.
std::string archUnderTool(const std::string& lead) {
  return R"({"anvil": 1, "space": "plane strain", "materials": {"steel": {"elastic": {"E": 210000, "nu": 0.3}}},
    "parts": {"arch": {"material": "steel", "element": "quad8", "shape": {"profile": {"start": [-50, -1.5], "path": [
        {"arc": [50, -1.5], "center": [0, -121.5], "turn": "right"}, {"line": [50, 0], "name": "east"},
        {"arc": [-50, 0], "center": [0, -120], "turn": "left", "name": "upper"}, {"line": [-50, -1.5], "name": "west"}]}},
        "mesh": {"size": 0.75}},
      "tool": {"rigid": true, "loose": ["y"], "shape": {"disc": {"center": [0, 20], "radius": 10}}}},
    "contacts": {"touch": {"between": ["arch.upper", "tool"]}}, "steps": {"press": {}},
    "supports": {"ends": {"on": ["arch.east", "arch.west"], "fix": ["x", "y"]}},)" +
         lead + "}";
}

}  // namespace

TEST(ColumnInContact, IsKnownToBuckleWhereEulerSays) {
  // its head slides but does not turn: four times the load of a free one. What buckles turns off the press, and finds no hold.
  const double inertia = 4 * 64 / 12., euler = std::pow(std::numbers::pi / 200, 2) * 210000 * inertia;
  for (const bool solid : {false, true}) {  // square in space: two ways at once
    const auto below = solved(pressedColumn(solid, 0.97 * euler));
    EXPECT_EQ(below.course.said("stable"), 0) << solid;
    const auto above = solved(pressedColumn(solid, 1.03 * euler));
    EXPECT_EQ(above.course.said("no longer stable") + above.course.said("along its softest mode"), 1) << solid;
  }
}

TEST(ArchUnderATool, SnapsThroughByForceAndComesToRestWhereMotionWouldHoldIt) {
  const auto snapped =
      solved(archUnderTool(R"("loads": {"press": {"on": "tool", "kind": "force", "along": "y", "course": -600}})"));
  EXPECT_EQ(snapped.course.said("load limit was reached"), 1);
  EXPECT_EQ(snapped.course.said("The last states"), 0);
  EXPECT_EQ(snapped.course.said("of the work"), 0) << "what is let go in the jump is no error";
  const double down = snapped.last("bodies/tool/uy");
  EXPECT_LT(down, -15) << "through, the rise is 10";
  const auto held =
      solved(archUnderTool(fmt::format(R"("motions": {{"down": {{"on": "tool", "along": "y", "course": {}}}}})", down)));
  EXPECT_NEAR(held.last("motions/down/force y"), -600, 0.01 * 600);
}

auto softestOf(const Eigen::MatrixXd& K) {
  const auto lu = K.partialPivLu();
  return linear::softestMode(int(K.rows()), [&](Eigen::VectorXd x) -> Eigen::VectorXd { return lu.solve(x); });
}

TEST(SoftestMode, OfAMatrixThatIsNotSymmetricIsFoundToo) {
  const int n = 30;
  std::srand(5);
  const Eigen::MatrixXd P = Eigen::MatrixXd::Identity(n, n) + 0.1 * Eigen::MatrixXd::Random(n, n);
  Eigen::VectorXd d = Eigen::VectorXd::LinSpaced(n, 1, 300);
  d[4] = -0.2;
  Eigen::MatrixXd inverse(n, n);
  for (int i = 0; i < n; ++i) inverse.col(i) = solveSquare(P, Eigen::VectorXd::Unit(n, i));
  const auto mode = softestOf(P * d.asDiagonal() * inverse);
  ASSERT_EQ(mode.direction.size(), n);
  EXPECT_NEAR(mode.curvature, -0.2, 1e-3);
  EXPECT_NEAR(std::abs(mode.direction.dot(P.col(4).normalized())), 1, 1e-3);
}

TEST(SoftestMode, IsTheEigenvectorOfTheNegativeEigenvalue) {
  const int n = 30;
  std::srand(3);
  const Eigen::MatrixXd A = Eigen::MatrixXd::Random(n, n), Q = symmetricModes(A + A.transpose()).vectors;
  Eigen::VectorXd d = Eigen::VectorXd::LinSpaced(n, 1, 300);
  d[7] = -0.3;
  const auto mode = softestOf(Q * d.asDiagonal() * Q.transpose());
  ASSERT_EQ(mode.direction.size(), n);
  EXPECT_NEAR(mode.curvature, -0.3, 1e-3);
  EXPECT_NEAR(std::abs(mode.direction.dot(Q.col(7))), 1, 1e-3);
  d[7] = 0.3;
  EXPECT_EQ(softestOf(Q * d.asDiagonal() * Q.transpose()).direction.size(), 0);
}

TEST(Column, GoesOnFromAnyStoredIncrementWithTheSameAnswer) {
  const auto whole = solved(column(0.005, 1.1, ""));
  RunLog first;
  first.after = int(whole.course.all.size()) / 2;
  auto p = lowered(column(0.005, 1.1, ""));
  EXPECT_EQ(analysis::run(*p, first), analysis::Outcome::stopped);
  auto again = lowered(column(0.005, 1.1, ""));
  RunLog rest;
  EXPECT_EQ(analysis::run(*again, rest, &first.all.back().restart), analysis::Outcome::finished);
  ASSERT_EQ(first.all.size() + rest.all.size(), whole.course.all.size());
  EXPECT_EQ(rest.all.back().displacement, whole.course.all.back().displacement);
  EXPECT_EQ(rest.all.back().histories, whole.course.all.back().histories);
}
