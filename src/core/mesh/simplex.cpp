#include "core/mesh/simplex.hpp"

#include <algorithm>
#include <map>
#include <set>

#include "core/base/error.hpp"

namespace anvil::mesh {
namespace {

/// Parent coordinates of the corners.
std::vector<Eigen::Vector3d> parentCorners(Cell type) {
  switch (type) {
    case Cell::quad8:
      return {{-1, -1, 0}, {1, -1, 0}, {1, 1, 0}, {-1, 1, 0}};
    case Cell::hex20:
      return {{-1, -1, -1}, {1, -1, -1}, {1, 1, -1}, {-1, 1, -1}, {-1, -1, 1}, {1, -1, 1}, {1, 1, 1}, {-1, 1, 1}};
    case Cell::wedge15:
      return {{0, 0, -1}, {1, 0, -1}, {0, 1, -1}, {0, 0, 1}, {1, 0, 1}, {0, 1, 1}};
    case Cell::quad4:
    case Cell::tri6:
    case Cell::hex8:
    case Cell::tet10:
    case Cell::wedge6:
      break;  // not cut into simplices
  }
  throw Error(std::string("cells of ") + info(type).name + " are not divided into triangles or tetrahedra", {},
              "Take quadratic quads, hexes or wedges.");
}

/// Place of the point halfway between two corners: the middle of the blend of all edges' bulges there. For an edge it is
/// the mid-side node; across faces and through the cell the bulges of the edges around are weighted by the linear
/// shape functions (the serendipity interpolation).
Eigen::Vector3d middle(const Mesh& mesh, const CellInfo& cell, Cell type, const int* n, int a, int b) {
  const auto corners = parentCorners(type);
  const Eigen::Vector3d xi = (corners[size_t(a)] + corners[size_t(b)]) / 2;
  const auto weight = [&](int c) {  // linear shape function of corner c at xi
    const auto& p = corners[size_t(c)];
    if (type == Cell::wedge15) {
      const double third = 1 - xi.x() - xi.y(), area[3] = {third, xi.x(), xi.y()};
      return area[c % 3] * (1 + p.z() * xi.z()) / 2;
    }
    double w = (1 + p.x() * xi.x()) / 2 * (1 + p.y() * xi.y()) / 2;
    return type == Cell::quad8 ? w : w * (1 + p.z() * xi.z()) / 2;
  };
  Eigen::Vector3d x = Eigen::Vector3d::Zero();
  for (int c = 0; c < cell.corners; ++c) x += weight(c) * mesh.x[size_t(n[c])];
  for (const auto& e : cell.edge) {
    const Eigen::Vector3d bulge = mesh.x[size_t(n[e[2]])] - (mesh.x[size_t(n[e[0]])] + mesh.x[size_t(n[e[1]])]) / 2;
    const double wa = weight(e[0]), wb = weight(e[1]), sum = wa + wb;
    if (sum > 1e-12) x += bulge * (4 * wa * wb / sum);
  }
  return x;
}

/// Corner lists of the simplices of a cell, by local numbers.
std::vector<std::vector<int>> split(const Mesh& mesh, const CellInfo& cell, const int* n) {
  std::vector<std::vector<int>> result;
  if (cell.dim == 2) {
    const auto length = [&](int a, int b) { return (mesh.x[size_t(n[a])] - mesh.x[size_t(n[b])]).norm(); };
    if (length(0, 2) <= length(1, 3)) return {{0, 1, 2}, {0, 2, 3}};
    return {{0, 1, 3}, {1, 2, 3}};
  }
  const int apex = int(std::min_element(n, n + cell.corners) - n);
  for (int s = 0; s < cell.sides; ++s) {
    std::vector<int> face(cell.side[size_t(s)].begin(), cell.side[size_t(s)].begin() + cell.cornersOf(s));
    if (std::find(face.begin(), face.end(), apex) != face.end()) continue;
    if (face.size() == 3) {
      result.push_back({face[0], face[2], face[1], apex});
      continue;
    }
    std::rotate(face.begin(), std::min_element(face.begin(), face.end(), [&](int a, int b) { return n[a] < n[b]; }), face.end());
    result.push_back({face[0], face[2], face[1], apex}), result.push_back({face[0], face[3], face[2], apex});
  }
  return result;
}

}  // namespace

void splitIntoSimplices(Mesh& mesh, int part) {
  std::map<std::pair<int, int>, int> between;  // mid-side node of an edge by its ends
  std::map<int, std::vector<std::vector<std::pair<int, std::vector<int>>>>>
      made;  // per block, per old cell: new cells and their corners
  std::map<int, Cell> was;
  std::map<int, std::vector<int>> oldNodes;
  for (size_t b = 0; b < mesh.blocks.size(); ++b) {
    auto& block = mesh.blocks[b];
    if (block.part != part) continue;
    const auto& cell = info(block.type);
    const Cell simplex = cell.dim == 2 ? Cell::tri6 : Cell::tet10;
    const auto& fresh = info(simplex);
    Block result{simplex, part, {}};
    auto& list = made[int(b)];
    for (size_t c = 0; c < block.count(); ++c) {
      const int* n = block.cell(c);
      for (const auto& e : cell.edge) between.try_emplace(std::minmax(n[e[0]], n[e[1]]), n[e[2]]);
      auto& pieces = list.emplace_back();
      for (const auto& s : split(mesh, cell, n)) {
        std::vector<int> corners;
        for (int k : s) corners.push_back(n[k]);
        pieces.emplace_back(int(result.count()), corners);
        result.nodes.insert(result.nodes.end(), corners.begin(), corners.end());
        for (const auto& e : fresh.edge) {
          const int a = s[size_t(e[0])], d = s[size_t(e[1])];
          const auto [it, isNew] = between.try_emplace(std::minmax(n[a], n[d]), int(mesh.x.size()));
          if (isNew) mesh.x.push_back(middle(mesh, cell, block.type, n, a, d));
          result.nodes.push_back(it->second);
        }
      }
    }
    was[int(b)] = block.type, oldNodes[int(b)] = block.nodes;
    block = result;
  }
  for (auto& face : mesh.faces) {
    if (face.part != part) continue;
    std::vector<Facet> facets;
    for (const auto& f : face.facets) {
      const auto& cell = info(was.at(f.block));
      const int* n = oldNodes.at(f.block).data() + size_t(f.cell) * size_t(cell.nodes);
      std::set<int> corners;
      const auto& side = cell.side[size_t(f.side)];
      for (int i = 0; i < cell.cornersOf(f.side); ++i) corners.insert(n[side[size_t(i)]]);
      const auto& fresh = info(mesh.blocks[size_t(f.block)].type);
      for (const auto& [index, piece] : made.at(f.block)[size_t(f.cell)])
        for (int s = 0; s < fresh.sides; ++s) {
          bool inside = true;
          for (int i = 0; i < fresh.cornersOf(s); ++i)
            inside &= corners.count(piece[size_t(fresh.side[size_t(s)][size_t(i)])]) > 0;
          if (inside) facets.push_back({f.block, index, s});
        }
    }
    face.facets = facets;
  }
}

}  // namespace anvil::mesh
