// A touching pair of points in space, and what it adds to the integrals.
#pragma once
#include <algorithm>

#include "core/contact/space_dual.hpp"

namespace anvil::contact {

inline void clear(FaceIntegral& out, const SpaceFace& slave, int dofs, bool friction, Depend depend) {
  const bool rows = depend >= Depend::rows, slopes = depend == Depend::slopes;
  if (depend == Depend::distance) dofs = 0;
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

/// Height of the true surface over a face with straight edges.
inline double risen(const SpaceFace& f, const Eigen::Vector2d& at) {
  if (f.corners == 4) return f.sag[0] * (1 - at.x() * at.x()) + f.sag[1] * (1 - at.y() * at.y());
  const double L0 = 1 - at.x() - at.y(), L1 = at.x(), L2 = at.y();
  return 4 * (f.sag[0] * L0 * L1 + f.sag[1] * L1 * L2 + f.sag[2] * L2 * L0);
}

/// Projection along the slave's normal may fall a little beside a face that its plane's overlap lies in.
inline bool within(const SpaceFace& master, const Eigen::Vector2d& eta, double beside) {
  if (master.corners == 4) return eta.cwiseAbs().maxCoeff() < 1 + beside;
  return eta.minCoeff() > -beside && eta.sum() < 1 + beside;
}

/// How close the true surfaces come at a point over the faces; as good as never where it lies beside the master.
inline double closestAt(const SpaceFace& slave, const Eigen::Vector2d& xi, const SpaceFace& master, const Eigen::Vector2d& eta,
                        double gap) {
  return within(master, eta, 0.05) ? gap - risen(slave, xi) - risen(master, eta) : 1e300;
}

/// Adds what a point stands for on the master's corners.
inline void addOnMaster(const std::array<double, 8>& corner, int corners, double weight, const std::array<double, 8>& linear,
                        FaceIntegral& out) {
  for (int b = 0; b < corners; ++b) {
    const double w = corner[size_t(b)] * weight;
    out.area[b] += w;
    for (int a = 0; a < out.corners; ++a) out.onMaster(b, a) += w * linear[size_t(a)];
  }
}

}  // namespace anvil::contact
