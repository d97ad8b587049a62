// A coil spring against the beam theory of its wire, and results at times that are asked for.
#include <gtest/gtest.h>

#include <Eigen/Dense>
#include <cmath>
#include <numbers>

#include "core/base/error.hpp"
#include "small_runs.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

/// Axial stiffness of a helical beam whose ends neither turn nor move aside: Castigliano's flexibilities of bending, torsion,
/// shear and extension, integrated along the wire and inverted.
double guidedRate(double radius, double pitch, double turns, double wire, double E, double nu) {
  const double A = std::numbers::pi * wire * wire, I = A * wire * wire / 4, G = E / 2 / (1 + nu),
               shear = 6 * (1 + nu) / (7 + 6 * nu), rise = pitch / (2 * std::numbers::pi);
  Eigen::Matrix<double, 6, 6> flexibility = Eigen::Matrix<double, 6, 6>::Zero();
  const auto at = [&](double s) { return Eigen::Vector3d(radius * std::cos(s), rise * s, radius * std::sin(s)); };
  const double whole = 2 * std::numbers::pi * turns, ds = whole / 20000;
  const Eigen::Vector3d end = at(whole);
  for (double s = ds / 2; s < whole; s += ds) {
    const Eigen::Vector3d t = Eigen::Vector3d(-radius * std::sin(s), rise, radius * std::cos(s)).normalized(), arm = end - at(s);
    Eigen::Matrix<double, 3, 6> force = Eigen::Matrix<double, 3, 6>::Zero(), moment = force;
    force.leftCols<3>().setIdentity(), moment.rightCols<3>().setIdentity();
    for (int k = 0; k < 3; ++k) moment.col(k) = arm.cross(Eigen::Vector3d::Unit(k));
    const Eigen::Matrix3d along = t * t.transpose(), across = Eigen::Matrix3d::Identity() - along;
    const Eigen::Matrix3d cm = along / (G * 2 * I) + across / (E * I), cf = along / (E * A) + across / (shear * G * A);
    flexibility += (force.transpose() * cf * force + moment.transpose() * cm * moment) * ds * std::hypot(radius, rise);
  }
  return flexibility.inverse()(1, 1);
}

}  // namespace

TEST(Coil, ItsRateIsThatOfTheWiresBeamTheory) {
  const auto s = solved(R"({"space": "solid", "geometry": "small",
    "materials": {"steel": {"elastic": {"E": 206000, "nu": 0.3}}},
    "parts": {"spring": {"material": "steel", "shape": {"disc": {"radius": 1}}, "mesh": {"size": 0.8},
      "coil": {"radius": 10, "pitch": 6, "turns": 3, "count": 60}}},
    "steps": {"press": {"increments": {"first": 1, "largest": 1}}},
    "supports": {"foot": {"on": "spring.back", "fix": ["x", "y", "z"]}, "head": {"on": "spring.front", "fix": ["x", "z"]}},
    "motions": {"press": {"on": "spring.front", "along": "y", "course": -1}}})");
  EXPECT_NEAR(-s.last("motions/press/force y") / guidedRate(10, 6, 3, 1, 206000, 0.3), 1, 0.015);
  // with the wire's own diameter instead of its radius, say, the formula would be 16 times off: it is the textbook's rate
  const double textbook = 206000 / 2.6 * 16 / (8 * 8000 * 3);
  EXPECT_NEAR(guidedRate(10, 6, 3, 1, 206000, 0.3) / textbook, 1, 0.1);
}

TEST(AskedTimes, AnIncrementEndsAtEachOfThem) {
  const std::string model = R"({"space": "plane stress", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
    "parts": {"p": {"material": "m", "shape": {"rectangle": {"at": [0, 0], "size": [2, 1]}}, "mesh": {"count": [2, 1]}}},
    "steps": {"first": {"time": 2},
      "pull": {"time": 4, "increments": {"first": 0.3, "largest": 0.4, "at": [0.1, "1.7 s", 3.97]}}},
    "supports": {"foot": {"on": "p.left", "fix": ["x", "y"]}},
    "motions": {"pull": {"on": "p.right", "along": "x", "course": {"first": 0, "pull": 0.4}}}})";
  const auto s = solved(model);
  for (const double asked : {2.1, 3.7, 5.97, 6.}) {
    bool hit = false;
    for (const auto& i : s.course.all) hit = hit || std::abs(i.time - asked) < 1e-9;
    EXPECT_TRUE(hit) << asked;
  }
  EXPECT_NE(sentence([&] { lowered(with(model, "[0.1, ", "[0.1, 9, ")); }).find("the time 9 s lies outside the step"),
            std::string::npos);
  EXPECT_NE(sentence([&] {
              lowered(with(model, "\"time\": 4,", "\"time\": 4, \"control\": \"arc length\","));
            }).find("only be asked for where time leads"),
            std::string::npos);
}
