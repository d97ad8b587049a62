#include "core/checks/overlapping.hpp"

#include <Eigen/Geometry>
#include <Eigen/LU>
#include <map>
#include <set>
#define BOOST_ALLOW_DEPRECATED_HEADERS  // its own headers use them, and would say so in every build
#include <boost/geometry.hpp>
#include <boost/geometry/geometries/box.hpp>
#include <boost/geometry/geometries/point.hpp>
#include <boost/geometry/index/rtree.hpp>

#include "core/base/text.hpp"
#include "core/mesh/closest.hpp"
#include "core/problem/problem.hpp"

namespace anvil::checks {
namespace {

using Eigen::Vector3d;
namespace bg = boost::geometry;
using BoostPoint = bg::model::point<double, 3, bg::cs::cartesian>;
using Box = bg::model::box<BoostPoint>;

BoostPoint boost(const Vector3d& x) { return {x.x(), x.y(), x.z()}; }

struct CellAt {
  const mesh::Block* block;
  size_t cell;
};

/// Triangles or tetrahedra of a cell's corners.
const std::vector<std::array<int, 4>>& simplicesOf(const mesh::CellInfo& cell) {
  static const std::vector<std::array<int, 4>> triangle{{0, 1, 2, -1}}, quad{{0, 1, 2, -1}, {0, 2, 3, -1}}, tet{{0, 1, 2, 3}},
      wedge{{0, 1, 2, 5}, {0, 1, 5, 4}, {0, 4, 5, 3}},
      hex{{0, 1, 2, 6}, {0, 2, 3, 6}, {0, 3, 7, 6}, {0, 7, 4, 6}, {0, 4, 5, 6}, {0, 5, 1, 6}};
  if (cell.dim == 2) return cell.corners == 3 ? triangle : quad;
  return cell.corners == 4 ? tet : cell.corners == 6 ? wedge : hex;
}

bool lies(const Vector3d& p, const mesh::Mesh& mesh, const CellAt& at) {
  const auto& cell = mesh::info(at.block->type);
  const int* nodes = at.block->cell(at.cell);
  for (const auto& s : simplicesOf(cell)) {
    const auto x = [&](int i) -> const Vector3d& { return mesh.x[size_t(nodes[s[size_t(i)]])]; };
    Eigen::Matrix3d edges = Eigen::Matrix3d::Identity();
    for (int i = 0; i < cell.dim; ++i) edges.col(i) = x(i + 1) - x(0);
    const Vector3d share = edges.inverse() * (p - x(0));
    const auto within = share.head(cell.dim);
    if (within.allFinite() && within.minCoeff() >= 0 && within.sum() <= 1) return true;
  }
  return false;
}

double longestEdge(const mesh::Mesh& mesh, const CellAt& at) {
  double longest = 0;
  const int* n = at.block->cell(at.cell);
  for (const auto& e : mesh::info(at.block->type).edge)
    longest = std::max(longest, (mesh.x[size_t(n[e[0]])] - mesh.x[size_t(n[e[1]])]).norm());
  return longest;
}

double depthBelow(const std::vector<mesh::Facet>& outside, const mesh::Mesh& mesh, const Vector3d& p) {
  double least = 1e300;
  for (const auto& f : outside) {
    const auto n = mesh.nodesOf(f);
    const int corners = mesh.cornersOf(f);
    for (int t = 0; t + 2 < std::max(corners, 3); ++t) {
      const auto x = [&](int i) -> const Vector3d& { return mesh.x[size_t(n[size_t(std::min(i, corners - 1))])]; };
      least = std::min(least, (mesh::closestOn({x(0), x(t + 1), x(t + 2)}, p) - p).squaredNorm());
    }
  }
  return std::sqrt(least);
}

}  // namespace

std::vector<Overlap> overlaps(const mesh::Mesh& mesh) {
  std::vector<CellAt> cells;
  std::vector<std::pair<Box, size_t>> boxes;
  std::vector<Eigen::AlignedBox3d> partBoxes(mesh.parts.size());
  for (const auto& b : mesh.blocks)
    for (int n : b.nodes) partBoxes[size_t(b.part)].extend(mesh.x[size_t(n)]);
  const auto meetsAnother = [&](int part, const Eigen::AlignedBox3d& box) {
    for (size_t other = 0; other < partBoxes.size(); ++other)
      if (int(other) != part && !partBoxes[other].isEmpty() && partBoxes[other].intersects(box)) return true;
    return false;
  };
  for (const auto& b : mesh.blocks)
    for (size_t c = 0; c < b.count(); ++c) {
      Eigen::AlignedBox3d box;
      for (int i = 0; i < mesh::info(b.type).corners; ++i) box.extend(mesh.x[size_t(b.cell(c)[i])]);
      if (!meetsAnother(b.part, box)) continue;
      boxes.emplace_back(Box(boost(box.min()), boost(box.max())), cells.size());
      cells.push_back({&b, c});
    }
  const bg::index::rtree<std::pair<Box, size_t>, bg::index::quadratic<8>> tree(boxes);
  struct Inside {
    Vector3d at;
    double length;
  };
  std::map<std::pair<int, int>, std::vector<Inside>> inside;  // by the part that is in, and the part that it is in
  const auto look = [&](int part, const Vector3d& p) {
    std::vector<std::pair<Box, size_t>> found;
    tree.query(bg::index::intersects(boost(p)), std::back_inserter(found));
    std::set<int> seen{part};
    for (const auto& [box, k] : found)
      if (const int other = cells[k].block->part; !seen.contains(other) && lies(p, mesh, cells[k]))
        inside[{part, other}].push_back({p, longestEdge(mesh, cells[k])}), seen.insert(other);
  };
  std::set<std::pair<int, int>> looked;
  for (const auto& [block, c] : cells) {
    const int corners = mesh::info(block->type).corners;
    Vector3d middle = Vector3d::Zero();
    for (int i = 0; i < corners; ++i) {
      const int node = block->cell(c)[i];
      middle += mesh.x[size_t(node)] / corners;
      if (looked.insert({block->part, node}).second) look(block->part, mesh.x[size_t(node)]);
    }
    look(block->part, middle);
  }
  constexpr size_t enough = 300;  // of the points of a pair, spread over all of them
  std::map<std::pair<int, int>, Overlap> deepest;
  std::map<int, std::vector<mesh::Facet>> outsides;
  for (const auto& [parts, points] : inside) {
    auto& outside = outsides[parts.second];
    if (outside.empty()) outside = mesh.boundary(parts.second);
    auto& o = deepest[std::minmax(parts.first, parts.second)];
    o.first = std::min(parts.first, parts.second), o.second = std::max(parts.first, parts.second);
    for (size_t k = 0; k < points.size(); k += 1 + points.size() / enough)
      if (const double depth = depthBelow(outside, mesh, points[k].at); depth > o.depth)
        o.depth = depth, o.at = points[k].at, o.length = points[k].length;
  }
  std::vector<Overlap> all;
  for (const auto& [parts, o] : deepest) all.push_back(o);
  return all;
}

void overlappingParts(const analysis::Problem& p, Report& r) {
  constexpr double meshesDoing = 0.15;  // of an edge: what straight sides of curved faces reach into each other
  for (const auto& o : overlaps(p.mesh)) {
    double seen = 0;  // by contacts between them
    for (const auto& pair : p.pairs) {
      if (pair.setup().rigid >= 0 || pair.setup().self) continue;
      std::set<int> parts;
      for (const auto* surface : {&pair.setup().slave, &pair.setup().master})
        for (const auto& side : surface->sides) parts.insert(p.mesh.blocks[size_t(side.facet.block)].part);
      if (parts.contains(o.first) && parts.contains(o.second)) seen = std::max(seen, pair.setup().reach);
    }
    if (o.depth <= std::max(seen, meshesDoing * o.length)) continue;
    const auto &a = p.mesh.parts[size_t(o.first)], &b = p.mesh.parts[size_t(o.second)];
    std::string place = "x " + shortNumber(o.at.x(), 4) + ", y " + shortNumber(o.at.y(), 4);
    if (p.dim() == 3) place += ", z " + shortNumber(o.at.z(), 4);
    r.findings.push_back({false, "parts/" + b,
                          "It lies in '" + a + "', " + shortNumber(o.depth, 2) + " mm deep near " + place + " mm, " +
                              (seen > 0 ? "deeper than the contact between them looks" : "where no contact is between them") +
                              ": they will go through each other.",
                          seen > 0 ? "Move one of them, or draw them so that they touch."
                                   : "Move one of them, or add a contact between the faces that meet."});
  }
}

}  // namespace anvil::checks
