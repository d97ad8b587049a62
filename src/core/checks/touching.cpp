#include "core/checks/touching.hpp"
#include "core/lower/lower.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <set>
#include <unordered_map>

#include "core/base/error.hpp"
#include "core/mesh/closest.hpp"
#include "core/mesh/cut.hpp"
#include "core/mesh/select.hpp"
#include "core/model/bolts.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/regions.hpp"
#include "core/problem/problem.hpp"

namespace anvil::checks {
namespace {

using Eigen::Vector3d;

/// A flat piece of a face: a triangle, or a line in the plane.
struct Piece {
  int face;
  std::array<Vector3d, 3> x;
  Vector3d normal, middle;
  double area;
};

struct Pieces {
  std::vector<Piece> list;
  std::vector<double> sagitta;  ///< per face: how far its middles stand off the flat pieces
};

Pieces piecesOf(const mesh::Mesh& mesh) {
  Pieces p;
  p.sagitta.assign(mesh.faces.size(), 0);
  for (size_t i = 0; i < mesh.faces.size(); ++i)
    for (const auto& f : mesh.faces[i].facets) {
      const auto n = mesh.nodesOf(f);
      const auto corners = size_t(mesh.cornersOf(f));
      const auto x = [&](size_t k) -> const Vector3d& { return mesh.x[size_t(n[k])]; };
      if (corners == 2) {
        const Vector3d t = x(1) - x(0), normal = t.cross(Vector3d::UnitZ()).normalized();
        p.list.push_back({int(i), {x(0), x(1), x(1)}, normal, (x(0) + x(1)) / 2, t.norm()});
        if (n.size() > 2) p.sagitta[i] = std::max(p.sagitta[i], (x(2) - (x(0) + x(1)) / 2).norm());
        continue;
      }
      for (size_t k = 0; n.size() > corners && k < corners; ++k)
        p.sagitta[i] = std::max(p.sagitta[i], (x(corners + k) - (x(k) + x((k + 1) % corners)) / 2).norm());
      for (size_t t = 0; t + 2 < corners; ++t) {
        const Vector3d a = (x(t + 1) - x(0)).cross(x(t + 2) - x(0)) / 2;
        if (a.norm() > 0)
          p.list.push_back({int(i), {x(0), x(t + 1), x(t + 2)}, a.normalized(), (x(0) + x(t + 1) + x(t + 2)) / 3, a.norm()});
      }
    }
  return p;
}

/// Pieces by the cubes of a grid that they reach into.
class Grid {
 public:
  Grid(const std::vector<Piece>& pieces, double reach) {
    double sum = 0;
    for (const auto& p : pieces) sum += std::max((p.x[1] - p.x[0]).norm(), (p.x[2] - p.x[0]).norm());
    width_ = std::max(2 * reach, pieces.empty() ? 1 : sum / double(pieces.size()));
    for (size_t i = 0; i < pieces.size(); ++i) {
      Vector3d low = pieces[i].x[0], high = low;
      for (const auto& x : pieces[i].x) low = low.cwiseMin(x), high = high.cwiseMax(x);
      each(low.array() - reach, high.array() + reach, [&](int64_t key) { cells_[key].push_back(int(i)); });
    }
  }
  const std::vector<int>& near(const Vector3d& x) const {
    static const std::vector<int> none;
    const auto it = cells_.find(key(cell(x[0]), cell(x[1]), cell(x[2])));
    return it == cells_.end() ? none : it->second;
  }

