#include "core/geometry/trail.hpp"

#include <cmath>
#include <numbers>

#include "core/base/dense.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/quantities.hpp"
#include "core/model/shapes.hpp"

namespace anvil::geometry {

using Eigen::AngleAxisd;
using Eigen::Matrix3d;
using Eigen::Vector3d;

Eigen::Isometry3d TrailPiece::at(double fraction) const {
  Eigen::Isometry3d there = Eigen::Isometry3d::Identity();
  if (kind == Kind::line) {
    there.translation() = start + fraction * extent * frame.col(2), there.linear() = frame;
  } else if (kind == Kind::arc) {
    const Matrix3d turn = AngleAxisd(fraction * angle, axis).toRotationMatrix();
    there.translation() = centre + turn * (start - centre), there.linear() = turn * frame;
  } else {
    const double s = fraction * angle;
    const Vector3d out(std::cos(s), 0, std::sin(s)), tangent = Vector3d(-radius * out.z(), rise, radius * out.x()).normalized();
    there.translation() = Vector3d(radius * out.x(), start.y() + rise * s, radius * out.z());
    there.linear() << out, tangent.cross(out), tangent;
  }
  return there;
}

double lengthOf(const Trail& trail) {
  double sum = 0;
  for (const auto& p : trail) sum += p.extent;
  return sum;
}

Trail coil(const model::Coil& c, const model::Quantities& q, const std::string& path) {
  const auto positive = [&](const model::Entry& e, Kind kind, const char* what, const std::string& key) {
    const double v = q(e, kind, path + "/" + key);
    if (!(v > 0)) throw Error(std::string("the ") + what + " is " + shortNumber(v), path + "/" + key, "Give a value above zero.");
    return v;
  };
  TrailPiece p;
  p.kind = TrailPiece::Kind::helix;
  p.radius = positive(c.radius, Kind::length, "radius", "radius");
  const double pitch = positive(c.pitch, Kind::length, "pitch", "pitch"),
               turns = positive(c.turns, Kind::number, "number of turns", "turns");
  if (turns > 1000) throw Error("the coil has " + shortNumber(turns) + " turns", path + "/turns", "Give up to 1000.");
  p.angle = 2 * std::numbers::pi * turns;
  p.rise = (c.hand == "left" ? 1 : -1) * pitch / (2 * std::numbers::pi);
  p.start.y() = p.rise < 0 ? pitch * turns : 0;  // either way it stands on y = 0
  p.extent = p.angle * std::hypot(p.radius, p.rise);
  return {p};
}

namespace {

struct Corner {
  Vector3d at;
  double radius = 0;  ///< of its rounding
  std::string path;
};

/// Builds a trail piece by piece; the frame goes on from piece to piece.
class Trailing {
 public:
  explicit Trailing(const Vector3d& start) : at_(start) {}

  void line(const Vector3d& to, const std::string& path) {
    const Vector3d d = to - at_;
    if (!(d.norm() > 1e-9)) throw Error("the piece has no length", path, "Give another end point.");
    face(d.normalized(), path);
    TrailPiece p;
    p.start = at_, p.frame = frame_, p.extent = d.norm();
    trail_.push_back(p), at_ = to;
  }
  void arc(const Vector3d& centre, const Vector3d& axis, double angle, const std::string& path) {
    const Vector3d out = at_ - centre;
    face(axis.cross(out).normalized(), path);
    TrailPiece p;
    p.kind = TrailPiece::Kind::arc, p.start = at_, p.frame = frame_, p.centre = centre, p.axis = axis, p.angle = angle;
    p.extent = angle * out.norm();
    const auto end = p.at(1);
    trail_.push_back(p), at_ = end.translation(), frame_ = end.linear();
  }
  const Vector3d& at() const { return at_; }
  const Trail& done() const { return trail_; }

