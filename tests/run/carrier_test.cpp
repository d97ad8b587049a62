// Carriers, springs, bodies that loads move: tangents against differences, closed forms, balances, words for bad input.
#include <gtest/gtest.h>

#include <Eigen/Geometry>
#include <numbers>
#include <random>

#include "core/base/error.hpp"
#include "core/contact/rotation.hpp"
#include "core/lower/lower.hpp"
#include "core/run/carrier_parts.hpp"
#include "run/small_runs.hpp"
#include "run/tangents.hpp"

using namespace anvil;
using Eigen::Vector3d;
using Eigen::VectorXd;

namespace {

const char* const heldBar = R"({
  "anvil": 1, "thickness": 2,
  "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
  "parts": {"bar": {"material": "steel", "element": "quad8", "shape": {"rectangle": {"at": [0, 0], "size": [40, 4]}}, "mesh": {
    "count": [20, 2]}}},
  "space": "plane stress",
  "steps": {"pull": {"increments": {"first": 1, "largest": 1}}},
  "supports": {"wall": {"on": "bar.left", "fix": "x"}, "corner": {"on": "pin", "fix": "y"}},
  "carriers": {"tip": {"on": "bar.right", "hold": "mean"}, "pin": {"on": "bar.left", "hold": "mean"}},
  "loads": {"pull": {"on": "tip", "kind": "force", "along": "x", "course": 800}}
})";

const char* const block = R"({
  "anvil": 1, "space": "solid",
  "materials": {"steel": {"elastic": {"E": 1000, "nu": 0.3}}},
  "parts": {
    "block": {"material": "steel", "element": "hex8", "shape": {"rectangle": {"at": [0, 0], "size": [3, 2]}}, "extrude": {
      "depth": 2, "count": 2}, "mesh": {"count": [3, 2]}},
    "handle": {"rigid": true, "loose": ["x", "turn y"], "pivot": [6, 1, 1], "shape": {"profile": {"start": [5, 0], "path": [{
      "line": [5, 2]}]}}, "extrude": {"depth": 2}}
  },
  "steps": {"pull": {}},
  "supports": {"wall": {"on": "block.left", "fix": ["x", "y", "z"]}},
  "carriers": {"tip": {"on": "block.right", "at": [4, 1.5, 0.7], "hold": "rigid"}, "top": {"on": "block.top", "hold": "mean"}},
  "springs": {"link": {"between": ["tip", "handle"], "rows": [[-1, -30], [0, 0], [1, 90]], "damping": 4},
              "twist": {"between": ["top"], "along": "turn z", "stiffness": 70}, "lean": {"between": ["tip"], "along": "z",
        "stiffness": 12}},
  "loads": {"pull": {"on": "tip", "kind": "force", "along": [1, 2, 0], "course": 30}, "twist": {"on": "top", "kind": "moment",
    "along": [1, 2, 3], "course": 25}}
})";

std::string holdRefusal(const std::string& text) {
  try {
    auto p = lowered(text);
    for (size_t s = 0; s < p->steps.size(); ++s) analysis::Constraints(*p, int(s));
  } catch (const Error& e) {
    return e.what();
  }
  return "no error";
}

}  // namespace

TEST(Carrier, TangentMatchesDifferencesInThePlane) {
  const std::string bent = with(heldBar, "\"mesh\": {\"count\": [20, 2]}", "\"mesh\": {\"count\": [4, 2]}");
  EXPECT_LT(tangentError(bent, 1), 1e-6);
  EXPECT_LT(tangentError(with(bent, "bar.right\", \"hold\": \"mean\"", "bar.right\", \"hold\": \"rigid\", \"at\": [45, 1]"), 1),
            1e-6);
}

TEST(Carrier, TangentMatchesDifferencesInSpaceAtLargeTurns) {
  for (double turn : {0.1, 1., 4.}) EXPECT_LT(tangentError(block, turn), 1e-6) << turn;
}

