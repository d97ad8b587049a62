// Smoothed facets: spheres, cylinders and boxes made of triangles against the exact shapes; derivatives; what is refused.
#include <gtest/gtest.h>

#include <Eigen/Geometry>
#include <numbers>
#include <random>

#include "core/geometry/facets.hpp"
#include "core/model/document.hpp"
#include "core/model/quantities.hpp"
#include "core/model/shapes.hpp"
#include "nets.hpp"
#include "words.hpp"

using namespace anvil;
using geometry::FacetSurface;

namespace {

constexpr double degree = std::numbers::pi / 180;

Net box() {
  Net net;
  for (int i = 0; i < 8; ++i) net.points.emplace_back(i & 1 ? 1 : 0, i & 2 ? 1 : 0, i & 4 ? 1 : 0);
  for (const auto& q :
       std::vector<std::array<int, 4>>{{0, 2, 3, 1}, {4, 5, 7, 6}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 4, 6, 2}, {1, 3, 7, 5}})
    net.triangles.push_back({q[0], q[1], q[2]}), net.triangles.push_back({q[0], q[2], q[3]});
  return net;
}

FacetSurface made(const Net& net, double crease = 30 * degree) { return FacetSurface(net.points, net.triangles, crease, "tool"); }

std::vector<Point3> directions(int n) {
  std::mt19937 gen(3);
  std::normal_distribution<double> d;
  std::vector<Point3> list;
  for (int i = 0; i < n; ++i) list.push_back(Point3(d(gen), d(gen), d(gen)).normalized());
  return list;
}

TEST(Facets, OfASphereAreTheSphereMuchNearerThanFlatOnesWouldBe) {
  double before = 0;
  for (int n : {2, 3, 4}) {
    const auto net = ball(10, n);
    const auto surface = made(net);
    double worst = 0, flat = 0, tilted = 0;
    for (const auto& d : directions(300)) {
      const auto near = surface.nearest(10.5 * d);
      ASSERT_TRUE(near.found);
      worst = std::max(worst, std::abs(near.distance - 0.5)), tilted = std::max(tilted, near.normal.cross(d).norm());
      EXPECT_NEAR(near.normal.norm(), 1, 1e-12);
    }
    for (const auto& t : net.triangles)
      flat = std::max(flat, 10 - ((net.points[size_t(t[0])] + net.points[size_t(t[1])] + net.points[size_t(t[2])]) / 3).norm());
    EXPECT_LT(worst, 0.15 * flat) << "quartered " << n << " times; flat facets are off by " << flat;
    EXPECT_LT(tilted, 0.25 * std::sqrt(2 * flat / 10)) << "a flat facet's normal is off by half its angle";
    if (before > 0) {
      EXPECT_LT(worst, before / 3.9) << "of second order where corner normals are only averages";
    }
    before = worst;
  }
}

TEST(Facets, DistanceAndNormalHaveTheSlopesTheySay) {
  const auto surface = made(ball(10, 2));
  const double h = 1e-6;
  int checked = 0;
  for (const auto& d : directions(60)) {
    const Point3 x = 10.7 * d;
    const auto near = surface.nearest(x);
    Eigen::Matrix3d slope;
    Point3 gradient;
    for (int k = 0; k < 3; ++k) {
      const auto plus = surface.nearest(x + h * Point3::Unit(k)), minus = surface.nearest(x - h * Point3::Unit(k));
      slope.col(k) = (plus.normal - minus.normal) / (2 * h), gradient[k] = (plus.distance - minus.distance) / (2 * h);
    }
    if ((slope - near.slope).norm() > 0.1) continue;  // a step over the seam between two patches
    ++checked;
    EXPECT_LT((slope - near.slope).norm(), 1e-6);
    EXPECT_LT((gradient - near.normal).norm(), 1e-7);
    EXPECT_NEAR(near.slope.trace(), 2 / 10.7, 0.05) << "twice the curvature of the offset sphere";
  }
  EXPECT_GT(checked, 55);
}

