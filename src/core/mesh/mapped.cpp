#include "core/mesh/mapped.hpp"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/mesh/quality.hpp"

namespace anvil::mesh {
namespace {

using geometry::Curve2;
using geometry::Point2;
using geometry::Side;

double lengthOf(const Side& side) {
  double L = 0;
  for (const auto& c : side) L += c.length();
  return L;
}

Point2 pointOn(const Side& side, double fraction) {
  double left = fraction * lengthOf(side);
  for (size_t i = 0; i < side.size(); ++i) {
    const double L = side[i].length();
    if (left <= L * (1 + 1e-12) || i + 1 == side.size()) return side[i].at(std::min(1.0, left / L));
    left -= L;
  }
  return side.back().b;
}

/// Elements along each curve of a side: given counts, else a share of `total` (when given) or by size.
std::vector<int> countsOf(const Side& side, int total, double size, const std::string& where) {
  std::vector<int> n;
  int given = 0;
  double free = 0;
  for (const auto& c : side) {
    n.push_back(c.count);
    given += c.count;
    if (!c.count) free += c.length();
  }
  std::vector<std::pair<double, size_t>> remainder;
  int used = given;
  for (size_t i = 0; i < side.size(); ++i) {
    if (n[i]) continue;
    const double want = total ? std::max(0, total - given) * side[i].length() / free : side[i].length() / size;
    if (!(want < 1e6))
      throw Error("a side would be divided into " + shortNumber(want, 3) + " elements", where,
                  "Give a larger \"size\" or a smaller \"count\"; check units.");
    n[i] = std::max(1, total ? int(want) : int(std::lround(want)));
    used += n[i];
    remainder.emplace_back(want - n[i], i);
  }
  std::sort(remainder.rbegin(), remainder.rend());
  for (size_t k = 0; total && used < total && !remainder.empty(); ++k, ++used) ++n[remainder[k % remainder.size()].second];
  return n;
}

/// Fractions of the side's length at its nodes; breakpoints between curves are nodes.
std::vector<double> fractionsOf(const Side& side, const std::vector<int>& counts, double grading) {
  std::vector<double> f{0};
  const double total = lengthOf(side);
  int n = 0;
  for (int c : counts) n += c;
  const double ratio = n > 1 ? std::pow(grading, 1.0 / (n - 1)) : 1;
  double at = 0;
  int index = 0;
  for (size_t k = 0; k < side.size(); ++k) {
    std::vector<double> weight;
    double sum = 0;
    for (int i = 0; i < counts[k]; ++i) weight.push_back(std::pow(ratio, index++)), sum += weight.back();
    const double share = side[k].length() / total;
    double part = 0;
    for (double w : weight) part += w, f.push_back(at + share * part / sum);
    at += share;
    f.back() = at;
  }
  f.back() = 1;
  return f;
}

std::vector<double> withMidpoints(const std::vector<double>& f) {
  std::vector<double> g;
  for (size_t i = 0; i + 1 < f.size(); ++i) g.push_back(f[i]), g.push_back((f[i] + f[i + 1]) / 2);
  g.push_back(f.back());
  return g;
}

Side reversed(const Side& side) {
  Side r;
  for (auto it = side.rbegin(); it != side.rend(); ++it) {
    Curve2 c = *it;
    std::swap(c.a, c.b);
    c.from += c.sweep, c.sweep = -c.sweep;
    r.push_back(c);
  }
  return r;
}

int sum(const std::vector<int>& n) {
  int s = 0;
  for (int i : n) s += i;
  return s;
}

struct Pair {
  std::vector<double> low, high;  ///< node fractions of the two opposite sides
  std::vector<int> lowCounts, highCounts;
};

/// Divides two opposite sides (both in the same direction) into the same number of elements.
Pair divide(const Side& low, const Side& high, int count, double size, double grading, const std::string& where) {
  const auto most = [&](const Side& s) { return std::any_of(s.begin(), s.end(), [](const Curve2& c) { return c.count > 0; }); };
  const bool lowLeads =
      most(low) || (!most(high) && (low.size() > high.size() || (low.size() == high.size() && lengthOf(low) >= lengthOf(high))));
  const Side& lead = lowLeads ? low : high;
  const Side& other = lowLeads ? high : low;
  const auto leadCounts = countsOf(lead, count, size, where);
  const int n = sum(leadCounts);
  const auto otherCounts = countsOf(other, n, size, where);
  if (sum(otherCounts) != n)
    throw Error("opposite sides have " + std::to_string(n) + " and " + std::to_string(sum(otherCounts)) + " elements", where,
                "Change the counts of their pieces so that they agree.");
  const auto leadFractions = fractionsOf(lead, leadCounts, grading);
  const auto otherFractions = other.size() == 1 && lead.size() > 1 ? leadFractions : fractionsOf(other, otherCounts, grading);
  return lowLeads ? Pair{leadFractions, otherFractions, leadCounts, otherCounts}
                  : Pair{otherFractions, leadFractions, otherCounts, leadCounts};
}

/// Joins nodes on the rims of blocks that coincide within a part: of neighbours, and where a block closes on itself.
class NodePool {
 public:
  NodePool(Mesh& mesh, double tolerance) : mesh_(mesh), cell_(tolerance * 4), tolerance_(tolerance) {}
  int fresh(const Point2& p) {
    mesh_.x.emplace_back(p.x(), p.y(), 0);
    return int(mesh_.x.size()) - 1;
  }
  /// `apart`: distance to the nearest other node of the block; what lies further off than a third of it is another node.
  int join(const Point2& p, double apart) {
    const double within = std::min(tolerance_, apart / 3);
    const auto i = std::llround(p.x() / cell_), j = std::llround(p.y() / cell_);
    for (auto di = -1; di <= 1; ++di)
      for (auto dj = -1; dj <= 1; ++dj)
        if (auto it = at_.find(key(i + di, j + dj)); it != at_.end())
          for (int n : it->second)
            if ((mesh_.x[size_t(n)].head<2>() - p).norm() < within) return n;
    const int n = fresh(p);
    at_[key(i, j)].push_back(n);
    return n;
  }

