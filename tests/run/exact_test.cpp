// Small structures with answers in closed form: torsion, a beam, a bimetal strip, Lamé's cylinder, rigid turns.
#include <gtest/gtest.h>

#include <fmt/format.h>
#include <numbers>

#include "run/small_runs.hpp"

using namespace anvil;

namespace {

using std::numbers::pi;

TEST(Exact, TorsionOfATube) {
  // inner 4, outer 6, length 10, one end turned by 0.01 degrees: T = G J θ / L, and no change of length to first order
  for (const auto& [element, limit] : {std::pair{"hex20", 2e-4}, {"hex8", 0.024}}) {  // a polygon of 24 sides is 2.3 % softer
    const auto s = solved(fmt::format(R"({{"space": "solid", "materials": {{"m": {{"elastic": {{"E": 208000, "nu": 0.3}}}}}},
      "parts": {{"tube": {{"material": "m", "element": "{}", "mesh": {{"count": [2, 5]}}, "shape": {{"rectangle": {{"at": [4, 0],
        "size": [2, 10]}}}}, "revolve": {{"angle": 360, "count": 24}}}}}},
      "steps": {{"turn": {{"increments": {{"first": 1, "largest": 1}}}}}}, "supports": {{"low": {{"on": "tube.bottom", "fix": [
        "x", "y", "z"]}}}},
      "motions": {{"turn": {{"on": "tube.top", "along": "turn y", "course": 0.01}}}}}})",
                                      element));
    const double G = 80000, J = pi / 2 * (std::pow(6, 4) - std::pow(4, 4)), theta = 0.01 * pi / 180;
    EXPECT_NEAR(s.last("motions/turn/moment y") / (G * J * theta / 10), 1, limit) << element;
    EXPECT_NEAR(s.last("motions/turn/moment x"), 0, 1e-6 * G * J * theta / 10);
  }
}

TEST(Exact, ACantileverUnderASmallForce) {
  // Timoshenko: F L³/(3 E I) + F L/(κ G A), κ = 5/6 for ν = 0
  const double L = 20, h = 2, b = 3, E = 100000, F = 1;
  const double exact = F * L * L * L / (3 * E * b * h * h * h / 12) + F * L / (5. / 6 * E / 2 * b * h);
  for (const auto& [element, limit] : {std::pair{"quad8", 1e-3}, {"tri6", 2e-3}}) {
    const auto s = solved(
        fmt::format(R"({{"space": "plane stress", "thickness": 3, "materials": {{"m": {{"elastic": {{"E": 100000, "nu": 0}}}}}},
      "parts": {{"beam": {{"material": "m", "element": "{}", "mesh": {{"count": [20, 2]}}, "shape": {{"rectangle": {{
        "at": [0, -1], "size": [20, 2]}}}}}}}},
      "steps": {{"s": {{"increments": {{"first": 1, "largest": 1}}}}}}, "supports": {{"wall": {{"on": "beam.left", "fix": ["x",
        "y"]}}}},
      "loads": {{"tip": {{"on": "beam.right", "kind": "force", "along": "y", "course": -1}}}}, "watch": {{"tip": {{
        "part": "beam", "at": [20, 0]}}}}}})",
                    element));
    EXPECT_NEAR(-s.last("watch/tip/uy") / exact, 1, limit) << element;
    EXPECT_NEAR(s.last("supports/wall/force y"), F, 1e-9);
  }
}

TEST(Exact, ABimetalStripBendsAsTimoshenkoFound) {
  // two equal layers tied to each other, expansion 20e-6 and 10e-6, 50 K: curvature 3/2 Δα ΔT / (h1 + h2)
  const auto s = solved(
      R"({"space": "plane stress", "materials": {"a": {"elastic": {"E": 200000, "nu": 0.3}, "expansion": 20e-6}, "b": {
        "elastic": {"E": 200000, "nu": 0.3}, "expansion": 10e-6}},
    "parts": {"low": {"material": "a", "element": "quad8", "mesh": {"count": [40, 1]}, "shape": {"rectangle": {"at": [0, 0],
      "size": [40, 0.5]}}},
              "high": {"material": "b", "element": "quad8", "mesh": {"count": [56, 1]}, "shape": {"rectangle": {"at": [0, 0.5],
        "size": [40, 0.5]}}}},
    "contacts": {"bond": {"between": ["low.top", "high.bottom"], "kind": "tied"}},
    "steps": {"warm": {"increments": {"first": 0.5, "largest": 0.5}}}, "supports": {"left": {"on": ["low.left", "high.left"],
      "fix": "x"}, "corner": {"on": "low.left", "fix": "y"}},
    "temperatures": {"warm": {"on": ["low", "high"], "rise": 50}}, "watch": {"tip": {"part": "high", "at": [40, 1]}}})");
  const double curvature = 1.5 * 10e-6 * 50 / 1;
  EXPECT_NEAR(s.last("watch/tip/uy") / (curvature * 40 * 40 / 2), 1, 0.01) << "the hotter side is below: it bends up";
}

