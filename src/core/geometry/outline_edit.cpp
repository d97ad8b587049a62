#include "core/geometry/outline_edit.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::geometry {
namespace {

using model::Entry, model::Profile, model::Quantities, model::Shape;
constexpr double halfTurn = std::numbers::pi;

Point2 pointOf(const model::Point& p, const Quantities& q) {
  if (p.empty()) return {0, 0};
  const auto v = q.list(p, Kind::length, "shape");
  return {v.at(0), v.size() > 1 ? v[1] : 0.};
}
bool isFormula(const Entry& e) { return e.text.starts_with("="); }
bool isFixed(const model::Point& p) { return std::any_of(p.begin(), p.end(), isFormula); }

/// A number as the file has it: nine digits of its unit.
Entry written(double core, Kind kind, const Quantities& q) {
  const double v = conversion(q.unitOf(kind), kind).fromCore(core);
  const double scale = v != 0 ? std::pow(10, 8 - std::floor(std::log10(std::abs(v)))) : 1;
  const double rounded = std::round(v * scale) / scale;
  return std::abs(rounded) < 1e-9 ? 0. : rounded;
}
void put(Entry& e, double core, Kind kind, const Quantities& q) {
  if (!isFormula(e)) e = written(core, kind, q);
}
void put(model::Point& p, const Point2& to, const Quantities& q) {
  if (p.size() < 2) p = {0, 0};
  for (int k = 0; k < 2; ++k) put(p[size_t(k)], to[k], Kind::length, q);
}

model::Point& endOf(model::PathPiece& piece) { return piece.arc.empty() ? piece.line : piece.arc; }
const model::Point& endOf(const model::PathPiece& piece) { return piece.arc.empty() ? piece.line : piece.arc; }
model::Point& pointAt(Profile& p, size_t i) { return i == 0 ? p.start : endOf(p.path[i - 1]); }
const model::Point& pointAt(const Profile& p, size_t i) { return i == 0 ? p.start : endOf(p.path[i - 1]); }

/// Curve of a piece, before roundings.
Curve2 curveOf(const Profile& p, size_t piece, const Quantities& q) {
  const Point2 a = pointOf(pointAt(p, piece), q), b = pointOf(pointAt(p, piece + 1), q);
  const auto& own = p.path[piece];
  return own.arc.empty() ? Curve2::line(a, b, own.name)
                         : Curve2::arcTo(a, b, pointOf(own.center, q), own.turn == "left", own.name);
}

/// The circle through two ends whose middle is next to a place, as an arc: its centre, and whether it runs to the left.
std::pair<Point2, bool> arcThrough(const Point2& a, const Point2& b, const Point2& by) {
  const Point2 chord = b - a, n = Point2(-chord.y(), chord.x()).normalized(), mid = (a + b) / 2;
  double height = (by - mid).dot(n);  // above 0 on the left of the chord
  const double half = chord.norm() / 2;
  if (std::abs(height) < 1e-3 * half) height = std::copysign(1e-3 * half, height);
  const double radius = (half * half + height * height) / (2 * std::abs(height));
  const Point2 centre = mid + n * (height > 0 ? height - radius : height + radius);
  return {centre, height < 0};  // a bulge on the right is run anticlockwise
}

/// Ends in its start: drawn so, or by a straight edge of its own.
bool isDrawnBack(const Profile& p, const Quantities& q) {
  return !p.path.empty() && (pointOf(pointAt(p, p.path.size()), q) - pointOf(p.start, q)).norm() < 1e-9;
}
/// The curve of a piece, or the edge that closes the path behind its last piece.
Curve2 edgeOf(const Profile& p, size_t piece, const Quantities& q) {
  if (piece < p.path.size()) return curveOf(p, piece, q);
  return Curve2::line(pointOf(pointAt(p, p.path.size()), q), pointOf(p.start, q), "closing");
}
/// Number of edges: a path that closes by itself has one more than pieces.
size_t edgesOf(const Profile& p, const Quantities& q, bool closes) {
  return p.path.size() + (closes && !p.path.empty() && !isDrawnBack(p, q) ? 1 : 0);
}
/// The point that an edge ends in.
size_t endPoint(const Profile& p, size_t edge) { return edge < p.path.size() ? edge + 1 : 0; }

/// Corner at the end of an edge between two straight ones: its bisector into the angle, half of the angle, the points before and
/// behind it, and the number of the latter. Nothing elsewhere, nor at the ends of a path that stays open.
struct Corner {
  Point2 at, inward;
  double half;
  Point2 before, behind;
  size_t next;
};
std::optional<Corner> cornerAt(const Profile& p, size_t edge, const Quantities& q, bool closes = true) {
  const size_t n = edgesOf(p, q, closes), pieces = p.path.size();
  const bool last = edge + 1 >= n;
  if (edge >= n || (last && !closes && !isDrawnBack(p, q))) return {};
  const size_t after = last ? 0 : edge + 1;
  if ((edge < pieces && !p.path[edge].arc.empty()) || (after < pieces && !p.path[after].arc.empty())) return {};
  const auto one = edgeOf(p, edge, q), other = edgeOf(p, after, q);
  if (one.length() < 1e-9 || other.length() < 1e-9) return {};
  const Point2 u = (one.a - one.b).normalized(), w = (other.b - other.a).normalized();
  const double angle = std::acos(std::clamp(u.dot(w), -1., 1.));
  if (angle < 0.05 || angle > halfTurn - 0.05) return {};
  return Corner{one.b, (u + w).normalized(), angle / 2, one.a, other.b, endPoint(p, after)};
}

const Profile& profileOf(const Shape& s) { return *s.profile; }

}  // namespace

