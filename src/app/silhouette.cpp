#include "app/silhouette.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <numbers>
#include <tuple>

#include "core/base/error.hpp"
#include "core/geometry/facets.hpp"
#include "core/geometry/recipes.hpp"
#include "core/geometry/slender.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {
namespace {

using Eigen::Vector3d;
using Points = std::vector<Vector3d>;

QPointF seen(const Vector3d& x) { return {x.x(), -x.y()}; }

Points alongCurves(const std::vector<geometry::Curve2>& curves) {
  Points points;
  for (const auto& c : curves)
    for (int i = 0; i <= (c.arc ? 16 : 1); ++i) {
      const auto p = c.at(double(i) / (c.arc ? 16 : 1));
      points.emplace_back(p.x(), p.y(), 0);
    }
  return points;
}

/// Edge of the smallest convex region that holds the points (A. Andrew, Inf. Proc. Letters 9, 1979).
QPainterPath hull(const Points& points) {
  std::vector<QPointF> p, h;
  for (const auto& x : points) p.push_back(seen(x));
  std::sort(p.begin(), p.end(),
            [](const QPointF& a, const QPointF& b) { return a.x() < b.x() || (a.x() == b.x() && a.y() < b.y()); });
  const auto turn = [](const QPointF& a, const QPointF& b, const QPointF& c) {
    return (b.x() - a.x()) * (c.y() - a.y()) - (b.y() - a.y()) * (c.x() - a.x());
  };
  for (int half = 0; half < 2; ++half, std::reverse(p.begin(), p.end())) {
    const size_t base = h.size();
    for (const auto& x : p) {
      while (h.size() >= base + 2 && turn(h[h.size() - 2], h.back(), x) <= 0) h.pop_back();
      h.push_back(x);
    }
    if (!h.empty()) h.pop_back();
  }
  QPainterPath path;
  path.addPolygon(QPolygonF(QList<QPointF>(h.begin(), h.end())));
  path.closeSubpath();
  return path;
}

/// Points on a feature; none for those that only the kernel knows.
Points pointsOf(const model::Feature& f, const model::Quantities& q) {
  const auto point = [&](const model::Point& p) {
    const auto v = q.list(p, Kind::length, "");
    return v.size() == 3 ? Vector3d(v[0], v[1], v[2]) : Vector3d(0, 0, 0);
  };
  Points points;
  if (f.box || f.plate) {
    const Vector3d at = point(f.box ? f.box->at : f.plate->at), size = point(f.box ? f.box->size : f.plate->size);
    for (int i = 0; i < 8; ++i) points.push_back(at + size.cwiseProduct(Vector3d(i & 1, i >> 1 & 1, i >> 2)));
  } else if (f.angle) {  // its outline's corners: the hull fills the hollow, which the small picture bears
    const Vector3d at = point(f.angle->at);
    const auto legs = q.list(f.angle->legs, Kind::length, "");
    const double t = q(f.angle->thickness, Kind::length, ""), length = q(f.angle->length, Kind::length, "");
    if (legs.size() == 2)
      for (const auto& [x, y] : {std::pair{0., 0.}, {legs[0], 0.}, {legs[0], t}, {t, legs[1]}, {0., legs[1]}})
        for (const double z : {0., length}) points.push_back(at + Vector3d(x, y, z));
  } else if (f.ball) {
    const double r = q(f.ball->radius, Kind::length, "");
    for (int i = 0; i < 16; ++i)
      for (int k = 0; k <= 8; ++k)
        points.push_back(point(f.ball->center) +
                         r * Vector3d(std::sin(k * std::numbers::pi / 8) * std::cos(i * std::numbers::pi / 8),
                                      std::sin(k * std::numbers::pi / 8) * std::sin(i * std::numbers::pi / 8),
                                      std::cos(k * std::numbers::pi / 8)));
  } else if (f.profile && f.extrude) {
    const double from = q(f.extrude->from, Kind::length, ""), depth = q(f.extrude->depth, Kind::length, "");
    for (const auto& c : geometry::closedPath(*f.profile, q, ""))
      for (const double z : {from, from + depth}) points.emplace_back(c.a.x(), c.a.y(), z);
  } else if (f.profile && f.revolve) {
    const double from = q(f.revolve->from, Kind::angle, ""), angle = q(f.revolve->angle, Kind::angle, "");
    for (const auto& c : geometry::closedPath(*f.profile, q, ""))
      for (int i = 0; i <= 32; ++i) {
        const double turn = from + angle * i / 32;
        points.emplace_back(c.a.x() * std::cos(turn), c.a.y(), c.a.x() * std::sin(turn));
      }
  } else if (f.cylinder || f.tube) {
    const Vector3d a = point(f.cylinder ? f.cylinder->from : f.tube->from), b = point(f.cylinder ? f.cylinder->to : f.tube->to),
                   axis = (b - a).normalized();
    const double r = q(f.cylinder ? f.cylinder->radius : f.tube->outer, Kind::length, "");
    const Vector3d one = axis.unitOrthogonal(), two = axis.cross(one);
    for (int i = 0; i < 32; ++i)
      for (const auto& end : {a, b})
        points.push_back(end + r * (std::cos(i * std::numbers::pi / 16) * one + std::sin(i * std::numbers::pi / 16) * two));
  }
  return points;
}

/// Shank, head and nut of a bolt, which one hull would fill.
std::vector<Points> piecesOf(const model::BoltFeature& bolt, const model::Quantities& q) {
  const auto point = [&](const model::Point& p) {
    const auto v = q.list(p, Kind::length, "");
    return v.size() == 3 ? Vector3d(v[0], v[1], v[2]) : Vector3d(0, 0, 0);
  };
  const bool fitted =
      bolt.from.empty() || bolt.to.empty() || !bolt.diameter.given();  // by its holes: drawn as a bolt of some length
  const Vector3d a = fitted ? Vector3d(0, 0, 0) : point(bolt.from), b = fitted ? Vector3d(0, -4, 0) : point(bolt.to),
                 axis = (b - a).normalized(), one = axis.unitOrthogonal(), two = axis.cross(one);
  const double d = fitted ? 1 : q(bolt.diameter, Kind::length, "");
  std::vector<Points> pieces;
  for (const auto& [from, to, radius] :
       {std::tuple{Vector3d(a - 0.7 * d * axis), a, 0.8 * d}, {a, b, 0.5 * d}, {b, Vector3d(b + 0.7 * d * axis), 0.8 * d}}) {
    Points ring;
    for (int i = 0; i < 16; ++i)
      for (const auto& end : {from, to})
        ring.push_back(end + radius * (std::cos(i * std::numbers::pi / 8) * one + std::sin(i * std::numbers::pi / 8) * two));
    pieces.push_back(ring);
  }
  return pieces;
}

Points moved(Points points, const geometry::Placement& place) {
  for (auto& x : points) x = place(x);
  return points;
}

std::vector<QPainterPath> ofFeatures(const model::Part& part, const model::Quantities& q, const geometry::Placement& place) {
  QPainterPath all;
  for (const auto& f : part.solid) {
    const auto places = f.around ? geometry::around(*f.around, q, true, "") : std::vector<geometry::Placement>(1);
    for (const auto& copy : places) {
      if (f.bolt)
        for (const auto& piece : piecesOf(*f.bolt, q)) all = all.united(hull(moved(moved(piece, copy), place)));
      const auto points = moved(moved(pointsOf(f, q), copy), place);
      if (points.empty()) continue;
      if (f.how == "add")
        all = all.united(hull(points));
      else if (f.how == "common")
        all = all.intersected(hull(points));
      else if (f.cylinder && (points[1] - points[0]).head<2>().norm() < 1e-6 * (points[1] - points[0]).norm())
        all = all.subtracted(hull(points));  // one looks through
    }
  }
  return {all};
}

/// A line drawn with its sheet's thickness, and never too fine to be seen in a small picture.
QPainterPath asThickAsSeen(const QPainterPath& path, double thickness) {
  QPainterPathStroker pen;
  const auto box = path.boundingRect();
  pen.setWidth(std::max(thickness, 0.05 * std::max(box.width(), box.height())));
  pen.setCapStyle(Qt::FlatCap), pen.setJoinStyle(Qt::MiterJoin);
  return pen.createStroke(path).simplified();
}

}  // namespace

