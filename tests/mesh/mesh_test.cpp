// Shapes and mapped meshes: areas, names, fillets, quality, refusals.
#include <gtest/gtest.h>

#include <numbers>

#include "core/base/error.hpp"
#include "core/geometry/path.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/quality.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"
#include "core/problem/problem.hpp"
#include "meshes.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

std::string partRefusal(const std::string& part) {
  return sentence([&] { meshOfPart(part); });
}
double area(const mesh::Mesh& m) {
  double a = 0;
  for (const auto& b : m.blocks)
    for (size_t c = 0; c < b.count(); ++c) {
      const int corners = mesh::info(b.type).corners;
      const int* n = b.cell(c);
      for (int i = 0; i < corners; ++i) {
        std::vector<int> chain{n[i]};
        if (b.type == mesh::Cell::quad8) chain.push_back(n[corners + i]);
        chain.push_back(n[(i + 1) % corners]);
        for (size_t k = 0; k + 1 < chain.size(); ++k) {
          const auto &p = m.x[size_t(chain[k])], &q = m.x[size_t(chain[k + 1])];
          a += (p.x() * q.y() - q.x() * p.y()) / 2;
        }
      }
    }
  return a;
}

TEST(Mapped, RectangleHasItsAreaFacesAndCounts) {
  const auto m = meshOfPart(R"({"shape": {"rectangle": {"at": [1, 2], "size": [4, 3]}}, "mesh": {"size": 0.5}})");
  EXPECT_NEAR(area(m), 12, 1e-12);
  EXPECT_EQ(m.blocks[0].count(), 8u * 6);
  ASSERT_NE(m.face("p.top"), nullptr);
  EXPECT_EQ(m.face("p.top")->facets.size(), 8u);
  for (int n : m.nodesOf(m.face("p.top")->facets)) EXPECT_NEAR(m.x[size_t(n)].y(), 5, 1e-12);
  EXPECT_EQ(m.boundary(0).size(), 28u);
}

TEST(Mapped, QuadraticRingFollowsTheArc) {
  const auto m =
      meshOfPart(R"({"shape": {"ring": {"inner": 10, "outer": 20, "from": 0, "to": 90}}, "mesh": {"count": [4, 24]}})");
  for (int n : m.nodesOf(m.face("p.inner")->facets)) EXPECT_NEAR(m.x[size_t(n)].norm(), 10, 1e-12);
  EXPECT_NEAR(area(m), std::numbers::pi * 75, 0.05);
  for (const auto& f : m.faces)
    for (const auto& facet : f.facets) {  // the body lies on the left of every facet: its outward normal points away
      const auto n = m.nodesOf(facet);
      const Eigen::Vector3d t = m.x[size_t(n[1])] - m.x[size_t(n[0])], mid = m.x[size_t(n[2])];
      const double outward = Eigen::Vector3d(t.y(), -t.x(), 0).dot(mid);
      EXPECT_TRUE(f.name != "p.outer" || outward > 0);
      EXPECT_TRUE(f.name != "p.inner" || outward < 0);
    }
}

TEST(Mapped, BlocksJoinAndInnerEdgesAreNoFaces) {
  const auto m = meshOfPart(R"({"element": "quad4", "mesh": {"size": 1}, "shape": [
    {"rectangle": {"at": [0, 0], "size": [4, 2]}, "edges": ["low", "", "seam", "l"]},
    {"rectangle": {"at": [0, 2], "size": [4, 3]}, "edges": ["seam", "", "high", "l"]}]})");
  EXPECT_EQ(m.x.size(), 5u * 6);
  EXPECT_EQ(m.face("p.seam"), nullptr);
  EXPECT_EQ(m.face("p.l")->facets.size(), 5u);
}

TEST(Mapped, GradingMakesTheLastElementLonger) {
  const auto m = meshOfPart(
      R"({"element": "quad4", "shape": {"rectangle": {"at": [0, 0], "size": [10, 1]}}, "mesh": {"count": [10, 1], "grading": [4,
        1]}})");
  const auto q = mesh::quality(m, m.blocks[0]);
  double first = 1e9, last = 0;
  for (const auto& x : m.x)
    if (x.y() < 0.5) {
      if (x.x() > 0) first = std::min(first, x.x());
      if (x.x() < 10 - 1e-9) last = std::max(last, x.x());
    }
  EXPECT_NEAR((10 - last) / first, 4, 1e-9);
  EXPECT_NEAR(q.leastScaledJacobian, 1, 1e-12);
}

