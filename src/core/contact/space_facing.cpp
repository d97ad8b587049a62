// Deformable against deformable, in space: over the clipped overlap of two faces.
#include <Eigen/Geometry>
#include <Eigen/LU>

#include "core/contact/overlap.hpp"
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

/// Height of the true surface over a face with straight edges.
double risen(const SpaceFace& f, const Eigen::Vector2d& at) {
  if (f.corners == 4) return f.sag[0] * (1 - at.x() * at.x()) + f.sag[1] * (1 - at.y() * at.y());
  const double L0 = 1 - at.x() - at.y(), L1 = at.x(), L2 = at.y();
  return 4 * (f.sag[0] * L0 * L1 + f.sag[1] * L1 * L2 + f.sag[2] * L2 * L0);
}

template <int N>
class Facing {
  using D = Dual<N>;

 public:
  Facing(const SpaceFace& slave, const SpaceFace& master, const std::array<CornerTraction, 4>& traction, double reach,
         bool friction, FaceIntegral& out)
      : slave_(slave),
        master_(master),
        S_{slave, 0},
        M_{master, 3 * slave.nodes},
        traction_(traction),
        reach_(reach),
        friction_(friction),
        out_(out) {}

  bool run() {
    const auto value = [](const SpaceFace& f) {
      return [&f](int a) { return Vec3<double>{{f.now[size_t(a)].x(), f.now[size_t(a)].y(), f.now[size_t(a)].z()}}; };
    };
    std::vector<Vec3<double>> corners;
    for (int i = 0; i < slave_.corners; ++i) corners.push_back(value(slave_)(i));
    const Plane<double> rough(slave_, corners);
    const auto subject = projected(rough, outlineOf<double>(slave_, value(slave_)), false);
    const double area = areaOf(subject), tolerance = 1e-10 * std::sqrt(std::max(area, 0.));
    if (!(areaOf(clipped(subject, projected(rough, outlineOf<double>(master_, value(master_)), true), tolerance)) > 1e-9 * area))
      return false;

    std::vector<Vec3<D>> dualCorners;
    for (int i = 0; i < slave_.corners; ++i) dualCorners.push_back(S_.node(i));
    const Plane<D> plane(slave_, dualCorners);
    const auto overlap = clipped(projected(plane, outlineOf<D>(slave_, [&](int a) { return S_.node(a); }), false),
                                 projected(plane, outlineOf<D>(master_, [&](int a) { return M_.node(a); }), true), tolerance);
    clear(out_, slave_, 3 * (slave_.nodes + master_.nodes), friction_);
    const bool fine = !isParallelogram(slave_) || !isParallelogram(master_);
    for (size_t i = 1; i + 1 < overlap.size(); ++i) {
      const auto& a = overlap[0];
      const auto& b = overlap[i];
      const auto& c = overlap[i + 1];
      const D twice = (b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y);
      if (std::abs(twice.value()) < 1e-12 * area) continue;
      for (const auto& p : triangleRule(fine)) {
        const Vec2<D> y{D(p[0] * a.x + p[1] * b.x + p[2] * c.x), D(p[0] * a.y + p[1] * b.y + p[2] * c.y)};
        point(plane, y, D(0.5 * p[3] * twice));
      }
    }
    out_.stiffness.transposeInPlace();
    return out_.touched || out_.leastGap < 1e300;
  }

