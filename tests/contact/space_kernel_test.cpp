// Contact integrals in space: derivatives against finite differences, balance of forces and moments, exact areas.
#include <gtest/gtest.h>

#include <Eigen/Geometry>
#include <functional>
#include <random>

#include "core/contact/rotation.hpp"
#include "core/contact/space_kernel.hpp"

using namespace anvil::contact;

namespace {

std::array<CornerTraction, 4> tractions(bool friction) {
  std::array<CornerTraction, 4> t;
  for (size_t a = 0; a < 4; ++a) t[a] = {3 + double(a), friction ? Point3(0.5, -0.2 * double(a), 0.3) : Point3::Zero()};
  return t;
}

/// A face near z = height over the square of half-width `half` about (cx, cy), its outside along `up` z.
SpaceFace face(int corners, bool quadratic, double cx, double cy, double half, double height, bool up, std::mt19937& gen,
               double noise) {
  std::uniform_real_distribution<double> d(-noise, noise);
  std::vector<Eigen::Vector2d> c{{-1, -1}, {1, -1}, {1, 1}, {-1, 1}};
  if (corners == 3) c = {{-1, -1}, {1.2, -0.8}, {-0.7, 1.3}};
  if (!up) std::reverse(c.begin(), c.end());
  SpaceFace f;
  f.corners = corners, f.nodes = quadratic ? 2 * corners : corners;
  for (int i = 0; i < f.nodes; ++i) {
    const auto k = size_t(i % corners);
    const Eigen::Vector2d at = i < corners ? c[k] : Eigen::Vector2d((c[k] + c[(k + 1) % size_t(corners)]) / 2);
    f.now[size_t(i)] = {cx + half * at.x() + d(gen), cy + half * at.y() + d(gen), height + 0.1 * at.x() * half + d(gen)};
    f.before[size_t(i)] = f.now[size_t(i)] + Point3(d(gen), d(gen), d(gen));
  }
  return f;
}

struct Shape {
  int slaveCorners, masterCorners;
  bool quadratic, friction;
};
/// A slave face and one over a part of it.
std::pair<SpaceFace, SpaceFace> facing(const Shape& g, unsigned seed) {
  std::mt19937 gen(seed);
  const auto slave = face(g.slaveCorners, g.quadratic, 0, 0, 1, 0, true, gen, 0.05);
  return {slave, face(g.masterCorners, g.quadratic, 0.55, 0.35, 1.2, 0.12, false, gen, 0.05)};
}

FacePoints pointsAtStart(SpaceFace slave, SpaceFace master) {
  slave.now = slave.before, master.now = master.before;
  return pointsShared(slave, master, 1);
}

class Faces : public ::testing::TestWithParam<Shape> {};

double* dofOf(SpaceFace& slave, SpaceFace& master, int j) {
  const int n = j / 3;
  return n < slave.nodes ? &slave.now[size_t(n)][j % 3] : &master.now[size_t(n - slave.nodes)][j % 3];
}

void compare(const FaceIntegral& q, const FaceIntegral& p, const FaceIntegral& m, int j, double h, double tolerance,
             bool friction) {
  const auto size = q.stiffness.norm();
  EXPECT_LT(((p.force - m.force) / (2 * h) - q.stiffness.col(j)).norm(), tolerance * size) << j;
  for (int a = 0; a < q.corners; ++a) {
    const auto A = size_t(a);
    EXPECT_NEAR((p.gap[A] - m.gap[A]) / (2 * h), q.dGap(j, a), tolerance * 3);
    EXPECT_NEAR((p.kappa[A] - m.kappa[A]) / (2 * h), q.dKappa(j, a), tolerance * 5);
    if (!friction) continue;
    for (int k = 0; k < 3; ++k) {
      EXPECT_NEAR((p.slip[A][k] - m.slip[A][k]) / (2 * h), q.dSlip(j, 3 * a + k), tolerance * 3);
    }
  }
}

/// All columns of the slopes against differences of what `with` finds.
void compareAll(const FaceIntegral& q, SpaceFace& slave, SpaceFace& master, bool friction, double tolerance,
                const std::function<void(FaceIntegral&)>& with) {
  for (int j = 0; j < q.dofs; ++j) {
    const double h = 1e-6, was = *dofOf(slave, master, j);
    FaceIntegral p, m;
    *dofOf(slave, master, j) = was + h, with(p);
    *dofOf(slave, master, j) = was - h, with(m);
    *dofOf(slave, master, j) = was;
    compare(q, p, m, j, h, tolerance, friction);
  }
}

TEST_P(Faces, DerivativesMatchFiniteDifferences) {
  const auto g = GetParam();
  int tried = 0;
  for (unsigned seed = 0; seed < 5; ++seed) {
    auto faces = facing(g, seed);
    auto &slave = faces.first, &master = faces.second;
    FaceIntegral q;
    ASSERT_TRUE(integrateFaces(slave, master, tractions(g.friction), 1, g.friction, q));
    ++tried;
    compareAll(q, slave, master, g.friction, 2e-6,
               [&](FaceIntegral& out) { integrateFaces(slave, master, tractions(g.friction), 1, g.friction, out); });
  }
  EXPECT_EQ(tried, 5);
}

TEST_P(Faces, HeldPointsGiveWhatIsIntegratedAnewAsTheIncrementBegins) {
  const auto g = GetParam();
  for (unsigned seed = 0; seed < 5; ++seed) {
    auto faces = facing(g, seed);
    auto &slave = faces.first, &master = faces.second;
    slave.now = slave.before, master.now = master.before;
    const auto points = pointsShared(slave, master, 1);
    FaceIntegral anew, held;
    ASSERT_TRUE(integrateFaces(slave, master, tractions(g.friction), 1, g.friction, anew));
    ASSERT_TRUE(integratePoints(slave, master, points, Follow::held, tractions(g.friction), g.friction, held));
    EXPECT_LT((held.force - anew.force).norm(), 1e-12 * anew.force.norm());
    EXPECT_LT((held.normal - anew.normal).norm(), 1e-12 * anew.normal.norm());
    EXPECT_LE((held.tangential - anew.tangential).norm(), 1e-12 * anew.tangential.norm());
    EXPECT_LT((held.mass - anew.mass).norm() + (held.onMaster - anew.onMaster).norm(), 1e-12);
    EXPECT_LT((held.area - anew.area).norm(), 1e-12);
    EXPECT_NEAR(held.leastGap, anew.leastGap, 1e-12);
    EXPECT_NEAR(held.closest, anew.closest, 1e-12);
    for (size_t a = 0; a < size_t(slave.corners); ++a) {
      EXPECT_NEAR(held.kappa[a], anew.kappa[a], 1e-13);
      EXPECT_NEAR(held.gap[a], anew.gap[a], 1e-13);
      EXPECT_NEAR(held.lookedOver[a], anew.lookedOver[a], 1e-13);
    }
    // both bodies moved and turned as one: gaps and areas stay
    const Eigen::Matrix3d turn = rotationOf(Point3(0.3, -0.5, 0.2));
    FaceIntegral moved;
    for (auto* f : {&slave, &master})
      for (auto& x : f->now) x = turn * x + Point3(3, -2, 1);
    ASSERT_TRUE(integratePoints(slave, master, points, Follow::held, {}, g.friction, moved));
    for (size_t a = 0; a < size_t(slave.corners); ++a) {
      EXPECT_NEAR(moved.kappa[a], anew.kappa[a], 1e-12);
      EXPECT_NEAR(moved.gap[a], anew.gap[a], 1e-12);
    }
  }
}

TEST_P(Faces, DerivativesOverHeldPointsMatchFiniteDifferences) {
  const auto g = GetParam();
  for (unsigned seed = 0; seed < 5; ++seed) {
    auto faces = facing(g, seed);
    auto &slave = faces.first, &master = faces.second;
    const auto points = pointsAtStart(slave, master);
    const auto with = [&](FaceIntegral& out) {
      integratePoints(slave, master, points, Follow::held, tractions(g.friction), g.friction, out);
    };
    FaceIntegral q;
    with(q);
    ASSERT_TRUE(q.touched);
    compareAll(q, slave, master, g.friction, 1e-7, with);
  }
}

/// A slave face and four masters that cover it, whose nodes are those of a grid of 3 x 3 corners.
struct Covered {
  SpaceFace slave;
  std::array<SpaceFace, 4> masters;
  std::array<std::array<int, 8>, 4> node{};  // of the grid
  std::vector<Point3> grid, gridBefore;

