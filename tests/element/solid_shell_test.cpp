// Thin cells: balance, tangents, patches, and strips of any thinness against beam theory.
#include "core/element/solid_shell.hpp"

#include <gtest/gtest.h>

#include <Eigen/Eigenvalues>
#include <Eigen/Geometry>
#include <Eigen/LU>
#include <map>
#include <numbers>
#include <random>

#include "core/base/error.hpp"
#include "element/soft_metal.hpp"

using namespace anvil;
using Eigen::MatrixXd;
using Eigen::Vector3d;
using Eigen::VectorXd;

namespace {

/// A sheet of n by m cells, or twice as many triangles; `at` gives places by shares of the length, the width and the thickness.
struct Sheet {
  int n, m;
  std::vector<Vector3d> x;
  mesh::Block cells;
  int node(int i, int j, int k) const { return (k * (m + 1) + j) * (n + 1) + i; }
  Sheet(int n, int m, const std::function<Vector3d(double, double, double)>& at, bool triangles = false)
      : n(n), m(m), cells{triangles ? mesh::Cell::wedge6 : mesh::Cell::hex8, 0, {}} {
    for (int k = 0; k < 2; ++k)
      for (int j = 0; j <= m; ++j)
        for (int i = 0; i <= n; ++i) x.push_back(at(double(i) / n, double(j) / m, k));
    using Corners = std::vector<std::pair<int, int>>;
    const std::vector<Corners> quad{{{0, 0}, {1, 0}, {1, 1}, {0, 1}}}, rising{{{0, 0}, {1, 0}, {1, 1}}, {{0, 0}, {1, 1}, {0, 1}}},
        falling{{{0, 0}, {1, 0}, {0, 1}}, {{1, 0}, {1, 1}, {0, 1}}};
    for (int j = 0; j < m; ++j)
      for (int i = 0; i < n; ++i)
        for (const auto& cell : !triangles ? quad : (i + j) % 2 ? falling : rising)
          for (int k = 0; k < 2; ++k)
            for (const auto& [a, b] : cell) cells.nodes.push_back(node(i + a, j + b, k));
  }
  int dofs() const { return 3 * mesh::info(cells.type).nodes; }
  std::unique_ptr<element::Block> block(const element::Setting& setting, const material::AnyLaw& law, int through) const {
    auto asked = cells;
    asked.through = through;
    return element::thinBlock(asked, x, setting, law);
  }
  VectorXd of(size_t cell, const VectorXd& u) const {
    VectorXd e(dofs());
    for (int a = 0; 3 * a < dofs(); ++a) e.segment<3>(3 * a) = u.segment<3>(3 * cells.cell(cell)[a]);
    return e;
  }
  /// Internal forces, and the tangent where asked for.
  void assemble(element::Block& block, const VectorXd& u, VectorXd& force, MatrixXd* tangent) const {
    force = VectorXd::Zero(u.size());
    if (tangent) *tangent = MatrixXd::Zero(u.size(), u.size());
    for (size_t c = 0; c < cells.count(); ++c) {
      const VectorXd e = of(c, u);
      VectorXd r(dofs());
      MatrixXd K(dofs(), dofs());
      EXPECT_FALSE(block.integrate(c, e.data(), r.data(), tangent ? K.data() : nullptr, false).inverted);
      for (int a = 0; 3 * a < dofs(); ++a) {
        const int A = 3 * cells.cell(c)[a];
        force.segment<3>(A) += r.segment<3>(3 * a);
        for (int b = 0; tangent && 3 * b < dofs(); ++b)
          tangent->block<3, 3>(A, 3 * cells.cell(c)[b]) += K.block<3, 3>(3 * a, 3 * b);
      }
    }
  }
};

/// Displacements under forces, by Newton's method, with these dofs prescribed.
VectorXd balanced(const Sheet& s, element::Block& block, const std::map<int, double>& prescribed, const VectorXd& load,
                  VectorXd u = {}) {
  if (u.size() == 0) u = VectorXd::Zero(3 * Eigen::Index(s.x.size()));
  std::vector<int> free;
  for (int d = 0; d < u.size(); ++d)
    if (const auto it = prescribed.find(d); it != prescribed.end())
      u[d] = it->second;
    else
      free.push_back(d);
  VectorXd force;
  MatrixXd K;
  double size = 1e300, most = 0, rounding = 0;  // of stiffnesses to stretch, which thin sheets have much more of than to bend
  int it = 0;
  for (; it < 60 && (it < 8 || size > std::max(1e-10 * most, rounding)); ++it) {
    s.assemble(block, u, force, &K);
    const VectorXd r = (load - force)(free);
    most = std::max({most, force.cwiseAbs().maxCoeff(), 1e-300});
    const VectorXd du = K(free, free).partialPivLu().solve(r);
    u(free) += du;
    s.assemble(block, u, force, nullptr);
    size = (load - force)(free).cwiseAbs().maxCoeff();
    rounding = 1e-15 * (K.cwiseAbs() * u.cwiseAbs()).maxCoeff();
  }
  EXPECT_LT(it, 60) << size / most;
  return u;
}

element::Setting inSpace(bool large) { return {element::Space::solid, large, 1}; }

/// One cell, of eight corners or six.
Sheet oddCell(bool triangle) {
  Sheet s(
      1, 1, [](double, double, double) { return Vector3d::Zero(); }, triangle);
  if (triangle) s.cells.nodes.resize(6);
  s.x = {{0, 0, 0},      {1.2, 0.1, 0},      {-0.1, 0.9, 0}, {1.3, 1.1, 0.1},
         {0.05, 0, 0.2}, {1.15, 0.05, 0.25}, {0, 1, 0.15},   {1.2, 1, 0.3}};
  return s;
}

}  // namespace

