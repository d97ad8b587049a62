// Rigid bodies of solids: exact where they are one round feature, by facets elsewhere; they press as the drawn ones do.
#include <gtest/gtest.h>

#include "core/contact/surface.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "run/small_runs.hpp"
#include "words.hpp"

using namespace anvil;
using Eigen::Vector3d;

namespace {

contact::RigidBody bodyOf(const std::string& solid, const std::string& more = "") {
  const auto d = model::parse(R"({"anvil": 1, "space": "solid", "parts": {"tool": {"rigid": true, "solid": )" + solid + more +
                              R"(}}, "steps": {"s": {}}})");
  return analysis::rigidBodies(d).front().second;
}
double distance(const contact::RigidBody& b, const Vector3d& x) {
  const auto d = contact::distanceFrom(b, x, 3);
  EXPECT_TRUE(d) << x.transpose();
  return d ? d->value : 1e300;
}

}  // namespace

TEST(RigidSolid, RoundFeaturesAreExact) {
  const auto cylinder = bodyOf(R"({"cylinder": {"from": [1, 2, 3], "to": [1, 12, 3], "radius": 4}})");
  EXPECT_FALSE(cylinder.facets);
  EXPECT_NEAR(distance(cylinder, {1 + 7, 5, 3}), 3, 1e-12);
  EXPECT_NEAR(distance(cylinder, {1, 13.5, 4}), 1.5, 1e-12) << "its end";
  EXPECT_NEAR(distance(cylinder, {1 + 3.9, 6, 3}), -0.1, 1e-12);
  const auto leaning = bodyOf(R"({"cylinder": {"to": [3, 0, 4], "radius": 2}})");
  EXPECT_NEAR(distance(leaning, Vector3d(1.5, 0, 2) + 5 * Vector3d(0.8, 0, -0.6)), 3, 1e-12);
  const auto ball =
      bodyOf(R"({"ball": {"center": [1, 0, 0], "radius": 5}})", R"(, "place": {"axis": "z", "angle": 90, "shift": [0, 0, 2]})");
  EXPECT_NEAR(distance(ball, Vector3d(0, 1, 2) + 7 * Vector3d(0.6, 0, 0.8)), 2, 1e-12);
  const auto tube = bodyOf(R"({"tube": {"to": [0, 0, 10], "inner": 3, "outer": 5}})");
  EXPECT_NEAR(distance(tube, {2.5, 0, 5}), 0.5, 1e-12) << "inside the bore";
  EXPECT_NEAR(distance(tube, {0, 5.25, 5}), 0.25, 1e-12);
  EXPECT_NEAR(distance(tube, {4, 0, 10.5}), 0.5, 1e-12);
}

TEST(RigidOutline, PulledStraightHasItsFlatEnds) {
  const auto partOf = [](const std::string& part) {
    const auto d = model::parse(R"({"anvil": 1, "space": "solid", "parts": {"tool": {"rigid": true, )" + part +
                                R"(}}, "steps": {"s": {}}})");
    return analysis::rigidBodies(d).front().second;
  };
  const auto box = bodyOf(R"({"box": {"at": [1, 2, 3], "size": [10, 20, 30]}})");
  const auto pulled = partOf(R"("shape": {"rectangle": {"at": [1, 2], "size": [10, 20]}}, "extrude": {"from": 3, "depth": 30})");
  for (const Vector3d& x : {Vector3d(6, 7, 34), {6, 7, 1}, {6, 7, 32.5}, {12, 5, 9}, {14, 5, 37}, {-2, 26, 0}, {11.3, 2.4, 3.5}})
    EXPECT_NEAR(distance(pulled, x), distance(box, x), 1e-9) << x.transpose();
  const auto rod = partOf(R"("shape": {"disc": {"center": [0, 0], "radius": 5}}, "extrude": {"depth": 8})");
  EXPECT_NEAR(distance(rod, {1, 2, 9.5}), 1.5, 1e-12) << "over its end";
  EXPECT_NEAR(distance(rod, {4.8, 6.4, 12}), 5, 1e-12) << "off its edge";
  EXPECT_NEAR(distance(rod, {1, 2, 7.9}), -0.1, 1e-12) << "inside, under its end";
  EXPECT_NEAR(distance(rod, {0, 4.8, 4}), -0.2, 1e-12) << "inside, under its side";
  const auto sheet = partOf(R"("shape": {"profile": {"start": [0, 0], "path": [{"line": [5, 0]}]}}, "extrude": {"depth": 8})");
  EXPECT_FALSE(contact::distanceFrom(sheet, {2, -1, 9}, 3)) << "an open line has no ends";
}

