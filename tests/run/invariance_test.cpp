// What must not matter: where a model stands and how it is turned, its mirror image, its size and stiffness as such, the units
// and the order it is written in, who moves towards whom, and whether symmetry is used. All with large strain, yielding and
// friction.
#include <fmt/format.h>

#include <Eigen/Geometry>
#include <numbers>

#include "run/small_runs.hpp"

using namespace anvil;
using Eigen::Vector2d;

namespace {

/// A block of 10 × 4 on its base, pressed by a round tool that is then drawn aside. All places go through `place`.
struct Pressed {
  double turn = 0, size = 1, stress = 1;
  Vector2d shift{0, 0};
  bool mirrored = false, blockMoves = false, otherOrder = false;
  std::string element = "quad4";

  Vector2d direction(double x, double y) const { return Eigen::Rotation2Dd(turn) * Vector2d(mirrored ? -x : x, y); }
  std::string at(double x, double y) const {
    const Vector2d p = size * direction(x, y) + shift;
    return fmt::format("[{:.17g}, {:.17g}]", p.x(), p.y());
  }
  std::string text() const {
    const auto line = [&](double x, double y, const char* name) {
      return fmt::format(R"({{"line": {}, "name": "{}"}})", at(x, y), name);
    };
    // anticlockwise; a mirror image is walked the other way
    const std::string path = mirrored ? fmt::format(R"("start": {}, "path": [{}, {}, {}, {}])", at(0, 0), line(0, 4, "left"),
                                                    line(10, 4, "top"), line(10, 0, "right"), line(0, 0, "base"))
                                      : fmt::format(R"("start": {}, "path": [{}, {}, {}, {}])", at(0, 0), line(10, 0, "base"),
                                                    line(10, 4, "right"), line(0, 4, "top"), line(0, 0, "left"));
    const std::string arc = fmt::format(R"("start": {}, "path": [{{"arc": {}, "center": {}}}])", at(mirrored ? 8.5 : 1.5, 7.52),
                                        at(mirrored ? 1.5 : 8.5, 7.52), at(5, 7.52));
    const Vector2d down = size * direction(0, -0.5), aside = size * direction(0.4, -0.5);
    const double sign = blockMoves ? -1 : 1;
    const std::string mover = blockMoves ? "block.base" : "tool",
                      holder = blockMoves ? "" : R"("supports": {"base": {"on": "block.base", "fix": ["x", "y"]}}, )";
    const std::string block =
        fmt::format(R"("block": {{"material": "m", "element": "{}", "shape": {{"profile": {{{}}}}}, "mesh": {{"count": {}}}}})",
                    element, path, mirrored ? "[4, 10]" : "[10, 4]");
    const std::string tool = fmt::format(R"("tool": {{"rigid": true, "shape": {{"profile": {{{}}}}}}})", arc);
    return fmt::format(
        R"({{"anvil": 1, "materials": {{"m": {{"elastic": {{"E": {}, "nu": 0.3}}, "plastic": {{"yield": {}, "tangent": {}}}}}}},
      "parts": {{{}, {}}}, "contacts": {{"touch": {{"between": ["block.top", "tool"], "friction": 0.2}}}},
      "steps": {{"press": {{"increments": {{"largest": 0.25}}}}, "draw": {{"increments": {{"largest": 0.25}}}}}}, {}
      "motions": {{"a": {{"on": "{}", "along": "x", "course": {{"press": {:.17g}, "draw": {:.17g}}}}}, "b": {{"on": "{}",
        "along": "y", "course": {{"press": {:.17g}, "draw": {:.17g}}}}}}}}})",
        1000 * stress, 8 * stress, 40 * stress, otherOrder ? tool : block, otherOrder ? block : tool, holder, mover,
        sign * down.x(), sign * aside.x(), mover, sign * down.y(), sign * aside.y());
  }
};

/// Force of the tool on the block and plastic work, at the end of each step.
struct Answer {
  Vector2d pressed, drawn;
  double plasticWork, area;
};

Answer answer(const Pressed& model) {
  const auto s = solved(model.text());
  const auto force = [&](size_t row) {
    return Vector2d(s.at(row, "contacts/touch/force x"), s.at(row, "contacts/touch/force y"));
  };
  size_t end = 0;
  while (end + 1 < s.course.all.size() && s.course.all[end].time < 1 - 1e-9) ++end;
  EXPECT_NEAR(s.course.all.back().time, 2, 1e-12);
  return {force(end), force(s.course.all.size() - 1), s.last("energy/plastic"), s.last("contacts/touch/area")};
}

