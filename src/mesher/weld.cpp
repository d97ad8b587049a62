#include "mesher/weld.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

namespace anvil::mesher {
namespace {

/// Of each node the first of those that it is one with.
std::vector<int> onesOf(const std::vector<Eigen::Vector3d>& x, double width) {
  std::vector<int> one(x.size());
  std::iota(one.begin(), one.end(), 0);
  const auto root = [&](int n) {
    while (one[size_t(n)] != n) n = one[size_t(n)] = one[size_t(one[size_t(n)])];
    return n;
  };
  std::map<std::array<long, 3>, std::vector<int>> boxes;
  for (size_t n = 0; n < x.size(); ++n) {
    std::array<long, 3> box{};
    for (size_t k = 0; k < 3; ++k) box[k] = std::lround(std::floor(x[n][Eigen::Index(k)] / width));
    for (long a = -1; a <= 1; ++a)
      for (long b = -1; b <= 1; ++b)
        for (long c = -1; c <= 1; ++c)
          if (const auto it = boxes.find({box[0] + a, box[1] + b, box[2] + c}); it != boxes.end())
            for (int m : it->second)
              if ((x[size_t(m)] - x[n]).norm() < width) {
                const int p = root(m), q = root(int(n));
                one[size_t(std::max(p, q))] = std::min(p, q);
              }
    boxes[box].push_back(int(n));
  }
  for (size_t n = 0; n < x.size(); ++n) one[n] = root(int(n));
  return one;
}

/// Every edge has one triangle on either side, and they run alike.
bool isClosed(const Skin& skin) {
  std::set<std::pair<int, int>> edges;
  for (const auto& t : skin.triangles)
    for (size_t k = 0; k < 3; ++k)
      if (!edges.insert({t[k], t[(k + 1) % 3]}).second) return false;
  return std::all_of(edges.begin(), edges.end(), [&](const auto& e) { return edges.count({e.second, e.first}); });
}

}  // namespace

std::optional<Skin> welded(const Skin& skin, double width) {
  const auto one = onesOf(skin.x, width);
  std::map<std::array<int, 3>, std::vector<size_t>> onNodes;  // triangles of the same corners
  for (size_t t = 0; t < skin.triangles.size(); ++t) {
    std::array<int, 3> n{};
    for (size_t k = 0; k < 3; ++k) n[k] = one[size_t(skin.triangles[t][k])];
    std::sort(n.begin(), n.end());
    if (n[0] != n[1] && n[1] != n[2]) onNodes[n].push_back(t);
  }
  Skin result;
  std::vector<int> number(skin.x.size(), -1);
  for (size_t t = 0; t < skin.triangles.size(); ++t) {
    std::array<int, 3> n{}, sorted{};
    for (size_t k = 0; k < 3; ++k) sorted[k] = n[k] = one[size_t(skin.triangles[t][k])];
    std::sort(sorted.begin(), sorted.end());
    const auto it = onNodes.find(sorted);
    if (it == onNodes.end() || it->second.size() > 1) continue;  // vanished, or a wall on a wall
    for (int& v : n) {
      auto& own = number[size_t(v)];
      if (own < 0) own = int(result.x.size()), result.x.push_back(skin.x[size_t(v)]);
      v = own;
    }
    result.triangles.push_back(n), result.face.push_back(skin.face[t]);
  }
  if (result.triangles.empty() || !isClosed(result)) return {};
  return result;
}

}  // namespace anvil::mesher
