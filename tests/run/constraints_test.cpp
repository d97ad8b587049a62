// Supports and motions: oblique, radial, turning; who goes first; loads in balance.
#include <gtest/gtest.h>

#include "run/small_runs.hpp"

#include <numbers>

#include "core/base/error.hpp"
#include "core/lower/lower.hpp"
#include "core/run/assembly.hpp"

using namespace anvil;
using analysis::VectorXd;

namespace {

std::unique_ptr<analysis::Problem> quarterRing(const std::string& rest, const std::string& space = "solid",
                                               const std::string& sweep = R"(, "extrude": {"depth": 2, "count": 2})") {
  return lowered(R"({"anvil": 1, "space": ")" + space + R"(",
    "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}, "expansion": 1e-4}},
    "parts": {"p": {"material": "m", "element": ")" +
                 (space == "solid" ? "hex8" : "quad4") +
                 R"(", "shape": {"ring": {"inner": 3, "outer": 5, "from": 0, "to": 90}}, "mesh": {"count": [2, 6]})" + sweep +
                 R"(}},
    "steps": {"one": {}, "two": {}}, )" +
                 rest + "}");
}

TEST(Constraints, RadialAndAroundAreOrthogonalAndKeepTheirNodes) {
  auto p = quarterRing(
      R"("supports": {"hold": {"on": "p.outer", "fix": ["radial z", "z"]}}, "motions": {"spin": {"on": "p.outer",
        "along": "around z", "course": 0.4}})");
  const analysis::Constraints c(*p, 0);
  VectorXd u = VectorXd::Zero(p->dofs());
  c.toLocal(u), c.prescribe(1, VectorXd::Zero(p->dofs()), u), c.toGlobal(u);
  for (int n : p->mesh.nodesOf(p->mesh.face("p.outer")->facets)) {
    const Eigen::Vector3d x = p->mesh.x[size_t(n)],
                          e = Eigen::Vector3d::UnitZ().cross(Eigen::Vector3d(x.x(), x.y(), 0).normalized());
    EXPECT_LT((p->at(u, n) - 0.4 * e).norm(), 1e-12);
    for (int k = 0; k < 3; ++k) EXPECT_EQ(c.equation(3 * n + k), -1);
  }
}

TEST(Supports, WhatLiesOnTheAxisStaysThereAndMayTurn) {
  // a quarter of a cylinder turned about y from the axis: held radially at its end, with nodes on the axis
  const std::string text = R"({"space": "solid", "materials": {"m": {"elastic": {"E": 200000, "nu": 0.3}}},
    "parts": {"p": {"material": "m", "element": "hex8", "mesh": {"count": [3, 2]}, "shape": {"rectangle": {"at": [0, 0],
      "size": [3, 2]}}, "revolve": {"angle": 90, "count": 3}}},
    "steps": {"s": {}},
    "supports": {"low": {"on": "p.bottom", "fix": "y"}, "ends": {"on": ["p.front", "p.back"], "fix": "normal"}, "grip": {
      "on": "p.top", "fix": ["radial y", "around y"]}},
    "motions": {"pull": {"on": "p.top", "along": "y", "course": 0.02}}})";
  const auto s = solved(text);
  const auto& last = s.course.all.back();
  int held = 0;
  for (size_t n = 0; n < s.p->mesh.x.size(); ++n)
    if (std::abs(s.p->mesh.x[n].y() - 2) < 1e-9) {
      const auto u = s.p->at(last.displacement, int(n));
      EXPECT_NEAR(std::hypot(u.x(), u.z()), 0, 1e-15) << s.p->mesh.x[n].transpose();
      ++held;
    }
  EXPECT_GT(held, 12);
  EXPECT_LT(s.p->at(last.displacement, s.p->mesh.blocks.front().nodes[2]).x(), 0) << "the rest narrows";
}

TEST(Constraints, ATurnIsAFiniteRotationAndGoesOnFromWhereItIs) {
  auto p = quarterRing(
      R"("motions": {"turn": {"on": "p.start", "along": "turn z", "about": [1, 1, 0], "course": {"one": "90 deg",
        "two": "180 deg"}}})");
  const auto nodes = p->mesh.nodesOf(p->mesh.face("p.start")->facets);
  VectorXd u = VectorXd::Zero(p->dofs()), before = u;
  for (int step = 0; step < 2; ++step) {
    const analysis::Constraints c(*p, step);
    c.prescribe(step + 1, before, u);
    for (int n : nodes) {
      const Eigen::Vector3d X = p->mesh.x[size_t(n)], arm = X - Eigen::Vector3d(1, 1, 0);
      const Eigen::Vector3d expected =
          step == 0 ? Eigen::Vector3d(-arm.y(), arm.x(), arm.z()) : Eigen::Vector3d(-arm.x(), -arm.y(), arm.z());
      EXPECT_LT((X + p->at(u, n) - Eigen::Vector3d(1, 1, 0) - expected).norm(), 1e-10);
      EXPECT_GE(c.equation(3 * n + 2), 0) << "free along the axis";
    }
    before = u;
  }
}

