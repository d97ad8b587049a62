// Thin parts on faces of solids: sides at their distance, folds mitred, grids and free quads, names, walls that are found.
#include <gtest/gtest.h>

#include <fmt/format.h>
#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "core/base/error.hpp"
#include "core/checks/readiness.hpp"
#include "core/geometry/solid.hpp"
#include "core/geometry/wall.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/quality.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "meshes.hpp"
#include "scratch.hpp"
#include "words.hpp"

using namespace anvil;
using Eigen::Vector3d;
using std::numbers::pi;

namespace {

class FaceSheet : public ScratchCache {};

const std::string tray = R"({"name": "tray", "box": {"at": [0, 0, 0], "size": [60, 40, 20]}})";
const std::string ball = R"({"name": "ball", "ball": {"center": [0, 0, 0], "radius": 10}})";
const std::string drilled = R"({"name": "plate", "box": {"at": [0, 0, 0], "size": [40, 30, 2]}},
  {"name": "hole", "how": "cut", "cylinder": {"from": [15, 15, -1], "to": [15, 15, 3], "radius": 6}})";

/// The mesh of a thin part on a solid.
mesh::Mesh onSolid(const std::string& features, const std::string& thin, double size) {
  return meshOfSolidPart("{\"solid\": [" + features + "], \"thin\": {" + thin +
                         "}, \"mesh\": {\"size\": " + fmt::format("{}", size) + "}}");
}
geometry::Solid solidOf(const std::string& features) {
  const auto d = model::parse(R"({"anvil": 1, "space": "solid", "parts": {"p": {"solid": [)" + features + "]}}}");
  return geometry::solid(d.parts.front().second, model::Quantities(d), "", "parts/p");
}
const std::string openTray = R"("faces": ["tray.bottom", "tray.left", "tray.right", "tray.front", "tray.back"])";

/// Edges of the cells' lower sides that only one cell has, and that more than two have.
std::pair<int, int> edgesOnce(const mesh::Mesh& m) {
  std::map<std::pair<int, int>, int> uses;
  for (const auto& b : m.blocks)
    for (size_t c = 0; c < b.count(); ++c)
      for (int i = 0; i < 4; ++i) ++uses[std::minmax(b.cell(c)[i], b.cell(c)[(i + 1) % 4])];
  int once = 0, more = 0;
  for (const auto& [edge, n] : uses) once += n == 1, more += n > 2;
  return {once, more};
}
/// Least sine of a facet's corners: 1 of a rectangle.
double squareness(const mesh::Mesh& m, const mesh::Facet& f) {
  const auto n = m.nodesOf(f);
  double least = 1;
  for (size_t i = 0; i < n.size(); ++i) {
    const Vector3d at = m.x[size_t(n[i])], next = m.x[size_t(n[(i + 1) % n.size()])] - at,
                   last = m.x[size_t(n[(i + n.size() - 1) % n.size()])] - at;
    least = std::min(least, next.cross(last).norm() / (next.norm() * last.norm()));
  }
  return least;
}
double leastQuality(const mesh::Mesh& m) {
  double least = 1;
  for (const auto& b : m.blocks) least = std::min(least, mesh::quality(m, b).leastScaledJacobian);
  return least;
}

}  // namespace

TEST_F(FaceSheet, ABoxWithoutLidIsMitredAtItsFolds) {
  const auto m = onSolid(tray, openTray + R"(, "thickness": 2)", 5);
  // walls half inside, half outside of the box; the rim ends at its top
  EXPECT_NEAR(volumeOf(m), 62. * 41 * 22 - 58. * 39 * 18, 1e-6);
  for (const auto& f : m.face("p.tray.left lower")->facets)  // to the outside lies the upper side, at x = -1
    for (int n : m.nodesOf(f)) EXPECT_NEAR(m.x[size_t(n)].x(), 1, 1e-9);
  for (const auto& f : m.face("p.tray.bottom upper")->facets)
    for (int n : m.nodesOf(f)) EXPECT_NEAR(m.x[size_t(n)].y(), -1, 1e-9);
  ASSERT_TRUE(m.face("p.tray.top"));  // the rim, named as what lies beyond it
  for (const auto& f : m.face("p.tray.top")->facets)
    for (int n : m.nodesOf(f)) EXPECT_NEAR(m.x[size_t(n)].y(), 40, 1e-9);
}

