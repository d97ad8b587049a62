// A touching pair of points in space, and the rows of the integrals it adds to.
#pragma once
#include <algorithm>

#include "core/contact/space_dual.hpp"

namespace anvil::contact {

/// A touching pair of points in dual numbers, and how it adds to the integrals.
template <int N>
struct Touch {
  using D = Dual<N>;
  using Gradient = Eigen::Matrix<double, N, 1>;
  D weight, gap;
  Vec3<D> normal, moved;        ///< out of the slave; relative motion of the touching points in the increment
  std::array<D, 4> multiplier;  ///< N_A
  bool friction = false;

  /// Residual rows: dof i gets Σ_k arm(i, k) q_k, with arm = factor on one component per node dof.
  template <class Rows>
  void add(const SpaceFace& slave, const std::array<CornerTraction, 4>& traction, const Rows& rows, FaceIntegral& out) const {
    const auto n = out.dofs;
    D pressure = D(0, Gradient::Zero());
    Vec3<D> q;
    for (int k = 0; k < 3; ++k) q[k] = D(0, Gradient::Zero());
    for (int A = 0; A < slave.corners; ++A) {
      const auto a = size_t(A);
      const D w = multiplier[a] * weight, wg = w * gap;
      out.kappa[a] += w.value(), out.dKappa.col(A) += w.derivatives().head(n);
      out.gap[a] += wg.value(), out.dGap.col(A) += wg.derivatives().head(n);
      for (int B = 0; B < slave.corners; ++B) out.mass(A, B) += w.value() * plain(multiplier[size_t(B)]);
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
        const D w = multiplier[a] * weight;
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
      const double w = plain(multiplier[size_t(A)]) * plain(weight);
      rows.addUnit(w * nv, out.normal.col(A));
      if (!friction) continue;
      for (int k = 0; k < 3; ++k) rows.addUnit(w * (Point3::Unit(k) - nv[k] * nv), out.tangential.col(3 * A + k));
    }
    out.touched = true;
    out.leastGap = std::min(out.leastGap, gap.value());
  }
};

/// Rows of a face's nodes, of a point that is fixed on it: residual of node a is N_a q.
template <int N>
struct NodeRows {
  using D = Dual<N>;
  const SpaceFace& f;
  const ShapeAt& s;
  void addForce(const Vec3<D>& q, FaceIntegral& out) const {
    const auto n = out.dofs;
    for (int k = 0; k < 3; ++k)
      for (int a = 0; a < f.nodes; ++a) {
        const double w = s.at.N[size_t(a)];
        out.force[3 * a + k] += w * q[k].value();
        out.stiffness.col(3 * a + k) += w * q[k].derivatives().head(n);  // stored transposed while it is gathered
      }
  }
  template <class Column>
  void addUnit(const Point3& q, Column&& column) const {
    for (int a = 0; a < f.nodes; ++a) column.template segment<3>(3 * a) += s.at.N[size_t(a)] * q;
  }
};

inline void clear(FaceIntegral& out, const SpaceFace& slave, int dofs, bool friction, bool slopes = true, bool rows = true) {
  out = {};
  out.dofs = dofs, out.corners = slave.corners;
  for (auto& s : out.slip) s.setZero();
  if (slopes)
    for (auto* m : {&out.dKappa, &out.dGap}) *m = Eigen::MatrixXd::Zero(dofs, slave.corners);
  if (rows) out.normal = Eigen::MatrixXd::Zero(dofs, slave.corners);
  if (slopes && friction) out.dSlip = Eigen::MatrixXd::Zero(dofs, 3 * slave.corners);
  if (rows && friction) out.tangential = Eigen::MatrixXd::Zero(dofs, 3 * slave.corners);
  out.force = Eigen::VectorXd::Zero(dofs);
  if (slopes) out.stiffness = Eigen::MatrixXd::Zero(dofs, dofs);
}

/// A touching pair of points in plain numbers.
struct PlainTouch {
  double weight, gap;
  Point3 normal, slide;          ///< out of the slave; slip in the increment
  std::array<double, 8> linear;  ///< N_A
};

/// Adds it to what the slave's corners gather. Returns the traction there, times the weight.
inline Point3 addAtCorners(const PlainTouch& p, const std::array<CornerTraction, 4>& traction, bool friction, FaceIntegral& out) {
  double pressure = 0;
  Point3 q = Point3::Zero();
  for (int A = 0; A < out.corners; ++A) {
    const auto a = size_t(A);
    const double w = p.linear[a] * p.weight;
    out.kappa[a] += w, out.gap[a] += w * p.gap, out.slip[a] += w * p.slide;
    for (int B = 0; B < out.corners; ++B) out.mass(A, B) += w * p.linear[size_t(B)];
    pressure += w * traction[a].pressure;
    if (friction) q += w * traction[a].friction;
  }
  out.touched = true, out.leastGap = std::min(out.leastGap, p.gap);
  return q - q.dot(p.normal) * p.normal + pressure * p.normal;
}

/// Linear shape functions of the slave's corners at a point that is fixed on it.
template <int N>
std::array<Dual<N>, 4> multipliers(const SpaceFace& slave, const Eigen::Vector2d& at) {
  const auto s = element::faceShape(slave.corners, false, at);
  std::array<Dual<N>, 4> c;
  for (size_t a = 0; a < 4; ++a) {
    c[a].value() = s.N[a];
    c[a].derivatives().setZero();
  }
  return c;
}

}  // namespace anvil::contact
