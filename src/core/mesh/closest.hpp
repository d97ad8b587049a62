// The place of a flat piece that is closest to a point.
#pragma once
#include <Eigen/Core>
#include <algorithm>
#include <array>

namespace anvil::mesh {

/// Point of a triangle closest to p (C. Ericson, Real-Time Collision Detection, 2005, section 5.1.5); of a line where the last
/// two corners are one.
inline Eigen::Vector3d closestOn(const std::array<Eigen::Vector3d, 3>& x, const Eigen::Vector3d& p) {
  const Eigen::Vector3d &a = x[0], &b = x[1], &c = x[2];
  const Eigen::Vector3d ab = b - a, ac = c - a, ap = p - a;
  if ((c - b).isZero(0)) return a + std::clamp(ap.dot(ab) / ab.squaredNorm(), 0., 1.) * ab;
  const double d1 = ab.dot(ap), d2 = ac.dot(ap);
  if (d1 <= 0 && d2 <= 0) return a;
  const Eigen::Vector3d bp = p - b;
  const double d3 = ab.dot(bp), d4 = ac.dot(bp);
  if (d3 >= 0 && d4 <= d3) return b;
  const double vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return a + d1 / (d1 - d3) * ab;
  const Eigen::Vector3d cp = p - c;
  const double d5 = ab.dot(cp), d6 = ac.dot(cp);
  if (d6 >= 0 && d5 <= d6) return c;
  const double vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return a + d2 / (d2 - d6) * ac;
  const double va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) return b + (d4 - d3) / ((d4 - d3) + (d5 - d6)) * (c - b);
  const double s = 1 / (va + vb + vc);
  return a + vb * s * ab + vc * s * ac;
}

}  // namespace anvil::mesh
