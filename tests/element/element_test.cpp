// Elements: patch test, rigid rotation, and consistent tangents (cases E1 and E2 at element level).
#include <gtest/gtest.h>

#include <Eigen/Geometry>
#include <random>

#include "core/element/block.hpp"

using namespace anvil;
using Eigen::MatrixXd;
using Eigen::VectorXd;

namespace {

struct Made {
  std::vector<Eigen::Vector3d> x;
  mesh::Block cells;
};

/// One distorted element.
Made oneCell(mesh::Cell type) {
  Made m;
  m.x = {{2, 0, 0}, {3.2, 0.1, 0}, {3.4, 1.3, 0}, {1.9, 0.9, 0}};
  m.cells = {type, 0, {0, 1, 2, 3}};
  if (type == mesh::Cell::quad8)
    for (int i = 0; i < 4; ++i) {
      m.x.push_back((m.x[size_t(i)] + m.x[size_t((i + 1) % 4)]) / 2 + Eigen::Vector3d(0.02 * i, -0.015 * i, 0));
      m.cells.nodes.push_back(4 + i);
    }
  return m;
}

material::J2Law law() {
  material::J2Law l;
  l.elastic = material::ElasticLaw::fromYoung(1000, 0.3);
  l.hardening.add(0, 20), l.hardening.add(0.2, 40);
  l.finalSlope = 10;
  l.kinematicShare = 0.3;
  return l;
}

struct Case {
  mesh::Cell type;
  element::Space space;
  bool large, plastic;
};

class Tangent : public ::testing::TestWithParam<Case> {};

TEST_P(Tangent, MatchesFiniteDifferences) {
  const auto [type, space, large, plastic] = GetParam();
  const auto m = oneCell(type);
  const element::Setting setting{space, large, 1.5};
  const auto block = plastic ? element::makeBlock(m.cells, m.x, setting, law()) : element::makeBlock(m.cells, m.x, setting, law().elastic);
  const int n = block->dofs();
  std::mt19937 gen(5);
  std::uniform_real_distribution<double> d(-0.06, 0.06);
  VectorXd u = VectorXd::Zero(n), r(n), plus(n), minus(n);
  MatrixXd K(n, n), scratch(n, n);
  for (int step = 0; step < 4; ++step) {
    for (auto& v : u) v += d(gen);
    ASSERT_FALSE(block->integrate(0, u.data(), r.data(), K.data(), false).inverted);
    for (int j = 0; j < n; ++j) {
      const double h = 1e-6;
      VectorXd v = u;
      v[j] += h;
      block->integrate(0, v.data(), plus.data(), nullptr, false);
      v[j] -= 2 * h;
      block->integrate(0, v.data(), minus.data(), nullptr, false);
      EXPECT_LT(((plus - minus) / (2 * h) - K.col(j)).norm(), 1e-6 * K.norm()) << "column " << j << " step " << step;
    }
    if (block->symmetric()) {
      EXPECT_LT((K - K.transpose()).norm(), 1e-10 * K.norm());
    }
    block->integrate(0, u.data(), r.data(), K.data(), false);
    block->accept();
  }
}

std::vector<Case> cases() {
  std::vector<Case> all;
  for (auto type : {mesh::Cell::quad4, mesh::Cell::quad8})
    for (auto space : {element::Space::planeStrain, element::Space::planeStress, element::Space::axisymmetric})
      for (bool large : {true, false})
        for (bool plastic : {true, false}) all.push_back({type, space, large, plastic});
  return all;
}
INSTANTIATE_TEST_SUITE_P(Every, Tangent, ::testing::ValuesIn(cases()));

TEST(Element, RotationChangesNothing) {
  for (auto type : {mesh::Cell::quad4, mesh::Cell::quad8})
    for (auto space : {element::Space::planeStrain, element::Space::planeStress}) {
      const auto m = oneCell(type);
      const auto block = element::makeBlock(m.cells, m.x, {space, true, 1}, law());
      const int n = block->dofs();
      VectorXd u(n), turned(n), r(n), rTurned(n);
      Eigen::Matrix2d F;
      F << 1.1, 0.2, -0.1, 0.9;
      const Eigen::Matrix2d R = Eigen::Rotation2Dd(1.1).toRotationMatrix();
      for (int a = 0; a < n / 2; ++a) {
        const Eigen::Vector2d X = m.x[size_t(a)].head<2>();
        u.segment<2>(2 * a) = F * X - X, turned.segment<2>(2 * a) = R * F * X - X;
      }
      block->integrate(0, u.data(), r.data(), nullptr, false);
      std::vector<element::PointOutput> before(4), after(4);
      block->output(0, u.data(), before.data());
      block->integrate(0, turned.data(), rTurned.data(), nullptr, false);
      block->output(0, turned.data(), after.data());
      for (int a = 0; a < n / 2; ++a) EXPECT_LT((R * r.segment<2>(2 * a) - rTurned.segment<2>(2 * a)).norm(), 1e-10 * r.norm());
      for (int p = 0; p < 4; ++p) {
        EXPECT_NEAR(material::vonMises(before[size_t(p)].stress), material::vonMises(after[size_t(p)].stress), 1e-8);
        EXPECT_LT((before[0].stress - before[size_t(p)].stress).norm(), 1e-8) << "uniform strain gives uniform stress";
        EXPECT_NEAR(before[size_t(p)].equivalentPlastic, after[size_t(p)].equivalentPlastic, 1e-12);
      }
    }
}

TEST(Element, TurnedInsideOutIsReported) {
  const auto m = oneCell(mesh::Cell::quad4);
  const auto block = element::makeBlock(m.cells, m.x, {}, law());
  VectorXd u = VectorXd::Zero(8), r(8);
  u[0] = 3;
  EXPECT_TRUE(block->integrate(0, u.data(), r.data(), nullptr, false).inverted);
}

}  // namespace
