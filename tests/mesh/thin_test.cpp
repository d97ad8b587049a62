// Sheets: volumes, sides, edges, folds, ends on an axis, triangles; bad ones in words.
#include <gtest/gtest.h>

#include <fmt/format.h>
#include <map>
#include <numbers>

#include "core/base/error.hpp"
#include "core/mesh/near_sheet.hpp"
#include "core/mesh/quality.hpp"
#include "meshes.hpp"
#include "words.hpp"

using namespace anvil;
using Eigen::Vector3d;
using std::numbers::pi;

namespace {

/// The mesh of a thin part, of quads or triangles: its shape and sweep, and what else "thin" holds.
mesh::Mesh sheet(const std::string& shape, double thickness = 0.5, const std::string& more = {}) {
  return meshOfSolidPart("{" + shape + ", \"thin\": {\"thickness\": " + fmt::format("{}", thickness) + more + "}}");
}
const std::string triangles = R"(, "cells": "triangles")";

/// Volume by the sides of the part: its outside is shown by each, and nothing is open.
double enclosed(const mesh::Mesh& m) {
  double volume = 0;
  for (const auto& f : m.boundary(0)) {
    const auto n = m.nodesOf(f);
    Vector3d middle = Vector3d::Zero();
    for (int k : n) middle += m.x[size_t(k)] / double(n.size());
    for (size_t i = 0; i < n.size(); ++i) volume += m.x[size_t(n[i])].cross(m.x[size_t(n[(i + 1) % n.size()])]).dot(middle) / 6;
  }
  return volume;
}

/// Mean direction to which a face looks.
Vector3d outward(const mesh::Mesh& m, const std::string& face) {
  Vector3d sum = Vector3d::Zero();
  for (const auto& f : m.face(face)->facets) {
    const auto n = m.nodesOf(f);
    const auto x = [&](size_t i) { return m.x[size_t(n[i])]; };
    sum += n.size() == 3 ? Vector3d((x(1) - x(0)).cross(x(2) - x(0))) : Vector3d((x(2) - x(0)).cross(x(3) - x(1)));
  }
  return sum.normalized();
}

const std::string plateShape = R"("shape": {"rectangle": {"at": [1, 0], "size": [4, 3]}}, "mesh": {"count": [4, 3]})";
const std::string foldShape =
    R"("shape": {"profile": {"start": [0, 0], "path": [{"line": [10, 0], "name": "web"}, {"line": [10, 6], "name": "rim"}]}},
       "mesh": {"size": 1}, "extrude": {"depth": 5, "count": 5})";

}  // namespace

TEST(Thin, AFlatSheetHasItsSidesAndEdges) {
  for (const bool split : {false, true}) {
    const auto m = sheet(plateShape, 0.5, split ? triangles : std::string());
    EXPECT_NEAR(enclosed(m), 6, 1e-12);
    for (const auto& b : m.blocks) {
      EXPECT_EQ(b.through, 5);
      EXPECT_EQ(b.thickness, 0.5);
      EXPECT_EQ(b.type, split ? mesh::Cell::wedge6 : mesh::Cell::hex8);
      EXPECT_EQ(b.count(), split ? 24u : 12u);
      for (size_t c = 0; c < b.count(); ++c)  // the first half of a cell's nodes lies on the lower side
        for (int i = 0; i < mesh::info(b.type).nodes; ++i)
          EXPECT_EQ(m.x[size_t(b.cell(c)[i])].z(), i < mesh::info(b.type).nodes / 2 ? -0.25 : 0.25);
    }
    for (const auto& [face, area] : std::map<std::string, double>{
             {"p.lower", 12}, {"p.upper", 12}, {"p.left", 1.5}, {"p.right", 1.5}, {"p.top", 2}, {"p.bottom", 2}}) {
      ASSERT_TRUE(m.face(face)) << face;
      EXPECT_NEAR(areaOf(m, m.face(face)->facets), area, 1e-12) << face;
    }
    EXPECT_LT((outward(m, "p.upper") - Vector3d::UnitZ()).norm(), 1e-12);
    EXPECT_LT((outward(m, "p.left") + Vector3d::UnitX()).norm(), 1e-12);
  }
}

