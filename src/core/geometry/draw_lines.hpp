// Slender parts drawn by hand: lines from point to point, and along edges of other parts.
#pragma once
#include <Eigen/Core>
#include <string>
#include <vector>

#include "core/model/forward.hpp"

namespace anvil::geometry {

/// An end of a drawn line: a point of a slender part ("part.point") where it was put on one, else a place (mm).
struct LineEnd {
  Eigen::Vector3d at{0, 0, 0};
  std::string point;
};

/// What a line was put into, with the names that its ends have there ("part.point").
struct DrawnLine {
  std::string part, from, to;
};

/// Adds a straight line to a slender part; where `part` names none, a new part with a round section of 10 mm is made. Points of
/// that part at the same place are taken over, points of others are joined. Throws Error where both ends are one, there is such a
/// line already, or a part that is joined or drawn in is placed or repeated.
DrawnLine drawLine(model::Document& document, const std::string& part, const LineEnd& from, const LineEnd& to);

/// A new slender part with a line along each edge ("part.face & part.face"); returns its name.
std::string drawAlong(model::Document& document, const std::vector<std::string>& edges);

}  // namespace anvil::geometry
