// Paths of lines and arcs: lengths, areas and tangents of exact shapes, rounded corners, what does not fit.
#include <gtest/gtest.h>

#include "core/geometry/path.hpp"
#include "words.hpp"

using namespace anvil;
using namespace anvil::geometry;

namespace {

using std::numbers::pi;

std::vector<Curve2> polygon(const std::vector<Point2>& corners) {
  std::vector<Curve2> path;
  for (size_t i = 0; i < corners.size(); ++i) path.push_back(Curve2::line(corners[i], corners[(i + 1) % corners.size()]));
  return path;
}

TEST(Path, OfFourArcsIsACircle) {
  std::vector<Curve2> path;
  const Point2 c(3, -2);
  for (int i = 0; i < 4; ++i) {
    const auto at = [&](int k) { return Point2(c + 5 * Point2(std::cos(k * pi / 2), std::sin(k * pi / 2))); };
    path.push_back(Curve2::arcTo(at(i), at(i + 1), c, true));
  }
  double length = 0;
  for (const auto& curve : path) length += curve.length();
  EXPECT_NEAR(length, 10 * pi, 1e-12);
  EXPECT_NEAR(enclosedArea(path), 25 * pi, 1e-10);
  for (auto& curve : path) curve = Curve2::arcTo(curve.b, curve.a, c, false);
  std::reverse(path.begin(), path.end());
  EXPECT_NEAR(enclosedArea(path), -25 * pi, 1e-10) << "walked the other way";
}

TEST(Path, TangentsAreSlopesOfPoints) {
  for (const auto& curve :
       {Curve2::line({1, 2}, {4, -3}), Curve2::arcTo({2, 0}, {0, 2}, {0, 0}, true), Curve2::arcTo({2, 0}, {0, 2}, {0, 0}, false)})
    for (double f : {0.1, 0.5, 0.9}) {
      const Point2 slope = (curve.at(f + 1e-6) - curve.at(f - 1e-6)) / (2e-6 * curve.length());
      EXPECT_LT((slope - curve.tangent(f)).norm(), 1e-8);
    }
}

TEST(Path, AnArcEndsOnTheCircleThroughItsStart) {
  const auto arc = Curve2::arcTo({2, 0}, {0, 2.5}, {0, 0}, true);
  EXPECT_NEAR(arc.b.norm(), 2, 1e-12);
  EXPECT_NEAR(arc.b.x(), 0, 1e-12) << "in the direction that was asked for";
}

TEST(Path, RoundedCornersTakeOffWhatTheyMust) {
  const std::vector<Point2> square{{0, 0}, {10, 0}, {10, 10}, {0, 10}};
  for (double r : {0.5, 2., 4.9}) {
    const auto path = rounded(polygon(square), {{0, r}, {1, r}, {2, r}, {3, r}}, true);
    EXPECT_EQ(path.size(), 8u);
    EXPECT_NEAR(enclosedArea(path), 100 - (4 - pi) * r * r, 1e-9);
    for (size_t i = 0; i < path.size(); ++i) {
      const auto& next = path[(i + 1) % path.size()];
      EXPECT_LT((path[i].b - next.a).norm(), 1e-12) << "end to end";
      EXPECT_GT(path[i].tangent(1).dot(next.tangent(0)), 1 - 1e-9) << "without a kink";
    }
  }
}

TEST(Path, AHollowCornerIsFilled) {
  const auto path = polygon({{0, 0}, {10, 0}, {10, 4}, {4, 4}, {4, 10}, {0, 10}});  // an L: its inner corner is behind curve 2
  const double r = 2;
  EXPECT_NEAR(enclosedArea(rounded(path, {{2, r}}, true)), 64 + (1 - pi / 4) * r * r, 1e-9);
}

TEST(Path, ALineMeetsAnArcInARounding) {
  // a quarter disc of radius 6 with its sharp ends rounded: where tangents agree the shape stays inside
  std::vector<Curve2> path{Curve2::line({0, 0}, {6, 0}), Curve2::arcTo({6, 0}, {0, 6}, {0, 0}, true),
                           Curve2::line({0, 6}, {0, 0})};
  const auto round = rounded(path, {{0, 1}, {1, 1}}, true);
  ASSERT_EQ(round.size(), 5u);
  for (size_t i = 0; i < round.size(); ++i) {
    EXPECT_GT(round[i].tangent(1).dot(round[(i + 1) % round.size()].tangent(0)), i == 4 ? -0.1 : 1 - 1e-9) << i;
  }
  EXPECT_LT(enclosedArea(round), 9 * pi);
  EXPECT_GT(enclosedArea(round), 9 * pi - 1);
}

TEST(Path, ARadiusThatDoesNotFitIsRefused) {
  const auto refusal = sentence([] { rounded(polygon({{0, 0}, {10, 0}, {10, 1}, {0, 1}}), {{0, 3}}, true); });
  EXPECT_NE(refusal.find("3"), std::string::npos) << refusal;
  EXPECT_NE(refusal, "no error");
}

}  // namespace
