// Deformable against deformable, in space, where nothing slides: over points that stay with the material. They depend on the
// nodes by shape functions alone; areas and normals, on the slave's. What multiplies shape functions is laid down for a bunch of
// points first, and then summed with them, so that sums run along vectors.
#include <Eigen/Geometry>

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

void sumRows(const PointColumns& b, int all, bool friction, FaceIntegral& out) {
  for (int a = 0; a < all; ++a) {
    const auto weight = b.shape.row(a);
    const auto normal = sumOver(b.count, b.normal, weight);
    for (int A = 0; A < out.corners; ++A) out.normal.block<3, 1>(3 * a, A) += normal.segment<3>(3 * A);
    if (!friction) continue;
    const auto level = sumOver(b.count, b.level, weight);
    for (int A = 0; A < out.corners; ++A)
      for (int j = 0; j < 3; ++j) out.tangential.block<3, 1>(3 * a, 3 * A + j) += level.segment<3>(9 * A + 3 * j);
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

}  // namespace

bool integrateHeld(const SpaceFace& slave, const SpaceFace& master, const std::vector<HeldPoint>& points,
                   const std::array<CornerTraction, 4>& traction, bool friction, FaceIntegral& out, Depend depend) {
  if (points.empty()) return false;
  const bool slopes = depend == Depend::slopes, rows = depend != Depend::forces;
  const int own = slave.nodes, all = own + master.nodes;
  clear(out, slave, 3 * all, friction, slopes, rows);
  const Places slaveNow(slave, slave.now), slaveBefore(slave, slave.before), masterNow(master, master.now),
      masterBefore(master, master.before);
  static thread_local PointColumns columns;
  auto& b = columns;
  b.count = 0;
  const auto gather = [&] {
    if (b.count > 0 && rows) sumRows(b, all, friction, out);
    if (b.count > 0 && slopes) sumSlopes(b, own, all, friction, out);
    b.count = 0;
  };
  for (const auto& point : points) {
    const auto S = shapesOf(slave, point.xi), M = shapesOf(master, point.eta);
    const auto L = element::cornerShape(slave.corners, point.xi).N;
    const auto [x, t1, t2] = slaveNow.at(point.xi);
    const Point3 across = t1.cross(t2);
    const double size = across.norm(), weight = point.share * size;
    const Point3 n = across / size, way = masterNow.at(point.eta).x - x;
    Point3 moved = Point3::Zero(), slide = moved;
    if (friction) {
      moved = masterBefore.at(point.eta).x - slaveBefore.at(point.xi).x - way;
      slide = moved - moved.dot(n) * n;
    }
    const PlainTouch touch{weight, n.dot(way), n, slide, L};
    const Point3 pull = addAtCorners(touch, traction, friction, out);
    noteClosest(slave, point.xi, master, point.eta, touch.gap, out);
    addOnMaster(element::cornerShape(master.corners, point.eta).N, master.corners, weight, L, out);
    const int p = b.count;
    auto shape = b.shape.col(p);
    for (int a = 0; a < own; ++a) shape[a] = S.N[size_t(a)];
    for (int a = own; a < all; ++a) shape[a] = -M.N[size_t(a - own)];
    for (int a = 0; a < all; ++a) out.force.segment<3>(3 * a) += shape[a] * pull;
    if (!rows) continue;
    const Eigen::Matrix3d level = Eigen::Matrix3d::Identity() - n * n.transpose();
    for (int A = 0; A < corners; ++A) {
      const double w = L[size_t(A)] * weight;
      b.normal.col(p).segment<3>(3 * A) = w * n;
      b.level.col(p).segment<9>(9 * A) = w * Eigen::Map<const Eigen::Matrix<double, 9, 1>>(level.data());
    }
    if (slopes) {
      // dW = (N_b,ξ w1 + N_b,η w2)·du_b, dn = (N_b,ξ turn1 + N_b,η turn2) du_b, d(way) = -Σ shape_a du_a
      double pressure = 0;
      Point3 t = Point3::Zero();
      for (size_t A = 0; A < size_t(slave.corners); ++A) {
        pressure += L[A] * traction[A].pressure;
        if (friction) t += L[A] * traction[A].friction;
      }
      const Point3 q = pressure * n + t - t.dot(n) * n;
      const std::array<Point3, 2> w{point.share * t2.cross(n), point.share * n.cross(t1)};
      const std::array<Eigen::Matrix3d, 2> turn{-level * crossWith(t2) / size, level * crossWith(t1) / size};
      for (size_t j = 0; j < 2; ++j) {
        for (int a = 0; a < own; ++a) b.slope[j](a, p) = j == 0 ? S.d1[size_t(a)] : S.d2[size_t(a)];
        const Point3 g = touch.gap * w[j] + weight * (turn[j].transpose() * way);
        // d(slip) = level d(moved) - (n movedᵀ + moved·n) dn, of the traction q = (P - t·n) n + t; columns: components
        const Eigen::Matrix3d s =
            w[j] * slide.transpose() -
            weight * turn[j].transpose() * (moved * n.transpose() + moved.dot(n) * Eigen::Matrix3d::Identity());
        const Eigen::Matrix3d f =
            q * w[j].transpose() + weight * ((pressure - t.dot(n)) * turn[j] - n * (t.transpose() * turn[j]));
        Eigen::Map<Eigen::Matrix3d>(b.pull[j].col(p).data()) = f;
        for (int A = 0; A < corners; ++A) {
          auto sizes = b.size[j].col(p).segment<6>(6 * A);
          sizes.head<3>() = L[size_t(A)] * w[j], sizes.tail<3>() = L[size_t(A)] * g;
          if (friction)
            b.slide[j].col(p).segment<9>(9 * A) = L[size_t(A)] * Eigen::Map<const Eigen::Matrix<double, 9, 1>>(s.data());
        }
      }
    }
    if (++b.count == most) gather();
  }
  gather();
  if (slopes) out.dGap -= out.normal;
  if (slopes && friction) out.dSlip += out.tangential;
  out.lookedOver = out.kappa, out.distance = out.gap;
  return true;
}

}  // namespace anvil::contact