TEST(Mapped, ProfileWithFilletAndManySidedSide) {
  const auto m = meshOfPart(R"({"mesh": {"size": 0.1}, "shape": {"profile": {"start": [0, 0], "path": [
    {"line": [6, 0], "name": "base"}, {"line": [6, 3], "name": "end", "fillet": 1}, {"line": [0, 3], "name": "roof"}, {
      "line": [0, 0], "name": "back"}],
    "sides": [["base"], ["end"], ["roof"], ["back"]]}}})");
  EXPECT_NEAR(area(m), 18 - (1 - std::numbers::pi / 4), 2e-3);
}

TEST(Path, FilletsBetweenLinesAndArcsAreTangent) {
  using geometry::Curve2;
  const std::vector<Curve2> path{Curve2::line({0, 0}, {10, 0}), Curve2::arcTo({10, 0}, {10, 10}, {10, 5}, true),
                                 Curve2::line({10, 10}, {10, 20})};
  const auto r = geometry::rounded(path, {{1, 1.0}}, false);
  ASSERT_EQ(r.size(), 4u);
  for (size_t i = 0; i + 1 < r.size(); ++i) {
    EXPECT_LT((r[i].b - r[i + 1].a).norm(), 1e-9);
    EXPECT_LT((r[i].tangent(1) - r[i + 1].tangent(0)).norm(), 1e-9) << i;
  }
  EXPECT_NEAR(r[2].radius, 1, 1e-12);
  EXPECT_THROW(geometry::rounded(path, {{1, 50.0}}, false), Error);
}

TEST(Mapped, BadShapesAreRefusedInWords) {
  EXPECT_NE(partRefusal(R"({"shape": {"rectangle": {"at": [0, 0], "size": [0, 1]}}})").find("no area"), std::string::npos);
  EXPECT_NE(partRefusal(R"({"shape": {"ring": {"inner": 5, "outer": 4, "to": 90}}})").find("outer radius"), std::string::npos);
  EXPECT_NE(partRefusal(R"({})").find("no shape"), std::string::npos);
  EXPECT_NE(
      partRefusal(
          R"({"shape": {"profile": {"start": [0, 0], "path": [{"line": [0, 1], "name": "a"}, {"line": [1, 1], "name": "b"}, {
        "line": [1, 0], "name": "c"}, {"line": [0, 0], "name": "d"}]}}})")
          .find("clockwise"),
      std::string::npos);
  EXPECT_NE(
      partRefusal(
          R"({"shape": {"profile": {"start": [0, 0], "path": [{"line": [1, 0], "name": "a"}, {"line": [1, 1], "name": "b"}]}}})")
          .find("four sides, found 3: 'a', 'b' and 'closing', which is the straight line"),
      std::string::npos);
  EXPECT_NE(partRefusal(R"({"shape": {"profile": {"start": [0, 0], "path": [{"line": [1, 0]}]}}})").find("encloses no area"),
            std::string::npos);
  EXPECT_NE(partRefusal(R"({"shape": {"rectangle": {"at": [0, 0], "size": [1, 1]}}, "mesh": {"count": [0, 1]}})")
                .find("number of elements"),
            std::string::npos);
  EXPECT_NE(partRefusal(
                R"({"mesh": {"count": [4, 4]}, "shape": {"profile": {"start": [0, 0], "path": [{"line": [1, 0], "name": "a"}, {
        "line": [0.2, 0.2], "name": "b"}, {"line": [0, 1], "name": "c"}, {"line": [0, 0], "name": "d"}]}}})")
                .find("folded or flat"),
            std::string::npos);
}

}  // namespace

TEST(MappedMesh, AStronglyGradedRectangleIsNoFoldedOne) {
  for (const char* element : {"quad4", "quad8"}) {
    const auto m = meshOfPart(
        std::string(R"({"material": "m", "element": ")") + element +
        R"(", "shape": {"rectangle": {"at": [0, 0], "size": [100, 1]}}, "mesh": {"count": [40, 40], "grading": [60, 60]}})");
    EXPECT_EQ(m.blocks.front().count(), 1600u);
    EXPECT_NEAR(area(m), 100, 1e-9);
  }
}

TEST(MappedMesh, AnEdgeMayNotBearTheNameOfAnEndFace) {
  const auto named = [](const std::string& edge) {
    const auto d = model::parse(
        R"({"space": "solid", "parts": {"p": {"material": "m", "shape": {"rectangle": {"at": [0, 0], "size": [4, 4]}, "edges": [
        "base", ")" +
        edge + R"(", "top", "left"]}, "extrude": {"depth": 3}}}})");
    return sentence([&] { analysis::buildMesh(d, model::Quantities(d)); });
  };
  EXPECT_EQ(named("right"), "no error");
  EXPECT_SAYS(named("front"), "an edge is named 'front'");
  EXPECT_SAYS(named("back"), "Give the edge another name");
}