TEST(Carrier, AMeanCarrierLetsTheFaceContract) {
  auto p = lowered(heldBar);
  Last l;
  analysis::run(*p, l);
  const double strain = 800 / (2 * 4 * 200000.);  // to first order
  EXPECT_NEAR(history(*p, l, "carriers/tip/ux"), 40 * strain, 40 * strain * strain * 2);
  EXPECT_NEAR(history(*p, l, "carriers/tip/force x"), 800, 1e-6);
  EXPECT_NEAR(history(*p, l, "carriers/tip/moment"), 0, 1e-6);
  for (const auto& q : l.last.points) EXPECT_NEAR(q.stress[0], 100, 0.1) << "uniform tension, also at the loaded face";
  EXPECT_NEAR(history(*p, l, "energy/imbalance"), 0, 1e-3 * history(*p, l, "energy/strain"))
      << "one increment by the trapezoidal rule: off by the strain";
}

TEST(Carrier, ARigidCarrierHoldsTheFacesShape) {
  auto p = lowered(with(heldBar, "bar.right\", \"hold\": \"mean\"", "bar.right\", \"hold\": \"rigid\""));
  Last l;
  analysis::run(*p, l);
  const auto& tip = p->carriers.front();
  for (int n : tip.nodes) {
    EXPECT_NEAR(p->at(l.last.displacement, n).y(), p->at(l.last.displacement, tip.nodes.front()).y(), 1e-10);
    EXPECT_NEAR(p->at(l.last.displacement, n).x(), history(*p, l, "carriers/tip/ux"), 1e-10);
  }
}

TEST(Carrier, AFiniteTurnAboutAnyAxisIsExact) {  // the whole block follows its carrier as a rigid body
  std::string text = with(block, "\"supports\": {\"wall\": {\"on\": \"block.left\", \"fix\": [\"x\", \"y\", \"z\"]}},", "");
  text = with(text, "\"at\": [4, 1.5, 0.7]", "\"at\": [1, 1, 1]");
  text = with(text, "\"loose\": [\"x\", \"turn y\"], ", "");
  const auto cut = text.find("\"springs\"");
  text = text.substr(0, cut) + R"("supports": {"stay": {"on": "tip", "fix": ["x", "y", "z"]}},
    "motions": {"turn": {"on": "tip", "along": "turn", "axis": [1, 2, 2], "course": 200}}})";
  auto p = lowered(text);
  Last l;
  analysis::run(*p, l);
  const Eigen::Matrix3d R = Eigen::AngleAxisd(200 * std::numbers::pi / 180, Vector3d(1, 2, 2) / 3).toRotationMatrix();
  const Vector3d pivot(1, 1, 1);
  for (int n = 0; n < p->nodeCount(); ++n) {
    const Vector3d wanted = pivot + R * (p->mesh.x[size_t(n)] - pivot), is = p->mesh.x[size_t(n)] + p->at(l.last.displacement, n);
    EXPECT_LT((is - wanted).norm(), 1e-7);
  }
  EXPECT_NEAR(history(*p, l, "motions/turn/travel"), 200 * std::numbers::pi / 180, 1e-12);
}

TEST(Body, AToolUnderAForcePressesWithThatForceAndIsThenMovedByTravel) {
  auto p = lowered(R"({
    "anvil": 1,
    "materials": {"soft": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {
      "block": {"material": "soft", "element": "quad4", "shape": {"rectangle": {"at": [0, 0], "size": [10, 5]}}, "mesh": {
        "size": 1}},
      "tool": {"rigid": true, "shape": {"profile": {"start": [0, 10], "path": [{"arc": [10, 10], "center": [5, 10]}]}}}
    },
    "contacts": {"press": {"between": ["block.top", "tool"], "friction": 0.1}},
    "steps": {"touch": {}, "load": {}, "lift": {"increments": {"largest": 0.5}}},
    "supports": {"base": {"on": "block.bottom", "fix": ["x", "y"]}},
    "motions": {"way": {"on": "tool", "along": "y", "course": {"touch": -0.05, "load": "off", "lift": 0.2}}},
    "loads": {"weight": {"on": "tool", "kind": "force", "along": "y", "course": {"load": -150, "lift": "off"}}}
  })");
  struct : Last {
    std::map<int, std::vector<double>> ends;
    void converged(const analysis::Increment& i) override { ends[i.step] = i.histories, Last::converged(i); }
  } l;
  analysis::run(*p, l);
  const auto at = [&](int step, const std::string& name) {
    l.last.histories = l.ends[step];
    return history(*p, l, name);
  };
  EXPECT_NEAR(at(0, "bodies/tool/uy"), -0.05, 1e-12);
  EXPECT_NEAR(at(1, "contacts/press/force y"), -150, 1e-4) << "on the block";
  EXPECT_NEAR(at(1, "motions/way/force y"), 0, 1e-9);
  EXPECT_LT(at(1, "bodies/tool/uy"), -0.05);
  EXPECT_NEAR(at(2, "contacts/press/force y"), 0, 1e-9) << "lifted off";
}