  /// `bow`: how much of both is not flat, and of the grid's lines not parallel.
  Covered(bool quadratic, double bow, unsigned seed) {
    std::mt19937 gen(seed);
    std::uniform_real_distribution<double> d(-1, 1);
    slave = face(4, quadratic, 0.05, -0.1, 0.8, 0, true, gen, 0.03 * bow);
    const int n = quadratic ? 5 : 3;
    for (int j = 0; j < n; ++j)
      for (int i = 0; i < n; ++i) {
        const double x = 3. * i / (n - 1) - 1.5, y = 3. * j / (n - 1) - 1.5;
        grid.emplace_back(x + 0.04 * bow * d(gen), y + 0.04 * bow * d(gen), 0.15 + 0.1 * x + bow * 0.05 * d(gen));
        gridBefore.push_back(grid.back() + 0.05 * Point3(d(gen), d(gen), d(gen)));
      }
    const int step = quadratic ? 2 : 1;
    for (int k = 0; k < 4; ++k) {
      const int i = step * (k % 2), j = step * (k / 2);
      const auto at = [&](int a, int b) { return i + a + n * (j + b); };
      node[size_t(k)] = {at(0, 0), at(0, step), at(step, step), at(step, 0)};  // looks down
      if (quadratic) {
        const std::array<int, 4> middles{at(0, 1), at(1, 2), at(2, 1), at(1, 0)};
        std::copy(middles.begin(), middles.end(), node[size_t(k)].begin() + 4);
      }
      masters[size_t(k)].nodes = quadratic ? 8 : 4;
    }
    place();
  }
  void place() {
    for (size_t k = 0; k < 4; ++k)
      for (size_t a = 0; a < size_t(masters[k].nodes); ++a)
        masters[k].now[a] = grid[size_t(node[k][a])], masters[k].before[a] = gridBefore[size_t(node[k][a])];
  }
  int dofs() const { return 3 * (slave.nodes + int(grid.size())); }
  double& dof(int j) { return j / 3 < slave.nodes ? slave.now[size_t(j / 3)][j % 3] : grid[size_t(j / 3 - slave.nodes)][j % 3]; }
  int dofOf(size_t k, int local) const {
    const int a = local / 3;
    return a < slave.nodes ? local : 3 * (slave.nodes + node[k][size_t(a - slave.nodes)]) + local % 3;
  }

