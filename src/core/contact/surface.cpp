#include "core/contact/surface.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace anvil::contact {

namespace {

const double kink = std::cos(40 * std::numbers::pi / 180);  // normals that differ by more belong to different sides of a corner

/// Unit outward normal of an undeformed side, from its corners.
Point3 normalOf(const Side& s, const mesh::Mesh& mesh) {
  const auto x = [&](size_t i) { return mesh.x[size_t(s.node[i])]; };
  const Point3 n = s.corners == 2   ? Point3((x(1) - x(0)).cross(Point3::UnitZ()))
                   : s.corners == 3 ? Point3((x(1) - x(0)).cross(x(2) - x(0)))
                                    : Point3((x(2) - x(0)).cross(x(3) - x(1)));
  return n.normalized();
}

bool smooth(const Side& a, const Side& b, const mesh::Mesh& mesh) { return normalOf(a, mesh).dot(normalOf(b, mesh)) > kink; }

/// Numbers the corners: sides that meet smoothly at a node (in space: over a common edge) share one there.
void numberCorners(Surface& s, const mesh::Mesh& mesh) {
  struct Place {
    size_t side;
    int local, group;
  };
  std::map<int, std::vector<Place>> at;
  for (size_t k = 0; k < s.sides.size(); ++k)
    for (int i = 0; i < s.sides[k].corners; ++i) at[s.sides[k].node[size_t(i)]].push_back({k, i, -1});
  const auto joined = [&](const Side& a, const Side& b, int node) {
    if (!smooth(a, b, mesh)) return false;
    if (a.corners == 2) return true;
    for (int i = 0; i < a.corners; ++i)
      for (int k = 0; k < b.corners; ++k)
        if (a.node[size_t(i)] == b.node[size_t(k)] && a.node[size_t(i)] != node) return true;
    return false;
  };
  for (auto& [node, places] : at) {
    int groups = 0;
    for (size_t k = 0; k < places.size(); ++k) {
      if (places[k].group >= 0) continue;
      places[k].group = groups;
      std::vector<size_t> open{k};
      while (!open.empty()) {
        const size_t a = open.back();
        open.pop_back();
        for (size_t b = 0; b < places.size(); ++b)
          if (places[b].group < 0 && joined(s.sides[places[a].side], s.sides[places[b].side], node))
            places[b].group = groups, open.push_back(b);
      }
      ++groups;
    }
    for (const auto& p : places) s.sides[p.side].corner[size_t(p.local)] = int(s.corners.size()) + p.group;
    for (int g = 0; g < groups; ++g) {
      double length = 0, count = 0;
      for (const auto& p : places) {
        const auto& side = s.sides[p.side];
        if (p.group != g) continue;
        for (int step : {1, side.corners - 1}) {
          length += (mesh.x[size_t(side.node[size_t((p.local + step) % side.corners)])] - mesh.x[size_t(node)]).norm(),
              count += 1;
          if (side.corners == 2) break;
        }
      }
      s.corners.push_back(node), s.cornerLength.push_back(length / count);
    }
  }
}

}  // namespace

namespace {

/// The true surface over straight-edged sides, from normals averaged at the corners (K. Phong's idea, as in A. Vlachos et al.,
/// Curved PN triangles, 2001): over an edge whose ends' normals differ by dn it stands out by edge · dn / 8.
void measureSags(Surface& s, const mesh::Mesh& mesh) {
  std::vector<Point3> normal(s.corners.size(), Point3::Zero());
  for (const auto& g : s.sides)
    for (int i = 0; i < g.corners; ++i) {
      const auto x = [&](int k) { return mesh.x[size_t(g.node[size_t((i + k) % g.corners)])]; };
      const Point3 out = (x(1) - x(0)).cross(x(g.corners - 1) - x(0));
      normal[size_t(g.corner[size_t(i)])] += out;
    }
  for (auto& n : normal) n.normalize();
  for (auto& g : s.sides) {
    if (g.corners == 2 || g.quadratic()) continue;
    const auto over = [&](int a, int b) {
      const Point3 edge = mesh.x[size_t(g.node[size_t(b)])] - mesh.x[size_t(g.node[size_t(a)])];
      return edge.dot(normal[size_t(g.corner[size_t(b)])] - normal[size_t(g.corner[size_t(a)])]) / 8;
    };
    if (g.corners == 3)
      g.sag = {over(0, 1), over(1, 2), over(2, 0)};
    else
      g.sag = {(over(0, 1) + over(3, 2)) / 2, (over(1, 2) + over(0, 3)) / 2, 0};
  }
}

}  // namespace

