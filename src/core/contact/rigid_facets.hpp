// A rigid body in flat pieces, for display and for what need not be exact.
#pragma once
#include <array>
#include <vector>

#include "core/contact/surface.hpp"

namespace anvil::contact {

/// As the body stands at first. In the plane its outline, point after point, without quads. A triangle is a quad whose last
/// corner is there twice.
struct RigidFacets {
  std::vector<Point3> points;
  std::vector<std::array<int, 4>> quads;
};
RigidFacets facetsOf(const RigidBody& body, int dim);

/// Points of the body's surface, all its corners among them, that lie no further apart than about `spacing` (mm); fewer where
/// that would be more than about twenty thousand.
std::vector<Point3> pointsOf(const RigidBody& body, int dim, double spacing);

}  // namespace anvil::contact