TEST(Thin, TheDrawnSurfaceLiesWhereItIsSaidTo) {
  for (const auto& [given, low] : std::map<std::string, double>{{"middle", -0.25}, {"upper", -0.5}, {"lower", 0}}) {
    const auto m = sheet(plateShape, 0.5, R"(, "points": 3, "given": ")" + given + "\"");
    double least = 1e300;
    for (const auto& x : m.x) least = std::min(least, x.z());
    EXPECT_NEAR(least, low, 1e-15) << given;
    EXPECT_EQ(m.blocks[0].through, 3);
  }
}

TEST(Thin, AFoldIsMitred) {
  for (const bool split : {false, true}) {
    const auto m = sheet(foldShape, 0.5, split ? triangles : std::string());
    EXPECT_NEAR(enclosed(m), 0.5 * 16 * 5, 1e-9) << "both legs to the middle line's corner; outside and inside cancel";
    // the upper side lies on the left of the line, which is in the fold
    EXPECT_NEAR(areaOf(m, m.face("p.upper")->facets), (10 - 0.25 + 6 - 0.25) * 5, 1e-9);
    EXPECT_NEAR(areaOf(m, m.face("p.lower")->facets), (10 + 0.25 + 6 + 0.25) * 5, 1e-9);
    EXPECT_NEAR(areaOf(m, m.face("p.web upper")->facets), 9.75 * 5, 1e-9);
    EXPECT_NEAR(areaOf(m, m.face("p.rim lower")->facets), 6.25 * 5, 1e-9);
    for (const std::string end : {"p.start", "p.end"}) EXPECT_NEAR(areaOf(m, m.face(end)->facets), 2.5, 1e-9);
    EXPECT_NEAR(areaOf(m, m.face("p.front")->facets), 8, 1e-9);
    EXPECT_LT((outward(m, "p.rim upper") + Vector3d::UnitX()).norm(), 1e-12);
    EXPECT_LT((outward(m, "p.start") + Vector3d::UnitX()).norm(), 1e-12);
    EXPECT_LT((outward(m, "p.end") - Vector3d::UnitY()).norm(), 1e-12);
  }
}

TEST(Thin, AClosedLineMakesATube) {
  const auto m = sheet(R"("shape": {"disc": {"radius": 10}}, "mesh": {"count": [48]}, "extrude": {"depth": 8, "count": 4})", 0.5);
  EXPECT_FALSE(m.face("p.start"));
  EXPECT_EQ(m.blocks[0].count(), 48u * 4);
  for (int n : m.nodesOf(m.face("p.upper")->facets)) EXPECT_NEAR(m.x[size_t(n)].head<2>().norm(), 9.75, 1e-9);
  for (int n : m.nodesOf(m.face("p.lower")->facets)) EXPECT_NEAR(m.x[size_t(n)].head<2>().norm(), 10.25, 1e-9);
  EXPECT_NEAR(enclosed(m), 24 * std::sin(pi / 24) * (10.25 * 10.25 - 9.75 * 9.75) * 8, 1e-9);
}

TEST(Thin, ACapClosesOnItsAxis) {
  for (const std::string start : {R"("start": [0, 10], "path": [{"arc": [10, 0], "center": [0, 0], "turn": "right"}])",
                                  R"("start": [10, 0], "path": [{"arc": [0, 10], "center": [0, 0]}])"}) {
    const bool inside = start.starts_with("\"start\": [10");  // the upper side is on the left
    const auto m = sheet("\"shape\": {\"profile\": {" + start +
                         "}}, \"mesh\": {\"count\": [16]}, \"revolve\": {\"angle\": 90, \"count\": 12}");
    const double exact = 4. / 3 * pi * (std::pow(10.25, 3) - std::pow(9.75, 3)) / 8;
    EXPECT_NEAR(enclosed(m) / exact, 1, 0.01);
    ASSERT_EQ(m.blocks.size(), 2u);
    for (const auto& b : m.blocks) {
      for (size_t c = 0; c < b.count(); ++c)
        for (int i = 0; i < mesh::info(b.type).nodes; ++i)
          EXPECT_NEAR(m.x[size_t(b.cell(c)[i])].norm(), (i < mesh::info(b.type).nodes / 2) == inside ? 10.25 : 9.75, 1e-9);
    }
    EXPECT_EQ(m.face("p.upper")->facets.size(), 16u * 12);
    EXPECT_FALSE(m.face(inside ? "p.end" : "p.start")) << "the axis is no edge";
  }
}

