// Sections swept along coils and paths: volume by Pappus, ends, frames that do not twist, mistakes in words.
#include "core/geometry/trail.hpp"

#include <gtest/gtest.h>

#include <Eigen/Geometry>
#include <cmath>
#include <numbers>

#include "core/base/error.hpp"
#include "core/element/block.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/mesh.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/shapes.hpp"
#include "core/problem/problem.hpp"
#include "meshes.hpp"
#include "words.hpp"

using namespace anvil;
using Eigen::Vector3d;

namespace {

using std::numbers::pi;

Vector3d middleOf(const mesh::Mesh& m, const std::string& face) {
  Vector3d sum = Vector3d::Zero();
  const auto nodes = m.nodesOf(m.face(face)->facets);
  for (int n : nodes) sum += m.x[size_t(n)];
  return sum / double(nodes.size());
}

geometry::Trail trailOf(const std::string& along) {
  const auto d = model::parse(R"({"space": "solid", "parts": {"p": {"along": )" + along + "}}}");
  return geometry::trail(*d.parts.find("p")->along, model::Quantities(d), "along");
}

}  // namespace

TEST(Trail, ACoilHasTheVolumeOfItsWireAndStandsOnTheGround) {
  for (const std::string hand : {"right", "left"}) {
    const auto m = meshOfSolidPart(
        R"({"shape": {"disc": {"radius": 1}}, "mesh": {"size": 0.7}, "coil": {"radius": 10, "pitch": 6, "turns": 2.5,
      "hand": ")" +
        hand + R"(", "count": 60}})");
    const double length = 2.5 * std::hypot(2 * pi * 10, 6);
    EXPECT_NEAR(volumeOf(m) / (pi * length), 1, 1e-3) << hand;
    EXPECT_NEAR(middleOf(m, "p.front").y() + middleOf(m, "p.back").y(), 15, 1e-9);
    EXPECT_NEAR(std::min(middleOf(m, "p.front").y(), middleOf(m, "p.back").y()), 0, 1e-9);
    EXPECT_NEAR((middleOf(m, "p.front") - Vector3d(10, middleOf(m, "p.front").y(), 0)).norm(), 0, 1e-9);
    EXPECT_NEAR((middleOf(m, "p.back") - Vector3d(-10, middleOf(m, "p.back").y(), 0)).norm(), 0, 1e-9);
    EXPECT_EQ(m.face("p.rim")->facets.size() % 60, 0u);
  }
}

TEST(Trail, ARightHandedCoilIsAUsualScrew) {
  const auto d = model::parse(R"({"space": "solid", "parts": {"p": {"coil": {"radius": 10, "pitch": 6, "turns": 2}}}})");
  auto c = *d.parts.find("p")->coil;
  for (const std::string hand : {"right", "left"}) {
    c.hand = hand;
    const auto t = geometry::coil(c, model::Quantities(d), "coil");
    const Vector3d a = t[0].at(0.1).translation(), b = t[0].at(0.1001).translation();
    // turning about y by the right-hand rule and moving along y go together on a right-handed screw
    const double turned = a.cross(b).y(), moved = (b - a).y();
    EXPECT_EQ(turned * moved > 0, hand == "right");
    const Eigen::Matrix3d f = t[0].at(0.37).linear();
    EXPECT_NEAR(f.determinant(), 1, 1e-12);
    EXPECT_NEAR((f.transpose() * f - Eigen::Matrix3d::Identity()).norm(), 0, 1e-12);
    EXPECT_NEAR((f.col(2) - (t[0].at(0.3701).translation() - t[0].at(0.3699).translation()).normalized()).norm(), 0, 1e-5);
    EXPECT_GT(f(1, 1), 0.9) << "the section's y points up";
    EXPECT_NEAR(geometry::lengthOf(t), 2 * std::hypot(2 * pi * 10, 6), 1e-9);
  }
}

TEST(Trail, ABentTubeHasItsVolumeAndEnds) {
  for (const std::string element : {"hex20", "tet10"}) {
    const auto m = meshOfSolidPart(R"({"element": ")" + element +
                                   R"(", "shape": [{"ring": {"inner": 4, "outer": 5, "from": 0, "to": 180}}, {"ring": {"inner": 4,
      "outer": 5, "from": 180, "to": 360}}], "mesh": {"size": 1.5},
      "along": {"path": [{"line": [0, 0, 60], "fillet": 20}, {"line": [0, 60, 60], "fillet": 15}, {"line": [50, 60, 60]}]}})");
    const double length = 60 + 60 + 50 - 2 * 20 - 2 * 15 + pi / 2 * (20 + 15);
    EXPECT_NEAR(volumeOf(m) / (pi * (25 - 16) * length), 1, 2e-3) << element;
    EXPECT_NEAR((middleOf(m, "p.front") - Vector3d(0, 0, 0)).norm(), 0, 1e-6);
    EXPECT_NEAR((middleOf(m, "p.back") - Vector3d(50, 60, 60)).norm(), 0, 1e-6);
    for (int n : m.nodesOf(m.face("p.back")->facets)) EXPECT_NEAR(m.x[size_t(n)].x(), 50, 1e-9);
  }
}

