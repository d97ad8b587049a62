// Vectors in dual numbers over a face's nodes: places, slopes and normals with their derivatives.
#pragma once
#include <Eigen/Core>
#include <array>
#include <unsupported/Eigen/AutoDiff>

#include "core/contact/space_kernel.hpp"
#include "core/element/face.hpp"

namespace anvil::contact {

template <int N>
using Dual = Eigen::AutoDiffScalar<Eigen::Matrix<double, N, 1>>;
template <class T>
struct Vec3 {
  std::array<T, 3> c;
  T& operator[](int i) { return c[size_t(i)]; }
  const T& operator[](int i) const { return c[size_t(i)]; }
};
template <class T>
struct Vec2 {
  T x, y;
};

inline double plain(double v) { return v; }
template <class D>
double plain(const Eigen::AutoDiffScalar<D>& v) {
  return v.value();
}
template <class T>
Point3 plain(const Vec3<T>& v) {
  return {plain(v[0]), plain(v[1]), plain(v[2])};
}

template <class T>
T dot(const Vec3<T>& a, const Vec3<T>& b) {
  return T(a[0] * b[0] + a[1] * b[1] + a[2] * b[2]);
}
template <class T>
Vec3<T> cross(const Vec3<T>& a, const Vec3<T>& b) {
  return {{T(a[1] * b[2] - a[2] * b[1]), T(a[2] * b[0] - a[0] * b[2]), T(a[0] * b[1] - a[1] * b[0])}};
}
template <class T>
Vec3<T> minus(const Vec3<T>& a, const Vec3<T>& b) {
  return {{T(a[0] - b[0]), T(a[1] - b[1]), T(a[2] - b[2])}};
}
template <class T>
Vec3<T> unit(const Vec3<T>& a) {
  using std::sqrt;
  const T factor = T(1. / sqrt(dot(a, a)));
  return {{T(a[0] * factor), T(a[1] * factor), T(a[2] * factor)}};
}

/// Values, slopes and curvatures of the shape functions.
struct ShapeAt {
  element::FaceShape at;
  std::array<double, 8> d11{}, d12{}, d22{};
};
/// Shape functions of a face.
inline element::FaceShape shapesOf(const SpaceFace& f, const Eigen::Vector2d& at) {
  return f.nodes > f.corners ? element::faceShape(f.corners, true, at) : element::cornerShape(f.corners, at);
}

inline ShapeAt shapeAt(const SpaceFace& f, const Eigen::Vector2d& xi) {
  const bool quadratic = f.nodes > f.corners;
  ShapeAt s{shapesOf(f, xi)};
  if (f.corners == 3 && !quadratic) return s;
  if (!quadratic) {  // N_a = (1 ± ξ)(1 ± η)/4
    s.d12 = {0.25, -0.25, 0.25, -0.25};
    return s;
  }
  if (f.corners == 3) {
    s.d11 = {4, 4, 0, -8}, s.d12 = {4, 0, 0, -4, 4, -4}, s.d22 = {4, 0, 4, 0, 0, -8};
    return s;
  }
  const double h = 0.25;  // slopes are at most quadratic, so the central difference is exact
  const auto a = element::faceShape(f.corners, quadratic, xi + Eigen::Vector2d(h, 0)),
             b = element::faceShape(f.corners, quadratic, xi - Eigen::Vector2d(h, 0));
  const auto c = element::faceShape(f.corners, quadratic, xi + Eigen::Vector2d(0, h)),
             d = element::faceShape(f.corners, quadratic, xi - Eigen::Vector2d(0, h));
  for (size_t i = 0; i < 8; ++i)
    s.d11[i] = (a.d1[i] - b.d1[i]) / (2 * h), s.d12[i] = (a.d2[i] - b.d2[i]) / (2 * h), s.d22[i] = (c.d2[i] - d.d2[i]) / (2 * h);
  return s;
}

inline Point3 sum(const SpaceFace& f, const std::array<double, 8>& w, const std::array<Point3, 8>& x) {
  Point3 r = Point3::Zero();
  for (size_t a = 0; a < size_t(f.nodes); ++a) r += w[a] * x[a];
  return r;
}

inline Eigen::Matrix3d crossWith(const Point3& v) {
  Eigen::Matrix3d m;
  m << 0, -v.z(), v.y(), v.z(), 0, -v.x(), -v.y(), v.x(), 0;
  return m;
}

/// Places and tangents of a face whose nodes are at `x`: of a linear one by its polynomial.
class Places {
 public:
  Places(const SpaceFace& f, const std::array<Point3, 8>& x) : face_(f), nodes_(x) {
    if (f.nodes > f.corners) return;
    if (f.corners == 3)
      middle_ = x[0], along1_ = x[1] - x[0], along2_ = x[2] - x[0], twist_ = Point3::Zero();
    else
      middle_ = 0.25 * (x[0] + x[1] + x[2] + x[3]), along1_ = 0.25 * (x[1] - x[0] + x[2] - x[3]),
      along2_ = 0.25 * (x[3] - x[0] + x[2] - x[1]), twist_ = 0.25 * (x[0] - x[1] + x[2] - x[3]);
  }
  struct Local {
    Point3 x, t1, t2;
  };
  Local at(const Eigen::Vector2d& xi) const {
    if (face_.nodes == face_.corners) {
      const Point3 t1 = along1_ + xi.y() * twist_;
      return {middle_ + xi.x() * t1 + xi.y() * along2_, t1, along2_ + xi.x() * twist_};
    }
    const auto s = element::faceShape(face_.corners, true, xi);
    return {sum(face_, s.N, nodes_), sum(face_, s.d1, nodes_), sum(face_, s.d2, nodes_)};
  }

 private:
  const SpaceFace& face_;
  const std::array<Point3, 8>& nodes_;
  Point3 middle_, along1_, along2_, twist_;
};

inline Eigen::Vector2d middleOf(const SpaceFace& f) {
  return f.corners == 3 ? Eigen::Vector2d(1. / 3, 1. / 3) : Eigen::Vector2d(0, 0);
}

/// Middle of the corners, and the (unnormalised) normal there, out of the body.
inline Point3 flatNormal(const SpaceFace& f) {
  return f.corners == 3 ? Point3((f.now[1] - f.now[0]).cross(f.now[2] - f.now[0]))
                        : Point3((f.now[2] - f.now[0]).cross(f.now[3] - f.now[1]));
}

/// A face with dual places: node a's components are the local dofs offset + 3a ….
template <int N>
struct DualFace {
  const SpaceFace& f;
  int offset;
  using D = Dual<N>;

  Vec3<D> node(int a) const {
    Vec3<D> r;
    for (int k = 0; k < 3; ++k) r[k] = D(f.now[size_t(a)][k], N, offset + 3 * a + k);
    return r;
  }
  /// Σ w_a x_a of weights that stay.
  Vec3<D> blend(const std::array<double, 8>& w) const {
    Vec3<D> r;
    const Point3 v = sum(f, w, f.now);
    for (int k = 0; k < 3; ++k) {
      r[k].value() = v[k];
      r[k].derivatives().setZero();
      for (int a = 0; a < f.nodes; ++a) r[k].derivatives()[offset + 3 * a + k] += w[size_t(a)];
    }
    return r;
  }
};

}  // namespace anvil::contact
