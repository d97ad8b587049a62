#include "core/mesh/mesh.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
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
const Lists hexEdges{{0, 1, 8},  {1, 2, 9},  {2, 3, 10}, {3, 0, 11}, {4, 5, 12}, {5, 6, 13},
                     {6, 7, 14}, {7, 4, 15}, {0, 4, 16}, {1, 5, 17}, {2, 6, 18}, {3, 7, 19}};
const Lists tetSides{{0, 2, 1}, {0, 1, 3}, {1, 2, 3}, {2, 0, 3}};
const Lists tetEdges{{0, 1, 4}, {1, 2, 5}, {2, 0, 6}, {0, 3, 7}, {1, 3, 8}, {2, 3, 9}};
const Lists wedgeSides{{0, 2, 1}, {3, 4, 5}, {0, 1, 4, 3}, {1, 2, 5, 4}, {2, 0, 3, 5}};
const Lists wedgeEdges{{0, 1, 6}, {1, 2, 7}, {2, 0, 8}, {3, 4, 9}, {4, 5, 10}, {5, 3, 11}, {0, 3, 12}, {1, 4, 13}, {2, 5, 14}};

}  // namespace

const CellInfo& info(Cell type) {
  static const std::vector<CellInfo> all{{"quad4", 4, 4, 4, 4, 2, 9, false, ends(quadEdges), ends(quadEdges)},
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

const Line* Mesh::line(const std::string& name) const {
  for (const auto& l : lines)
    if (l.name == name) return &l;
  return nullptr;
}

const Spot* Mesh::spot(const std::string& name) const {
  for (const auto& s : spots)
    if (s.name == name) return &s;
  return nullptr;
}

std::vector<const Face*> Mesh::facesNamed(const std::string& name) const {
  if (const auto* own = face(name)) return {own};
  std::vector<const Face*> copies;
  for (const auto& f : faces)
    if (f.name.size() > name.size() + 1 && f.name.starts_with(name + ' ') &&
        f.name.find_first_not_of("0123456789", name.size() + 1) == std::string::npos)
      copies.push_back(&f);
  return copies;
}

std::vector<std::vector<int>> Mesh::bodies(int part) const {
  std::vector<int> root(x.size());
  std::iota(root.begin(), root.end(), 0);
  const auto rootOf = [&](int n) {
    while (root[size_t(n)] != n) n = root[size_t(n)] = root[size_t(root[size_t(n)])];
    return n;
  };
  const auto join = [&](int a, int b) { root[size_t(std::max(rootOf(a), rootOf(b)))] = std::min(rootOf(a), rootOf(b)); };
  std::vector<int> nodes;
  for (const auto& b : blocks) {
    if (b.part != part) continue;
    const int n = info(b.type).nodes;
    for (size_t c = 0; c < b.count(); ++c)
      for (int i = 1; i < n; ++i) join(b.cell(c)[0], b.cell(c)[i]);
    nodes.insert(nodes.end(), b.nodes.begin(), b.nodes.end());
  }
  std::sort(nodes.begin(), nodes.end()), nodes.erase(std::unique(nodes.begin(), nodes.end()), nodes.end());
  for (const auto& cut : cuts)
    for (size_t i = 0; cut.part == part && i < cut.below.size(); ++i) join(cut.below[i], cut.above[i]);
  std::map<int, std::vector<int>> found;
  for (int n : nodes) found[rootOf(n)].push_back(n);
  std::vector<std::vector<int>> list;
  for (auto& [first, own] : found) list.push_back(std::move(own));
  return list;
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
  std::sort(result.begin(), result.end(),
            [](const Facet& a, const Facet& b) { return std::tie(a.block, a.cell, a.side) < std::tie(b.block, b.cell, b.side); });
  return result;
}

}  // namespace anvil::mesh