std::vector<Grip> gripsOf(const Shape& s, const Quantities& q, bool closes) {
  using What = Grip::What;
  std::vector<Grip> grips;
  if (s.rectangle) {
    const Point2 at = pointOf(s.rectangle->at, q), size = pointOf(s.rectangle->size, q);
    const bool fixed = isFixed(s.rectangle->size);
    for (size_t k = 0; k < 4; ++k)
      grips.push_back({What::point, k, at + Point2(k == 1 || k == 2 ? size.x() : 0, k > 1 ? size.y() : 0), fixed && k == 2});
    grips.push_back({What::centre, 0, at + size / 2, isFixed(s.rectangle->at)});
  }
  if (s.disc) {
    const Point2 c = pointOf(s.disc->center, q);
    const double r = q(s.disc->radius, Kind::length, "radius");
    grips.push_back({What::centre, 0, c, isFixed(s.disc->center)});
    const double turn = s.disc->sector == "half" ? 0 : halfTurn / 4;
    grips.push_back({What::radius, 0, c + r * Point2(std::cos(turn), std::sin(turn)), isFormula(s.disc->radius)});
  }
  if (s.ring) {
    const Point2 c = pointOf(s.ring->center, q);
    const double from = q.orElse(s.ring->from, Kind::angle, 0, "from"),
                 to = q.orElse(s.ring->to, Kind::angle, halfTurn / 2, "to");
    const double inner = q(s.ring->inner, Kind::length, "inner"), outer = q(s.ring->outer, Kind::length, "outer");
    const auto at = [&](double r, double a) { return Point2(c + r * Point2(std::cos(a), std::sin(a))); };
    grips.push_back({What::centre, 0, c, isFixed(s.ring->center)});
    grips.push_back({What::radius, 0, at(inner, (from + to) / 2), isFormula(s.ring->inner)});
    grips.push_back({What::radius, 1, at(outer, (from + to) / 2), isFormula(s.ring->outer)});
    grips.push_back({What::angle, 0, at((inner + outer) / 2, from), isFormula(s.ring->from)});
    grips.push_back({What::angle, 1, at((inner + outer) / 2, to), isFormula(s.ring->to)});
  }
  if (s.profile) {
    const auto& p = profileOf(s);
    for (size_t i = 0; i <= p.path.size(); ++i)
      if (i < p.path.size() || (pointOf(pointAt(p, i), q) - pointOf(p.start, q)).norm() > 1e-9)
        grips.push_back({What::point, i, pointOf(pointAt(p, i), q), isFixed(pointAt(p, i))});
    for (size_t i = 0; i < p.path.size(); ++i) {
      const auto c = curveOf(p, i, q);
      if (c.length() < 1e-9) continue;
      grips.push_back({c.arc ? What::radius : What::edge, i, c.at(0.5), c.arc && isFixed(p.path[i].center), p.path[i].name});
      if (const auto corner = cornerAt(p, i, q, closes)) {
        const double r = q.orElse(p.path[i].fillet, Kind::length, 0, "fillet");
        grips.push_back(
            {What::fillet, i, corner->at + corner->inward * r * (1 / std::sin(corner->half) - 1), isFormula(p.path[i].fillet)});
      }
    }
  }
  return grips;
}