TEST_F(FaceSheet, SidesLieWhereTheFaceIsGivenToLie) {
  const auto upper = onSolid(tray, openTray + R"(, "thickness": 2, "given": "upper")", 5);
  EXPECT_NEAR(volumeOf(upper), 60. * 40 * 20 - 56. * 38 * 16, 1e-6);
  const auto lower = onSolid(tray, openTray + R"(, "thickness": 2, "given": "lower")", 5);
  EXPECT_NEAR(volumeOf(lower), 64. * 42 * 24 - 60. * 40 * 20, 1e-6);
}

TEST_F(FaceSheet, ClosedGridsHaveNoSeam) {
  const auto m = onSolid(R"({"name": "can", "cylinder": {"from": [0, 0, 0], "to": [0, 0, 30], "radius": 10}})",
                         R"("faces": ["can.side"], "thickness": 0.5)", 4);
  const auto [once, more] = edgesOnce(m);
  EXPECT_EQ(more, 0);
  EXPECT_EQ(size_t(once), m.face("p.can.start")->facets.size() + m.face("p.can.end")->facets.size());
  for (const auto& f : m.face("p.upper")->facets)
    for (int n : m.nodesOf(f)) EXPECT_NEAR(m.x[size_t(n)].head<2>().norm(), 10.25, 1e-9);
  const double round = double(m.face("p.can.start")->facets.size());
  EXPECT_NEAR(volumeOf(m), 30 * round / 2 * std::sin(2 * pi / round) * (10.25 * 10.25 - 9.75 * 9.75), 1e-6);
  EXPECT_GT(leastQuality(m), 0.95);
}

TEST_F(FaceSheet, APlateWithAHoleIsAllQuads) {
  for (const double size : {3., 1.5}) {
    const auto m = onSolid(drilled, R"("faces": ["plate.back"], "thickness": 1)", size);
    ASSERT_EQ(m.blocks.size(), 1u);
    EXPECT_EQ(m.blocks.front().type, mesh::Cell::hex8);
    EXPECT_GT(leastQuality(m), 0.3);
    const auto [once, more] = edgesOnce(m);
    EXPECT_EQ(more, 0);
    ASSERT_TRUE(m.face("p.hole.side"));
    for (const auto& f : m.face("p.hole.side")->facets)
      for (int n : m.nodesOf(f)) EXPECT_NEAR((m.x[size_t(n)] - Vector3d(15, 15, m.x[size_t(n)].z())).norm(), 6, 1e-6);
    size_t rims = 0;
    for (const char* rim : {"p.hole.side", "p.plate.left", "p.plate.right", "p.plate.top", "p.plate.bottom"})
      rims += m.face(rim)->facets.size();
    EXPECT_EQ(size_t(once), rims);
    const double round = double(m.face("p.hole.side")->facets.size());
    EXPECT_GE(round, 16);
    EXPECT_NEAR(volumeOf(m), 1200 - 36 * round / 2 * std::sin(2 * pi / round), 0.02);
  }
}

TEST_F(FaceSheet, GridsGoOnBesideFreeFaces) {
  // a can with a bottom: the wall is a grid, the round bottom is not
  const auto can = onSolid(R"({"name": "can", "cylinder": {"from": [0, 0, 0], "to": [0, 0, 30], "radius": 10}})",
                           R"("faces": ["can.side", "can.start"], "thickness": 0.5)", 4);
  const auto [once, more] = edgesOnce(can);
  EXPECT_EQ(more, 0);
  const size_t round = can.face("p.can.end")->facets.size(), walls = can.face("p.can.side upper")->facets.size();
  EXPECT_EQ(size_t(once), round) << "sewn at the fold";
  EXPECT_EQ(walls % round, 0u) << "whole rings";
  EXPECT_GE(walls / round, 7u);
  for (const auto& f : can.face("p.can.side upper")->facets) EXPECT_GT(squareness(can, f), 0.95);
  // a tray with a hole in its bottom
  const auto pierced = onSolid(tray + R"(, {"name": "hole", "how": "cut",
    "cylinder": {"from": [25, -1, 12], "to": [25, 15, 12], "radius": 5}})",
                               openTray + R"(, "thickness": 1)", 4);
  EXPECT_EQ(edgesOnce(pierced).second, 0);
  size_t rim = 0;
  for (const char* wall : {"left", "right", "front", "back"}) {
    const auto& cells = pierced.face("p.tray." + std::string(wall) + " upper")->facets;
    EXPECT_GE(cells.size(), 5u * 10);
    for (const auto& f : cells) EXPECT_GT(squareness(pierced, f), 0.95) << wall;
  }
  rim = pierced.face("p.tray.top")->facets.size() + pierced.face("p.hole.side")->facets.size();
  EXPECT_EQ(size_t(edgesOnce(pierced).first), rim);
  EXPECT_GT(leastQuality(pierced), 0.3);
}

