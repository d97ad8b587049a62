// Edges and corners of shapes by the faces that meet there.
#include <gtest/gtest.h>

#include <numbers>

#include "core/lower/lower.hpp"
#include "core/mesh/meeting.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/place_names.hpp"
#include "core/model/quantities.hpp"
#include "core/problem/problem.hpp"

using namespace anvil;

namespace {

mesh::Mesh meshed(const std::string& element, const std::string& solid) {
  const auto d =
      model::parse(R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1, "nu": 0.3}}}, "steps": {"s": {}},
    "parts": {"p": {"material": "m", "element": ")" +
                   element + R"(", "mesh": {"size": 2}, "solid": )" + solid + "}}}");
  return analysis::buildMesh(d, model::Quantities(d));
}
const mesh::Meeting* called(const std::vector<mesh::Meeting>& list, const std::string& name) {
  for (const auto& m : list)
    if (m.name == name) return &m;
  return nullptr;
}
double lengthOf(const mesh::Mesh& m, const mesh::Meeting& e) {
  double sum = 0;
  for (const auto& line : e.lines) {
    const auto x = [&](size_t k) { return m.x[size_t(line[k])]; };
    sum += line.size() == 3 ? (x(2) - x(0)).norm() + (x(1) - x(2)).norm() : (x(1) - x(0)).norm();
  }
  return sum;
}

const char* const twoBricks = R"({"box": {"size": [10, 6, 4]}, "name": "b"})";

}  // namespace

TEST(Meeting, NamesAreTakenApart) {
  EXPECT_EQ(model::facesInName("a.b.top"), std::vector<std::string>{"a.b.top"});
  EXPECT_EQ(model::facesInName("a.b.top & a.b.left & a.c.1"), (std::vector<std::string>{"a.b.top", "a.b.left", "a.c.1"}));
}

TEST(Meeting, ABlockHasTwelveEdgesAndEightCorners) {
  for (const char* element : {"hex20", "hex8", "tet10"}) {
    const auto m = meshed(element, twoBricks);
    const auto edges = mesh::edgesOfShapes(m), corners = mesh::cornersOfShapes(m);
    EXPECT_EQ(edges.size(), 12u) << element;
    EXPECT_EQ(corners.size(), 8u) << element;
    double sum = 0;
    for (const auto& e : edges) sum += lengthOf(m, e);
    EXPECT_NEAR(sum, 4 * (10 + 6 + 4), 1e-9) << element;
    for (const auto& c : corners) {
      ASSERT_EQ(c.nodes.size(), 1u);
      const auto& x = m.x[size_t(c.nodes[0])];
      for (int k = 0; k < 3; ++k) EXPECT_TRUE(std::abs(x[k]) < 1e-9 || std::abs(x[k] - Eigen::Vector3d(10, 6, 4)[k]) < 1e-9);
    }
    const auto* e = called(edges, "p.b.left & p.b.top");
    ASSERT_TRUE(e);
    EXPECT_NEAR(lengthOf(m, *e), 4, 1e-9);
    for (int n : e->nodes) EXPECT_NEAR((m.x[size_t(n)].head<2>() - Eigen::Vector2d(0, 6)).norm(), 0, 1e-9);
    // the same by its faces, in any order
    const auto one = mesh::meetingOf(m, {m.face("p.b.top"), m.face("p.b.left")});
    EXPECT_EQ(one.nodes, e->nodes);
    EXPECT_EQ(one.lines.size(), e->lines.size());
    EXPECT_EQ(mesh::meetingOf(m, {m.face("p.b.top"), m.face("p.b.left"), m.face("p.b.back")}).nodes.size(), 1u);
    EXPECT_TRUE(mesh::meetingOf(m, {m.face("p.b.top"), m.face("p.b.bottom")}).nodes.empty()) << "opposite sides";
  }
}

TEST(Meeting, AHolesRimIsOneRoundEdge) {
  const auto m =
      meshed("auto",
             R"([{"box": {"size": [10, 10, 4]}, "name": "b"}, {"cylinder": {"from": [5, 5, -1], "to": [5, 5, 5], "radius": 3},
        "how": "cut", "name": "hole"}])");
  const auto edges = mesh::edgesOfShapes(m);
  EXPECT_EQ(edges.size(), 14u);
  const auto* rim = called(edges, "p.b.back & p.hole.side");
  ASSERT_TRUE(rim);
  EXPECT_NEAR(lengthOf(m, *rim), 2 * std::numbers::pi * 3, 0.02 * 2 * std::numbers::pi * 3);
  for (int n : rim->nodes) EXPECT_NEAR((m.x[size_t(n)] - Eigen::Vector3d(5, 5, 4)).norm(), 3, 1e-6);
  EXPECT_EQ(mesh::cornersOfShapes(m).size(), 8u) << "a rim has no corner";
}

TEST(Meeting, AnEdgeOfATeethOfOneCellIsNotTakenAcross) {
  // a wall one cell thick: facets of its end have edges whose ends lie on both sides, but only those of both faces count
  const auto m = meshed("hex20", R"({"box": {"size": [2, 8, 2]}, "name": "b"})");
  EXPECT_NEAR(lengthOf(m, mesh::meetingOf(m, {m.face("p.b.top"), m.face("p.b.left")})), 2, 1e-9);
}