TEST(Constraints, AMotionGoesBeforeASupportAndTwoMotionsClash) {
  auto p = quarterRing(
      R"("supports": {"hold": {"on": "p.front", "fix": ["x", "y", "z"]}}, "motions": {"push": {"on": "p.front", "along": [0, 1,
        1], "course": 0.1}})");
  const analysis::Constraints c(*p, 0);
  VectorXd u = VectorXd::Zero(p->dofs());
  c.prescribe(1, u, u);
  for (int n : p->mesh.nodesOf(p->mesh.face("p.front")->facets))
    EXPECT_NEAR(p->at(u, n).dot(Eigen::Vector3d(0, 1, 1).normalized()), 0.1, 1e-12);
  auto clash = quarterRing(
      R"("motions": {"a": {"on": "p.front", "along": "z", "course": 0.1}, "b": {"on": "p.front", "along": "z", "course": 0.2}})");
  EXPECT_THROW(analysis::Constraints(*clash, 0), Error);
}

TEST(Constraints, NodesWhereNormalsMeetHoldBoth) {
  auto p = quarterRing(
      R"("supports": {"walls": {"on": ["p.start", "p.end", "p.front"], "fix": "normal"}, "ring": {"on": "p.inner",
        "fix": "normal"}})");
  const analysis::Constraints c(*p, 0);
  int fully = 0, framed = 0;
  for (int n : p->mesh.nodesOf(p->mesh.face("p.inner")->facets)) {
    int given = 0;
    for (int k = 0; k < 3; ++k) given += c.equation(3 * n + k) < 0;
    fully += given == 3, framed += c.framed(n);
    EXPECT_GE(given, 1);
  }
  EXPECT_GE(framed, 5);
  EXPECT_GE(fully, 2) << "on the edge of three faces";
}

/// Sum of applied forces, and their moment about the origin, at displacements u.
std::pair<Eigen::Vector3d, Eigen::Vector3d> applied(analysis::Problem& p, const VectorXd& u) {
  const analysis::Constraints c(p, 0);
  analysis::Assembly a(p);
  a.setConstraints(c);
  const VectorXd before = VectorXd::Zero(p.dofs());
  analysis::LoadLevel m;
  m.time = 1, m.before = &before;
  a.evaluate(u, m, false, false, false, nullptr);
  Eigen::Vector3d force = Eigen::Vector3d::Zero(), moment = force;
  for (int n = 0; n < p.nodeCount(); ++n)
    force += p.at(a.external(), n), moment += (p.mesh.x[size_t(n)] + p.at(u, n)).cross(p.at(a.external(), n));
  return {force, moment};
}

TEST(Loads, PressureAllRoundIsInBalanceWhateverTheShape) {
  auto p = quarterRing(R"("loads": {"water": {"on": "p", "course": 3}})");
  VectorXd u(p->dofs());
  for (int i = 0; i < p->dofs(); ++i) u[i] = 0.05 * std::sin(double(i));
  const auto [force, moment] = applied(*p, u);
  EXPECT_LT(force.norm(), 1e-10);
  EXPECT_LT(moment.norm(), 1e-10);
}

TEST(Loads, AForceIsATotalOfItsDirection) {
  for (const std::string space : {"solid", "plane strain", "axisymmetric"}) {
    auto p =
        quarterRing(space == "solid" ? R"("loads": {"pull": {"on": "p.end", "kind": "force", "along": [1, 2, 2], "course": 30}})"
                                     : R"("loads": {"pull": {"on": "p.end", "kind": "force", "along": [3, 4], "course": 30}})",
                    space, space == "solid" ? R"(, "extrude": {"depth": 2, "count": 2})" : "");
    const auto [force, moment] = applied(*p, VectorXd::Zero(p->dofs()));
    EXPECT_LT((force - (space == "solid" ? Eigen::Vector3d(10, 20, 20) : Eigen::Vector3d(18, 24, 0))).norm(), 1e-10) << space;
  }
}