TEST_F(FaceSheet, AWasherIsARingOfItsOwn) {
  const auto m =
      onSolid(drilled + R"(, {"name": "washer", "imprint": {"on": "plate.back", "center": [15, 15, 2], "radius": 10}})",
              R"("faces": ["plate.back", "washer"], "thickness": 1)", 2);
  EXPECT_EQ(edgesOnce(m).second, 0);
  const auto* ring = m.face("p.washer.inside upper");
  ASSERT_TRUE(ring);
  EXPECT_NEAR(areaOf(m, ring->facets), pi * 64, 0.02 * pi * 64);
  double inner = 1e300, outer = 0;
  for (int n : m.nodesOf(ring->facets)) {
    const double r = (m.x[size_t(n)] - Vector3d(15, 15, m.x[size_t(n)].z())).norm();
    inner = std::min(inner, r), outer = std::max(outer, r);
  }
  EXPECT_NEAR(inner, 6, 1e-6);
  EXPECT_NEAR(outer, 10, 1e-6);
}

TEST_F(FaceSheet, OnlyFacesNearAPlaceAreRefined) {
  const auto m =
      meshOfSolidPart("{\"solid\": [" + tray + "], \"thin\": {" + openTray +
                      R"(, "thickness": 1}, "mesh": {"size": 5}, "near": [{"at": [30, 0, 10], "within": 4, "size": 1}]})");
  EXPECT_EQ(edgesOnce(m).second, 0);
  EXPECT_EQ(m.face("p.tray.left upper")->facets.size() % m.face("p.tray.right upper")->facets.size(), 0u);
  for (const auto& f : m.face("p.tray.left upper")->facets) EXPECT_GT(squareness(m, f), 0.95);
  EXPECT_GT(m.face("p.tray.bottom upper")->facets.size(), 12u * 4 + 60);
}

TEST_F(FaceSheet, FreeQuadsLieOnTheTrueSurface) {
  const auto m = onSolid(ball, R"("faces": ["ball"], "thickness": 0.4)", 2);
  const auto [once, more] = edgesOnce(m);
  EXPECT_EQ(once, 0);
  EXPECT_EQ(more, 0);
  for (const auto& [face, radius] : {std::pair{"p.upper", 10.2}, {"p.lower", 9.8}})
    for (const auto& f : m.face(face)->facets)
      for (int n : m.nodesOf(f)) EXPECT_NEAR(m.x[size_t(n)].norm(), radius, 1e-3);
  EXPECT_GT(leastQuality(m), 0.3);
  EXPECT_NEAR(volumeOf(m), 4 * pi * 100 * 0.4, 0.03 * 4 * pi * 100 * 0.4);
}

TEST_F(FaceSheet, TrianglesAndSmallerElementsAreHad) {
  const auto wedges = onSolid(drilled, R"("faces": ["plate.back"], "thickness": 1, "cells": "triangles")", 3);
  EXPECT_EQ(wedges.blocks.front().type, mesh::Cell::wedge6);
  const auto quads = onSolid(drilled, R"("faces": ["plate.back"], "thickness": 1)", 3);
  EXPECT_EQ(wedges.blocks.front().count(), 2 * quads.blocks.front().count());
  EXPECT_NEAR(volumeOf(wedges), volumeOf(quads), 1e-6);
  const auto near = meshOfSolidPart("{\"solid\": [" + drilled +
                                    R"(], "thin": {"faces": ["plate.back"], "thickness": 1}, "mesh": {"size": 3},
    "near": [{"at": [32, 15, 2], "within": 3, "size": 0.6}]})");
  EXPECT_GT(near.blocks.front().count(), quads.blocks.front().count() + 60);
}

