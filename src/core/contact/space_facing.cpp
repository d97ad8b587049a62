// Deformable against deformable, in space: over the clipped overlap of two faces.
#include <Eigen/Geometry>
#include <Eigen/LU>

#include "core/contact/space_feet.hpp"
#include "core/contact/space_touch.hpp"

namespace anvil::contact {

const std::vector<std::array<double, 4>>& triangleRule(bool fine) {
  const auto make = [](std::initializer_list<std::array<double, 4>> orbits) {
    std::vector<std::array<double, 4>> r;
    for (const auto& o : orbits) {
      std::array<double, 3> b{o[0], o[1], o[2]};
      std::sort(b.begin(), b.end());
      do r.push_back({b[0], b[1], b[2], o[3]});
      while (std::next_permutation(b.begin(), b.end()));
    }
    return r;
  };
  static const auto six = make({{0.108103018168070, 0.445948490915965, 0.445948490915965, 0.223381589678011},
                                {0.816847572980459, 0.091576213509771, 0.091576213509771, 0.109951743655322}});
  static const auto twelve = make({{0.501426509658179, 0.249286745170910, 0.249286745170910, 0.116786275726379},
                                   {0.873821971016996, 0.063089014491502, 0.063089014491502, 0.050844906370207},
                                   {0.053145049844817, 0.310352451033784, 0.636502499121399, 0.082851075618374}});
  return fine ? twelve : six;
}

namespace {

bool isParallelogram(const SpaceFace& f) {
  if (f.nodes > f.corners) return false;
  return f.corners == 3 || (f.now[0] - f.now[1] + f.now[2] - f.now[3]).norm() < 1e-7 * (f.now[2] - f.now[0]).norm();
}

/// What two faces have in common on the slave's plane.
template <class T, class Node, class Other>
Polygon<T> overlapOn(const Plane<T>& plane, const SpaceFace& slave, const Node& slaveNode, const SpaceFace& master,
                     const Other& masterNode, double tolerance) {
  return clipped(projected(plane, outlineOf<T>(slave, slaveNode), false),
                 projected(plane, outlineOf<T>(master, masterNode), true), tolerance);
}

/// Points of an overlap, triangle by triangle: f(y, weight).
template <class T, class Each>
void overEach(const Polygon<T>& overlap, double area, bool fine, const Each& each) {
  for (size_t i = 1; i + 1 < overlap.size(); ++i) {
    const auto& a = overlap[0];
    const auto& b = overlap[i];
    const auto& c = overlap[i + 1];
    const T twice = (b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y);
    if (std::abs(plain(twice)) < 1e-12 * area) continue;
    for (const auto& p : triangleRule(fine))
      each(Vec2<T>{T(p[0] * a.x + p[1] * b.x + p[2] * c.x), T(p[0] * a.y + p[1] * b.y + p[2] * c.y)}, T(0.5 * p[3] * twice));
  }
}

/// The plane of a slave face and what the master's covers of it, in plain numbers.
struct Rough {
  static auto nodesOf(const SpaceFace& f) {
    return [&f](int a) { return Vec3<double>{{f.now[size_t(a)].x(), f.now[size_t(a)].y(), f.now[size_t(a)].z()}}; };
  }
  static Plane<double> planeOf(const SpaceFace& slave) {
    Outline<double> corners;
    for (int i = 0; i < slave.corners; ++i) corners.push_back(nodesOf(slave)(i));
    return {slave, corners};
  }
  Plane<double> plane;
  double area, tolerance;  ///< of the slave's outline; of what is clipped
  Polygon<double> overlap;
  bool fine;  ///< whether its triangles need the finer rule
  Rough(const SpaceFace& slave, const SpaceFace& master)
      : plane(planeOf(slave)),
        area(areaOf(projected(plane, outlineOf<double>(slave, nodesOf(slave)), false))),
        tolerance(1e-10 * std::sqrt(std::max(area, 0.))),
        overlap(overlapOn(plane, slave, nodesOf(slave), master, nodesOf(master), tolerance)),
        fine(!isParallelogram(slave) || !isParallelogram(master)) {}
  bool overlaps() const { return areaOf(overlap) > 1e-9 * area; }
};

/// Whether a point counts that is so far off, and on the master. Notes how close the true surfaces come, and points that have
/// just gone through.
bool counts(const SpaceFace& slave, const Eigen::Vector2d& xi, const SpaceFace& master, const Eigen::Vector2d& eta, double gap,
            const Point3& normal, double reach, FaceIntegral& out) {
  if (gap > reach || !within(master, eta, 0.3)) return false;
  noteClosest(slave, xi, master, eta, gap, out);
  if (gap >= -reach) return true;
  // behind the face: of no concern, unless it has just gone through
  const auto before = [](const SpaceFace& f, const Eigen::Vector2d& at) {
    return sum(f, element::faceShape(f.corners, f.nodes > f.corners, at).N, f.before);
  };
  if ((before(master, eta) - before(slave, xi)).dot(normal) > -0.5 * reach) out.leastGap = std::min(out.leastGap, gap);
  return false;
}

/// Adds what tractions of one at the slave's corners do at the nodes, which have these shape functions (less those of the
/// master), to `normal` and `tangential`.
void addRows(const std::array<double, 16>& shape, int nodes, const PlainTouch& p, bool friction, FaceIntegral& out) {
  using Line = Eigen::Matrix<double, Eigen::Dynamic, 1, 0, 48, 1>;  // of a vector at each node
  Line line(3 * nodes);
  const auto spread = [&](const Point3& v) {
    for (int a = 0; a < nodes; ++a) line.segment<3>(3 * a) = shape[size_t(a)] * v;
  };
  spread(p.weight * p.normal);
  for (int A = 0; A < out.corners; ++A) out.normal.col(A) += p.linear[size_t(A)] * line;
  for (int j = 0; friction && j < 3; ++j) {
    spread(p.weight * (Point3::Unit(j) - p.normal[j] * p.normal));
    for (int A = 0; A < out.corners; ++A) out.tangential.col(3 * A + j) += p.linear[size_t(A)] * line;
  }
}

/// Slopes of what a bunch of points brings, as columns over the dofs, point by point; their products with shape functions are
/// gathered for the whole bunch at once.
template <int N>
struct Bunch {
  static constexpr int most = 12, corners = 4, nodes = 16;
  using Columns = Eigen::Matrix<double, N, most>;
  int count = 0;
  Columns weight, moment;                                     ///< of the weight W, and of W g
  std::array<Columns, 2> xi, eta;                             ///< of the point's places on the two faces
  std::array<Columns, 3> force, slide;                        ///< of the traction times W, and of W times the slip
  Eigen::Matrix<double, most, corners> linear;                ///< N_A
  std::array<Eigen::Matrix<double, most, corners>, 2> rises;  ///< N_A,ξ W; the others are multiples
  Eigen::Matrix<double, most, 1> gap;
  Eigen::Matrix<double, most, 3> slip, pull;                          ///< per W: slip; times W: traction
  Eigen::Matrix<double, most, Eigen::Dynamic, 0, most, nodes> shape;  ///< N_a of the slave, then -M_b of the master
  std::array<Eigen::Matrix<double, most, Eigen::Dynamic, 0, most, nodes>, 2> slope;  ///< by ξ or η
  Eigen::Matrix<double, N, Eigen::Dynamic, 0, N, 3 * nodes> gathered;  ///< of the nodes' forces: components k, then nodes
};

/// Integrals over what two faces have in common; N = 0: values alone. All slopes of a point are made of those of the overlap's
/// corners, of the plane, and of the nodes (by shape functions), by hand: x = Σ N_a(ξ) x_a with ξ from the plane, the normal from
/// the tangents there, the gap and η from x + g n = Σ M_b(η) x_b.
template <int N>
class Facing {
  static constexpr bool slopes = N > 0;
  static constexpr int rows = slopes ? N : 1;
  using Row = Eigen::Matrix<double, rows, 1>;
  using T = std::conditional_t<slopes, Dual<rows>, double>;