void moveGrip(Shape& s, const Quantities& q, const Grip& g, const Point2& to) {
  using What = Grip::What;
  if (s.rectangle) {
    auto& r = *s.rectangle;
    const Point2 at = pointOf(r.at, q), size = pointOf(r.size, q);
    if (g.what == What::centre) return put(r.at, to - size / 2, q);
    Point2 low = at, high = at + size;
    const bool right = g.which == 1 || g.which == 2, up = g.which > 1;
    for (int k = 0; k < 2; ++k) {  // the corner opposite stays; a size that is a formula keeps, and the corner is shifted along
      const bool far = k == 0 ? right : up;
      (far ? high : low)[k] = far ? std::max(to[k], low[k] + 1e-6) : std::min(to[k], high[k] - 1e-6);
      if (isFormula(r.size[size_t(k)])) (far ? high[k] = low[k] + size[k] : low[k] = at[k]);
    }
    put(r.at, low, q), put(r.size, high - low, q);
  }
  if (s.disc) {
    auto& d = *s.disc;
    const Point2 c = pointOf(d.center, q);
    if (g.what == What::centre) return put(d.center, to, q);
    put(d.radius, std::max(1e-6, (to - c).norm()), Kind::length, q);
  }
  if (s.ring) {
    auto& r = *s.ring;
    const Point2 c = pointOf(r.center, q);
    if (g.what == What::centre) return put(r.center, to, q);
    const double distance = (to - c).norm();
    const double inner = q(r.inner, Kind::length, "inner"), outer = q(r.outer, Kind::length, "outer");
    if (g.what == What::radius && g.which == 0)
      return put(r.inner, std::clamp(distance, 1e-6, outer * (1 - 1e-6)), Kind::length, q);
    if (g.what == What::radius) return put(r.outer, std::max(distance, inner * (1 + 1e-6)), Kind::length, q);
    const double from = q.orElse(r.from, Kind::angle, 0, "from"), end = q.orElse(r.to, Kind::angle, halfTurn / 2, "to");
    double angle = std::atan2(to.y() - c.y(), to.x() - c.x());
    const double old = g.which ? end : from;
    while (angle < old - halfTurn) angle += 2 * halfTurn;
    while (angle > old + halfTurn) angle -= 2 * halfTurn;
    angle = g.which ? std::clamp(angle, from + 0.01, from + 2 * halfTurn) : std::clamp(angle, end - 2 * halfTurn, end - 0.01);
    put(g.which ? r.to : r.from, angle, Kind::angle, q);
  }
  if (!s.profile) return;
  auto& p = *s.profile;
  const auto movePoint = [&](size_t i, const Point2& place) {
    const bool both = isDrawnBack(p, q) && (i == 0 || i == p.path.size());
    const auto bulge = [&](size_t piece) { return p.path[piece].arc.empty() ? 0. : curveOf(p, piece, q).sweep; };
    std::vector<std::pair<size_t, double>> arcs;  // the arcs beside it keep how far they go round
    for (size_t piece = 0; piece < p.path.size(); ++piece)
      if (!p.path[piece].arc.empty() && (piece == i || piece + 1 == i || (both && (piece == 0 || piece + 1 == p.path.size()))))
        arcs.emplace_back(piece, bulge(piece));
    put(pointAt(p, i), place, q);
    if (both) put(pointAt(p, i == 0 ? p.path.size() : 0), place, q);
    for (const auto& [piece, sweep] : arcs) {
      const Point2 a = pointOf(pointAt(p, piece), q), b = pointOf(pointAt(p, piece + 1), q), chord = b - a;
      const double half = chord.norm() / 2;
      const Point2 right(chord.y() / (2 * half), -chord.x() / (2 * half));
      // the middle of the arc lies half·tan(sweep/4) off the chord, on its right where it runs anticlockwise
      const auto [centre, left] = arcThrough(a, b, (a + b) / 2 + right * half * std::tan(sweep / 4));
      put(p.path[piece].center, centre, q), p.path[piece].turn = left ? "left" : "right";
    }
  };
  if (g.what == What::point) movePoint(g.which, to);
  if (g.what == What::edge) {
    const auto c = curveOf(p, g.which, q);
    const Point2 n = Point2(-(c.b - c.a).y(), (c.b - c.a).x()).normalized();
    const Point2 shift = n * (to - c.at(0.5)).dot(n);
    const Point2 a = c.a + shift, b = c.b + shift;
    movePoint(g.which, a), movePoint(g.which + 1, b);
  }
  if (g.what == What::radius) {
    const auto c = curveOf(p, g.which, q);
    const auto [centre, left] = arcThrough(c.a, c.b, to);
    put(p.path[g.which].center, centre, q), p.path[g.which].turn = left ? "left" : "right";
  }
  if (g.what == What::fillet)
    if (const auto corner = cornerAt(p, g.which, q)) {
      const double d = std::max(0., (to - corner->at).dot(corner->inward)), r = d / (1 / std::sin(corner->half) - 1);
      if (r * std::tan(halfTurn / 2 - corner->half) < 1e-9)
        p.path[g.which].fillet = Entry();
      else
        put(p.path[g.which].fillet, r, Kind::length, q);
    }
}

