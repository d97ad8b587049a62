#include "mesher/midside.hpp"

#include <algorithm>
#include <cstdint>
#include <map>
#include <unordered_map>

#include "mesher/improve.hpp"
#include "mesher/surfaces.hpp"

namespace anvil::mesher {
namespace {

using Eigen::Vector3d;

constexpr int edges[6][2] = {{0, 1}, {1, 2}, {2, 0}, {0, 3}, {1, 3}, {2, 3}};

/// Smallest Jacobian of a cell over that of its straight tetrahedron, at corners and middles.
double leastJacobian(const std::vector<Vector3d>& x, const std::array<int, 10>& cell) {
  const auto at = [&](int i) -> const Vector3d& { return x[size_t(cell[size_t(i)])]; };
  const double straight = (at(1) - at(0)).cross(at(2) - at(0)).dot(at(3) - at(0));
  double least = 1e300;
  for (int place = 0; place < 10; ++place) {
    double L[4] = {0, 0, 0, 0};
    if (place < 4)
      L[place] = 1;
    else
      L[edges[place - 4][0]] = L[edges[place - 4][1]] = 0.5;
    Vector3d d[4];  // derivatives by each barycentric coordinate
    for (int i = 0; i < 4; ++i) d[i] = (4 * L[i] - 1) * at(i);
    for (int e = 0; e < 6; ++e) {
      const int i = edges[e][0], j = edges[e][1];
      d[i] += 4 * L[j] * at(4 + e), d[j] += 4 * L[i] * at(4 + e);
    }
    least = std::min(least, (d[1] - d[0]).cross(d[2] - d[0]).dot(d[3] - d[0]) / straight);
  }
  return least;
}

/// Of all nodes of a mesh with middles.
struct Middles {
  std::vector<Vector3d> straight;  ///< where they are while edges are straight
  std::vector<bool> outer;         ///< middles on the outside: the shape says where they belong
  std::vector<bool> moved;         ///< middles that are not on their straight edge any more
};

/// Cells of which the Jacobian has become too small, somewhere.
std::vector<size_t> suffering(const Quadratic& q, const std::vector<bool>& moved) {
  std::vector<size_t> cells;
  for (size_t c = 0; c < q.cells.size(); ++c) {
    const auto& cell = q.cells[c];
    if (std::any_of(cell.begin() + 4, cell.end(), [&](int n) { return moved[size_t(n)]; }) && leastJacobian(q.x, cell) <= 0.2)
      cells.push_back(c);
  }
  return cells;
}

/// Lets the inside follow the curved outside where cells suffer, and two rings of cells round these: each inner middle moves
/// by the mean of what the middles and corners beside it move by (a harmonic extension; corners stay), to a hundredth.
void follow(Quadratic& q, Middles& m, size_t firstMiddle) {
  const auto bad = suffering(q, m.moved);
  if (bad.empty()) return;
  std::vector<bool> near(q.x.size(), false);
  for (size_t c : bad)
    for (int n : q.cells[c]) near[size_t(n)] = true;
  for (int ring = 0; ring < 2; ++ring) {
    const auto before = near;
    for (const auto& cell : q.cells)
      if (std::any_of(cell.begin(), cell.begin() + 4, [&](int n) { return before[size_t(n)]; }))
        for (int n : cell) near[size_t(n)] = true;
  }
  constexpr int beside[6][4] = {{1, 2, 3, 4}, {0, 2, 4, 5}, {0, 1, 3, 5}, {0, 4, 2, 5}, {0, 3, 1, 5}, {1, 4, 2, 3}};
  const auto follows = [&](int n) { return near[size_t(n)] && !m.outer[size_t(n)]; };
  struct Follower {
    size_t node;
    std::vector<size_t> leads;  // followers beside it, once for each cell
    Vector3d fixed, move;       // the sum over all others beside it; its own
    double count;
  };
  std::vector<Follower> followers;
  std::vector<size_t> at(q.x.size());  // in the list
  for (size_t n = 0; n < q.x.size(); ++n)
    if (follows(int(n)) && n >= firstMiddle)
      at[n] = followers.size(), followers.push_back({n, {}, Vector3d::Zero(), Vector3d::Zero(), 0});
  for (const auto& cell : q.cells)
    for (size_t e = 0; e < 6; ++e) {
      if (!follows(cell[4 + e])) continue;
      auto& f = followers[at[size_t(cell[4 + e])]];
      f.count += 6;  // four middles and the edge's two ends
      for (int other : beside[e])
        if (const auto k = size_t(cell[size_t(4 + other)]); follows(int(k)))
          f.leads.push_back(at[k]);
        else
          f.fixed += q.x[k] - m.straight[k];
    }
  double most = 0, change = 1;
  for (int sweep = 0; sweep < 30 && change > 1e-4 * most; ++sweep) {
    most = change = 0;
    for (auto& f : followers) {
      Vector3d sum = f.fixed;
      for (size_t k : f.leads) sum += followers[k].move;
      sum /= f.count;
      most = std::max(most, sum.squaredNorm()), change = std::max(change, (sum - f.move).squaredNorm());
      f.move = sum;
    }
  }
  for (const auto& f : followers) q.x[f.node] = m.straight[f.node] + f.move, m.moved[f.node] = true;
}

/// The mesh with its middles on the shape, those inside moved along where needed.
struct Bent {
  Quadratic mesh;
  Middles middles;
  std::unordered_map<int, std::pair<int, int>> sides;  ///< of outer middles: one or two faces
  std::vector<Vector3d> wanted;                        ///< all places, the outer middles on the shape
};

Bent bent(const Tetrahedra& mesh, Surfaces& surfaces) {
  Bent made;
  Quadratic& q = made.mesh;
  q.x = mesh.x;
  std::unordered_map<std::uint64_t, int> middle;  // by the two ends
  middle.reserve(2 * mesh.cells.size());
  std::vector<std::pair<int, int>> ends;  // of each middle
  const auto between = [&](int a, int b) {
    const auto [it, fresh] =
        middle.try_emplace(std::uint64_t(std::min(a, b)) << 32 | std::uint64_t(std::max(a, b)), int(q.x.size()));
    if (fresh) q.x.push_back((mesh.x[size_t(a)] + mesh.x[size_t(b)]) / 2), ends.emplace_back(a, b);
    return it->second;
  };
  for (const auto& c : mesh.cells) {
    if (const double s = scaledJacobian(mesh.x, c); s < q.worst) {
      q.worst = s, q.worstPlace.setZero();
      for (int n : c) q.worstPlace += mesh.x[size_t(n)] / 4;
    }
    std::array<int, 10> cell{c[0], c[1], c[2], c[3]};
    for (int e = 0; e < 6; ++e) cell[size_t(4 + e)] = between(c[size_t(edges[e][0])], c[size_t(edges[e][1])]);
    q.cells.push_back(cell);
  }
  auto& sides = made.sides;
  for (const auto& t : mesh.triangles) {
    Quadratic::Triangle triangle{{t.node[0], t.node[1], t.node[2]}, t.face};
    for (int e = 0; e < 3; ++e) {
      const int m = between(t.node[size_t(e)], t.node[size_t((e + 1) % 3)]);
      triangle.node[size_t(3 + e)] = m;
      const auto [it, fresh] = sides.try_emplace(m, t.face, t.face);
      if (!fresh) it->second.second = t.face;
    }
    q.triangles.push_back(triangle);
  }
  Middles& m = made.middles;
  m = {q.x, std::vector<bool>(q.x.size(), false), std::vector<bool>(q.x.size(), false)};
  for (size_t k = 0; k < ends.size(); ++k) {
    const size_t n = mesh.x.size() + k;
    const auto it = sides.find(int(n));
    if (it == sides.end()) continue;
    m.outer[n] = true;
    q.x[n] = surfaces.onto(it->second.first, it->second.second, m.straight[n],
                           (mesh.x[size_t(ends[k].first)] - mesh.x[size_t(ends[k].second)]).norm());
    m.moved[n] = (q.x[n] - m.straight[n]).squaredNorm() > 0;
  }
  made.wanted = q.x;
  follow(q, m, mesh.x.size());
  return made;
}

}  // namespace

Quadratic quadratic(Tetrahedra& mesh, const std::vector<TopoDS_Shape>& faces) {
  Surfaces surfaces(faces);
  const auto onto = [&](int a, int b, const Vector3d& mid, double length) { return surfaces.onto(a, b, mid, length); };
  auto made = bent(mesh, surfaces);
  for (int round = 0; round < 3; ++round) {
    const auto cells = suffering(made.mesh, made.middles.moved);
    if (cells.empty() || !partForCurvature(mesh, cells, onto)) break;
    made = bent(mesh, surfaces);
  }
  Quadratic q = std::move(made.mesh);
  Middles& m = made.middles;
  // back again where elements suffer still; the last round makes them straight
  for (int round = 0; round < 6; ++round) {
    std::vector<bool> back(q.x.size(), false);
    const auto bad = suffering(q, m.moved);
    if (bad.empty()) break;
    for (size_t c : bad)
      for (int e = 4; e < 10; ++e) back[size_t(q.cells[c][size_t(e)])] = m.moved[size_t(q.cells[c][size_t(e)])];
    for (size_t n = 0; n < back.size(); ++n)
      if (back[n]) {
        q.x[n] = round < 5 ? Vector3d((q.x[n] + m.straight[n]) / 2) : m.straight[n];
        if (round == 5) m.moved[n] = false;
      }
  }
  for (const auto& [n, on] : made.sides)
    if (const double off = (q.x[size_t(n)] - made.wanted[size_t(n)]).norm(); off > 0)
      for (int f : {on.first, on.second}) q.standOff[f] = std::max(q.standOff[f], off);
  return q;
}

}  // namespace anvil::mesher
