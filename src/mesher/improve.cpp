#include "mesher/improve.hpp"

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

namespace anvil::mesher {
namespace {

using Eigen::Vector3d;

class Improver {
 public:
  /// `fresh`: whether all of it is worth working on at first, or only what is changed from here.
  Improver(Tetrahedra& mesh, bool fresh)
      : m_(mesh), around_(mesh.x.size()), skinAround_(mesh.x.size()), outer_(mesh.x.size(), false), worth_(mesh.x.size(), fresh) {
    for (size_t c = 0; c < m_.cells.size(); ++c)
      for (int n : m_.cells[c]) around_[size_t(n)].push_back(int(c));
    for (size_t t = 0; t < m_.triangles.size(); ++t) {
      auto key = m_.triangles[t].node;
      for (int n : key) outer_[size_t(n)] = true, skinAround_[size_t(n)].push_back(t);
      std::sort(key.begin(), key.end());
      skin_.insert(key);
    }
  }

  /// Works on the cells below `wanted` that have seen a change near them since they were last worked on.
  bool round(double wanted) {
    bool changed = false;
    const auto before = std::exchange(worth_, std::vector<bool>(m_.x.size(), false));
    const auto worth = [&](int n) { return worth_[size_t(n)] || (size_t(n) < before.size() && before[size_t(n)]); };
    for (size_t c = 0, count = m_.cells.size(); c < count; ++c) {
      if (std::none_of(m_.cells[c].begin(), m_.cells[c].end(), worth)) continue;
      if (scaledJacobian(m_.x, m_.cells[c]) >= wanted) continue;
      changed |= divideUnderSkin(c);
      const auto cell = m_.cells[c];
      for (int n : cell)
        if (!outer_[size_t(n)])
          changed |= move(n);
        else if (const Vector3d normal = planeRound(n); !normal.isZero(0))
          changed |= move(n, normal);
      // still thin, and held by its outer nodes: a node on one of its edges may part it
      for (size_t i = 0; i < 4 && scaledJacobian(m_.x, m_.cells[c]) < 0.12 * wanted; ++i)
        for (size_t j = i + 1; j < 4; ++j) changed |= divide(cell[i], cell[j]);
    }
    return changed;
  }

  /// See partForCurvature.
  bool partForCurvature(size_t c, const OntoFaces& onto) {
    const auto cell = m_.cells[c];
    const auto fairly = [&](int fresh, double before) { return thinnest(fresh) >= std::max(std::min(0.4 * before, 0.1), 0.05); };
    double most = 0;  // sagitta over chord
    int a = -1, b = -1;
    Vector3d place;
    std::vector<size_t> split;
    for (size_t i = 0; i < 4; ++i)
      for (size_t j = i + 1; j < 4; ++j) {
        const auto skin = skinAt(cell[i], cell[j]);
        if (skin.size() != 2) continue;
        const Vector3d middle = (at(cell[i]) + at(cell[j])) / 2;
        const double length = (at(cell[i]) - at(cell[j])).norm();
        const Vector3d on = onto(m_.triangles[skin[0]].face, m_.triangles[skin[1]].face, middle, length);
        if (const double share = (on - middle).norm() / length; share > most)
          most = share, a = cell[i], b = cell[j], place = on, split = skin;
      }
    const auto shorten = [&] { return divide(a, b, split, place, fairly); };
    const double wide = 0.12, fair = 0.06;  // arcs of 55 and 28 degrees
    if (most > wide && shorten()) return true;
    std::vector<std::pair<int, int>> outside;  // corner that faces an outer side, and that side's face
    for (size_t i = 0; i < 4; ++i) {
      const auto side = key(cell[(i + 1) % 4], cell[(i + 2) % 4], cell[(i + 3) % 4]);
      for (size_t t : skinAround_[size_t(side[0])]) {
        const auto& n = m_.triangles[t].node;
        if (key(n[0], n[1], n[2]) == side) outside.emplace_back(cell[i], m_.triangles[t].face);
      }
    }
    for (size_t i = 0; i < outside.size(); ++i)
      for (size_t j = i + 1; j < outside.size(); ++j) {
        const auto [p, face] = outside[i];
        const int q = outside[j].first;
        if (outside[j].second != face || !skinAt(p, q).empty()) continue;
        if (divide(p, q, {}, (at(p) + at(q)) / 2, [&](int fresh, double before) { return move(fresh), fairly(fresh, before); }))
          return true;
      }
    return most > fair && most <= wide && shorten();
  }

 private:
  double thinnest(int node) const {
    double least = 1;
    for (int c : around_[size_t(node)]) least = std::min(least, scaledJacobian(m_.x, m_.cells[size_t(c)]));
    return least;
  }
  /// The same where it is above a limit; else some value below that: the first cell found below ends the search, and is asked
  /// first the next time.
  double thinnestAbove(int node, double limit) {
    auto& cells = around_[size_t(node)];
    double least = 1;
    for (size_t i = 0; i < cells.size(); ++i) {
      least = std::min(least, scaledJacobian(m_.x, m_.cells[size_t(cells[i])]));
      if (least > limit) continue;
      std::swap(cells[i], cells.front());
      return least;
    }
    return least;
  }

