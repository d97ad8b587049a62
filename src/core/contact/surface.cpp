#include "core/contact/surface.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <map>
#include <set>

namespace anvil::contact {

Surface makeSurface(const std::string& name, const mesh::Mesh& mesh, const std::vector<mesh::Facet>& facets, double young) {
  Surface s;
  s.name = name, s.young = young;
  std::map<int, size_t> startsAt, endsAt;
  std::set<int> corners;
  std::map<int, std::pair<double, int>> lengths;   // of the edges at a corner
  for (const auto& f : facets) {
    const auto nodes = mesh.nodesOf(f);
    Side g;
    std::copy(nodes.begin(), nodes.end(), g.node.begin());
    g.facet = f, g.corners = mesh.cornersOf(f), g.nodes = int(nodes.size());
    if (g.corners == 2) startsAt[g.node[0]] = endsAt[g.node[1]] = s.sides.size();
    for (int i = 0; i < g.corners; ++i) {
      corners.insert(nodes[size_t(i)]);
      const double edge = (mesh.x[size_t(nodes[size_t((i + 1) % g.corners)])] - mesh.x[size_t(nodes[size_t(i)])]).norm();
      s.meanLength += edge / g.corners;
      for (int end : {i, (i + 1) % g.corners}) lengths[nodes[size_t(end)]].first += edge, ++lengths[nodes[size_t(end)]].second;
    }
    s.sides.push_back(g);
  }
  // normals are smoothed along the surface, but not round corners of the shape
  const auto smooth = [&](const Side& a, const Side& b) {
    const auto along = [&](const Side& e) { return (mesh.x[size_t(e.node[1])] - mesh.x[size_t(e.node[0])]).normalized(); };
    return along(a).dot(along(b)) > std::cos(40 * std::numbers::pi / 180);
  };
  for (auto& g : s.sides) {
    if (g.corners != 2) continue;
    if (auto it = endsAt.find(g.node[0]); it != endsAt.end() && smooth(s.sides[it->second], g)) {
      const auto& p = s.sides[it->second];
      g.before = p.quadratic() ? p.node[2] : p.node[0];
    }
    if (auto it = startsAt.find(g.node[1]); it != startsAt.end() && smooth(g, s.sides[it->second])) {
      const auto& n = s.sides[it->second];
      g.after = n.quadratic() ? n.node[2] : n.node[1];
    }
  }
  s.corners.assign(corners.begin(), corners.end());
  for (int node : s.corners) s.cornerLength.push_back(lengths[node].first / lengths[node].second);
  if (!s.sides.empty()) s.meanLength /= double(s.sides.size());
  return s;
}

namespace {

/// Fraction along the curve of the point nearest to x, not clamped for lines; arcs give a fraction in or out of [0, 1].
double nearestFraction(const geometry::Curve2& c, const Point2& x) {
  if (!c.arc) return (x - c.a).dot(c.b - c.a) / (c.b - c.a).squaredNorm();
  const Point2 d = x - c.center;
  double turned = std::atan2(d.y(), d.x()) - c.from;
  const double full = 2 * std::numbers::pi, middle = c.sweep / 2;
  turned -= full * std::round((turned - middle) / full);  // nearest to the middle of the arc
  return turned / c.sweep;
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

Feature nearestFeature(const RigidBody& outline, const Point2& x) {
  Feature best;
  double least = 1e300;
  const size_t n = outline.curves.size();
  for (const auto& c : outline.curves) {
    const double t = nearestFraction(c, x);
    if (t < 0 || t > 1) continue;
    const Feature f = onCurve(c, x);
    if (std::abs(f.distance) < least) least = std::abs(f.distance), best = f;
  }
  for (size_t i = 0; i < n; ++i) {
    if (i + 1 == n && !outline.closed) break;
    const auto& before = outline.curves[i];
    const auto& after = outline.curves[(i + 1) % n];
    const Point2 v = before.b, t0 = before.tangent(1), t1 = after.tangent(0);
    const double turn = t0.x() * t1.y() - t0.y() * t1.x();
    if (turn <= 1e-9) continue;  // smooth or hollow corner: never nearest from outside
    const Point2 d = x - v;
    if (d.dot(t0) < 0 || d.dot(t1) > 0) continue;  // not in the corner's own wedge
    if (d.norm() < least) {
      least = d.norm();
      best = Feature{};
      best.kind = Feature::Kind::vertex, best.point = v, best.distance = d.norm();
    }
  }
  return best;
}

}  // namespace anvil::contact