TEST(ThinCell, TangentsAreThoseOfTheForces) {
  for (const bool triangle : {false, true})
    for (const bool large : {false, true})
      for (const bool plastic : {false, true}) {
        const Sheet s = oddCell(triangle);
        const int D = s.dofs();
        const auto block = plastic ? s.block(inSpace(large), softMetal(), 5) : s.block(inSpace(large), softMetal().elastic, 3);
        std::mt19937 gen(5);
        std::uniform_real_distribution<double> d(-0.015, 0.015);
        VectorXd u = VectorXd::Zero(3 * Eigen::Index(s.x.size())), r(D), plus(D), minus(D);
        MatrixXd K(D, D);
        double yielded = 0;
        for (int step = 0; step < 4; ++step) {
          for (auto& v : u) v += d(gen);
          VectorXd e = s.of(0, u);
          for (int k = 0; k < 8; ++k) {  // the enhanced strains settle, and the stresses foreseen are the true ones
            const VectorXd near = k % 2 ? e : VectorXd(e.array() + 1e-13);
            const auto report = block->integrate(0, near.data(), r.data(), K.data(), false);
            ASSERT_FALSE(report.inverted);
            yielded = std::max(yielded, report.plasticIncrement);
          }
          for (int j = 0; j < D; ++j) {
            const double h = 1e-7;
            VectorXd v = e;
            v[j] += h, block->integrate(0, v.data(), plus.data(), nullptr, false);
            v[j] -= 2 * h, block->integrate(0, v.data(), minus.data(), nullptr, false);
            EXPECT_LT(((plus - minus) / (2 * h) - K.col(j)).norm(), 3e-6 * K.norm()) << "column " << j << " step " << step;
          }
          if (block->symmetric()) {
            EXPECT_LT((K - K.transpose()).norm(), 1e-9 * K.norm());
          }
          block->integrate(0, e.data(), r.data(), K.data(), false);
          block->accept();
        }
        EXPECT_EQ(yielded > 0.001, plastic);
      }
}