std::vector<SizeMark> sizesOf(const Shape& s, const Quantities& q, bool closes) {
  using What = SizeMark::What;
  std::vector<SizeMark> marks;
  if (s.rectangle) {
    const auto& r = *s.rectangle;
    const Point2 at = pointOf(r.at, q), size = pointOf(r.size, q), end = at + size;
    marks.push_back({What::width, 0, Kind::length, size.x(), at, {end.x(), at.y()}, r.size.at(0)});
    marks.push_back({What::height, 0, Kind::length, size.y(), {end.x(), at.y()}, end, r.size.at(1)});
  }
  if (s.disc) {
    const Point2 c = pointOf(s.disc->center, q);
    const double r = q(s.disc->radius, Kind::length, "radius");
    marks.push_back({What::radius, 0, Kind::length, r, c, c + Point2(r, 0), s.disc->radius});
  }
  if (s.ring) {
    const auto& r = *s.ring;
    const Point2 c = pointOf(r.center, q);
    const double from = q.orElse(r.from, Kind::angle, 0, "from"), to = q.orElse(r.to, Kind::angle, halfTurn / 2, "to");
    const double inner = q(r.inner, Kind::length, "inner"), outer = q(r.outer, Kind::length, "outer");
    const auto at = [&](double radius, double a) { return Point2(c + radius * Point2(std::cos(a), std::sin(a))); };
    const double one = from + 0.3 * (to - from), other = from + 0.7 * (to - from);
    marks.push_back({What::inner, 0, Kind::length, inner, c, at(inner, one), r.inner});
    marks.push_back({What::outer, 0, Kind::length, outer, c, at(outer, other), r.outer});
    marks.push_back({What::from, 0, Kind::angle, from, at(inner, from), at(outer, from), r.from});
    marks.push_back({What::to, 0, Kind::angle, to, at(inner, to), at(outer, to), r.to});
  }
  if (s.profile) {
    const auto& p = profileOf(s);
    for (size_t i = 0; i < edgesOf(p, q, closes); ++i) {
      const auto c = edgeOf(p, i, q);
      if (c.length() < 1e-9) continue;
      if (c.arc)
        marks.push_back({What::radius, i, Kind::length, c.radius, c.center, c.at(0.5), {}});
      else
        marks.push_back({What::length, i, Kind::length, c.length(), c.a, c.b, {}});
      const auto corner = cornerAt(p, i, q, closes);
      if (corner && std::abs(corner->half - halfTurn / 4) > 1e-6) {
        const double reach = 0.3 * std::min(c.length(), (corner->behind - corner->at).norm());
        marks.push_back({What::corner, i, Kind::angle, 2 * corner->half, corner->at, corner->at + corner->inward * reach, {}});
      }
      const double r = i < p.path.size() ? q.orElse(p.path[i].fillet, Kind::length, 0, "fillet") : 0;
      if (corner && r > 0) {
        const Point2 middle = corner->at + corner->inward * r * (1 / std::sin(corner->half) - 1);
        marks.push_back({What::fillet, i, Kind::length, r, corner->at + corner->inward * r / std::sin(corner->half), middle,
                         p.path[i].fillet});
      }
    }
  }
  return marks;
}

