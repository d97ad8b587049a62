// Deformable against deformable, in space, over points that stay with the slave's material: they depend on the nodes by shape
// functions alone; areas and normals, on the slave's. On the master they stay with the material too, or slide. What multiplies
// shape functions is laid down for a bunch of points first, and then summed with them, so that sums run along vectors.
#include <Eigen/Geometry>

#include "core/contact/space_facing.hpp"
#include "core/contact/space_touch.hpp"

namespace anvil::contact {
namespace {

constexpr int most = 24, corners = 4, nodes = 16;

/// What multiplies the shape functions of a point, in one column for each point, by corner A: with N_A and the weight.
struct PointColumns {
  int count = 0;
  Eigen::Matrix<double, nodes, most> shape;             ///< N_a of the slave, then -M_b of the master
  std::array<Eigen::Matrix<double, 8, most>, 2> slope;  ///< N_a,ξ and N_a,η of the slave
  Eigen::Matrix<double, 3 * corners, most> normal;
  Eigen::Matrix<double, 9 * corners, most> level;                 ///< I - n nᵀ
  std::array<Eigen::Matrix<double, 6 * corners, most>, 2> size;   ///< slopes of κ and g by N_a,ξ and N_a,η
  std::array<Eigen::Matrix<double, 9 * corners, most>, 2> slide;  ///< of the slip
  std::array<Eigen::Matrix<double, 9, most>, 2> pull;             ///< of the traction
  // where points slide on the master: slopes by the places of nodes
  Eigen::Matrix<double, 3 * corners, most> gap;                            ///< of the gap
  Eigen::Matrix<double, 9 * corners, most> slip;                           ///< of the slip
  std::array<Eigen::Matrix<double, 8, most>, 2> slopeMaster;               ///< M_b,ξ and M_b,η of the master
  std::array<Eigen::Matrix<double, 9, most>, 2> along;                     ///< of the forces by M_b,j, with shapes
  std::array<std::array<Eigen::Matrix<double, 9, most>, 2>, 2> alongTurn;  ///< and with N_a,i
};

/// Σ over the points of a column times a weight.
template <class Columns, class Weights>
auto sumOver(int count, const Columns& columns, const Weights& weights) {
  Eigen::Matrix<double, Columns::RowsAtCompileTime, 1> sum = columns.col(0) * weights[0];
  for (int p = 1; p < count; ++p) sum += columns.col(p) * weights[p];
  return sum;
}

/// The same of two columns.
template <class Columns, class Weights>
auto sumOver(int count, const std::array<Columns, 2>& columns, const Weights& one, const Weights& other) {
  Eigen::Matrix<double, Columns::RowsAtCompileTime, 1> sum = columns[0].col(0) * one[0] + columns[1].col(0) * other[0];
  for (int p = 1; p < count; ++p) sum += columns[0].col(p) * one[p] + columns[1].col(p) * other[p];
  return sum;
}

/// Sums with the shape functions what corners gather of numbers (3 rows each) and, with friction, of vectors (9 rows each).
template <class Numbers, class Vectors>
void sumByShapes(const PointColumns& b, int all, const Numbers& numbers, const Vectors& vectors, bool friction,
                 Eigen::MatrixXd& ofNumbers, Eigen::MatrixXd& ofVectors) {
  for (int a = 0; a < all; ++a) {
    const auto weight = b.shape.row(a);
    const auto number = sumOver(b.count, numbers, weight);
    for (Eigen::Index A = 0; A < ofNumbers.cols(); ++A) ofNumbers.block<3, 1>(3 * a, A) += number.template segment<3>(3 * A);
    if (!friction) continue;
    const auto vector = sumOver(b.count, vectors, weight);
    for (Eigen::Index k = 0; k < ofVectors.cols(); ++k) ofVectors.block<3, 1>(3 * a, k) += vector.template segment<3>(3 * k);
  }
}

/// The slopes but for what moves places alone, which is as the rows: dg = -n·Σ shape du and the like.
void sumSlopes(const PointColumns& b, int own, int all, bool friction, FaceIntegral& out) {
  std::array<Eigen::Matrix<double, 36, most>, 2> blocks;  // of four of the slave's nodes
  for (int n = 0; n < own; ++n) {
    const auto one = b.slope[0].row(n), other = b.slope[1].row(n);
    const auto size = sumOver(b.count, b.size, one, other);
    for (int A = 0; A < out.corners; ++A) {
      out.dKappa.block<3, 1>(3 * n, A) += size.segment<3>(6 * A);
      out.dGap.block<3, 1>(3 * n, A) += size.segment<3>(6 * A + 3);
    }
    if (friction) {
      const auto slide = sumOver(b.count, b.slide, one, other);
      for (int A = 0; A < out.corners; ++A)
        for (int j = 0; j < 3; ++j) out.dSlip.block<3, 1>(3 * n, 3 * A + j) += slide.segment<3>(9 * A + 3 * j);
    }
    auto& block = blocks[size_t(n / 4)];
    for (int p = 0; p < b.count; ++p)
      block.col(p).segment<9>(9 * (n % 4)) = b.pull[0].col(p) * one[p] + b.pull[1].col(p) * other[p];
  }
  for (int first = 0; first < own; first += 4) {
    auto& block = blocks[size_t(first / 4)];
    const int count = std::min(4, own - first);
    if (count < 4) block.bottomRows(9 * (4 - count)).setZero();
    for (int a = 0; a < all; ++a) {
      const auto sum = sumOver(b.count, block, b.shape.row(a));
      for (int n = 0; n < count; ++n)
        for (int k = 0; k < 3; ++k) out.stiffness.block<3, 1>(3 * a, 3 * (first + n) + k) += sum.segment<3>(9 * n + 3 * k);
    }
  }
}

/// Forces on the master's nodes follow the points over it: four nodes of either at a time.
void sumAlong(const PointColumns& b, int own, int all, FaceIntegral& out) {
  std::array<Eigen::Matrix<double, 36, most>, 2> blocks;
  for (int first = 0; first < all; first += 4) {
    const int count = std::min(4, all - first);
    for (size_t j = 0; j < 2; ++j) {
      auto& block = blocks[j];
      if (count < 4) block.bottomRows(9 * (4 - count)).setZero();
      for (int n = 0; n < count; ++n) {
        const int a = first + n;
        for (int p = 0; p < b.count; ++p) {
          auto to = block.col(p).segment<9>(9 * n);
          to = b.along[j].col(p) * b.shape(a, p);
          if (a < own) to += b.alongTurn[j][0].col(p) * b.slope[0](a, p) + b.alongTurn[j][1].col(p) * b.slope[1](a, p);
        }
      }
    }
    for (int m = own; m < all; ++m) {
      const auto sum = sumOver(b.count, blocks, b.slopeMaster[0].row(m - own), b.slopeMaster[1].row(m - own));
      for (int n = 0; n < count; ++n)
        for (int k = 0; k < 3; ++k) out.stiffness.block<3, 1>(3 * m, 3 * (first + n) + k) += sum.segment<3>(9 * n + 3 * k);
    }
  }
}

/// A point's place on the two faces.
struct Local {
  Point3 t1, t2, n, way, moved{0, 0, 0}, slide{0, 0, 0};
  double size, weight, gap;
  Eigen::Matrix3d level;  ///< I - n nᵀ
};

/// Tractions at a point: pressure, and friction as it is given.
struct Traction {
  double pressure = 0;
  Point3 friction{0, 0, 0};
};

using Turns = std::array<Eigen::Matrix3d, 2>;  // of the normal, by N_a,ξ and N_a,η

/// Lays down the slopes of a point but for what slides: dW = (N_b,ξ w1 + N_b,η w2)·du_b, dn = (N_b,ξ turn1 + N_b,η turn2) du_b,
/// d(way) = -Σ shape_a du_a.
void laySlopes(const Local& x, const Traction& t, const Turns& turn, double share, const std::array<double, 8>& L, bool friction,
               bool slides, PointColumns& b) {
  const int p = b.count;
  const Point3 q = t.pressure * x.n + x.level * t.friction;
  const std::array<Point3, 2> w{share * x.t2.cross(x.n), share * x.n.cross(x.t1)};
  for (size_t j = 0; j < 2; ++j) {
    Point3 g = x.gap * w[j];
    if (!slides) g += x.weight * (turn[j].transpose() * x.way);
    // d(slip) = level d(moved) - (n movedᵀ + moved·n) dn, of the traction q = (P - t·n) n + t; columns: components
    const Eigen::Matrix3d s =
        w[j] * x.slide.transpose() -
        x.weight * turn[j].transpose() * (x.moved * x.n.transpose() + x.moved.dot(x.n) * Eigen::Matrix3d::Identity());
    const Eigen::Matrix3d f = q * w[j].transpose() + x.weight * ((t.pressure - t.friction.dot(x.n)) * turn[j] -
                                                                 x.n * (t.friction.transpose() * turn[j]));
    Eigen::Map<Eigen::Matrix3d>(b.pull[j].col(p).data()) = f;
    for (int A = 0; A < corners; ++A) {
      auto sizes = b.size[j].col(p).segment<6>(6 * A);
      sizes.head<3>() = L[size_t(A)] * w[j], sizes.tail<3>() = L[size_t(A)] * g;
      if (friction) b.slide[j].col(p).segment<9>(9 * A) = L[size_t(A)] * Eigen::Map<const Eigen::Matrix<double, 9, 1>>(s.data());
    }
  }
}

/// Lays down what sliding over the master adds: x + g n = y(η) makes (dη, dg) = K (Σ shape_a du_a + g dn), K the inverse of
/// [y,ξ y,η -n]; d(moved) = (I - S) Σ shape_a du_a - g S dn with S = Σ (y,j - Y,j) K_j, Y the master at the increment's start.
void laySliding(const Local& x, const Traction& t, const Turns& turn, const std::array<double, 8>& L, bool friction,
                const Places::Local& now, const Places::Local& before, const element::FaceShape& M, int nodesOfMaster,
                PointColumns& b) {
  const int p = b.count;
  const Point3 first = x.n.cross(now.t2), second = now.t1.cross(x.n), third = now.t1.cross(now.t2);
  const double over = 1 / now.t1.dot(first);
  const std::array<Point3, 3> K{over * first, over * second, over * third};
  const Point3 q = x.weight * (t.pressure * x.n + x.level * t.friction);
  const Eigen::Matrix3d S = (now.t1 - before.t1) * K[0].transpose() + (now.t2 - before.t2) * K[1].transpose();
  const Eigen::Matrix3d slips = x.weight * (Eigen::Matrix3d::Identity() - S).transpose() * x.level,
                        turned = -x.weight * x.gap * S.transpose() * x.level;
  for (int A = 0; A < corners; ++A) {
    b.gap.col(p).segment<3>(3 * A) = L[size_t(A)] * x.weight * K[2];
    if (friction) b.slip.col(p).segment<9>(9 * A) = L[size_t(A)] * Eigen::Map<const Eigen::Matrix<double, 9, 1>>(slips.data());
  }
  for (size_t i = 0; i < 2; ++i) {
    const Point3 g = x.weight * x.gap * (turn[i].transpose() * K[2]);
    const Eigen::Matrix3d s = turn[i].transpose() * turned;
    for (int A = 0; A < corners; ++A) {
      b.size[i].col(p).segment<3>(6 * A + 3) += L[size_t(A)] * g;
      if (friction) b.slide[i].col(p).segment<9>(9 * A) += L[size_t(A)] * Eigen::Map<const Eigen::Matrix<double, 9, 1>>(s.data());
    }
  }
  for (int c = 0; c < nodesOfMaster; ++c) b.slopeMaster[0](c, p) = M.d1[size_t(c)], b.slopeMaster[1](c, p) = M.d2[size_t(c)];
  for (size_t j = 0; j < 2; ++j) {
    const Eigen::Matrix3d P = -q * K[j].transpose();
    Eigen::Map<Eigen::Matrix3d>(b.along[j].col(p).data()) = P;
    for (size_t i = 0; i < 2; ++i) Eigen::Map<Eigen::Matrix3d>(b.alongTurn[j][i].col(p).data()) = x.gap * P * turn[i];
  }
}

}  // namespace

bool integratePoints(const SpaceFace& slave, const SpaceFace& master, const FacePoints& shared, Follow follow,
                     const std::array<CornerTraction, 4>& traction, bool friction, FaceIntegral& out, Depend depend) {
  const bool exact = follow == Follow::anew && depend == Depend::slopes;
  const int own = slave.nodes, all = own + master.nodes;
  if (shared.empty()) return false;
  clear(out, slave, 3 * all, friction, depend);
  if (follow != Follow::held) out.leastGap = shared.leastGap, out.closest = shared.closest;
  const bool slopes = depend == Depend::slopes && !exact, rows = depend >= Depend::rows, forces = depend >= Depend::forces;
  const bool slides = slopes && follow == Follow::sliding;
  const Places slaveNow(slave, slave.now), slaveBefore(slave, slave.before), masterNow(master, master.now),
      masterBefore(master, master.before);
  static thread_local PointColumns columns;
  auto& b = columns;
  b.count = 0;
  const auto gather = [&] {
    if (b.count > 0 && rows) sumByShapes(b, all, b.normal, b.level, friction, out.normal, out.tangential);
    if (b.count > 0 && slopes) sumSlopes(b, own, all, friction, out);
    if (b.count > 0 && slides) {
      sumByShapes(b, all, b.gap, b.slip, friction, out.dGap, out.dSlip);
      sumAlong(b, own, all, out);
    }
    b.count = 0;
  };
  for (const auto& point : shared.points) {
    const auto L = element::cornerShape(slave.corners, point.xi).N;
    const auto here = slaveNow.at(point.xi), opposite = masterNow.at(point.eta);
    auto then = opposite;
    const Point3 across = here.t1.cross(here.t2);
    Local x;
    x.t1 = here.t1, x.t2 = here.t2, x.size = across.norm(), x.weight = point.share * x.size;
    x.n = across / x.size, x.way = opposite.x - here.x, x.gap = x.n.dot(x.way);
    if (friction && forces) {
      then = masterBefore.at(point.eta);
      x.moved = then.x - slaveBefore.at(point.xi).x - x.way;
      x.slide = x.moved - x.moved.dot(x.n) * x.n;
    }
    const Point3 pull = addAtCorners({x.weight, x.gap, x.n, x.slide, L}, traction, friction, out);
    if (follow == Follow::held) out.closest = std::min(out.closest, closestAt(slave, point.xi, master, point.eta, x.gap));
    addOnMaster(element::cornerShape(master.corners, point.eta).N, master.corners, x.weight, L, out);
    if (!forces) continue;
    const auto S = shapesOf(slave, point.xi), M = shapesOf(master, point.eta);
    const int p = b.count;
    auto shape = b.shape.col(p);
    for (int a = 0; a < own; ++a) shape[a] = S.N[size_t(a)];
    for (int a = own; a < all; ++a) shape[a] = -M.N[size_t(a - own)];
    for (int a = 0; a < all; ++a) out.force.segment<3>(3 * a) += shape[a] * pull;
    if (!rows) continue;
    x.level = Eigen::Matrix3d::Identity() - x.n * x.n.transpose();
    for (int A = 0; A < corners; ++A) {
      const double w = L[size_t(A)] * x.weight;
      b.normal.col(p).segment<3>(3 * A) = w * x.n;
      b.level.col(p).segment<9>(9 * A) = w * Eigen::Map<const Eigen::Matrix<double, 9, 1>>(x.level.data());
    }
    if (slopes) {
      Traction t;
      for (size_t A = 0; A < size_t(slave.corners); ++A) {
        t.pressure += L[A] * traction[A].pressure;
        if (friction) t.friction += L[A] * traction[A].friction;
      }
      for (int a = 0; a < own; ++a) b.slope[0](a, p) = S.d1[size_t(a)], b.slope[1](a, p) = S.d2[size_t(a)];
      const Turns turn{-x.level * crossWith(x.t2) / x.size, x.level * crossWith(x.t1) / x.size};
      laySlopes(x, t, turn, point.share, L, friction, slides, b);
      if (slides) laySliding(x, t, turn, L, friction, opposite, then, M, master.nodes, b);
    }
    if (++b.count == most) gather();
  }
  gather();
  if (slopes && !slides) out.dGap -= out.normal;
  if (slopes && friction && !slides) out.dSlip += out.tangential;
  if (exact && out.touched) addExactSlopes(slave, master, shared.reach, traction, friction, out);
  out.lookedOver = out.kappa, out.distance = out.gap;
  return true;
}

bool integrateFaces(const SpaceFace& slave, const SpaceFace& master, const std::array<CornerTraction, 4>& traction, double reach,
                    bool friction, FaceIntegral& out, Depend depend) {
  return integratePoints(slave, master, pointsShared(slave, master, reach), Follow::anew, traction, friction, out, depend);
}

}  // namespace anvil::contact