TEST(Loads, PressureOnAProjectionIsPressureTimesItsArea) {
  auto p = quarterRing(R"("loads": {"inside": {"on": "p.inner", "course": 7}})");
  const auto force = applied(*p, VectorXd::Zero(p->dofs())).first;
  EXPECT_NEAR(force.x(), 7 * 3 * 2, 1e-9);  // outwards, on the projected area: radius times depth
  EXPECT_NEAR(force.y(), 7 * 3 * 2, 1e-9);
  EXPECT_NEAR(force.z(), 0, 1e-12);
}

TEST(Temperature, FreeExpansionIsWithoutStress) {
  for (const std::string space : {"solid", "plane stress"}) {
    auto p = quarterRing(R"("temperatures": {"warm": {"on": "p", "rise": 200}})", space,
                         space == "solid" ? R"(, "extrude": {"depth": 2, "count": 2})" : "");
    const analysis::Constraints c(*p, 0);
    analysis::Assembly a(*p);
    a.setConstraints(c);
    const VectorXd before = VectorXd::Zero(p->dofs());
    analysis::LoadLevel m;
    m.time = 1, m.before = &before;
    VectorXd u(p->dofs());
    const double growth = std::exp(200 * 1e-4) - 1;
    for (int n = 0; n < p->nodeCount(); ++n)
      for (int k = 0; k < p->dim(); ++k) u[p->dim() * n + k] = growth * p->mesh.x[size_t(n)][k];
    a.evaluate(u, m, false, false, false, nullptr);
    EXPECT_LT(a.residual().norm(), 1e-9) << space;
  }
}

TEST(Lowering, DirectionsAndPointsAreCheckedInWords) {
  const auto trouble = [](const std::string& rest) {
    try {
      quarterRing(rest);
    } catch (const Error& e) {
      return std::string(e.what());
    }
    return std::string("no error");
  };
  EXPECT_NE(trouble(R"("motions": {"a": {"on": "p.front", "along": "turn", "course": 1}})").find("axis of the turn"),
            std::string::npos);
  EXPECT_NE(trouble(R"("supports": {"a": {"on": "p.front", "fix": "radial"}})").find("axis is not said"), std::string::npos);
  EXPECT_NE(trouble(R"("motions": {"a": {"on": "p.front", "along": [1, 0], "course": 1}})").find("direction is not understood"),
            std::string::npos);
  EXPECT_NE(trouble(R"("watch": {"a": {"part": "p", "at": [1, 2]}})").find("three coordinates"), std::string::npos);
  EXPECT_NE(trouble(R"("temperatures": {"a": {"on": "q", "rise": 1}})").find("there is no part 'q'"), std::string::npos);
}

/// A square sheet with two hinged edges that meet at a corner, and what else is given.
std::unique_ptr<analysis::Problem> hingedSheet(const std::string& supports) {
  return lowered(R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {"p": {"material": "m", "mesh": {"count": [3, 3]}, "shape": {"rectangle": {"at": [0, 0], "size": [3, 3]}},
      "thin": {"thickness": 0.1}}},
    "steps": {"one": {}, "two": {}}, "supports": {)" +
                 supports + "}}");
}
const std::string twoEdges =
    R"("left": {"on": "p.left", "edge": "hinged", "fix": ["x", "z"]}, "low": {"on": "p.bottom", "edge": "hinged", "fix": ["z"]})";

TEST(Constraints, HingesThatShareACornerHoldItOnce) {
  const auto p = hingedSheet(twoEdges);
  EXPECT_EQ(p->hinges.size(), 7u);  // pairs of nodes: four and four with one in common
  const analysis::Constraints c(*p, 0);
  EXPECT_EQ(c.hinges().size(), 4u * 2 + 3u);  // x and z on the left, z on the rest of the bottom
  EXPECT_EQ(c.equationsBehind(), 11);
  EXPECT_TRUE(c.idleHinges().empty());
  for (const auto& h : c.hinges()) EXPECT_GE(c.equation(h.multiplier), 0);
}

TEST(Constraints, AHingeAddsNothingToWhatIsHeldOnBothSides) {
  const auto p = hingedSheet(
      twoEdges + R"(, "plane": {"on": "p.left", "fix": ["x"]}, "wall": {"on": "p.bottom", "fix": ["z"], "during": "two"})");
  const analysis::Constraints first(*p, 0), second(*p, 1);
  EXPECT_EQ(first.hinges().size(), 7u);  // z alone
  EXPECT_EQ(first.idleHinges().size(), 1u);
  EXPECT_EQ(second.hinges().size(), 3u);  // of the left edge, without the corner
  EXPECT_EQ(second.idleHinges().size(), 2u);
}

}  // namespace
