#include "core/geometry/four_sides.hpp"

#include <algorithm>
#include <cmath>

namespace anvil::geometry {
namespace {

constexpr int divisions = 10;
constexpr size_t mostCorners = 16;

/// Points along a chain of curves, evenly by length.
std::vector<Point2> along(const std::vector<Curve2>& path, size_t from, size_t to) {
  double length = 0;
  for (size_t i = from; i < to; ++i) length += path[i % path.size()].length();
  std::vector<Point2> points;
  size_t i = from;
  double before = 0;
  for (int k = 0; k <= divisions; ++k) {
    const double at = length * k / divisions;
    while (i + 1 < to && before + path[i % path.size()].length() < at) before += path[i % path.size()].length(), ++i;
    const auto& c = path[i % path.size()];
    points.push_back(c.at(std::clamp((at - before) / std::max(c.length(), 1e-300), 0., 1.)));
  }
  return points;
}

/// The least scaled Jacobian of the blended mesh between four sides.
double worstCell(const std::array<std::vector<Point2>, 4>& s) {
  const int n = divisions;
  const auto at = [&](int i, int j) {
    const double u = double(i) / n, v = double(j) / n;
    const auto I = size_t(i), J = size_t(j), N = size_t(n);
    const Point2 &low = s[0][I], &right = s[1][J], &high = s[2][N - I], &left = s[3][N - J];
    return Point2((1 - v) * low + v * high + (1 - u) * left + u * right -
                  ((1 - u) * (1 - v) * s[0][0] + u * (1 - v) * s[0][N] + u * v * s[2][0] + (1 - u) * v * s[2][N]));
  };
  double worst = 1;
  for (int i = 0; i < n; ++i)
    for (int j = 0; j < n; ++j) {
      const Point2 c[4] = {at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1)};
      for (int k = 0; k < 4; ++k) {
        const Point2 a = c[(k + 1) % 4] - c[k], b = c[(k + 3) % 4] - c[k];
        const double size = a.norm() * b.norm();
        worst = std::min(worst, size > 0 ? (a.x() * b.y() - a.y() * b.x()) / size : -1.);
      }
    }
  return worst;
}

}  // namespace

std::optional<FourSides> fourSides(const std::vector<Curve2>& path) {
  const size_t n = path.size();
  if (n < 4) return {};
  // of many the sharpest; where a rounding joins smoothly there is a corner only if there are no four others
  std::vector<std::pair<double, size_t>> sharp;
  for (size_t i = 0; i < n; ++i) {
    const Point2 before = path[(i + n - 1) % n].tangent(1), after = path[i].tangent(0);
    sharp.emplace_back(std::acos(std::clamp(before.dot(after), -1., 1.)), i);
  }
  std::stable_sort(sharp.begin(), sharp.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
  const auto corners = size_t(std::count_if(sharp.begin(), sharp.end(), [](const auto& s) { return s.first > 0.3; }));
  sharp.resize(std::min(n, corners >= 4 ? std::min(corners, mostCorners) : mostCorners));
  std::vector<size_t> start;
  for (const auto& s : sharp) start.push_back(s.second);
  std::sort(start.begin(), start.end());
  const size_t m = start.size();
  double best = 0.05;  // below it a mesh is not worth having
  std::array<size_t, 4> chosen{};
  for (size_t a = 0; a + 3 < m; ++a)
    for (size_t b = a + 1; b + 2 < m; ++b)
      for (size_t c = b + 1; c + 1 < m; ++c)
        for (size_t d = c + 1; d < m; ++d) {
          const double worst = worstCell({along(path, start[a], start[b]), along(path, start[b], start[c]),
                                          along(path, start[c], start[d]), along(path, start[d], start[a] + n)});
          if (worst > best + 1e-9) best = worst, chosen = {start[a], start[b], start[c], start[d]};
        }
  if (chosen == std::array<size_t, 4>{}) return {};
  FourSides result;
  result.quality = best;
  for (size_t k = 0; k < 4; ++k) {
    const size_t end = k < 3 ? chosen[k + 1] : chosen[0] + n;
    for (size_t i = chosen[k]; i < end; ++i) result.sides[k].push_back(path[i % n]);
  }
  return result;
}

}  // namespace anvil::geometry
