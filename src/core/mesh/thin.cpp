#include "core/mesh/thin.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/mesh/quality.hpp"
#include "core/mesh/sweep.hpp"

namespace anvil::mesh {
namespace {

using geometry::Point2;

/// Adds a facet to a face, which is made when it is new.
void put(Mesh& mesh, int part, const std::string& name, const Facet& facet) {
  for (auto& face : mesh.faces)
    if (face.name == name) return face.facets.push_back(facet);
  mesh.faces.push_back({name, part, {facet}});
}

Point2 leftOf(const Point2& tangent) { return {-tangent.y(), tangent.x()}; }

/// The way across at a corner between two normals: both sides stay at their distance from either line.
Point2 mitred(const Point2& a, const Point2& b, const Point2& at, const std::string& path) {
  if (a.dot(b) < -0.87)
    throw Error("the line turns back on itself at x = " + shortNumber(at.x()) + " mm, y = " + shortNumber(at.y()) + " mm", path,
                "A sheet can be folded by up to 150 degrees; round the corner by a fillet.");
  return (a + b) / (1 + a.dot(b));
}

/// Local sides of a cell after its nodes are taken in another order: new[i] = old[order[i]].
std::vector<int> sidesAfter(Cell type, const std::vector<int>& order) {
  std::vector<int> place(order.size()), result;
  for (size_t i = 0; i < order.size(); ++i) place[size_t(order[i])] = int(i);
  const auto sorted = [](std::vector<int> v) {
    std::sort(v.begin(), v.end());
    return v;
  };
  for (const auto& old : info(type).side) {
    std::vector<int> now;
    for (int n : old) now.push_back(place[size_t(n)]);
    for (size_t s = 0; s < info(type).side.size(); ++s)
      if (sorted(info(type).side[s]) == sorted(now)) result.push_back(int(s));
  }
  return result;
}

/// Turns the cells of a swept strip so that their first nodes lie on the lower side.
void layFlat(Mesh& mesh, int part, const std::string& lower) {
  static const std::vector<int> hex{0, 4, 5, 1, 3, 7, 6, 2}, wedge{3, 5, 4, 0, 2, 1};
  static const auto hexSides = sidesAfter(Cell::hex8, hex), wedgeSides = sidesAfter(Cell::wedge6, wedge);
  std::vector<std::vector<bool>> turned(mesh.blocks.size());
  for (size_t b = 0; b < mesh.blocks.size(); ++b) turned[b].assign(mesh.blocks[b].count(), false);
  for (const auto& f : mesh.face(lower)->facets) {
    auto& block = mesh.blocks[size_t(f.block)];
    if (f.side == 0) continue;
    turned[size_t(f.block)][size_t(f.cell)] = true;
    const auto& order = block.type == Cell::hex8 ? hex : wedge;
    const std::vector<int> old(block.cell(size_t(f.cell)), block.cell(size_t(f.cell)) + order.size());
    for (size_t i = 0; i < order.size(); ++i) block.nodes[size_t(f.cell) * order.size() + i] = old[size_t(order[i])];
  }
  for (auto& face : mesh.faces)
    for (auto& f : face.facets)
      if (face.part == part && turned[size_t(f.block)][size_t(f.cell)])
        f.side = (mesh.blocks[size_t(f.block)].type == Cell::hex8 ? hexSides : wedgeSides)[size_t(f.side)];
}

}  // namespace

void makeThin(Mesh& mesh, int part, int through, double thickness, const std::string& path) {
  for (auto& b : mesh.blocks) {
    if (b.part != part) continue;
    b.through = through, b.thickness = thickness;
    const auto q = quality(mesh, b);
    if (q.leastScaledJacobian > 0.02) continue;
    Eigen::Vector3d at = Eigen::Vector3d::Zero();
    const int nodes = info(b.type).nodes;
    for (int i = 0; i < nodes; ++i) at += mesh.x[size_t(b.cell(size_t(q.worstCell))[i])] / nodes;
    throw Error("elements of the sheet are folded or flat (scaled Jacobian " + shortNumber(q.leastScaledJacobian, 3) +
                    " near x " + shortNumber(at.x(), 4) + ", y " + shortNumber(at.y(), 4) + ", z " + shortNumber(at.z(), 4) +
                    " mm)",
                path, "Use another division, or make the sheet thinner.");
  }
}

Mesh strip(const geometry::SheetLine& line, const geometry::SheetSides& sides, const std::string& part, bool axis,
           const std::string& path) {
  Mesh mesh;
  mesh.parts = {part};
  std::vector<Point2> place, across;
  std::vector<std::string> name;  // of the piece behind each place
  double length = 0;
  for (const auto& c : line.curves) length += c.length();
  for (size_t k = 0; k < line.curves.size(); ++k) {
    const auto& c = line.curves[k];
    for (int i = 0; i < c.count; ++i) {
      const double f = line.share(k, i);
      Point2 normal = leftOf(c.tangent(f));
      if (i == 0 && (k > 0 || line.closed))
        normal = mitred(leftOf(line.curves[(k + line.curves.size() - 1) % line.curves.size()].tangent(1)), normal, c.at(0), path);
      place.push_back(c.at(f)), across.push_back(normal), name.push_back(c.name);
    }
  }
  if (!line.closed) place.push_back(line.curves.back().b), across.push_back(leftOf(line.curves.back().tangent(1)));
  if (axis && !line.closed)  // as if its mirror image went on beyond
    for (auto i : {size_t(0), place.size() - 1})
      if (std::abs(place[i].x()) < 1e-9 * length)
        place[i].x() = 0, across[i] = mitred(across[i], {-across[i].x(), across[i].y()}, place[i], path), across[i].x() = 0;
  for (const double distance : {sides.lower, sides.upper})
    for (size_t i = 0; i < place.size(); ++i) {
      const Point2 x = place[i] + distance * across[i];
      mesh.x.emplace_back(x.x(), x.y(), 0);
    }
  Block row{Cell::quad4, 0, {}};
  const int n = int(place.size()), cells = int(name.size());
  for (int i = 0; i < cells; ++i) {
    const int next = (i + 1) % n;
    row.nodes.insert(row.nodes.end(), {i, next, n + next, n + i});
    for (const auto& [side, word] : {std::pair{0, "lower"}, {2, "upper"}}) {
      put(mesh, 0, part + "." + word, {0, i, side});
      if (!name[size_t(i)].empty()) put(mesh, 0, part + "." + name[size_t(i)] + " " + word, {0, i, side});
    }
  }
  mesh.blocks.push_back(row);
  if (!line.closed) put(mesh, 0, part + ".start", {0, 0, 3}), put(mesh, 0, part + ".end", {0, cells - 1, 1});
  if (quality(mesh, row).leastScaledJacobian <= 0.02)
    throw Error("the sides of the sheet cross at a corner", path, "Make it thinner, or round the corner.");
  return mesh;
}

void addFlatSheet(Mesh& mesh, int part, const Mesh& plane, const geometry::SheetSides& sides, int through,
                  const std::string& path) {
  const int first = int(mesh.x.size()), count = int(plane.x.size());
  for (const double z : {sides.lower, sides.upper})
    for (const auto& x : plane.x) mesh.x.emplace_back(x.x(), x.y(), z);
  const int firstBlock = int(mesh.blocks.size());
  const std::string name = mesh.parts[size_t(part)];
  for (const auto& face : plane.faces) {
    if (face.name == name + ".lower" || face.name == name + ".upper")
      throw Error("an edge is named '" + face.name.substr(name.size() + 1) + "', as a side of the sheet is", path + "/shape",
                  "Give the edge another name.");
    auto& edge = mesh.faces.emplace_back(Face{face.name, part, {}});
    for (const auto& f : face.facets) edge.facets.push_back({firstBlock + f.block, f.cell, f.side + 2});
  }
  for (const auto& flat : plane.blocks) {
    Block block{Cell::hex8, part, {}};
    for (size_t c = 0; c < flat.count(); ++c) {
      for (const int level : {first, first + count})
        for (int i = 0; i < 4; ++i) block.nodes.push_back(level + flat.cell(c)[i]);
      put(mesh, part, name + ".lower", {int(mesh.blocks.size()), int(c), 0});
      put(mesh, part, name + ".upper", {int(mesh.blocks.size()), int(c), 1});
    }
    mesh.blocks.push_back(std::move(block));
  }
  makeThin(mesh, part, through, sides.thickness(), path);
}

void addSweptSheet(Mesh& mesh, int part, const Mesh& strip, const geometry::Sweep& sweep, const geometry::SheetSides& sides,
                   int through, const std::string& path) {
  addSwept(mesh, part, strip, sweep, path);
  layFlat(mesh, part, mesh.parts[size_t(part)] + ".lower");
  makeThin(mesh, part, through, sides.thickness(), path);
}

void splitIntoTriangles(Mesh& mesh, int part) {
  struct Half {
    int which, side;
  };
  // halves of a quad by its diagonal: 0–2 or 1–3; where its four edges go
  static const int corners[2][2][3] = {{{0, 1, 2}, {0, 2, 3}}, {{0, 1, 3}, {1, 2, 3}}};
  static const Half edges[2][4] = {{{0, 2}, {0, 3}, {1, 3}, {1, 4}}, {{0, 2}, {1, 2}, {1, 3}, {0, 4}}};
  std::vector<std::vector<int>> way(mesh.blocks.size());  // diagonals of the cells of split blocks
  for (size_t b = 0; b < mesh.blocks.size(); ++b) {
    auto& block = mesh.blocks[b];
    if (block.part != part || block.type != Cell::hex8) continue;
    Block halves{Cell::wedge6, part, {}, block.through, block.thickness};
    for (size_t c = 0; c < block.count(); ++c) {
      const int* n = block.cell(c);
      const auto apart = [&](int i, int k) {
        return (mesh.x[size_t(n[i])] - mesh.x[size_t(n[k])]).norm() +
               (mesh.x[size_t(n[i + 4])] - mesh.x[size_t(n[k + 4])]).norm();
      };
      way[b].push_back(apart(0, 2) > apart(1, 3) * (1 + 1e-9));
      for (const auto& half : corners[way[b].back()])
        for (const int level : {0, 4})
          for (int i : half) halves.nodes.push_back(n[i + level]);
    }
    block = std::move(halves);
  }
  for (auto& face : mesh.faces) {
    if (face.part != part) continue;
    std::vector<Facet> facets;
    for (const auto& f : face.facets) {
      if (way[size_t(f.block)].empty()) {
        facets.push_back(f);
      } else if (f.side < 2) {
        for (int half : {0, 1}) facets.push_back({f.block, 2 * f.cell + half, f.side});
      } else {
        const auto& half = edges[way[size_t(f.block)][size_t(f.cell)]][f.side - 2];
        facets.push_back({f.block, 2 * f.cell + half.which, half.side});
      }
    }
    face.facets = std::move(facets);
  }
}

}  // namespace anvil::mesh