TEST(Facets, OfABoxKeepItsEdgesAndCorners) {
  const auto surface = made(box());
  EXPECT_TRUE(surface.closed());
  auto near = surface.nearest({0.4, 0.3, 1.2});
  EXPECT_NEAR(near.distance, 0.2, 1e-12);
  EXPECT_LT((near.normal - Point3::UnitZ()).norm(), 1e-12);
  EXPECT_LT(near.slope.norm(), 1e-12);
  near = surface.nearest({0.3, 1.3, 1.4});
  EXPECT_NEAR(near.distance, 0.5, 1e-12) << "off an edge";
  EXPECT_LT((near.normal - Point3(0, 0.6, 0.8)).norm(), 1e-12);
  EXPECT_NEAR(near.slope.trace(), 1 / 0.5, 1e-9) << "one curvature";
  near = surface.nearest({1.2, 1.1, 1.2});
  EXPECT_NEAR(near.distance, 0.3, 1e-12) << "off a corner";
  EXPECT_NEAR(near.slope.trace(), 2 / 0.3, 1e-9) << "two curvatures";
  near = surface.nearest({0.5, 0.45, 0.9});
  EXPECT_NEAR(near.distance, -0.1, 1e-12) << "inside";
}

TEST(Facets, OfAnOpenSurfaceEndAtItsRim) {
  const Net net{{{0, 0, 0}, {2, 0, 0}, {2, 2, 0}, {0, 2, 0}}, {{0, 1, 2}, {0, 2, 3}}};
  const auto surface = made(net);
  EXPECT_FALSE(surface.closed());
  EXPECT_TRUE(surface.nearest({1, 0.5, 0.3}).found);
  EXPECT_FALSE(surface.nearest({-0.5, 0.5, 0.3}).found);
  EXPECT_NEAR(surface.turnedRound()->nearest({1, 0.5, 0.3}).distance, -0.3, 1e-12) << "seen from its other side";
}

TEST(Facets, AreRoundedOrSharpByTheCreaseAngle) {
  Net net;  // a roof of two slopes at 40 degrees to each other
  const double rise = std::tan(20 * degree);
  net.points = {{-1, 0, 0}, {-1, 2, 0}, {0, 0, rise}, {0, 2, rise}, {1, 0, 0}, {1, 2, 0}};
  net.triangles = {{0, 2, 3}, {0, 3, 1}, {2, 4, 5}, {2, 5, 3}};
  const Point3 beside{0.01, 1, rise + 0.2};
  EXPECT_NEAR(made(net, 30 * degree).nearest(beside).distance, (beside - Point3(0, 1, rise)).norm(), 1e-12) << "the ridge stays";
  const auto smooth = made(net, 60 * degree).nearest(beside);
  EXPECT_LT(smooth.normal.x(), std::sin(20 * degree)) << "between both slopes";
  EXPECT_NEAR(smooth.normal.x(), 0, 0.05);
}

std::string refusal(const std::string& change, double crease = 30) {
  model::Document d;
  model::Facets f;
  const auto net = box();
  for (const auto& p : net.points) f.points.push_back({p.x(), p.y(), p.z()});
  for (const auto& t : net.triangles) f.triangles.push_back({t[0], t[1], t[2]});
  f.crease = crease;
  if (change == "turned") std::swap(f.triangles[3][0], f.triangles[3][1]);
  if (change == "inside out")
    for (auto& t : f.triangles) std::swap(t[0], t[1]);
  if (change == "no such point") f.triangles[4][1] = 12;
  if (change == "half a point") f.triangles[4][1] = 1.5;
  if (change == "flat") f.triangles[5] = {0, 1, 1};
  if (change == "third") f.triangles.push_back({0, 3, 7});
  if (change == "plane point") f.points[2] = {0, 1};
  if (change == "none") f.triangles.clear();
  return sentence([&] { geometry::facets(f, model::Quantities(d), "parts/tool/shape/1/facets"); });
}

TEST(Facets, AreRefusedWithTheirNumber) {
  EXPECT_EQ(refusal(""), "no error");
  EXPECT_NE(refusal("turned").find("run along their common edge in the same sense"), std::string::npos) << refusal("turned");
  EXPECT_NE(refusal("inside out").find("turned inside out"), std::string::npos);
  EXPECT_NE(refusal("no such point").find("there is no point 12"), std::string::npos);
  EXPECT_NE(refusal("no such point").find("triangles/5"), std::string::npos) << "says where";
  EXPECT_NE(refusal("half a point").find("there is no point 1.5"), std::string::npos);
  EXPECT_NE(refusal("flat").find("facet 6 has no area"), std::string::npos);
  EXPECT_NE(refusal("third").find("3 facets meet at one edge"), std::string::npos) << refusal("third");
  EXPECT_NE(refusal("plane point").find("three coordinates"), std::string::npos);
  EXPECT_NE(refusal("none").find("no facets"), std::string::npos);
  EXPECT_NE(refusal("", 400).find("crease angle is 400"), std::string::npos);
}

}  // namespace
