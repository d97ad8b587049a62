// Surfaces that may touch: chains of element edges with smoothed normals, and exact rigid outlines.
#pragma once
#include <Eigen/Core>
#include <array>
#include <string>
#include <vector>

#include "core/geometry/path.hpp"
#include "core/mesh/mesh.hpp"

namespace anvil::contact {

using Point2 = Eigen::Vector2d;

/// One element edge. `node`: ends a and b, then the mid-side node or -1. The body lies on the left of a→b.
/// `before` and `after` are the neighbouring nodes along the surface (-1 at its ends); they smooth the normals.
struct Segment {
  std::array<int, 3> node{-1, -1, -1};
  int before = -1, after = -1;
  mesh::Facet facet{};
  int count() const { return node[2] < 0 ? 2 : 3; }
};

struct Surface {
  std::string name;
  std::vector<Segment> segments;
  std::vector<int> corners;   ///< end nodes of segments, each once, sorted: carriers of pressure unknowns
  double young = 0;           ///< Young's modulus behind the surface, MPa
  double meanLength = 0;      ///< mean undeformed edge length, mm
};

/// Builds a surface from facets of the mesh.
Surface makeSurface(const std::string& name, const mesh::Mesh& mesh, const std::vector<mesh::Facet>& facets, double young);

/// A rigid outline in its undeformed place; moves by a translation and a turn about `reference`.
struct RigidOutline {
  std::string name;
  std::vector<geometry::Curve2> curves;   ///< material on the left
  Point2 reference{0, 0};
  bool closed = false;
};

/// Nearest feature of a rigid outline to a point in the body's own frame.
struct Feature {
  enum class Kind { none, line, arc, vertex } kind = Kind::none;
  Point2 point{0, 0};      ///< on the line, centre of the arc, or the vertex
  Point2 normal{0, 0};     ///< line: unit normal away from the material
  double radius = 0;       ///< arc
  double sign = 1;         ///< arc: +1 material inside the circle, -1 outside
  double distance = 0;     ///< signed, positive outside the material
};
Feature nearestFeature(const RigidOutline& outline, const Point2& x);

}  // namespace anvil::contact
