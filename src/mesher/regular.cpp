// Regular grids: four-cornered figures (W. Gordon, C. Hall, IJNME 7, 1973), rings, round discs.
#include <algorithm>
#include <cmath>
#include <functional>
#include <map>
#include <stdexcept>

#include "mesher/quads.hpp"
#include "mesher/rim.hpp"

namespace anvil::mesher {
namespace {

using Eigen::Vector2d;

/// Grids put together; nodes at the same place are one.
class Grids {
 public:
  explicit Grids(double size) : tolerance_(1e-6 * size) {}
  void add(int n, int m, const std::function<Vector2d(double, double)>& at) {
    std::vector<int> id;
    for (int j = 0; j <= m; ++j)
      for (int i = 0; i <= n; ++i) id.push_back(node(at(double(i) / n, double(j) / m)));
    const auto k = [&](int i, int j) { return id[size_t(j * (n + 1) + i)]; };
    for (int j = 0; j < m; ++j)
      for (int i = 0; i < n; ++i) {
        std::vector<int> cell{k(i, j), k(i + 1, j), k(i + 1, j + 1), k(i, j + 1)};
        if (cross(x[size_t(cell[1])] - x[size_t(cell[0])], x[size_t(cell[3])] - x[size_t(cell[0])]) < 0)
          std::swap(cell[1], cell[3]);
        cells.push_back(cell);
      }
  }
  std::vector<Vector2d> x;
  std::vector<std::vector<int>> cells;

 private:
  int node(const Vector2d& p) {
    const auto key = [&](double v) { return std::llround(v / tolerance_ / 4); };
    for (long long a : {-1, 0, 1})
      for (long long b : {-1, 0, 1})
        if (const auto it = at_.find({key(p.x()) + a, key(p.y()) + b});
            it != at_.end() && (x[size_t(it->second)] - p).norm() < tolerance_)
          return it->second;
    x.push_back(p);
    return at_[{key(p.x()), key(p.y())}] = int(x.size()) - 1;
  }
  double tolerance_;
  std::map<std::pair<long long, long long>, int> at_;
};

class Regular {
 public:
  Regular(const Prism& prism, const Wishes& wishes) : prism_(prism), w_(wishes), rims_(prism) {
    for (const auto& c : rims_.curves()) size_ = std::max({size_, c.length});
  }
  std::optional<Quads> run() {
    if (prism_.ends.size() != 1) return {};
    Grids grids(size_);
    if (!fourSided(grids) && !ring(grids) && !disc(grids)) return {};
    auto q = withMiddles(grids.x, grids.cells, std::vector<int>(grids.cells.size(), 0), rims_);
    if (q.worst < 0.4) return {};
    return q;
  }

 private:
  const Rims::Curve& curve(int i) const { return rims_.curves()[size_t(i)]; }
  int divisions(int rim) const {
    const int side = prism_.rims[size_t(rim)].side;
    double h = w_.size;
    if (size_t(side) < w_.faceSize.size() && w_.faceSize[size_t(side)] > 0) h = std::min(h, w_.faceSize[size_t(side)]);
    const double n = std::max(curve(rim).length / h, rims_.edgesFor(rim, w_.perCircle));
    return std::max(1, int(std::ceil(std::min(n, 1e5) - 0.01)));
  }

