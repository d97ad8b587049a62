#include "core/mesh/mesh.hpp"

#include <algorithm>
#include <cmath>
#include <set>

namespace anvil::mesh {

namespace {

using Lists = std::vector<std::vector<int>>;

/// Sides of a quadratic cell: the linear one's corners, then the mid-edge nodes between them in order.
Lists withMiddles(const Lists& sides, const Lists& edges) {
  Lists result = sides;
  for (size_t s = 0; s < sides.size(); ++s)
    for (size_t i = 0; i < sides[s].size(); ++i) {
      const int a = sides[s][i], b = sides[s][(i + 1) % sides[s].size()];
      for (const auto& e : edges)
        if ((e[0] == a && e[1] == b) || (e[0] == b && e[1] == a)) result[s].push_back(e[2]);
    }
  return result;
}
Lists ends(const Lists& edges) {
  Lists result;
  for (const auto& e : edges) result.push_back({e[0], e[1]});
  return result;
}

const Lists quadEdges{{0, 1, 4}, {1, 2, 5}, {2, 3, 6}, {3, 0, 7}}, triEdges{{0, 1, 3}, {1, 2, 4}, {2, 0, 5}};
const Lists hexSides{{0, 3, 2, 1}, {4, 5, 6, 7}, {0, 1, 5, 4}, {1, 2, 6, 5}, {2, 3, 7, 6}, {3, 0, 4, 7}};
const Lists hexEdges{{0, 1, 8}, {1, 2, 9}, {2, 3, 10}, {3, 0, 11}, {4, 5, 12}, {5, 6, 13}, {6, 7, 14}, {7, 4, 15}, {0, 4, 16}, {1, 5, 17}, {2, 6, 18}, {3, 7, 19}};
const Lists tetSides{{0, 2, 1}, {0, 1, 3}, {1, 2, 3}, {2, 0, 3}};
const Lists tetEdges{{0, 1, 4}, {1, 2, 5}, {2, 0, 6}, {0, 3, 7}, {1, 3, 8}, {2, 3, 9}};
const Lists wedgeSides{{0, 2, 1}, {3, 4, 5}, {0, 1, 4, 3}, {1, 2, 5, 4}, {2, 0, 3, 5}};
const Lists wedgeEdges{{0, 1, 6}, {1, 2, 7}, {2, 0, 8}, {3, 4, 9}, {4, 5, 10}, {5, 3, 11}, {0, 3, 12}, {1, 4, 13}, {2, 5, 14}};

}  // namespace

const CellInfo& info(Cell type) {
  static const std::vector<CellInfo> all{
      {"quad4", 4, 4, 4, 4, 2, 9, false, ends(quadEdges), ends(quadEdges)},
      {"quad8", 8, 4, 4, 4, 2, 23, true, quadEdges, quadEdges},
      {"tri6", 6, 3, 3, 3, 2, 22, true, triEdges, triEdges},
      {"hex8", 8, 8, 6, 8, 3, 12, false, hexSides, ends(hexEdges)},
      {"hex20", 20, 8, 6, 8, 3, 25, true, withMiddles(hexSides, hexEdges), hexEdges},
      {"tet10", 10, 4, 4, 4, 3, 24, true, withMiddles(tetSides, tetEdges), tetEdges},
      {"wedge6", 6, 6, 5, 6, 3, 13, false, wedgeSides, ends(wedgeEdges)},
      {"wedge15", 15, 6, 5, 6, 3, 26, true, withMiddles(wedgeSides, wedgeEdges), wedgeEdges}};
  return all.at(size_t(type));
}

const Face* Mesh::face(const std::string& name) const {
  for (const auto& f : faces)
    if (f.name == name) return &f;
  return nullptr;
}

std::vector<int> Mesh::nodesOf(const Facet& f) const {
  const auto& block = blocks[size_t(f.block)];
  std::vector<int> nodes;
  for (int local : info(block.type).side[size_t(f.side)]) nodes.push_back(block.cell(size_t(f.cell))[local]);
  return nodes;
}

std::vector<int> Mesh::nodesOf(const std::vector<Facet>& facets) const {
  std::set<int> all;
  for (const auto& f : facets)
    for (int n : nodesOf(f)) all.insert(n);
  return {all.begin(), all.end()};
}

std::vector<Facet> Mesh::boundary(int part) const {
  std::map<std::vector<int>, std::pair<int, Facet>> seen;
  std::map<int, int> twin;
  for (const auto& cut : cuts)
    for (size_t i = 0; i < cut.above.size(); ++i) twin[cut.above[i]] = cut.below[i];
  for (size_t b = 0; b < blocks.size(); ++b) {
    if (blocks[b].part != part) continue;
    for (size_t c = 0; c < blocks[b].count(); ++c)
      for (int s = 0; s < info(blocks[b].type).sides; ++s) {
        const Facet f{int(b), int(c), s};
        auto key = nodesOf(f);
        for (auto& n : key)
          if (const auto it = twin.find(n); it != twin.end()) n = it->second;
        std::sort(key.begin(), key.end());
        auto& entry = seen[key];
        ++entry.first;
        entry.second = f;
      }
  }
  std::vector<Facet> result;
  for (const auto& [key, entry] : seen)
    if (entry.first == 1) result.push_back(entry.second);
  std::sort(result.begin(), result.end(), [](const Facet& a, const Facet& b) {
    return std::tie(a.block, a.cell, a.side) < std::tie(b.block, b.cell, b.side);
  });
  return result;
}

namespace {

/// Corners next to each corner, so ordered that the Jacobian there is their triple product (or cross product) over lengths.
Lists cornerFrames(Cell type) {
  switch (type) {
    case Cell::quad4: case Cell::quad8: return {{1, 3}, {2, 0}, {3, 1}, {0, 2}};
    case Cell::tri6: return {{1, 2}, {2, 0}, {0, 1}};
    case Cell::hex8: case Cell::hex20: return {{1, 3, 4}, {2, 0, 5}, {3, 1, 6}, {0, 2, 7}, {7, 5, 0}, {4, 6, 1}, {5, 7, 2}, {6, 4, 3}};
    case Cell::tet10: return {{1, 2, 3}, {2, 0, 3}, {0, 1, 3}, {0, 2, 1}};
    default: return {{1, 2, 3}, {2, 0, 4}, {0, 1, 5}, {5, 4, 0}, {3, 5, 1}, {4, 3, 2}};
  }
}

/// Value of the corner Jacobian of the ideal cell, to scale by: square and cube 1, equilateral shapes otherwise.
double idealJacobian(Cell type) {
  switch (type) {
    case Cell::tri6: case Cell::wedge6: case Cell::wedge15: return std::sqrt(3.) / 2;
    case Cell::tet10: return std::sqrt(0.5);
    default: return 1;
  }
}

}  // namespace

Quality quality(const Mesh& mesh, const Block& block) {
  Quality q;
  const auto& type = info(block.type);
  const auto frames = cornerFrames(block.type);
  const double ideal = idealJacobian(block.type);
  double sum = 0, longest = 0, shortest = 1e300;
  for (size_t c = 0; c < block.count(); ++c) {
    const int* cell = block.cell(c);
    double least = 1, shortEdge = 1e300, longEdge = 0;
    for (size_t i = 0; i < frames.size(); ++i) {
      const auto to = [&](int k) { return Eigen::Vector3d(mesh.x[size_t(cell[frames[i][size_t(k)]])] - mesh.x[size_t(cell[i])]); };
      const Eigen::Vector3d a = to(0), b = to(1);
      double jacobian = a.x() * b.y() - a.y() * b.x(), size = a.norm() * b.norm();
      if (type.dim == 3) jacobian = a.cross(b).dot(to(2)), size *= to(2).norm();
      least = std::min(least, jacobian / std::max(size, 1e-300) / ideal);
    }
    for (const auto& e : type.edge) {
      const double length = (mesh.x[size_t(cell[e[1]])] - mesh.x[size_t(cell[e[0]])]).norm();
      shortEdge = std::min(shortEdge, length), longEdge = std::max(longEdge, length);
    }
    if (least < q.leastScaledJacobian) q.leastScaledJacobian = least, q.worstCell = int(c);
    q.greatestAspect = std::max(q.greatestAspect, longEdge / std::max(shortEdge, 1e-300));
    sum += least, longest = std::max(longest, longEdge), shortest = std::min(shortest, shortEdge);
  }
  if (block.count()) q.meanScaledJacobian = sum / double(block.count()), q.shortestEdge = shortest, q.longestEdge = longest;
  return q;
}

}  // namespace anvil::mesh