 private:
  int64_t cell(double x) const { return int64_t(std::floor(x / width_)); }
  static int64_t key(int64_t i, int64_t j, int64_t k) { return ((i & 0x1fffff) << 42) | ((j & 0x1fffff) << 21) | (k & 0x1fffff); }
  template <class F>
  void each(const Vector3d& low, const Vector3d& high, const F& f) const {
    for (int64_t i = cell(low[0]); i <= cell(high[0]); ++i)
      for (int64_t j = cell(low[1]); j <= cell(high[1]); ++j)
        for (int64_t k = cell(low[2]); k <= cell(high[2]); ++k) f(key(i, j, k));
  }
  double width_ = 1;
  std::unordered_map<int64_t, std::vector<int>> cells_;
};

struct Found {
  double gap = 1e300, overlap = 0, area = 0, otherArea = 0;  ///< areas of the first and the second face's pieces
};

/// Play between a hole and what is in it, from their cylinders: exact where facets are coarse. Nothing for other faces.
struct Round {
  bool fits = false;
  double play = 0, radius = 0;
};
Round roundPair(const mesh::Mesh& mesh, const mesh::Face& a, const mesh::Face& b) {
  const auto one = mesh::cylinderOf(mesh, a.facets), two = mesh::cylinderOf(mesh, b.facets);
  if (!one.fits() || !two.fits() || std::abs(one.axis.dot(two.axis)) < 1 - 1e-4) return {};
  const bool hole = mesh::isHole(mesh, a.facets, one);
  if (hole == mesh::isHole(mesh, b.facets, two)) return {};  // two shafts side by side
  const Vector3d arm = two.centre - one.centre;
  const double offset = (arm - one.axis.dot(arm) * one.axis).norm();
  return {true, (hole ? one.radius - two.radius : two.radius - one.radius) - offset, std::min(one.radius, two.radius)};
}

/// Faces next to a rigid part: by the distances of their nodes, which lie on the true surface.
void addRigid(const Pieces& pieces, const mesh::Mesh& mesh, const model::Document& d, double tolerance,
              std::vector<Touching>& list) {
  std::vector<std::pair<int, contact::RigidBody>> bodies;
  try {
    bodies = analysis::rigidBodies(d);
  } catch (const Error&) {
    return;  // readiness tells of it
  }
  const double facing = -std::cos(40 * std::numbers::pi / 180);
  for (const auto& [part, body] : bodies) {
    std::map<int, Found> found;
    for (const auto& p : pieces.list) {
      const auto middle = contact::distanceFrom(body, p.middle, mesh.dim);
      if (!middle || middle->normal.dot(p.normal) > facing ||
          std::abs(middle->value) > tolerance + pieces.sagitta[size_t(p.face)])
        continue;
      double least = 1e300, most = 0;
      for (const auto& x : p.x)
        if (const auto at = contact::distanceFrom(body, x, mesh.dim))
          least = std::min(least, std::abs(at->value)), most = std::max(most, -at->value);
      if (least > tolerance) continue;
      auto& f = found[p.face];
      f.gap = std::min(f.gap, least), f.overlap = std::max(f.overlap, most), f.area += p.area;
    }
    for (const auto& [face, f] : found) {
      const auto& named = mesh.faces[size_t(face)];
      Touching t;
      t.first = named.name, t.second = body.name, t.firstPart = named.part, t.secondPart = part, t.area = f.area;
      const double rounding = 1e-3 * tolerance;
      t.overlap = f.overlap > rounding ? f.overlap : 0, t.gap = t.overlap == 0 && f.gap > rounding ? f.gap : 0;
      const auto round = mesh.dim == 3 ? mesh::cylinderOf(mesh, named.facets) : mesh::Cylinder{};
      if (pieces.sagitta[size_t(face)] < 1e-6 && !round.fits())
        t.kind = Touching::Kind::flat;
      else if (round.fits())
        t.kind = Touching::Kind::cylindrical, t.radius = round.radius;
      list.push_back(t);
    }
  }
}

std::string joinedName(const std::string& a, const std::string& b) { return a + " on " + b; }

template <class T>
std::string freshName(const model::Named<T>& list, const std::string& wanted) {
  std::string name = wanted;
  for (int k = 2; list.find(name); ++k) name = wanted + " " + std::to_string(k);
  return name;
}

/// Names of the mesh's faces that a contact's side stands for.
std::set<std::string> facesOfSide(const std::string& name, const model::Document& d, const mesh::Mesh& mesh) {
  if (const auto* part = d.parts.find(name); part && part->rigid) return {name};
  std::set<std::tuple<int, int, int>> facets;
  try {
    for (const auto& f : analysis::facetsOf({name}, d, mesh, "")) facets.insert({f.block, f.cell, f.side});
  } catch (const Error&) {
    return {};  // a fault that readiness tells of
  }
  std::set<std::string> names;
  for (const auto& face : mesh.faces)
    for (const auto& f : face.facets)
      if (facets.count({f.block, f.cell, f.side})) {
        names.insert(face.name);
        break;
      }
  return names;
}

std::string partOf(const std::string& face) { return face.substr(0, face.find('.')); }

}  // namespace

double usualTolerance(const mesh::Mesh& mesh) {
  std::vector<Eigen::AlignedBox3d> boxes(mesh.parts.size());
  for (const auto& b : mesh.blocks)
    for (int n : b.nodes) boxes[size_t(b.part)].extend(mesh.x[size_t(n)]);
  double least = 1e300;
  for (const auto& box : boxes)
    if (!box.isEmpty()) least = std::min(least, box.diagonal().norm());
  return least < 1e300 ? least / 200 : 0.1;
}

std::vector<Touching> findTouching(const mesh::Mesh& mesh, const model::Document& document, double tolerance) {
  const auto pieces = piecesOf(mesh);
  const double most = pieces.sagitta.empty() ? 0 : *std::max_element(pieces.sagitta.begin(), pieces.sagitta.end());
  const Grid grid(pieces.list, tolerance + 2 * most);
  std::map<std::pair<int, int>, Found> found;  // first face below second
  const double facing = -std::cos(40 * std::numbers::pi / 180);
  for (const auto& p : pieces.list) {
    const int part = mesh.faces[size_t(p.face)].part;
    std::map<int, Found> here;  // by the other face: the nearest of its pieces
    for (int i : grid.near(p.middle)) {
      const auto& q = pieces.list[size_t(i)];
      if (mesh.faces[size_t(q.face)].part == part || p.normal.dot(q.normal) > facing) continue;
      const Vector3d arm = p.middle - mesh::closestOn(q.x, p.middle);
      const double gap = q.normal.dot(arm), limit = tolerance + pieces.sagitta[size_t(p.face)] + pieces.sagitta[size_t(q.face)];
      if (std::abs(gap) > limit || (arm - gap * q.normal).norm() > 0.05 * std::sqrt(p.area) + 1e-9) continue;  // beside it
      auto& f = here[q.face];
      if (std::abs(gap) < std::abs(f.gap)) f.gap = gap;
    }
    for (const auto& [face, f] : here) {
      auto& sum = found[std::minmax(p.face, face)];
      sum.gap = std::min(sum.gap, std::max(f.gap, 0.)), sum.overlap = std::max(sum.overlap, -f.gap);
      (p.face < face ? sum.area : sum.otherArea) += p.area;
    }
  }
  std::vector<double> whole(mesh.faces.size(), 0);
  for (const auto& p : pieces.list) whole[size_t(p.face)] += p.area;
  std::vector<Touching> list;
  for (const auto& [pair, f] : found) {
    const auto &a = mesh.faces[size_t(pair.first)], &b = mesh.faces[size_t(pair.second)];
    Touching t;
    t.first = a.name, t.second = b.name, t.firstPart = a.part, t.secondPart = b.part;
    const double rounding = 1.1 * (pieces.sagitta[size_t(pair.first)] + pieces.sagitta[size_t(pair.second)]);
    t.gap = f.gap > rounding ? f.gap : 0, t.overlap = f.overlap > rounding ? f.overlap : 0,
    t.area = whole[size_t(pair.first)] < whole[size_t(pair.second)] ? f.area : f.otherArea;  // the smaller face knows it better
    if (mesh.dim == 3) {
      Vector3d sum = Vector3d::Zero();
      for (const auto& g : a.facets) sum += mesh::areaOf(mesh, g);
      if (sum.norm() > 0.9999 * whole[size_t(pair.first)])
        t.kind = Touching::Kind::flat;
      else if (const auto round = roundPair(mesh, a, b); round.fits) {
        if (std::abs(round.play) > tolerance) continue;
        const double exact = std::abs(round.play) < 1e-3 * tolerance ? 0 : round.play;
        t.kind = Touching::Kind::cylindrical, t.radius = round.radius, t.gap = std::max(exact, 0.),
        t.overlap = std::max(-exact, 0.);
      }
    } else {
      t.kind = pieces.sagitta[size_t(pair.first)] < 1e-6 ? Touching::Kind::flat : Touching::Kind::other;
    }
    list.push_back(t);
  }
  addRigid(pieces, mesh, document, tolerance, list);
  for (const auto& [name, c] : document.contacts) {
    if (c.between.size() != 2) continue;
    const auto one = facesOfSide(c.between[0], document, mesh), two = facesOfSide(c.between[1], document, mesh);
    for (auto& t : list)
      if ((one.count(t.first) && two.count(t.second)) || (two.count(t.first) && one.count(t.second))) t.contact = name;
  }
  std::stable_sort(list.begin(), list.end(), [](const Touching& a, const Touching& b) { return a.area > b.area; });
  return list;
}

std::vector<std::string> makeContacts(model::Document& d, const mesh::Mesh& mesh, const std::vector<Touching>& pairs,
                                      const std::string& kind, const model::Entry& friction) {
  std::map<std::pair<int, int>, std::pair<std::vector<std::string>, std::vector<std::string>>> sides;
  const auto put = [](std::vector<std::string>& list, const std::string& name) {
    if (std::find(list.begin(), list.end(), name) == list.end()) list.push_back(name);
  };
  for (const auto& t : pairs) {
    const bool ordered = t.firstPart < t.secondPart;
    auto& side = sides[std::minmax(t.firstPart, t.secondPart)];
    put(side.first, ordered ? t.first : t.second), put(side.second, ordered ? t.second : t.first);
  }
  std::vector<std::string> made;
  for (const auto& [parts, side] : sides) {
    const auto &one = mesh.parts[size_t(parts.first)], &two = mesh.parts[size_t(parts.second)];
    const auto surface = [&](const std::vector<std::string>& faces, const std::string& own, const std::string& other) {
      if (faces.size() == 1) return faces.front();
      const auto name = freshName(d.regions, joinedName(own, other));
      d.regions(name).edges = faces;
      return name;
    };
    model::Contact contact;
    contact.between = {surface(side.first, one, two), surface(side.second, two, one)};
    contact.kind = kind;
    if (kind == "touching" || kind == "sliding") contact.friction = friction.given() ? friction : model::Entry(0);
    const auto name = freshName(d.contacts, joinedName(one, two));
    d.contacts(name) = contact;
    made.push_back(name);
  }
  return made;
}

/// Mean edge length of a face's facets, in space.
static double edgeOf(const mesh::Mesh& mesh, const mesh::Face& face) {
  double sum = 0;
  for (const auto& f : face.facets) sum += std::sqrt(mesh::areaOf(mesh, f).norm() * (mesh.cornersOf(f) == 3 ? 2 : 1));
  return face.facets.empty() ? 0 : sum / double(face.facets.size());
}

double finerSize(const model::Document& d, const mesh::Mesh& mesh, const std::vector<Touching>& pairs) {
  double sum = 0;
  int count = 0;
  if (mesh.dim != 3) return 0;
  for (const auto& t : pairs)
    for (const auto& name : {t.first, t.second})
      if (const auto* face = mesh.face(name)) sum += edgeOf(mesh, *face), ++count;
  return count ? sum / count / 2 / analysis::fineness(d).first : 0;
}

std::vector<std::string> refineAt(model::Document& d, const mesh::Mesh& mesh, const std::vector<Touching>& pairs,
                                  const model::Entry& written) {
  const double size = model::Quantities(d)(written, Kind::length, "elements there");
  if (!(size > 0))
    throw Error("the element length is not above zero", "elements there",
                "Give a length, or nothing to leave the elements as they are.");
  std::set<std::string> faces;
  for (const auto& t : pairs)
    for (const auto& name : {t.first, t.second}) {
      const auto* face = mesh.face(name);
      auto* part = face ? d.parts.find(mesh.parts[size_t(face->part)]) : nullptr;
      if (!part || edgeOf(mesh, *face) < 1.05 * size * analysis::fineness(d).first) continue;
      auto own = name.substr(name.find('.') + 1);
      if (part->around) own.resize(own.rfind(' '));  // the copy's number
      for (const std::string side : {" upper", " lower"})
        if (part->thin && own.ends_with(side)) own.resize(own.size() - side.size());
      const bool wholeSheet = part->thin && (part->solid.empty() || own == "upper" || own == "lower");
      if (!wholeSheet && part->solid.empty()) continue;
      if (wholeSheet)
        part->mesh = {}, part->mesh.size = written;
      else
        part->faceSizes(own) = written;
      faces.insert(name);
    }
  return {faces.begin(), faces.end()};
}

std::vector<Doubt> doubtfulContacts(const model::Document& d, const mesh::Mesh& mesh) {
  std::vector<Doubt> doubts;
  std::map<std::pair<std::string, std::string>, std::string> taken;
  for (const auto& [name, c] : d.contacts) {
    if (c.between.size() != 2) continue;
    const auto one = facesOfSide(c.between[0], d, mesh), two = facesOfSide(c.between[1], d, mesh);
    std::string twice;
    for (const auto& a : one)
      for (const auto& b : two)
        if (const auto [it, fresh] = taken.try_emplace(std::minmax(a, b), name); !fresh)
          twice = "'" + a + "' and '" + b + "' touch in contact '" + it->second + "' as well";
    if (!twice.empty())
      doubts.push_back({Doubt::Kind::countedTwice, name, twice + ": the pressure between them would be counted twice"});
    if (c.kind != "tied" && c.kind != "rough") continue;
    for (const auto& [bolt, b] : d.bolts) {
      std::set<std::string> shank;
      for (const auto& on : b.on) shank.merge(facesOfSide(on, d, mesh));
      for (const auto& face : shank)
        if (one.count(face) || two.count(face)) {
          doubts.push_back({Doubt::Kind::shankHeld, name,
                            "it holds the shank of bolt '" + bolt + "' (" + face + ") fast in " +
                                partOf(one.count(face) ? *two.begin() : *one.begin()) +
                                ", which would carry the bolt's force past its seats"});
          break;
        }
    }
  }
  return doubts;
}

}  // namespace anvil::checks
