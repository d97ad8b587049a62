#include "mesher/quads.hpp"

#include <BRep_Tool.hxx>
#include <GeomAPI_ProjectPointOnCurve.hxx>
#include <Geom_Curve.hxx>
#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <stdexcept>

#include "mesher/rim.hpp"

namespace anvil::mesher {
namespace {

using Eigen::Vector2d;
using Edge = std::pair<int, int>;

double cross(const Vector2d& a, const Vector2d& b) { return a.x() * b.y() - a.y() * b.x(); }

}  // namespace

double scaledJacobian(const Vector2d& a, const Vector2d& b, const Vector2d& c, const Vector2d& d) {
  const Vector2d x[4] = {a, b, c, d};
  double least = 1;
  for (int i = 0; i < 4; ++i) {
    const Vector2d next = x[(i + 1) % 4] - x[i], last = x[(i + 3) % 4] - x[i];
    least = std::min(least, cross(next, last) / std::max(next.norm() * last.norm(), 1e-300));
  }
  return least;
}

namespace {

/// Polygons of three or four nodes, without middles.
struct Polygons {
  std::vector<Vector2d> x;
  std::vector<std::vector<int>> cells;
  std::vector<int> end;
};

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
      if (fresh) p.x.push_back(prism.flat(surface.x[size_t(n)]));
      cell.push_back(it->second);
    }
    const auto& x = p.x;
    if (cross(x[size_t(cell[1])] - x[size_t(cell[0])], x[size_t(cell[2])] - x[size_t(cell[0])]) < 0) std::swap(cell[1], cell[2]);
    p.cells.push_back(cell), p.end.push_back(int(at - prism.ends.begin()));
  }
  if (p.cells.empty()) throw std::runtime_error("an end of the shape could not be meshed");
  return p;
}

double cornerAngle(const Polygons& p, int before, int at, int after) {
  const Vector2d a = p.x[size_t(after)] - p.x[size_t(at)], b = p.x[size_t(before)] - p.x[size_t(at)];
  return std::atan2(cross(a, b), a.dot(b));
}

/// A triangle with two sides on the rim that hardly turn from each other would leave a flat corner: its inner edge is laid the
/// other way.
void openFlatCorners(Polygons& p) {
  std::map<Edge, std::vector<int>> at;
  const auto note = [&](int c) {
    for (size_t i = 0; i < 3; ++i) at[std::minmax(p.cells[size_t(c)][i], p.cells[size_t(c)][(i + 1) % 3])].push_back(c);
  };
  for (size_t c = 0; c < p.cells.size(); ++c) note(int(c));
  for (size_t c = 0; c < p.cells.size(); ++c)
    for (size_t i = 0; i < 3; ++i) {
      const int tip = p.cells[c][i], next = p.cells[c][(i + 1) % 3], last = p.cells[c][(i + 2) % 3];
      const auto& inner = at[std::minmax(next, last)];
      if (at[std::minmax(tip, next)].size() != 1 || at[std::minmax(last, tip)].size() != 1 || inner.size() != 2 ||
          cornerAngle(p, last, tip, next) < 2.2)
        continue;
      const int other = inner[0] == int(c) ? inner[1] : inner[0];
      if (p.end[size_t(other)] != p.end[c]) continue;
      const auto& theirs = p.cells[size_t(other)];
      const int far = *std::find_if(theirs.begin(), theirs.end(), [&](int n) { return n != next && n != last; });
      const std::vector<int> one{tip, next, far}, two{tip, far, last};
      const auto area = [&](const std::vector<int>& t) {
        return cross(p.x[size_t(t[1])] - p.x[size_t(t[0])], p.x[size_t(t[2])] - p.x[size_t(t[0])]);
      };
      if (area(one) <= 0 || area(two) <= 0) continue;
      for (auto& [edge, cells] : at) std::erase_if(cells, [&](int k) { return k == int(c) || k == other; });
      p.cells[c] = one, p.cells[size_t(other)] = two;
      note(int(c)), note(other);
      break;
    }
}

/// Joins pairs of triangles, those first that make the best quads.
Polygons joined(const Polygons& p) {
  std::map<Edge, std::vector<int>> at;
  for (size_t c = 0; c < p.cells.size(); ++c)
    for (size_t i = 0; i < 3; ++i) at[std::minmax(p.cells[c][i], p.cells[c][(i + 1) % 3])].push_back(int(c));
  struct Pair {
    double quality;
    std::vector<int> quad;
    int a, b;
  };
  std::vector<Pair> pairs;
  for (const auto& [edge, cells] : at) {
    if (cells.size() != 2 || p.end[size_t(cells[0])] != p.end[size_t(cells[1])]) continue;
    std::vector<int> quad;  // the first triangle, with the other's far corner put into the common edge
    const auto& first = p.cells[size_t(cells[0])];
    const auto& second = p.cells[size_t(cells[1])];
    const int far = *std::find_if(second.begin(), second.end(), [&e = edge](int n) { return n != e.first && n != e.second; });
    for (size_t i = 0; i < 3; ++i) {
      quad.push_back(first[i]);
      if (std::minmax(first[i], first[(i + 1) % 3]) == std::minmax(edge.first, edge.second)) quad.push_back(far);
    }
    const auto x = [&](size_t i) { return p.x[size_t(quad[i])]; };
    const double quality = scaledJacobian(x(0), x(1), x(2), x(3));
    if (quality > 0.4) pairs.push_back({quality, quad, cells[0], cells[1]});
  }
  std::stable_sort(pairs.begin(), pairs.end(), [](const Pair& a, const Pair& b) { return a.quality > b.quality; });
  std::vector<bool> gone(p.cells.size(), false);
  Polygons result{p.x, {}, {}};
  for (const auto& pair : pairs) {
    if (gone[size_t(pair.a)] || gone[size_t(pair.b)]) continue;
    gone[size_t(pair.a)] = gone[size_t(pair.b)] = true;
    result.cells.push_back(pair.quad), result.end.push_back(p.end[size_t(pair.a)]);
  }
  for (size_t c = 0; c < p.cells.size(); ++c)
    if (!gone[c]) result.cells.push_back(p.cells[c]), result.end.push_back(p.end[c]);
  return result;
}