TEST(ThinCell, HasSixMotionsWithoutForce) {
  for (const bool triangle : {false, true}) {
    const Sheet s = oddCell(triangle);
    const int D = s.dofs();
    const auto block = s.block(inSpace(false), softMetal().elastic, 2);
    const VectorXd u = VectorXd::Zero(D);
    VectorXd r(D);
    MatrixXd K(D, D);
    block->integrate(0, u.data(), r.data(), K.data(), false);
    const VectorXd values = Eigen::SelfAdjointEigenSolver<MatrixXd>(K).eigenvalues();
    EXPECT_LT(values.head(6).cwiseAbs().maxCoeff(), 1e-10 * values[D - 1]);
    EXPECT_GT(values[6], 1e-4 * values[D - 1]);
  }
}

TEST(ThinCell, RigidMotionsMakeNoForce) {
  for (const bool triangle : {false, true}) {
    const Sheet s = oddCell(triangle);
    const int D = s.dofs();
    const auto block = s.block(inSpace(true), softMetal().elastic, 5);
    const Eigen::Matrix3d turn = Eigen::AngleAxisd(2, Vector3d(1, 2, 3).normalized()).toRotationMatrix();
    VectorXd u(D), r(D);
    MatrixXd K(D, D);
    for (int a = 0; 3 * a < D; ++a) {
      const Vector3d x = s.x[size_t(s.cells.cell(0)[a])];
      u.segment<3>(3 * a) = turn * x + Vector3d(5, -3, 2) - x;
    }
    block->integrate(0, u.data(), r.data(), K.data(), false);
    EXPECT_LT(r.norm(), 1e-10 * K.norm());
    EXPECT_NEAR(block->leastVolume(0, u.data()), 1, 1e-12);
  }
}

TEST(ThinCell, GoesOnFromWhatWasStored) {
  for (const bool triangle : {false, true}) {
    const Sheet s = oddCell(triangle);
    const int D = s.dofs();
    const auto through = [&] { return s.block(inSpace(true), softMetal(), 5); };
    const auto one = through(), other = through();
    VectorXd u = 0.02 * VectorXd::LinSpaced(D, -1, 1).array().sin(), r(D), again(D);
    MatrixXd K(D, D);
    for (int k = 0; k < 6; ++k) one->integrate(0, u.data(), r.data(), K.data(), false);
    one->accept();
    other->setState(one->state());
    EXPECT_EQ(other->state(), one->state());
    u *= 1.1;
    for (int k = 0; k < 8; ++k) {
      one->integrate(0, u.data(), r.data(), K.data(), false);
      other->integrate(0, u.data(), again.data(), K.data(), false);
    }
    EXPECT_GT(r.norm(), 0.1);
    EXPECT_LT((r - again).norm(), 1e-9 * r.norm());
    EXPECT_THROW(other->setState({1, 2}), Error);
  }
}

/// An odd inner node in a plate of four cells (after R. MacNeal, R. Harder, 1985).
static Sheet patch(double thickness, bool triangles) {
  return Sheet(
      3, 3,
      [=](double a, double b, double c) {
        Vector3d x(0.24 * a, 0.12 * b, thickness * (c - 0.5));
        if (a > 0.1 && a < 0.9 && b > 0.1 && b < 0.9)
          x += Vector3d(0.02 * std::sin(9 * a + 4 * b), 0.012 * std::cos(7 * a - 5 * b), 0);
        return x;
      },
      triangles);
}

/// Shear across the sheet, which is assumed, does not pass one of odd cells; it vanishes with the thickness.
TEST(ThinCell, UniformStretchPassesAPatch) {
  for (const int kind : {0, 1, 2, 3}) {
    const bool large = kind % 2, triangles = kind > 1;
    const Sheet s = patch(0.001, triangles);
    const auto block = s.block(inSpace(large), material::ElasticLaw::fromYoung(1e6, 0.25), 3);
    Eigen::Matrix3d H;
    H << 1e-3, 0.5e-3, 0, 0.3e-3, 1e-3, 0, 0, 0, 0;
    if (large) H *= 50;
    // free across: no stress there; Poisson's ratio 1/4 of logarithmic strains
    const double area = large ? (Eigen::Matrix2d::Identity() + H.topLeftCorner<2, 2>()).determinant() : 0;
    H(2, 2) = large ? std::pow(area, -1. / 3) - 1 : -H.trace() / 3;
    std::map<int, double> prescribed;
    for (int k = 0; k < 2; ++k)
      for (int j = 0; j <= 3; ++j)
        for (int i = 0; i <= 3; ++i)
          if (i == 0 || j == 0 || i == 3 || j == 3)
            for (int d = 0; d < 3; ++d) prescribed[3 * s.node(i, j, k) + d] = (H * s.x[size_t(s.node(i, j, k))])[d];
    const auto u = balanced(s, *block, prescribed, VectorXd::Zero(3 * Eigen::Index(s.x.size())));
    for (size_t n = 0; n < s.x.size(); ++n)
      EXPECT_LT((u.segment<3>(3 * Eigen::Index(n)) - H * s.x[n]).norm(), 1e-9 * H.norm())
          << n << (large ? " large" : "") << (triangles ? " triangles" : "");
  }
}

