// Surfaces that may touch: sides of elements, and exact rigid bodies.
#pragma once
#include <Eigen/Core>
#include <array>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/geometry/facets.hpp"
#include "core/geometry/recipes.hpp"
#include "core/mesh/mesh.hpp"

namespace anvil::contact {

using Point2 = Eigen::Vector2d;

using Point3 = Eigen::Vector3d;

/// One side of an element: an edge (2 corners) with the body on its left, or a face (3 or 4) whose corners run
/// anticlockwise seen from outside. Corners first, then mid-side nodes. In the plane `before` and `after` are the
/// neighbouring nodes along the surface (-1 at its ends); they smooth the normals.
struct Side {
  std::array<int, 8> node{-1, -1, -1, -1, -1, -1, -1, -1};
  int corners = 2, nodes = 2;
  int before = -1, after = -1;
  std::array<int, 4> corner{-1, -1, -1, -1};  ///< its corners among those of the surface
  mesh::Facet facet{};
  /// In space, of a side with straight edges: how far the true surface stands out over the middle of its edges, undeformed, mm
  /// (below it: negative). Triangle: edges 01, 12, 20. Quadrangle: along its first and its second direction.
  std::array<double, 3> sag{0, 0, 0};
  bool quadratic() const { return nodes > corners; }
};

struct Surface {
  std::string name;
  std::vector<Side> sides;
  std::vector<int> corners;  ///< corner nodes of the sides, sorted: they have the pressure unknowns. A node on a kink of the
                             ///< undeformed shape (over 40°) stands once for each smooth side of it.
  double young = 0;          ///< Young's modulus behind the surface, MPa
  double meanLength = 0;     ///< mean undeformed edge length, mm
  std::vector<double> cornerLength;  ///< per corner: mean edge length of the sides there, mm
};

/// Builds a surface from facets of the mesh.
Surface makeSurface(const std::string& name, const mesh::Mesh& mesh, const std::vector<mesh::Facet>& facets, double young);

/// A rigid body in its undeformed place; moves by a translation and a turn about `pivot`. In space its outline is
/// swept in the body's own frame and then placed.
struct RigidBody {
  std::string name;
  std::vector<geometry::Curve2> curves;                  ///< material on the left
  std::shared_ptr<const geometry::FacetSurface> facets;  ///< in their place, instead of a swept outline
  Point3 pivot{0, 0, 0};
  bool closed = false;
  geometry::Sweep sweep;
  bool sides = true;                       ///< of an outline pulled straight: whether its sides touch,
  std::array<bool, 2> ends{false, false};  ///< and its flat ends, front and back
  geometry::Placement place;               ///< in space; plane outlines are placed already
};

/// A body of which only the curves of that name touch; none of them where it has no such curve.
RigidBody onlyFace(const RigidBody& body, const std::string& name);

/// Nearest feature of a rigid outline to a point in the body's own frame.
struct Feature {
  enum class Kind { none, line, arc, vertex } kind = Kind::none;
  Point2 point{0, 0};   ///< on the line, centre of the arc, or the vertex
  Point2 normal{0, 0};  ///< line: unit normal away from the material
  double radius = 0;    ///< arc
  double sign = 1;      ///< arc: +1 material inside the circle, -1 outside
  double distance = 0;  ///< signed, positive outside the material
};
Feature nearestFeature(const RigidBody& outline, const Point2& x);

/// Signed distance of a point from a rigid body as it stands at first (positive outside), with the body's outward normal there.
/// Nothing beside the ends of an open outline or a swept sector.
struct Distance {
  double value = 0;
  Point3 normal{0, 0, 0};
};
std::optional<Distance> distanceFrom(const RigidBody& body, const Point3& x, int dim);

}  // namespace anvil::contact