 public:
  /// `traction` may be null: nothing touches.
  Facing(const SpaceFace& slave, const SpaceFace& master, const std::array<CornerTraction, 4>* traction, double reach,
         bool friction, FaceIntegral& out, bool rows = true, std::vector<HeldPoint>* points = nullptr)
      : slave_(slave),
        master_(master),
        behind_(3 * slave.nodes),
        reach_(reach),
        friction_(friction),
        rows_(rows),
        points_(points),
        slaveNow_(slave, slave.now),
        slaveBefore_(slave, slave.before),
        masterNow_(master, master.now),
        masterBefore_(master, master.before),
        out_(out) {
    for (size_t a = 0; traction && a < size_t(slave.corners); ++a) {
      traction_[a] = (*traction)[a];
      loaded_ |= traction_[a].pressure != 0 || !traction_[a].friction.isZero(0);
    }
    forces_ = traction != nullptr;
  }

  bool run() {
    if (isApart()) return false;
    const Rough rough(slave_, master_);
    if (!rough.overlaps()) return false;
    rough_ = &rough.plane;
    clear(out_, slave_, forces_ ? 3 * (slave_.nodes + master_.nodes) : 0, friction_, slopes, rows_);
    if constexpr (slopes) {
      const DualFace<N> S{slave_, 0}, M{master_, behind_};
      Outline<T> corners;
      for (int i = 0; i < slave_.corners; ++i) corners.push_back(S.node(i));
      const Plane<T> plane(slave_, corners);
      turnsOf(plane);
      static thread_local Bunch<N> bunch;
      bunch_ = &bunch, bunch.count = 0;
      bunch.gathered.setZero(N, 3 * (slave_.nodes + master_.nodes));
      for (auto* m : {&bunch.shape, &bunch.slope[0], &bunch.slope[1]}) m->resize(Bunch<N>::most, slave_.nodes + master_.nodes);
      const auto overlap = overlapOn(
          plane, slave_, [&](int a) { return S.node(a); }, master_, [&](int a) { return M.node(a); }, rough.tolerance);
      overEach(overlap, rough.area, rough.fine, [&](const Vec2<T>& y, const T& weight) { point(y, weight); });
      gather();
      const int nodes = slave_.nodes + master_.nodes;
      for (int k = 0; k < 3; ++k)
        for (int a = 0; a < nodes; ++a)
          out_.stiffness.row(3 * a + k) = bunch.gathered.col(k * nodes + a).head(out_.dofs).transpose();
    } else {
      overEach(rough.overlap, rough.area, rough.fine, [&](const Vec2<double>& y, double weight) { point(y, weight); });
    }
    out_.lookedOver = out_.kappa, out_.distance = out_.gap;
    return out_.touched || out_.leastGap < 1e300;
  }

