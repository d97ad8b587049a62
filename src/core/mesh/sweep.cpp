#include "core/mesh/sweep.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/mesh/quality.hpp"

namespace anvil::mesh {
namespace {

double turnOf(const geometry::TrailPiece& p) { return p.kind == geometry::TrailPiece::Kind::line ? 0 : std::abs(p.angle); }

/// By the element size, and no more than 30 degrees each where the trail bends.
int layersOfTrail(const geometry::Sweep& sweep, double edge) {
  double layers = 0;
  for (const auto& p : sweep.trail) layers += std::max(p.extent / std::max(edge, 1e-300), turnOf(p) / (std::numbers::pi / 6));
  return std::max(1, std::min(100000, int(std::lround(layers))));
}

class Sweeper {
 public:
  Sweeper(Mesh& mesh, int part, const Mesh& plane, const geometry::Sweep& sweep, const std::string& path)
      : mesh_(mesh),
        plane_(plane),
        part_(part),
        sweep_(sweep),
        path_(path),
        revolves_(sweep.kind == geometry::Sweep::Kind::revolve),
        quadratic_(info(plane.blocks.front().type).quadratic) {
    for (const auto& x : plane_.x) longest_ = std::max(longest_, x.norm());
    layers_ = layersOf(plane, sweep);
    perLayer_ = quadratic_ ? 2 : 1;
    if (sweep_.kind == geometry::Sweep::Kind::trail) turnsApart(), stations();
    closed_ = revolves_ && sweep_.length > 2 * std::numbers::pi * (1 - 1e-9);
    if (closed_) layers_ = std::max(layers_, 3);
    if (double(layers_) * double(plane_.x.size()) > 2e7)
      throw Error("the mesh would have about " + shortNumber(double(layers_) * double(plane_.x.size()), 3) + " nodes", path_,
                  "Give a larger \"size\" or a smaller \"count\"; check units.");
    id_.assign(plane_.x.size() * size_t(levels()), -1);
    if (revolves_)
      for (const auto& x : plane_.x)
        if (x.x() < -tolerance())
          throw Error("the shape reaches to negative x", path_ + "/revolve", "Draw it at x >= 0: it is turned about the y axis.");
  }

  void run() {
    for (size_t b = 0; b < plane_.blocks.size(); ++b) block(b);
    faces();
  }

 private:
  struct Column {  // what a plane cell became
    int block = -1, index = -1, perLayer = 0, turned = 0;
    bool wedge = false;
  };

  int levels() const { return layers_ * perLayer_ + 1; }
  double tolerance() const { return 1e-9 * (1 + longest_); }

  /// Neighbouring turns of a coil must not go through each other.
  void turnsApart() const {
    const auto& p = sweep_.trail.front();
    if (p.kind != geometry::TrailPiece::Kind::helix || p.angle <= 2 * std::numbers::pi) return;
    double low = 1e300, high = -1e300;
    for (const auto& x : plane_.x) low = std::min(low, x.y()), high = std::max(high, x.y());
    const double pitch = 2 * std::numbers::pi * std::abs(p.rise), apart = pitch * p.radius / std::hypot(p.radius, p.rise);
    if (apart < (high - low) * (1 - 1e-9))
      throw Error("the coil's turns go through each other: the section is " + shortNumber(high - low, 3) +
                      " mm high, the pitch " + shortNumber(pitch, 3) + " mm",
                  path_ + "/coil/pitch", "Give a larger pitch, or a thinner section.");
  }

  /// Shares the layers out so that each piece of the trail has its own: the seams between pieces lie between layers.
  void stations() {
    std::vector<int> own;
    int sum = 0;
    for (const auto& p : sweep_.trail) {
      double share = p.extent / sweep_.length * layers_;
      if (sweep_.count == 0) share = std::max(share, turnOf(p) / (std::numbers::pi / 6));
      own.push_back(std::max(1, int(std::lround(share)))), sum += own.back();
    }
    layers_ = sum;
    for (size_t i = 0; i < own.size(); ++i)
      for (int k = i == 0 ? 0 : 1; k <= own[i] * perLayer_; ++k)
        stations_.push_back(sweep_.trail[i].at(double(k) / (own[i] * perLayer_)));
  }

