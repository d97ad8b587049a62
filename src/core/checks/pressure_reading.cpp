#include "core/checks/pressure_reading.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/text.hpp"
#include "core/checks/facet_points.hpp"
#include "core/checks/flat_sides.hpp"

namespace anvil::checks {
namespace {

using analysis::Problem;
using Eigen::Vector3d;

/// The strongest curvature of a face, 1/mm, above 0 where it bulges; 0 of flat faces and where it cannot be told.
double curvatureOf(const contact::Surface& surface, const mesh::Mesh& mesh) {
  double strongest = flatSides(surface, mesh).curvature;
  for (const auto& s : surface.sides) {
    if (!s.quadratic() || s.corners != 2) continue;
    const Vector3d a = mesh.x[size_t(s.node[0])], b = mesh.x[size_t(s.node[1])], m = mesh.x[size_t(s.node[2])];
    const Vector3d along = b - a, sag = m - (a + b) / 2, out(along.y(), -along.x(), 0);
    const double k = 8 * sag.dot(out.normalized()) / along.squaredNorm();  // of the circle through the three
    if (std::abs(k) > std::abs(strongest)) strongest = k;
  }
  if (const auto round = roundFace(surface, mesh)) strongest = round->bulge / round->radius;
  return strongest;
}

/// Of a rigid outline where it is next to a surface: 0 where that is straight, and at corners. In space of outlines that are
/// round all over.
double curvatureOf(const contact::RigidBody& body, const contact::Surface& surface, const Problem& p) {
  if (p.dim() == 2) {
    contact::Feature next;
    double least = 1e300;
    for (int n : surface.corners) {
      const auto f = contact::nearestFeature(body, p.mesh.x[size_t(n)].head<2>());
      if (f.kind == contact::Feature::Kind::none) continue;
      // where a flat goes over into a rounding, both are as near: the flat touches first and is the wider
      const double flat = f.kind == contact::Feature::Kind::line ? 1e-3 * surface.meanLength : 0;
      if (f.distance - flat < least) least = f.distance - flat, next = f;
    }
    return least < 1e299 && next.kind == contact::Feature::Kind::arc ? next.sign / next.radius : 0;
  }
  double k = 0;
  for (const auto& c : body.curves) {
    if (!c.arc) return 0;
    k = (c.sweep > 0 ? 1 : -1) / c.radius;
  }
  return k;
}

/// Sums over all loads, each at its largest: no contact bears more of them. N; in the plane for the model's thickness.
double forceOf(const Problem& p) {
  double sum = 0;
  for (const auto& l : p.loads) {
    if (l.moment) continue;
    double most = 0, area = 0;
    for (double y : l.course.curve.y) most = std::max(most, std::abs(y));
    eachFacetPoint(p.mesh, l.facets, [&](const Vector3d& x, const Vector3d& n) { area += n.norm() * throughAt(p, x); });
    double length = 0;
    for (double share : l.share) length += share;
    sum += most * (l.pressure ? area : l.perLength ? length : 1);
  }
  return sum;
}

}  // namespace

double lineHalfWidth(double forcePerLength, double radius, double modulus) {
  return std::sqrt(4 * forcePerLength * radius / (std::numbers::pi * modulus));
}
double pointHalfWidth(double force, double radius, double modulus) { return std::cbrt(3 * force * radius / (4 * modulus)); }

void pressureReading(Problem& p, Report& r) {
  double travel = 0;
  for (const auto& m : p.motions)
    if (!m.support && !m.turn && !m.anyAxis && m.bodyAxis < p.dim())
      for (double y : m.course.curve.y) travel = std::max(travel, std::abs(y));
  const double force = forceOf(p);
  const Eigen::VectorXd u = Eigen::VectorXd::Zero(p.dofs());
  for (auto& pair : p.pairs) {
    const auto& setup = pair.setup();
    if (setup.behaviour != contact::Behaviour::touching || setup.self || setup.image || setup.slave.sides.empty()) continue;
    const double one = curvatureOf(setup.slave, p.mesh),
                 other = setup.rigid >= 0 ? curvatureOf(contact::rigidOf(setup, p.rigid), setup.slave, p)
                                          : curvatureOf(setup.master, p.mesh);
    const double edge = setup.slave.meanLength, k = one + other;
    if (!(k > 1e-3 / edge) || (one > 0 && other < 0) || (one < 0 && other > 0)) continue;  // flat, or one in the other
    const double radius = 1 / k, nu = 0.3;
    if (setup.rigid >= 0 && radius < 2 * edge) continue;  // said of its nose
    const double compliance = (1 - nu * nu) * (1 / setup.slave.young + (setup.rigid < 0 ? 1 / setup.master.young : 0));
    const double modulus = 1 / compliance;
    const contact::Configuration configuration{p.dim(), &p.mesh.x, &u, &u, &p.rigid, p.depth()};
    const auto start = pair.measureInitial(configuration);
    // a node's mean gap is more than the least by what the faces curve away within an edge
    const double gap = start.closest < 1e299 ? start.closest : start.leastGap - edge * edge * k / 6;
    const double deep = start.nodes > 0 ? travel - std::max(0., gap) : 0;
    const bool line = p.dim() == 2 && p.setting.space != element::Space::axisymmetric;
    double half = deep > 0 ? std::sqrt(radius * deep) : 0;
    if (force > 0)
      half = std::max(
          half, line ? lineHalfWidth(force / p.setting.thickness, radius, modulus) : pointHalfWidth(force, radius, modulus));
    if (half <= 0 || edge <= half / 2) continue;
    r.findings.push_back(
        {false, "contacts/" + setup.contact,
         "By Hertz the faces will touch over " + shortNumber(2 * half, 2) + " mm at most while they are elastic (radius " +
             shortNumber(radius, 3) + " mm), but elements there are " + shortNumber(edge, 2) +
             " mm long: fewer than four across say little of its pressure.",
         "Take elements of " + shortNumber(half / 2, 1) + " mm where they meet, or read the force and not the pressure."});
  }
}

}  // namespace anvil::checks
