// Plane paths of straight lines and circular arcs, with rounded corners.
#pragma once
#include <Eigen/Core>
#include <numbers>
#include <string>
#include <vector>

namespace anvil::geometry {

using Point2 = Eigen::Vector2d;

/// A straight line from a to b, or an arc about `center` from angle `from` over the signed angle `sweep`.
struct Curve2 {
  bool arc = false;
  Point2 a{0, 0}, b{0, 0}, center{0, 0};
  double radius = 0, from = 0, sweep = 0;
  std::string name;
  int count = 0;  ///< elements asked for along it; 0: by size

  double length() const { return arc ? radius * std::abs(sweep) : (b - a).norm(); }
  /// Point at a fraction of the length, 0 to 1.
  Point2 at(double fraction) const;
  /// Unit tangent at a fraction of the length.
  Point2 tangent(double fraction) const;

  static Curve2 line(Point2 a, Point2 b, std::string name = {});
  /// Arc from a to b about a center; `left` runs anticlockwise. The end is put on the circle through a.
  static Curve2 arcTo(Point2 a, Point2 b, Point2 center, bool left, std::string name = {});
};

/// A corner to be rounded: behind curve `after`, with this radius.
struct Fillet {
  size_t after;
  double radius;
};

/// Rounds corners of a path by arcs tangent to both neighbours. With `closed` the last corner joins the first curve.
/// Throws Error naming the curve when a radius does not fit.
std::vector<Curve2> rounded(const std::vector<Curve2>& path, const std::vector<Fillet>& fillets, bool closed);

/// Signed area enclosed by a closed path (positive when anticlockwise).
double enclosedArea(const std::vector<Curve2>& path);

}  // namespace anvil::geometry