TEST(RigidSolid, PlaneFacesOfOthersAreExactAndCurvedOnesClose) {
  const auto box = bodyOf(R"({"box": {"size": [10, 20, 30]}})");
  ASSERT_TRUE(box.facets);
  EXPECT_TRUE(box.facets->closed());
  EXPECT_NEAR(distance(box, {5, 21.5, 7}), 1.5, 1e-9);
  EXPECT_NEAR(distance(box, {-0.3, 4, 7}), 0.3, 1e-9);
  EXPECT_NEAR(distance(box, {13, 24, 10}), 5, 1e-9) << "an edge";
  const auto round = bodyOf(
      R"([{"box": {"size": [40, 20, 30]}, "name": "b"}, {"cylinder": {"from": [20, 20, -1], "to": [20, 20, 31], "radius": 8},
        "name": "rib"}])");
  ASSERT_TRUE(round.facets);
  double worst = 0;
  for (int k = 1; k < 40; ++k) {
    const double a = 0.2 + 2.7 * k / 40;
    worst = std::max(worst, std::abs(distance(round, Vector3d(20 + 10 * std::cos(a), 20 + 10 * std::sin(a), 11)) - 2));
  }
  EXPECT_LT(worst, 0.02) << "smoothed normals";
}

TEST(RigidSolid, ABallOfFeaturesPressesAsADrawnOne) {
  const auto force = [](const std::string& ball) {
    const auto s = solved(R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
      "parts": {"block": {"material": "m", "element": "hex8", "shape": {"rectangle": {"at": [0, 0], "size": [8, 4]}}, "mesh": {
        "count": [6, 3]}, "extrude": {"depth": 8, "count": 6}},
        "ball": {"rigid": true, )" +
                          ball + R"(}},
      "contacts": {"press": {"between": ["block.top", "ball"]}}, "steps": {"press": {"increments": {"first": 0.5,
        "largest": 0.5}}},
      "supports": {"base": {"on": "block.bottom", "fix": ["x", "y", "z"]}}, "motions": {"push": {"on": "ball", "along": "y",
        "course": -0.2}}})");
    return s.last("motions/push/force y");
  };
  const double drawn = force(
      R"("shape": {"profile": {"start": [0, -10], "path": [{"arc": [0, 10], "center": [0, 0]}]}}, "revolve": {"angle": 360},
        "place": {"shift": [4, 14, 4]})");
  const double feature = force(R"("solid": {"ball": {"center": [4, 14, 4], "radius": 10}})");
  EXPECT_LT(drawn, -1);
  EXPECT_NEAR(feature / drawn, 1, 1e-9);
  // cut from a block, so that only facets are known
  const double facets =
      force(R"("solid": [{"ball": {"center": [4, 14, 4], "radius": 10}}, {"half": {"at": [0, 20, 0], "normal": [0, 1, 0]}}])");
  EXPECT_NEAR(facets / drawn, 1, 0.01);
}

TEST(RigidSolid, FaultsAreSaid) {
  const auto refusal = [](const std::string& text) { return sentence([&] { analysis::rigidBodies(model::parse(text)); }); };
  EXPECT_SAYS(refusal(R"({"anvil": 1, "parts": {"tool": {"rigid": true, "solid": {"ball": {"radius": 5}}}}})"),
              "the model is plane");
  EXPECT_SAYS(refusal(R"({"anvil": 1, "space": "solid", "parts": {"tool": {"rigid": true, "solid": {"ball": {"radius": -5}}}}})"),
              "above zero");
}
