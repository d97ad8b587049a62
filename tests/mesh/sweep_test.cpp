// Swept and split meshes: volumes, faces, that neighbours fit, wedges on the axis, discs, places.
#include <gtest/gtest.h>

#include <map>
#include <numbers>

#include "core/base/error.hpp"
#include "core/element/block.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/quality.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"
#include "core/problem/problem.hpp"
#include "meshes.hpp"

using namespace anvil;

namespace {

/// Every corner of a named face shows its outside: the volume by the divergence theorem is positive and right.
double volumeByFaces(const mesh::Mesh& m, int part) {
  double volume = 0;
  for (const auto& f : m.boundary(part)) {
    const auto n = m.nodesOf(f);
    const int corners = m.cornersOf(f);
    Eigen::Vector3d middle = Eigen::Vector3d::Zero();
    for (int i = 0; i < corners; ++i) middle += m.x[size_t(n[size_t(i)])] / corners;
    for (int i = 0; i < corners; ++i)
      volume += m.x[size_t(n[size_t(i)])].cross(m.x[size_t(n[size_t((i + 1) % corners)])]).dot(middle) / 6;
  }
  return volume;
}

const char* const rectangle = R"("shape": {"rectangle": {"at": [1, 0], "size": [2, 3]}}, "mesh": {"count": [2, 3]})";

TEST(Sweep, ABoxHasItsVolumeFacesAndLayers) {
  for (const std::string element : {"hex8", "hex20", "tet10"}) {
    const auto m = meshOfSolidPart(std::string("{\"element\": \"") + element + "\", " + rectangle +
                                   R"(, "extrude": {"from": -1, "depth": 4, "count": 2, "grading": 3}})");
    EXPECT_NEAR(volumeOf(m), 24, 1e-12) << element;
    EXPECT_NEAR(volumeByFaces(m, 0), 24, 1e-12) << element;
    for (const auto& [face, area] : std::map<std::string, double>{
             {"p.bottom", 8}, {"p.right", 12}, {"p.top", 8}, {"p.left", 12}, {"p.front", 6}, {"p.back", 6}}) {
      ASSERT_TRUE(m.face(face)) << face;
      EXPECT_NEAR(areaOf(m, m.face(face)->facets), area, 1e-12) << face << " " << element;
    }
    for (int n : m.nodesOf(m.face("p.back")->facets)) EXPECT_NEAR(m.x[size_t(n)].z(), 3, 1e-12);
    bool layer = false;  // the border between the layers stands at a quarter
    for (const auto& x : m.x) layer |= std::abs(x.z()) < 1e-12;
    EXPECT_TRUE(layer);
  }
}

TEST(Sweep, ATwistedBoxKeepsItsSections) {
  const auto m = meshOfSolidPart(std::string("{\"element\": \"hex20\", ") + rectangle +
                                 R"(, "extrude": {"from": 1, "depth": 6, "count": 12, "twist": "90 deg"}})");
  EXPECT_NEAR(volumeOf(m), 36, 0.1);  // by Cavalieri
  for (const auto& f : m.face("p.left")->facets)
    for (int n : m.nodesOf(f)) {
      const auto& x = m.x[size_t(n)];
      const double turn = (x.z() - 1) / 6 * std::numbers::pi / 2;
      EXPECT_NEAR(x.x() * std::cos(turn) + x.y() * std::sin(turn), 1, 1e-9);
    }
  double reach = 0;
  for (const auto& f : m.face("p.back")->facets)
    for (int n : m.nodesOf(f)) reach = std::min(reach, m.x[size_t(n)].x());
  EXPECT_NEAR(reach, -3, 1e-9);  // its height lies along -x now
}

TEST(Sweep, ARevolvedTubeClosesAndSharesItsFirstLayer) {
  for (const std::string element : {"hex8", "hex20", "tet10"}) {
    const auto m = meshOfSolidPart(std::string("{\"element\": \"") + element + "\", " + rectangle +
                                   R"(, "revolve": {"angle": 360, "count": 24}})");
    const double exact = std::numbers::pi * (9 - 1) * 3, polygon = 12 * std::sin(std::numbers::pi / 12) * (9 - 1) * 3;
    EXPECT_NEAR(volumeOf(m), element == "hex8" ? polygon : exact, element == "hex8" ? 1e-9 : 2e-3 * exact) << element;
    EXPECT_FALSE(m.face("p.front"));
    EXPECT_EQ(m.face("p.left")->facets.size(), size_t(24 * 3 * (element == "tet10" ? 2 : 1)));
  }
}

TEST(Sweep, WedgesStandWhereAnEdgeLiesOnTheAxis) {
  const auto m = meshOfSolidPart(
      R"({"element": "hex20", "shape": {"rectangle": {"at": [0, 0], "size": [2, 3]}}, "mesh": {"count": [2, 2]}, "revolve": {
        "angle": 90, "count": 3}})");
  ASSERT_EQ(m.blocks.size(), 2u);
  EXPECT_EQ(m.blocks[1].type, mesh::Cell::wedge15);
  EXPECT_EQ(m.blocks[1].count(), 6u);
  EXPECT_NEAR(volumeOf(m), std::numbers::pi * 3, 2e-3);
  EXPECT_FALSE(m.face("p.left")) << "the axis is no face";
  EXPECT_NEAR(areaOf(m, m.face("p.front")->facets), 6, 1e-12);
  EXPECT_NEAR(areaOf(m, m.face("p.back")->facets), 6, 1e-12);
}

