#include "core/mesh/quality.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

namespace anvil::mesh {
namespace {

/// Corners next to each corner, so ordered that the Jacobian there is their triple product (or cross product) over lengths.
std::vector<std::vector<int>> cornerFrames(Cell type) {
  switch (type) {
    case Cell::quad4:
    case Cell::quad8:
      return {{1, 3}, {2, 0}, {3, 1}, {0, 2}};
    case Cell::tri6:
      return {{1, 2}, {2, 0}, {0, 1}};
    case Cell::hex8:
    case Cell::hex20:
      return {{1, 3, 4}, {2, 0, 5}, {3, 1, 6}, {0, 2, 7}, {7, 5, 0}, {4, 6, 1}, {5, 7, 2}, {6, 4, 3}};
    case Cell::tet10:
      return {{1, 2, 3}, {2, 0, 3}, {0, 1, 3}, {0, 2, 1}};
    case Cell::wedge6:
    case Cell::wedge15:
      return {{1, 2, 3}, {2, 0, 4}, {0, 1, 5}, {5, 4, 0}, {3, 5, 1}, {4, 3, 2}};
  }
  return {};
}

/// Value of the corner Jacobian of the ideal cell, to scale by: square and cube 1, equilateral shapes otherwise.
double idealJacobian(Cell type) {
  switch (type) {
    case Cell::tri6:
    case Cell::wedge6:
    case Cell::wedge15:
      return std::sqrt(3.) / 2;
    case Cell::tet10:
      return std::sqrt(0.5);
    case Cell::quad4:
    case Cell::quad8:
    case Cell::hex8:
    case Cell::hex20:
      return 1;
  }
  return 1;
}

/// Angle between the triangles on both sides of a diagonal of a thin hex's middle surface, the larger of both diagonals, degrees.
double warpOf(const Mesh& mesh, const int* n) {
  const auto x = [&](int i) { return Eigen::Vector3d(mesh.x[size_t(n[i % 4])] + mesh.x[size_t(n[i % 4 + 4])]); };
  const auto normal = [&](int i) { return (x(i + 1) - x(i)).cross(x(i + 3) - x(i)).normalized(); };
  const auto angle = [](const Eigen::Vector3d& a, const Eigen::Vector3d& b) { return std::atan2(a.cross(b).norm(), a.dot(b)); };
  return std::max(angle(normal(0), normal(2)), angle(normal(1), normal(3))) * 180 / std::numbers::pi;
}

}  // namespace

double scaledJacobian(const Mesh& mesh, const Block& block, size_t cell) {
  static const std::vector<std::vector<std::vector<int>>> framesOf = [] {
    std::vector<std::vector<std::vector<int>>> all;
    for (int t = 0; t <= int(Cell::wedge15); ++t) all.push_back(cornerFrames(Cell(t)));
    return all;
  }();
  const auto& frames = framesOf[size_t(block.type)];
  const int* nodes = block.cell(cell);
  const bool solid = info(block.type).dim == 3;
  double least = 1;
  for (size_t i = 0; i < frames.size(); ++i) {
    const auto to = [&](int k) {
      return Eigen::Vector3d(mesh.x[size_t(nodes[frames[i][size_t(k)]])] - mesh.x[size_t(nodes[i])]);
    };
    const Eigen::Vector3d a = to(0), b = to(1);
    double jacobian = a.x() * b.y() - a.y() * b.x(), size = a.norm() * b.norm();
    if (solid) jacobian = a.cross(b).dot(to(2)), size *= to(2).norm();
    least = std::min(least, jacobian / std::max(size, 1e-300) / idealJacobian(block.type));
  }
  return least;
}

Quality quality(const Mesh& mesh, const Block& block) {
  Quality q;
  double sum = 0, longest = 0, shortest = 1e300;
  std::vector<double> aspects;
  for (size_t c = 0; c < block.count(); ++c) {
    const double least = scaledJacobian(mesh, block, c);
    double shortEdge = 1e300, longEdge = 0;
    const int half = info(block.type).nodes / 2;
    for (const auto& e : info(block.type).edge) {
      if (block.thin() && (e[0] < half) != (e[1] < half)) continue;  // across the sheet
      const double length = (mesh.x[size_t(block.cell(c)[e[1]])] - mesh.x[size_t(block.cell(c)[e[0]])]).norm();
      shortEdge = std::min(shortEdge, length), longEdge = std::max(longEdge, length);
    }
    if (block.thin() && half == 4) q.greatestWarp = std::max(q.greatestWarp, warpOf(mesh, block.cell(c)));
    if (least < q.leastScaledJacobian) q.leastScaledJacobian = least, q.worstCell = int(c);
    aspects.push_back(longEdge / std::max(shortEdge, 1e-300));
    sum += least, longest = std::max(longest, longEdge), shortest = std::min(shortest, shortEdge);
  }
  if (!aspects.empty()) {
    const auto middle = aspects.begin() + std::ptrdiff_t(aspects.size() / 2);
    q.greatestAspect = *std::max_element(aspects.begin(), aspects.end());
    std::nth_element(aspects.begin(), middle, aspects.end());
    q.usualAspect = *middle;
  }
  if (block.count()) q.meanScaledJacobian = sum / double(block.count()), q.shortestEdge = shortest, q.longestEdge = longest;
  return q;
}

double sliverLimit(const Block& block) { return block.thin() && block.type == Cell::wedge6 ? 0.03 : sliver; }

std::vector<bool> nodesOfSlivers(const Mesh& mesh) {
  std::vector<bool> thin(mesh.x.size(), false);
  for (const auto& block : mesh.blocks)
    for (size_t c = 0; c < block.count(); ++c)
      if (scaledJacobian(mesh, block, c) < sliverLimit(block))
        for (int i = 0; i < info(block.type).nodes; ++i) thin[size_t(block.cell(c)[i])] = true;
  return thin;
}

std::vector<CellQuality> worstCells(const Mesh& mesh, size_t most) {
  std::vector<CellQuality> all;
  for (size_t b = 0; b < mesh.blocks.size(); ++b)
    for (size_t c = 0; c < mesh.blocks[b].count(); ++c) {
      Eigen::Vector3d middle = Eigen::Vector3d::Zero();
      const int corners = info(mesh.blocks[b].type).corners;
      for (int i = 0; i < corners; ++i) middle += mesh.x[size_t(mesh.blocks[b].cell(c)[i])] / corners;
      all.push_back({int(b), int(c), scaledJacobian(mesh, mesh.blocks[b], c), middle});
    }
  const auto worse = [](const CellQuality& a, const CellQuality& b) { return a.scaledJacobian < b.scaledJacobian; };
  most = std::min(most, all.size());
  std::partial_sort(all.begin(), all.begin() + std::ptrdiff_t(most), all.end(), worse);
  all.resize(most);
  return all;
}

}  // namespace anvil::mesh