  struct Sum {
    Eigen::VectorXd force, kappaGapSlip = Eigen::VectorXd::Zero(20);
    Eigen::MatrixXd stiffness, slopes;
    double covered = 0;
  };
  Sum sum(Follow follow, Depend depend) {
    place();
    Sum s;
    s.force = Eigen::VectorXd::Zero(dofs());
    s.stiffness = Eigen::MatrixXd::Zero(dofs(), dofs()), s.slopes = Eigen::MatrixXd::Zero(20, dofs());
    for (size_t k = 0; k < 4; ++k) {
      const auto shared = pointsShared(slave, masters[k], 1);
      FaceIntegral q;
      s.covered += shared.covered;
      if (!integratePoints(slave, masters[k], shared, follow, tractions(true), true, q, depend)) continue;
      for (int a = 0; a < 4; ++a) {
        s.kappaGapSlip[a] += q.kappa[size_t(a)], s.kappaGapSlip[4 + a] += q.gap[size_t(a)];
        s.kappaGapSlip.segment<3>(8 + 3 * a) += q.slip[size_t(a)];
      }
      for (int i = 0; i < q.dofs; ++i) {
        const int I = dofOf(k, i);
        s.force[I] += q.force[i];
        if (depend != Depend::slopes) continue;
        s.slopes.col(I).head<4>() += q.dKappa.row(i).transpose();
        s.slopes.col(I).segment<4>(4) += q.dGap.row(i).transpose();
        s.slopes.col(I).tail<12>() += q.dSlip.row(i).transpose();
        for (int j = 0; j < q.dofs; ++j) s.stiffness(I, dofOf(k, j)) += q.stiffness(i, j);
      }
    }
    return s;
  }
};

/// Largest difference between slopes over points that slide and differences of the sums along each of `ways`, over the largest.
double errorOfSliding(Covered& c, const Eigen::MatrixXd& ways) {
  const auto at = c.sum(Follow::sliding, Depend::slopes);
  EXPECT_NEAR(at.covered, 1, 1e-9);
  double error = 0;
  const auto moved = [&](const Eigen::VectorXd& way) {
    for (int j = 0; j < c.dofs(); ++j) c.dof(j) += way[j];
  };
  for (const auto& way : ways.colwise()) {
    const double h = 1e-5;
    moved(h * way);
    const auto p = c.sum(Follow::anew, Depend::forces);
    moved(-2 * h * way);
    const auto m = c.sum(Follow::anew, Depend::forces);
    moved(h * way);
    error = std::max(error, ((p.force - m.force) / (2 * h) - at.stiffness * way).norm() / at.stiffness.norm());
    error = std::max(error, ((p.kappaGapSlip - m.kappaGapSlip) / (2 * h) - at.slopes * way).norm() / at.slopes.norm());
  }
  return error;
}

TEST(Faces, SlopesOverPointsThatSlideAreThoseOfAllMastersTogether) {
  for (unsigned seed = 0; seed < 3; ++seed) {
    Covered flat(false, 0, seed), bowed(false, 1, seed);
    const Eigen::MatrixXd each = Eigen::MatrixXd::Identity(flat.dofs(), flat.dofs());
    EXPECT_LT(errorOfSliding(flat, each), 1e-8) << "the rule is exact there";
    EXPECT_LT(errorOfSliding(bowed, each), 2e-3);
  }
}

/// Along ways that leave the borders of quadratic masters straight: where outlines are not convex clipping loses slivers.
TEST(Faces, SlopesOverPointsThatSlideOnQuadraticFaces) {
  Covered c(true, 0, 1);
  std::mt19937 gen(2);
  std::uniform_real_distribution<double> d(-1, 1);
  Eigen::MatrixXd ways(c.dofs(), 12);
  for (int k = 0; k < ways.cols(); ++k) {
    std::array<Eigen::Matrix3d, 2> turn;
    std::array<Point3, 2> shift;
    for (size_t i = 0; i < 2; ++i) {
      for (auto& v : turn[i].reshaped()) v = d(gen);
      for (auto& v : shift[i]) v = d(gen);
    }
    for (int j = 0; j < c.dofs(); ++j) {
      const bool own = j / 3 < c.slave.nodes;
      const Point3 x = own ? c.slave.now[size_t(j / 3)] : c.grid[size_t(j / 3 - c.slave.nodes)];
      ways(j, k) = (turn[own] * x + shift[own])[j % 3];
    }
  }
  EXPECT_LT(errorOfSliding(c, ways), 1e-6);
}

TEST_P(Faces, ForcesAndMomentsBalance) {
  const auto g = GetParam();
  auto faces = facing(g, 3);
  auto &slave = faces.first, &master = faces.second;
  FaceIntegral q;
  ASSERT_TRUE(integrateFaces(slave, master, tractions(false), 1, false, q));
  Point3 force = Point3::Zero(), moment = Point3::Zero();
  for (int n = 0; n < slave.nodes + master.nodes; ++n) {
    const Point3 x(*dofOf(slave, master, 3 * n), *dofOf(slave, master, 3 * n + 1), *dofOf(slave, master, 3 * n + 2)),
        f = q.force.segment<3>(3 * n);
    force += f, moment += x.cross(f);
  }
  EXPECT_LT(force.norm(), 1e-11);
  EXPECT_LT(moment.norm(), 1e-11) << "pressure on both sides acts along one line";
}

TEST_P(Faces, ValuesAloneAreThoseWithSlopes) {
  const auto g = GetParam();
  for (unsigned seed = 0; seed < 5; ++seed)
    for (const double height : {0.12, 0.6, -1.3}) {  // near, partly out of reach, and behind the face
      std::mt19937 gen(seed);
      const auto slave = face(g.slaveCorners, g.quadratic, 0, 0, 1, 0, true, gen, 0.05),
                 master = face(g.masterCorners, g.quadratic, 0.55, 0.35, 1.2, height, false, gen, 0.05);
      FaceIntegral whole, values;
      const bool met = integrateFaces(slave, master, {}, 0.6, g.friction, whole);
      ASSERT_EQ(integrateFaces(slave, master, {}, 0.6, g.friction, values, Depend::distance), met);
      if (!met) continue;
      EXPECT_EQ(values.touched, whole.touched);
      EXPECT_EQ(values.dofs, 0);
      EXPECT_NEAR(values.leastGap, whole.leastGap, 1e-12);
      EXPECT_NEAR(values.closest, whole.closest, 1e-12);
      for (size_t a = 0; a < size_t(slave.corners); ++a) {
        EXPECT_NEAR(values.kappa[a], whole.kappa[a], 1e-13);
        EXPECT_NEAR(values.gap[a], whole.gap[a], 1e-13);
        EXPECT_NEAR(values.lookedOver[a], whole.lookedOver[a], 1e-13);
        EXPECT_NEAR(values.distance[a], whole.distance[a], 1e-13);
      }
      EXPECT_LT((values.mass - whole.mass).norm() + (values.onMaster - whole.onMaster).norm(), 1e-12);
      EXPECT_LT((values.area - whole.area).norm(), 1e-12);
    }
}

TEST_P(Faces, WithoutSlopesAllElseIsTheSame) {
  const auto g = GetParam();
  for (unsigned seed = 0; seed < 5; ++seed) {
    auto faces = facing(g, seed);
    auto &slave = faces.first, &master = faces.second;
    FaceIntegral whole, values;
    ASSERT_TRUE(integrateFaces(slave, master, tractions(g.friction), 1, g.friction, whole));
    ASSERT_TRUE(integrateFaces(slave, master, tractions(g.friction), 1, g.friction, values, Depend::rows));
    EXPECT_GT(whole.force.norm(), 0.1);
    EXPECT_LT((values.force - whole.force).norm(), 1e-12 * whole.force.norm());
    EXPECT_LT((values.normal - whole.normal).norm(), 1e-12 * whole.normal.norm());
    EXPECT_EQ(values.dofs, whole.dofs);
    for (size_t a = 0; a < size_t(slave.corners); ++a) {
      EXPECT_NEAR(values.kappa[a], whole.kappa[a], 1e-13);
      EXPECT_NEAR(values.gap[a], whole.gap[a], 1e-13);
      EXPECT_LT((values.slip[a] - whole.slip[a]).norm(), 1e-13);
    }
    if (g.friction) {
      EXPECT_LT((values.tangential - whole.tangential).norm(), 1e-12 * whole.tangential.norm());
    }
  }
}

INSTANTIATE_TEST_SUITE_P(Every, Faces,
                         ::testing::Values(Shape{4, 4, false, false}, Shape{4, 4, false, true}, Shape{3, 3, true, true},
                                           Shape{4, 3, true, false}, Shape{4, 4, true, true}, Shape{3, 4, true, false}));

TEST(Faces, OverlapsOfNonMatchingFacesAddUpToTheSlave) {
  std::mt19937 gen(1);
  const auto slave = face(4, false, 0, 0, 1, 0, true, gen, 0);
  const double cut[4] = {-3, -0.31, 0.42, 2.5};
  double area = 0, gap = 0;
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j < 3; ++j) {
      SpaceFace m;
      const auto at = [&](double x, double y) { return Point3(x, y, 0.2 + 0.1 * x); };  // parallel to the slave
      m.now = {at(cut[i], cut[j]), at(cut[i], cut[j + 1]), at(cut[i + 1], cut[j + 1]), at(cut[i + 1], cut[j])};
      m.before = m.now;
      FaceIntegral q;
      if (!integrateFaces(slave, m, tractions(false), 1, false, q)) continue;
      for (size_t a = 0; a < 4; ++a) area += q.kappa[a], gap += q.gap[a];
    }
  const double whole = 4 * std::sqrt(1.01);
  EXPECT_NEAR(area, whole, 1e-12);
  EXPECT_NEAR(gap / area, 0.2 / std::sqrt(1.01), 1e-12);
}

