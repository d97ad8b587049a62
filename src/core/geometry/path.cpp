#include "core/geometry/path.hpp"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/base/error.hpp"
#include "core/base/text.hpp"

namespace anvil::geometry {
namespace {

constexpr double pi = std::numbers::pi;

Point2 left(const Point2& t) { return {-t.y(), t.x()}; }
double cross(const Point2& a, const Point2& b) { return a.x() * b.y() - a.y() * b.x(); }
double angleOf(const Point2& v) { return std::atan2(v.y(), v.x()); }

/// A line (point, direction) or circle (point, radius): where the centre of a tangent circle may lie.
struct Locus {
  bool circle;
  Point2 point, direction;
  double radius;
};

Locus offsetLeft(const Curve2& c, double distance) {
  if (!c.arc) {
    const Point2 t = c.tangent(0);
    return {false, c.a + distance * left(t), t, 0};
  }
  return {true, c.center, {0, 0}, c.sweep > 0 ? c.radius - distance : c.radius + distance};
}

std::vector<Point2> meet(const Locus& p, const Locus& q) {
  if (p.circle && !q.circle) return meet(q, p);
  if (!p.circle && !q.circle) {
    const double d = cross(p.direction, q.direction);
    if (std::abs(d) < 1e-12) return {};
    return {p.point + p.direction * (cross(q.point - p.point, q.direction) / d)};
  }
  if (!p.circle) {  // line and circle
    const Point2 toCenter = q.point - p.point;
    const double along = toCenter.dot(p.direction), h2 = q.radius * q.radius - (toCenter.squaredNorm() - along * along);
    if (q.radius < 0 || h2 < 0) return {};
    const double h = std::sqrt(h2);
    return {p.point + (along - h) * p.direction, p.point + (along + h) * p.direction};
  }
  const Point2 d = q.point - p.point;
  const double L = d.norm();
  if (L < 1e-12 || p.radius < 0 || q.radius < 0) return {};
  const double a = (p.radius * p.radius - q.radius * q.radius + L * L) / (2 * L), h2 = p.radius * p.radius - a * a;
  if (h2 < 0) return {};
  const Point2 mid = p.point + d * (a / L), side = left(d / L) * std::sqrt(h2);
  return {mid + side, mid - side};
}

/// Foot of the perpendicular from a point on the unbounded line or circle.
Point2 foot(const Curve2& c, const Point2& p) {
  if (!c.arc) return c.a + c.tangent(0) * (p - c.a).dot(c.tangent(0));
  return c.center + (p - c.center).normalized() * c.radius;
}

/// Fraction of the length at a point of the curve.
double fractionOf(const Curve2& c, const Point2& p) {
  if (!c.arc) return (p - c.a).dot(c.tangent(0)) / c.length();
  double turned = angleOf(p - c.center) - c.from;
  if (c.sweep > 0)
    while (turned < -1e-9) turned += 2 * pi;
  else
    while (turned > 1e-9) turned -= 2 * pi;
  return turned / c.sweep;
}

void trimEnd(Curve2& c, const Point2& p) {
  if (c.arc) c.sweep *= fractionOf(c, p);
  c.b = p;
}
void trimStart(Curve2& c, const Point2& p) {
  if (c.arc) {
    const double f = fractionOf(c, p);
    c.from += c.sweep * f;
    c.sweep *= 1 - f;
  }
  c.a = p;
}

std::optional<Curve2> roundCorner(Curve2& before, Curve2& after, double radius) {
  const Point2 corner = before.b;
  const double turn = cross(before.tangent(1), after.tangent(0));
  if (std::abs(turn) < 1e-9) return std::nullopt;
  const double side = turn > 0 ? radius : -radius;
  std::optional<Curve2> best;
  double nearestSoFar = 1e300;
  for (const auto& center : meet(offsetLeft(before, side), offsetLeft(after, side))) {
    const Point2 from = foot(before, center), to = foot(after, center);
    const double f = fractionOf(before, from), g = fractionOf(after, to);
    if (f < -1e-9 || f > 1 + 1e-9 || g < -1e-9 || g > 1 + 1e-9 || (center - corner).norm() > nearestSoFar) continue;
    nearestSoFar = (center - corner).norm();
    best = Curve2::arcTo(from, to, center, turn > 0, before.name);
  }
  if (best) trimEnd(before, best->a), trimStart(after, best->b);
  return best;
}

}  // namespace

Curve2 Curve2::line(Point2 a, Point2 b, std::string name) {
  Curve2 c;
  c.a = a, c.b = b, c.name = std::move(name);
  return c;
}

Curve2 Curve2::arcTo(Point2 a, Point2 b, Point2 center, bool left, std::string name) {
  Curve2 c;
  c.arc = true, c.a = a, c.center = center, c.name = std::move(name);
  c.radius = (a - center).norm();
  c.from = angleOf(a - center);
  c.sweep = angleOf(b - center) - c.from;
  if (left && c.sweep <= 1e-12) c.sweep += 2 * pi;
  if (!left && c.sweep >= -1e-12) c.sweep -= 2 * pi;
  c.b = c.at(1);
  return c;
}

Point2 Curve2::at(double f) const {
  if (!arc) return a + f * (b - a);
  const double angle = from + f * sweep;
  return center + radius * Point2(std::cos(angle), std::sin(angle));
}

Point2 Curve2::tangent(double f) const {
  if (!arc) return (b - a).normalized();
  const double angle = from + f * sweep;
  return (sweep > 0 ? 1 : -1) * Point2(-std::sin(angle), std::cos(angle));
}

std::vector<Curve2> rounded(const std::vector<Curve2>& path, const std::vector<Fillet>& fillets, bool closed) {
  std::vector<Curve2> trimmed = path;
  std::vector<std::optional<Curve2>> corner(path.size());
  for (const auto& f : fillets) {
    const bool last = f.after + 1 == path.size();
    if (last && !closed)
      throw Error("the last piece of an open path has no corner to round", "piece " + std::to_string(f.after + 1),
                  "Take the fillet away.");
    corner[f.after] = roundCorner(trimmed[f.after], trimmed[last ? 0 : f.after + 1], f.radius);
    if (!corner[f.after])
      throw Error("a fillet of radius " + shortNumber(f.radius) + " mm does not fit between this piece and the next",
                  "piece " + std::to_string(f.after + 1), "Use a smaller radius or longer pieces.");
  }
  std::vector<Curve2> result;
  for (size_t i = 0; i < path.size(); ++i) {
    if (trimmed[i].length() > 1e-9 * (1 + trimmed[i].a.norm())) result.push_back(trimmed[i]);
    if (corner[i]) result.push_back(*corner[i]);
  }
  return result;
}

double enclosedArea(const std::vector<Curve2>& path) {
  double twice = 0;
  for (const auto& c : path) twice += c.arc ? cross(c.center, c.b - c.a) + c.radius * c.radius * c.sweep : cross(c.a, c.b);
  return twice / 2;
}

}  // namespace anvil::geometry
