// A surface against itself: which sides may meet, everything against everything, and rotations.
#include <gtest/gtest.h>

#include <Eigen/Geometry>
#include <Eigen/LU>
#include <numbers>

#include "core/base/error.hpp"
#include "core/base/memory.hpp"
#include "core/checks/readiness.hpp"
#include "core/contact/rotation.hpp"
#include "core/contact/side_integral.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "run/small_runs.hpp"

using namespace anvil;
using Eigen::Vector3d;
using Eigen::VectorXd;

namespace {

const char* const ring = R"({
  "anvil": 1,
  "materials": {"soft": {"elastic": {"E": 1000, "nu": 0.3}}},
  "parts": {"ring": {"material": "soft", "element": "quad4", "mesh": {"count": [2, 24]}, "shape": [
    {"ring": {"center": [0, 0], "inner": 9, "outer": 10, "from": 0, "to": 180}, "edges": ["", "skin", "", "bore"]},
    {"ring": {"center": [0, 0], "inner": 9, "outer": 10, "from": 180, "to": 360}, "edges": ["", "skin", "", "bore"]}]}},
  "contacts": {"self": {"between": "ring"}},
  "steps": {"rest": {}},
  "supports": {"hold": {"on": "ring.skin", "fix": ["x", "y"]}}
})";

/// Two blocks, the upper pressed on the lower one.
const char* const twoBlocks = R"({
  "anvil": 1,
  "materials": {"soft": {"elastic": {"E": 1000, "nu": 0}}},
  "parts": {
    "low": {"material": "soft", "element": "quad4", "shape": {"rectangle": {"at": [0, 0], "size": [6, 3]}}, "mesh": {"count": [5,
      2]}},
    "high": {"material": "soft", "element": "quad4", "shape": {"rectangle": {"at": [0, 3], "size": [6, 3]}}, "mesh": {
      "count": [4, 2]}},
    "ram": {"rigid": true, "shape": {"profile": {"start": [-1, 6], "path": [{"line": [7, 6]}]}}}
  },
  "contacts": {"all": {"between": "everything"}},
  "steps": {"press": {}},
  "supports": {"base": {"on": "low.bottom", "fix": "y"}, "side": {"on": ["low.left", "high.left"], "fix": "x"}},
  "motions": {"press": {"on": "ram", "along": "y", "course": -0.06}}
})";

}  // namespace

TEST(SelfContact, TheWallIsNotTakenForAGap) {
  auto p = lowered(ring);
  const auto& setup = p->pairs.front().setup();
  EXPECT_TRUE(setup.self);
  EXPECT_LT(setup.reach, 1.) << "below the wall's thickness";
  EXPECT_GT(setup.reach, 0.5);
  const auto walls = contact::wallsOf(setup.slave, p->mesh, 5);
  EXPECT_NEAR(walls.thickness, 1, 0.02);
  const VectorXd u = VectorXd::Zero(p->dofs());
  const contact::Configuration c{p->dim(), &p->mesh.x, &u, &u, &p->rigid, p->depth()};
  const auto start = p->pairs.front().measureInitial(c);
  EXPECT_EQ(start.nodes, 0) << "nothing touches in a round ring";
}

TEST(SelfContact, EachCoupleOfSidesIsMetOnceAndNeighboursNever) {
  auto p = lowered(ring);
  const auto& setup = p->pairs.front().setup();
  VectorXd u(p->dofs());  // crushed almost flat
  for (int n = 0; n < p->nodeCount(); ++n)
    u[2 * n] = 0.5 * p->mesh.x[size_t(n)].x(), u[2 * n + 1] = -0.93 * p->mesh.x[size_t(n)].y();
  const contact::Configuration c{p->dim(), &p->mesh.x, &u, &u, &p->rigid, p->depth()};
  const auto facing = contact::facingSides(setup, c);
  int couples = 0;
  for (size_t s = 0; s < facing.size(); ++s)
    for (int m : facing[s]) {
      ++couples;
      EXPECT_GT(m, int(s));
      for (int i = 0; i < 2; ++i)
        for (int j = 0; j < 2; ++j) EXPECT_NE(setup.slave.sides[s].node[size_t(i)], setup.slave.sides[size_t(m)].node[size_t(j)]);
    }
  EXPECT_GT(couples, 20);
}

TEST(SelfContact, EverythingFindsWhatNamedContactsFind) {
  auto all = lowered(twoBlocks);
  ASSERT_EQ(all->pairs.size(), 2u);  // the ram, and the parts among themselves
  EXPECT_EQ(all->pairs.front().setup().name, "all with ram");
  Last l;
  analysis::run(*all, l);
  auto named =
      lowered(with(twoBlocks, "\"all\": {\"between\": \"everything\"}",
                   "\"ram\": {\"between\": [\"high.top\", \"ram\"]}, \"seam\": {\"between\": [\"low.top\", \"high.bottom\"]}"));
  Last n;
  analysis::run(*named, n);
  const double force = 1000 * 6 * 0.01;  // to first order: strain 0.01 over both
  EXPECT_NEAR(history(*named, n, "motions/press/force y"), -force, 0.02 * force);
  EXPECT_NEAR(history(*all, l, "motions/press/force y"), history(*named, n, "motions/press/force y"), 1e-3 * force);
  EXPECT_NEAR(history(*all, l, "contacts/all/pressure times area"), history(*named, n, "contacts/seam/pressure times area"),
              1e-3 * force);
  EXPECT_NEAR(history(*all, l, "contacts/all/force y"), 0, 1e-9) << "inner forces of one surface cancel";
}

