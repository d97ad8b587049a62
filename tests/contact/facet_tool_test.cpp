// A tool of facets against the same tool with its exact shape: in the contact integrals and through the solver.
#include <gtest/gtest.h>

#include <fmt/format.h>

#include "../geometry/nets.hpp"
#include "core/contact/space_kernel.hpp"
#include "core/lower/lower.hpp"
#include "run/small_runs.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

/// A block pressed and rubbed by a ball of radius 8 that reaches `level` of facets; the exact ball when `level` is 0.
std::string pressedBy(int level, const std::string& extra = "") {
  std::string shape =
      R"("shape": {"profile": {"start": [0, -8], "path": [{"arc": [8, 0], "center": [0, 0]}]}}, "revolve": {"angle": 360})";
  if (level > 0) {
    const auto net = ball(8, level);
    std::string points, triangles;
    for (const auto& p : net.points) points += fmt::format("{}[{}, {}, {}]", points.empty() ? "" : ", ", p.x(), p.y(), p.z());
    for (const auto& t : net.triangles)
      triangles += fmt::format("{}[{}, {}, {}]", triangles.empty() ? "" : ", ", t[0], t[1], t[2]);
    shape = R"("shape": {"facets": {"points": [)" + points + R"(], "triangles": [)" + triangles + "]}}" + extra;
  }
  return R"({"space": "solid",
    "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
    "parts": {
      "block": {"material": "steel", "element": "hex8", "mesh": {"count": [6, 3]}, "shape": {"rectangle": {"at": [0, 0],
        "size": [6, 3]}}, "extrude": {"depth": 6, "count": 6}},
      "tool": {"rigid": true, "pivot": [3.1, 11, 2.9], )" +
         shape + R"(, "place": {"shift": [3.1, 11, 2.9]}}},
    "contacts": {"touch": {"between": ["block.top", "tool"], "friction": 0.2}},
    "steps": {"press": {"increments": {"first": 0.5, "largest": 0.5}}, "rub": {"increments": {"largest": 0.25}}},
    "supports": {"base": {"on": "block.bottom", "fix": ["x", "y", "z"]}},
    "motions": {"press": {"on": "tool", "along": "y", "course": -0.15}, "rub": {"on": "tool", "along": "x", "course": {
      "press": 0, "rub": 0.4}}}})";
}

TEST(FacetTool, PressesAndRubsLikeTheExactOne) {
  const auto exact = solved(pressedBy(0));
  for (const auto& [level, limit] : {std::pair{2, 0.03}, {3, 0.003}}) {
    const auto facets = solved(pressedBy(level));
    for (const char* what :
         {"motions/press/force y", "motions/rub/force x", "contacts/touch/greatest pressure", "contacts/touch/friction work"})
      EXPECT_NEAR(facets.last(what) / exact.last(what), 1, limit) << what << ", facets quartered " << level << " times";
    EXPECT_NEAR(facets.last("balance/force"), 0, 1e-6);
  }
}

TEST(FacetTool, ContactIntegralsHaveTheSlopesTheySay) {
  const auto net = ball(8, 2);
  contact::RigidBody body;
  body.facets = std::make_shared<geometry::FacetSurface>(net.points, net.triangles, 0.6, "tool");
  body.pivot = {0.3, 0.2, -0.1};
  contact::SpaceFace face;  // a tilted face just inside the ball's south
  face.corners = face.nodes = 4;
  const Eigen::Vector3d corner[4] = {{0.35, -7.9, 0.2}, {0.3, -7.95, 0.6}, {0.7, -7.93, 0.65}, {0.72, -7.9, 0.22}};
  for (size_t i = 0; i < 4; ++i) face.now[i] = corner[i], face.before[i] = corner[i] + Eigen::Vector3d(0.01, -0.02, 0.005);
  if (contact::Point3((face.now[1] - face.now[0]).cross(face.now[2] - face.now[0])).y() < 0)
    std::swap(face.now[1], face.now[3]), std::swap(face.before[1], face.before[3]);
  contact::SpacePlace place;
  place.now << 0.02, -0.01, 0.03, 0.02, -0.03, 0.01;
  place.before.setZero();
  std::array<contact::CornerTraction, 4> traction;
  for (size_t a = 0; a < 4; ++a) traction[a] = {3 + double(a), contact::Point3(0.4, -0.1, 0.2 * double(a))};
  const auto at = [&](contact::FaceIntegral& out) {
    return contact::integrateFaceRigid(face, body, place, traction, 2, true, out);
  };
  contact::FaceIntegral q, plus, minus;
  ASSERT_TRUE(at(q));
  ASSERT_TRUE(q.touched);
  const double h = 1e-6;
  for (int j = 0; j < q.dofs; ++j) {
    double& x = j < 12 ? face.now[size_t(j / 3)][j % 3] : place.now[j - 12];
    const double kept = x;
    x = kept + h, at(plus);
    x = kept - h, at(minus);
    x = kept;
    EXPECT_LT(((plus.force - minus.force) / (2 * h) - q.stiffness.col(j)).norm(), 1e-6 * q.stiffness.norm()) << j;
    for (size_t a = 0; a < 4; ++a) {
      EXPECT_NEAR((plus.gap[a] - minus.gap[a]) / (2 * h), q.dGap(j, Eigen::Index(a)), 1e-6);
    }
  }
}

TEST(FacetTool, IsRefusedWhereItCannotBe) {
  const auto refusal = [](const std::string& text) { return sentence([&] { lowered(text); }); };
  EXPECT_NE(refusal(pressedBy(1, R"(, "revolve": {"angle": 90})")).find("neither extruded nor revolved"), std::string::npos);
  EXPECT_NE(refusal(with(pressedBy(1), R"("rigid": true, "pivot": [3.1, 11, 2.9])", R"("material": "steel")"))
                .find("facets make rigid parts only"),
            std::string::npos);
}

}  // namespace