/// Edges of one polygon only, or between two ends: nothing there is moved freely.
std::set<Edge> borders(const Polygons& p) {
  std::map<Edge, std::vector<int>> at;
  for (size_t c = 0; c < p.cells.size(); ++c)
    for (size_t i = 0; i < p.cells[c].size(); ++i)
      at[std::minmax(p.cells[c][i], p.cells[c][(i + 1) % p.cells[c].size()])].push_back(p.end[c]);
  std::set<Edge> result;
  for (const auto& [edge, ends] : at)
    if (ends.size() != 2 || ends[0] != ends[1]) result.insert(edge);
  return result;
}

/// Every polygon parted into quads round its middle.
Polygons parted(const Polygons& p, const Rims& rims) {
  Polygons q{p.x, {}, {}};
  const auto border = borders(p);
  std::map<Edge, int> middle;
  const auto between = [&](int a, int b) {
    const Edge e = std::minmax(a, b);
    const auto [it, fresh] = middle.try_emplace(e, int(q.x.size()));
    if (fresh) {
      const Vector2d m = (p.x[size_t(a)] + p.x[size_t(b)]) / 2;
      q.x.push_back(border.count(e) ? rims.onto(p.x[size_t(a)], p.x[size_t(b)]).value_or(m) : m);
    }
    return it->second;
  };
  for (size_t c = 0; c < p.cells.size(); ++c) {
    const auto& cell = p.cells[c];
    const size_t n = cell.size();
    std::vector<int> mid;
    Vector2d sum(0, 0);
    for (size_t i = 0; i < n; ++i) mid.push_back(between(cell[i], cell[(i + 1) % n])), sum += q.x[size_t(mid.back())];
    const int centre = int(q.x.size());
    q.x.push_back(sum / double(n));
    for (size_t i = 0; i < n; ++i) q.cells.push_back({cell[i], mid[i], centre, mid[(i + n - 1) % n]}), q.end.push_back(p.end[c]);
  }
  return q;
}

/// Inner nodes moved: to the middle of their neighbours, or a little about, where that makes the worst quad round them better.
void smooth(Polygons& q) {
  std::vector<std::vector<int>> around(q.x.size());
  std::vector<std::set<int>> neighbours(q.x.size());
  for (size_t c = 0; c < q.cells.size(); ++c)
    for (size_t i = 0; i < 4; ++i) {
      around[size_t(q.cells[c][i])].push_back(int(c));
      neighbours[size_t(q.cells[c][i])].insert({q.cells[c][(i + 1) % 4], q.cells[c][(i + 3) % 4]});
    }
  std::vector<bool> fixed(q.x.size(), false);
  for (const auto& [a, b] : borders(q)) fixed[size_t(a)] = fixed[size_t(b)] = true;
  const auto worstRound = [&](size_t n) {
    double worst = 1;
    for (int c : around[n]) {
      const auto& k = q.cells[size_t(c)];
      worst = std::min(worst, scaledJacobian(q.x[size_t(k[0])], q.x[size_t(k[1])], q.x[size_t(k[2])], q.x[size_t(k[3])]));
    }
    return worst;
  };
  for (int round = 0; round < 12; ++round)
    for (size_t n = 0; n < q.x.size(); ++n) {
      if (fixed[n] || around[n].empty()) continue;
      const Vector2d was = q.x[n];
      double best = worstRound(n);
      Vector2d kept = was, mean(0, 0);
      double reach = 0;
      for (int k : neighbours[n])
        mean += q.x[size_t(k)] / double(neighbours[n].size()), reach = std::max(reach, (q.x[size_t(k)] - was).norm());
      const auto attempt = [&](const Vector2d& x, double gain) {
        q.x[n] = x;
        if (const double w = worstRound(n); w > best + gain) best = w, kept = x;
      };
      attempt(mean, best > 0.7 ? -0.02 : 1e-6);  // even sizes are worth a little where all is good
      if (best < 0.6)
        for (int k = 0; k < 8; ++k)
          attempt(kept + reach * (round < 6 ? 0.1 : 0.03) * Vector2d(std::cos(k * M_PI / 4), std::sin(k * M_PI / 4)), 1e-6);
      q.x[n] = kept;
    }
}

}  // namespace

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
  auto triangles = lowTriangles(prism, surface);
  openFlatCorners(triangles);
  auto q = parted(joined(triangles), rims);
  smooth(q);
  return withMiddles(q.x, q.cells, q.end, rims);
}

}  // namespace anvil::mesher
