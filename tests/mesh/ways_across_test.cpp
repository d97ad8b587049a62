// The ways across a drawn surface: normals, mitres, and what leans beside a mitre.
#include <gtest/gtest.h>

#include <Eigen/Geometry>
#include <cmath>

#include "core/mesh/ways_across.hpp"
#include "words.hpp"

using namespace anvil;
using Eigen::Vector3d;

namespace {

/// Two walls that meet along the y axis, the second turned up by an angle, of cells of some length.
mesh::DrawnQuads folded(double angle, double length, int cells) {
  mesh::DrawnQuads q;
  const Vector3d second(std::cos(angle), 0, std::sin(angle));
  for (int i = -cells; i <= cells; ++i)
    for (const double y : {0., 1.})
      q.x.emplace_back((i < 0 ? Vector3d(i * length, 0, 0) : Vector3d(i * length * second)) + Vector3d(0, y, 0));
  for (int i = 0; i < 2 * cells; ++i) {
    q.cells.insert(q.cells.end(), {2 * i, 2 * i + 2, 2 * i + 3, 2 * i + 1});
    for (int k = 0; k < 4; ++k)
      q.normals.push_back(i < cells ? Vector3d::UnitZ() : Vector3d(-std::sin(angle), 0, std::cos(angle)));
    q.face.push_back(i < cells ? 0 : 1);
  }
  return q;
}

}  // namespace

TEST(WaysAcross, AMitreKeepsItsDistanceFromBothFaces) {
  for (const double angle : {0.3, 1.2, 2.2, -1.5}) {
    const auto q = folded(angle, 1, 4);
    const auto ways = mesh::waysAcross(q, 0.1, "p");
    const Vector3d second(-std::sin(angle), 0, std::cos(angle)), at = ways[8];
    if (angle < 0.31) {
      EXPECT_NEAR(at.norm(), 1 / std::cos(angle / 2), 0.02);
      continue;
    }
    EXPECT_NEAR(at.z(), 1, 1e-9);
    EXPECT_NEAR(at.dot(second), 1, 1e-9);
    EXPECT_NEAR(at.norm(), 1 / std::cos(angle / 2), 1e-9);
  }
}

TEST(WaysAcross, SmallElementsBesideAFoldDoNotTurnOver) {
  const double angle = 1.5708, reach = 1;
  for (const double length : {0.2, 0.5, 2.}) {
    const auto q = folded(angle, length, 12);
    const auto ways = mesh::waysAcross(q, reach, "p");
    for (const double side : {-reach, reach})
      for (size_t i = 0; i + 1 < 12; ++i) {
        const Vector3d a = q.x[2 * i] + side * ways[2 * i], b = q.x[2 * i + 2] + side * ways[2 * i + 2];
        EXPECT_GT(b.x() - a.x(), 0.3 * length) << length << " " << side << " " << i;
        EXPECT_NEAR(a.z(), side, 1e-9);
      }
    // far from the fold nothing leans
    EXPECT_NEAR((ways.front() - Vector3d::UnitZ()).norm(), 0, length * 12 > 2.5 * reach ? 1e-12 : 1);
  }
}

TEST(WaysAcross, WhatIsFoldedBackIsRefused) {
  EXPECT_SAYS(sentence([] { mesh::waysAcross(folded(2.9, 1, 3), 0.1, "p"); }), "folded back on itself");
}
