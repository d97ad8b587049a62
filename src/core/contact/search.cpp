// Which sides lie near which: a tree of boxes.
#include <Eigen/Geometry>
#include <algorithm>
#include <set>
#define BOOST_ALLOW_DEPRECATED_HEADERS  // its own headers use them, and would say so in every build
#include <boost/geometry.hpp>
#include <boost/geometry/geometries/box.hpp>
#include <boost/geometry/geometries/point.hpp>
#include <boost/geometry/index/rtree.hpp>

#include "core/base/parallel.hpp"
#include "core/contact/rigid_facets.hpp"
#include "core/contact/side_integral.hpp"

namespace anvil::contact {
namespace {

namespace bg = boost::geometry;
using BoostPoint = bg::model::point<double, 3, bg::cs::cartesian>;
using Box = bg::model::box<BoostPoint>;
using Tree = bg::index::rtree<std::pair<Box, int>, bg::index::quadratic<8>>;

/// Box over the way of the increment, so that nothing that is passed through goes unseen.
Box boxOf(const Configuration& c, const Side& s, double margin, const std::optional<Image>& image = {}) {
  Point3 low = Point3::Constant(1e300), high = -low;
  for (int i = 0; i < s.nodes; ++i)
    for (const bool old : {false, true}) {
      const Point3 own = c.place(s.node[size_t(i)], old), p = image ? (*image)(own) : own;
      low = low.cwiseMin(p), high = high.cwiseMax(p);
    }
  low.array() -= margin, high.array() += margin;
  return {{low.x(), low.y(), low.z()}, {high.x(), high.y(), high.z()}};
}

/// Unit normal of a side, out of the body, from the places of its corners.
template <class Place>
Point3 outwardOf(int corners, const Place& x) {
  if (corners == 2) return Point3((x(1) - x(0)).cross(Point3::UnitZ())).normalized();
  if (corners == 3) return Point3((x(1) - x(0)).cross(x(2) - x(0))).normalized();
  return Point3((x(2) - x(0)).cross(x(3) - x(1))).normalized();
}

/// Sides of one surface: each couple once, no neighbours, nothing through the wall.
bool mayMeet(const PairSetup& setup, int s, int m) {
  if (m <= s) return false;
  const auto &a = setup.slave.sides[size_t(s)], &b = setup.slave.sides[size_t(m)];
  for (int i = 0; i < a.corners; ++i)
    for (int j = 0; j < b.corners; ++j)
      if (a.node[size_t(i)] == b.node[size_t(j)]) return false;
  const auto& never = setup.never[size_t(s)];
  return !std::binary_search(never.begin(), never.end(), m);
}

}  // namespace

Walls wallsOf(const Surface& surface, const mesh::Mesh& mesh, double within) {
  const auto& sides = surface.sides;
  Walls walls;
  walls.behind.resize(sides.size());
  struct Frame {
    Point3 middle{0, 0, 0}, normal{0, 0, 0};
    int part;
  };
  std::vector<Frame> frames;
  std::vector<std::pair<Box, int>> boxes;
  for (const auto& s : sides) {
    Frame f;
    f.part = mesh.blocks[size_t(s.facet.block)].part;
    const auto x = [&](int i) -> const Point3& { return mesh.x[size_t(s.node[size_t(i)])]; };
    for (int i = 0; i < s.corners; ++i) f.middle += x(i) / s.corners;
    f.normal = outwardOf(s.corners, x);
    const BoostPoint at(f.middle.x(), f.middle.y(), f.middle.z());
    boxes.emplace_back(Box(at, at), int(frames.size()));
    frames.push_back(f);
  }
  const Tree tree(boxes);
  for (size_t s = 0; s < sides.size(); ++s) {
    const auto& a = frames[s];
    const Point3 low = a.middle.array() - within, high = a.middle.array() + within;
    std::vector<std::pair<Box, int>> found;
    tree.query(bg::index::intersects(Box({low.x(), low.y(), low.z()}, {high.x(), high.y(), high.z()})),
               std::back_inserter(found));
    for (const auto& [box, m] : found) {
      const auto& b = frames[size_t(m)];
      const Point3 way = b.middle - a.middle;
      if (m <= int(s) || a.part != b.part || a.normal.dot(b.normal) > -0.2 || way.dot(a.normal) >= 0 || way.dot(b.normal) <= 0)
        continue;
      walls.behind[s].push_back(m);
      if (-way.dot(a.normal) > 0.8 * way.norm()) walls.thickness = std::min(walls.thickness, -way.dot(a.normal));
    }
    std::sort(walls.behind[s].begin(), walls.behind[s].end());
  }
  return walls;
}

std::vector<std::vector<int>> facingSides(const PairSetup& setup, const Configuration& c, double margin) {
  const auto& sides = setup.slave.sides;
  std::vector<std::vector<int>> facing(sides.size(), std::vector<int>(1, -1));
  if (setup.rigid >= 0) return facing;
  std::vector<std::pair<Box, int>> boxes;
  for (size_t m = 0; m < setup.master.sides.size(); ++m)
    boxes.emplace_back(boxOf(c, setup.master.sides[m], setup.reach + margin, setup.image), int(m));
  const Tree tree(boxes);
  forEach(sides.size(), [&](size_t s) {
    facing[s].clear();
    std::vector<std::pair<Box, int>> found;
    tree.query(bg::index::intersects(boxOf(c, sides[s], 0)), std::back_inserter(found));
    for (const auto& f : found)
      if (!setup.self || mayMeet(setup, int(s), f.second)) facing[s].push_back(f.second);
    std::sort(facing[s].begin(), facing[s].end());
  });
  return facing;
}

namespace {

/// A side on its way, with straight edges.
struct Flat {
  Point3 middle{0, 0, 0}, normal{0, 0, 0};
  std::array<Point3, 4> corner;
  int corners;