TEST(Body, WhatNothingHoldsOrHoldsTwiceIsNamed) {
  const auto trouble = [](const std::string& text) -> std::string {
    auto p = lowered(text);
    Last l;
    try {
      analysis::run(*p, l);
    } catch (const Error& e) {
      return e.what();
    }
    return "no error";
  };
  const auto loose =
      trouble(with(block, "\"link\": {\"between\": [\"tip\", \"handle\"]", "\"link\": {\"between\": \"tip\", \"along\": \"x\""));
  EXPECT_NE(loose.find("'handle' can move or turn freely"), std::string::npos) << loose;
  const auto twice = trouble(with(heldBar, "\"fix\": \"y\"}", "\"fix\": [\"y\", \"turn\"]}"));
  EXPECT_NE(twice.find("carrier 'pin' is held twice"), std::string::npos) << twice;
  EXPECT_EQ(trouble(with(heldBar, "\"pin\": {\"on\": \"bar.left\"", "\"pin\": {\"on\": [\"bar.left\", \"bar.bottom\"]")),
            "no error")
      << "a mean carrier beside the way does no harm";
}

TEST(Spring, LawGoesOnStraightAndItsEnergyIsTheArea) {
  Curve c;
  c.add(-1, -30), c.add(0, 0), c.add(1, 90);
  EXPECT_DOUBLE_EQ(analysis::springLaw(c, 2).force, 180);
  EXPECT_DOUBLE_EQ(analysis::springLaw(c, -2).force, -60);
  EXPECT_DOUBLE_EQ(analysis::springLaw(c, 2).energy, 180);
  EXPECT_DOUBLE_EQ(analysis::springLaw(c, -2).energy, 60);
  EXPECT_DOUBLE_EQ(analysis::springLaw(c, -0.5).slope, 30);
}

TEST(Spring, TakesUnitsAndBareNumbersInNewtonAndMillimetre) {
  const std::string units = R"("units": {"length": "m", "force": "kN", "angle": "deg"}, "space")";
  const auto spring = [&](const std::string& entries) {
    auto text = with(block, "\"rows\": [[-1, -30], [0, 0], [1, 90]], \"damping\": 4", entries);
    text = with(text, "\"stiffness\": 70", "\"stiffness\": \"7 N m/rad\", \"damping\": \"0.5 N m s/deg\"");
    return lowered(with(text, "\"space\"", units))->springs;
  };
  const auto of = [](double e, const auto& s) { return analysis::springLaw(s.force, e).force; };
  const auto plain = spring(R"("stiffness": 5, "damping": 4)"), named = spring(R"("stiffness": "5 kN/m", "damping": "4 kN s/m")");
  for (const auto& list : {plain, named}) {
    EXPECT_NEAR(of(2, list[0]), 10, 1e-12);
    EXPECT_NEAR(list[0].damping, 4, 1e-12);
    EXPECT_NEAR(of(0.1, list[1]), 700, 1e-9);  // N mm, by an angle in rad
    EXPECT_NEAR(list[1].damping, 500 * 180 / std::numbers::pi, 1e-6);
  }
  const auto rows = spring(R"("rows": [[-1, -30], [0, 0], ["0.1 cm", "0.09 kN"]])");
  EXPECT_NEAR(of(1, rows[0]), 90, 1e-12);
  EXPECT_NEAR(of(-1, rows[0]), -30, 1e-12);
}

