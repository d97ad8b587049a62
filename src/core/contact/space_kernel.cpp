#include "core/contact/space_kernel.hpp"

#include <Eigen/Geometry>
#include <Eigen/LU>
#include <cmath>
#include <unsupported/Eigen/AutoDiff>

#include "core/contact/rotation.hpp"
#include "core/element/face.hpp"

namespace anvil::contact {
namespace {

template <int N> using Dual = Eigen::AutoDiffScalar<Eigen::Matrix<double, N, 1>>;
template <class T> struct Vec3 {
  std::array<T, 3> c;
  T& operator[](int i) { return c[size_t(i)]; }
  const T& operator[](int i) const { return c[size_t(i)]; }
};
template <class T> struct Vec2 {
  T x, y;
};

double plain(double v) { return v; }
template <class D> double plain(const Eigen::AutoDiffScalar<D>& v) { return v.value(); }
template <class T> Point3 plain(const Vec3<T>& v) { return {plain(v[0]), plain(v[1]), plain(v[2])}; }

template <class T> T dot(const Vec3<T>& a, const Vec3<T>& b) { return T(a[0] * b[0] + a[1] * b[1] + a[2] * b[2]); }
template <class T> Vec3<T> cross(const Vec3<T>& a, const Vec3<T>& b) {
  return {{T(a[1] * b[2] - a[2] * b[1]), T(a[2] * b[0] - a[0] * b[2]), T(a[0] * b[1] - a[1] * b[0])}};
}
template <class T> Vec3<T> minus(const Vec3<T>& a, const Vec3<T>& b) { return {{T(a[0] - b[0]), T(a[1] - b[1]), T(a[2] - b[2])}}; }
template <class T> Vec3<T> unit(const Vec3<T>& a) {
  using std::sqrt;
  const T factor = T(1. / sqrt(dot(a, a)));
  return {{T(a[0] * factor), T(a[1] * factor), T(a[2] * factor)}};
}

/// Values, slopes and curvatures of the shape functions.
struct ShapeAt {
  element::FaceShape at;
  std::array<double, 8> d11{}, d12{}, d22{};
};
ShapeAt shapeAt(const SpaceFace& f, const Eigen::Vector2d& xi) {
  const bool quadratic = f.nodes > f.corners;
  ShapeAt s{element::faceShape(f.corners, quadratic, xi)};
  if (f.corners == 3 && !quadratic) return s;
  const double h = 0.25;  // slopes are at most quadratic, so the central difference is exact
  const auto a = element::faceShape(f.corners, quadratic, xi + Eigen::Vector2d(h, 0)), b = element::faceShape(f.corners, quadratic, xi - Eigen::Vector2d(h, 0));
  const auto c = element::faceShape(f.corners, quadratic, xi + Eigen::Vector2d(0, h)), d = element::faceShape(f.corners, quadratic, xi - Eigen::Vector2d(0, h));
  for (size_t i = 0; i < 8; ++i) s.d11[i] = (a.d1[i] - b.d1[i]) / (2 * h), s.d12[i] = (a.d2[i] - b.d2[i]) / (2 * h), s.d22[i] = (c.d2[i] - d.d2[i]) / (2 * h);
  return s;
}

Point3 sum(const SpaceFace& f, const std::array<double, 8>& w, const std::array<Point3, 8>& x) {
  Point3 r = Point3::Zero();
  for (size_t a = 0; a < size_t(f.nodes); ++a) r += w[a] * x[a];
  return r;
}

Eigen::Vector2d middleOf(const SpaceFace& f) { return f.corners == 3 ? Eigen::Vector2d(1. / 3, 1. / 3) : Eigen::Vector2d(0, 0); }

/// Middle of the corners, and the (unnormalised) normal there, out of the body.
Point3 flatNormal(const SpaceFace& f) {
  return f.corners == 3 ? Point3((f.now[1] - f.now[0]).cross(f.now[2] - f.now[0])) : Point3((f.now[2] - f.now[0]).cross(f.now[3] - f.now[1]));
}

/// A face with dual places: node a's components are the local dofs offset + 3a ….
template <int N> struct DualFace {
  const SpaceFace& f;
  int offset;
  using D = Dual<N>;

  Vec3<D> node(int a) const {
    Vec3<D> r;
    for (int k = 0; k < 3; ++k) r[k] = D(f.now[size_t(a)][k], N, offset + 3 * a + k);
    return r;
  }
  /// Σ w_a(ξ) x_a, where dw = w1 dξ1 + w2 dξ2.
  Vec3<D> blend(const std::array<double, 8>& w, const std::array<double, 8>& w1, const std::array<double, 8>& w2, const Vec2<D>* xi) const {
    Vec3<D> r;
    const Point3 v = sum(f, w, f.now), v1 = sum(f, w1, f.now), v2 = sum(f, w2, f.now);
    for (int k = 0; k < 3; ++k) {
      r[k].value() = v[k];
      if (xi) r[k].derivatives() = v1[k] * xi->x.derivatives() + v2[k] * xi->y.derivatives();
      else r[k].derivatives().setZero();
      for (int a = 0; a < f.nodes; ++a) r[k].derivatives()[offset + 3 * a + k] += w[size_t(a)];
    }
    return r;
  }
};

template <class T> using Polygon = std::vector<Vec2<T>>;

/// Outline of a face: corners and mid-side nodes in turn.
template <class T, class Node> std::vector<Vec3<T>> outlineOf(const SpaceFace& f, const Node& node) {
  std::vector<Vec3<T>> line;
  for (int i = 0; i < f.corners; ++i) {
    line.push_back(node(i));
    if (f.nodes > f.corners) line.push_back(node(f.corners + i));
  }
  return line;
}

/// Part of `subject` inside the convex polygon `clipper` (I. Sutherland, G. Hodgman, 1974); both anticlockwise.
template <class T> Polygon<T> clipped(Polygon<T> subject, const Polygon<T>& clipper, double tolerance) {
  for (size_t e = 0; e < clipper.size() && !subject.empty(); ++e) {
    const auto& a = clipper[e];
    const auto& b = clipper[(e + 1) % clipper.size()];
    const T ex = T(b.x - a.x), ey = T(b.y - a.y);
    const double length = std::hypot(plain(ex), plain(ey));
    const auto side = [&](const Vec2<T>& p) { return T(ex * (p.y - a.y) - ey * (p.x - a.x)); };
    Polygon<T> kept;
    for (size_t i = 0; i < subject.size(); ++i) {
      const auto& p = subject[i];
      const auto& q = subject[(i + 1) % subject.size()];
      const T sp = side(p), sq = side(q);
      const bool inP = plain(sp) >= -tolerance * length, inQ = plain(sq) >= -tolerance * length;
      if (inP) kept.push_back(p);
      if (inP != inQ && std::abs(plain(sp) - plain(sq)) > 1e-300) {
        const T t = T(sp / (sp - sq));
        kept.push_back({T(p.x + t * (q.x - p.x)), T(p.y + t * (q.y - p.y))});
      }
    }
    subject = std::move(kept);
  }
  return subject;
}

template <class T> double areaOf(const Polygon<T>& p) {
  double a = 0;
  for (size_t i = 0; i < p.size(); ++i) {
    const auto& u = p[i];
    const auto& v = p[(i + 1) % p.size()];
    a += plain(u.x) * plain(v.y) - plain(v.x) * plain(u.y);
  }
  return a / 2;
}

/// Plane through the slave face's middle, with two axes in it.
template <class T> struct Plane {
  Vec3<T> origin, e1, e2, normal;
  Plane(const SpaceFace& f, const std::vector<Vec3<T>>& corner) {
    normal = f.corners == 3 ? cross(minus(corner[1], corner[0]), minus(corner[2], corner[0])) : cross(minus(corner[2], corner[0]), minus(corner[3], corner[1]));
    normal = unit(normal);
    origin = corner[0];
    const Vec3<T> along = minus(corner[1], corner[0]);
    const T out = dot(along, normal);
    e1 = unit(Vec3<T>{{T(along[0] - out * normal[0]), T(along[1] - out * normal[1]), T(along[2] - out * normal[2])}});
    e2 = cross(normal, e1);
  }
  Vec2<T> operator()(const Vec3<T>& x) const {
    const Vec3<T> d = minus(x, origin);
    return {dot(d, e1), dot(d, e2)};
  }
};

template <class T> Polygon<T> projected(const Plane<T>& plane, const std::vector<Vec3<T>>& line, bool reverse) {
  Polygon<T> p;
  for (const auto& x : line) p.push_back(plane(x));
  if (reverse) std::reverse(p.begin(), p.end());
  return p;
}

/// Triangle points, exact to degree 4 (6 points) or 6 (12 points) (D. Dunavant, IJNME 21, 1985).
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
  static const auto six = make({{0.108103018168070, 0.445948490915965, 0.445948490915965, 0.223381589678011}, {0.816847572980459, 0.091576213509771, 0.091576213509771, 0.109951743655322}});
  static const auto twelve = make({{0.501426509658179, 0.249286745170910, 0.249286745170910, 0.116786275726379},
                                   {0.873821971016996, 0.063089014491502, 0.063089014491502, 0.050844906370207},
                                   {0.053145049844817, 0.310352451033784, 0.636502499121399, 0.082851075618374}});
  return fine ? twelve : six;
}

bool isParallelogram(const SpaceFace& f) {
  if (f.nodes > f.corners) return false;
  return f.corners == 3 || (f.now[0] - f.now[1] + f.now[2] - f.now[3]).norm() < 1e-7 * (f.now[2] - f.now[0]).norm();
}

/// A touching pair of points in dual numbers, and how it adds to the integrals.
template <int N> struct Touch {
  using D = Dual<N>;
  using Gradient = Eigen::Matrix<double, N, 1>;
  D weight, gap;
  Vec3<D> normal, moved;              ///< out of the slave; relative motion of the touching points in the increment
  std::array<D, 4> carrier;           ///< N_A
  bool friction = false;

  /// Residual rows: dof i gets Σ_k arm(i, k) q_k, with arm = factor on one component per node dof.
  template <class Rows> void add(const SpaceFace& slave, const std::array<CornerTraction, 4>& traction, const Rows& rows, FaceIntegral& out) const {
    const auto n = out.dofs;
    D pressure = D(0, Gradient::Zero());
    Vec3<D> q;
    for (int k = 0; k < 3; ++k) q[k] = D(0, Gradient::Zero());
    for (int A = 0; A < slave.corners; ++A) {
      const auto a = size_t(A);
      const D w = carrier[a] * weight, wg = w * gap;
      out.kappa[a] += w.value(), out.dKappa.col(A) += w.derivatives().head(n);
      out.gap[a] += wg.value(), out.dGap.col(A) += wg.derivatives().head(n);
      pressure += w * traction[a].pressure;
      if (!friction) continue;
      for (int k = 0; k < 3; ++k) q[k] += w * traction[a].friction[k];
    }
    if (friction) {
      const D along = dot(q, normal), drift = dot(moved, normal);
      Vec3<D> slide;
      for (int k = 0; k < 3; ++k) q[k] -= along * normal[k], slide[k] = moved[k] - drift * normal[k];
      for (int A = 0; A < slave.corners; ++A) {
        const auto a = size_t(A);
        const D w = carrier[a] * weight;
        for (int k = 0; k < 3; ++k) {
          const D ws = w * slide[k];
          out.slip[a][k] += ws.value(), out.dSlip.col(3 * A + k) += ws.derivatives().head(n);
        }
      }
    }
    for (int k = 0; k < 3; ++k) q[k] += pressure * normal[k];
    rows.addForce(q, out);
    const Point3 nv = plain(normal);
    for (int A = 0; A < slave.corners; ++A) {
      const double w = plain(carrier[size_t(A)]) * plain(weight);
      rows.addUnit(w * nv, out.normal.col(A));
      if (!friction) continue;
      for (int k = 0; k < 3; ++k) rows.addUnit(w * (Point3::Unit(k) - nv[k] * nv), out.tangential.col(3 * A + k));
    }
    out.touched = true;
    out.leastGap = std::min(out.leastGap, gap.value());
  }
};

/// Rows of a face's nodes: residual of node a is sign N_a(ξ) q.
template <int N> struct NodeRows {
  using D = Dual<N>;
  const SpaceFace& f;
  const ShapeAt& s;
  const Vec2<D>* xi;      ///< null: the point is fixed on the face
  int offset;
  double sign;
  void addForce(const Vec3<D>& q, FaceIntegral& out) const {
    const auto n = out.dofs;
    for (int k = 0; k < 3; ++k)
      for (int a = 0; a < f.nodes; ++a) {
        const double w = sign * s.at.N[size_t(a)];
        const int row = offset + 3 * a + k;
        out.force[row] += w * q[k].value();
        out.stiffness.col(row) += w * q[k].derivatives().head(n);   // stored transposed while it is gathered
        if (xi) out.stiffness.col(row) += (sign * q[k].value()) * (s.at.d1[size_t(a)] * xi->x.derivatives().head(n) + s.at.d2[size_t(a)] * xi->y.derivatives().head(n));
      }
  }
  template <class Column> void addUnit(const Point3& q, Column&& column) const {
    for (int a = 0; a < f.nodes; ++a) column.template segment<3>(offset + 3 * a) += (sign * s.at.N[size_t(a)]) * q;
  }
};

void clear(FaceIntegral& out, const SpaceFace& slave, int dofs, bool friction) {
  out = {};
  out.dofs = dofs, out.corners = slave.corners;
  for (auto& s : out.slip) s.setZero();
  for (auto* m : {&out.dKappa, &out.dGap, &out.normal}) *m = Eigen::MatrixXd::Zero(dofs, slave.corners);
  if (friction)
    for (auto* m : {&out.dSlip, &out.tangential}) *m = Eigen::MatrixXd::Zero(dofs, 3 * slave.corners);
  out.force = Eigen::VectorXd::Zero(dofs);
  out.stiffness = Eigen::MatrixXd::Zero(dofs, dofs);
}

/// Linear shape functions of the slave's corners at a point.
template <int N> std::array<Dual<N>, 4> carriers(const SpaceFace& slave, const Eigen::Vector2d& at, const Vec2<Dual<N>>* xi) {
  const auto s = element::faceShape(slave.corners, false, at);
  std::array<Dual<N>, 4> c;
  for (size_t a = 0; a < 4; ++a) {
    c[a].value() = s.N[a];
    if (xi) c[a].derivatives() = s.d1[a] * xi->x.derivatives() + s.d2[a] * xi->y.derivatives();
    else c[a].derivatives().setZero();
  }
  return c;
}

template <int N> class Facing {
  using D = Dual<N>;

public:
  Facing(const SpaceFace& slave, const SpaceFace& master, const std::array<CornerTraction, 4>& traction, double reach, bool friction, FaceIntegral& out)
      : slave_(slave), master_(master), S_{slave, 0}, M_{master, 3 * slave.nodes}, traction_(traction), reach_(reach), friction_(friction), out_(out) {}

  bool run() {
    const auto value = [](const SpaceFace& f) { return [&f](int a) { return Vec3<double>{{f.now[size_t(a)].x(), f.now[size_t(a)].y(), f.now[size_t(a)].z()}}; }; };
    std::vector<Vec3<double>> corners;
    for (int i = 0; i < slave_.corners; ++i) corners.push_back(value(slave_)(i));
    const Plane<double> rough(slave_, corners);
    const auto subject = projected(rough, outlineOf<double>(slave_, value(slave_)), false);
    const double area = areaOf(subject), tolerance = 1e-10 * std::sqrt(std::max(area, 0.));
    if (!(areaOf(clipped(subject, projected(rough, outlineOf<double>(master_, value(master_)), true), tolerance)) > 1e-9 * area)) return false;

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
    Vec2<D> dxi{D(xi.x() - inverse(0, 0) * (rx - rx.value()) - inverse(0, 1) * (ry - ry.value())), D(xi.y() - inverse(1, 0) * (rx - rx.value()) - inverse(1, 1) * (ry - ry.value()))};
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
    const auto m = shapeAt(master_, eta);
    if (gap < -reach_) {  // behind the face: of no concern, unless it has just gone through
      if ((sum(master_, m.at.N, master_.before) - sum(slave_, s.at.N, slave_.before)).dot(n) > -0.5 * reach_) out_.leastGap = std::min(out_.leastGap, gap);
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
        q.moved[k].derivatives() -= s1[k] * dxi.x.derivatives() + s2[k] * dxi.y.derivatives() - m1[k] * deta.x.derivatives() - m2[k] * deta.y.derivatives();
      }
    }
    struct Rows {
      NodeRows<N> slave, master;
      void addForce(const Vec3<D>& f, FaceIntegral& o) const { slave.addForce(f, o), master.addForce(f, o); }
      void addUnit(const Point3& f, Eigen::MatrixXd::ColXpr c) const { slave.addUnit(f, c), master.addUnit(f, c); }
    } const rows{{slave_, s, &dxi, 0, 1}, {master_, m, &deta, 3 * slave_.nodes, -1}};
    q.add(slave_, traction_, rows, out_);
  }