  double fraction(int level) const {
    if (const auto& b = sweep_.borders; !b.empty()) {
      const auto k = size_t(level / perLayer_);
      return level % perLayer_ ? (b[k] + b[k + 1]) / 2 : b[k];
    }
    const double f = double(level) / (levels() - 1);
    if (sweep_.grading == 1 || layers_ < 2) return f;
    const double ratio = std::pow(sweep_.grading, 1.0 / (layers_ - 1));  // geometric layers; mid levels halfway
    const auto upTo = [&](int k) { return (std::pow(ratio, k) - 1) / (std::pow(ratio, layers_) - 1); };
    const int k = level / perLayer_;
    return level % perLayer_ ? (upTo(k) + upTo(k + 1)) / 2 : upTo(k);
  }

  bool onAxis(int node) const { return revolves_ && std::abs(plane_.x[size_t(node)].x()) < tolerance(); }

  int node(int planeNode, int level) {
    if (onAxis(planeNode) || (closed_ && level == levels() - 1)) level = 0;
    int& id = id_[size_t(planeNode) * size_t(levels()) + size_t(level)];
    if (id >= 0) return id;
    const auto& p = plane_.x[size_t(planeNode)];
    const double s = sweep_.from + sweep_.length * fraction(level);
    if (!stations_.empty())
      mesh_.x.push_back(stations_[size_t(level)] * Eigen::Vector3d(p.x(), p.y(), 0));
    else if (revolves_)
      mesh_.x.emplace_back(p.x() * std::cos(s), p.y(), p.x() * std::sin(s));
    else if (const double turn = sweep_.twist * fraction(level); turn != 0)
      mesh_.x.emplace_back(p.x() * std::cos(turn) - p.y() * std::sin(turn), p.x() * std::sin(turn) + p.y() * std::cos(turn), s);
    else
      mesh_.x.emplace_back(p.x(), p.y(), s);
    return id = int(mesh_.x.size()) - 1;
  }

  /// Local sides of a quad (0..3) that lie on the axis.
  int axisSide(const int* cell) const {
    int count = 0, side = -1;
    for (int i = 0; i < 4; ++i) count += onAxis(cell[i]);
    for (int i = 0; i < 4; ++i)
      if (onAxis(cell[i]) && onAxis(cell[(i + 1) % 4])) side = i;
    if (count != 0 && (count != 2 || side < 0))
      throw Error("an element touches the axis with a corner only", path_ + "/revolve",
                  "Let a whole edge of the shape's block lie on the axis, or keep the shape off it.");
    return side;
  }

  void block(size_t b) {
    const auto& flat = plane_.blocks[b];
    columns_.emplace_back(flat.count());
    int hexes = 0, wedges = 0;
    for (size_t c = 0; c < flat.count(); ++c) {
      const int side = axisSide(flat.cell(c));
      auto& column = columns_.back()[c];
      column.wedge = side >= 0, column.turned = side >= 0 ? (side + 1) % 4 : 0;  // the axis becomes local side 3
      column.index = column.wedge ? wedges++ : hexes++;
    }
    Block hex{quadratic_ ? Cell::hex20 : Cell::hex8, part_, {}}, wedge{quadratic_ ? Cell::wedge15 : Cell::wedge6, part_, {}};
    for (int k = 0; k < layers_; ++k)
      for (size_t c = 0; c < flat.count(); ++c)
        columns_.back()[c].wedge ? addWedge(wedge, flat.cell(c), columns_.back()[c].turned, k) : addHex(hex, flat.cell(c), k);
    const int hexBlock = int(mesh_.blocks.size()), wedgeBlock = hexBlock + (hexes > 0);
    for (auto& column : columns_.back())
      column.block = column.wedge ? wedgeBlock : hexBlock, column.perLayer = column.wedge ? wedges : hexes;
    for (const auto* made : {&hex, &wedge})
      if (!made->nodes.empty()) {
        mesh_.blocks.push_back(*made);
        const auto q = quality(mesh_, *made);
        if (q.leastScaledJacobian <= 0.02)
          throw Error("swept elements are folded or flat (scaled Jacobian " + shortNumber(q.leastScaledJacobian, 3) + ")", path_,
                      "Use more layers or another division.");
      }
  }

  void addHex(Block& hex, const int* n, int layer) {
    const int low = layer * perLayer_, high = low + perLayer_;
    for (int level : {low, high})
      for (int i = 0; i < 4; ++i) hex.nodes.push_back(node(n[i], level));
    if (!quadratic_) return;
    for (int level : {low, high})
      for (int i = 4; i < 8; ++i) hex.nodes.push_back(node(n[i], level));
    for (int i = 0; i < 4; ++i) hex.nodes.push_back(node(n[i], low + 1));
  }