/// The edge that closes a path: its beginning is shifted, and the point before it where that keeps a piece square to it.
static void setClosingLength(Shape& s, const Quantities& q, double length) {
  const auto& p = *s.profile;
  const size_t last = p.path.size();
  const auto c = edgeOf(p, last, q);
  const Point2 shift = (c.a - c.b).normalized() * (length - c.length());
  const auto before = curveOf(p, last - 1, q);
  const bool square =
      !before.arc && last > 1 && std::abs((before.b - before.a).dot(shift)) < 1e-9 * before.length() * shift.norm();
  moveGrip(s, q, {Grip::What::point, last, c.a}, c.a + shift);
  if (square) moveGrip(s, q, {Grip::What::point, last - 1, before.a}, before.a + shift);
}

void setSize(Shape& s, const Quantities& q, const SizeMark& size, const Entry& value) {
  using What = SizeMark::What;
  const double v = q(value, size.kind, "size");
  if (size.kind == Kind::length && !(v > 0) && size.what != What::fillet)
    throw Error("a length of " + shortNumber(v) + " mm is none", {}, "Give a value above zero.");
  const auto set = [&](Entry& e) { e = value; };
  switch (size.what) {
    case What::width:
      return set(s.rectangle->size.at(0));
    case What::height:
      return set(s.rectangle->size.at(1));
    case What::inner:
      if (!(v < q(s.ring->outer, Kind::length, "outer")))
        throw Error("the inner radius is not below the outer one", {}, "Give a smaller one.");
      return set(s.ring->inner);
    case What::outer:
      if (!(v > q(s.ring->inner, Kind::length, "inner")))
        throw Error("the outer radius is not above the inner one", {}, "Give a larger one.");
      return set(s.ring->outer);
    case What::from:
      return set(s.ring->from);
    case What::to:
      return set(s.ring->to);
    case What::fillet:
      if (v < 0) throw Error("a radius below zero is none", {}, "Give 0 for a sharp corner.");
      s.profile->path[size.which].fillet = v == 0 ? Entry() : value;
      return;
    case What::radius: {
      if (s.disc) return set(s.disc->radius);
      const auto c = curveOf(*s.profile, size.which, q);
      const double half = (c.b - c.a).norm() / 2;
      if (v < half)
        throw Error("the radius is less than half of the distance between the arc's ends, " + shortNumber(half) + " mm", {},
                    "Give a larger one, or move the ends closer first.");
      const bool major = std::abs(c.sweep) > halfTurn;
      const double height = v + (major ? 1 : -1) * std::sqrt(v * v - half * half);
      const Point2 chord = c.b - c.a, right = Point2(chord.y(), -chord.x()).normalized();
      const auto [centre, left] = arcThrough(c.a, c.b, (c.a + c.b) / 2 + right * (c.sweep > 0 ? height : -height));
      put(s.profile->path[size.which].center, centre, q);
      (void)left;
      return;
    }
    case What::corner: {  // what goes on from the corner is turned about it; what follows closes by itself
      const auto corner = cornerAt(*s.profile, size.which, q);
      if (!corner || !(v > 0.01 && v < halfTurn - 0.01))
        throw Error("a corner of this angle is none", {}, "Give one between 1 and 179 degrees.");
      const Point2 before = corner->before - corner->at, after = corner->behind - corner->at;
      const double side = before.x() * after.y() - before.y() * after.x() > 0 ? 1 : -1;
      const Point2 to = corner->at + Eigen::Rotation2Dd(side * v) * before.normalized() * after.norm();
      return moveGrip(s, q, {Grip::What::point, corner->next, corner->behind}, to);
    }
    case What::length: {
      auto& p = *s.profile;
      if (size.which >= p.path.size()) return setClosingLength(s, q, v);
      const auto c = curveOf(p, size.which, q);
      const Point2 way = (c.b - c.a).normalized(), to = c.a + way * v;
      const size_t end = size.which + 1;
      // what goes on square to it along an axis keeps its direction
      const bool onward = end < p.path.size() && p.path[end].arc.empty();
      const Point2 next = onward ? Point2(curveOf(p, end, q).b - curveOf(p, end, q).a) : Point2(0, 0);
      const bool square = onward && std::abs(next.dot(way)) < 1e-9 * next.norm();
      const Point2 beyond = square ? Point2(to + next) : Point2(0, 0);
      const bool formula = isFormula(value);
      const int axis = std::abs(way.x()) > 1 - 1e-12 ? 0 : std::abs(way.y()) > 1 - 1e-12 ? 1 : -1;
      const bool start =
          square && end + 1 == p.path.size() && (pointOf(pointAt(p, end + 1), q) - pointOf(p.start, q)).norm() < 1e-9;
      moveGrip(s, q, {Grip::What::point, end, c.b}, to);
      if (square && !start) moveGrip(s, q, {Grip::What::point, end + 1, c.b + next}, beyond);
      if (formula && axis >= 0) {  // so many from where it begins
        const auto& from = pointAt(p, size.which).at(size_t(axis));
        const std::string base = from.number       ? shortNumber(*from.number, 12)
                                 : isFormula(from) ? "(" + from.text.substr(1) + ")"
                                                   : "";
        if (!base.empty()) {
          const Entry sum("=" + base + (way[axis] > 0 ? "+(" : "-(") + value.text.substr(1) + ")");
          pointAt(p, end).at(size_t(axis)) = sum;
          if (square && !start) pointAt(p, end + 1).at(size_t(axis)) = sum;
        }
      }
      return;
    }
  }
}

