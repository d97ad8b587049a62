// Points of contact in the plane, differentiated by the local unknowns. For the plane's kernels alone.
#pragma once
#include <cmath>
#include <numbers>
#include <unsupported/Eigen/AutoDiff>

#include "core/contact/plane_kernel.hpp"

namespace anvil::contact::plane {

using Dual = Eigen::AutoDiffScalar<LocalVector>;
using Vec = Eigen::Matrix<Dual, 2, 1>;

inline Dual constant(double v) { return Dual(v, LocalVector::Zero()); }
inline Vec constant(const Point2& v) { return {constant(v.x()), constant(v.y())}; }
inline Vec variable(const Point2& v, int dof) { return {Dual(v.x(), maxDofs, dof), Dual(v.y(), maxDofs, dof + 1)}; }
inline Point2 valueOf(const Vec& v) { return {v.x().value(), v.y().value()}; }

template <class T>
T cross(const Eigen::Matrix<T, 2, 1>& a, const Eigen::Matrix<T, 2, 1>& b) {
  return T(a.x() * b.y() - a.y() * b.x());
}
template <class T>
T dot(const Eigen::Matrix<T, 2, 1>& a, const Eigen::Matrix<T, 2, 1>& b) {
  return T(a.x() * b.x() + a.y() * b.y());
}
template <class T>
Eigen::Matrix<T, 2, 1> unit(const Eigen::Matrix<T, 2, 1>& a) {
  using std::sqrt;
  const T length = sqrt(T(a.x() * a.x() + a.y() * a.y()));
  return {T(a.x() / length), T(a.y() / length)};
}
template <class T>
Eigen::Matrix<T, 2, 1> scaled(const Eigen::Matrix<T, 2, 1>& a, const T& s) {
  return {T(a.x() * s), T(a.y() * s)};
}
/// Normal to the right of a tangent: outward, for a body on the left.
template <class T>
Eigen::Matrix<T, 2, 1> right(const Eigen::Matrix<T, 2, 1>& t) {
  return {t.y(), T(-t.x())};
}

/// 1D shape functions of 2- and 3-node edges (ends, then middle) on [-1, 1].
template <class T>
std::array<T, 3> edgeShape(bool quadratic, const T& s) {
  if (!quadratic) return {T((1. - s) * 0.5), T((1. + s) * 0.5), T(s * 0.)};
  return {T(s * (s - 1.) * 0.5), T(s * (s + 1.) * 0.5), T(1. - s * s)};
}
template <class T>
std::array<T, 3> edgeSlope(bool quadratic, const T& s) {
  if (!quadratic) return {T(s * 0. - 0.5), T(s * 0. + 0.5), T(s * 0.)};
  return {T(s - 0.5), T(s + 0.5), T(s * -2.)};
}
template <class T>
Eigen::Matrix<T, 2, 1> blend(const std::array<T, 3>& n, const std::array<Eigen::Matrix<T, 2, 1>, 3>& x, bool quadratic) {
  Eigen::Matrix<T, 2, 1> r{T(n[0] * x[0].x() + n[1] * x[1].x()), T(n[0] * x[0].y() + n[1] * x[1].y())};
  if (quadratic) r = Eigen::Matrix<T, 2, 1>{T(r.x() + n[2] * x[2].x()), T(r.y() + n[2] * x[2].y())};
  return r;
}

/// An edge with its places and normals, in plain or dual numbers.
template <class T>
struct Edge {
  bool quadratic = false;
  std::array<Eigen::Matrix<T, 2, 1>, 3> x, n;
  Eigen::Matrix<T, 2, 1> at(const T& s) const { return blend(edgeShape(quadratic, s), x, quadratic); }
  Eigen::Matrix<T, 2, 1> slope(const T& s) const { return blend(edgeSlope(quadratic, s), x, quadratic); }
  Eigen::Matrix<T, 2, 1> normal(const T& s) const { return unit(blend(edgeShape(quadratic, s), n, quadratic)); }
};

template <class T>
void smoothNormals(Edge<T>& e, const Eigen::Matrix<T, 2, 1>& before, const Eigen::Matrix<T, 2, 1>& after, bool hasBefore,
                   bool hasAfter) {
  using V = Eigen::Matrix<T, 2, 1>;
  const V fromA = unit(V((e.quadratic ? e.x[2] : e.x[1]) - e.x[0])), intoB = unit(V(e.x[1] - (e.quadratic ? e.x[2] : e.x[0])));
  e.n[0] = right(hasBefore ? unit(V(fromA + unit(V(e.x[0] - before)))) : fromA);
  e.n[1] = right(hasAfter ? unit(V(intoB + unit(V(after - e.x[1])))) : intoB);
  e.n[2] = e.quadratic ? right(unit(V(e.x[1] - e.x[0]))) : V(e.n[0]);
}

struct GaussRule {
  int n;
  const double *x, *w;
};
inline GaussRule gauss(int n) {
  static const double x3[] = {-0.7745966692414834, 0, 0.7745966692414834}, w3[] = {5. / 9, 8. / 9, 5. / 9};
  static const double x6[] = {-0.9324695142031521, -0.6612093864662645, -0.2386191860831969,
                              0.2386191860831969,  0.6612093864662645,  0.9324695142031521};
  static const double w6[] = {0.1713244923791704, 0.3607615730481386, 0.4679139345726910,
                              0.4679139345726910, 0.3607615730481386, 0.1713244923791704};
  return n == 3 ? GaussRule{3, x3, w3} : GaussRule{6, x6, w6};
}

/// A pair of touching points with all that is integrated over it.
struct PointPair {
  Dual weight, gap, slip;
  Vec normal;                       ///< out of the slave
  std::array<Dual, 2> lambdaShape;  ///< N_A
  std::array<Dual, maxDofs> arm;    ///< d(x_s - x_m)/d(dof): factor of each dof's own direction
  Vec offset;                       ///< rigid: contact point minus reference, for the moment
};

/// Adds a point: weighted gap and slip, forces along n and τ, and their derivatives. `push` maps (direction) to local
/// residual entries: push(i, f, direction) gives the residual of dof i per unit traction along `direction`.
template <class Push>
void addPoint(const PointPair& q, const std::array<double, 2>& ln, const std::array<double, 2>& lt, int dofs, const Push& push,
              SegmentIntegral& out) {
  const Vec tangent{Dual(-q.normal.y()), q.normal.x()};
  std::array<Dual, maxDofs> alongNormal, alongTangent;
  push(q.normal, alongNormal);
  push(tangent, alongTangent);
  Dual p = constant(0), t = constant(0);
  for (int a = 0; a < 2; ++a) {
    const Dual w = q.lambdaShape[size_t(a)] * q.weight;
    const Dual wg = w * q.gap, ws = w * q.slip;
    const size_t A = size_t(a);
    out.kappa[A] += w.value(), out.dKappa[A] += w.derivatives();
    out.gap[A] += wg.value(), out.dGap[A] += wg.derivatives();
    out.slip[A] += ws.value(), out.dSlip[A] += ws.derivatives();
    for (size_t B = 0; B < 2; ++B) out.mass[A][B] += w.value() * q.lambdaShape[B].value();
    for (int i = 0; i < dofs; ++i) {
      out.normal[A][i] += w.value() * alongNormal[size_t(i)].value();
      out.tangential[A][i] += w.value() * alongTangent[size_t(i)].value();
    }
    p += w * ln[A];
    t += w * lt[A];
  }
  for (int i = 0; i < dofs; ++i) {
    const Dual f = p * alongNormal[size_t(i)] + t * alongTangent[size_t(i)];
    out.force[i] += f.value();
    out.stiffness.row(i) += f.derivatives().transpose();
  }
  out.touched = true;
  out.leastGap = std::min(out.leastGap, q.gap.value());
}

inline Dual areaFactor(const Depth& m, const Vec& x) {
  return m.axisymmetric ? Dual(x.x() * (2 * std::numbers::pi)) : constant(m.thickness);
}

inline Edge<double> plainEdge(const SlavePatch& s, Point2 LocalNode::*when = &LocalNode::now) {
  Edge<double> e;
  e.quadratic = s.quadratic;
  e.x = {s.node[1].*when, s.node[2].*when, s.node[3].*when};
  smoothNormals<double>(e, s.node[0].*when, s.node[4].*when, s.hasBefore, s.hasAfter);
  return e;
}

inline Edge<Dual> variableEdge(const SlavePatch& s) {
  Edge<Dual> e;
  e.quadratic = s.quadratic;
  for (size_t i = 0; i < 3; ++i) e.x[i] = variable(s.node[i + 1].now, 2 * int(i + 1));
  smoothNormals<Dual>(e, variable(s.node[0].now, 0), variable(s.node[4].now, 8), s.hasBefore, s.hasAfter);
  return e;
}

}  // namespace anvil::contact::plane
