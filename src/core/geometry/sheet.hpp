// Thin parts of the document: how thick they are, and the line in the plane that a swept one is made of.
#pragma once
#include <vector>

#include "core/geometry/path.hpp"
#include "core/model/entry.hpp"
#include "core/model/forward.hpp"

namespace anvil::geometry {

/// Where the sides of a sheet lie: distances from the drawn surface along its normal, mm.
struct SheetSides {
  double lower = 0, upper = 0;
  double thickness() const { return upper - lower; }
};
/// Throws Error with the place in the document: no thickness, or none above zero.
SheetSides sheetSides(const model::Thin& thin, const model::Quantities& quantities, const std::string& path);

/// A line in the plane, each curve with its count of elements. The upper side of the sheet lies on its left.
struct SheetLine {
  std::vector<Curve2> curves;
  bool closed = false;
  std::vector<std::vector<double>> stations = {};  ///< of each curve, shares of its length; empty: even ones
  /// Where on a curve its i-th node lies.
  double share(size_t curve, int i) const {
    return stations.empty() ? double(i) / curves[curve].count : stations[curve][size_t(i)];
  }
};
/// How finely lines are divided: a factor on sizes, and the least number of elements round a full circle.
struct Fineness {
  double factor = 1;
  int perCircle = 24;
};
/// The line of a swept thin part: the outline of its one shape, divided by its size or counts. Throws Error with the place in the
/// document; arcs need a radius of twice the thickness on their inner side.
SheetLine sheetLine(const model::Part& part, const model::Quantities& quantities, const Fineness& fineness,
                    const std::string& path);

}  // namespace anvil::geometry
