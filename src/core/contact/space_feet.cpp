#include "core/contact/space_feet.hpp"

#include <Eigen/Geometry>
#include <Eigen/LU>

namespace anvil::contact {
namespace {

/// Newton's steps square what they leave: behind a step this small nothing is left.
constexpr double nearly = 1e-7;
constexpr int mostSteps = 26;
constexpr double farOff = 10;  // in local coordinates: no point of the face

}  // namespace

std::optional<Foot<2>> footOn(const SpaceFace& slave, const Places& places, const Plane<double>& plane, const Vec2<double>& y) {
  const Point3 o = plain(plane.origin), e1 = plain(plane.e1), e2 = plain(plane.e2);
  Eigen::Vector2d xi = middleOf(slave);
  for (int it = 0; it <= mostSteps && xi.squaredNorm() < farOff * farOff; ++it) {
    const auto s = places.at(xi);
    Eigen::Matrix2d J;
    J << e1.dot(s.t1), e1.dot(s.t2), e2.dot(s.t1), e2.dot(s.t2);
    const Eigen::Matrix2d inverse = J.inverse();
    const Eigen::Vector2d step = inverse * Eigen::Vector2d(e1.dot(s.x - o) - y.x, e2.dot(s.x - o) - y.y);
    xi -= step;
    if (step.squaredNorm() < nearly * nearly) return Foot<2>{xi, inverse};
  }
  return {};
}

std::optional<FootAlong> footAlong(const SpaceFace& master, const Places& places, const Point3& from, const Point3& n) {
  Eigen::Vector2d eta = middleOf(master);
  double gap = 0;
  for (int it = 0; it <= mostSteps && eta.squaredNorm() < farOff * farOff; ++it) {
    const auto m = places.at(eta);
    const Point3 first = n.cross(m.t2), second = m.t1.cross(n), third = m.t1.cross(m.t2);
    const double over = 1 / m.t1.dot(first);
    Eigen::Matrix3d inverse;  // of [t1 t2 -n]
    inverse << over * first.transpose(), over * second.transpose(), over * third.transpose();
    const Point3 step = inverse * (m.x - from - gap * n);
    eta -= step.head<2>(), gap -= step[2];
    if (step.head<2>().squaredNorm() < nearly * nearly) return FootAlong{{eta, inverse}, gap};
  }
  return {};
}

}  // namespace anvil::contact