  /// Normal of the plane face that an outer node lies inside of; zero where it lies on an edge or a curved face.
  Vector3d planeRound(int node) const {
    const auto& own = skinAround_[size_t(node)];
    Vector3d normal = Vector3d::Zero();
    for (size_t t : own) {
      const auto& n = m_.triangles[t].node;
      const Vector3d here = (at(n[1]) - at(n[0])).cross(at(n[2]) - at(n[0])).normalized();
      if (m_.triangles[t].face != m_.triangles[own.front()].face || (t != own.front() && here.dot(normal) < 1 - 1e-12))
        return Vector3d::Zero();
      if (t == own.front()) normal = here;
    }
    return normal;
  }

  /// To where the thinnest cell round it is thickest; with a normal, within the plane.
  bool move(int node, const Vector3d& normal = Vector3d::Zero()) {
    double length = 0;
    for (int c : around_[size_t(node)])
      for (int n : m_.cells[size_t(c)]) length = std::max(length, (m_.x[size_t(n)] - m_.x[size_t(node)]).norm());
    double best = thinnest(node);
    const double before = best;
    for (double step = 0.25 * length; step > 0.01 * length;) {
      const Vector3d from = m_.x[size_t(node)];
      Vector3d to = from;
      for (int i = -1; i <= 1; ++i)
        for (int j = -1; j <= 1; ++j)
          for (int k = -1; k <= 1; ++k) {
            const Vector3d way(i, j, k);
            m_.x[size_t(node)] = from + step * (way - way.dot(normal) * normal);
            if (i == 0 && j == 0 && k == 0) continue;
            if (const double here = thinnestAbove(node, best + 1e-9); here > best + 1e-9) best = here, to = m_.x[size_t(node)];
          }
      m_.x[size_t(node)] = to;
      if (to == from) step /= 2;
    }
    if (best <= before + 1e-6) return false;
    markRound(node);
    return true;
  }

  void markRound(int node) {
    for (int c : around_[size_t(node)])
      for (int n : m_.cells[size_t(c)]) worth_[size_t(n)] = true;
  }

  static std::array<int, 3> key(int a, int b, int c) {
    std::array<int, 3> k{a, b, c};
    std::sort(k.begin(), k.end());
    return k;
  }

  /// Where a cell has two outer sides or three, divides the edge opposite to the one that the flattest two share, where that
  /// helps.
  bool divideUnderSkin(size_t c) {
    const auto cell = m_.cells[c];
    std::vector<std::pair<int, Vector3d>> outside;  // corner that faces an outer side, and the side's normal
    for (size_t i = 0; i < 4; ++i) {
      const int p = cell[(i + 1) % 4], q = cell[(i + 2) % 4], r = cell[(i + 3) % 4];
      if (!skin_.count(key(p, q, r))) continue;
      Vector3d n = (at(q) - at(p)).cross(at(r) - at(p)).normalized();
      if (n.dot(at(cell[i]) - at(p)) > 0) n = -n;
      outside.emplace_back(cell[i], n);
    }
    int a = -1, b = -1;
    double flattest = -2;  // cosine
    for (size_t i = 0; i < outside.size(); ++i)
      for (size_t j = i + 1; j < outside.size(); ++j)
        if (const double cosine = outside[i].second.dot(outside[j].second); cosine > flattest)
          flattest = cosine, a = outside[i].first, b = outside[j].first;
    return a >= 0 && divide(a, b);
  }

  /// Triangles of the skin at an edge.
  std::vector<size_t> skinAt(int a, int b) const {
    std::vector<size_t> at;
    if (outer_[size_t(a)] && outer_[size_t(b)])
      for (size_t t : skinAround_[size_t(a)]) {
        const auto& n = m_.triangles[t].node;
        if (std::count(n.begin(), n.end(), b)) at.push_back(t);
      }
    return at;
  }

  /// Divides an edge in its middle, and all cells round it; one on the skin only where a plane face goes through it.
  bool divide(int a, int b) {
    const auto split = skinAt(a, b);
    Vector3d normal = Vector3d::Zero();
    if (!split.empty()) {
      if (split.size() != 2 || m_.triangles[split[0]].face != m_.triangles[split[1]].face) return false;
      Vector3d n[2];
      for (size_t i = 0; i < 2; ++i) {
        const auto& t = m_.triangles[split[i]].node;
        n[i] = (at(t[1]) - at(t[0])).cross(at(t[2]) - at(t[0])).normalized();
      }
      if (n[0].dot(n[1]) < 1 - 1e-12) return false;
      normal = n[0];
    }
    return divide(a, b, split, (at(a) + at(b)) / 2, [&](int fresh, double before) {
      move(fresh, normal);
      return thinnest(fresh) > before + 1e-6;  // else no gain
    });
  }