TEST(Exact, LamesCylinder) {
  // inner pressure 10 on 20/40, plane strain: hoop stress at the bore 10 (b² + a²)/(b² - a²)
  const auto s =
      solved(R"({"space": "axisymmetric", "geometry": "small", "materials": {"m": {"elastic": {"E": 200000, "nu": 0.3}}},
    "parts": {"wall": {"material": "m", "element": "quad8", "mesh": {"count": [12, 1]}, "shape": {"rectangle": {"at": [20, 0],
      "size": [20, 2]}}}},
    "steps": {"s": {"increments": {"first": 1, "largest": 1}}}, "supports": {"ends": {"on": ["wall.bottom", "wall.top"],
      "fix": "z"}},
    "loads": {"p": {"on": "wall.left", "kind": "pressure", "course": 10}}, "watch": {"bore": {"part": "wall", "at": [20, 0]}}})");
  const double a = 20, b = 40, p = 10, E = 200000, nu = 0.3;
  const double bore = (1 + nu) / E * p * a * a / (b * b - a * a) * ((1 - 2 * nu) * a + b * b / a);
  EXPECT_NEAR(s.last("watch/bore/ur") / bore, 1, 1e-5);
  EXPECT_NEAR(s.last("energy/imbalance"), 0, 1e-9 * s.last("energy/strain"));
  EXPECT_NEAR(s.last("energy/strain"), 0.5 * p * 2 * pi * a * 2 * bore, 1e-4 * s.last("energy/strain"))
      << "half of pressure times the volume it moves";
}

class Turned : public ::testing::TestWithParam<const char*> {};

TEST_P(Turned, ABodyTurnedAsAWholeFeelsNothing) {
  const auto s = solved(fmt::format(
      R"({{"space": "solid", "materials": {{"m": {{"elastic": {{"E": 200000, "nu": 0.3}}, "plastic": {{"yield": 250,
        "tangent": 1000}}}}}},
    "parts": {{"p": {{"material": "m", "element": "{}", "mesh": {{"count": [2, 2]}}, "shape": {{"rectangle": {{"at": [0, 0],
      "size": [3, 2]}}}}, "extrude": {{"depth": 2, "count": 2}}}}}},
    "steps": {{"turn": {{}}}}, "carriers": {{"grip": {{"on": "p.left"}}}},
    "motions": {{"turn": {{"on": "grip", "along": "turn", "axis": [1, 2, -1], "course": 150}}}}, "supports": {{"stay": {{
      "on": "grip", "fix": ["x", "y", "z"]}}}}}})",
      GetParam()));
  for (const auto& inc : s.course.all)
    for (const auto& point : inc.points) {
      EXPECT_LT(point.stress.norm(), 1e-4);
      EXPECT_EQ(point.equivalentPlastic, 0);
    }
  EXPECT_NEAR(s.last("motions/turn/moment x"), 0, 1e-3);
  double far = 0, edge = 0;  // distances are kept
  const auto& u = s.course.all.back().displacement;
  for (size_t n = 0; n < s.p->mesh.x.size(); ++n) {
    far = std::max(far, s.p->at(u, int(n)).norm());
    edge = std::max(edge, std::abs((s.p->mesh.x[n] + s.p->at(u, int(n)) - s.p->mesh.x[0] - s.p->at(u, 0)).norm() -
                                   (s.p->mesh.x[n] - s.p->mesh.x[0]).norm()));
  }
  EXPECT_GT(far, 3);
  EXPECT_LT(edge, 1e-8);
}

INSTANTIATE_TEST_SUITE_P(Elements, Turned, ::testing::Values("hex8", "hex20", "tet10"));

TEST(Exact, SpringsInARowShareTheWay) {
  // two rigid blocks between springs 100, 300, 200 N/mm; the last end moves by 1.1
  const auto s = solved(R"({"space": "plane strain",
    "materials": {"m": {"elastic": {"E": 200000, "nu": 0.3}}},
    "parts": {"p": {"material": "m", "element": "quad4", "mesh": {"count": [1, 1]}, "shape": {"rectangle": {"at": [50, 0],
      "size": [1, 1]}}},
      "a": {"rigid": true, "pivot": [10, 0], "loose": ["x"], "shape": {"profile": {"start": [10, 0], "path": [{"line": [10,
        1]}]}}},
      "b": {"rigid": true, "pivot": [20, 0], "loose": ["x"], "shape": {"profile": {"start": [20, 0], "path": [{"line": [20,
        1]}]}}},
      "c": {"rigid": true, "pivot": [30, 0], "shape": {"profile": {"start": [30, 0], "path": [{"line": [30, 1]}]}}}},
    "springs": {"first": {"between": "a", "at": [0, 0], "along": "x", "stiffness": 100}, "second": {"between": ["a", "b"],
      "along": "x", "stiffness": 300}, "third": {"between": ["b", "c"], "along": "x", "stiffness": 200}},
    "steps": {"s": {"increments": {"first": 1, "largest": 1}}}, "supports": {"hold": {"on": ["p.left", "p.bottom"], "fix": ["x",
      "y"]}},
    "motions": {"pull": {"on": "c", "along": "x", "course": 1.1}}})");
  const double force = 1.1 / (1. / 100 + 1. / 300 + 1. / 200);
  EXPECT_NEAR(s.last("motions/pull/force x"), force, 1e-9 * force);
  EXPECT_NEAR(s.last("bodies/a/ux"), force / 100, 1e-12);
  EXPECT_NEAR(s.last("bodies/b/ux"), force / 100 + force / 300, 1e-12);
  EXPECT_NEAR(s.last("energy/springs"), 0.5 * force * 1.1, 1e-9 * force);
}

}  // namespace
