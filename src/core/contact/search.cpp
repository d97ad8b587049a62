// Which sides lie near which: a tree of boxes.
#include <algorithm>
#include <boost/geometry.hpp>
#include <boost/geometry/geometries/box.hpp>
#include <boost/geometry/geometries/point.hpp>
#include <boost/geometry/index/rtree.hpp>

#include "core/base/parallel.hpp"
#include "core/contact/side_integral.hpp"

namespace anvil::contact {
namespace {


namespace bg = boost::geometry;
using BoostPoint = bg::model::point<double, 3, bg::cs::cartesian>;
using Box = bg::model::box<BoostPoint>;
using Tree = bg::index::rtree<std::pair<Box, int>, bg::index::quadratic<8>>;

/// Box over the way of the increment, so that nothing that is passed through goes unseen.
Box boxOf(const Configuration& c, const Side& s, double margin) {
  Point3 low = Point3::Constant(1e300), high = -low;
  for (int i = 0; i < s.nodes; ++i)
    for (const bool old : {false, true}) {
      const Point3 p = c.place(s.node[size_t(i)], old);
      low = low.cwiseMin(p), high = high.cwiseMax(p);
    }
  low.array() -= margin, high.array() += margin;
  return {{low.x(), low.y(), low.z()}, {high.x(), high.y(), high.z()}};
}

}  // namespace

std::vector<std::vector<int>> facingSides(const PairSetup& setup, const Configuration& c) {
  const auto& sides = setup.slave.sides;
  std::vector<std::vector<int>> facing(sides.size(), std::vector<int>(1, -1));
  if (setup.rigid >= 0) return facing;
  std::vector<std::pair<Box, int>> boxes;
  for (size_t m = 0; m < setup.master.sides.size(); ++m) boxes.emplace_back(boxOf(c, setup.master.sides[m], setup.reach), int(m));
  const Tree tree(boxes);
  forEach(sides.size(), [&](size_t s) {
    facing[s].clear();
    std::vector<std::pair<Box, int>> found;
    tree.query(bg::index::intersects(boxOf(c, sides[s], 0)), std::back_inserter(found));
    for (const auto& f : found) facing[s].push_back(f.second);
    std::sort(facing[s].begin(), facing[s].end());
  });
  return facing;
}

}  // namespace anvil::contact