  /// At a share of the increment.
  Flat(const Configuration& c, const Side& side, double share) : corners(side.corners) {
    for (int i = 0; i < corners; ++i) {
      const int n = side.node[size_t(i)];
      corner[size_t(i)] = (1 - share) * c.place(n, true) + share * c.place(n, false);
      middle += corner[size_t(i)] / corners;
    }
    normal = outwardOf(corners, [this](int i) { return corner[size_t(i)]; });
  }
  double height(const Point3& p) const { return normal.dot(p - middle); }
  /// Whether a point lies over it, within its edges.
  bool covers(const Point3& p) const {
    for (int i = 0; i < corners; ++i) {
      const Point3 &a = corner[size_t(i)], &b = corner[size_t((i + 1) % corners)];
      if (corners == 2 ? (p - a).dot(b - a) < 0 : normal.dot((b - a).cross(p - a)) < 0) return false;
    }
    return true;
  }
};

/// Where a point of a body that stood at x is, from the body's dofs.
Point3 movedWith(const RigidBody& body, int dim, const Eigen::VectorXd& dofs, const Point3& x) {
  Point3 shift(dofs[0], dofs[1], 0), turn(0, 0, 0);
  if (dim == 2)
    turn.z() = dofs[2];
  else
    shift.z() = dofs[2], turn = dofs.tail<3>();
  return body.pivot + shift + rotationOf(turn) * (x - body.pivot);
}

}  // namespace

std::vector<int> sidesGoneThrough(const PairSetup& setup, const Configuration& c, double depth) {
  const auto& sides = setup.slave.sides;
  const auto& body = rigidOf(setup, *c.rigid);
  const auto then = c.rigidPlace(setup.rigid, true), now = c.rigidPlace(setup.rigid, false);
  const double deep = depth * setup.slave.meanLength;
  std::vector<std::pair<Box, int>> boxes;
  for (size_t s = 0; s < sides.size(); ++s) boxes.emplace_back(boxOf(c, sides[s], deep), int(s));
  const Tree tree(boxes);
  std::set<int> through;
  for (const auto& own : pointsOf(body, c.dim, 0.5 * setup.slave.meanLength)) {
    const Point3 from = movedWith(body, c.dim, then, own), to = movedWith(body, c.dim, now, own);
    const Point3 low = from.cwiseMin(to), high = from.cwiseMax(to);
    std::vector<std::pair<Box, int>> found;
    tree.query(bg::index::intersects(Box({low.x(), low.y(), low.z()}, {high.x(), high.y(), high.z()})),
               std::back_inserter(found));
    for (const auto& [box, s] : found) {
      const auto& side = sides[size_t(s)];
      const double start = Flat(c, side, 0).height(from), end = Flat(c, side, 1).height(to);
      if (start < -deep || end > -deep) continue;
      const double share = start > 0 ? start / (start - end) : 0;
      if (Flat(c, side, share).covers((1 - share) * from + share * to)) through.insert(s);
    }
  }
  return {through.begin(), through.end()};
}

}  // namespace anvil::contact