Surface makeSurface(const std::string& name, const mesh::Mesh& mesh, const std::vector<mesh::Facet>& facets, double young) {
  Surface s;
  s.name = name, s.young = young;
  std::map<int, size_t> startsAt, endsAt;
  for (const auto& f : facets) {
    const auto nodes = mesh.nodesOf(f);
    Side g;
    std::copy(nodes.begin(), nodes.end(), g.node.begin());
    g.facet = f, g.corners = mesh.cornersOf(f), g.nodes = int(nodes.size());
    if (g.corners == 2) startsAt[g.node[0]] = endsAt[g.node[1]] = s.sides.size();
    for (int i = 0; i < g.corners; ++i)
      s.meanLength += (mesh.x[size_t(nodes[size_t((i + 1) % g.corners)])] - mesh.x[size_t(nodes[size_t(i)])]).norm() / g.corners;
    s.sides.push_back(g);
  }
  for (auto& g : s.sides) {  // normals are smoothed along the surface, but not round corners of the shape
    if (g.corners != 2) continue;
    if (auto it = endsAt.find(g.node[0]); it != endsAt.end() && smooth(s.sides[it->second], g, mesh)) {
      const auto& p = s.sides[it->second];
      g.before = p.quadratic() ? p.node[2] : p.node[0];
    }
    if (auto it = startsAt.find(g.node[1]); it != startsAt.end() && smooth(g, s.sides[it->second], mesh)) {
      const auto& n = s.sides[it->second];
      g.after = n.quadratic() ? n.node[2] : n.node[1];
    }
  }
  numberCorners(s, mesh);
  measureSags(s, mesh);
  if (!s.sides.empty()) s.meanLength /= double(s.sides.size());
  return s;
}

namespace {

double turnFrom(const Point2& a, const Point2& b) { return a.x() * b.y() - a.y() * b.x(); }

/// Whether a point lies beside a curve: its foot is between the ends of a line, or in the sector of an arc. A little more, so
/// that none falls between two that meet smoothly.
bool isBeside(const geometry::Curve2& c, const Point2& x) {
  constexpr double little = 1e-12;
  if (!c.arc) {
    const double along = (x - c.a).dot(c.b - c.a), whole = (c.b - c.a).squaredNorm();
    return along >= -little * whole && along <= (1 + little) * whole;
  }
  const Point2 d = x - c.center, first = c.a - c.center, last = c.b - c.center;
  const double sense = c.sweep > 0 ? 1 : -1, beside = little * c.radius * d.norm();
  if (std::abs(c.sweep) <= std::numbers::pi) return sense * turnFrom(first, d) >= -beside && sense * turnFrom(d, last) >= -beside;
  return !(sense * turnFrom(last, d) > beside && sense * turnFrom(d, first) > beside);
}

/// How far a point is off the whole circle of an arc; 0 for lines: no curve is nearer.
double leastDistance(const geometry::Curve2& c, const Point2& x) {
  return c.arc ? std::abs((x - c.center).norm() - c.radius) : 0;
}

Feature onCurve(const geometry::Curve2& c, const Point2& x) {
  Feature f;
  if (!c.arc) {
    const Point2 t = (c.b - c.a).normalized();
    f.kind = Feature::Kind::line, f.point = c.a, f.normal = Point2(t.y(), -t.x());
    f.distance = (x - c.a).dot(f.normal);
  } else {
    f.kind = Feature::Kind::arc, f.point = c.center, f.radius = c.radius, f.sign = c.sweep > 0 ? 1 : -1;
    f.distance = f.sign * ((x - c.center).norm() - c.radius);
  }
  return f;
}

}  // namespace

RigidBody onlyFace(const RigidBody& body, const std::string& name) {
  RigidBody face = body;
  if (const int end = name == "front" ? 0 : name == "back" ? 1 : -1; end >= 0 && body.ends[size_t(end)]) {
    face.sides = false, face.ends = {end == 0, end == 1};
    return face;
  }
  face.ends = {false, false};
  std::erase_if(face.curves, [&](const auto& c) { return c.name != name; });
  return face;
}

Feature nearestFeature(const RigidBody& outline, const Point2& x) {
  Feature best;
  double least = 1e300;
  const size_t n = outline.curves.size();
  for (const auto& c : outline.curves) {
    if (leastDistance(c, x) >= least || !isBeside(c, x)) continue;
    const Feature f = onCurve(c, x);
    if (std::abs(f.distance) < least) least = std::abs(f.distance), best = f;
  }
  for (size_t i = 0; i < n; ++i) {
    if (i + 1 == n && !outline.closed) break;
    const auto& before = outline.curves[i];
    const auto& after = outline.curves[(i + 1) % n];
    if ((after.a - before.b).norm() > 1e-9 * (before.length() + after.length())) continue;  // of some faces only
    const Point2 v = before.b;
    if ((x - v).squaredNorm() >= least * least) continue;
    const Point2 t0 = before.tangent(1), t1 = after.tangent(0);
    const double turn = turnFrom(t0, t1);
    if (turn <= 1e-9) continue;  // smooth or hollow corner: never nearest from outside
    const Point2 d = x - v;
    if (d.dot(t0) < 0 || d.dot(t1) > 0) continue;  // not in the corner's own wedge
    least = d.norm();
    best = Feature{};
    best.kind = Feature::Kind::vertex, best.point = v, best.distance = least;
  }
  return best;
}

}  // namespace anvil::contact