void expectSame(const Answer& a, const Answer& b, double tolerance = 1e-5) {
  EXPECT_LT((a.pressed - b.pressed).norm(), tolerance * b.pressed.norm())
      << a.pressed.transpose() << " and " << b.pressed.transpose();
  EXPECT_LT((a.drawn - b.drawn).norm(), tolerance * b.drawn.norm()) << a.drawn.transpose() << " and " << b.drawn.transpose();
  EXPECT_NEAR(a.plasticWork / b.plasticWork, 1, tolerance);
  EXPECT_NEAR(a.area / b.area, 1, tolerance);
}

class Invariance : public ::testing::TestWithParam<std::string> {
 protected:
  Pressed model() const {
    Pressed m;
    m.element = GetParam();
    return m;
  }
};

TEST_P(Invariance, ThereIsSomethingToCompare) {
  const auto a = answer(model());
  EXPECT_LT(a.pressed.y(), -20) << "pressed down";
  EXPECT_GT(a.plasticWork, 1);
  EXPECT_GT(a.drawn.x(), 0.1 * std::abs(a.drawn.y())) << "and rubbed along";
}

TEST_P(Invariance, WhereItStandsAndHowItIsTurned) {
  const auto upright = answer(model());
  for (const double turn : {std::numbers::pi / 2, 0.7}) {
    auto m = model();
    m.turn = turn, m.shift = {300, -120};
    auto turned = answer(m);
    const Eigen::Rotation2Dd back(-turn);
    turned.pressed = back * turned.pressed, turned.drawn = back * turned.drawn;
    expectSame(turned, upright);
  }
}

TEST_P(Invariance, ItsMirrorImage) {
  const auto right = answer(model());
  auto m = model();
  m.mirrored = true;
  auto left = answer(m);
  left.pressed.x() *= -1, left.drawn.x() *= -1;
  expectSame(left, right);
}

TEST_P(Invariance, ItsSizeAndItsStiffness) {
  const auto one = answer(model());
  auto m = model();
  m.size = 25, m.stress = 200;
  auto big = answer(m);
  big.pressed /= 25 * 200., big.drawn /= 25 * 200., big.plasticWork /= 25 * 25 * 200., big.area /= 25;  // per thickness
  expectSame(big, one);
}

TEST_P(Invariance, WhoMovesTowardsWhom) {
  auto m = model();
  m.blockMoves = true;
  expectSame(answer(m), answer(model()));
}

TEST_P(Invariance, TheOrderItIsWrittenIn) {
  auto m = model();
  m.otherOrder = true;
  expectSame(answer(m), answer(model()));
}

INSTANTIATE_TEST_SUITE_P(Elements, Invariance, ::testing::Values("quad4", "quad8"));

TEST(Units, TheSameModelInInchesAndPounds) {
  const char* const written =
      R"({{"anvil": 1, {0} "space": "plane stress", "thickness": "3 mm", "materials": {{"m": {{"elastic": {{"E": "70 GPa",
        "nu": 0.33}}, "plastic": {{"yield": "200 MPa", "tangent": "1 GPa"}}}}}},
    "parts": {{"p": {{"material": "m", "element": "quad8", "shape": {{"rectangle": {{"at": [0, 0], "size": [{1}, {2}]}}}},
      "mesh": {{"count": [6, 2]}}}}}},
    "steps": {{"s": {{}}}}, "supports": {{"a": {{"on": "p.left", "fix": ["x", "y"]}}}}, "loads": {{"l": {{"on": "p.right",
      "kind": "force", "along": "y", "course": {3}}}}}, "watch": {{"w": {{"part": "p", "at": [{1}, 0]}}}}}})";
  const auto metric = solved(fmt::format(fmt::runtime(written), "", "50.8", "12.7", "444.8221615260501"));
  const auto inches = solved(
      fmt::format(fmt::runtime(written), R"("units": {"length": "in", "force": "lbf", "stress": "ksi"},)", "2", "0.5", "100"));
  const double deflection = metric.last("watch/w/uy");
  EXPECT_GT(deflection, 0.1);
  EXPECT_NEAR(inches.last("watch/w/uy") / deflection, 1, 1e-9) << "histories are in mm and N whatever the file is written in";
  EXPECT_NEAR(inches.last("energy/strain") / metric.last("energy/strain"), 1, 1e-9);
}

