#include "mesher/polygons.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace anvil::mesher {

using Eigen::Vector3d;

double scaledJacobian(const Vector3d& a, const Vector3d& b, const Vector3d& c, const Vector3d& d, const Vector3d& normal) {
  const Vector3d x[4] = {a, b, c, d};
  double least = 1;
  for (int i = 0; i < 4; ++i) {
    const Vector3d next = x[(i + 1) % 4] - x[i], last = x[(i + 3) % 4] - x[i];
    least = std::min(least, normal.dot(next.cross(last)) / std::max(next.norm() * last.norm(), 1e-300));
  }
  return least;
}

namespace {

using Edge = std::pair<int, int>;

double cornerAngle(const Polygons& p, const Vector3d& normal, int before, int at, int after) {
  const Vector3d a = p.x[size_t(after)] - p.x[size_t(at)], b = p.x[size_t(before)] - p.x[size_t(at)];
  return std::atan2(normal.dot(a.cross(b)), a.dot(b));
}

/// A triangle with two sides on the rim that hardly turn from each other would leave a flat corner: its inner edge is laid the
/// other way.
void openFlatCorners(Polygons& p) {
  std::map<Edge, std::vector<int>> at;
  const auto note = [&](int c) {
    for (size_t i = 0; i < 3; ++i) at[std::minmax(p.cells[size_t(c)][i], p.cells[size_t(c)][(i + 1) % 3])].push_back(c);
  };
  const auto forget = [&](int c) {
    for (size_t i = 0; i < 3; ++i) std::erase(at[std::minmax(p.cells[size_t(c)][i], p.cells[size_t(c)][(i + 1) % 3])], c);
  };
  const auto isRim = [&](int a, int b) {
    const auto& cells = at[std::minmax(a, b)];
    return cells.size() != 2 || p.face[size_t(cells[0])] != p.face[size_t(cells[1])];
  };
  for (size_t c = 0; c < p.cells.size(); ++c) note(int(c));
  for (size_t c = 0; c < p.cells.size(); ++c)
    for (size_t i = 0; i < 3; ++i) {
      const int tip = p.cells[c][i], next = p.cells[c][(i + 1) % 3], last = p.cells[c][(i + 2) % 3];
      const auto& inner = at[std::minmax(next, last)];
      if (!isRim(tip, next) || !isRim(last, tip) || inner.size() != 2 || cornerAngle(p, p.normal[c], last, tip, next) < 2.2)
        continue;
      const int other = inner[0] == int(c) ? inner[1] : inner[0];
      if (p.face[size_t(other)] != p.face[c]) continue;
      const auto& theirs = p.cells[size_t(other)];
      const int far = *std::find_if(theirs.begin(), theirs.end(), [&](int n) { return n != next && n != last; });
      const std::vector<int> one{tip, next, far}, two{tip, far, last};
      const auto area = [&](const std::vector<int>& t) {
        return p.normal[c].dot((p.x[size_t(t[1])] - p.x[size_t(t[0])]).cross(p.x[size_t(t[2])] - p.x[size_t(t[0])]));
      };
      if (area(one) <= 0 || area(two) <= 0) continue;
      forget(int(c)), forget(other);
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
    Vector3d normal;
    int a, b;
  };
  std::vector<Pair> pairs;
  for (const auto& [edge, cells] : at) {
    if (cells.size() != 2 || p.face[size_t(cells[0])] != p.face[size_t(cells[1])]) continue;
    std::vector<int> quad;  // the first triangle, with the other's far corner put into the common edge
    const auto& first = p.cells[size_t(cells[0])];
    const auto& second = p.cells[size_t(cells[1])];
    const int far = *std::find_if(second.begin(), second.end(), [&e = edge](int n) { return n != e.first && n != e.second; });
    for (size_t i = 0; i < 3; ++i) {
      quad.push_back(first[i]);
      if (std::minmax(first[i], first[(i + 1) % 3]) == std::minmax(edge.first, edge.second)) quad.push_back(far);
    }
    const auto x = [&](size_t i) { return p.x[size_t(quad[i])]; };
    const Vector3d normal = (p.normal[size_t(cells[0])] + p.normal[size_t(cells[1])]).normalized();
    const double quality = scaledJacobian(x(0), x(1), x(2), x(3), normal);
    if (quality > 0.4) pairs.push_back({quality, quad, normal, cells[0], cells[1]});
  }
  std::stable_sort(pairs.begin(), pairs.end(), [](const Pair& a, const Pair& b) { return a.quality > b.quality; });
  std::vector<bool> gone(p.cells.size(), false);
  Polygons result{p.x, {}, {}, {}};
  for (const auto& pair : pairs) {
    if (gone[size_t(pair.a)] || gone[size_t(pair.b)]) continue;
    gone[size_t(pair.a)] = gone[size_t(pair.b)] = true;
    result.cells.push_back(pair.quad), result.face.push_back(p.face[size_t(pair.a)]), result.normal.push_back(pair.normal);
  }
  for (size_t c = 0; c < p.cells.size(); ++c)
    if (!gone[c]) result.cells.push_back(p.cells[c]), result.face.push_back(p.face[c]), result.normal.push_back(p.normal[c]);
  return result;
}

/// Edges of one polygon only, or between two faces, with these: nothing there is moved freely.
std::map<Edge, std::pair<int, int>> borders(const Polygons& p) {
  std::map<Edge, std::vector<int>> at;
  for (size_t c = 0; c < p.cells.size(); ++c)
    for (size_t i = 0; i < p.cells[c].size(); ++i)
      at[std::minmax(p.cells[c][i], p.cells[c][(i + 1) % p.cells[c].size()])].push_back(p.face[c]);
  std::map<Edge, std::pair<int, int>> result;
  for (const auto& [edge, faces] : at)
    if (faces.size() != 2 || faces[0] != faces[1]) result[edge] = {faces[0], faces.size() > 1 ? faces[1] : -1};
  return result;
}

/// Every polygon parted into quads round its middle.
Polygons parted(const Polygons& p, const Ground& ground) {
  Polygons q{p.x, {}, {}, {}};
  const auto border = borders(p);
  std::map<Edge, int> middle;
  const auto between = [&](int face, int a, int b) {
    const Edge e = std::minmax(a, b);
    const auto [it, fresh] = middle.try_emplace(e, int(q.x.size()));
    if (!fresh) return it->second;
    const auto at = border.find(e);
    q.x.push_back(at == border.end() ? ground.onFace(face, (p.x[size_t(a)] + p.x[size_t(b)]) / 2)
                                     : ground.onBorder(at->second.first, at->second.second, p.x[size_t(a)], p.x[size_t(b)]));
    return it->second;
  };
  for (size_t c = 0; c < p.cells.size(); ++c) {
    const auto& cell = p.cells[c];
    const size_t n = cell.size();
    std::vector<int> mid;
    Vector3d sum(0, 0, 0);
    for (size_t i = 0; i < n; ++i) mid.push_back(between(p.face[c], cell[i], cell[(i + 1) % n])), sum += q.x[size_t(mid.back())];
    const int centre = int(q.x.size());
    q.x.push_back(ground.onFace(p.face[c], sum / double(n)));
    for (size_t i = 0; i < n; ++i) {
      q.cells.push_back({cell[i], mid[i], centre, mid[(i + n - 1) % n]});
      q.face.push_back(p.face[c]), q.normal.push_back(p.normal[c]);
    }
  }
  return q;
}

/// Inner nodes moved: to the middle of their neighbours, or a little about, where that makes the worst quad round them better.
void smooth(Polygons& q, const Ground& ground) {
  std::vector<std::vector<int>> around(q.x.size());
  std::vector<std::set<int>> neighbours(q.x.size());
  for (size_t c = 0; c < q.cells.size(); ++c)
    for (size_t i = 0; i < 4; ++i) {
      around[size_t(q.cells[c][i])].push_back(int(c));
      neighbours[size_t(q.cells[c][i])].insert({q.cells[c][(i + 1) % 4], q.cells[c][(i + 3) % 4]});
    }
  std::vector<bool> fixed(q.x.size(), false);
  for (const auto& [edge, faces] : borders(q)) fixed[size_t(edge.first)] = fixed[size_t(edge.second)] = true;
  const auto worstRound = [&](size_t n) {
    double worst = 1;
    for (int c : around[n]) {
      const auto& k = q.cells[size_t(c)];
      worst = std::min(
          worst, scaledJacobian(q.x[size_t(k[0])], q.x[size_t(k[1])], q.x[size_t(k[2])], q.x[size_t(k[3])], q.normal[size_t(c)]));
    }
    return worst;
  };
  for (int round = 0; round < 12; ++round)
    for (size_t n = 0; n < q.x.size(); ++n) {
      if (fixed[n] || around[n].empty()) continue;
      const Vector3d was = q.x[n];
      const auto here = size_t(around[n].front());
      const Vector3d u = q.normal[here].unitOrthogonal(), v = q.normal[here].cross(u);
      double best = worstRound(n);
      Vector3d kept = was, mean(0, 0, 0);
      double reach = 0;
      for (int k : neighbours[n])
        mean += q.x[size_t(k)] / double(neighbours[n].size()), reach = std::max(reach, (q.x[size_t(k)] - was).norm());
      const auto attempt = [&](const Vector3d& x, double gain) {
        q.x[n] = ground.onFace(q.face[here], x);
        if (const double w = worstRound(n); w > best + gain) best = w, kept = q.x[n];
      };
      attempt(mean, best > 0.7 ? -0.02 : 1e-6);  // even sizes are worth a little where all is good
      if (best < 0.6)
        for (int k = 0; k < 8; ++k)
          attempt(kept + reach * (round < 6 ? 0.1 : 0.03) * (std::cos(k * M_PI / 4) * u + std::sin(k * M_PI / 4) * v), 1e-6);
      q.x[n] = kept;
    }
}

}  // namespace

Polygons quadsOf(Polygons triangles, const Ground& ground) {
  openFlatCorners(triangles);
  auto q = parted(joined(triangles), ground);
  smooth(q, ground);
  return q;
}

}  // namespace anvil::mesher