static void bendPatch(bool triangles) {
  const double t = 0.001;
  const Sheet s = patch(t, triangles);
  const auto block = s.block(inSpace(false), material::ElasticLaw::fromYoung(1e6, 0.25), 3);
  // w = (x² + xy + y²)/2 of the middle, normals that stay normal; both sides go along, what the thickness does lies in the cell
  const auto exact = [](const Vector3d& x) -> Vector3d {
    return Vector3d(-x.z() * (x.x() + x.y() / 2), -x.z() * (x.y() + x.x() / 2),
                    (x.x() * x.x() + x.x() * x.y() + x.y() * x.y()) / 2) *
           1e-3;
  };
  std::map<int, double> prescribed;
  for (int k = 0; k < 2; ++k)
    for (int j = 0; j <= 3; ++j)
      for (int i = 0; i <= 3; ++i)
        if (i == 0 || j == 0 || i == 3 || j == 3)
          for (int d = 0; d < 3; ++d) prescribed[3 * s.node(i, j, k) + d] = exact(s.x[size_t(s.node(i, j, k))])[d];
  const auto u = balanced(s, *block, prescribed, VectorXd::Zero(3 * Eigen::Index(s.x.size())));
  double most = 0;
  for (const auto& x : s.x) most = std::max(most, exact(x).norm());
  for (int j = 1; j < 3; ++j)
    for (int i = 1; i < 3; ++i)
      for (int k = 0; k < 2; ++k) {
        const int n = s.node(i, j, k);
        EXPECT_LT((u.segment<3>(3 * n) - exact(s.x[size_t(n)])).norm(), 1e-6 * most) << i << j << k;
      }
  // stresses at the upper points of a plate in uniform bending
  const double E = 1e6, nu = 0.25, z = t / 2 * std::sqrt(0.6), sx = -E / (1 - nu * nu) * z * (1 + nu) * 1e-3;
  const int inSheet = triangles ? 3 : 4;
  std::vector<element::PointOutput> out(size_t(3 * inSheet));
  for (size_t c = 0; c < s.cells.count(); ++c) {
    const VectorXd e = s.of(c, u);
    block->output(c, e.data(), out.data());
    for (int p = 2 * inSheet; p < 3 * inSheet; ++p) {
      EXPECT_NEAR(out[size_t(p)].stress[0], sx, 1e-4 * std::abs(sx));
      EXPECT_NEAR(out[size_t(p)].stress[1], sx, 1e-4 * std::abs(sx));
      EXPECT_NEAR(out[size_t(p)].stress[3] / std::numbers::sqrt2, -E / (1 + nu) * z * 0.5e-3, 1e-4 * std::abs(sx));
      EXPECT_NEAR(out[size_t(p)].stress[2], 0, 1e-4 * std::abs(sx));
    }
  }
}

TEST(ThinCell, UniformBendingPassesAPatch) {
  for (const bool triangles : {false, true}) {
    SCOPED_TRACE(triangles ? "triangles" : "quads");
    bendPatch(triangles);
  }
}