 private:
  /// Whether circles round the faces are apart as they are seen along the plane's normal.
  bool isApart() const {
    const auto middleAndReach = [](const SpaceFace& f) {
      Point3 middle = Point3::Zero();
      for (size_t i = 0; i < size_t(f.corners); ++i) middle += f.now[i] / f.corners;
      double most = 0;
      for (size_t i = 0; i < size_t(f.nodes); ++i) most = std::max(most, (f.now[i] - middle).squaredNorm());
      return std::pair{middle, std::sqrt(most)};
    };
    const auto [one, reach] = middleAndReach(slave_);
    const auto [other, reachOther] = middleAndReach(master_);
    const Point3 way = other - one, n = flatNormal(slave_);
    const double aside = way.squaredNorm() - way.dot(n) * way.dot(n) / n.squaredNorm(), both = (1 + 1e-6) * (reach + reachOther);
    return aside > both * both;
  }

  /// A point, so far as it does not depend on which slopes are wanted.
  struct At {
    ShapeAt s;
    element::FaceShape m;
    Eigen::Vector2d xi, eta;
    Eigen::Matrix2d inverse;
    Eigen::Matrix3d inverseAcross;
    element::FaceShape linear;
    Point3 x, t1, t2, n, moved{0, 0, 0}, slide{0, 0, 0}, pull{0, 0, 0};
    double size, cosine, weight, gap;
  };

