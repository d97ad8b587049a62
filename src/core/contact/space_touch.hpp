// A touching pair of points in space, and what it adds to the integrals.
#pragma once
#include <algorithm>

#include "core/contact/space_dual.hpp"

namespace anvil::contact {

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

}  // namespace anvil::contact
