// Lines of slender parts: where they run, how they are divided, which section they have.
#pragma once
#include <Eigen/Core>
#include <string>
#include <vector>

#include "core/geometry/section.hpp"
#include "core/model/forward.hpp"

namespace anvil::geometry {

enum class Carries { all, pullAndPush, pull };

/// A line between two points, as straight pieces one after the other.
struct SlenderLine {
  std::string name;
  size_t from = 0, to = 0, section = 0;  ///< points; section
  std::vector<Eigen::Vector3d> places;   ///< from one point to the other
  std::vector<Eigen::Vector3d> up;       ///< of each piece: unit, square to it
  bool hingedFrom = false, hingedTo = false;
  Carries carries = Carries::all;
  double tension = 0;  ///< at the start, N
};

struct SlenderShape {
  std::vector<std::string> points;
  std::vector<Eigen::Vector3d> at;  ///< parallel to points
  std::vector<std::string> joined;  ///< parallel: the point of another slender part that it is, "part.point"; or empty
  std::vector<SlenderLine> lines;
  std::vector<SectionShape> sections;
};

/// How finely lines are divided: a factor on sizes, least number of elements round a full circle, and of a whole line.
struct SlenderFineness {
  double factor = 1;
  int perCircle = 48, perLine = 16;
};

/// The lines of a slender part. In the plane sections stand with their up on the line's left. Throws Error with the place in the
/// document.
SlenderShape slenderShape(const model::Document& document, const model::Part& part, bool plane, const SlenderFineness& fineness,
                          const model::Quantities& quantities, const std::string& path);

}  // namespace anvil::geometry