  void point(const Vec2<T>& y, const T& flat) {
    At p;
    const auto foot = footOn(slave_, slaveNow_, *rough_, {plain(y.x), plain(y.y)});
    if (!foot) return;
    p.xi = foot->at, p.inverse = foot->inverse;
    const auto place = slaveNow_.at(p.xi);
    p.x = place.x, p.t1 = place.t1, p.t2 = place.t2;
    const Point3 across = p.t1.cross(p.t2);
    p.size = across.norm(), p.n = across / p.size;
    const auto met = footAlong(master_, masterNow_, p.x, p.n);
    if (!met) return;
    p.eta = met->at, p.inverseAcross = met->inverse, p.gap = met->gap;
    if (!counts(slave_, p.xi, master_, p.eta, p.gap, p.n, reach_, out_)) return;
    if constexpr (slopes)
      p.s = shapeAt(slave_, p.xi);
    else
      p.s.at = shapesOf(slave_, p.xi);
    p.m = shapesOf(master_, p.eta);
    p.linear = element::cornerShape(slave_.corners, p.xi);
    p.cosine = p.n.dot(plain(rough_->normal)), p.weight = plain(flat) / p.cosine;
    if (points_) points_->push_back({p.xi, p.eta, p.weight / p.size});
    addValues(p);
    if constexpr (slopes) addSlopes(p, y, flat);
  }

  void addValues(At& p) {
    const auto& L = p.linear.N;
    if (friction_) {  // from the touching points' places at the start of the increment
      p.moved = slaveBefore_.at(p.xi).x, p.moved = masterBefore_.at(p.eta).x - p.moved - p.gap * p.n;
      p.slide = p.moved - p.moved.dot(p.n) * p.n;
    }
    const PlainTouch touch{p.weight, p.gap, p.n, p.slide, L};
    p.pull = addAtCorners(touch, traction_, friction_, out_);
    addOnMaster(element::cornerShape(master_.corners, p.eta).N, master_.corners, p.weight, L, out_);
    if (!forces_) return;
    const int nodes = slave_.nodes, all = nodes + master_.nodes;
    std::array<double, 16> shape;  // of the slave's nodes, and less those of the master's
    for (int a = 0; a < nodes; ++a) shape[size_t(a)] = p.s.at.N[size_t(a)];
    for (int b = nodes; b < all; ++b) shape[size_t(b)] = -p.m.N[size_t(b - nodes)];
    for (int a = 0; a < all; ++a) out_.force.segment<3>(3 * a) += shape[size_t(a)] * p.pull;
    if (rows_) addRows(shape, all, touch, friction_, out_);
  }

  /// How the plane turns and shifts, along its own axes.
  void turnsOf(const Plane<T>& plane) {
    const Point3 e1 = plain(plane.e1), e2 = plain(plane.e2), up = plain(plane.normal);
    const auto along = [](const Vec3<T>& v, const Point3& d) {
      return Row(d[0] * v[0].derivatives() + d[1] * v[1].derivatives() + d[2] * v[2].derivatives());
    };
    turn_ = along(plane.e1, e2), tilt1_ = along(plane.e1, up), tilt2_ = along(plane.e2, up);
    shift1_ = along(plane.origin, e1), shift2_ = along(plane.origin, e2);
    for (int k = 0; k < 3; ++k) up_[size_t(k)] = plane.normal[k].derivatives();
  }

