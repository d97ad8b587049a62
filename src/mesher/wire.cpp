#include "mesher/wire.hpp"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepGProp.hxx>
#include <BRepTools.hxx>
#include <GProp_GProps.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>
#include <algorithm>
#include <cmath>
#include <gp_Ax2.hxx>
#include <gp_Circ.hxx>
#include <gp_Pln.hxx>

#include "mesher/points.hpp"

namespace anvil::mesher {
namespace {

using Eigen::Vector3d;

constexpr double likeness = 5e-3;  // of the radius, by which a section may miss a circle

/// A flat disc.
struct Disc {
  int face;
  Vector3d middle, normal;  ///< outward
  double radius;
};

std::optional<Disc> discOf(const TopoDS_Shape& shape, int number) {
  const auto face = TopoDS::Face(shape);
  const BRepAdaptor_Surface s(face);
  if (s.GetType() != GeomAbs_Plane) return {};
  GProp_GProps g;
  BRepGProp::SurfaceProperties(face, g);
  Disc disc{number, vector(g.CentreOfMass()), {}, std::sqrt(g.Mass() / M_PI)};
  TopTools_IndexedMapOfShape edges;
  TopExp::MapShapes(face, TopAbs_EDGE, edges);
  for (int e = 1; e <= edges.Extent(); ++e) {
    const BRepAdaptor_Curve c(TopoDS::Edge(edges(e)));
    for (int k = 0; k <= 8; ++k) {
      const Vector3d arm = vector(c.Value(c.FirstParameter() + k * (c.LastParameter() - c.FirstParameter()) / 8)) - disc.middle;
      if (!(std::abs(arm.norm() - disc.radius) < likeness * disc.radius)) return {};
    }
  }
  const gp_Dir d = s.Plane().Axis().Direction();
  const bool back = (face.Orientation() == TopAbs_REVERSED) != !s.Plane().Position().Direct();
  disc.normal = (back ? -1 : 1) * Vector3d(d.X(), d.Y(), d.Z());
  return disc;
}

/// A face round the wire: circles run along the one parameter, the wire along the other.
class Lateral {
 public:
  struct Circle {
    Vector3d middle, normal, first;  ///< first: from the middle to where the parameter begins, unit
    double radius;
  };

  static std::optional<Lateral> of(const TopoDS_Shape& shape, int number, double radius) {
    for (const bool uRound : {true, false}) {
      const Lateral l(shape, number, uRound);
      bool round = true;
      for (const double share : {0., 0.13, 0.5, 0.77, 1.}) round = round && l.isCircle(share, radius);
      if (round) return l;
    }
    return {};
  }

  int number() const { return number_; }
  /// The section at a share of the way along the face.
  Circle at(double share) const {
    const Vector3d a = point(0, share), b = point(0.37, share) - a, c = point(0.71, share) - a;
    const Vector3d n = b.cross(c);
    const Vector3d arm = (b.squaredNorm() * c.cross(n) + c.squaredNorm() * n.cross(b)) / (2 * n.squaredNorm());
    return {a + arm, n.normalized(), -arm.normalized(), arm.norm()};
  }
  Vector3d point(double round, double along) const {
    const double r = round0_ + round * (round1_ - round0_), w = along0_ + along * (along1_ - along0_);
    return vector(uRound_ ? surface_.Value(r, w) : surface_.Value(w, r));
  }

 private:
  Lateral(const TopoDS_Shape& shape, int number, bool uRound) : surface_(TopoDS::Face(shape)), number_(number), uRound_(uRound) {
    double u0, u1, v0, v1;
    BRepTools::UVBounds(TopoDS::Face(shape), u0, u1, v0, v1);
    round0_ = uRound ? u0 : v0, round1_ = uRound ? u1 : v1, along0_ = uRound ? v0 : u0, along1_ = uRound ? v1 : u1;
  }
  bool isCircle(double share, double radius) const {
    const auto c = at(share);
    if (!(std::abs(c.radius - radius) < likeness * radius)) return false;
    for (const double k : {0., 0.15, 0.3, 0.55, 0.9, 1.}) {
      const Vector3d arm = point(k, share) - c.middle;
      if (!(std::abs(arm.norm() - radius) < likeness * radius && std::abs(arm.dot(c.normal)) < likeness * radius)) return false;
    }
    return true;
  }
  BRepAdaptor_Surface surface_;
  int number_;
  bool uRound_;
  double round0_, round1_, along0_, along1_;
};

/// Follows the faces from one end to the other.
class Follower {
 public:
  Follower(std::vector<Lateral> faces, const Disc& low, const Disc& high) : faces_(std::move(faces)), low_(low), high_(high) {
    here_ = {low.middle, Vector3d(-low.normal).unitOrthogonal(), {}};
    here_.v = Vector3d(-low.normal).cross(here_.u);
  }

  bool run(Wire& wire) {
    while (!faces_.empty())
      if (!next(wire)) return false;
    const Vector3d way = here_.u.cross(here_.v);
    return (here_.middle - high_.middle).norm() < 10 * likeness * low_.radius && way.dot(high_.normal) > 0.999;
  }

 private:
  bool isHere(const Vector3d& p) const { return (p - here_.middle).norm() < 4 * likeness * low_.radius; }

