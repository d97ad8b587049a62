// Where a point of the plane of an overlap lies on the two faces that meet there.
#pragma once
#include <optional>

#include "core/contact/overlap.hpp"

namespace anvil::contact {

/// A point of one face, and the inverse of the equations by which it was found.
template <int N>
struct Foot {
  Eigen::Vector2d at;
  Eigen::Matrix<double, N, N> inverse;
};

/// The point of the slave whose projection along the plane's normal is y; none where none is near.
std::optional<Foot<2>> footOn(const SpaceFace& slave, const Places& places, const Plane<double>& plane, const Vec2<double>& y);

/// The point of the master that the line from `from` along n meets, by the equations x(η) - gap n = from.
struct FootAlong : Foot<3> {
  double gap;
};
std::optional<FootAlong> footAlong(const SpaceFace& master, const Places& places, const Point3& from, const Point3& n);

}  // namespace anvil::contact