TEST(Trail, AStraightPathIsAnExtrusion) {
  const std::string shape = R"("shape": {"rectangle": {"at": [1, 2], "size": [2, 3]}}, "mesh": {"count": [2, 3]}, )";
  const auto a = meshOfSolidPart("{" + shape + R"("extrude": {"depth": 8, "count": 4}})"),
             b = meshOfSolidPart("{" + shape + R"("along": {"path": [{"line": [0, 0, 8]}], "count": 4}})");
  ASSERT_EQ(a.x.size(), b.x.size());
  for (size_t n = 0; n < a.x.size(); ++n) EXPECT_NEAR((a.x[n] - b.x[n]).norm(), 0, 1e-12);
  EXPECT_EQ(a.blocks[0].nodes, b.blocks[0].nodes);
}

TEST(Trail, TheFrameGoesOnWithoutATwist) {
  const auto t = trailOf(R"({"start": [1, 2, 3], "path": [{"line": [31, 2, 3], "fillet": 5}, {"line": [31, 32, 3], "fillet": 5},
    {"line": [31, 32, 43]}, {"arc": [41, 32, 53], "center": [41, 32, 43]}]})");
  Eigen::Isometry3d last = t[0].at(0);
  EXPECT_NEAR((last.translation() - Vector3d(1, 2, 3)).norm(), 0, 1e-12);
  for (const auto& piece : t)
    for (int k = 0; k <= 200; ++k) {
      const auto now = piece.at(k / 200.);
      EXPECT_LT((now.translation() - last.translation()).norm(), 0.5);
      // what turns the frame lies square to the way: nothing about it
      const Eigen::AngleAxisd turn(Eigen::Matrix3d(now.linear() * last.linear().transpose()));
      EXPECT_NEAR(turn.angle() * turn.axis().dot(now.linear().col(2)), 0, 1e-3 * std::max(turn.angle(), 1e-9));
      last = now;
    }
  EXPECT_NEAR((last.translation() - Vector3d(41, 32, 53)).norm(), 0, 1e-9);
  EXPECT_NEAR((last.linear().col(2) - Vector3d(1, 0, 0)).norm(), 0, 1e-9);
}

TEST(Trail, MistakesAreNamedWithTheirPlace) {
  const auto words = [](const std::string& along) { return sentence([&] { trailOf(along); }); };
  EXPECT_NE(words(R"({"path": [{"line": [0, 0, 9]}, {"line": [0, 9, 9]}]})").find("sharp corner"), std::string::npos);
  EXPECT_NE(words(R"({"path": [{"line": [0, 0, 9], "fillet": 20}, {"line": [0, 9, 9]}]})").find("does not fit"),
            std::string::npos);
  EXPECT_NE(words(R"({"path": [{"line": [0, 0, 9], "fillet": 2}]})").find("no line after"), std::string::npos);
  EXPECT_NE(words(R"({"path": [{"line": [0, 9]}]})").find("three coordinates"), std::string::npos);
  EXPECT_NE(words(R"({"path": [{"arc": [0, 0, 9], "center": [0, 1, 3]}]})").find("centre"), std::string::npos);
  EXPECT_NE(words(R"({})").find("no pieces"), std::string::npos);
  for (const auto& [part, said] :
       {std::pair{R"({"shape": {"disc": {"radius": 1}}, "coil": {"radius": 10, "pitch": 0, "turns": 2}})", "pitch"},
        {R"({"shape": {"disc": {"radius": 1}}, "coil": {"radius": 10, "pitch": 3, "turns": 2}, "extrude": {"depth": 1}})",
         "more than one way"},
        {R"({"shape": {"disc": {"radius": 1}}, "coil": {"radius": 10, "pitch": 1.9, "turns": 2}})", "go through each other"},
        {R"({"shape": {"disc": {"radius": 3}}, "coil": {"radius": 2, "pitch": 9, "turns": 2, "count": 40}})", "folded"}}) {
    const auto got = sentence([&, p = std::string(part)] { meshOfSolidPart(p); });
    EXPECT_NE(got.find(said), std::string::npos) << got;
  }
}