TEST(Faces, MovingTogetherIsNoSlip) {
  std::mt19937 gen(8);
  auto slave = face(4, true, 0, 0, 1, 0, true, gen, 0), master = face(4, true, 0.5, 0.2, 1, 0.05, false, gen, 0);
  const Eigen::AngleAxisd turn(0.4, Point3(1, 1, 3).normalized());
  for (auto* f : {&slave, &master})
    for (size_t i = 0; i < 8; ++i) f->before[i] = f->now[i], f->now[i] = turn * f->now[i] + Point3(1, 2, 3);
  FaceIntegral q;
  ASSERT_TRUE(integrateFaces(slave, master, tractions(false), 1, true, q));
  // finite turning leaves the relative motion of touching points zero
  for (size_t a = 0; a < 4; ++a) EXPECT_LT(q.slip[a].norm(), 1e-12);
}

enum class ToolKind { pulled, pulledWithEnds, revolved };
class AgainstBody : public ::testing::TestWithParam<std::tuple<ToolKind, bool>> {};

TEST_P(AgainstBody, DerivativesMatchFiniteDifferences) {
  const auto [made, quadratic] = GetParam();
  RigidBody body;
  body.pivot = {0.3, 0.2, 1};
  if (made == ToolKind::pulledWithEnds) {  // a block whose flat end covers half of the face, and ends with an edge
    using anvil::geometry::Curve2;
    const Eigen::Vector2d a(-0.1, -3), b(3, -3), c(3, 3), d(-0.1, 3);
    body.curves = {Curve2::line(a, b), Curve2::line(b, c), Curve2::line(c, d), Curve2::line(d, a)};
    body.closed = true, body.ends = {true, true};
    body.sweep = {anvil::geometry::Sweep::Kind::extrude, -1, 4, 0, 1};
    body.place.shift = {0, 0, 1.02};
  } else if (made == ToolKind::revolved) {  // a ball of radius 2 resting above the face: sphere, and a cone beside it
    body.curves = {anvil::geometry::Curve2::arcTo({0, -2}, {1.4, -1.42828568570857}, {0, 0}, true),
                   anvil::geometry::Curve2::line({1.4, -1.42828568570857}, {3, 0.4})};
    body.sweep = {anvil::geometry::Sweep::Kind::revolve, 0, 2 * std::acos(-1.), 0, 1};
    body.place.turn = Eigen::AngleAxisd(std::acos(0.), Point3::UnitX()).toRotationMatrix(), body.place.shift = {0.1, 0.2, 2.1};
  } else {
    body.curves = {anvil::geometry::Curve2::arcTo({-1.5, 0.6}, {1.5, 0.6}, {0, 3.5}, true)};
    body.sweep = {anvil::geometry::Sweep::Kind::extrude, -5, 10, 0, 1};
    body.place.turn = Eigen::AngleAxisd(std::acos(0.), Point3::UnitX()).toRotationMatrix();
  }
  int tried = 0;
  for (unsigned seed = 0; seed < 4; ++seed) {
    std::mt19937 gen(seed);
    auto slave = face(4, quadratic, 0, 0, 0.8, 0, true, gen, 0.04);
    SpacePlace place;
    place.now << 0.02, -0.03, 0.01, 0.1, -0.05, 0.2, place.before << 0.01, 0, 0, 0.05, 0, 0.1;
    FaceIntegral q, p, m;
    const auto evaluate = [&](FaceIntegral& out) {
      return integrateFaceRigid(slave, body, place, tractions(true), 2, true, out);
    };
    if (!evaluate(q) || !q.touched) continue;
    ++tried;
    for (int j = 0; j < q.dofs; ++j) {
      double* v = j < 3 * slave.nodes ? &slave.now[size_t(j / 3)][j % 3] : &place.now[j - 3 * slave.nodes];
      const double h = 1e-6, was = *v;
      *v = was + h, evaluate(p);
      *v = was - h, evaluate(m);
      *v = was;
      compare(q, p, m, j, h, 5e-6, true);
    }
    FaceIntegral values;  // without slopes all else is the same
    ASSERT_TRUE(integrateFaceRigid(slave, body, place, tractions(true), 2, true, values, Depend::rows));
    EXPECT_LT((values.force - q.force).norm(), 1e-12 * q.force.norm());
    EXPECT_LT((values.normal - q.normal).norm() + (values.tangential - q.tangential).norm(), 1e-12 * q.normal.norm());
    for (size_t a = 0; a < size_t(slave.corners); ++a)
      EXPECT_LT(std::abs(values.gap[a] - q.gap[a]) + std::abs(values.kappa[a] - q.kappa[a]) + (values.slip[a] - q.slip[a]).norm(),
                1e-12);
    Point3 force = q.force.tail<6>().head<3>();
    for (int n = 0; n < slave.nodes; ++n) force += q.force.segment<3>(3 * n);
    EXPECT_LT(force.norm(), 1e-11);
  }
  EXPECT_GT(tried, 2);
}

