// Contact integrals: derivatives against finite differences, momentum balance, exact areas.
#include <gtest/gtest.h>

#include <random>

#include "core/contact/plane_kernel.hpp"

using namespace anvil::contact;

namespace {

constexpr std::array<double, 2> ln{3, 4}, lt{1, -0.5};

struct Facing {
  SlavePatch slave;
  MasterPatch master;
  double* dof(int i) {
    const int node = i / 2, k = i % 2;
    return node < 5 ? &slave.node[size_t(node)].now[k] : &master.node[size_t(node - 5)].now[k];
  }
};

/// A curved slave edge above (its outward side points down) a shifted master edge.
Facing edgePair(bool quadratic, unsigned seed) {
  std::mt19937 gen(seed);
  std::uniform_real_distribution<double> d(-0.03, 0.03);
  Facing f;
  f.slave.quadratic = f.master.quadratic = quadratic;
  f.slave.hasBefore = f.slave.hasAfter = true;
  const double xs[5] = {-1.6, -0.7, 0.8, 0.05, 1.5}, ys[5] = {0.1, 0.02, 0.03, -0.02, 0.12};
  for (size_t i = 0; i < 5; ++i) f.slave.node[i].now = {xs[i] + d(gen), ys[i] + d(gen)};
  const double xm[3] = {0.9, -1.1, -0.1}, ym[3] = {-0.1, -0.12, -0.05};
  for (size_t i = 0; i < 3; ++i) f.master.node[i].now = {xm[i] + d(gen) + 0.6, ym[i] + d(gen)};
  if (!quadratic) f.slave.node[3] = f.slave.node[1], f.master.node[2] = f.master.node[0];
  for (auto& n : f.slave.node) n.before = n.now + Point2(d(gen), d(gen));
  for (auto& n : f.master.node) n.before = n.now + Point2(d(gen), d(gen));
  return f;
}

class FacingKernel : public ::testing::TestWithParam<std::tuple<bool, bool>> {};

TEST_P(FacingKernel, DerivativesMatchFiniteDifferences) {
  const auto [quadratic, axisymmetric] = GetParam();
  for (unsigned seed = 0; seed < 8; ++seed) {
    Facing f = edgePair(quadratic, seed);
    if (axisymmetric)
      for (int i = 0; i < 16; i += 2) *f.dof(i) += 5;
    const Depth depth{axisymmetric, 1.3};
    SegmentIntegral q, p, m;
    q.clear(16);
    integrateFacing(f.slave, f.master, ln, lt, 1, depth, q);
    ASSERT_TRUE(q.touched);
    for (int j = 0; j < 16; ++j) {
      if (!quadratic && (j == 6 || j == 7 || j >= 14)) continue;
      const double h = 1e-6, was = *f.dof(j);
      *f.dof(j) = was + h, p.clear(16), integrateFacing(f.slave, f.master, ln, lt, 1, depth, p);
      *f.dof(j) = was - h, m.clear(16), integrateFacing(f.slave, f.master, ln, lt, 1, depth, m);
      *f.dof(j) = was;
      EXPECT_LT(((p.force - m.force) / (2 * h) - q.stiffness.col(j)).norm(), 1e-6 * q.stiffness.norm()) << j;
      for (size_t a = 0; a < 2; ++a) {
        EXPECT_NEAR((p.gap[a] - m.gap[a]) / (2 * h), q.dGap[a][j], 2e-6);
        EXPECT_NEAR((p.slip[a] - m.slip[a]) / (2 * h), q.dSlip[a][j], 2e-6);
        EXPECT_NEAR((p.kappa[a] - m.kappa[a]) / (2 * h), q.dKappa[a][j], 4e-6);
      }
    }
  }
}

TEST_P(FacingKernel, ForcesOnBothSidesBalance) {
  const auto [quadratic, axisymmetric] = GetParam();
  if (axisymmetric) return;
  Facing f = edgePair(quadratic, 11);
  SegmentIntegral q;
  q.clear(16);
  integrateFacing(f.slave, f.master, ln, {0, 0}, 1, {}, q);
  Point2 sum(0, 0);
  double moment = 0;
  for (int i = 0; i < 16; i += 2) {
    const Point2 x(*f.dof(i), *f.dof(i + 1));
    sum += q.force.segment<2>(i);
    moment += x.x() * q.force[i + 1] - x.y() * q.force[i];
  }
  EXPECT_LT(sum.norm(), 1e-12);
  EXPECT_LT(std::abs(moment), 1e-12) << "pressure on both sides acts along one line";
}

INSTANTIATE_TEST_SUITE_P(Every, FacingKernel, ::testing::Combine(::testing::Bool(), ::testing::Bool()));

TEST(FacingKernel, OverlapsOfNonMatchingEdgesAddUpToTheSlave) {
  SlavePatch s;
  s.node[1] = {{1, 0}, {1, 0}}, s.node[2] = {{0, 0}, {0, 0}};  // outward normal up: body below
  s.node[0] = s.node[3] = s.node[1], s.node[4] = s.node[2];
  double area = 0, gap = 0;
  const double at[5] = {-0.3, 0.21, 0.55, 0.8, 1.7};
  for (int i = 0; i < 4; ++i) {
    MasterPatch m;
    m.node[0] = {{at[i], 0.1}, {at[i], 0.1}}, m.node[1] = {{at[i + 1], 0.1}, {at[i + 1], 0.1}};
    m.node[2] = m.node[0];
    SegmentIntegral q;
    q.clear(16);
    integrateFacing(s, m, {0, 0}, {0, 0}, 1, {}, q);
    area += q.kappa[0] + q.kappa[1], gap += q.gap[0] + q.gap[1];
  }
  EXPECT_NEAR(area, 1, 1e-13);
  EXPECT_NEAR(gap, 0.1, 1e-13);
}

TEST(RigidKernel, DerivativesMatchFiniteDifferences) {
  RigidBody body;
  body.pivot = {0.3, -1, 0};
  body.curves = {anvil::geometry::Curve2::line({3, -0.1}, {0.2, -0.05}),
                 anvil::geometry::Curve2::arcTo({0.2, -0.05}, {-2, -1}, {0.2, -2.05}, true)};
  for (unsigned seed = 0; seed < 6; ++seed)
    for (bool quadratic : {false, true}) {
      Facing f = edgePair(quadratic, seed);
      RigidPlace place{{0.02, -0.03, 0.1}, {0, 0.01, 0.05}};
      SegmentIntegral q, p, m;
      const auto evaluate = [&](SegmentIntegral& out) {
        out.clear(13);
        integrateRigid(f.slave, body, place, ln, lt, 2, {false, 1}, out);
      };
      evaluate(q);
      ASSERT_TRUE(q.touched);
      for (int j = 0; j < 13; ++j) {
        if (!quadratic && (j == 6 || j == 7)) continue;
        double* v = j < 10 ? f.dof(j) : &place.now[j - 10];
        const double h = 1e-7, was = *v;
        *v = was + h, evaluate(p);
        *v = was - h, evaluate(m);
        *v = was;
        EXPECT_LT(((p.force - m.force) / (2 * h) - q.stiffness.col(j)).norm(), 3e-6 * q.stiffness.norm()) << j;
        for (size_t a = 0; a < 2; ++a) {
          EXPECT_NEAR((p.gap[a] - m.gap[a]) / (2 * h), q.dGap[a][j], 4e-6);
          EXPECT_NEAR((p.slip[a] - m.slip[a]) / (2 * h), q.dSlip[a][j], 4e-6);
        }
      }
    }
}

}  // namespace