/// Tip shift of a strip held at one end under a force at the other, over that of beam theory, across the sheet or in it.
static double tipOfStrip(double length, double width, double thickness, int n, int m, bool inPlane, double nu, bool odd = false,
                         bool triangles = false) {
  const Sheet s(
      n, m,
      [=](double a, double b, double c) {
        if (odd && a > 0 && a < 1) a += 0.3 / n * (b - 0.5) * (int(a * n + 0.5) % 2 ? 1 : -1);
        return Vector3d(length * a, width * (b - 0.5), thickness * (c - 0.5));
      },
      triangles);
  const double E = 1000;
  const auto block = s.block(inSpace(false), material::ElasticLaw::fromYoung(E, nu), 2);
  std::map<int, double> prescribed;
  VectorXd load = VectorXd::Zero(3 * Eigen::Index(s.x.size()));
  const int axis = inPlane ? 1 : 2;
  for (int j = 0; j <= m; ++j)
    for (int k = 0; k < 2; ++k) {
      prescribed[3 * s.node(0, j, k)] = 0;
      if (j == m / 2) prescribed[3 * s.node(0, j, k) + axis] = 0;
      load[3 * s.node(n, j, k) + axis] += (j == 0 || j == m ? 0.25 : 0.5) / m;
    }
  prescribed[3 * s.node(0, m / 2, 0) + 3 - axis] = 0, prescribed[3 * s.node(0, m / 2, 1) + 3 - axis] = 0;
  const auto u = balanced(s, *block, prescribed, load);
  double tip = 0;
  for (int j = 0; j <= m; ++j)
    for (int k = 0; k < 2; ++k) tip += u[3 * s.node(n, j, k) + axis] / (2 * (m + 1));
  const double high = inPlane ? width : thickness, wide = inPlane ? thickness : width;
  const double bending = std::pow(length, 3) / (3 * E * wide * std::pow(high, 3) / 12),
               shear = length / (5. / 6 * E / (2 * (1 + nu)) * wide * high);
  return tip / (bending + shear);
}

TEST(ThinCell, StripsOfAnyThinnessBendAsBeamsDo) {
  for (const double thickness : {1., 0.1, 0.01})  // of a length of 10
    EXPECT_NEAR(tipOfStrip(10, 1, thickness, 10, 2, false, 0), 1, 0.004) << thickness;
  for (const double thickness : {0.1, 0.01})
    EXPECT_NEAR(tipOfStrip(10, 1, thickness, 10, 2, false, 0, true), 1, 0.01) << thickness;
}

TEST(ThinCell, StripsOfTrianglesComeToTheSame) {
  for (const double thickness : {1., 0.1, 0.01}) {
    const double coarse = 1 - tipOfStrip(10, 1, thickness, 10, 2, false, 0, false, true),
                 fine = 1 - tipOfStrip(10, 1, thickness, 20, 4, false, 0, false, true);
    EXPECT_NEAR(fine, 0, 0.01) << thickness;
    EXPECT_LT(std::abs(fine), 0.5 * std::abs(coarse) + 0.001) << thickness;
  }
}

TEST(ThinCell, BendsInItsPlane) {
  EXPECT_NEAR(tipOfStrip(10, 1, 0.05, 10, 2, true, 0.3), 1, 0.01);
  // odd cells are stiffer; what is missing falls with the square of their size
  const double coarse = 1 - tipOfStrip(10, 1, 0.05, 10, 2, true, 0.3, true),
               fine = 1 - tipOfStrip(10, 1, 0.05, 20, 4, true, 0.3, true);
  EXPECT_LT(fine, 0.4 * coarse);
}

TEST(ThinCell, KeepsItsSoftnessWhereVolumeIsKept) {
  // narrow: a beam, whatever Poisson's ratio
  EXPECT_NEAR(tipOfStrip(10, 1, 0.1, 12, 2, false, 0.4999), tipOfStrip(10, 1, 0.1, 12, 2, false, 0.3), 0.01);
  // in its plane cells of a thickness that varies as the nodes have it are a little stiff, and less so the smaller they are
  const double coarse = 1 - tipOfStrip(10, 1, 0.1, 12, 2, true, 0.4999), fine = 1 - tipOfStrip(10, 1, 0.1, 24, 4, true, 0.4999);
  EXPECT_LT(fine, 0.5 * coarse);
}

