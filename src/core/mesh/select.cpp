#include "core/mesh/select.hpp"

#include <Eigen/Geometry>
#include <Eigen/LU>
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "core/mesh/cut.hpp"

namespace anvil::mesh {

using Eigen::Vector3d;

/// Newton's steps to the least squares of the distances from the cylinder: its centre and axis may tilt.
static void refine(const Mesh& mesh, const std::vector<int>& nodes, Cylinder& c) {
  for (int step = 0; step < 6; ++step) {
    const Vector3d u = c.axis.unitOrthogonal(), v = c.axis.cross(u);
    Eigen::Matrix<double, 5, 5> A = Eigen::Matrix<double, 5, 5>::Zero();
    Eigen::Matrix<double, 5, 1> b = Eigen::Matrix<double, 5, 1>::Zero(), row;
    for (int n : nodes) {
      const Vector3d r = mesh.x[size_t(n)] - c.centre;
      const double s = c.axis.dot(r) / c.radius;  // scaled, so that tilts compare with shifts
      const Vector3d e = (r - c.axis.dot(r) * c.axis).normalized();
      row << -e.dot(u), -e.dot(v), -s * e.dot(u), -s * e.dot(v), -1;
      A += row * row.transpose(), b -= row * (e.dot(r) - c.radius);
    }
    const Eigen::FullPivLU<Eigen::Matrix<double, 5, 5>> lu(A);
    if (!lu.isInvertible()) return;
    const Eigen::Matrix<double, 5, 1> x = lu.solve(b);
    c.centre += x[0] * u + x[1] * v, c.radius += x[4];
    c.axis = (c.axis + (x[2] * u + x[3] * v) / c.radius).normalized();
    if (!(c.radius > 0) || x.norm() < 1e-13 * c.radius) break;
  }
  for (int k = 0; k < 3; ++k)  // rounding
    if (std::abs(c.axis[k]) > 1 - 1e-12) c.axis = Vector3d::Unit(k);
}

Cylinder cylinderOf(const Mesh& mesh, const std::vector<Facet>& facets) {
  Cylinder c;
  if (facets.empty() || mesh.dim != 3) return c;
  const auto found = axisOf(mesh, facets);
  if (found.slope > 0.6) return c;  // the flat facets of a coarse mesh lean; whether it is a cylinder its corners tell
  c.axis = found.direction;
  const Vector3d u = c.axis.unitOrthogonal(), v = c.axis.cross(u);
  std::vector<int> nodes;  // corners: middles may have been drawn off the surface for their elements' sake
  for (const auto& f : facets) {
    const auto all = mesh.nodesOf(f);
    nodes.insert(nodes.end(), all.begin(), all.begin() + mesh.cornersOf(f));
  }
  std::sort(nodes.begin(), nodes.end());
  nodes.erase(std::unique(nodes.begin(), nodes.end()), nodes.end());
  Vector3d middle = Vector3d::Zero();
  for (int n : nodes) middle += mesh.x[size_t(n)] / double(nodes.size());
  Eigen::Matrix3d A = Eigen::Matrix3d::Zero();
  Vector3d b = Vector3d::Zero();
  double low = 1e300, high = -1e300;
  for (int n : nodes) {  // x² + y² = 2 a x + 2 b y + c
    const Vector3d r = mesh.x[size_t(n)] - middle, row(2 * u.dot(r), 2 * v.dot(r), 1);
    const double x = u.dot(r), y = v.dot(r);
    A += row * row.transpose(), b += row * (x * x + y * y);
    low = std::min(low, c.axis.dot(r)), high = std::max(high, c.axis.dot(r));
  }
  const Eigen::FullPivLU<Eigen::Matrix3d> lu(A);
  if (!lu.isInvertible()) return c;
  const Vector3d s = lu.solve(b);
  c.radius = std::sqrt(std::max(0., s[2] + s[0] * s[0] + s[1] * s[1]));
  c.centre = middle + s[0] * u + s[1] * v + 0.5 * (low + high) * c.axis;
  if (!(c.radius > 0)) return c;
  if (found.slope > 1e-9) refine(mesh, nodes, c);
  c.misfit = 0;
  for (int n : nodes) {
    const Vector3d r = mesh.x[size_t(n)] - c.centre;
    c.misfit = std::max(c.misfit, std::abs((r - c.axis.dot(r) * c.axis).norm() / c.radius - 1));
  }
  return c;
}

bool isHole(const Mesh& mesh, const std::vector<Facet>& facets, const Cylinder& c) {
  double sum = 0;
  for (const auto& f : facets) {
    const Vector3d r = mesh.x[size_t(mesh.nodesOf(f)[0])] - c.centre;
    sum += areaOf(mesh, f).dot(r - c.axis.dot(r) * c.axis);
  }
  return sum < 0;
}

std::vector<std::string> facesOnCylinder(const Mesh& mesh, const std::vector<Facet>& facets) {
  std::vector<std::string> names;
  const auto c = cylinderOf(mesh, facets);
  if (!c.fits()) return names;
  const int part = mesh.blocks[size_t(facets.front().block)].part;
  const double slack = std::max(2 * c.misfit, 1e-3);
  for (const auto& face : mesh.faces) {
    if (face.part != part || face.facets.empty()) continue;
    const bool on = std::all_of(face.facets.begin(), face.facets.end(), [&](const Facet& f) {
      const auto n = mesh.nodesOf(f);
      return std::all_of(n.begin(), n.begin() + mesh.cornersOf(f), [&](int node) {
        const Vector3d r = mesh.x[size_t(node)] - c.centre;
        return std::abs((r - c.axis.dot(r) * c.axis).norm() / c.radius - 1) < slack;
      });
    });
    if (on) names.push_back(face.name);
  }
  return names;
}

namespace {

using Edge = std::pair<int, int>;

/// Normal of a facet at the middle of its edge between corners k and k+1, by the shape functions of its side.
Vector3d normalAtEdge(const Mesh& mesh, const std::vector<int>& n, size_t corners, size_t k) {
  const auto x = [&](size_t i) -> const Vector3d& { return mesh.x[size_t(n[i])]; };
  const auto corner = [&](size_t i) -> const Vector3d& { return x((k + i) % corners); };
  const auto middle = [&](size_t i) -> const Vector3d& { return x(corners + (k + i) % corners); };
  const bool quadratic = n.size() > corners;
  Vector3d inward;
  if (corners == 3)
    inward = quadratic ? Vector3d(-corner(2) + 2 * middle(1) + 2 * middle(2) - 2 * middle(0) - 0.5 * corner(0) - 0.5 * corner(1))
                       : Vector3d(corner(2) - (corner(0) + corner(1)) / 2);
  else
    inward = quadratic ? Vector3d(-0.5 * (corner(0) + corner(1) + corner(2) + corner(3)) - 0.5 * middle(0) + 0.5 * middle(2) +
                                  middle(1) + middle(3))
                       : Vector3d((corner(2) + corner(3) - corner(0) - corner(1)) / 2);
  return (corner(1) - corner(0)).cross(inward).normalized();
}

}  // namespace

std::vector<std::string> facesTangentTo(const Mesh& mesh, const std::vector<Facet>& facets, double angle) {
  std::vector<std::string> names;
  if (facets.empty() || mesh.dim != 3) return names;
  const int part = mesh.blocks[size_t(facets.front().block)].part;
  std::map<Edge, std::vector<std::pair<size_t, Vector3d>>> around;  // faces and normals at each edge
  std::set<std::tuple<int, int, int>> wanted;
  for (const auto& f : facets) wanted.insert({f.block, f.cell, f.side});
  std::set<size_t> reached;
  for (size_t i = 0; i < mesh.faces.size(); ++i) {
    if (mesh.faces[i].part != part) continue;
    for (const auto& f : mesh.faces[i].facets) {
      if (wanted.count({f.block, f.cell, f.side})) reached.insert(i);
      const auto n = mesh.nodesOf(f);
      const auto corners = size_t(mesh.cornersOf(f));
      for (size_t k = 0; k < corners; ++k)
        around[std::minmax(n[k], n[(k + 1) % corners])].emplace_back(i, normalAtEdge(mesh, n, corners, k));
    }
  }
  std::map<size_t, std::set<size_t>> next;
  std::map<std::pair<size_t, size_t>, bool> sharp;  // a corner anywhere along their common edge keeps faces apart
  for (const auto& [edge, list] : around)
    if (list.size() == 2 && list[0].first != list[1].first) {
      const auto pair = std::minmax(list[0].first, list[1].first);
      sharp[pair] |= list[0].second.dot(list[1].second) < std::cos(angle);
    }
  for (const auto& [pair, corner] : sharp)
    if (!corner) next[pair.first].insert(pair.second), next[pair.second].insert(pair.first);
  std::vector<size_t> front(reached.begin(), reached.end());
  while (!front.empty()) {
    const size_t i = front.back();
    front.pop_back();
    for (size_t j : next[i])
      if (reached.insert(j).second) front.push_back(j);
  }
  for (size_t i : reached) names.push_back(mesh.faces[i].name);
  return names;
}

template <class Inside>
static std::vector<Facet> outsideWhere(const Mesh& mesh, const std::vector<int>& parts, const Inside& inside) {
  std::vector<Facet> list;
  for (int part : parts)
    for (const auto& f : mesh.boundary(part)) {
      const auto n = mesh.nodesOf(f);
      if (std::all_of(n.begin(), n.begin() + mesh.cornersOf(f), [&](int i) { return inside(mesh.x[size_t(i)]); }))
        list.push_back(f);
    }
  return list;
}

std::vector<Facet> facetsInPlane(const Mesh& mesh, const std::vector<int>& parts, const Vector3d& at, const Vector3d& normal,
                                 double within) {
  const Vector3d n = normal.normalized();
  return outsideWhere(mesh, parts, [&](const Vector3d& x) { return std::abs(n.dot(x - at)) <= within; });
}

std::vector<Facet> facetsInBox(const Mesh& mesh, const std::vector<int>& parts, const Vector3d& from, const Vector3d& to) {
  return outsideWhere(mesh, parts,
                      [&](const Vector3d& x) { return ((x - from).array() >= 0).all() && ((to - x).array() >= 0).all(); });
}

}  // namespace anvil::mesh