/// A part as it stands in one place. Throws Error.
static std::vector<QPainterPath> silhouetteAt(const model::Document& document, const geometry::Placement& place,
                                              const model::Part& part, const model::Quantities& q, bool solid) {
  std::vector<QPainterPath> paths;
  const auto polygon = [&](const Points& points, bool closed) {
    QPainterPath path;
    QPolygonF poly;
    for (const auto& x : moved(points, place)) poly << seen(x);
    path.addPolygon(poly);
    if (closed) path.closeSubpath();
    paths.push_back(path);
  };
  if (!part.solid.empty()) return ofFeatures(part, q, place);
  if (part.slender) {
    for (const auto& [name, line] : part.slender->lines)
      if (!line.edge.empty()) return paths;  // only the CAD kernel knows where it runs
    const auto shape = geometry::slenderShape(document, part, !solid, {}, q, "slender");
    for (const auto& line : shape.lines) {
      QPainterPath path;
      QPolygonF poly;
      for (const auto& x : moved(line.places, place)) poly << seen(x);
      path.addPolygon(poly);
      paths.push_back(asThickAsSeen(path, shape.sections[line.section].height));
    }
    return paths;
  }
  if (part.rigid && part.shape.size() == 1 && part.shape.front().facets) {
    const auto surface = geometry::facets(*part.shape.front().facets, q, "");
    for (const auto& t : surface->triangles())
      polygon({surface->points()[size_t(t[0])], surface->points()[size_t(t[1])], surface->points()[size_t(t[2])]}, true);
    return paths;
  }
  std::vector<std::pair<Points, bool>> flat;
  const bool line = part.thin && (part.extrude || part.revolve || part.coil || part.along);  // of a sheet that is swept
  if (part.rigid || line) {
    const auto outline = geometry::outline(part, q, "");
    flat.emplace_back(alongCurves(outline.curves), outline.closed);
  } else {
    for (const auto& block : geometry::blocks(part, q, "")) {
      Points points;
      for (const auto& side : block.sides)
        for (const auto& x : alongCurves(side)) points.push_back(x);
      flat.emplace_back(points, true);
    }
  }
  if (part.coil || part.along) {  // hulls of the section from station to station, in one
    const auto trail = geometry::sweep(part, q, "").trail;
    QPainterPath whole;
    whole.setFillRule(Qt::WindingFill);
    for (const auto& piece : trail) {
      const int n = piece.kind == geometry::TrailPiece::Kind::line
                        ? 1
                        : std::clamp(int(std::ceil(std::abs(piece.angle) / (std::numbers::pi / 8))), 1, 160);
      for (int i = 0; i < n; ++i) {
        Points two;
        for (const auto& station : {piece.at(double(i) / n), piece.at(double(i + 1) / n)})
          for (const auto& [points, closed] : flat)
            for (const auto& x : points) two.push_back(station * x);
        whole.addPath(hull(moved(two, place)));
      }
    }
    paths.push_back(whole.simplified());
    return paths;
  }
  const bool turned = solid && part.place && part.place->axis != "z" && !place.turn.isIdentity(1e-12);
  for (const auto& [points, closed] : flat) {
    if (!part.revolve && !turned) {
      polygon(points, closed);
      if (line) paths.back() = asThickAsSeen(paths.back(), q(part.thin->thickness, Kind::length, ""));
      continue;
    }
    Points inSpace;
    if (part.revolve) {
      const double from = q(part.revolve->from, Kind::angle, ""), angle = q(part.revolve->angle, Kind::angle, "");
      for (int i = 0; i <= 32; ++i)
        for (const auto& x : points)
          inSpace.emplace_back(x.x() * std::cos(from + angle * i / 32), x.y(), x.x() * std::sin(from + angle * i / 32));
    } else {
      const double from = part.extrude ? q(part.extrude->from, Kind::length, "") : 0,
                   depth = part.extrude ? q(part.extrude->depth, Kind::length, "") : 0;
      for (const auto& x : points)
        inSpace.push_back(x + from * Vector3d::UnitZ()), inSpace.push_back(x + (from + depth) * Vector3d::UnitZ());
    }
    paths.push_back(hull(moved(inSpace, place)));
  }
  return paths;
}

std::vector<QPainterPath> silhouette(const model::Document& d, const model::Part& part) {
  std::vector<QPainterPath> paths;
  try {
    const model::Quantities q(d);
    const bool solid = d.space == "solid";
    const auto own = geometry::placement(part, q, solid, "");
    const bool fitted = !part.solid.empty() && part.solid.front().bolt && !part.solid.front().bolt->through.empty();
    const auto places =
        part.around && !fitted ? geometry::around(*part.around, q, solid, "") : std::vector<geometry::Placement>(1);
    for (const auto& place : places) {
      const auto more = silhouetteAt(d, {place.turn * own.turn, place(own.shift)}, part, q, solid);
      paths.insert(paths.end(), more.begin(), more.end());
    }
  } catch (const Error&) {
    paths.clear();  // the view says what is wrong
  }
  return paths;
}

}  // namespace anvil::app
