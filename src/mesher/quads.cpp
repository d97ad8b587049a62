#include "mesher/quads.hpp"

#include <algorithm>
#include <map>
#include <stdexcept>

#include "mesher/polygons.hpp"
#include "mesher/rim.hpp"

namespace anvil::mesher {
namespace {

using Eigen::Vector2d;
using Eigen::Vector3d;
using Edge = std::pair<int, int>;

Vector3d level(const Vector2d& p) { return {p.x(), p.y(), 0}; }

/// Triangles of the low ends, in the plane, anticlockwise.
Polygons lowTriangles(const Prism& prism, const Tetrahedra& surface) {
  Polygons p;
  std::map<int, int> number;
  for (const auto& t : surface.triangles) {
    const auto at = std::find_if(prism.ends.begin(), prism.ends.end(), [&](const auto& e) { return e.low == t.face; });
    if (at == prism.ends.end()) continue;
    std::vector<int> cell;
    for (int n : t.node) {
      const auto [it, fresh] = number.try_emplace(n, int(p.x.size()));
      if (fresh) p.x.push_back(level(prism.flat(surface.x[size_t(n)])));
      cell.push_back(it->second);
    }
    const auto& x = p.x;
    if ((x[size_t(cell[1])] - x[size_t(cell[0])]).cross(x[size_t(cell[2])] - x[size_t(cell[0])]).z() < 0)
      std::swap(cell[1], cell[2]);
    p.cells.push_back(cell), p.face.push_back(int(at - prism.ends.begin())), p.normal.push_back(Vector3d::UnitZ());
  }
  if (p.cells.empty()) throw std::runtime_error("an end of the shape could not be meshed");
  return p;
}

}  // namespace

double scaledJacobian(const Vector2d& a, const Vector2d& b, const Vector2d& c, const Vector2d& d) {
  return scaledJacobian(level(a), level(b), level(c), level(d), Vector3d::UnitZ());
}

Quads withMiddles(const std::vector<Vector2d>& x, const std::vector<std::vector<int>>& cells, const std::vector<int>& end,
                  const Rims& rims) {
  Quads q;
  q.x = x, q.end = end;
  std::map<Edge, int> middle, uses;
  for (const auto& c : cells)
    for (size_t i = 0; i < 4; ++i) ++uses[std::minmax(c[i], c[(i + 1) % 4])];
  for (const auto& c : cells) {
    std::array<int, 8> cell{c[0], c[1], c[2], c[3]};
    for (size_t i = 0; i < 4; ++i) {
      const int a = c[i], b = c[(i + 1) % 4];
      const auto [it, fresh] = middle.try_emplace(std::minmax(a, b), int(q.x.size()));
      const bool outer = uses[std::minmax(a, b)] == 1;
      int rim = -1;
      if (fresh)
        q.x.push_back(outer ? rims.onto(x[size_t(a)], x[size_t(b)], &rim).value_or((x[size_t(a)] + x[size_t(b)]) / 2)
                            : Vector2d((x[size_t(a)] + x[size_t(b)]) / 2));
      if (outer) {
        if (rim < 0) throw std::runtime_error("the rim of an end could not be followed");
        q.sides.push_back({int(q.cells.size()), int(i), rim});
      }
      cell[4 + i] = it->second;
    }
    q.cells.push_back(cell);
    const auto at = [&](size_t i) { return q.x[size_t(cell[i])]; };
    if (const double s = scaledJacobian(at(0), at(1), at(2), at(3)); s < q.worst)
      q.worst = s, q.worstPlace = (at(0) + at(1) + at(2) + at(3)) / 4;
    // corners as the bent sides make them
    for (size_t i = 0; i < 4; ++i) {
      const size_t m = (i + 3) % 4;
      const Vector2d next = 4 * at(4 + i) - 3 * at(i) - at((i + 1) % 4), last = 4 * at(4 + m) - 3 * at(i) - at(m);
      if (const double s = cross(next, last) / std::max(next.norm() * last.norm(), 1e-300); s < q.worst)
        q.worst = s, q.worstPlace = at(i);
    }
  }
  return q;
}

Quads quadsOfTriangles(const Prism& prism, const Tetrahedra& surface) {
  const Rims rims(prism);
  Ground ground;
  ground.onFace = [](int, const Vector3d& x) { return x; };
  ground.onBorder = [&](int, int, const Vector3d& a, const Vector3d& b) {
    const Vector2d p = a.head<2>(), q = b.head<2>();
    return level(rims.onto(p, q).value_or((p + q) / 2));
  };
  const auto q = quadsOf(lowTriangles(prism, surface), ground);
  std::vector<Vector2d> x;
  for (const auto& p : q.x) x.push_back(p.head<2>());
  return withMiddles(x, q.cells, q.face, rims);
}

}  // namespace anvil::mesher
