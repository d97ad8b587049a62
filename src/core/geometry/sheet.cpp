#include "core/geometry/sheet.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/geometry/recipes.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::geometry {

using model::Quantities;

SheetSides sheetSides(const model::Thin& thin, const Quantities& q, const std::string& path) {
  if (!thin.thickness.given())
    throw Error("the thin part has no thickness", path + "/thickness", "Give it, for example \"0.8 mm\".");
  const double t = q(thin.thickness, Kind::length, path + "/thickness");
  if (!(t > 0)) throw Error("the thickness is " + shortNumber(t) + " mm", path + "/thickness", "Give a value above zero.");
  if (thin.given == "upper") return {-t, 0};
  if (thin.given == "lower") return {0, t};
  return {-t / 2, t / 2};
}

namespace {

/// Elements along the curves, by a count of the whole line, by counts of single curves, or by size.
void divide(SheetLine& line, const model::Part& part, const Quantities& q, const Fineness& fineness, const std::string& path) {
  const auto& shape = part.shape.front();
  const bool own = shape.mesh.size.given() || !shape.mesh.count.empty();
  const auto& d = own ? shape.mesh : part.mesh;
  const std::string here = own ? path + "/shape/1/mesh" : path + "/mesh";
  if (!d.grading.empty())
    throw Error("the line of a thin part is not graded", here + "/grading", "Give its pieces counts of their own.");
  double length = 0;
  for (const auto& c : line.curves) length += c.length();
  double size = length / 24;
  if (d.size.given()) {
    size = q(d.size, Kind::length, here + "/size");
    if (!(size > 0)) throw Error("the element size is " + shortNumber(size) + " mm", here + "/size", "Give a value above zero.");
  } else if (!d.count.empty()) {
    size = length / q.whole(d.count.front(), 1, 100000, here + "/count", true);
  }
  size *= fineness.factor;
  if (!(length / size < 1e6))
    throw Error("the line would be divided into " + shortNumber(length / size, 3) + " elements", here,
                "Give a larger \"size\" or a smaller \"count\"; check units.");
  for (auto& c : line.curves) {
    if (c.count > 0) {
      c.count = std::max(1, int(std::lround(c.count / fineness.factor)));
      continue;
    }
    const double turning = c.arc ? std::abs(c.sweep) / (2 * std::numbers::pi) * fineness.perCircle : 0;
    c.count = std::max({1, int(std::lround(c.length() / size)), d.count.empty() ? int(std::ceil(turning - 1e-9)) : 1});
  }
}

}  // namespace

SheetLine sheetLine(const model::Part& part, const Quantities& q, const Fineness& fineness, const std::string& path) {
  if (part.shape.size() != 1)
    throw Error("a thin part that is swept has one shape", path + "/shape", "Give one line: a profile, open or closed.");
  const auto found = outline(part, q, path);
  SheetLine line{found.curves, found.closed};
  const auto sides = sheetSides(*part.thin, q, path + "/thin");
  for (const auto& c : line.curves)
    if (c.arc && c.radius < 2 * sides.thickness() * (1 - 1e-9))
      throw Error("the sheet is " + shortNumber(sides.thickness()) + " mm thick, more than half of the radius " +
                      shortNumber(c.radius) + " mm" + (c.name.empty() ? std::string() : " of the edge '" + c.name + "'"),
                  path + "/thin/thickness", "Make it thinner or the radius larger, or model the part as a solid.");
  divide(line, part, q, fineness, path);
  return line;
}

}  // namespace anvil::geometry