  void addSlopes(const At& p, const Vec2<T>& y, const T& flat) {
    auto& b = *bunch_;
    const int at = b.count;
    const Point3 e1 = plain(rough_->e1), e2 = plain(rough_->e2), up = plain(rough_->normal), n = p.n;
    const Point3 arm = p.x - plain(rough_->origin);
    const auto& S = p.s.at;
    // the point on the slave: its projection stays on y
    Row r1 = arm.dot(e2) * turn_ + arm.dot(up) * tilt1_ - shift1_ - y.x.derivatives();
    Row r2 = arm.dot(up) * tilt2_ - arm.dot(e1) * turn_ - shift2_ - y.y.derivatives();
    for (int a = 0; a < slave_.nodes; ++a) {
      r1.template segment<3>(3 * a) += S.N[size_t(a)] * e1;
      r2.template segment<3>(3 * a) += S.N[size_t(a)] * e2;
    }
    auto xi1 = b.xi[0].col(at), xi2 = b.xi[1].col(at);
    xi1 = -p.inverse(0, 0) * r1 - p.inverse(0, 1) * r2, xi2 = -p.inverse(1, 0) * r1 - p.inverse(1, 1) * r2;
    // the normal: dn = Σ (N_a,1 turn1 + N_a,2 turn2) du_a + n1 dξ1 + n2 dξ2
    const Eigen::Matrix3d level = Eigen::Matrix3d::Identity() - n * n.transpose();
    const Eigen::Matrix3d turn1 = -level * crossWith(p.t2) / p.size, turn2 = level * crossWith(p.t1) / p.size;
    const Point3 x12 = sum(slave_, p.s.d12, slave_.now), n1 = turn1 * sum(slave_, p.s.d11, slave_.now) + turn2 * x12,
                 n2 = turn1 * x12 + turn2 * sum(slave_, p.s.d22, slave_.now);
    // the weight
    auto weight = b.weight.col(at);
    const double ratio = p.weight / p.cosine;
    weight = flat.derivatives() / p.cosine -
             ratio * (up.dot(n1) * xi1 + up.dot(n2) * xi2 + n[0] * up_[0] + n[1] * up_[1] + n[2] * up_[2]);
    const Point3 up1 = ratio * (turn1.transpose() * up), up2 = ratio * (turn2.transpose() * up);
    for (int a = 0; a < slave_.nodes; ++a) weight.template segment<3>(3 * a) -= S.d1[size_t(a)] * up1 + S.d2[size_t(a)] * up2;
    // the point on the master and the gap
    const auto& M = p.m;
    const Eigen::Matrix3d& Ki = p.inverseAcross;
    const Point3 k1 = Ki * (p.t1 + p.gap * n1), k2 = Ki * (p.t2 + p.gap * n2);
    const Eigen::Matrix3d K1 = p.gap * Ki * turn1, K2 = p.gap * Ki * turn2;
    Eigen::Matrix<double, rows, 3> foot;  // of η1, η2 and the gap
    for (int k = 0; k < 3; ++k) foot.col(k) = k1[k] * xi1 + k2[k] * xi2;
    for (int a = 0; a < slave_.nodes; ++a)
      foot.template block<3, 3>(3 * a, 0) += (S.N[size_t(a)] * Ki + S.d1[size_t(a)] * K1 + S.d2[size_t(a)] * K2).transpose();
    for (int c = 0; c < master_.nodes; ++c) foot.template block<3, 3>(behind_ + 3 * c, 0) -= M.N[size_t(c)] * Ki.transpose();
    b.eta[0].col(at) = foot.col(0), b.eta[1].col(at) = foot.col(1);
    b.moment.col(at) = p.gap * weight + p.weight * foot.col(2);
    for (int A = 0; A < slave_.corners; ++A) {
      b.linear(at, A) = p.linear.N[size_t(A)];
      b.rises[0](at, A) = p.weight * p.linear.d1[size_t(A)], b.rises[1](at, A) = p.weight * p.linear.d2[size_t(A)];
    }
    b.gap[at] = p.gap;
    if (friction_) addSlide(p, level, {turn1, turn2}, {n1, n2}, foot);
    if (loaded_) addPull(p, level, {turn1, turn2}, {n1, n2});
    if (++b.count == Bunch<N>::most) gather();
  }

  using Turns = std::array<Eigen::Matrix3d, 2>;
  using Bends = std::array<Point3, 2>;