TEST(Spring, InSeriesWithABarSharesTheTravel) {
  std::string text = with(
      heldBar, "\"loads\": {\"pull\": {\"on\": \"tip\", \"kind\": \"force\", \"along\": \"x\", \"course\": 800}}",
      R"("springs": {"link": {"between": ["tip", "grip"], "stiffness": 20000}}, "motions": {"away": {"on": "grip", "along": "x",
        "course": 0.06}})");
  text = with(text, "\"space\"", "\"geometry\": \"small\", \"space\"");
  text = with(text, "\"parts\": {",
              "\"parts\": {\"grip\": {\"rigid\": true, \"pivot\": [50, 2], \"shape\": {\"profile\": {\"start\": [50, 0], "
              "\"path\": [{\"line\": [50, 4]}]}}}, ");
  auto p = lowered(text);
  Last l;
  analysis::run(*p, l);
  const double stiff = 200000 * 8 / 40., force = 0.06 / (1 / stiff + 1 / 20000.);
  EXPECT_NEAR(history(*p, l, "springs/link/force"), force, 1e-6 * force);
  EXPECT_NEAR(history(*p, l, "carriers/tip/ux"), force / stiff, 1e-9);
  EXPECT_NEAR(history(*p, l, "motions/away/force x"), force, 1e-6 * force);
  EXPECT_NEAR(history(*p, l, "energy/springs"), force * force / 40000, 1e-9 * force * force);
  EXPECT_NEAR(history(*p, l, "energy/imbalance"), 0, 1e-9 * force);
}

TEST(Spring, ADashpotTakesForceTimesSpeed) {
  std::string text =
      with(heldBar, "\"loads\": {\"pull\": {\"on\": \"tip\", \"kind\": \"force\", \"along\": \"x\", \"course\": 800}}",
           R"("springs": {"damper": {"between": ["tip"], "along": "x", "damping": 500}}, "motions": {"away": {"on": "tip",
        "along": "x", "course": 0.02}})");
  text = with(text, "\"first\": 1, \"largest\": 1", "\"first\": 0.25, \"largest\": 0.25");
  text = with(text, "\"space\"", "\"geometry\": \"small\", \"space\"");
  auto p = lowered(text);
  Last l;
  analysis::run(*p, l);
  EXPECT_NEAR(history(*p, l, "motions/away/force x") - 0.02 * 200000 * 8 / 40, 500 * 0.02, 1e-6);
  EXPECT_NEAR(history(*p, l, "energy/dashpots"), 500 * 0.02 * 0.02, 1e-9);
}

TEST(Carrier, BadInputIsAnsweredInWords) {
  EXPECT_NE(holdRefusal(with(heldBar, "\"on\": \"tip\"", "\"on\": \"tpi\"")).find("Did you mean 'tip'?"), std::string::npos);
  EXPECT_NE(holdRefusal(with(heldBar, "bar.right\"", "bar.rigth\"")).find("Did you mean 'bar.right'?"), std::string::npos);
  const auto both =
      holdRefusal(with(with(heldBar, "\"on\": \"bar.left\", \"hold\": \"mean\"", "\"on\": \"bar.left\", \"hold\": \"rigid\""),
                       "\"kind\": \"force\"", "\"kind\": \"force\""));
  EXPECT_NE(both.find("carrier 'pin' holds part 'bar'"), std::string::npos) << both;
  const auto twice = holdRefusal(with(with(heldBar, "bar.right\", \"hold\": \"mean\"", "bar.top\", \"hold\": \"rigid\""),
                                      "bar.left\", \"hold\": \"mean\"", "bar.right\", \"hold\": \"rigid\""));
  EXPECT_NE(twice.find("both hold part 'bar'"), std::string::npos) << twice;
  EXPECT_NE(holdRefusal(with(heldBar, "\"kind\": \"force\", \"along\": \"x\"", "\"kind\": \"moment\", \"along\": \"z\""))
                .find("no error"),
            std::string::npos);
  EXPECT_NE(holdRefusal(with(block, "\"between\": [\"tip\", \"handle\"]", "\"between\": [\"tip\", \"hnadle\"]"))
                .find("Did you mean 'handle'?"),
            std::string::npos);
  EXPECT_NE(holdRefusal(with(block, "[0, 0], [1, 90]", "[0, 0], [0, 90]")).find("does not rise above the row before"),
            std::string::npos);
  EXPECT_NE(holdRefusal(with(block, "\"loose\": [\"x\", \"turn y\"]", "\"loose\": [\"x\", \"trun y\"]"))
                .find("'trun y' is not understood"),
            std::string::npos);
  EXPECT_NE(
      holdRefusal(with(block, "\"stiffness\": 70", "\"stiffness\": 70, \"rows\": [[0, 0], [1, 1]]")).find("a stiffness and rows"),
      std::string::npos);
}
