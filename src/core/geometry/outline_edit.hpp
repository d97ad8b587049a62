// Plane shapes changed by hand: what can be dragged, which sizes are shown, and how both change the document. Formulas are kept:
// what they give cannot be dragged, and is changed by typing another.
#pragma once
#include <string>
#include <vector>

#include "core/base/units.hpp"
#include "core/geometry/path.hpp"
#include "core/model/entry.hpp"
#include "core/model/forward.hpp"

namespace anvil::model {
struct Shape;
}

namespace anvil::geometry {

/// A spot of a shape that can be dragged, in the part's own coordinates.
struct Grip {
  enum class What { point, edge, radius, fillet, centre, angle } what = What::point;
  size_t which = 0;  ///< point of a profile (0: its start), piece, corner, or place of a ring's entry
  Point2 at{0, 0};
  bool fixed = false;     ///< by a formula
  std::string name = {};  ///< of the edge, for edges
  bool operator==(const Grip&) const = default;
};
/// `closes`: a path that is not drawn back to its start closes by a straight edge, as of all parts but rigid ones.
std::vector<Grip> gripsOf(const model::Shape& shape, const model::Quantities& quantities, bool closes = true);

/// Brings a grip to a place; what is given by formulas stays. Throws Error where the shape could not be so.
void moveGrip(model::Shape& shape, const model::Quantities& quantities, const Grip& grip, const Point2& to);

/// A length, radius or angle of a shape, with the ends of the line it is written at.
struct SizeMark {
  /// `corner`: between two straight pieces, where it is no right angle.
  enum class What { length, width, height, radius, inner, outer, fillet, from, to, corner } what = What::length;
  size_t which = 0;  ///< piece of a profile; the edge that closes it counts behind them
  Kind kind = Kind::length;
  double value = 0;  ///< mm or rad
  Point2 a{0, 0}, b{0, 0};
  model::Entry written = {};  ///< as it stands in the document, where it is an entry of its own
};
std::vector<SizeMark> sizesOf(const model::Shape& shape, const model::Quantities& quantities, bool closes = true);

/// Gives a size another value, as it is typed: formulas and units stay as they are where the size is an entry of its own, or a
/// length along an axis. Throws Error where the shape could not be so.
void setSize(model::Shape& shape, const model::Quantities& quantities, const SizeMark& size, const model::Entry& value);

/// Names the edge that a piece of a profile makes; all pieces of it without a name of their own keep theirs.
void nameEdge(model::Shape& shape, size_t piece, const std::string& name);

/// A part of an outline that was drawn: the path through its points, closed for a deformable part. Pieces get names of their own,
/// "edge 1" and so on.
model::Shape outlineThrough(const std::vector<Point2>& points, const std::vector<std::string>& names, const model::Quantities& q);

/// Puts a point into a piece of a profile, or takes one out.
void addPoint(model::Shape& shape, const model::Quantities& quantities, size_t piece, const Point2& at);
void removePoint(model::Shape& shape, size_t point);
/// Makes an arc of a straight piece, bulging a fifth of its length to its right, or a line of an arc.
void bend(model::Shape& shape, const model::Quantities& quantities, size_t piece);

}  // namespace anvil::geometry