  /// Of W times the slip along the face.
  void addSlide(const At& p, const Eigen::Matrix3d& level, const Turns& turn, const Bends& bend,
                const Eigen::Matrix<double, rows, 3>& foot) {
    auto& b = *bunch_;
    const int at = b.count;
    const auto &S = p.s.at, &M = p.m;
    const auto shifted = [](const SpaceFace& f, const std::array<double, 8>& w) {
      return Point3(sum(f, w, f.now) - sum(f, w, f.before));
    };
    // d(slip) = level d(moved) + C dn
    const Eigen::Matrix3d C = -p.n * p.moved.transpose() - p.moved.dot(p.n) * Eigen::Matrix3d::Identity();
    const Point3 s1 = p.weight * (level * shifted(slave_, S.d1) + C * bend[0]),
                 s2 = p.weight * (level * shifted(slave_, S.d2) + C * bend[1]), m1 = p.weight * (level * shifted(master_, M.d1)),
                 m2 = p.weight * (level * shifted(master_, M.d2));
    const Eigen::Matrix3d C1 = p.weight * C * turn[0], C2 = p.weight * C * turn[1], straight = p.weight * level;
    for (int k = 0; k < 3; ++k) {
      auto column = b.slide[size_t(k)].col(at);
      column = p.slide[k] * b.weight.col(at) + s1[k] * b.xi[0].col(at) + s2[k] * b.xi[1].col(at) - m1[k] * foot.col(0) -
               m2[k] * foot.col(1);
      for (int a = 0; a < slave_.nodes; ++a)
        column.template segment<3>(3 * a) +=
            (S.N[size_t(a)] * straight.row(k) + S.d1[size_t(a)] * C1.row(k) + S.d2[size_t(a)] * C2.row(k)).transpose();
      for (int c = 0; c < master_.nodes; ++c)
        column.template segment<3>(behind_ + 3 * c) -= M.N[size_t(c)] * straight.row(k).transpose();
    }
    b.slip.row(at) = p.slide.transpose();
  }

  /// Of W times the traction, q = (P - t·n) n + t.
  void addPull(const At& p, const Eigen::Matrix3d& level, const Turns& turn, const Bends& bend) {
    auto& b = *bunch_;
    const int at = b.count, nodes = slave_.nodes;
    const auto &S = p.s.at, &M = p.m;
    const auto of = [&](const std::array<double, 8>& w) {  // traction with these weights of the corners
      double pressure = 0;
      Point3 t = Point3::Zero();
      for (size_t a = 0; a < size_t(slave_.corners); ++a) {
        pressure += w[a] * traction_[a].pressure;
        if (friction_) t += w[a] * traction_[a].friction;
      }
      return std::pair{pressure, t};
    };
    const auto [pressure, t] = of(p.linear.N);
    const auto [pressure1, t1] = of(p.linear.d1);
    const auto [pressure2, t2] = of(p.linear.d2);
    const Eigen::Matrix3d B = p.weight * ((pressure - t.dot(p.n)) * Eigen::Matrix3d::Identity() - p.n * t.transpose());
    const Point3 q = pressure * p.n + level * t;
    const Point3 q1 = p.weight * (pressure1 * p.n + level * t1) + B * bend[0],
                 q2 = p.weight * (pressure2 * p.n + level * t2) + B * bend[1];
    const Eigen::Matrix3d B1 = B * turn[0], B2 = B * turn[1];
    for (int k = 0; k < 3; ++k) {
      auto column = b.force[size_t(k)].col(at);
      column = q[k] * b.weight.col(at) + q1[k] * b.xi[0].col(at) + q2[k] * b.xi[1].col(at);
      for (int a = 0; a < nodes; ++a)
        column.template segment<3>(3 * a) += (S.d1[size_t(a)] * B1.row(k) + S.d2[size_t(a)] * B2.row(k)).transpose();
    }
    b.pull.row(at) = p.pull.transpose();
    for (int a = 0; a < nodes; ++a)
      b.shape(at, a) = S.N[size_t(a)], b.slope[0](at, a) = S.d1[size_t(a)], b.slope[1](at, a) = S.d2[size_t(a)];
    for (int c = 0; c < master_.nodes; ++c)
      b.shape(at, nodes + c) = -M.N[size_t(c)], b.slope[0](at, nodes + c) = -M.d1[size_t(c)],
                          b.slope[1](at, nodes + c) = -M.d2[size_t(c)];
  }