  static D constant(double v) { return D(v, Eigen::Matrix<double, N, 1>::Zero()); }
  /// Projection along the slave's normal may fall a little beside a face that its plane's overlap lies in.
  bool near(const Eigen::Vector2d& eta) const {
    if (master_.corners == 4) return eta.cwiseAbs().maxCoeff() < 1.3;
    return eta.minCoeff() > -0.3 && eta.sum() < 1.3;
  }

  const SpaceFace &slave_, &master_;
  DualFace<N> S_, M_;
  const std::array<CornerTraction, 4>& traction_;
  double reach_;
  bool friction_;
  FaceIntegral& out_;
};

/// Points of a face against a rigid body: fine, since the overlap is not cut out.
const std::vector<std::pair<Eigen::Vector2d, double>>& fineRule(int corners) {
  static const auto square = [] {
    static const double x[] = {-0.9061798459386640, -0.5384693101056831, 0, 0.5384693101056831, 0.9061798459386640};
    static const double w[] = {0.2369268850561891, 0.4786286704993665, 0.5688888888888889, 0.4786286704993665, 0.2369268850561891};
    std::vector<std::pair<Eigen::Vector2d, double>> r;
    for (int i = 0; i < 5; ++i)
      for (int j = 0; j < 5; ++j) r.push_back({{x[i], x[j]}, w[i] * w[j]});
    return r;
  }();
  static const auto triangle = [] {
    std::vector<std::pair<Eigen::Vector2d, double>> r;  // four twelve-point triangles
    const Eigen::Vector2d c[6] = {{0, 0}, {1, 0}, {0, 1}, {0.5, 0}, {0.5, 0.5}, {0, 0.5}};
    for (const auto& t : {std::array{0, 3, 5}, {3, 1, 4}, {5, 4, 2}, {3, 4, 5}})
      for (const auto& p : triangleRule(true)) r.push_back({p[0] * c[t[0]] + p[1] * c[t[1]] + p[2] * c[t[2]], p[3] / 8});
    return r;
  }();
  return corners == 4 ? square : triangle;
}