 private:
  /// The first piece turns the section from z by the shortest way; later ones must go on where the last one ended.
  void face(const Vector3d& way, const std::string& path) {
    if (trail_.empty())
      frame_ = shortestTurn(Vector3d::UnitZ(), way);
    else if (frame_.col(2).dot(way) < 1 - 1e-6)
      throw Error("the path has a sharp corner where this piece begins", path,
                  "Give the piece before it a \"fillet\", or let the arc go on in its direction.");
  }
  Vector3d at_;
  Matrix3d frame_ = Matrix3d::Identity();
  Trail trail_;
};

}  // namespace

Trail trail(const model::SpacePath& along, const model::Quantities& q, const std::string& path) {
  const auto point = [&](const model::Point& p, const std::string& where) -> Vector3d {
    const auto v = q.list(p, Kind::length, where);
    if (v.size() != 3) throw Error("a point of the path needs three coordinates", where, "Write [x, y, z].");
    return {v[0], v[1], v[2]};
  };
  if (along.path.empty()) throw Error("the path has no pieces", path + "/path", "Give lines and arcs, one after the other.");
  const Vector3d start = along.start.empty() ? Vector3d(0, 0, 0) : point(along.start, path + "/start");
  Trailing made(start);
  Vector3d corner = start;  // where the piece begins, were nothing rounded
  for (size_t i = 0; i < along.path.size(); ++i) {
    const auto& piece = along.path[i];
    const std::string here = path + "/path/" + std::to_string(i + 1);
    const bool arc = !piece.arc.empty();
    if (arc == !piece.line.empty())
      throw Error("the piece is neither a line nor an arc, or both", here, "Give one of \"line\" and \"arc\".");
    const Vector3d end = point(arc ? piece.arc : piece.line, here + (arc ? "/arc" : "/line"));
    const double radius = q.orElse(piece.fillet, Kind::length, 0, here + "/fillet");
    if (radius < 0) throw Error("the radius is below zero", here + "/fillet", "Give a value above zero.");
    if (arc) {
      const Vector3d centre = point(piece.center, here + "/center"), a = made.at() - centre, b = end - centre;
      const Vector3d normal = a.cross(b);
      if (!(normal.norm() > 1e-9 * a.norm() * b.norm()) || std::abs(a.norm() - b.norm()) > 1e-3 * a.norm())
        throw Error("the arc's centre does not lie as far from its start as from its end, or on a line with them",
                    here + "/center", "Give the centre of an arc of less than half a turn; make a longer one of two.");
      made.arc(centre, normal.normalized(), std::atan2(normal.norm(), a.dot(b)), here);
      if (radius > 0) throw Error("only corners between lines are rounded", here + "/fillet", "Take it out.");
    } else if (radius > 0) {
      const auto* next = i + 1 < along.path.size() && !along.path[i + 1].line.empty() ? &along.path[i + 1] : nullptr;
      if (!next) throw Error("there is no line after the corner", here + "/fillet", "Only corners between lines are rounded.");
      const Vector3d in = (end - corner).normalized(),
                     out = (point(next->line, path + "/path/" + std::to_string(i + 2) + "/line") - end).normalized();
      const double turn = std::acos(std::clamp(in.dot(out), -1., 1.)), cut = radius * std::tan(turn / 2);
      if (!(turn > 1e-6) || turn > std::numbers::pi - 1e-3)
        throw Error("there is no corner to round, or the path turns back", here + "/fillet", "Take it out, or move the point.");
      if (cut > (end - made.at()).norm() * (1 + 1e-9) || cut > (point(next->line, path) - end).norm() * (1 + 1e-9))
        throw Error("a radius of " + shortNumber(radius) + " mm does not fit at this corner", here + "/fillet",
                    "It takes " + shortNumber(cut, 3) + " mm of both lines: give a smaller one, or longer lines.");
      const Vector3d axis = in.cross(out).normalized();
      if ((end - cut * in - made.at()).norm() > 1e-9) made.line(end - cut * in, here);
      made.arc(made.at() + radius * axis.cross(in), axis, turn, here);
    } else if ((end - made.at()).norm() > 1e-9)
      made.line(end, here);
    corner = end;
  }
  return made.done();
}

}  // namespace anvil::geometry