  /// Divides an edge at a place, and all cells and triangles round it; as it was when the outcome does not please.
  /// pleases(node, before): the new node, and how thin the thinnest cell was.
  template <class Pleases>
  bool divide(int a, int b, const std::vector<size_t>& split, const Vector3d& place, const Pleases& pleases) {
    std::vector<int> ring;
    for (int k : around_[size_t(a)])
      if (const auto& other = m_.cells[size_t(k)]; std::find(other.begin(), other.end(), b) != other.end()) ring.push_back(k);
    if (ring.empty()) return false;
    double before = 1;
    for (int k : ring) before = std::min(before, scaledJacobian(m_.x, m_.cells[size_t(k)]));
    const int fresh = int(m_.x.size());
    m_.x.push_back(place), around_.emplace_back(), skinAround_.emplace_back(), outer_.push_back(!split.empty());
    worth_.push_back(false);
    for (int k : ring) {
      auto half = m_.cells[size_t(k)];
      std::replace(half.begin(), half.end(), a, fresh);
      std::replace(m_.cells[size_t(k)].begin(), m_.cells[size_t(k)].end(), b, fresh);
      std::erase(around_[size_t(b)], k);
      const int added = int(m_.cells.size());
      m_.cells.push_back(half);
      around_[size_t(fresh)].push_back(k);
      for (int n : half) around_[size_t(n)].push_back(added);
    }
    if (!pleases(fresh, before)) {
      for (size_t i = ring.size(); i-- > 0;) {
        for (int n : m_.cells.back()) std::erase(around_[size_t(n)], int(m_.cells.size()) - 1);
        m_.cells.pop_back();
        std::replace(m_.cells[size_t(ring[i])].begin(), m_.cells[size_t(ring[i])].end(), fresh, b);
        around_[size_t(b)].push_back(ring[i]);
      }
      m_.x.pop_back(), around_.pop_back(), skinAround_.pop_back(), outer_.pop_back(), worth_.pop_back();
      return false;
    }
    for (size_t t : split) {
      auto half = m_.triangles[t];
      auto& n = m_.triangles[t].node;
      skin_.erase(key(n[0], n[1], n[2]));
      std::replace(half.node.begin(), half.node.end(), a, fresh);
      std::replace(n.begin(), n.end(), b, fresh);
      skin_.insert(key(n[0], n[1], n[2])), skin_.insert(key(half.node[0], half.node[1], half.node[2]));
      std::erase(skinAround_[size_t(b)], t);
      for (int node : half.node) skinAround_[size_t(node)].push_back(m_.triangles.size());
      skinAround_[size_t(fresh)].push_back(t);
      m_.triangles.push_back(half);
    }
    markRound(fresh);
    return true;
  }

  const Vector3d& at(int node) const { return m_.x[size_t(node)]; }

  Tetrahedra& m_;
  std::vector<std::vector<int>> around_;
  std::vector<std::vector<size_t>> skinAround_;  ///< triangles at each node
  std::vector<bool> outer_;
  std::vector<bool> worth_;  ///< nodes near which something has changed
  std::set<std::array<int, 3>> skin_;
};

}  // namespace

double scaledJacobian(const std::vector<Vector3d>& x, const std::array<int, 4>& c) {
  const auto at = [&](int i) -> const Vector3d& { return x[size_t(c[size_t(i)])]; };
  const Vector3d a = at(1) - at(0), b = at(2) - at(0), d = at(3) - at(0);
  const double volume = a.cross(b).dot(d);
  const double aa = a.squaredNorm(), bb = b.squaredNorm(), dd = d.squaredNorm(), ab = (b - a).squaredNorm(),
               bd = (d - b).squaredNorm(), ad = (d - a).squaredNorm();
  // the three edges at each corner: the longest ones make the least, of what is inside out the shortest
  const std::array<double, 4> lengths{aa * bb * dd, aa * ab * ad, bb * ab * bd, dd * ad * bd};
  const double which =
      volume > 0 ? *std::max_element(lengths.begin(), lengths.end()) : *std::min_element(lengths.begin(), lengths.end());
  return std::min(1., std::sqrt(2.) * volume / std::sqrt(which));
}

bool partForCurvature(Tetrahedra& mesh, const std::vector<size_t>& cells, const OntoFaces& onto) {
  Improver improver(mesh, false);
  bool any = false;
  for (size_t c : cells) any |= improver.partForCurvature(c, onto);
  if (any) improver.round(0.25);
  return any;
}

void improve(Tetrahedra& mesh, double wanted) {
  Improver improver(mesh, true);
  for (int round = 0; round < 4; ++round)
    if (!improver.round(wanted)) break;
}

}  // namespace anvil::mesher
