// Elements: patch test, rigid rotation, and consistent tangents (cases E1 and E2 at element level).
#include <gtest/gtest.h>

#include <Eigen/Geometry>
#include <random>

#include "core/element/block.hpp"
#include "element/soft_metal.hpp"

using namespace anvil;
using Eigen::MatrixXd;
using Eigen::VectorXd;

namespace {

struct Made {
  std::vector<Eigen::Vector3d> x;
  mesh::Block cells;
};

/// One distorted element: corners moved, mid-side nodes off their edges' middles.
Made oneCell(mesh::Cell type, double bulge = 0.02) {
  Made m;
  const auto& cell = mesh::info(type);
  if (cell.dim == 2) {
    m.x = {{2, 0, 0}, {3.2, 0.1, 0}, {3.4, 1.3, 0}, {1.9, 0.9, 0}};
    if (cell.corners == 3) m.x = {{2, 0, 0}, {3.2, 0.1, 0}, {2.1, 1.1, 0}};
  } else if (cell.corners == 8) {
    m.x = {{0, 0, 0},   {1.2, 0.1, 0},    {1.3, 1.1, 0.1}, {-0.1, 0.9, 0},
           {0.1, 0, 1}, {1.1, 0.05, 1.2}, {1.2, 1, 0.9},   {0, 1.1, 1.1}};
  } else if (cell.corners == 6) {
    m.x = {{0, 0, 0}, {1.2, 0.1, 0}, {0.1, 1.1, 0.1}, {0.1, 0, 1}, {1.1, 0.05, 1.2}, {0, 1.1, 1.1}};
  } else {
    m.x = {{0, 0, 0}, {1.2, 0.1, 0}, {0.1, 1.1, 0.1}, {0.2, 0.1, 1}};
  }
  if (cell.quadratic)
    for (size_t e = 0; e < cell.edge.size(); ++e)
      m.x.push_back(
          (m.x[size_t(cell.edge[e][0])] + m.x[size_t(cell.edge[e][1])]) / 2 +
          bulge * Eigen::Vector3d(std::sin(double(e)), std::cos(2. * double(e)), cell.dim == 3 ? std::sin(3. * double(e)) : 0));
  m.cells = {type, 0, {}};
  for (int i = 0; i < cell.nodes; ++i) m.cells.nodes.push_back(i);
  return m;
}

const std::vector<mesh::Cell> planeCells{mesh::Cell::quad4, mesh::Cell::quad8, mesh::Cell::tri6};
const std::vector<mesh::Cell> solidCells{mesh::Cell::hex8, mesh::Cell::hex20, mesh::Cell::tet10, mesh::Cell::wedge6,
                                         mesh::Cell::wedge15};

struct CellCase {
  mesh::Cell type;
  element::Space space;
  bool large, plastic;
};

std::unique_ptr<element::Block> blockOf(const CellCase& c) {
  const auto m = oneCell(c.type);
  const element::Setting setting{c.space, c.large, 1.5};
  return c.plastic ? element::makeBlock(m.cells, m.x, setting, softMetal())
                   : element::makeBlock(m.cells, m.x, setting, softMetal().elastic);
}

class Tangent : public ::testing::TestWithParam<CellCase> {};
class Foreseeing : public Tangent {};

TEST_P(Tangent, MatchesFiniteDifferences) {
  const auto block = blockOf(GetParam());
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

/// From one iteration to the next, the tangent is that of the forces with the pressures foreseen, along the way on which these
/// go from the ones it was taken with to those that follow from the true ones.
TEST_P(Foreseeing, TheTangentIsThatOfThePressuresForeseen) {
  const auto [type, space, large, stiff] = GetParam();
  const auto m = oneCell(type);
  material::RubberLaw rubber;
  rubber.terms = {{0.8, 2}, {-0.2, -2}}, rubber.bulk = stiff ? 100 : 3;
  const auto block = element::makeBlock(m.cells, m.x, {space, large, 1.5}, rubber);
  ASSERT_EQ(block->foresees(), stiff);
  if (!stiff) return;
  const int n = block->dofs();
  std::mt19937 gen(6);
  std::uniform_real_distribution<double> d(-0.06, 0.06);
  VectorXd u = VectorXd::Zero(n), r(n), shift(n), way(n), forces[3], fresh(n);
  MatrixXd K(n, n), alone(n, n);
  for (int iteration = 0; iteration < 3; ++iteration) {
    for (auto& v : u) v += d(gen);
    for (auto& v : way) v = d(gen);
    ASSERT_FALSE(block->integrate(0, u.data(), r.data(), K.data(), false, {-1, shift.data()}).inverted);
    EXPECT_EQ(shift.norm() > 1e-6 * r.norm(), iteration > 0) << "the first knows of none";
    const double h = 1e-5;
    for (int k = 0; k < 3; ++k) {
      forces[k].resize(n);
      const VectorXd at = u + k * h * way;
      block->integrate(0, at.data(), forces[k].data(), nullptr, false, {k * h, nullptr});
    }
    EXPECT_LT((forces[0] - r - shift).norm(), 1e-10 * r.norm());
    const VectorXd slope = (-3 * forces[0] + 4 * forces[1] - forces[2]) / (2 * h), expected = K * way - shift;
    EXPECT_LT((slope - expected).norm(), 1e-5 * expected.norm());
    if (block->symmetric()) {
      EXPECT_LT((K - K.transpose()).norm(), 1e-10 * K.norm());
    }
  }
  block->reject();
  block->integrate(0, u.data(), fresh.data(), alone.data(), false, {-1, shift.data()});
  EXPECT_EQ((fresh - r).norm(), 0) << "the forces were the true ones all along";
  EXPECT_EQ(shift.norm(), 0) << "and what was foreseen is forgotten";
  EXPECT_GT((alone - K).norm(), 1e-6 * K.norm());
}

std::vector<CellCase> cases() {
  std::vector<CellCase> all;
  for (bool large : {true, false})
    for (bool plastic : {true, false}) {
      for (auto type : planeCells)
        for (auto space : {element::Space::planeStrain, element::Space::planeStress, element::Space::axisymmetric})
          all.push_back({type, space, large, plastic});
      for (auto type : solidCells) all.push_back({type, element::Space::solid, large, plastic});
    }
  return all;
}
INSTANTIATE_TEST_SUITE_P(Every, Tangent, ::testing::ValuesIn(cases()));

/// Those whose dilatation is constant in rubber, in large geometry; the last entry: whether its volume is stiff.
std::vector<CellCase> ofOneDilatation() {
  auto all = cases();
  std::erase_if(all, [](const CellCase& c) {
    const bool quadratic = mesh::info(c.type).quadratic, simplex = mesh::info(c.type).corners == mesh::info(c.type).dim + 1;
    return !c.large || c.space == element::Space::planeStress || (quadratic && !simplex);
  });
  return all;
}
INSTANTIATE_TEST_SUITE_P(Every, Foreseeing, ::testing::ValuesIn(ofOneDilatation()));

/// A uniform deformation, then turned as a whole.
void rotationChangesNothing(mesh::Cell type, element::Space space) {
  const auto m = oneCell(type, mesh::info(type).dim == 3 ? 0 : 0.02);
  const auto block = element::makeBlock(m.cells, m.x, {space, true, 1}, softMetal());
  const int n = block->dofs(), dim = mesh::info(type).dim, points = mesh::info(type).points;
  VectorXd u(n), turned(n), r(n), rTurned(n);
  Eigen::Matrix3d F,
      R = Eigen::AngleAxisd(1.1, dim == 2 ? Eigen::Vector3d::UnitZ() : Eigen::Vector3d(1, 2, -1).normalized()).toRotationMatrix();
  F << 1.1, 0.2, 0.05, -0.1, 0.9, 0.1, 0.02, -0.05, 1.05;
  if (dim == 2) F << 1.1, 0.2, 0, -0.1, 0.9, 0, 0, 0, 1;
  for (int a = 0; a < n / dim; ++a) {
    const Eigen::Vector3d X = m.x[size_t(a)];
    const Eigen::Vector3d moved = F * X - X, alsoTurned = R * F * X - X;
    for (int k = 0; k < dim; ++k) u[dim * a + k] = moved[k], turned[dim * a + k] = alsoTurned[k];
  }
  block->integrate(0, u.data(), r.data(), nullptr, false);
  std::vector<element::PointOutput> before{size_t(points)}, after{size_t(points)};
  block->output(0, u.data(), before.data());
  block->integrate(0, turned.data(), rTurned.data(), nullptr, false);
  block->output(0, turned.data(), after.data());
  for (int a = 0; a < n / dim; ++a)
    EXPECT_LT((R.topLeftCorner(dim, dim) * r.segment(dim * a, dim) - rTurned.segment(dim * a, dim)).norm(), 1e-10 * r.norm())
        << mesh::info(type).name;
  for (size_t p = 0; p < size_t(points); ++p) {
    EXPECT_NEAR(material::vonMises(before[p].stress), material::vonMises(after[p].stress), 1e-8);
    EXPECT_LT((before[0].stress - before[p].stress).norm(), 1e-8) << "uniform strain gives uniform stress";
    EXPECT_NEAR(before[p].equivalentPlastic, after[p].equivalentPlastic, 1e-12);
    EXPECT_LT((R * material::fromMandel(before[p].stress) * R.transpose() - material::fromMandel(after[p].stress)).norm(), 1e-8);
  }
}

TEST(Element, RotationChangesNothing) {
  for (auto type : planeCells)
    for (auto space : {element::Space::planeStrain, element::Space::planeStress}) rotationChangesNothing(type, space);
  for (auto type : solidCells) rotationChangesNothing(type, element::Space::solid);
}

TEST(Element, VolumesAddUpToTheCells) {
  for (auto type : solidCells) {
    auto m = oneCell(type, 0);
    const auto block = element::makeBlock(m.cells, m.x, {element::Space::solid, true, 1}, softMetal());
    std::vector<double> share(size_t(mesh::info(type).nodes));
    block->lumpedVolume(0, share.data());
    double volume = 0, byFaces = 0;
    for (double s : share) volume += s;
    // divergence theorem over the cell's triangulated sides; exact for cells with flat sides only, so the tet is exact
    const auto& cell = mesh::info(type);
    for (int s = 0; s < cell.sides; ++s) {
      const auto at = [&](int i) { return m.x[size_t(cell.side[size_t(s)][size_t(i)])]; };
      const int corners = cell.cornersOf(s);
      Eigen::Vector3d middle = Eigen::Vector3d::Zero();
      for (int i = 0; i < corners; ++i) middle += at(i) / corners;
      for (int i = 0; i < corners; ++i) byFaces += at(i).cross(at((i + 1) % corners)).dot(middle) / 6;
    }
    EXPECT_NEAR(volume / byFaces, 1, type == mesh::Cell::tet10 ? 1e-12 : 2e-3) << cell.name;
  }
}

TEST(Element, TurnedInsideOutIsReported) {
  const auto m = oneCell(mesh::Cell::quad4);
  const auto block = element::makeBlock(m.cells, m.x, {}, softMetal());
  VectorXd u = VectorXd::Zero(8), r(8);
  u[0] = 3;
  EXPECT_TRUE(block->integrate(0, u.data(), r.data(), nullptr, false).inverted);
}

}  // namespace
