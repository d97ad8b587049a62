// What every element owes to mechanics: no stiffness against rigid motions and against nothing else, forces in balance in any
// state, and no work gained on a round trip through elastic states.
#include <gtest/gtest.h>

#include <Eigen/Dense>
#include <random>

#include "core/base/dense.hpp"
#include "core/element/block.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"
#include "core/problem/problem.hpp"

using namespace anvil;
using Eigen::MatrixXd;
using Eigen::VectorXd;

namespace {

struct CellKind {
  mesh::Cell type;
  element::Space space;
  int soft;  ///< shapes that reduced integration lets through at no cost beside rigid ones (T. J. R. Hughes, The Finite Element
             ///< Method, 4.6)
};

const std::vector<CellKind> cellKinds{
    {mesh::Cell::quad4, element::Space::planeStrain, 0},  {mesh::Cell::quad4, element::Space::planeStress, 0},
    {mesh::Cell::quad4, element::Space::axisymmetric, 0}, {mesh::Cell::quad8, element::Space::planeStrain, 1},
    {mesh::Cell::quad8, element::Space::planeStress, 1},  {mesh::Cell::quad8, element::Space::axisymmetric, 1},
    {mesh::Cell::tri6, element::Space::planeStrain, 0},   {mesh::Cell::tri6, element::Space::planeStress, 0},
    {mesh::Cell::tri6, element::Space::axisymmetric, 0},  {mesh::Cell::hex8, element::Space::solid, 0},
    {mesh::Cell::hex20, element::Space::solid, 6},        {mesh::Cell::tet10, element::Space::solid, 0},
    {mesh::Cell::wedge6, element::Space::solid, 0},       {mesh::Cell::wedge15, element::Space::solid, 3}};

/// One cell with straight edges that no symmetry makes special, away from the axis.
struct One {
  std::vector<Eigen::Vector3d> x;
  mesh::Block cells;
  explicit One(mesh::Cell type) {
    const auto& cell = mesh::info(type);
    if (cell.dim == 2) {
      x = {{4, 0, 0}, {5.3, 0.2, 0}, {5.4, 1.4, 0}, {3.9, 1, 0}};
      if (cell.corners == 3) x = {{4, 0, 0}, {5.2, 0.1, 0}, {4.1, 1.1, 0}};
    } else if (cell.corners == 8) {
      x = {{0, 0, 0},   {1.2, 0.1, 0},    {1.3, 1.1, 0.1}, {-0.1, 0.9, 0},
           {0.1, 0, 1}, {1.1, 0.05, 1.2}, {1.2, 1, 0.9},   {0, 1.1, 1.1}};
    } else if (cell.corners == 6) {
      x = {{0, 0, 0}, {1.2, 0.1, 0}, {0.1, 1.1, 0.1}, {0.1, 0, 1}, {1.1, 0.05, 1.2}, {0, 1.1, 1.1}};
    } else {
      x = {{0, 0, 0}, {1.2, 0.1, 0}, {0.1, 1.1, 0.1}, {0.2, 0.1, 1}};
    }
    if (cell.quadratic)
      for (const auto& e : cell.edge) x.push_back((x[size_t(e[0])] + x[size_t(e[1])]) / 2);
    cells = {type, 0, {}};
    for (int i = 0; i < cell.nodes; ++i) cells.nodes.push_back(i);
  }
};

material::J2Law elasticMetal() {
  material::J2Law l;
  l.elastic = material::ElasticLaw::fromYoung(1000, 0.3);
  l.hardening.add(0, 20), l.hardening.add(0.2, 40);
  l.hardening.finalSlope = 10;
  return l;
}

std::string nameOf(const CellKind& k) {
  return std::string(mesh::info(k.type).name) + (k.space == element::Space::axisymmetric  ? ", axisymmetric"
                                                 : k.space == element::Space::planeStress ? ", plane stress"
                                                                                          : "");
}

TEST(Element, OnlyRigidMotionsAndKnownShapesCostNothing) {
  for (const auto& kind : cellKinds)
    for (const bool large : {true, false}) {
      const One one(kind.type);
      const auto block = element::makeBlock(one.cells, one.x, {kind.space, large, 1}, elasticMetal().elastic);
      const int n = block->dofs();
      VectorXd u = VectorXd::Zero(n), r(n);
      MatrixXd K(n, n);
      block->integrate(0, u.data(), r.data(), K.data(), false);
      EXPECT_LT(r.norm(), 1e-12 * K.norm()) << "no force without displacement";
      const VectorXd values = symmetricModes((K + K.transpose()) / 2).values;
      EXPECT_GT(values.minCoeff(), -1e-10 * values.maxCoeff()) << nameOf(kind);
      const auto free = (values.array() < 1e-9 * values.maxCoeff()).count();
      const int rigid = kind.space == element::Space::axisymmetric ? 1 : kind.space == element::Space::solid ? 6 : 3;
      EXPECT_EQ(free, rigid + kind.soft) << nameOf(kind);
    }
}

/// Sums of forces and of their moments about the origin, in the deformed place.
void expectBalance(const One& one, int dim, bool axial, const VectorXd& u, const VectorXd& r, const std::string& words) {
  Eigen::Vector3d force = Eigen::Vector3d::Zero(), moment = force;
  for (size_t a = 0; a < one.x.size(); ++a) {
    Eigen::Vector3d at = one.x[a], f = Eigen::Vector3d::Zero();
    for (int k = 0; k < dim; ++k) at[k] += u[dim * int(a) + k], f[k] = r[dim * int(a) + k];
    force += f, moment += at.cross(f);
  }
  if (axial) force.x() = 0, moment.setZero();  // hoop stress carries a radial sum
  EXPECT_LT(force.norm(), 1e-10 * r.norm()) << words;
  EXPECT_LT(moment.norm(), 1e-9 * r.norm()) << words;
}

/// Motions of a whole mesh that cost nothing.
long freeMotions(const std::string& model) {
  const auto d = model::parse(model);
  const auto mesh = analysis::buildMesh(d, model::Quantities(d));
  const int n = 3 * int(mesh.x.size());
  MatrixXd K = MatrixXd::Zero(n, n);
  for (const auto& b : mesh.blocks) {
    const auto block = element::makeBlock(b, mesh.x, {element::Space::solid, true, 1}, elasticMetal().elastic);
    const int m = block->dofs();
    VectorXd u = VectorXd::Zero(m), r(m);
    MatrixXd k(m, m);
    for (size_t c = 0; c < b.count(); ++c) {
      block->integrate(c, u.data(), r.data(), k.data(), false);
      const int* cell = b.cell(c);
      for (int i = 0; i < m; ++i)
        for (int j = 0; j < m; ++j) K(3 * cell[i / 3] + i % 3, 3 * cell[j / 3] + j % 3) += k(i, j);
    }
  }
  const VectorXd values = symmetricModes((K + K.transpose()) / 2).values;
  return (values.array() < 1e-9 * values.maxCoeff()).count();
}

TEST(Element, NeighboursStopEachOthersSoftShapes) {
  const auto solid = [](const std::string& element, const std::string& swept, int across, int along) {
    return freeMotions(
        R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}}, "steps": {"s": {}}, "parts": {
        "p": {"material": "m", "element": ")" +
        element + R"(", "shape": {"rectangle": {"at": [0, 0], "size": [4, 3]}}, "mesh": {"count": [)" + std::to_string(across) +
        ", " + std::to_string(along) + "]}, " + swept + "}}}");
  };
  EXPECT_EQ(solid("hex20", R"("extrude": {"depth": 3, "count": 2})", 2, 1), 6);
  EXPECT_EQ(solid("hex20", R"("extrude": {"depth": 3, "count": 2})", 2, 2), 6);
  // at the axis of a body of revolution stand wedges
  EXPECT_EQ(solid("hex20", R"("revolve": {"angle": 90, "count": 3})", 1, 2), 6);
  EXPECT_EQ(solid("hex20", R"("revolve": {"angle": 360, "count": 6})", 1, 1), 6);
  EXPECT_EQ(solid("hex20", R"("revolve": {"angle": 360, "count": 6})", 2, 2), 6);
}

TEST(Element, ForcesAndMomentsBalanceInAnyState) {
  for (const auto& kind : cellKinds) {
    const One one(kind.type);
    const int dim = mesh::info(kind.type).dim;
    const auto block = element::makeBlock(one.cells, one.x, {kind.space, true, 1}, elasticMetal());
    std::mt19937 gen(11);
    std::uniform_real_distribution<double> d(-0.07, 0.07);
    VectorXd u = VectorXd::Zero(block->dofs()), r(block->dofs());
    bool yielded = false;
    for (int step = 0; step < 4; ++step) {
      for (auto& v : u) v += d(gen);
      const auto report = block->integrate(0, u.data(), r.data(), nullptr, false);
      ASSERT_FALSE(report.inverted) << nameOf(kind);
      yielded = yielded || report.plasticIncrement > 0.01;
      expectBalance(one, dim, kind.space == element::Space::axisymmetric, u, r, nameOf(kind));
      block->accept();
    }
    EXPECT_TRUE(yielded) << nameOf(kind);
  }
}

TEST(Element, ARoundTripThroughElasticStatesGivesNoWork) {
  for (const auto& kind : cellKinds) {
    const One one(kind.type);
    const auto block = element::makeBlock(one.cells, one.x, {kind.space, true, 1}, elasticMetal().elastic);
    if (!block->symmetric()) continue;  // mean dilatation by F-bar has no potential
    const int n = block->dofs();
    VectorXd unused(n);
    MatrixXd K(n, n);
    std::mt19937 gen(7);
    std::uniform_real_distribution<double> d(-0.1, 0.1);
    std::vector<VectorXd> corner{VectorXd::Zero(n), VectorXd::Zero(n), VectorXd::Zero(n)};
    for (int k = 1; k < 3; ++k)
      for (auto& v : corner[size_t(k)]) v = d(gen);
    // Gauss's rule of four points on each leg of the triangle
    const double at[4] = {0.0694318442029737, 0.3300094782075719, 0.6699905217924281, 0.9305681557970263},
                 weight[4] = {0.1739274225687269, 0.3260725774312731, 0.3260725774312731, 0.1739274225687269};
    double work = 0, moved = 0;
    const int pieces = 8;
    for (size_t leg = 0; leg < 3; ++leg) {
      const VectorXd along = (corner[(leg + 1) % 3] - corner[leg]) / pieces;
      for (int p = 0; p < pieces; ++p)
        for (int g = 0; g < 4; ++g) {
          const VectorXd u = corner[leg] + (p + at[g]) * along;
          VectorXd r(n);
          ASSERT_FALSE(block->integrate(0, u.data(), r.data(), nullptr, false).inverted);
          work += weight[g] * r.dot(along), moved += weight[g] * std::abs(r.dot(along));
        }
    }
    EXPECT_GT(moved, 0.1) << nameOf(kind);
    EXPECT_LT(std::abs(work), 1e-8 * moved) << nameOf(kind);
  }
}

TEST(Element, ARejectedStateLeavesNoTrace) {
  for (const auto& kind : cellKinds) {
    const One one(kind.type);
    const auto block = element::makeBlock(one.cells, one.x, {kind.space, true, 1}, elasticMetal());
    const int n = block->dofs();
    std::mt19937 gen(2);
    std::uniform_real_distribution<double> d(-0.07, 0.07);
    VectorXd u(n), far(n), r(n), again(n);
    for (auto& v : u) v = d(gen);
    for (auto& v : far) v = d(gen);
    block->integrate(0, u.data(), r.data(), nullptr, false);
    const auto before = block->state();
    block->integrate(0, far.data(), again.data(), nullptr, false);
    block->reject();
    EXPECT_EQ(block->state(), before);
    block->integrate(0, u.data(), again.data(), nullptr, false);
    EXPECT_EQ(r, again) << nameOf(kind);
    block->accept();
    const auto kept = block->state();
    const auto other = element::makeBlock(one.cells, one.x, {kind.space, true, 1}, elasticMetal());
    other->setState(kept);
    block->integrate(0, far.data(), r.data(), nullptr, false), other->integrate(0, far.data(), again.data(), nullptr, false);
    EXPECT_EQ(r, again) << "a stored state goes on like its own, " << nameOf(kind);
  }
}

}  // namespace
