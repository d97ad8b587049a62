#include "core/contact/rotation.hpp"

#include <Eigen/Geometry>
#include <Eigen/LU>
#include <cmath>

namespace anvil::contact {
namespace {

Eigen::Matrix3d skew(const Eigen::Vector3d& a) {
  Eigen::Matrix3d m;
  m << 0, -a.z(), a.y(), a.z(), 0, -a.x(), -a.y(), a.x(), 0;
  return m;
}

}  // namespace

Eigen::Matrix3d rotationOf(const Eigen::Vector3d& theta) {
  const double t2 = theta.squaredNorm(), t = std::sqrt(t2);
  const double a = t2 < 1e-8 ? 1 - t2 / 6 : std::sin(t) / t, b = t2 < 1e-8 ? 0.5 - t2 / 24 : (1 - std::cos(t)) / t2;
  const Eigen::Matrix3d S = skew(theta);
  return Eigen::Matrix3d::Identity() + a * S + b * S * S;
}

Eigen::Vector3d rotationVector(const Eigen::Matrix3d& R, const Eigen::Vector3d& near) {
  const Eigen::AngleAxisd turn(R);
  const double full = 2 * 3.14159265358979323846;
  const double whole = std::round((turn.axis().dot(near) - turn.angle()) / full);
  return (turn.angle() + full * whole) * turn.axis();
}

Eigen::Matrix3d spinOf(const Eigen::Vector3d& theta) {
  const double t2 = theta.squaredNorm(), t = std::sqrt(t2);
  const double a = t2 < 1e-6 ? 0.5 - t2 / 24 : (1 - std::cos(t)) / t2,
               b = t2 < 1e-6 ? 1. / 6 - t2 / 120 : (t - std::sin(t)) / (t2 * t);
  const Eigen::Matrix3d S = skew(theta);
  return Eigen::Matrix3d::Identity() + a * S + b * S * S;
}

Eigen::Vector3d spatialMoment(const Eigen::Vector3d& theta, const Eigen::Vector3d& conjugate) {
  return spinOf(theta).transpose().inverse() * conjugate;
}

}  // namespace anvil::contact