/// Signed distance of a rigid body and its outward normal at a point of its own frame; 2x2 second derivatives come from
/// the outline's feature (line, arc, corner) in its plane.
template <int N> bool distanceTo(const RigidBody& body, const Vec3<Dual<N>>& x, Dual<N>& distance, Vec3<Dual<N>>& normal) {
  using D = Dual<N>;
  const auto zero = D(0, Eigen::Matrix<double, N, 1>::Zero());
  const bool revolved = body.sweep.kind == geometry::Sweep::Kind::revolve;
  D u = x[0], c = zero + 1., s = zero;
  if (revolved) {
    u = sqrt(D(x[0] * x[0] + x[2] * x[2]));
    if (u.value() < 1e-9) return false;
    c = x[0] / u, s = x[2] / u;
    double angle = std::atan2(s.value(), c.value());
    const double full = 2 * 3.14159265358979323846, span = body.sweep.length;
    angle -= full * std::floor((angle - body.sweep.from + 1e-9) / full);
    if (span < full * (1 - 1e-9) && angle > body.sweep.from + span) return false;
  } else if (x[2].value() < body.sweep.from - 1e-9 || x[2].value() > body.sweep.from + body.sweep.length + 1e-9) {
    return false;
  }
  const Feature f = nearestFeature(body, {u.value(), x[1].value()});
  if (f.kind == Feature::Kind::none) return false;
  D nu = zero, nv = zero;
  if (f.kind == Feature::Kind::line) {
    nu = zero + f.normal.x(), nv = zero + f.normal.y();
    distance = (u - f.point.x()) * f.normal.x() + (x[1] - f.point.y()) * f.normal.y();
  } else {
    const D du = u - f.point.x(), dv = x[1] - f.point.y(), r = sqrt(D(du * du + dv * dv));
    const double sign = f.kind == Feature::Kind::arc ? f.sign : 1;
    distance = (r - f.radius) * sign;
    nu = du * sign / r, nv = dv * sign / r;
  }
  normal = revolved ? Vec3<D>{{D(nu * c), nv, D(nu * s)}} : Vec3<D>{{nu, nv, zero}};
  return true;
}

