// The overlap of two faces: projection on a plane, clipping, and the points of triangles.
#pragma once
#include <algorithm>
#include <boost/container/small_vector.hpp>
#include <cmath>
#include <vector>

#include "core/contact/space_dual.hpp"

namespace anvil::contact {

template <class T>
using Polygon = boost::container::small_vector<Vec2<T>, 18>;

template <class T>
using Outline = boost::container::small_vector<Vec3<T>, 8>;

/// Outline of a face: corners and mid-side nodes in turn.
template <class T, class Node>
Outline<T> outlineOf(const SpaceFace& f, const Node& node) {
  Outline<T> line;
  for (int i = 0; i < f.corners; ++i) {
    line.push_back(node(i));
    if (f.nodes > f.corners) line.push_back(node(f.corners + i));
  }
  return line;
}

/// Part of `subject` inside the convex polygon `clipper` (I. Sutherland, G. Hodgman, 1974); both anticlockwise.
template <class T>
Polygon<T> clipped(Polygon<T> subject, const Polygon<T>& clipper, double tolerance) {
  for (size_t e = 0; e < clipper.size() && !subject.empty(); ++e) {
    const auto& a = clipper[e];
    const auto& b = clipper[(e + 1) % clipper.size()];
    const T ex = T(b.x - a.x), ey = T(b.y - a.y);
    const double length = std::hypot(plain(ex), plain(ey));
    const auto side = [&](const Vec2<T>& p) { return T(ex * (p.y - a.y) - ey * (p.x - a.x)); };
    boost::container::small_vector<double, 18>
        off;  // of the corners, in plain numbers: slopes are needed only where an edge is crossed
    for (const auto& p : subject) off.push_back(plain(ex) * (plain(p.y) - plain(a.y)) - plain(ey) * (plain(p.x) - plain(a.x)));
    Polygon<T> kept;
    for (size_t i = 0; i < subject.size(); ++i) {
      const auto& p = subject[i];
      const auto& q = subject[(i + 1) % subject.size()];
      const double atP = off[i], atQ = off[(i + 1) % subject.size()];
      const bool inP = atP >= -tolerance * length, inQ = atQ >= -tolerance * length;
      if (inP) kept.push_back(p);
      if (inP != inQ && std::abs(atP - atQ) > 1e-300) {
        const T sp = side(p), sq = side(q), t = T(sp / (sp - sq));
        kept.push_back({T(p.x + t * (q.x - p.x)), T(p.y + t * (q.y - p.y))});
      }
    }
    subject = std::move(kept);
  }
  return subject;
}

template <class T>
double areaOf(const Polygon<T>& p) {
  double a = 0;
  for (size_t i = 0; i < p.size(); ++i) {
    const auto& u = p[i];
    const auto& v = p[(i + 1) % p.size()];
    a += plain(u.x) * plain(v.y) - plain(v.x) * plain(u.y);
  }
  return a / 2;
}

/// Plane through the slave face's middle, with two axes in it.
template <class T>
struct Plane {
  Vec3<T> origin, e1, e2, normal;
  Plane(const SpaceFace& f, const Outline<T>& corner) {
    normal = f.corners == 3 ? cross(minus(corner[1], corner[0]), minus(corner[2], corner[0]))
                            : cross(minus(corner[2], corner[0]), minus(corner[3], corner[1]));
    normal = unit(normal);
    origin = corner[0];
    const Vec3<T> along = minus(corner[1], corner[0]);
    const T out = dot(along, normal);
    e1 = unit(Vec3<T>{{T(along[0] - out * normal[0]), T(along[1] - out * normal[1]), T(along[2] - out * normal[2])}});
    e2 = cross(normal, e1);
  }
  Vec2<T> operator()(const Vec3<T>& x) const {
    const Vec3<T> d = minus(x, origin);
    return {dot(d, e1), dot(d, e2)};
  }
};

template <class T>
Polygon<T> projected(const Plane<T>& plane, const Outline<T>& line, bool reverse) {
  Polygon<T> p;
  for (const auto& x : line) p.push_back(plane(x));
  if (reverse) std::reverse(p.begin(), p.end());
  return p;
}

/// Triangle points (three area coordinates and the weight), exact to degree 4 (6 points) or 6 (12 points) (D. Dunavant,
/// IJNME 21, 1985).
const std::vector<std::array<double, 4>>& triangleRule(bool fine);

}  // namespace anvil::contact
