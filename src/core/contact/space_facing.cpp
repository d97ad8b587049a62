// Slopes of what two faces in space share, their overlap as it changes included.
#include "core/contact/space_facing.hpp"

#include <Eigen/Geometry>

#include "core/contact/space_shared.hpp"

namespace anvil::contact {

namespace {

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

/// Slopes of the integrals over what two faces share, of N dofs. All of a point are made of those of the overlap's corners, of
/// the plane, and of the nodes (by shape functions), by hand: x = Σ N_a(ξ) x_a with ξ from the plane, the normal from the
/// tangents there, the gap and η from x + g n = Σ M_b(η) x_b.
template <int N>
class Facing {
  using Row = Eigen::Matrix<double, N, 1>;
  using T = Dual<N>;

 public:
  Facing(const SpaceFace& slave, const SpaceFace& master, const std::array<CornerTraction, 4>& traction, double reach,
         bool friction, FaceIntegral& out)
      : slave_(slave),
        master_(master),
        behind_(3 * slave.nodes),
        reach_(reach),
        friction_(friction),
        slaveNow_(slave, slave.now),
        slaveBefore_(slave, slave.before),
        masterNow_(master, master.now),
        masterBefore_(master, master.before),
        flat_(slave, master),
        traction_(traction),
        out_(out) {
    for (const auto& t : traction) loaded_ |= t.pressure != 0 || !t.friction.isZero(0);
  }

  void run() {
    const DualFace<N> S{slave_, 0}, M{master_, behind_};
    Outline<T> corners;
    for (int i = 0; i < slave_.corners; ++i) corners.push_back(S.node(i));
    const Plane<T> plane(slave_, corners);
    turnsOf(plane);
    static thread_local Bunch<N> bunch;
    bunch_ = &bunch, bunch.count = 0;
    const int nodes = slave_.nodes + master_.nodes;
    bunch.gathered.setZero(N, 3 * nodes);
    for (auto* m : {&bunch.shape, &bunch.slope[0], &bunch.slope[1]}) m->resize(Bunch<N>::most, nodes);
    const auto overlap = overlapOn(
        plane, slave_, [&](int a) { return S.node(a); }, master_, [&](int a) { return M.node(a); }, flat_.tolerance);
    overEach(overlap, flat_.area, flat_.fine, [&](const Vec2<T>& y, const T& weight) { point(y, weight); });
    gather();
    for (int k = 0; k < 3; ++k)
      for (int a = 0; a < nodes; ++a)
        out_.stiffness.row(3 * a + k) = bunch.gathered.col(k * nodes + a).head(out_.dofs).transpose();
  }

 private:
  struct At : SharedPoint {
    explicit At(const SharedPoint& shared) : SharedPoint(shared) {}
    ShapeAt s;
    element::FaceShape m, linear;
    Point3 moved{0, 0, 0}, slide{0, 0, 0};
    double cosine = 1, weight = 0;
  };