/// A bar on a foot that holds it, whole or its right half, upset by a plate that sticks and slips.
std::string upset(bool whole, double friction, int n = 1) {
  return fmt::format(
      R"({{"anvil": 1, "materials": {{"m": {{"elastic": {{"E": 1000, "nu": 0.3}}, "plastic": {{"yield": 8, "tangent": 40}}}}}},
    "parts": {{"bar": {{"material": "m", "element": "quad8", "shape": {{"rectangle": {{"at": [{}, 0], "size": [{}, 6]}}}},
      "mesh": {{"count": [{}, {}]}}}},
      "plate": {{"rigid": true, "shape": {{"profile": {{"start": [-30, 6], "path": [{{"line": [30, 6]}}]}}}}}}}},
    "contacts": {{"high": {{"between": ["bar.top", "plate"], "friction": {}}}}},
    "steps": {{"s": {{"increments": {{"first": 0.02, "largest": 0.02}}}}}}, "supports": {{"foot": {{"on": "bar.bottom", "fix": [
      "x", "y"]}}{}}}, "motions": {{"down": {{"on": "plate", "along": "y", "course": -1.2}}}}, "watch": {{"edge": {{
      "part": "bar", "at": [5, 3]}}}}}})",
      whole ? -5 : 0, whole ? 10 : 5, n * (whole ? 10 : 5), 6 * n, friction,
      whole ? "" : R"(, "middle": {"on": "bar.left", "fix": "x"})");
}

TEST(Symmetry, HalfTheModelCarriesHalfTheForce) {
  const auto half = solved(upset(false, 0)), whole = solved(upset(true, 0));
  EXPECT_LT(half.last("motions/down/force y"), -30);
  EXPECT_NEAR(whole.last("motions/down/force y") / half.last("motions/down/force y"), 2, 1e-6);
  EXPECT_NEAR(whole.last("watch/edge/ux") / half.last("watch/edge/ux"), 1, 1e-6);
  EXPECT_NEAR(whole.last("energy/plastic") / half.last("energy/plastic"), 2, 1e-6);
}

TEST(Symmetry, WithFrictionTheWholeAndTheHalfDifferByTheNodeInTheMiddle) {
  // friction turns round there: over two elements in the whole, at once in the half
  const auto difference = [](int n) {
    const auto half = solved(upset(false, 0.15, n)), whole = solved(upset(true, 0.15, n));
    EXPECT_GT(half.last("energy/friction"), 1);
    return std::abs(whole.last("motions/down/force y") / half.last("motions/down/force y") - 2);
  };
  const double coarse = difference(1), fine = difference(2);
  EXPECT_LT(coarse, 0.005);
  EXPECT_LT(fine, 0.6 * coarse) << "at least of first order";
}

/// In space: a cube under a ball, put in place by a turn about a slanting direction's axis and a shift.
std::string cubeUnderBall(const std::string& place, const Eigen::Matrix3d& R) {
  const Eigen::Vector3d way = R * Eigen::Vector3d(0.15, -0.35, 0.1);
  return fmt::format(
      R"({{"anvil": 1, "space": "solid", "materials": {{"m": {{"elastic": {{"E": 1000, "nu": 0.3}}, "plastic": {{"yield": 8,
        "tangent": 40}}}}}},
    "parts": {{"cube": {{"material": "m", "element": "hex8", "shape": {{"rectangle": {{"at": [0, 0], "size": [6, 4]}}}},
      "mesh": {{"count": [5, 3]}}, "extrude": {{"depth": 6, "count": 5}}, "place": {0}}},
      "ball": {{"rigid": true, "solid": [{{"name": "b", "ball": {{"center": [3, 9.01, 3], "radius": 5}}}}], "place": {0}}}}},
    "contacts": {{"touch": {{"between": ["cube.top", "ball"], "friction": 0.2}}}}, "steps": {{"s": {{"increments": {{
      "largest": 0.25}}}}}},
    "supports": {{"base": {{"on": "cube.bottom", "fix": ["x", "y", "z"]}}}},
    "motions": {{"x": {{"on": "ball", "along": "x", "course": {1:.17g}}}, "y": {{"on": "ball", "along": "y",
      "course": {2:.17g}}}, "z": {{"on": "ball", "along": "z", "course": {3:.17g}}}}}}})",
      place, way.x(), way.y(), way.z());
}

TEST(Invariance, InSpaceTooWhereItStandsAndHowItIsTurned) {
  const auto force = [](const Solved& s) {
    return Eigen::Vector3d(s.last("contacts/touch/force x"), s.last("contacts/touch/force y"), s.last("contacts/touch/force z"));
  };
  const auto upright = solved(cubeUnderBall("{}", Eigen::Matrix3d::Identity()));
  const double angle = 40 * std::numbers::pi / 180;
  const Eigen::Matrix3d R = Eigen::AngleAxisd(angle, Eigen::Vector3d::UnitX()).toRotationMatrix();
  const auto turned = solved(cubeUnderBall(R"({"axis": "x", "angle": 40, "shift": [70, -30, 15]})", R));
  EXPECT_LT(force(upright).y(), -5);
  EXPECT_LT((R.transpose() * force(turned) - force(upright)).norm(), 1e-5 * force(upright).norm())
      << (R.transpose() * force(turned)).transpose() << " and " << force(upright).transpose();
  EXPECT_NEAR(turned.last("energy/plastic") / upright.last("energy/plastic"), 1, 1e-5);
}

}  // namespace
