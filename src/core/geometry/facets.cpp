#include "core/geometry/facets.hpp"

#include <Eigen/Geometry>
#include <Eigen/LU>
#include <algorithm>
#define BOOST_ALLOW_DEPRECATED_HEADERS  // its own headers use them, and would say so in every build
#include <boost/geometry.hpp>
#include <boost/geometry/geometries/box.hpp>
#include <boost/geometry/geometries/point.hpp>
#include <boost/geometry/index/rtree.hpp>
#include <cmath>
#include <map>
#include <numbers>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/document.hpp"
#include "core/model/quantities.hpp"
#include "core/model/shapes.hpp"

namespace anvil::geometry {
namespace {

namespace bg = boost::geometry;
using BoostPoint = bg::model::point<double, 3, bg::cs::cartesian>;
using Box = bg::model::box<BoostPoint>;

enum class Border { smooth, convex, hollow, open };

/// Coefficient c of the curve x0 + (d - c) s + c s² whose ends are square to the normals n0 and n1; the smallest there is.
Point3 bend(const Point3& d, const Point3& n0, const Point3& n1) {
  const double a = n0.dot(n1), det = 1 - a * a, p = d.dot(n0), q = -d.dot(n1);
  if (det < 1e-10) return Point3::Zero();
  return ((p - a * q) * n0 + (q - a * p) * n1) / det;
}

/// The facet's own normal seen from its three corners, unnormalised.
Point3 across(const std::vector<Point3>& x, const Triangle& t) {
  return (x[size_t(t[1])] - x[size_t(t[0])]).cross(x[size_t(t[2])] - x[size_t(t[0])]);
}

}  // namespace

/// S(s, t) = c00 + c10 s + c01 t + c11 st + c20 s² + c02 t² over 0 ≤ t ≤ s ≤ 1: corners (0,0), (1,0), (1,1).
struct FacetSurface::Patch {
  Point3 c00, c10, c01, c11, c20, c02;
  std::array<Point3, 3> corner, control;  ///< corners, and middle control points of the edges that start at them
  std::array<Point3, 3> cornerNormal;
  std::array<Border, 3> border{};
  std::array<Point3, 3> otherNormal;  ///< of the facet beyond each edge
  std::array<bool, 3> sharpCorner{};  ///< a convex sharp edge ends there
  Point3 flat;                        ///< the facet's normal

  Point3 at(double s, double t) const { return c00 + c10 * s + c01 * t + c11 * s * t + c20 * s * s + c02 * t * t; }
  Point3 along1(double s, double t) const { return c10 + c11 * t + 2 * s * c20; }
  Point3 along2(double s, double t) const { return c01 + c11 * s + 2 * t * c02; }