template <int N> class AgainstRigid {
  using D = Dual<N>;
  using Gradient = Eigen::Matrix<double, N, 1>;

public:
  AgainstRigid(const SpaceFace& slave, const RigidBody& body, const SpacePlace& place, const std::array<CornerTraction, 4>& traction, double reach, bool friction, FaceIntegral& out)
      : slave_(slave), body_(body), place_(place), S_{slave, 0}, at_(3 * slave.nodes), traction_(traction), reach_(reach), friction_(friction), out_(out) {
    R_ = rotationOf(place.now.template tail<3>()), T_ = spinOf(place.now.template tail<3>());
    pivot_ = body.pivot + place.now.template head<3>();
    const double h = 1e-5;
    for (int j = 0; j < 3; ++j) {
      const Point3 e = h * Point3::Unit(j);
      dT_[size_t(j)] = (spinOf(place.now.template tail<3>() + e) - spinOf(place.now.template tail<3>() - e)) / (2 * h);
    }
  }

  bool run() {
    clear(out_, slave_, at_ + 6, friction_);
    for (const auto& [xi, weight] : fineRule(slave_.corners)) point(xi, weight);
    out_.stiffness.transposeInPlace();
    return out_.touched || out_.leastGap < 1e300;
  }

private:
  static D constant(double v) { return D(v, Gradient::Zero()); }

  /// y in space, taken to the body's drawing frame.
  Vec3<D> toOwn(const Vec3<D>& x) const {
    const Point3 arm = plain(x) - pivot_, own = R_.transpose() * arm;
    const Eigen::Matrix3d P = body_.place.turn.transpose() * R_.transpose();
    const Point3 value = body_.place.turn.transpose() * (own + body_.pivot - body_.place.shift);
    Vec3<D> r;
    for (int k = 0; k < 3; ++k) {
      r[k] = constant(value[k]);
      for (int j = 0; j < 3; ++j) {
        r[k].derivatives() += P(k, j) * x[j].derivatives();
        r[k].derivatives()[at_ + j] -= P(k, j);
        r[k].derivatives()[at_ + 3 + j] += P.row(k).dot(arm.cross(T_.col(j)));  // d(Rᵀy) = Rᵀ (y × spin)
      }
    }
    return r;
  }
  /// A direction of the drawing frame, taken to space.
  Vec3<D> toSpace(const Vec3<D>& d) const {
    const Eigen::Matrix3d Q = R_ * body_.place.turn;
    const Point3 value = Q * plain(d);
    Vec3<D> r;
    for (int k = 0; k < 3; ++k) {
      r[k] = constant(value[k]);
      for (int j = 0; j < 3; ++j) {
        r[k].derivatives() += Q(k, j) * d[j].derivatives();
        r[k].derivatives()[at_ + 3 + j] += T_.col(j).cross(value)[k];
      }
    }
    return r;
  }

  void point(const Eigen::Vector2d& xi, double weight) {
    const auto s = shapeAt(slave_, xi);
    const Vec3<D> x = S_.blend(s.at.N, {}, {}, nullptr);
    const Vec3<D> own = toOwn(x);
    D distance;
    Vec3<D> ownNormal;
    if (!distanceTo<N>(body_, own, distance, ownNormal) || distance.value() > reach_) return;
    const Point3 area = sum(slave_, s.at.d1, slave_.now).cross(sum(slave_, s.at.d2, slave_.now));
    Vec3<D> away = toSpace(ownNormal);
    if (plain(away).dot(area) > -0.1 * area.norm()) return;
    // the touched point of the body, and where it was at the start of the increment
    const Point3 before = wasAt(plain(own) - distance.value() * plain(ownNormal));
    if (distance.value() < -reach_) {  // inside the body: of no concern, unless it has just got there
      if ((sum(slave_, s.at.N, slave_.before) - before).dot(plain(away)) > -0.5 * reach_) out_.leastGap = std::min(out_.leastGap, distance.value());
      return;
    }
    Touch<N> q;
    q.friction = friction_, q.gap = distance;
    for (int k = 0; k < 3; ++k) q.normal[k] = -away[k];
    const Vec3<D> normal = cross(S_.blend(s.at.d1, {}, {}, nullptr), S_.blend(s.at.d2, {}, {}, nullptr));
    q.weight = sqrt(dot(normal, normal)) * weight;
    q.carrier = carriers<N>(slave_, xi, nullptr);
    Vec3<D> y;
    for (int k = 0; k < 3; ++k) y[k] = x[k] + q.gap * q.normal[k];
    if (friction_) {
      const Eigen::Matrix3d Q = rotationOf(place_.before.template tail<3>()) * body_.place.turn;
      const Point3 then = sum(slave_, s.at.N, slave_.before);
      Vec3<D> touched;
      for (int k = 0; k < 3; ++k) touched[k] = own[k] - distance * ownNormal[k];
      for (int k = 0; k < 3; ++k) {
        D moved = constant(before[k]);
        for (int j = 0; j < 3; ++j) moved.derivatives() += Q(k, j) * touched[j].derivatives();
        q.moved[k] = x[k] - y[k] + moved - then[k];
      }
    }
    struct Rows {
      NodeRows<N> slave;
      const AgainstRigid& self;
      const Vec3<D>& y;
      void addForce(const Vec3<D>& f, FaceIntegral& o) const { slave.addForce(f, o), self.addBodyForce(f, y, o); }
      void addUnit(const Point3& f, Eigen::MatrixXd::ColXpr c) const {
        slave.addUnit(f, c);
        c.template segment<3>(self.at_) -= f;
        c.template segment<3>(self.at_ + 3) -= self.T_.transpose() * (plain(y) - self.pivot_).cross(f);
      }
    } const rows{{slave_, s, nullptr, 0, 1}, *this, y};
    q.add(slave_, traction_, rows, out_);
  }

  Point3 wasAt(const Point3& own) const {
    const Point3 inPlace = body_.place.turn * own + body_.place.shift - body_.pivot;
    return rotationOf(place_.before.template tail<3>()) * inPlace + body_.pivot + place_.before.template head<3>();
  }

  /// Force -q on the body at y, and the moment that works on its rotation vector.
  void addBodyForce(const Vec3<D>& q, const Vec3<D>& y, FaceIntegral& o) const {
    const auto n = o.dofs;
    Vec3<D> lever;
    for (int k = 0; k < 3; ++k) {
      lever[k] = y[k] - pivot_[k];
      lever[k].derivatives()[at_ + k] -= 1;
      o.force[at_ + k] -= q[k].value();
      o.stiffness.col(at_ + k) -= q[k].derivatives().head(n);
    }
    const Vec3<D> moment = cross(lever, q);
    const Point3 m = plain(moment);
    for (int j = 0; j < 3; ++j) {
      o.force[at_ + 3 + j] -= T_.col(j).dot(m);
      for (int k = 0; k < 3; ++k) o.stiffness.col(at_ + 3 + j) -= T_(k, j) * moment[k].derivatives().head(n);
      for (int i = 0; i < 3; ++i) o.stiffness(at_ + 3 + i, at_ + 3 + j) -= dT_[size_t(i)].col(j).dot(m);
    }
  }

  const SpaceFace& slave_;
  const RigidBody& body_;
  const SpacePlace& place_;
  DualFace<N> S_;
  int at_;
  const std::array<CornerTraction, 4>& traction_;
  double reach_;
  bool friction_;
  FaceIntegral& out_;
  Eigen::Matrix3d R_, T_;
  std::array<Eigen::Matrix3d, 3> dT_;
  Point3 pivot_;
};

}  // namespace

bool integrateFaces(const SpaceFace& slave, const SpaceFace& master, const std::array<CornerTraction, 4>& traction, double reach, bool friction, FaceIntegral& out) {
  if (flatNormal(slave).normalized().dot(flatNormal(master).normalized()) > -0.2) return false;
  const int dofs = 3 * (slave.nodes + master.nodes);
  if (dofs <= 24) return Facing<24>(slave, master, traction, reach, friction, out).run();
  if (dofs <= 36) return Facing<36>(slave, master, traction, reach, friction, out).run();
  return Facing<48>(slave, master, traction, reach, friction, out).run();
}

bool integrateFaceRigid(const SpaceFace& slave, const RigidBody& body, const SpacePlace& place, const std::array<CornerTraction, 4>& traction, double reach, bool friction, FaceIntegral& out) {
  if (slave.nodes <= 4) return AgainstRigid<18>(slave, body, place, traction, reach, friction, out).run();
  return AgainstRigid<30>(slave, body, place, traction, reach, friction, out).run();
}

}  // namespace anvil::contact