 private:
  static size_t key(long long i, long long j) {
    return size_t(i) * 0x9E3779B97F4A7C15ull ^ (size_t(j) + 0x7F4A7C15ull) * 0xC2B2AE3D27D4EB4Full;
  }
  Mesh& mesh_;
  double cell_, tolerance_;
  std::unordered_map<size_t, std::vector<int>> at_;
};

void addBlock(Mesh& mesh, int part, Cell type, const geometry::Block& b, NodePool& pool, const std::string& path) {
  const std::array<Side, 4> s{b.sides[0], b.sides[1], reversed(b.sides[2]), reversed(b.sides[3])};
  const Pair u = divide(s[0], s[2], b.count[0], b.size, b.grading[0], path),
             v = divide(s[3], s[1], b.count[1], b.size, b.grading[1], path);
  const bool quadratic = type == Cell::quad8;
  const auto fine = [&](const std::vector<double>& f) { return quadratic ? withMidpoints(f) : f; };
  const auto bottom = fine(u.low), top = fine(u.high), left = fine(v.low), right = fine(v.high);
  const size_t nu = bottom.size(), nv = left.size();
  if (double(nu) * double(nv) > 4e7)
    throw Error("the mesh would have about " + shortNumber(double(nu) * double(nv), 3) + " nodes", path,
                "Give a larger \"size\" or a smaller \"count\"; check units.");
  const Point2 c00 = pointOn(s[0], 0), c10 = pointOn(s[0], 1), c01 = pointOn(s[2], 0), c11 = pointOn(s[2], 1);
  std::vector<Point2> place(nu * nv);
  for (size_t j = 0; j < nv; ++j)
    for (size_t i = 0; i < nu; ++i) {
      // blending parameters: where the straight parameter lines through the four side nodes cross
      const double du = top[i] - bottom[i], dv = right[j] - left[j];
      const double xi = (bottom[i] + left[j] * du) / (1 - du * dv), eta = left[j] + xi * dv;
      const Point2 p = (1 - eta) * pointOn(s[0], bottom[i]) + eta * pointOn(s[2], top[i]) + (1 - xi) * pointOn(s[3], left[j]) +
                       xi * pointOn(s[1], right[j]) -
                       ((1 - xi) * (1 - eta) * c00 + xi * (1 - eta) * c10 + (1 - xi) * eta * c01 + xi * eta * c11);
      place[j * nu + i] = p;
    }
  std::vector<int> node(nu * nv, -1);
  for (size_t j = 0; j < nv; ++j)
    for (size_t i = 0; i < nu; ++i) {
      if (quadratic && i % 2 && j % 2) continue;
      const Point2& p = place[j * nu + i];
      double apart = 1e300;
      if (i > 0) apart = std::min(apart, (p - place[j * nu + i - 1]).norm());
      if (i + 1 < nu) apart = std::min(apart, (p - place[j * nu + i + 1]).norm());
      if (j > 0) apart = std::min(apart, (p - place[(j - 1) * nu + i]).norm());
      if (j + 1 < nv) apart = std::min(apart, (p - place[(j + 1) * nu + i]).norm());
      const bool rim = i == 0 || j == 0 || i + 1 == nu || j + 1 == nv;
      node[j * nu + i] = rim ? pool.join(p, apart) : pool.fresh(p);
    }
  const size_t k = quadratic ? 2 : 1, cu = (nu - 1) / k, cv = (nv - 1) / k;
  Block block{type, part, {}};
  const auto at = [&](size_t i, size_t j) { return node[j * nu + i]; };
  for (size_t j = 0; j < cv; ++j)
    for (size_t i = 0; i < cu; ++i) {
      const size_t a = i * k, c = j * k;
      block.nodes.insert(block.nodes.end(), {at(a, c), at(a + k, c), at(a + k, c + k), at(a, c + k)});
      if (quadratic) block.nodes.insert(block.nodes.end(), {at(a + 1, c), at(a + 2, c + 1), at(a + 1, c + 2), at(a, c + 1)});
    }
  const int index = int(mesh.blocks.size());
  mesh.blocks.push_back(block);
  const auto q = quality(mesh, mesh.blocks.back());
  if (q.leastScaledJacobian <= 0.02)
    throw Error("the mapped mesh has folded or flat elements (scaled Jacobian " + shortNumber(q.leastScaledJacobian, 3) + ")",
                path, "Regroup the sides, split the part into blocks, or use more elements.");
  // faces: walk the four sides in path order
  const auto name = [&](const Side& side, const std::vector<int>& counts, size_t e) -> std::string {
    size_t c = 0;
    while (c + 1 < counts.size() && e >= size_t(counts[c])) e -= size_t(counts[c++]);
    return side[c].name;
  };
  const auto add = [&](const std::string& edge, Facet f) {
    if (edge.empty()) return;
    const auto full = mesh.parts[size_t(part)] + "." + edge;
    for (auto& face : mesh.faces)
      if (face.name == full) return face.facets.push_back(f);
    mesh.faces.push_back({full, part, {f}});
  };
  for (size_t i = 0; i < cu; ++i) add(name(s[0], u.lowCounts, i), {index, int(i), 0});
  for (size_t j = 0; j < cv; ++j) add(name(s[1], v.highCounts, j), {index, int(j * cu + cu - 1), 1});
  for (size_t i = cu; i-- > 0;) add(name(s[2], u.highCounts, i), {index, int((cv - 1) * cu + i), 2});
  for (size_t j = cv; j-- > 0;) add(name(s[3], v.lowCounts, j), {index, int(j * cu), 3});
}

}  // namespace

void addMapped(Mesh& mesh, int part, Cell type, const std::vector<geometry::Block>& blocks, const std::string& path) {
  double least = 1e300;
  for (const auto& b : blocks)
    for (const auto& side : b.sides) least = std::min(least, lengthOf(side));
  NodePool pool(mesh, 1e-3 * least);  // coordinates are often written with few digits
  for (size_t i = 0; i < blocks.size(); ++i)
    addBlock(mesh, part, type, blocks[i], pool, path + "/shape/" + std::to_string(i + 1));
  // an edge between two blocks is inside the part: it is no face
  const auto outer = mesh.boundary(part);
  const auto isOuter = [&](const Facet& f) {
    return std::any_of(outer.begin(), outer.end(),
                       [&](const Facet& o) { return o.block == f.block && o.cell == f.cell && o.side == f.side; });
  };
  if (blocks.size() > 1) {
    for (auto& face : mesh.faces)
      if (face.part == part) std::erase_if(face.facets, [&](const Facet& f) { return !isOuter(f); });
    std::erase_if(mesh.faces, [](const Face& f) { return f.facets.empty(); });
  }
}

}  // namespace anvil::mesh