TEST(SelfContact, ARigidBodyCannotTouchItself) {
  try {
    lowered(with(twoBlocks, "\"everything\"", "\"ram\""));
    FAIL();
  } catch (const Error& e) {
    EXPECT_NE(std::string(e.what()).find("cannot touch itself"), std::string::npos) << e.what();
  }
}

TEST(Contact, TheToolsMomentIsThatOfTheTractions) {
  auto p = lowered(with(twoBlocks, "\"all\": {\"between\": \"everything\"}",
                        "\"ram\": {\"between\": [\"high.top\", \"ram\"], \"friction\": 0.2}, \"seam\": "
                        "{\"between\": [\"low.top\", \"high.bottom\"], \"friction\": 0.3}"));
  Last l;
  analysis::run(*p, l);
  EXPECT_NEAR(history(*p, l, "contacts/ram/moment"), history(*p, l, "motions/press/moment"),
              1e-6 * std::abs(history(*p, l, "motions/press/moment")) + 1e-9);
}

TEST(Rotation, VectorAndMatrixAgreeBeyondWholeTurns) {
  for (const Vector3d& theta : {Vector3d(0.3, -1, 2), Vector3d(0, 0, 6.0), Vector3d(5, 4, -3), Vector3d(1e-9, 0, 0)}) {
    const Eigen::Matrix3d R = contact::rotationOf(theta);
    EXPECT_NEAR(R.determinant(), 1, 1e-13);
    EXPECT_LT((R - Eigen::AngleAxisd(theta.norm(), theta.normalized()).toRotationMatrix()).norm(), 1e-13);
    EXPECT_LT((contact::rotationVector(R, theta) - theta).norm(), 1e-9) << theta.transpose();
  }
}

TEST(Rotation, TheSpinIsTheDerivative) {
  const Vector3d theta(0.7, -1.9, 0.4), way(0.2, 0.5, -0.8), arm(1, 2, 3);
  const double h = 1e-6;
  const Vector3d slope = (contact::rotationOf(theta + h * way) - contact::rotationOf(theta - h * way)) * arm / (2 * h);
  EXPECT_LT((slope - (contact::spinOf(theta) * way).cross(contact::rotationOf(theta) * arm)).norm(), 1e-8);
}

TEST(Readiness, BlocksThatDoNotHangTogetherAreDoubted) {
  const std::string apart = with(ring, "\"from\": 180, \"to\": 360", "\"from\": 185, \"to\": 360");
  bool told = false;
  for (const auto& f : checks::readiness(model::parse(apart)).findings)
    told |= f.what.find("do not hang together") != std::string::npos;
  EXPECT_FALSE(told) << "still joined at 360 degrees";
  const std::string loose = with(apart, "\"from\": 185, \"to\": 360", "\"from\": 185, \"to\": 355");
  for (const auto& f : checks::readiness(model::parse(loose)).findings)
    told |= f.what.find("2 pieces that do not hang together") != std::string::npos;
  EXPECT_TRUE(told);
}

TEST(Readiness, ACarrierThatIsHeldOrSprungHoldsItsPart) {
  const std::string held = R"({"anvil": 1, "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {"bar": {"material": "m", "shape": {"rectangle": {"at": [0, 0], "size": [10, 2]}}, "mesh": {"size": 1}}},
    "carriers": {"end": {"on": "bar.left"}}, "steps": {"pull": {}}, "supports": {"grip": {"on": "end", "fix": ["x", "y",
      "turn"]}}})";
  const auto loose = [](const std::string& text) {
    std::string words;
    for (const auto& f : checks::readiness(model::parse(text)).findings)
      if (f.what.find("free to move") != std::string::npos) words += f.what;
    return words;
  };
  EXPECT_EQ(loose(held), "");
  EXPECT_NE(loose(with(held, "[\"x\", \"y\", \"turn\"]", "[\"x\", \"y\"]")).find("turning"), std::string::npos);
  EXPECT_EQ(
      loose(
          with(held, "\"fix\": [\"x\", \"y\", \"turn\"]}}",
               "\"fix\": [\"x\", \"y\"]}}, \"springs\": {\"s\": {\"between\": \"end\", \"along\": \"turn\", \"stiffness\": 5}}")),
      "");
}

TEST(Memory, TheSystemTellsHowMuchThereIs) {
  EXPECT_GT(availableMemory(), 10.);
  EXPECT_LT(availableMemory(), 1e300);
}
