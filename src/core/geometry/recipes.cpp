#include "core/geometry/recipes.hpp"

#include "core/geometry/four_sides.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "core/model/pattern.hpp"
#include "core/model/quantities.hpp"
#include "core/model/shapes.hpp"

namespace anvil::geometry {
namespace {

using model::Quantities;

Point2 point(const model::Point& p, const Quantities& q, const std::string& path) {
  if (p.size() != 2) throw Error("a point needs two coordinates", path, "Write [x, y].");
  return {q(p[0], Kind::length, path + "/1"), q(p[1], Kind::length, path + "/2")};
}

double positive(const model::Entry& e, Kind kind, const Quantities& q, const std::string& path) {
  const double v = q(e, kind, path);
  if (v <= 0) throw Error("the value is " + shortNumber(v), path, std::string("Give ") + kindName(kind) + " above zero.");
  return v;
}

Curve2 pieceOf(const model::PathPiece& piece, const Point2& from, const Quantities& q, const std::string& path) {
  if (piece.line.empty() == piece.arc.empty())
    throw Error("a piece is either a line or an arc", path, "Give \"line\": [x, y] or \"arc\": [x, y].");
  Curve2 c;
  if (!piece.line.empty()) {
    c = Curve2::line(from, point(piece.line, q, path + "/line"), piece.name);
  } else {
    const Point2 to = point(piece.arc, q, path + "/arc"), center = point(piece.center, q, path + "/center");
    const double r0 = (from - center).norm(), r1 = (to - center).norm();
    if (std::abs(r0 - r1) > 1e-3 * std::max(r0, r1))
      throw Error("the arc's ends are " + shortNumber(r0) + " mm and " + shortNumber(r1) + " mm from its centre", path,
                  "Move the centre or an end.");
    c = Curve2::arcTo(from, to, center, piece.turn == "left", piece.name);
  }
  if (c.length() < 1e-9) throw Error("this piece has no length", path, "Move its end point.");
  c.count = piece.count.given() ? q.whole(piece.count, 1, 100000, path + "/count", true) : 0;
  return c;
}

std::vector<Curve2> pathOf(const model::Profile& profile, bool close, const Quantities& q, const std::string& path,
                           bool& closed) {
  if (profile.path.empty()) throw Error("the path has no pieces", path + "/path", "Add lines or arcs.");
  const Point2 start = point(profile.start, q, path + "/start");
  std::vector<Curve2> curves;
  std::vector<Fillet> fillets;
  Point2 at = start;
  for (size_t i = 0; i < profile.path.size(); ++i) {
    const auto here = path + "/path/" + std::to_string(i + 1);
    curves.push_back(pieceOf(profile.path[i], at, q, here));
    at = curves.back().b;
    if (profile.path[i].fillet.given())
      fillets.push_back({i, positive(profile.path[i].fillet, Kind::length, q, here + "/fillet")});
  }
  const double scale = 1e-7 * (1 + start.norm() + at.norm());
  closed = (at - start).norm() < scale;
  if (close && !closed) curves.push_back(Curve2::line(at, start, "closing")), closed = true;
  try {
    return rounded(curves, fillets, closed);
  } catch (const Error& e) {
    throw Error(e.wrong(), path + "/path/" + e.where(), e.remedy());
  }
}

/// A closed path of a shape encloses its material, which is on its left.
void mustEnclose(const std::vector<Curve2>& curves, const std::string& path) {
  double length = 0;
  for (const auto& c : curves) length += c.length();
  const double area = enclosedArea(curves);
  if (std::abs(area) < 1e-9 * length * length)
    throw Error("the path encloses no area", path + "/path",
                "Add pieces; a straight line from its end back to its start is added by itself.");
  if (area < 0)
    throw Error("the path runs clockwise", path + "/path", "List the points so that the material is on the left of the path.");
}

std::array<Side, 4> sidesOf(const model::Profile& profile, const Quantities& q, const std::string& path) {
  bool closed;
  auto curves = pathOf(profile, true, q, path, closed);
  mustEnclose(curves, path);
  auto wanted = profile.sides;
  if (wanted.empty()) {
    for (const auto& c : curves)
      if (wanted.empty() || wanted.back().front() != c.name) wanted.push_back({c.name});
  }
  if (wanted.size() != 4 && profile.sides.empty())
    if (const auto own = fourSides(curves)) return own->sides;
  if (wanted.size() != 4) {
    std::vector<std::string> found;
    for (const auto& names : wanted) found.push_back(names.front().empty() ? "one without a name" : "'" + names.front() + "'");
    const bool given = !profile.sides.empty(), line = !given && curves.back().name == "closing";
    throw Error("to be meshed from one side to the other this shape needs four sides, found " + std::to_string(wanted.size()) +
                    (given ? std::string() : ": " + inProse(found)) +
                    (line ? ", which is the straight line from the path's end back to its start" : ""),
                path + "/sides",
                given ? "Group the edge names into four lists, in path order."
                      : "Give the pieces of a side one name, and others another; or make two parts of it that are tied.");
  }
  std::array<Side, 4> sides;
  size_t next = 0;
  for (size_t s = 0; s < 4; ++s) {
    const auto& names = wanted[s];
    while (next < curves.size() && std::find(names.begin(), names.end(), curves[next].name) != names.end())
      sides[s].push_back(curves[next++]);
    if (sides[s].empty())
      throw Error("no edge of side " + std::to_string(s + 1) + " comes next on the path" +
                      (next < curves.size() ? " (the next edge is '" + curves[next].name + "')" : ""),
                  path + "/sides/" + std::to_string(s + 1), "Name the sides' edges in path order, starting at the path's start.");
  }
  if (next != curves.size())
    throw Error("the edge '" + curves[next].name + "' belongs to no side", path + "/sides", "Add it to one of the four lists.");
  return sides;
}

std::array<Side, 4> sidesOf(const model::Rectangle& r, const std::array<std::string, 4>& name, const Quantities& q,
                            const std::string& path) {
  const Point2 a = point(r.at, q, path + "/at"), s = point(r.size, q, path + "/size");
  if (s.minCoeff() <= 0) throw Error("the rectangle has no area", path + "/size", "Give width and height above zero.");
  const Point2 b = a + Point2(s.x(), 0), c = a + s, d = a + Point2(0, s.y());
  return {Side{Curve2::line(a, b, name[0])}, Side{Curve2::line(b, c, name[1])}, Side{Curve2::line(c, d, name[2])},
          Side{Curve2::line(d, a, name[3])}};
}

std::array<Side, 4> sidesOf(const model::Ring& r, const std::array<std::string, 4>& name, const Quantities& q,
                            const std::string& path) {
  const Point2 c = r.center.empty() ? Point2(0, 0) : point(r.center, q, path + "/center");
  const double inner = positive(r.inner, Kind::length, q, path + "/inner"),
               outer = positive(r.outer, Kind::length, q, path + "/outer");
  if (outer <= inner) throw Error("the outer radius is not above the inner one", path + "/outer", "Swap or change them.");
  const double from = q.orElse(r.from, Kind::angle, 0, path + "/from"), to = q(r.to, Kind::angle, path + "/to");
  if (to <= from || to - from > 2 * std::numbers::pi * 0.999)
    throw Error("the sector's end angle must be above its start, by less than a full turn", path + "/to", "Give for example 90.");
  const Point2 d0(std::cos(from), std::sin(from)), d1(std::cos(to), std::sin(to));
  return {Side{Curve2::line(c + inner * d0, c + outer * d0, name[0])},
          Side{Curve2::arcTo(c + outer * d0, c + outer * d1, c, true, name[1])},
          Side{Curve2::line(c + outer * d1, c + inner * d1, name[2])},
          Side{Curve2::arcTo(c + inner * d1, c + inner * d0, c, false, name[3])}};
}

void divide(Block& block, const model::Division& d, const Quantities& q, const std::string& path) {
  if (d.size.given()) block.size = positive(d.size, Kind::length, q, path + "/size");
  for (size_t i = 0; i < 2 && !d.count.empty(); ++i)
    block.count[i] = q.whole(d.count[std::min(i, d.count.size() - 1)], 1, 100000, path + "/count", true);
  const auto grading = q.list(d.grading, Kind::number, path + "/grading");
  for (size_t i = 0; i < std::min<size_t>(2, grading.size()); ++i) {
    if (grading[i] <= 0) throw Error("a grading must be above zero", path + "/grading", "1 means equal lengths.");
    block.grading[i] = grading[i];
  }
}

/// A quarter disc as three blocks, turned by a multiple of a right angle: core, and rings to either side of the diagonal.
/// Both cuts are named; inner borders have no name.
std::vector<std::array<Side, 4>> quarterDisc(const Point2& c, double r, int turn, const std::string& first,
                                             const std::string& second) {
  const auto at = [&](double x, double y) {
    for (int k = 0; k < turn; ++k) std::tie(x, y) = std::pair(-y, x);
    return Point2(c + r * Point2(x, y));
  };
  const double a = 0.5, d = 0.42, h = std::sqrt(0.5);
  const Point2 o = at(0, 0), p = at(a, 0), q = at(d, d), s = at(0, a), x = at(1, 0), m = at(h, h), y = at(0, 1);
  return {{Side{Curve2::line(o, p, first)}, Side{Curve2::line(p, q)}, Side{Curve2::line(q, s)}, Side{Curve2::line(s, o, second)}},
          {Side{Curve2::line(p, x, first)}, Side{Curve2::arcTo(x, m, c, true, "rim")}, Side{Curve2::line(m, q)},
           Side{Curve2::line(q, p)}},
          {Side{Curve2::line(q, m)}, Side{Curve2::arcTo(m, y, c, true, "rim")}, Side{Curve2::line(y, s, second)},
           Side{Curve2::line(s, q)}}};
}

std::vector<Block> discBlocks(const model::Disc& disc, const Block& division, const Quantities& q, const std::string& path) {
  const Point2 c = disc.center.empty() ? Point2(0, 0) : point(disc.center, q, path + "/center");
  const double r = positive(disc.radius, Kind::length, q, path + "/radius");
  const bool full = disc.sector == "full", half = disc.sector == "half";
  std::vector<Block> blocks;
  const int around =
      division.count[0] > 0 ? division.count[0] : std::max(2, int(std::lround(r * std::numbers::pi / 4 / division.size)));
  const int outward = division.count[1] > 0 && division.count[0] > 0 ? division.count[1] : std::max(1, around / 2 + around % 2);
  for (int turn = half ? -1 : 0; turn < (full ? 4 : 1); ++turn) {
    // cuts of the whole: bottom along +x of a quarter, left along +y (and -y of a half)
    const std::string first = full || (half && turn == 0) ? ""
                              : half                      ? "left"
                                                          : "bottom",
                      second = full || (half && turn == -1) ? "" : "left";
    const auto quarter = quarterDisc(c, r, (turn + 4) % 4, first, second);
    for (size_t k = 0; k < 3; ++k) {
      Block b;
      b.sides = quarter[k], b.grading = {1, 1};
      b.count = k == 0 ? std::array{around, around} : std::array{outward, around};
      blocks.push_back(b);
    }
  }
  return blocks;
}

std::vector<Block> blocksOf(const model::Shape& shape, const model::Division& ofPart, const Quantities& q,
                            const std::string& path, const std::string& partPath) {
  const int kinds = int(shape.rectangle.has_value()) + int(shape.ring.has_value()) + int(shape.disc.has_value()) +
                    int(shape.profile.has_value());
  if (shape.facets)
    throw Error("facets make rigid parts only", path + "/facets",
                "Set \"rigid\": true, or give the part a shape that can be meshed.");
  if (kinds != 1) throw Error("a shape is one of rectangle, ring, disc and profile", path, "Give one of them.");
  std::array<std::string, 4> name = shape.ring ? std::array<std::string, 4>{"start", "outer", "end", "inner"}
                                               : std::array<std::string, 4>{"bottom", "right", "top", "left"};
  if (!shape.edges.empty()) {
    if (shape.edges.size() != 4 || shape.disc)
      throw Error("four edge names are needed", path + "/edges",
                  "Their order: " + inProse({name.begin(), name.end()}) + "; a disc has its own.");
    std::copy(shape.edges.begin(), shape.edges.end(), name.begin());
  }
  Block block;
  if (shape.rectangle) block.sides = sidesOf(*shape.rectangle, name, q, path + "/rectangle");
  if (shape.ring) block.sides = sidesOf(*shape.ring, name, q, path + "/ring");
  if (shape.profile) block.sides = sidesOf(*shape.profile, q, path + "/profile");
  divide(block, ofPart, q, partPath + "/mesh");
  if (shape.mesh.size.given() || !shape.mesh.count.empty()) block.size = 0, block.count = {0, 0};
  divide(block, shape.mesh, q, path + "/mesh");
  if (block.size <= 0 && block.count[0] == 0) {  // a sensible start: eight elements along the shorter middle line
    double least = shape.disc ? positive(shape.disc->radius, Kind::length, q, path + "/disc/radius") : 1e300;
    for (const auto& side : block.sides) {
      double length = 0;
      for (const auto& c : side) length += c.length();
      if (!shape.disc) least = std::min(least, length);
    }
    block.size = least / 8;
  }
  if (shape.disc) return discBlocks(*shape.disc, block, q, path + "/disc");
  return {block};
}

}  // namespace

std::vector<Block> blocks(const model::Part& part, const Quantities& q, const std::string& path) {
  if (part.shape.empty()) throw Error("the part has no shape", path, "Give it a rectangle, a ring or a profile.");
  std::vector<Block> result;
  for (size_t i = 0; i < part.shape.size(); ++i)
    for (const auto& b : blocksOf(part.shape[i], part.mesh, q, path + "/shape/" + std::to_string(i + 1), path))
      result.push_back(b);
  return result;
}

Sweep sweep(const model::Part& part, const Quantities& q, const std::string& path) {
  Sweep s;
  if (part.extrude.has_value() + part.revolve.has_value() + part.coil.has_value() + part.along.has_value() > 1)
    throw Error("a part is swept in more than one way", path, "Keep one of \"extrude\", \"revolve\", \"coil\" and \"along\".");
  const auto count = [&](const model::Entry& e, const std::string& where) {
    return e.given() ? q.whole(e, 1, 10000, where, true) : 0;
  };
  if (part.extrude) {
    const auto& e = *part.extrude;
    s = {Sweep::Kind::extrude,
         q(e.from, Kind::length, path + "/extrude/from"),
         positive(e.depth, Kind::length, q, path + "/extrude/depth"),
         count(e.count, path + "/extrude/count"),
         positive(e.grading, Kind::number, q, path + "/extrude/grading"),
         {}};
    s.twist = q.orElse(e.twist, Kind::angle, 0, path + "/extrude/twist");
  }
  if (part.revolve) {
    const auto& r = *part.revolve;
    s = {Sweep::Kind::revolve,
         q(r.from, Kind::angle, path + "/revolve/from"),
         positive(r.angle, Kind::angle, q, path + "/revolve/angle"),
         count(r.count, path + "/revolve/count"),
         1,
         {}};
    if (s.length > 2 * std::numbers::pi * (1 + 1e-9))
      throw Error("the angle is more than a full turn", path + "/revolve/angle", "Give up to 360 degrees.");
  }
  if (part.coil)
    s = {Sweep::Kind::trail, 0, 0, count(part.coil->count, path + "/coil/count"), 1, coil(*part.coil, q, path + "/coil")};
  if (part.along)
    s = {Sweep::Kind::trail, 0, 0, count(part.along->count, path + "/along/count"), 1, trail(*part.along, q, path + "/along")};
  if (s.kind == Sweep::Kind::trail) s.length = lengthOf(s.trail);
  return s;
}

Placement placement(const model::Part& part, const Quantities& q, bool solid, const std::string& path) {
  Placement p;
  if (!part.place) return p;
  const int axis = part.place->axis == "x" ? 0 : part.place->axis == "y" ? 1 : 2;
  const double angle = q(part.place->angle, Kind::angle, path + "/place/angle");
  if (!solid && axis != 2 && angle != 0) throw Error("in plane models a part turns about z", path + "/place/axis", "Take z.");
  p.turn = Eigen::AngleAxisd(angle, Eigen::Vector3d::Unit(axis)).toRotationMatrix();
  const auto shift = q.list(part.place->shift, Kind::length, path + "/place/shift");
  if (!shift.empty() && shift.size() != (solid ? 3 : 2))
    throw Error(solid ? "a shift needs three components" : "a shift needs two components", path + "/place/shift",
                "Write one per axis.");
  for (size_t i = 0; i < shift.size(); ++i) p.shift[Eigen::Index(i)] = shift[i];
  return p;
}

std::vector<Placement> around(const model::RoundPattern& pattern, const Quantities& q, bool solid, const std::string& path) {
  const int count = q.whole(pattern.count, 1, 1000, path + "/count");
  Eigen::Vector3d axis = Eigen::Vector3d::UnitZ(), at = Eigen::Vector3d::Zero();
  if (solid) {
    const auto given = q.inSpace(pattern.axis, path + "/axis", "[0, 0, 1] is the z axis.");
    axis = {given[0], given[1], given[2]};
  } else if (pattern.axis.given() && pattern.axis.axis != "z") {
    throw Error("in plane models things repeat round z", path + "/axis", "Take it out.");
  }
  const auto point = q.list(pattern.at, Kind::length, path + "/at");
  if (!point.empty() && point.size() != (solid ? 3 : 2))
    throw Error(solid ? "a point needs three coordinates" : "a point needs two coordinates", path + "/at",
                solid ? "Write [x, y, z]." : "Write [x, y].");
  for (size_t i = 0; i < point.size(); ++i) at[Eigen::Index(i)] = point[i];
  const double step = q.orElse(pattern.angle, Kind::angle, 2 * std::numbers::pi / count, path + "/angle");
  std::vector<Placement> places(1);
  for (int k = 1; k < count; ++k) {
    Placement p;
    p.turn = Eigen::AngleAxisd(k * step, axis).toRotationMatrix();
    p.shift = at - p.turn * at;
    places.push_back(p);
  }
  return places;
}

std::vector<Curve2> closedPath(const model::Profile& profile, const Quantities& q, const std::string& path) {
  bool closed;
  auto curves = pathOf(profile, true, q, path, closed);
  mustEnclose(curves, path);
  return curves;
}

Outline outline(const model::Part& part, const Quantities& q, const std::string& path) {
  if (part.shape.size() != 1) throw Error("a rigid part has one shape", path + "/shape", "Give one profile, rectangle or ring.");
  const auto& shape = part.shape.front();
  Outline result;
  const std::string here = path + "/shape/1";
  if (shape.profile) {
    result.curves = pathOf(*shape.profile, false, q, here + "/profile", result.closed);
    if (result.closed && enclosedArea(result.curves) < 0)
      throw Error("the closed path runs clockwise", here + "/profile/path",
                  "List the points so that the material is on the left of the path.");
    return result;
  }
  if (shape.disc) {
    const auto& d = *shape.disc;
    const Point2 c = d.center.empty() ? Point2(0, 0) : point(d.center, q, here + "/disc/center");
    const double r = positive(d.radius, Kind::length, q, here + "/disc/radius");
    const double from = d.sector == "half" ? -std::numbers::pi / 2 : 0,
                 to = d.sector == "full" ? 2 * std::numbers::pi : std::numbers::pi / 2;
    const auto at = [&](double angle) { return Point2(c + r * Point2(std::cos(angle), std::sin(angle))); };
    for (int i = 0; i < 4; ++i)
      result.curves.push_back(
          Curve2::arcTo(at(from + (to - from) * i / 4), at(from + (to - from) * (i + 1) / 4), c, true, "rim"));
    result.closed = d.sector == "full";
    return result;
  }
  const Block block = blocksOf(shape, part.mesh, q, here, path).front();
  for (const auto& side : block.sides) result.curves.insert(result.curves.end(), side.begin(), side.end());
  result.closed = true;
  return result;
}

}  // namespace anvil::geometry