TEST(Thin, AConeIsCutAlongItsAxis) {
  const auto m = sheet(
      R"("shape": {"profile": {"start": [0, 5], "path": [{"line": [5, 0]}]}}, "mesh": {"count": [5]}, "revolve": {"angle": 360,
         "count": 12})");
  int onAxis = 0;
  for (const auto& x : m.x) {
    if (std::hypot(x.x(), x.z()) > 1e-6) continue;
    EXPECT_NEAR(std::abs(x.y() - 5), 0.25 * std::sqrt(2), 1e-9);
    ++onAxis;
  }
  EXPECT_EQ(onAxis, 2);
  EXPECT_GT(enclosed(m), 0);
}

TEST(Thin, GoesAlongAPath) {
  const auto m = sheet(
      R"("shape": {"disc": {"radius": 2}}, "mesh": {"count": [24]}, "along": {"start": [0, 0, 0], "path": [{"line": [0, 0, 10],
         "fillet": 4}, {"line": [10, 0, 10]}]})",
      0.2);
  EXPECT_NEAR(areaOf(m, m.face("p.front")->facets), 24 * std::sin(pi / 24) * std::cos(pi / 24) * 2 * 0.2 * 2, 0.02);
  for (const auto& b : m.blocks) EXPECT_GT(mesh::quality(m, b).leastScaledJacobian, 0.3);
  EXPECT_GT(enclosed(m), 0);
}

TEST(Thin, BadSheetsAreToldInWords) {
  const auto said = [](const std::string& part, const std::string& words) {
    try {
      (void)meshOfSolidPart(part);
      ADD_FAILURE() << "accepted: " << part;
    } catch (const Error& e) {
      EXPECT_TRUE(e.wrong().find(words) != std::string::npos) << e.wrong() << " / wanted: " << words;
      EXPECT_FALSE(e.remedy().empty());
    }
  };
  said("{" + plateShape + R"(, "thin": {}})", "no thickness");
  said("{" + plateShape + R"(, "thin": {"thickness": -1}})", "the thickness is -1 mm");
  said("{" + plateShape + R"(, "thin": {"thickness": 1, "points": 12}})", "12");
  said("{" + plateShape + R"(, "element": "hex20", "thin": {"thickness": 1}})", "cells of its own");
  said(
      R"({"shape": {"profile": {"start": [0, 0], "path": [{"line": [5, 0]}, {"arc": [5, 2], "center": [5, 1], "name": "round"}]}},
          "extrude": {"depth": 1}, "thin": {"thickness": 0.8}})",
      "more than half of the radius 1 mm of the edge 'round'");
  said(R"({"shape": {"profile": {"start": [0, 0], "path": [{"line": [5, 0]}, {"line": [0, 0.5]}]}}, "extrude": {"depth": 1},
          "thin": {"thickness": 0.1}})",
       "turns back on itself");
  said(
      R"({"shape": {"disc": {"radius": 2}}, "extrude": {"depth": 1}, "thin": {"thickness": 0.1},
          "mesh": {"size": 1, "grading": [2]}})",
      "not graded");
  said(
      R"({"shape": {"rectangle": {"at": [0, 0], "size": [1, 1]}, "edges": ["a", "b", "upper", "d"]},
          "thin": {"thickness": 0.1}})",
      "as a side of the sheet");
  try {
    (void)meshOfPart("{" + plateShape + R"(, "thin": {"thickness": 0.1}})");
    ADD_FAILURE();
  } catch (const Error& e) {
    EXPECT_EQ(e.wrong(), "the part is thin, the model is plane");
  }
}