TEST_F(FaceSheet, AWallIsFoundAndMeasured) {
  const auto tube = R"({"name": "tube", "tube": {"from": [0, 0, 0], "to": [0, 0, 60], "inner": 19, "outer": 20}})";
  const auto angle =
      R"({"name": "angle", "profile": {"start": [0, 0], "path": [{"line": [40, 0]}, {"line": [40, 1.5]}, {"line": [1.5, 1.5]},
    {"line": [1.5, 30]}, {"line": [0, 30]}, {"line": [0, 0]}]}, "extrude": {"depth": 50}})";
  const auto legs = geometry::wallOf(solidOf(angle));
  ASSERT_TRUE(legs);
  EXPECT_EQ(legs->faces.size(), 2u);
  EXPECT_NEAR(legs->thickness, 1.5, 1e-6);
  const auto wall = geometry::wallOf(solidOf(tube));
  ASSERT_TRUE(wall);
  EXPECT_NEAR(wall->thickness, 1, 1e-6);
  ASSERT_EQ(wall->faces.size(), 1u);
  EXPECT_EQ(solidOf(tube).faces()[size_t(wall->faces[0])].name, "tube.outer");
  const auto plate = geometry::wallOf(solidOf(drilled));
  ASSERT_TRUE(plate);
  EXPECT_NEAR(plate->thickness, 2, 1e-6);
  EXPECT_FALSE(geometry::wallOf(solidOf(tray)));
  EXPECT_FALSE(geometry::wallOf(solidOf(ball)));
  // with neither faces nor a thickness said
  const auto m = onSolid(tube, "", 4);
  EXPECT_NEAR(m.blocks.front().thickness, 1, 1e-6);
  for (const auto& f : m.face("p.upper")->facets)
    for (int n : m.nodesOf(f)) EXPECT_NEAR(m.x[size_t(n)].head<2>().norm(), 20, 1e-6);
}

TEST_F(FaceSheet, ReadinessOffersAWallAsAThinPart) {
  const auto model = [](const std::string& features) {
    return R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
      "parts": {"p": {"material": "m", "mesh": {"size": 6}, "solid": [)" +
           features + R"(]}}, "steps": {"s": {}}, "supports": {"all": {"on": "p", "fix": ["x", "y", "z"]}}})";
  };
  auto d = model::parse(model(drilled));
  const auto report = checks::readiness(d);
  const auto wall = std::find_if(report.findings.begin(), report.findings.end(),
                                 [](const auto& f) { return f.what.find("one wall, 2 mm thick") != std::string::npos; });
  ASSERT_NE(wall, report.findings.end());
  wall->mend(d);
  const auto& thin = *d.parts.front().second.thin;
  EXPECT_EQ(*thin.thickness.number, 2);
  EXPECT_EQ(thin.given, "upper");
  const auto p = analysis::lower(d);
  EXPECT_TRUE(p->mesh.blocks.front().thin());
  EXPECT_NEAR(volumeOf(p->mesh), 2 * (1200 - 36 * pi), 0.02 * 2400);
  for (const auto& f : checks::readiness(model::parse(model(tray))).findings)
    EXPECT_EQ(f.what.find("one wall"), std::string::npos);
}

TEST_F(FaceSheet, WhatIsWrongIsSaid) {
  EXPECT_SAYS(sentence([&] { onSolid(tray, R"("faces": ["tray.lid"], "thickness": 2)", 5); }), "there is no face 'tray.lid'");
  EXPECT_SAYS(sentence([&] { onSolid(tray, R"("thickness": 2)", 5); }), "is no wall of one thickness");
  EXPECT_SAYS(sentence([&] { onSolid(tray, openTray, 5); }), "no thickness");
  EXPECT_SAYS(sentence([&] { onSolid(ball, R"("faces": ["ball"], "thickness": 8)", 2); }), "more than half of the radius");
  EXPECT_SAYS(sentence([&] { onSolid(tray, openTray + R"(, "thickness": 2)", 1e-4); }), "millions of elements");
}
