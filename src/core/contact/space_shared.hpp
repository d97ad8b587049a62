// What two faces share: their overlap on the slave's plane, and which of its points count.
#pragma once
#include "core/contact/space_feet.hpp"
#include "core/contact/space_touch.hpp"

namespace anvil::contact {

/// What two faces have in common on the slave's plane.
template <class T, class Node, class Other>
Polygon<T> overlapOn(const Plane<T>& plane, const SpaceFace& slave, const Node& slaveNode, const SpaceFace& master,
                     const Other& masterNode, double tolerance) {
  return clipped(projected(plane, outlineOf<T>(slave, slaveNode), false),
                 projected(plane, outlineOf<T>(master, masterNode), true), tolerance);
}

/// Points of an overlap, triangle by triangle: f(y, weight).
template <class T, class Each>
void overEach(const Polygon<T>& overlap, double area, bool fine, const Each& each) {
  for (size_t i = 1; i + 1 < overlap.size(); ++i) {
    const auto& a = overlap[0];
    const auto& b = overlap[i];
    const auto& c = overlap[i + 1];
    const T twice = (b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y);
    if (std::abs(plain(twice)) < 1e-12 * area) continue;
    for (const auto& p : triangleRule(fine))
      each(Vec2<T>{T(p[0] * a.x + p[1] * b.x + p[2] * c.x), T(p[0] * a.y + p[1] * b.y + p[2] * c.y)}, T(0.5 * p[3] * twice));
  }
}

/// The plane of a slave face and what the master's covers of it, in plain numbers.
struct FlatOverlap {
  FlatOverlap(const SpaceFace& slave, const SpaceFace& master);
  Plane<double> plane;
  double area, tolerance;  ///< of the slave's outline; of what is clipped
  Polygon<double> overlap;
  bool fine;  ///< whether its triangles need the finer rule
  bool overlaps() const { return areaOf(overlap) > 1e-9 * area; }
};

/// A point of the plane of an overlap on the two faces.
struct SharedPoint {
  Foot<2> slave;
  FootAlong master;
  Places::Local place;  ///< on the slave
  double size;          ///< |x,ξ × x,η| there
  Point3 normal;
};
std::optional<SharedPoint> sharedAt(const SpaceFace& slave, const Places& slaveNow, const SpaceFace& master,
                                    const Places& masterNow, const Plane<double>& plane, const Vec2<double>& y);

/// Whether a point counts that is so far off, and on the master.
inline bool isOpposite(const SpaceFace& master, const Eigen::Vector2d& eta, double gap, double reach) {
  return gap <= reach && within(master, eta, 0.3);
}

}  // namespace anvil::contact