void nameEdge(Shape& s, size_t piece, const std::string& name) {
  if (s.profile && piece < s.profile->path.size()) s.profile->path[piece].name = name;
}

Shape outlineThrough(const std::vector<Point2>& points, const std::vector<std::string>& names, const Quantities& q) {
  if (points.size() < 2) throw Error("an outline needs more points", {}, "Click at least three, two for a rigid line.");
  Shape s;
  auto& p = s.profile.emplace();
  put(p.start, points.front(), q);
  for (size_t i = 1; i < points.size(); ++i) {
    auto& piece = p.path.emplace_back();
    put(piece.line, points[i], q);
    piece.name = i - 1 < names.size() ? names[i - 1] : "edge " + std::to_string(i);
  }
  return s;
}

void addPoint(Shape& s, const Quantities& q, size_t piece, const Point2& at) {
  if (!s.profile || piece >= s.profile->path.size()) return;
  auto& path = s.profile->path;
  auto first = path[piece];
  first.fillet = Entry();
  put(endOf(first), at, q);
  path.insert(path.begin() + std::ptrdiff_t(piece), first);
}

void removePoint(Shape& s, size_t point) {
  if (!s.profile || s.profile->path.size() < 3)
    throw Error("an outline of so few points cannot lose one", {}, "Take the part out instead.");
  auto& path = s.profile->path;
  if (point == 0) {
    s.profile->start = endOf(path.front());
    path.erase(path.begin());
  } else if (point <= path.size()) {
    path.erase(path.begin() + std::ptrdiff_t(point) - 1);
  }
}

void bend(Shape& s, const Quantities& q, size_t piece) {
  if (!s.profile || piece >= s.profile->path.size()) return;
  auto& own = s.profile->path[piece];
  if (!own.arc.empty()) {
    own.line = own.arc, own.arc.clear(), own.center.clear(), own.turn = "left";
    return;
  }
  const auto c = curveOf(*s.profile, piece, q);
  const Point2 chord = c.b - c.a, right(chord.y(), -chord.x());
  const auto [centre, left] = arcThrough(c.a, c.b, (c.a + c.b) / 2 + 0.2 * right);
  own.arc = own.line, own.line.clear();
  put(own.center, centre, q), own.turn = left ? "left" : "right";
}

}  // namespace anvil::geometry