  void shape(const std::array<Point3, 3>& x, const std::array<Point3, 3>& n) {
    corner = x, cornerNormal = n;
    const Point3 c1 = bend(x[1] - x[0], n[0], n[1]), c2 = bend(x[2] - x[1], n[1], n[2]), c3 = bend(x[2] - x[0], n[0], n[2]);
    c00 = x[0], c10 = x[1] - x[0] - c1, c01 = x[2] - x[1] + c1 - c3, c11 = c3 - c1 - c2, c20 = c1, c02 = c2;
    control = {Point3((x[0] + x[1] - c1) / 2), Point3((x[1] + x[2] - c2) / 2), Point3((x[0] + x[2] - c3) / 2)};
  }
  Box box() const {
    Point3 low = corner[0], high = corner[0];
    for (const auto* list : {&corner, &control})
      for (const auto& p : *list) low = low.cwiseMin(p), high = high.cwiseMax(p);
    return {{low.x(), low.y(), low.z()}, {high.x(), high.y(), high.z()}};
  }
  /// Place on edge k (0: t = 0, 1: s = 1, 2: s = t) at its fraction f.
  static std::pair<double, double> onEdge(int k, double f) {
    return k == 0 ? std::pair{f, 0.} : k == 1 ? std::pair{1., f} : std::pair{1 - f, 1 - f};
  }
};

struct FacetSurface::Tree {
  bg::index::rtree<std::pair<Box, int>, bg::index::quadratic<8>> boxes;
};

FacetSurface::~FacetSurface() = default;

FacetSurface::FacetSurface(std::vector<Point3> points, std::vector<Triangle> triangles, double crease, const std::string& path)
    : points_(std::move(points)), triangles_(std::move(triangles)), crease_(crease) {
  const size_t count = triangles_.size();
  const auto name = [](size_t k) { return "facet " + std::to_string(k + 1); };
  double size = 0;
  for (const auto& p : points_) size = std::max(size, (p - points_.front()).norm());
  std::vector<Point3> flat;
  for (size_t k = 0; k < count; ++k) {
    const Point3 n = across(points_, triangles_[k]);
    double longest = 0;
    for (size_t i = 0; i < 3; ++i)
      longest = std::max(longest, (points_[size_t(triangles_[k][i])] - points_[size_t(triangles_[k][(i + 1) % 3])]).norm());
    if (!(n.norm() > 1e-6 * longest * longest)) throw Error(name(k) + " has no area", path, "Take it out, or join its points.");
    flat.push_back(n.normalized());
  }
  // neighbours over the edges
  struct Use {
    size_t facet;
    int edge;
  };
  std::map<std::pair<int, int>, std::vector<Use>> edges;
  for (size_t k = 0; k < count; ++k)
    for (int i = 0; i < 3; ++i) {
      const int a = triangles_[k][size_t(i)], b = triangles_[k][size_t((i + 1) % 3)];
      edges[{std::min(a, b), std::max(a, b)}].push_back({k, i});
    }
  std::vector<std::array<int, 3>> beyond(count, {-1, -1, -1});
  patches_.resize(count);
  for (const auto& [edge, uses] : edges) {
    if (uses.size() > 2)
      throw Error(std::to_string(uses.size()) + " facets meet at one edge, among them " + name(uses[0].facet) + " and " +
                      name(uses[2].facet),
                  path, "Let at most two facets share an edge.");
    auto& first = patches_[uses[0].facet];
    if (uses.size() == 1) {
      first.border[size_t(uses[0].edge)] = Border::open, closed_ = false;
      continue;
    }
    const size_t f = uses[0].facet, g = uses[1].facet;
    if (triangles_[f][size_t(uses[0].edge)] == triangles_[g][size_t(uses[1].edge)])
      throw Error(name(f) + " and " + name(g) + " run along their common edge in the same sense, so one of them shows its inside",
                  path, "Turn one round: all run anticlockwise seen from outside.");
    beyond[f][size_t(uses[0].edge)] = int(g), beyond[g][size_t(uses[1].edge)] = int(f);
    // convex when the other facet's far corner lies below this one
    const Point3 far =
        points_[size_t(triangles_[g][size_t((uses[1].edge + 2) % 3)])] - points_[size_t(triangles_[f][size_t(uses[0].edge)])];
    const Border kind = flat[f].dot(flat[g]) > std::cos(crease_) ? Border::smooth
                        : far.dot(flat[f]) < 0                   ? Border::convex
                                                                 : Border::hollow;
    first.border[size_t(uses[0].edge)] = patches_[g].border[size_t(uses[1].edge)] = kind;
  }
  // corner normals: over the facets that meet there smoothly, each by its angle
  std::map<int, std::vector<std::pair<size_t, int>>> around;
  for (size_t k = 0; k < count; ++k)
    for (int i = 0; i < 3; ++i) around[triangles_[k][size_t(i)]].push_back({k, i});
  std::vector<std::array<Point3, 3>> normals(count);
  for (const auto& [node, list] : around) {
    std::map<size_t, int> group;
    for (const auto& [k, i] : list) {
      if (group.contains(k)) continue;
      std::vector<std::pair<size_t, int>> open{{k, i}}, together;
      group[k] = i;
      while (!open.empty()) {
        const auto [f, local] = open.back();
        open.pop_back();
        together.push_back({f, local});
        for (const int edge : {local, (local + 2) % 3}) {
          const int g = beyond[f][size_t(edge)];
          if (g < 0 || patches_[f].border[size_t(edge)] != Border::smooth || group.contains(size_t(g))) continue;
          const auto& t = triangles_[size_t(g)];
          const int j = int(std::find(t.begin(), t.end(), node) - t.begin());
          group[size_t(g)] = j, open.push_back({size_t(g), j});
        }
      }
      Point3 sum = Point3::Zero();
      for (const auto& [f, local] : together) {
        // named anew: Clang 14 takes no parts of a pair into a lambda
        const auto x = [&, f = f, local = local](int j) -> const Point3& {
          return points_[size_t(triangles_[f][size_t((local + j) % 3)])];
        };
        const Point3 a = (x(1) - x(0)).normalized(), b = (x(2) - x(0)).normalized();
        sum += std::acos(std::clamp(a.dot(b), -1., 1.)) * flat[f];
      }
      for (const auto& [f, local] : together) normals[f][size_t(local)] = sum.normalized();
    }
    bool sharp = false;
    for (const auto& [k, i] : list)
      sharp |= patches_[k].border[size_t(i)] == Border::convex || patches_[k].border[size_t((i + 2) % 3)] == Border::convex;
    for (const auto& [k, i] : list) patches_[k].sharpCorner[size_t(i)] = sharp;
  }
  std::vector<std::pair<Box, int>> boxes;
  for (size_t k = 0; k < count; ++k) {
    std::array<Point3, 3> x;
    for (size_t i = 0; i < 3; ++i) x[i] = points_[size_t(triangles_[k][i])];
    auto& p = patches_[k];
    p.flat = flat[k];
    for (size_t i = 0; i < 3; ++i) p.otherNormal[i] = beyond[k][i] >= 0 ? flat[size_t(beyond[k][i])] : flat[k];
    p.shape(x, normals[k]);
    boxes.emplace_back(p.box(), int(k));
  }
  tree_ = std::make_unique<Tree>();
  tree_->boxes = decltype(tree_->boxes)(boxes);
}

std::shared_ptr<const FacetSurface> FacetSurface::turnedRound() const {
  auto other = triangles_;
  for (auto& t : other) std::swap(t[1], t[2]);
  return std::make_shared<FacetSurface>(points_, other, crease_, std::string());
}

namespace {

/// Nearest place of a patch: its parameters, or the edge or corner that it lies on.
struct Foot {
  double s = 0, t = 0;
  int edge = -1, corner = -1;
};

template <class Patch>
double clampedEdge(const Patch& patch, int edge, const Point3& x) {
  // cubic in the fraction: a few steps of Newton from the chord's foot
  const auto& a = patch.corner[size_t(edge)];
  const auto& b = patch.corner[size_t((edge + 1) % 3)];
  const Point3 c = a + b - 2 * patch.control[size_t(edge)];
  double f = std::clamp((x - a).dot(b - a) / (b - a).squaredNorm(), 0., 1.);
  for (int i = 0; i < 20; ++i) {
    const Point3 r = x - (a + (b - a - c) * f + c * f * f), d = b - a - c + 2 * c * f;
    const double slope = d.squaredNorm() - 2 * r.dot(c);
    const double step = r.dot(d) / (slope > 0 ? slope : d.squaredNorm());
    const double next = std::clamp(f + step, 0., 1.);
    if (std::abs(next - f) < 1e-14) return next;
    f = next;
  }
  return f;
}

}  // namespace

FacetSurface::Near FacetSurface::nearest(const Point3& x) const {
  const double slit = 1e-9;
  const auto footOf = [&](const Patch& p) {
    Foot foot;
    // from the flat facet's place by Newton on half the squared distance; Gauss–Newton where that is not convex
    const Point3 e1 = p.corner[1] - p.corner[0], e2 = p.corner[2] - p.corner[1], r0 = x - p.corner[0];
    const double a = e1.dot(e1), b = e1.dot(e2), c = e2.dot(e2), det0 = a * c - b * b;
    double s = (c * r0.dot(e1) - b * r0.dot(e2)) / det0, t = (a * r0.dot(e2) - b * r0.dot(e1)) / det0;
    s = std::clamp(s, -0.2, 1.2), t = std::clamp(t, -0.2, 1.2);
    bool settled = false;
    for (int i = 0; i < 30 && !settled; ++i) {
      const Point3 S1 = p.along1(s, t), S2 = p.along2(s, t), r = x - p.at(s, t);
      double m11 = S1.dot(S1) - 2 * r.dot(p.c20), m12 = S1.dot(S2) - r.dot(p.c11), m22 = S2.dot(S2) - 2 * r.dot(p.c02);
      if (m11 <= 0 || m11 * m22 - m12 * m12 <= 0) m11 = S1.dot(S1), m12 = S1.dot(S2), m22 = S2.dot(S2);
      const double g1 = r.dot(S1), g2 = r.dot(S2), det = m11 * m22 - m12 * m12;
      const double ds = (m22 * g1 - m12 * g2) / det, dt = (m11 * g2 - m12 * g1) / det;
      const double share = std::min(1., 0.5 / std::max({std::abs(ds), std::abs(dt), 1e-300}));
      s += share * ds, t += share * dt;
      settled = std::max(std::abs(ds), std::abs(dt)) < 1e-13;
      if (s < -1 || s > 2 || t < -1 || t > 2) break;
    }
    foot.s = s, foot.t = t;
    if (settled && t >= -slit && t <= s + slit && s <= 1 + slit) return foot;
    double least = 1e300;
    for (int k = 0; k < 3; ++k) {
      const double f = clampedEdge(p, k, x);
      const auto [es, et] = Patch::onEdge(k, f);
      const double d = (x - p.at(es, et)).norm();
      if (d < least) least = d, foot.s = es, foot.t = et, foot.edge = k, foot.corner = f <= 0 ? k : f >= 1 ? (k + 1) % 3 : -1;
    }
    return foot;
  };

  double least = 1e300;
  const Patch* best = nullptr;
  Foot where;
  const BoostPoint query(x.x(), x.y(), x.z());
  for (auto it = tree_->boxes.qbegin(bg::index::nearest(query, unsigned(patches_.size()))); it != tree_->boxes.qend(); ++it) {
    if (bg::comparable_distance(query, it->first) > least * least) break;
    const auto& p = patches_[size_t(it->second)];
    const Foot foot = footOf(p);
    const double d = (x - p.at(foot.s, foot.t)).norm();
    // of two patches that share an edge, the one that has the place inside
    if (d < least * (1 - 1e-12) || (d <= least * (1 + 1e-12) && where.edge >= 0 && foot.edge < 0))
      least = d, best = &p, where = foot;
  }
  Near near;
  if (!best) return near;
  const auto& p = *best;
  const Point3 away = x - p.at(where.s, where.t);
  if (where.edge >= 0) {
    const auto k = size_t(where.edge);
    const bool sharp = where.corner >= 0 ? p.sharpCorner[size_t(where.corner)] : p.border[k] == Border::convex;
    if (!sharp && p.border[k] == Border::open && away.norm() > 1e-9) return near;  // beyond the surface's rim
    if (sharp) {
      const double d = away.norm();
      if (!(d > 1e-12) || away.dot(p.flat + p.otherNormal[k]) <= 0) return near;  // inside: another facet is nearer there
      near.found = true, near.distance = d, near.normal = away / d;
      near.slope = (Eigen::Matrix3d::Identity() - near.normal * near.normal.transpose()) / d;
      if (where.corner < 0) {
        const Point3 along = (k == 0   ? p.along1(where.s, where.t)
                              : k == 1 ? p.along2(where.s, where.t)
                                       : Point3(p.along1(where.s, where.t) + p.along2(where.s, where.t)))
                                 .normalized();
        near.slope -= along * along.transpose() / d;
      }
      return near;
    }
  }
  const Point3 S1 = p.along1(where.s, where.t), S2 = p.along2(where.s, where.t), N = S1.cross(S2);
  near.found = true, near.normal = N.normalized();
  near.distance = away.dot(near.normal);
  Eigen::Matrix2d M;
  M << S1.dot(S1) - 2 * away.dot(p.c20), S1.dot(S2) - away.dot(p.c11), S1.dot(S2) - away.dot(p.c11),
      S2.dot(S2) - 2 * away.dot(p.c02);
  if (!(M.determinant() > 1e-12 * S1.squaredNorm() * S2.squaredNorm())) return near;  // at the centre of curvature
  Eigen::Matrix<double, 3, 2> S, turn;
  S << S1, S2;
  turn.col(0) = (2 * p.c20).cross(S2) + S1.cross(p.c11), turn.col(1) = p.c11.cross(S2) + S1.cross(2 * p.c02);
  near.slope =
      (Eigen::Matrix3d::Identity() - near.normal * near.normal.transpose()) / N.norm() * turn * M.inverse() * S.transpose();
  return near;
}

std::shared_ptr<const FacetSurface> facets(const model::Facets& given, const model::Quantities& q, const std::string& path) {
  std::vector<Point3> points;
  for (size_t i = 0; i < given.points.size(); ++i) {
    const std::string here = path + "/points/" + std::to_string(i + 1);
    const auto x = q.list(given.points[i], Kind::length, here);
    if (x.size() != 3) throw Error("a facet's point needs three coordinates", here, "Write [x, y, z].");
    points.emplace_back(x[0], x[1], x[2]);
  }
  if (points.size() < 3 || given.triangles.empty())
    throw Error("there are no facets", path, "Give at least three points and one triangle.");
  std::vector<Triangle> triangles;
  for (size_t i = 0; i < given.triangles.size(); ++i) {
    const std::string here = path + "/triangles/" + std::to_string(i + 1);
    const auto n = q.list(given.triangles[i], Kind::number, here);
    if (n.size() != 3) throw Error("a facet has three corners", here, "Write the numbers of three points.");
    Triangle t{};
    for (size_t k = 0; k < 3; ++k) {
      if (!(n[k] >= 0) || n[k] >= double(points.size()) || n[k] != std::floor(n[k]))
        throw Error("there is no point " + shortNumber(n[k]), here,
                    "Points are counted from 0 to " + std::to_string(points.size() - 1) + ".");
      t[k] = int(n[k]);
    }
    triangles.push_back(t);
  }
  const double crease = q(given.crease, Kind::angle, path + "/crease");
  if (!(crease >= 0) || crease > std::numbers::pi)
    throw Error("the crease angle is " + shortNumber(crease * 180 / std::numbers::pi) + " degrees", path + "/crease",
                "Give 0 to 180 degrees.");
  auto surface = std::make_shared<FacetSurface>(std::move(points), std::move(triangles), crease, path);
  if (surface->closed()) {
    double volume = 0;
    for (const auto& t : surface->triangles()) volume += across(surface->points(), t).dot(surface->points()[size_t(t[0])]);
    if (volume < 0)
      throw Error("the closed surface is turned inside out", path + "/triangles",
                  "List each triangle's points anticlockwise seen from outside.");
  }
  return surface;
}

}  // namespace anvil::geometry