  /// The quad's side 3 (after turning its numbering) lies on the axis: triangles (axis, off axis now, off axis next).
  void addWedge(Block& wedge, const int* n, int turned, int layer) {
    const int low = layer * perLayer_, high = low + perLayer_;
    const auto corner = [&](int i) { return n[(i + turned) % 4]; };
    const auto middle = [&](int i) { return n[4 + (i + turned) % 4]; };
    wedge.nodes.insert(wedge.nodes.end(), {node(corner(0), low), node(corner(1), high), node(corner(1), low),
                                           node(corner(3), low), node(corner(2), high), node(corner(2), low)});
    if (!quadratic_) return;
    wedge.nodes.insert(wedge.nodes.end(), {node(middle(0), high), node(corner(1), low + 1), node(middle(0), low),
                                           node(middle(2), high), node(corner(2), low + 1), node(middle(2), low),
                                           node(middle(3), low), node(middle(1), high), node(middle(1), low)});
  }

  Facet facet(const Column& c, int layer, int side) const { return {c.block, layer * c.perLayer + c.index, side}; }

  void faces() {
    const auto add = [&](const std::string& name, const Facet& f) {
      for (auto& face : mesh_.faces)
        if (face.name == name) return face.facets.push_back(f);
      mesh_.faces.push_back({name, part_, {f}});
    };
    static const int wedgeSide[4] = {0, 3, 1, -1};
    for (const auto& face : plane_.faces)
      for (int k = 0; k < layers_; ++k)
        for (const auto& f : face.facets) {
          const auto& column = columns_[size_t(f.block)][size_t(f.cell)];
          const int side = column.wedge ? wedgeSide[(f.side - column.turned + 4) % 4] : f.side + 2;
          if (side >= 0) add(face.name, facet(column, k, side));
        }
    if (closed_) return;
    const auto part = mesh_.parts[size_t(part_)];
    for (const auto& face : plane_.faces)
      if (face.name == part + ".front" || face.name == part + ".back")
        throw Error("an edge is named '" + face.name.substr(part.size() + 1) + "', as the end face of the " +
                        (revolves_           ? "revolved"
                         : stations_.empty() ? "extruded"
                                             : "swept") +
                        " part is",
                    path_ + "/shape", "Give the edge another name: the ends are called front and back.");
    for (const auto& list : columns_)
      for (const auto& column : list) {
        add(part + ".front", facet(column, 0, column.wedge ? 4 : 0));
        add(part + ".back", facet(column, layers_ - 1, column.wedge ? 2 : 1));
      }
  }

  Mesh& mesh_;
  const Mesh& plane_;
  int part_;
  const geometry::Sweep& sweep_;
  const std::string& path_;
  bool revolves_, quadratic_, closed_ = false;
  double longest_ = 0;
  int layers_ = 1, perLayer_ = 1;
  std::vector<int> id_;
  std::vector<Eigen::Isometry3d> stations_;  ///< of the levels, where the section follows a trail
  std::vector<std::vector<Column>> columns_;
};

}  // namespace

int layersOf(const Mesh& plane, const geometry::Sweep& sweep) {
  if (sweep.count > 0) return sweep.count;
  double edge = 0, radius = 0;
  for (const auto& b : plane.blocks) edge = std::max(edge, quality(plane, b).longestEdge);
  for (const auto& x : plane.x) radius = std::max(radius, x.x());
  if (sweep.kind == geometry::Sweep::Kind::trail) return layersOfTrail(sweep, edge);
  const double twists = std::abs(sweep.twist) / (std::numbers::pi / 12);
  const bool revolves = sweep.kind == geometry::Sweep::Kind::revolve;
  const double length = revolves ? sweep.length * std::max(radius / 2, 1e-300) : sweep.length;
  return std::max(1, std::min(10000, int(std::lround(std::max(length / std::max(edge, 1e-300), twists)))));
}

void addSwept(Mesh& mesh, int part, const Mesh& plane, const geometry::Sweep& sweep, const std::string& path) {
  Sweeper(mesh, part, plane, sweep, path).run();
}

}  // namespace anvil::mesh