TEST(Sweep, ASphereFromAQuarterDisc) {
  const auto m = meshOfSolidPart(
      R"({"element": "hex20", "shape": {"disc": {"radius": 10, "sector": "quarter"}}, "mesh": {"size": 2.5}, "revolve": {
        "angle": 90, "count": 6}})");
  EXPECT_NEAR(volumeOf(m) / (std::numbers::pi * 4 / 3 * 1000 / 8), 1, 2e-3);
  for (int n : m.nodesOf(m.face("p.rim")->facets)) EXPECT_NEAR(m.x[size_t(n)].norm(), 10, 1e-9);
}

TEST(Sweep, SplitCellsFitTheirNeighbours) {
  const auto m =
      meshOfSolidPart(std::string("{\"element\": \"tet10\", ") +
                      R"("shape": {"disc": {"radius": 5}}, "mesh": {"size": 2}, "extrude": {"depth": 3, "count": 2}})");
  std::map<std::vector<int>, int> seen;
  for (size_t b = 0; b < m.blocks.size(); ++b)
    for (size_t c = 0; c < m.blocks[b].count(); ++c)
      for (int s = 0; s < 4; ++s) {
        auto n = m.nodesOf({int(b), int(c), s});  // mid-side nodes must agree too
        std::sort(n.begin(), n.end());
        ++seen[n];
      }
  double outside = 0;
  for (const auto& [n, count] : seen) {
    EXPECT_LE(count, 2);
    outside += count == 1;
  }
  EXPECT_EQ(size_t(outside), m.face("p.rim")->facets.size() + m.face("p.front")->facets.size() + m.face("p.back")->facets.size());
  EXPECT_NEAR(volumeOf(m), std::numbers::pi * 25 * 3, 0.005 * 75 * std::numbers::pi);
  for (const auto& b : m.blocks) EXPECT_GT(mesh::quality(m, b).leastScaledJacobian, 0.1);
}

TEST(Sweep, PlanePartsAreSplitIntoTriangles) {
  const auto m = meshOfPart(
      R"({"element": "tri6", "shape": {"ring": {"inner": 2, "outer": 5, "from": 0, "to": 90}}, "mesh": {"count": [3, 6]}})",
      "plane strain");
  EXPECT_EQ(m.blocks.front().count(), 36u);
  EXPECT_NEAR(volumeOf(m), std::numbers::pi / 4 * 21, 1e-3);
  EXPECT_EQ(m.face("p.outer")->facets.size(), 6u);
}

TEST(Sweep, PartsArePutInPlace) {
  const auto m =
      meshOfSolidPart(R"({"element": "hex8", )" + std::string(rectangle) +
                      R"(, "extrude": {"depth": 4, "count": 1}, "place": {"axis": "x", "angle": 90, "shift": [10, 20, 30]}})");
  Eigen::Vector3d low = Eigen::Vector3d::Constant(1e300), high = -low;
  for (const auto& x : m.x) low = low.cwiseMin(x), high = high.cwiseMax(x);
  EXPECT_LT((low - Eigen::Vector3d(11, 16, 30)).norm(), 1e-9);
  EXPECT_LT((high - Eigen::Vector3d(13, 20, 33)).norm(), 1e-9);
}

TEST(Sweep, WhatCannotBeIsRefusedInWords) {
  const auto trouble = [](const std::string& part, const std::string& space = "solid") {
    try {
      meshOfPart(part, space);
    } catch (const Error& e) {
      return std::string(e.what());
    }
    return std::string("no error");
  };
  const std::string shape = rectangle;
  EXPECT_NE(trouble("{" + shape + "}").find("only a plane shape"), std::string::npos);
  EXPECT_NE(trouble("{" + shape + R"(, "extrude": {"depth": 1}})", "plane strain").find("only parts of solid models"),
            std::string::npos);
  EXPECT_NE(trouble("{\"element\": \"quad4\", " + shape + R"(, "extrude": {"depth": 1}})").find("no element of a solid model"),
            std::string::npos);
  EXPECT_NE(trouble("{" + shape + R"(, "extrude": {"depth": -1}})").find("above zero"), std::string::npos);
  EXPECT_NE(trouble("{" + shape + R"(, "extrude": {"depth": 1}, "revolve": {"angle": 10}})").find("more than one way"),
            std::string::npos);
  EXPECT_NE(trouble("{" + shape + R"(, "revolve": {"angle": 400}})").find("more than a full turn"), std::string::npos);
  EXPECT_NE(
      trouble(R"({"shape": {"rectangle": {"at": [-1, 0], "size": [2, 3]}}, "mesh": {"count": [2, 2]}, "revolve": {"angle": 90}})")
          .find("negative x"),
      std::string::npos);
  EXPECT_NE(trouble("{" + shape + R"(, "extrude": {"depth": 1}, "place": {"shift": [1, 2]}})").find("three components"),
            std::string::npos);
}

}  // namespace