 private:
  void point(const Plane<D>& plane, const Vec2<D>& y, const D& flatWeight) {
    // on the slave: the point whose projection is y
    const Point3 o = plain(plane.origin), e1 = plain(plane.e1), e2 = plain(plane.e2);
    Eigen::Vector2d xi = middleOf(slave_);
    Eigen::Matrix2d J;
    for (int it = 0;; ++it) {
      const auto s = element::faceShape(slave_.corners, slave_.nodes > slave_.corners, xi);
      const Point3 x = sum(slave_, s.N, slave_.now) - o, t1 = sum(slave_, s.d1, slave_.now), t2 = sum(slave_, s.d2, slave_.now);
      J << e1.dot(t1), e1.dot(t2), e2.dot(t1), e2.dot(t2);
      const Eigen::Vector2d step = J.inverse() * Eigen::Vector2d(e1.dot(x) - plain(y.x), e2.dot(x) - plain(y.y));
      xi -= step;
      if (step.norm() < 1e-13) break;
      if (it > 25 || !(xi.norm() < 10)) return;
    }
    const auto s = shapeAt(slave_, xi);
    const Vec3<D> fixed = S_.blend(s.at.N, {}, {}, nullptr);
    const Vec2<D> at = plane(fixed);
    const D rx = at.x - y.x, ry = at.y - y.y;
    const Eigen::Matrix2d inverse = J.inverse();
    Vec2<D> dxi{D(xi.x() - inverse(0, 0) * (rx - rx.value()) - inverse(0, 1) * (ry - ry.value())),
                D(xi.y() - inverse(1, 0) * (rx - rx.value()) - inverse(1, 1) * (ry - ry.value()))};
    const Vec3<D> x = S_.blend(s.at.N, s.at.d1, s.at.d2, &dxi);
    Touch<N> q;
    q.friction = friction_;
    q.normal = unit(cross(S_.blend(s.at.d1, s.d11, s.d12, &dxi), S_.blend(s.at.d2, s.d12, s.d22, &dxi)));
    q.weight = flatWeight / dot(q.normal, plane.normal);

    // on the master: where the normal's line meets it
    const Point3 xs = plain(x), n = plain(q.normal);
    Eigen::Vector2d eta = middleOf(master_);
    double gap = 0;
    Eigen::Matrix3d K;
    for (int it = 0;; ++it) {
      const auto m = element::faceShape(master_.corners, master_.nodes > master_.corners, eta);
      K << sum(master_, m.d1, master_.now), sum(master_, m.d2, master_.now), -n;
      const Point3 step = K.inverse() * (sum(master_, m.N, master_.now) - xs - gap * n);
      eta -= step.head<2>(), gap -= step[2];
      if (step.head<2>().norm() < 1e-13) break;
      if (it > 25 || !(eta.norm() < 10)) return;
    }
    if (gap > reach_ || !near(eta)) return;
    if (near(eta, 0.05)) out_.closest = std::min(out_.closest, gap - risen(slave_, xi) - risen(master_, eta));
    const auto m = shapeAt(master_, eta);
    if (gap < -reach_) {  // behind the face: of no concern, unless it has just gone through
      if ((sum(master_, m.at.N, master_.before) - sum(slave_, s.at.N, slave_.before)).dot(n) > -0.5 * reach_)
        out_.leastGap = std::min(out_.leastGap, gap);
      return;
    }
    const Vec3<D> opposite = M_.blend(m.at.N, {}, {}, nullptr);
    Vec3<D> r;
    for (int k = 0; k < 3; ++k) r[k] = opposite[k] - x[k] - gap * q.normal[k];
    const Eigen::Matrix3d Ki = K.inverse();
    Vec2<D> deta{constant(eta.x()), constant(eta.y())};
    q.gap = constant(gap);
    for (int k = 0; k < 3; ++k) {
      deta.x.derivatives() -= Ki(0, k) * r[k].derivatives(), deta.y.derivatives() -= Ki(1, k) * r[k].derivatives();
      q.gap.derivatives() -= Ki(2, k) * r[k].derivatives();
    }
    q.carrier = carriers<N>(slave_, xi, &dxi);
    if (friction_) {  // the touching points' places at the start of the increment, as they move over the faces
      const Point3 then = sum(slave_, s.at.N, slave_.before) - sum(master_, m.at.N, master_.before);
      const Point3 s1 = sum(slave_, s.at.d1, slave_.before), s2 = sum(slave_, s.at.d2, slave_.before);
      const Point3 m1 = sum(master_, m.at.d1, master_.before), m2 = sum(master_, m.at.d2, master_.before);
      const Vec3<D> y2 = M_.blend(m.at.N, m.at.d1, m.at.d2, &deta);
      for (int k = 0; k < 3; ++k) {
        q.moved[k] = x[k] - y2[k] - then[k];
        q.moved[k].derivatives() -= s1[k] * dxi.x.derivatives() + s2[k] * dxi.y.derivatives() - m1[k] * deta.x.derivatives() -
                                    m2[k] * deta.y.derivatives();
      }
    }
    struct Rows {
      NodeRows<N> slave, master;
      void addForce(const Vec3<D>& f, FaceIntegral& o) const { slave.addForce(f, o), master.addForce(f, o); }
      void addUnit(const Point3& f, Eigen::MatrixXd::ColXpr c) const { slave.addUnit(f, c), master.addUnit(f, c); }
    } const rows{{slave_, s, &dxi, 0, 1}, {master_, m, &deta, 3 * slave_.nodes, -1}};
    const auto corner = element::faceShape(master_.corners, false, eta).N;
    for (int b = 0; b < master_.corners; ++b) {
      const double w = corner[size_t(b)] * plain(q.weight);
      out_.area[b] += w;
      for (int a = 0; a < slave_.corners; ++a) out_.onMaster(b, a) += w * plain(q.carrier[size_t(a)]);
    }
    q.add(slave_, traction_, rows, out_);
  }

  static D constant(double v) { return D(v, Eigen::Matrix<double, N, 1>::Zero()); }
  /// Projection along the slave's normal may fall a little beside a face that its plane's overlap lies in.
  bool near(const Eigen::Vector2d& eta, double beside = 0.3) const {
    if (master_.corners == 4) return eta.cwiseAbs().maxCoeff() < 1 + beside;
    return eta.minCoeff() > -beside && eta.sum() < 1 + beside;
  }

  const SpaceFace &slave_, &master_;
  DualFace<N> S_, M_;
  const std::array<CornerTraction, 4>& traction_;
  double reach_;
  bool friction_;
  FaceIntegral& out_;
};

}  // namespace

bool integrateFaces(const SpaceFace& slave, const SpaceFace& master, const std::array<CornerTraction, 4>& traction, double reach,
                    bool friction, FaceIntegral& out) {
  if (flatNormal(slave).normalized().dot(flatNormal(master).normalized()) > -0.2) return false;
  const int dofs = 3 * (slave.nodes + master.nodes);
  if (dofs <= 24) return Facing<24>(slave, master, traction, reach, friction, out).run();
  if (dofs <= 36) return Facing<36>(slave, master, traction, reach, friction, out).run();
  return Facing<48>(slave, master, traction, reach, friction, out).run();
}

}  // namespace anvil::contact
