#include "core/mesh/cut.hpp"

#include <Eigen/Eigenvalues>
#include <Eigen/LU>
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/mesh/select.hpp"

namespace anvil::mesh {

using Eigen::Vector3d;

Vector3d areaOf(const Mesh& mesh, const Facet& facet) {
  const auto n = mesh.nodesOf(facet);
  const auto x = [&](size_t i) { return mesh.x[size_t(n[i])]; };
  return mesh.cornersOf(facet) == 3 ? Vector3d((x(1) - x(0)).cross(x(2) - x(0)) / 2)
                                    : Vector3d((x(2) - x(0)).cross(x(3) - x(1)) / 2);
}

Axis axisOf(const Mesh& mesh, const std::vector<Facet>& facets) {
  Eigen::Matrix3d sum = Eigen::Matrix3d::Zero();
  for (const auto& f : facets) {
    const Vector3d a = areaOf(mesh, f);
    if (a.norm() > 0) sum += a * a.transpose() / a.norm();
  }
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> eigen(sum);
  Vector3d d = eigen.eigenvectors().col(0);
  Eigen::Index largest;
  d.cwiseAbs().maxCoeff(&largest);
  if (d[largest] < 0) d = -d;
  for (int k = 0; k < 3; ++k)  // rounding
    if (std::abs(d[k]) > 1 - 1e-9) d = Vector3d::Unit(k);
  const double second = eigen.eigenvalues()[1];
  return {d, second > 1e-6 * sum.trace() ? std::max(eigen.eigenvalues()[0], 0.) / second : 1};
}

namespace {

Vector3d middleOf(const Mesh& mesh, const std::vector<int>& nodes, size_t count) {
  Vector3d sum = Vector3d::Zero();
  for (size_t i = 0; i < count; ++i) sum += mesh.x[size_t(nodes[i])];
  return sum / double(count);
}

std::vector<int> cornerKey(const Mesh& mesh, const Facet& f) {
  auto n = mesh.nodesOf(f);
  n.resize(size_t(mesh.cornersOf(f)));
  std::sort(n.begin(), n.end());
  return n;
}

using Edge = std::pair<int, int>;
std::vector<Edge> edgesOf(const Mesh& mesh, const Facet& f) {
  const auto n = mesh.nodesOf(f);
  const auto corners = size_t(mesh.cornersOf(f));
  std::vector<Edge> list;
  for (size_t i = 0; i < corners; ++i) list.push_back(std::minmax(n[i], n[(i + 1) % corners]));
  return list;
}

/// The shank as the cut sees it.
struct Shank {
  int part;
  Vector3d axis, middle{0, 0, 0};
  double low = 1e300, high = -1e300, radius = 0;
  double along(const Vector3d& x) const { return axis.dot(x - middle); }
  double across(const Vector3d& x) const { return (x - middle - along(x) * axis).norm(); }
};

Shank shankOf(const Mesh& mesh, const std::vector<Facet>& facets, const CutPlace& place, const std::string& path) {
  Shank s;
  s.part = mesh.blocks[size_t(facets.front().block)].part;
  for (const auto& f : facets)
    if (mesh.blocks[size_t(f.block)].part != s.part)
      throw Error("the faces of the shank belong to several parts", path + "/on", "Name faces of one part.");
  const auto found = axisOf(mesh, facets);
  const auto round = cylinderOf(mesh, facets);
  s.axis = round.fits() ? round.axis : found.direction;
  if (!place.along.isZero(0))
    s.axis = place.along.normalized();
  else if (!round.fits() && found.slope > 0.02)
    throw Error("the faces run round no axis, so it is not known how the shank is to be cut", path + "/on",
                "Name the round face of the shank, or give its axis by \"along\".");
  const auto nodes = mesh.nodesOf(facets);
  double sum = 0;
  for (const auto& f : facets) {
    const double a = areaOf(mesh, f).norm();
    const auto n = mesh.nodesOf(f);
    s.middle += a * middleOf(mesh, n, size_t(mesh.cornersOf(f))), sum += a;
  }
  s.middle /= sum;
  for (int n : nodes) {
    const Vector3d& x = mesh.x[size_t(n)];
    s.low = std::min(s.low, s.along(x)), s.high = std::max(s.high, s.along(x)), s.radius = std::max(s.radius, s.across(x));
  }
  return s;
}

}  // namespace

void cutAcross(Mesh& mesh, const std::string& name, const std::vector<Facet>& facets, const CutPlace& place,
               const std::string& path) {
  if (!(place.share > 0 && place.share < 1))
    throw Error("the shank is cut at " + shortNumber(place.share) + " of its length", path + "/cut",
                "Give a share between 0 and 1.");
  const Shank shank = shankOf(mesh, facets, place, path);
  const double plane = shank.low + place.share * (shank.high - shank.low) + 1e-7 * (shank.high - shank.low);
  // the sides between cells below and above, inside the shank; and the part's outside
  struct Seen {
    Facet below, above;
    int count = 0;
    bool hasBelow = false, hasAbove = false;
  };
  std::map<std::vector<int>, Seen> sides;
  for (size_t b = 0; b < mesh.blocks.size(); ++b) {
    const auto& block = mesh.blocks[b];
    if (block.part != shank.part) continue;
    const auto& type = info(block.type);
    for (size_t c = 0; c < block.count(); ++c) {
      Vector3d middle = Vector3d::Zero();
      for (int k = 0; k < type.corners; ++k) middle += mesh.x[size_t(block.cell(c)[k])] / type.corners;
      const bool above = shank.along(middle) > plane;
      for (int s = 0; s < type.sides; ++s) {
        const Facet f{int(b), int(c), s};
        auto& seen = sides[cornerKey(mesh, f)];
        ++seen.count;
        (above ? seen.above : seen.below) = f, (above ? seen.hasAbove : seen.hasBelow) = true;
      }
    }
  }
  std::vector<Seen> between;
  std::set<Edge> outside;
  for (const auto& [key, seen] : sides) {
    const Facet& one = seen.hasBelow ? seen.below : seen.above;
    if (seen.count == 1)
      for (const auto& e : edgesOf(mesh, one)) outside.insert(e);
    if (seen.hasBelow && seen.hasAbove &&
        shank.across(middleOf(mesh, mesh.nodesOf(one), size_t(mesh.cornersOf(one)))) < 1.02 * shank.radius)
      between.push_back(seen);
  }
  if (between.empty())
    throw Error("no element side lies across the shank at this place", path + "/cut",
                "Divide the shank into more elements along its axis, or cut it elsewhere.");
  std::map<Edge, int> rim;
  for (const auto& side : between)
    for (const auto& e : edgesOf(mesh, side.below)) ++rim[e];
  for (const auto& [edge, count] : rim)
    if (count == 1 && !outside.count(edge))
      throw Error("beside the cut the part hangs together with what is around it, near " +
                      shortNumber(mesh.x[size_t(edge.first)].x(), 4) + ", " + shortNumber(mesh.x[size_t(edge.first)].y(), 4) +
                      ", " + shortNumber(mesh.x[size_t(edge.first)].z(), 4) + " mm",
                  path + "/cut", "Cut where the shank stands free, or make the bolt a part of its own.");

  Cut cut;
  cut.name = name, cut.part = shank.part, cut.axis = shank.axis, cut.radius = shank.radius;
  std::map<int, int> copy;
  std::map<int, double> share;
  double area = 0;
  for (const auto& side : between) {
    const auto n = mesh.nodesOf(side.below);
    const auto corners = size_t(mesh.cornersOf(side.below));
    const double a = areaOf(mesh, side.below).dot(shank.axis);  // of its shadow along the axis
    area += a, cut.centre += a * middleOf(mesh, n, corners);
    for (size_t i = 0; i < n.size(); ++i) {
      copy.try_emplace(n[i], -1);
      if (i < corners) share[n[i]] += a / double(corners);
    }
  }
  cut.centre /= area, cut.area = area;
  for (auto& [node, twin] : copy) {
    twin = int(mesh.x.size());
    mesh.x.push_back(Vector3d(mesh.x[size_t(node)]));
    cut.below.push_back(node), cut.above.push_back(twin), cut.share.push_back(share[node] / area);
  }
  std::set<int> layer;
  for (auto& block : mesh.blocks) {
    if (block.part != shank.part) continue;
    const auto& type = info(block.type);
    for (size_t c = 0; c < block.count(); ++c) {
      int* const cell = block.nodes.data() + c * size_t(type.nodes);
      if (std::none_of(cell, cell + type.nodes, [&](int n) { return copy.count(n); })) continue;
      Vector3d middle = Vector3d::Zero();
      for (int k = 0; k < type.corners; ++k) middle += mesh.x[size_t(cell[k])] / type.corners;
      if (shank.along(middle) > plane) {
        for (int k = 0; k < type.nodes; ++k)
          if (const auto it = copy.find(cell[k]); it != copy.end()) cell[k] = it->second;
      } else {
        layer.insert(cell, cell + type.corners);
      }
    }
  }
  // some nodes of the layer below tell how the axis turns: Σ w x = F axis for every even deformation F
  const std::vector<int> all(layer.begin(), layer.end());
  const size_t most = 24, stride = std::max<size_t>(1, (all.size() + most - 1) / most);
  for (size_t i = 0; i < all.size(); i += stride) cut.frame.push_back(all[i]);
  const Vector3d middle = middleOf(mesh, cut.frame, cut.frame.size());
  Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
  for (int n : cut.frame) spread += (mesh.x[size_t(n)] - middle) * (mesh.x[size_t(n)] - middle).transpose();
  if (!(spread.determinant() > 1e-9 * std::pow(spread.trace(), 3)))
    throw Error("there are too few elements at the cut", path + "/cut", "Divide the shank more finely.");
  const Vector3d pull = spread.inverse() * shank.axis;
  for (int n : cut.frame) cut.weight.push_back(pull.dot(mesh.x[size_t(n)] - middle));
  mesh.cuts.push_back(std::move(cut));
}

}  // namespace anvil::mesh
