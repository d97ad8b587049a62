#include "core/mesh/mesh.hpp"

#include <algorithm>
#include <set>

namespace anvil::mesh {

const CellInfo& info(Cell type) {
  static const CellInfo quad4{"quad4", 4, 4, 4, 4, 2, 9, {{0, 1}, {1, 2}, {2, 3}, {3, 0}}};
  static const CellInfo quad8{"quad8", 8, 4, 4, 4, 2, 23, {{0, 1, 4}, {1, 2, 5}, {2, 3, 6}, {3, 0, 7}}};
  return type == Cell::quad4 ? quad4 : quad8;
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
  for (size_t b = 0; b < blocks.size(); ++b) {
    if (blocks[b].part != part) continue;
    for (size_t c = 0; c < blocks[b].count(); ++c)
      for (int s = 0; s < info(blocks[b].type).sides; ++s) {
        const Facet f{int(b), int(c), s};
        auto key = nodesOf(f);
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

Quality quality(const Mesh& mesh, const Block& block) {
  Quality q;
  const int corners = info(block.type).corners;
  double sum = 0, longest = 0, shortest = 1e300;
  for (size_t c = 0; c < block.count(); ++c) {
    const int* cell = block.cell(c);
    double least = 1, shortEdge = 1e300, longEdge = 0;
    for (int i = 0; i < corners; ++i) {
      const Eigen::Vector3d here = mesh.x[size_t(cell[i])];
      const Eigen::Vector3d a = mesh.x[size_t(cell[(i + 1) % corners])] - here, b = mesh.x[size_t(cell[(i + corners - 1) % corners])] - here;
      least = std::min(least, (a.x() * b.y() - a.y() * b.x()) / std::max(a.norm() * b.norm(), 1e-300));
      shortEdge = std::min(shortEdge, a.norm()), longEdge = std::max(longEdge, a.norm());
    }
    if (least < q.leastScaledJacobian) q.leastScaledJacobian = least, q.worstCell = int(c);
    q.greatestAspect = std::max(q.greatestAspect, longEdge / std::max(shortEdge, 1e-300));
    sum += least, longest = std::max(longest, longEdge), shortest = std::min(shortest, shortEdge);
  }
  if (block.count()) q.meanScaledJacobian = sum / double(block.count()), q.shortestEdge = shortest, q.longestEdge = longest;
  return q;
}

}  // namespace anvil::mesh