  bool fourSided(Grids& grids) const {
    if (rims_.curves().size() != 4) return false;
    // in order, head to tail
    std::vector<std::pair<int, bool>> order{{0, false}};  // turned round?
    std::vector<bool> used{true, false, false, false};
    while (order.size() < 4) {
      const Vector2d end = order.back().second ? curve(order.back().first).a : curve(order.back().first).b;
      bool found = false;
      for (int i = 1; i < 4 && !found; ++i) {
        if (used[size_t(i)] || curve(i).whole()) continue;
        for (bool turned : {false, true})
          if (!found && ((turned ? curve(i).b : curve(i).a) - end).norm() < 1e-6 * size_)
            order.emplace_back(i, turned), used[size_t(i)] = found = true;
      }
      if (!found) return false;
    }
    const auto side = [&](size_t k, double s) { return rims_.at(order[k].first, order[k].second ? 1 - s : s); };
    if ((side(3, 1) - side(0, 0)).norm() > 1e-6 * size_) return false;
    double turn[4], sum = 0;  // four true corners, all turned the same way round
    for (size_t k = 0; k < 4; ++k) {
      const Vector2d in = side(k, 1) - side(k, 0.98), out = side((k + 1) % 4, 0.02) - side((k + 1) % 4, 0);
      sum += turn[k] = std::atan2(cross(in, out), in.dot(out));
    }
    for (double t : turn)
      if (t * (sum < 0 ? -1 : 1) < 0.6 || std::abs(t) > 2.3) return false;
    const int n = std::max(divisions(order[0].first), divisions(order[2].first)),
              m = std::max(divisions(order[1].first), divisions(order[3].first));
    const Vector2d c00 = side(0, 0), c10 = side(1, 0), c11 = side(2, 0), c01 = side(3, 0);
    grids.add(n, m, [&](double s, double t) -> Vector2d {
      const Vector2d low = side(0, s), right = side(1, t), high = side(2, 1 - s), left = side(3, 1 - t);
      return (1 - t) * low + t * high + (1 - s) * left + s * right -
             ((1 - s) * (1 - t) * c00 + s * (1 - t) * c10 + s * t * c11 + (1 - s) * t * c01);
    });
    return true;
  }

  bool ring(Grids& grids) const {
    if (rims_.curves().size() != 2) return false;
    const auto &a = curve(0), &b = curve(1);
    if (!a.circle || !b.circle || !a.whole() || !b.whole() || (a.centre - b.centre).norm() > 1e-6 * size_ ||
        std::abs(a.radius - b.radius) < 1e-6 * size_)
      return false;
    const double inner = std::min(a.radius, b.radius), outer = std::max(a.radius, b.radius);
    const int round = 4 * ((std::max(std::max(divisions(0), divisions(1)), 8) + 3) / 4),
              across = std::max(1, int(std::lround((outer - inner) / w_.size)));
    const auto at = [&](double s, double t) -> Vector2d {
      return a.centre + (inner + t * (outer - inner)) * Vector2d(std::cos(2 * M_PI * s), std::sin(2 * M_PI * s));
    };
    grids.add(round, across, at);
    return true;
  }

  /// A square core whose sides bulge, and four blocks round it.
  bool disc(Grids& grids) const {
    if (rims_.curves().size() != 1) return false;
    const auto& c = curve(0);
    if (!c.circle || !c.whole()) return false;
    const int n = std::max(2, (divisions(0) + 3) / 4),
              k = std::max(1, int(std::lround(0.5 * c.radius / std::max(c.length / (4 * n), 1e-300))));
    const double core = 0.55 * c.radius, bulge = 0.12;
    // the core's sides bow out towards the circle
    const auto coreSide = [&](double s, int quarter) -> Vector2d {
      const double angle = (quarter + s) * M_PI / 2 + M_PI / 4,
                   straight = core * std::cos(M_PI / 4) / std::cos((s - 0.5) * M_PI / 2);
      return ((1 - bulge) * straight + bulge * core) * Vector2d(std::cos(angle), std::sin(angle));
    };
    for (int quarter = 0; quarter < 4; ++quarter)
      grids.add(n, k, [&](double s, double t) -> Vector2d {
        const double angle = (quarter + s) * M_PI / 2 + M_PI / 4;
        return c.centre + (1 - t) * coreSide(s, quarter) + t * c.radius * Vector2d(std::cos(angle), std::sin(angle));
      });
    grids.add(n, n, [&](double s, double t) -> Vector2d {
      const Vector2d low = coreSide(s, 0), right = coreSide(t, 1), high = coreSide(1 - s, 2), left = coreSide(1 - t, 3);
      const Vector2d c00 = coreSide(0, 0), c10 = coreSide(0, 1), c11 = coreSide(0, 2), c01 = coreSide(0, 3);
      return c.centre + (1 - t) * low + t * high + (1 - s) * left + s * right -
             ((1 - s) * (1 - t) * c00 + s * (1 - t) * c10 + s * t * c11 + (1 - s) * t * c01);
    });
    return true;
  }

  const Prism& prism_;
  const Wishes& w_;
  Rims rims_;
  double size_ = 0;
};

}  // namespace

std::optional<Quads> regularQuads(const Prism& prism, const Wishes& wishes) { return Regular(prism, wishes).run(); }

}  // namespace anvil::mesher