TEST(Thin, StationsKeepToTheSizesWanted) {
  const auto even = mesh::stations(10, 5, [](double) { return 100.; });
  ASSERT_EQ(even.size(), 6u);
  for (size_t i = 0; i < even.size(); ++i) EXPECT_NEAR(even[i], double(i) / 5, 1e-9);
  const auto wanted = [](double share) { return 0.1 + 0.3 * std::max(0., std::abs(10 * share - 4) - 1); };
  const auto s = mesh::stations(10, 5, wanted);
  EXPECT_EQ(s.front(), 0);
  EXPECT_EQ(s.back(), 1);
  for (size_t i = 0; i + 1 < s.size(); ++i) {
    const double own = 10 * (s[i + 1] - s[i]), there = std::min(2., wanted((s[i] + s[i + 1]) / 2));
    EXPECT_GT(own, 0.8 * there) << i;
    EXPECT_LT(own, 1.15 * there) << i;
  }
}

TEST(Thin, SweptSheetsAreFinerRoundAPlace) {
  const std::string strip = R"("shape": {"profile": {"start": [0, 0], "path": [{"line": [40, 0]}]}}, "mesh": {"size": 4},
    "extrude": {"depth": 30})";
  const auto even = sheet(strip), finer = sheet(strip + R"(, "near": [{"at": [10, 0, 20], "within": 2, "size": 0.5}])");
  EXPECT_NEAR(enclosed(finer), enclosed(even), 1e-9);
  EXPECT_GT(finer.blocks.front().count(), 4 * even.blocks.front().count());
  const auto longest = [&](const Vector3d& at, double within) {  // edge of the lower side's cells there
    double most = 0, least = 1e300;
    const auto& b = finer.blocks.front();
    for (size_t c = 0; c < b.count(); ++c)
      for (int i = 0; i < 4; ++i) {
        const Vector3d p = finer.x[size_t(b.cell(c)[i])], q = finer.x[size_t(b.cell(c)[(i + 1) % 4])];
        if (((p + q) / 2 - at).norm() < within) most = std::max(most, (p - q).norm()), least = std::min(least, (p - q).norm());
      }
    return std::pair(least, most);
  };
  EXPECT_LT(longest({10, 0, 20}, 2).second, 0.6);
  EXPECT_GT(longest({40, 0, 0}, 5).second, 3);
  // revolved: about y, x from the axis
  const auto cone = sheet(R"("shape": {"profile": {"start": [10, 0], "path": [{"line": [10, 20]}]}}, "mesh": {"size": 2},
    "revolve": {"angle": 360}, "near": [{"at": [0, 5, 10], "within": 1, "size": 0.25}])");
  double fine = 1e300, coarse = 0;
  const auto& b = cone.blocks.front();
  for (size_t c = 0; c < b.count(); ++c) {
    const Vector3d p = cone.x[size_t(b.cell(c)[0])], q = cone.x[size_t(b.cell(c)[2])], r = (p + q) / 2;
    if ((r - Vector3d(0, 5, 10)).norm() < 1) fine = std::min(fine, (p - q).norm());
    if ((r - Vector3d(0, 15, -10)).norm() < 2) coarse = std::max(coarse, (p - q).norm());
  }
  EXPECT_LT(fine, 0.4);
  EXPECT_GT(coarse, 1);
}

TEST(Thin, WherePlacesDoNotCountIsSaid) {
  const std::string near = R"(, "near": [{"at": [0, 0, 0], "within": 1, "size": 0.1}])";
  EXPECT_NE(sentence([&] { sheet(plateShape + near); }).find("swept sheets only"), std::string::npos);
  EXPECT_NE(
      sentence([&] {
        sheet(R"("shape": {"profile": {"start": [0, 0], "path": [{"line": [10, 0]}]}}, "extrude": {"depth": 5, "twist": 90})" +
              near);
      }).find("bends or twists"),
      std::string::npos);
  EXPECT_NE(sentence([&] {
              sheet(R"("shape": {"profile": {"start": [0, 0], "path": [{"line": [10, 0]}]}}, "extrude": {"depth": 5},
                "near": [{"at": [0, 0, 0], "within": 1, "size": 1e-6}])");
            }).find("check its unit"),
            std::string::npos);
  EXPECT_NE(sentence([&] { sheet(plateShape + R"(, "sizes": {"p.upper": 1})"); }).find("sizes on faces"), std::string::npos);
}