  void point(const Vec2<T>& y, const T& flat) {
    const auto shared = sharedAt(slave_, slaveNow_, master_, masterNow_, flat_.plane, {plain(y.x), plain(y.y)});
    if (!shared || !isOpposite(master_, shared->master.at, shared->master.gap, reach_) || shared->master.gap < -reach_) return;
    At p(*shared);
    p.s = shapeAt(slave_, p.slave.at), p.m = shapesOf(master_, p.master.at);
    p.linear = element::cornerShape(slave_.corners, p.slave.at);
    p.cosine = p.normal.dot(plain(flat_.plane.normal)), p.weight = plain(flat) / p.cosine;
    if (friction_) {  // from the touching points' places at the start of the increment
      p.moved = masterBefore_.at(p.master.at).x - slaveBefore_.at(p.slave.at).x - p.master.gap * p.normal;
      p.slide = p.moved - p.moved.dot(p.normal) * p.normal;
    }
    addSlopes(p, y, flat);
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
    const Point3 e1 = plain(flat_.plane.e1), e2 = plain(flat_.plane.e2), up = plain(flat_.plane.normal), n = p.normal;
    const Point3 arm = p.place.x - plain(flat_.plane.origin);
    const auto& S = p.s.at;
    // the point on the slave: its projection stays on y
    Row r1 = arm.dot(e2) * turn_ + arm.dot(up) * tilt1_ - shift1_ - y.x.derivatives();
    Row r2 = arm.dot(up) * tilt2_ - arm.dot(e1) * turn_ - shift2_ - y.y.derivatives();
    for (int a = 0; a < slave_.nodes; ++a) {
      r1.template segment<3>(3 * a) += S.N[size_t(a)] * e1;
      r2.template segment<3>(3 * a) += S.N[size_t(a)] * e2;
    }
    auto xi1 = b.xi[0].col(at), xi2 = b.xi[1].col(at);
    xi1 = -p.slave.inverse(0, 0) * r1 - p.slave.inverse(0, 1) * r2,
    xi2 = -p.slave.inverse(1, 0) * r1 - p.slave.inverse(1, 1) * r2;
    // the normal: dn = Σ (N_a,1 turn1 + N_a,2 turn2) du_a + n1 dξ1 + n2 dξ2
    const Eigen::Matrix3d level = Eigen::Matrix3d::Identity() - n * n.transpose();
    const Eigen::Matrix3d turn1 = -level * crossWith(p.place.t2) / p.size, turn2 = level * crossWith(p.place.t1) / p.size;
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
    const Eigen::Matrix3d& Ki = p.master.inverse;
    const Point3 k1 = Ki * (p.place.t1 + p.master.gap * n1), k2 = Ki * (p.place.t2 + p.master.gap * n2);
    const Eigen::Matrix3d K1 = p.master.gap * Ki * turn1, K2 = p.master.gap * Ki * turn2;
    Eigen::Matrix<double, N, 3> foot;  // of η1, η2 and the gap
    for (int k = 0; k < 3; ++k) foot.col(k) = k1[k] * xi1 + k2[k] * xi2;
    for (int a = 0; a < slave_.nodes; ++a)
      foot.template block<3, 3>(3 * a, 0) += (S.N[size_t(a)] * Ki + S.d1[size_t(a)] * K1 + S.d2[size_t(a)] * K2).transpose();
    for (int c = 0; c < master_.nodes; ++c) foot.template block<3, 3>(behind_ + 3 * c, 0) -= M.N[size_t(c)] * Ki.transpose();
    b.eta[0].col(at) = foot.col(0), b.eta[1].col(at) = foot.col(1);
    b.moment.col(at) = p.master.gap * weight + p.weight * foot.col(2);
    for (int A = 0; A < slave_.corners; ++A) {
      b.linear(at, A) = p.linear.N[size_t(A)];
      b.rises[0](at, A) = p.weight * p.linear.d1[size_t(A)], b.rises[1](at, A) = p.weight * p.linear.d2[size_t(A)];
    }
    b.gap[at] = p.master.gap;
    if (friction_) addSlide(p, level, {turn1, turn2}, {n1, n2}, foot);
    if (loaded_) addPull(p, level, {turn1, turn2}, {n1, n2});
    if (++b.count == Bunch<N>::most) gather();
  }

  using Turns = std::array<Eigen::Matrix3d, 2>;
  using Bends = std::array<Point3, 2>;

  /// Of W times the slip along the face.
  void addSlide(const At& p, const Eigen::Matrix3d& level, const Turns& turn, const Bends& bend,
                const Eigen::Matrix<double, N, 3>& foot) {
    auto& b = *bunch_;
    const int at = b.count;
    const auto &S = p.s.at, &M = p.m;
    const auto shifted = [](const SpaceFace& f, const std::array<double, 8>& w) {
      return Point3(sum(f, w, f.now) - sum(f, w, f.before));
    };
    // d(slip) = level d(moved) + C dn
    const Eigen::Matrix3d C = -p.normal * p.moved.transpose() - p.moved.dot(p.normal) * Eigen::Matrix3d::Identity();
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
    const Eigen::Matrix3d B = p.weight * ((pressure - t.dot(p.normal)) * Eigen::Matrix3d::Identity() - p.normal * t.transpose());
    const Point3 q = pressure * p.normal + level * t;
    const Point3 q1 = p.weight * (pressure1 * p.normal + level * t1) + B * bend[0],
                 q2 = p.weight * (pressure2 * p.normal + level * t2) + B * bend[1];
    const Eigen::Matrix3d B1 = B * turn[0], B2 = B * turn[1];
    for (int k = 0; k < 3; ++k) {
      auto column = b.force[size_t(k)].col(at);
      column = q[k] * b.weight.col(at) + q1[k] * b.xi[0].col(at) + q2[k] * b.xi[1].col(at);
      for (int a = 0; a < nodes; ++a)
        column.template segment<3>(3 * a) += (S.d1[size_t(a)] * B1.row(k) + S.d2[size_t(a)] * B2.row(k)).transpose();
    }
    b.pull.row(at) = p.weight * q.transpose();
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
      Eigen::Matrix<double, Eigen::Dynamic, 4, 0, N, 4> to;
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
  double reach_;
  bool friction_, loaded_ = false;
  Places slaveNow_, slaveBefore_, masterNow_, masterBefore_;
  const FlatOverlap flat_;
  const std::array<CornerTraction, 4>& traction_;
  FaceIntegral& out_;
  Row turn_, tilt1_, tilt2_, shift1_, shift2_;
  std::array<Row, 3> up_;
  Bunch<N>* bunch_ = nullptr;
};

}  // namespace

void addExactSlopes(const SpaceFace& slave, const SpaceFace& master, double reach, const std::array<CornerTraction, 4>& traction,
                    bool friction, FaceIntegral& out) {
  if (out.dofs <= 24)
    Facing<24>(slave, master, traction, reach, friction, out).run();
  else if (out.dofs <= 36)
    Facing<36>(slave, master, traction, reach, friction, out).run();
  else
    Facing<48>(slave, master, traction, reach, friction, out).run();
}

}  // namespace anvil::contact