INSTANTIATE_TEST_SUITE_P(Every, AgainstBody,
                         ::testing::Combine(::testing::Values(ToolKind::pulled, ToolKind::pulledWithEnds, ToolKind::revolved),
                                            ::testing::Bool()));

TEST(Rotation, IsTheExponentialAndItsSpinTheDerivative) {
  std::mt19937 gen(2);
  std::uniform_real_distribution<double> d(-2, 2);
  for (int i = 0; i < 20; ++i) {
    const Point3 t = i == 0 ? Point3(1e-6, 0, 1e-5) : Point3(d(gen), d(gen), d(gen));
    const Eigen::Matrix3d R = rotationOf(t);
    EXPECT_LT((R - Eigen::AngleAxisd(t.norm(), t.normalized()).toRotationMatrix()).norm(), 1e-12);
    for (int k = 0; k < 3; ++k) {
      const Point3 e = 1e-6 * Point3::Unit(k);
      const Eigen::Matrix3d W = (rotationOf(t + e) - rotationOf(t - e)) / 2e-6 * R.transpose();
      EXPECT_LT((Point3(W(2, 1), W(0, 2), W(1, 0)) - spinOf(t).col(k)).norm(), 1e-8);
    }
    const Point3 m(1, 2, 3);
    EXPECT_LT((spatialMoment(t, spinOf(t).transpose() * m) - m).norm(), 1e-10);
  }
}

}  // namespace