TEST(ThinCell, ACurvedStripIsAsSoftAsACurvedBeam) {
  // a quarter ring held at one end, pulled at the other towards the centre: π F R³ / 4 E I (S. Timoshenko)
  const double R = 10, E = 1000;
  for (const double t : {0.5, 0.05, 0.01}) {
    const int n = 16;
    const Sheet s(n, 1, [=](double a, double b, double c) {
      const double angle = a * std::numbers::pi / 2, r = R + t * (c - 0.5);
      return Vector3d(r * std::sin(angle), b - 0.5, r * std::cos(angle));
    });
    const auto block = s.block(inSpace(false), material::ElasticLaw::fromYoung(E, 0), 3);
    std::map<int, double> prescribed;
    VectorXd load = VectorXd::Zero(3 * Eigen::Index(s.x.size()));
    for (int j = 0; j <= 1; ++j)
      for (int k = 0; k < 2; ++k) {
        for (int d = 0; d < 3; ++d) prescribed[3 * s.node(0, j, k) + d] = 0;
        load[3 * s.node(n, j, k)] = -0.25;
      }
    const auto u = balanced(s, *block, prescribed, load);
    const double I = t * t * t / 12, beam = std::numbers::pi * R * R * R / (4 * E * I);
    EXPECT_NEAR(-u[3 * s.node(n, 0, 0)] / beam, 1, 0.02) << t;
  }
}

TEST(ThinCell, RollsUpToARing) {
  // a strip whose end is led along the circle arcs that a beam of its length would take (case L2): at the full circle it holds
  // with 2πEI/L
  const double L = 12, t = 0.1, E = 1200, target = 2 * std::numbers::pi;
  const int n = 24;
  const Sheet s(n, 1, [=](double a, double b, double c) { return Vector3d(L * a, b - 0.5, t * (c - 0.5)); });
  const auto block = s.block(inSpace(true), material::ElasticLaw::fromYoung(E, 0), 2);
  VectorXd u = VectorXd::Zero(3 * Eigen::Index(s.x.size()));
  const int steps = 12;
  double moment = 0;
  for (int step = 1; step <= steps; ++step) {
    const double angle = target * step / steps, r = L / angle;
    std::map<int, double> prescribed;
    for (int j = 0; j <= 1; ++j)
      for (int k = 0; k < 2; ++k) {
        for (int d = 0; d < 3; ++d) prescribed[3 * s.node(0, j, k) + d] = 0;
        const double z = t * (k - 0.5);
        const int e = 3 * s.node(n, j, k);
        prescribed[e] = (r - z) * std::sin(angle) - L, prescribed[e + 1] = 0,
        prescribed[e + 2] = r - (r - z) * std::cos(angle) - z;
      }
    for (int j = 0; j <= 1; ++j)  // from a start near to it
      for (int k = 0; k < 2; ++k)
        for (int i = 1; i < n; ++i) {
          const double z = t * (k - 0.5), along = angle * i / n;
          u.segment<3>(3 * s.node(i, j, k)) =
              Vector3d((r - z) * std::sin(along) - L * i / n, 0, r - (r - z) * std::cos(along) - z);
        }
    u = balanced(s, *block, prescribed, VectorXd::Zero(u.size()), u);
    VectorXd force;
    s.assemble(*block, u, force, nullptr);
    moment = 0;
    for (int j = 0; j <= 1; ++j) moment += t / 2 * (force[3 * s.node(0, j, 1)] - force[3 * s.node(0, j, 0)]);
    block->accept();
  }
  const double beam = target * E * t * t * t / 12 / L;
  EXPECT_NEAR(std::abs(moment) / beam, 1, 0.02);
  // half way round it stands opposite its ends
  const Vector3d half = s.x[size_t(s.node(n / 2, 0, 0))] + u.segment<3>(3 * s.node(n / 2, 0, 0));
  EXPECT_NEAR(half.x(), 0, 0.02);
  EXPECT_NEAR(half.z(), L / std::numbers::pi + t / 2, 0.02);
}