  /// Adds the bunch to the integrals.
  void gather() {
    auto& b = *bunch_;
    const int m = b.count, corners = slave_.corners, dofs = out_.dofs;
    if (m == 0) return;
    const auto onCorners = [&](auto&& to, const auto& straight, const auto& factor) {  // Σ N_A d(f W) + f W dN_A
      to += straight.topLeftCorner(dofs, m).lazyProduct(b.linear.topLeftCorner(m, corners));
      for (size_t j = 0; j < 2; ++j) {
        const Eigen::Matrix<double, Eigen::Dynamic, 4, 0, Bunch<N>::most, 4> rises = factor.asDiagonal() * b.rises[j].topRows(m);
        to += b.xi[j].topLeftCorner(dofs, m).lazyProduct(rises.leftCols(corners));
      }
    };
    using Factor = Eigen::Matrix<double, Eigen::Dynamic, 1, 0, Bunch<N>::most, 1>;
    onCorners(out_.dKappa, b.weight, Factor::Ones(m));
    onCorners(out_.dGap, b.moment, b.gap.head(m));
    for (int k = 0; friction_ && k < 3; ++k) {
      const Factor slip = b.slip.col(k).head(m);
      Eigen::Matrix<double, Eigen::Dynamic, 4, 0, rows, 4> to;
      to.setZero(dofs, 4);
      onCorners(to.leftCols(corners), b.slide[size_t(k)], slip);
      for (int A = 0; A < corners; ++A) out_.dSlip.col(3 * A + k) += to.col(A);
    }
    const int own = slave_.nodes, all = own + master_.nodes;
    for (int k = 0; loaded_ && k < 3; ++k) {
      auto to = b.gathered.middleCols(k * all, all);
      to += b.force[size_t(k)].leftCols(m).lazyProduct(b.shape.topRows(m));
      const Factor pull = b.pull.col(k).head(m);
      for (size_t j = 0; j < 2; ++j) {
        const Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, 0, Bunch<N>::most, Bunch<N>::nodes> pulled =
            pull.asDiagonal() * b.slope[j].topRows(m);
        to.leftCols(own) += b.xi[j].leftCols(m).lazyProduct(pulled.leftCols(own));
        to.rightCols(all - own) += b.eta[j].leftCols(m).lazyProduct(pulled.rightCols(all - own));
      }
    }
    b.count = 0;
  }

  const SpaceFace &slave_, &master_;
  int behind_;  ///< first dof of the master
  std::array<CornerTraction, 4> traction_;
  double reach_;
  bool friction_, rows_, loaded_ = false, forces_ = false;
  std::vector<HeldPoint>* points_;
  Places slaveNow_, slaveBefore_, masterNow_, masterBefore_;
  FaceIntegral& out_;
  const Plane<double>* rough_ = nullptr;  ///< the slave's plane in plain numbers
  Row turn_, tilt1_, tilt2_, shift1_, shift2_;
  std::array<Row, 3> up_;
  Bunch<rows>* bunch_ = nullptr;
};

/// Of faces that look the same way none touches the other.
bool faceEachOther(const SpaceFace& slave, const SpaceFace& master) {
  return flatNormal(slave).normalized().dot(flatNormal(master).normalized()) <= -0.2;
}

}  // namespace

std::vector<HeldPoint> pointsHeld(const SpaceFace& slave, const SpaceFace& master, double reach) {
  SpaceFace then = slave, opposite = master;
  then.now = slave.before, opposite.now = master.before;
  std::vector<HeldPoint> points;
  FaceIntegral unused;
  if (faceEachOther(then, opposite)) Facing<0>(then, opposite, nullptr, reach, false, unused, true, &points).run();
  return points;
}

bool lookAtFaces(const SpaceFace& slave, const SpaceFace& master, double reach, FaceIntegral& out) {
  if (!faceEachOther(slave, master)) return false;
  return Facing<0>(slave, master, nullptr, reach, false, out).run();
}

bool integrateFaces(const SpaceFace& slave, const SpaceFace& master, const std::array<CornerTraction, 4>& traction, double reach,
                    bool friction, FaceIntegral& out, Depend depend) {
  if (!faceEachOther(slave, master)) return false;
  const int dofs = 3 * (slave.nodes + master.nodes);
  if (depend != Depend::slopes) return Facing<0>(slave, master, &traction, reach, friction, out, depend == Depend::rows).run();
  if (dofs <= 24) return Facing<24>(slave, master, &traction, reach, friction, out).run();
  if (dofs <= 36) return Facing<36>(slave, master, &traction, reach, friction, out).run();
  return Facing<48>(slave, master, &traction, reach, friction, out).run();
}

}  // namespace anvil::contact