  bool next(Wire& wire) {
    std::vector<std::pair<Lateral, bool>> group;  // that begin here, and whether they run backwards
    for (size_t i = 0; i < faces_.size();) {
      const bool first = isHere(faces_[i].at(0).middle), last = isHere(faces_[i].at(1).middle);
      if (first == last && first) return false;
      if (first || last)
        group.emplace_back(faces_[i], last), faces_.erase(faces_.begin() + std::ptrdiff_t(i));
      else
        ++i;
    }
    if (group.empty()) return false;
    Wire::Stretch s;
    s.from = place_;
    const auto angleOf = [&](const Vector3d& arm) { return std::atan2(arm.dot(here_.v), arm.dot(here_.u)); };
    for (const auto& [face, back] : group)
      s.faces.push_back(face.number()), s.turned.push_back(angleOf(face.point(0.5, back ? 1 : 0) - here_.middle));
    const auto& [lead, back] = group.front();
    const double first = angleOf(lead.at(back ? 1 : 0).first);
    constexpr int pieces = 400;
    Vector3d way = here_.u.cross(here_.v);
    for (int i = 0; i <= pieces; ++i) {
      const auto c = lead.at(back ? 1 - double(i) / pieces : double(i) / pieces);
      const Vector3d t = c.normal.dot(way) < 0 ? Vector3d(-c.normal) : c.normal, side = t.cross(c.first);
      if (i > 0) {
        const double chord = (c.middle - here_.middle).norm(), turn = std::acos(std::clamp(t.dot(way), -1., 1.));
        if (turn * low_.radius > 0.7 * chord) return false;  // so sharp a bend that sections would meet inside it
        place_ += chord * (1 + turn * turn / 24);
      }
      way = t;
      here_ = {c.middle, std::cos(first) * c.first - std::sin(first) * side, std::sin(first) * c.first + std::cos(first) * side};
      s.place.push_back(place_), s.section.push_back(here_);
    }
    s.to = place_;
    for (const auto& [face, backwards] : group)  // all of them end together
      if (!isHere(face.at(backwards ? 0 : 1).middle)) return false;
    wire.stretches.push_back(std::move(s));
    return true;
  }

  std::vector<Lateral> faces_;
  Disc low_, high_;
  Wire::Section here_;
  double place_ = 0;
};

}  // namespace

Wire::Section Wire::at(double place) const {
  const auto* s = &stretches.front();
  for (const auto& other : stretches)
    if (place >= other.from) s = &other;
  const auto above = std::upper_bound(s->place.begin() + 1, s->place.end() - 1, place) - s->place.begin();
  const auto i = size_t(above) - 1, k = i + 1;
  const double h = s->place[k] - s->place[i], t = std::clamp((place - s->place[i]) / h, 0., 1.);
  const auto &a = s->section[i], &b = s->section[k];
  const Vector3d ta = a.u.cross(a.v), tb = b.u.cross(b.v);
  const double t2 = t * t, t3 = t2 * t;
  Section c;
  c.middle = (2 * t3 - 3 * t2 + 1) * a.middle + (t3 - 2 * t2 + t) * h * ta + (3 * t2 - 2 * t3) * b.middle + (t3 - t2) * h * tb;
  const Vector3d way = ((1 - t) * ta + t * tb).normalized(), u = (1 - t) * a.u + t * b.u;
  c.u = (u - u.dot(way) * way).normalized(), c.v = way.cross(c.u);
  return c;
}

int Wire::faceAt(double place, double angle) const {
  const auto* s = &stretches.front();
  for (const auto& other : stretches)
    if (place >= other.from) s = &other;
  const auto off = [&](size_t i) { return std::abs(std::remainder(s->turned[i] - angle, 2 * M_PI)); };
  size_t best = 0;
  for (size_t i = 1; i < s->faces.size(); ++i)
    if (off(i) < off(best)) best = i;
  return s->faces[best];
}

std::optional<Wire> wireOf(const std::vector<TopoDS_Shape>& shapes) {
  std::vector<Disc> discs;
  std::vector<int> others;
  for (size_t i = 0; i < shapes.size(); ++i)
    if (const auto d = discOf(shapes[i], int(i)))
      discs.push_back(*d);
    else
      others.push_back(int(i));
  if (discs.size() != 2 || others.empty() || std::abs(discs[0].radius - discs[1].radius) > likeness * discs[0].radius) return {};
  std::vector<Lateral> faces;
  for (int i : others) {
    auto l = Lateral::of(shapes[size_t(i)], i, discs[0].radius);
    if (!l) return {};
    faces.push_back(std::move(*l));
  }
  Wire wire;
  if (!Follower(faces, discs[0], discs[1]).run(wire)) return {};
  auto& p = wire.end;
  const auto start = wire.at(0);
  p.origin = start.middle, p.u = start.u, p.v = start.v, p.height = wire.stretches.back().to;
  p.ends = {{discs[0].face, discs[1].face}};
  TopTools_IndexedMapOfShape rim;
  TopExp::MapShapes(shapes[size_t(discs[0].face)], TopAbs_EDGE, rim);
  const gp_Circ circle(gp_Ax2(point(p.origin), direction(p.u.cross(p.v)), direction(p.u)), discs[0].radius);
  for (int e = 1; e <= rim.Extent(); ++e) {  // as true circles, whatever they are written as
    const BRepAdaptor_Curve c(TopoDS::Edge(rim(e)));
    const auto angleAt = [&](double share) {
      const auto at = p.flat(vector(c.Value(c.FirstParameter() + share * (c.LastParameter() - c.FirstParameter()))));
      return std::atan2(at.y(), at.x());
    };
    const double from = angleAt(0), half = std::remainder(angleAt(0.5) - from, 2 * M_PI);
    const bool whole = rim.Extent() == 1;
    const double low = half < 0 && !whole ? from + 2 * half : from, turn = whole ? 2 * M_PI : 2 * std::abs(half);
    wire.rimAngles.push_back(low + turn / 2);
    p.rims.push_back({BRepBuilderAPI_MakeEdge(circle, low, low + turn), wire.faceAt(0, wire.rimAngles.back())});
  }
  return wire;
}

}  // namespace anvil::mesher
