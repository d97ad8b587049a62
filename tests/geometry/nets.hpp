// Surfaces of triangles for tests.
#pragma once
#include <map>
#include <vector>

#include "core/geometry/facets.hpp"

namespace anvil {

using geometry::Point3;
using geometry::Triangle;

struct Net {
  std::vector<Point3> points;
  std::vector<Triangle> triangles;
};

/// An octahedron whose facets are quartered n times, with corners on the sphere.
inline Net ball(double radius, int n) {
  Net net{{{1, 0, 0}, {-1, 0, 0}, {0, 1, 0}, {0, -1, 0}, {0, 0, 1}, {0, 0, -1}},
          {{0, 2, 4}, {2, 1, 4}, {1, 3, 4}, {3, 0, 4}, {2, 0, 5}, {1, 2, 5}, {3, 1, 5}, {0, 3, 5}}};
  for (int level = 0; level < n; ++level) {
    std::map<std::pair<int, int>, int> middle;
    const auto between = [&](int a, int b) {
      const auto [it, fresh] = middle.try_emplace({std::min(a, b), std::max(a, b)}, int(net.points.size()));
      if (fresh) net.points.push_back((net.points[size_t(a)] + net.points[size_t(b)]).normalized());
      return it->second;
    };
    std::vector<Triangle> finer;
    for (const auto& t : net.triangles) {
      const int a = between(t[0], t[1]), b = between(t[1], t[2]), c = between(t[2], t[0]);
      for (const auto& f : {Triangle{t[0], a, c}, {a, t[1], b}, {c, b, t[2]}, {a, b, c}}) finer.push_back(f);
    }
    net.triangles = finer;
  }
  for (auto& p : net.points) p *= radius;
  return net;
}

}  // namespace anvil
