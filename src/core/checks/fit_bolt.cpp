#include "core/checks/fit_bolt.hpp"

#include <algorithm>
#include <cmath>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/mesh/select.hpp"
#include "core/model/bolts.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::checks {

using Eigen::Vector3d;

namespace {

double rounded(double v) { return std::round(v * 1e4) / 1e4; }

}  // namespace

HoleFit fitToHole(const mesh::Mesh& mesh, const std::string& name) {
  const auto* face = mesh.face(name);
  if (!face) throw Error("there is no face '" + name + "'", "bolts", "Pick a hole.");
  const auto c = mesh::cylinderOf(mesh, face->facets);
  if (!c.fits() || !mesh::isHole(mesh, face->facets, c))
    throw Error("'" + name + "' is no round hole", "bolts", "Pick the inside of a hole.");
  HoleFit fit;
  double low = 1e300, high = -1e300, least = c.radius;
  for (const auto& other : mesh.faces) {
    if (other.facets.empty()) continue;
    const auto o = mesh::cylinderOf(mesh, other.facets);
    const Vector3d arm = o.centre - c.centre;
    const bool coaxial = o.fits() && std::abs(o.axis.dot(c.axis)) > 1 - 1e-6 &&
                         (arm - c.axis.dot(arm) * c.axis).norm() < 0.05 * c.radius && std::abs(o.radius / c.radius - 1) < 0.1;
    if (!coaxial || !mesh::isHole(mesh, other.facets, o)) continue;
    fit.holes.push_back(other.name), least = std::min(least, o.radius);
    for (int n : mesh.nodesOf(other.facets)) {
      const double s = c.axis.dot(mesh.x[size_t(n)] - c.centre);
      low = std::min(low, s), high = std::max(high, s);
    }
  }
  fit.hole = 2 * least;
  fit.diameter = model::boltFor(fit.hole);
  fit.from = c.centre + high * c.axis, fit.to = c.centre + low * c.axis;
  return fit;
}

std::string addBolt(model::Document& d, const HoleFit& fit) {
  std::string name = "bolt";
  for (int k = 2; d.parts.find(name) || d.bolts.find(name); ++k) name = "bolt " + std::to_string(k);
  model::Part part;
  if (!d.materials.empty()) part.material = d.materials.front().first;
  model::Feature f;
  f.name = "bolt";
  model::BoltFeature bolt;
  const bool follows = std::all_of(fit.holes.begin(), fit.holes.end(), [&](const std::string& hole) {
    const auto* owner = d.parts.find(hole.substr(0, hole.find('.')));
    return owner && !owner->solid.empty();
  });
  if (follows) {
    bolt.through = fit.holes;
  } else {
    const model::Quantities q(d);
    const auto length = conversion(q.unitOf(Kind::length), Kind::length);
    for (int k = 0; k < 3; ++k)
      bolt.from.push_back(rounded(length.fromCore(fit.from[k]))), bolt.to.push_back(rounded(length.fromCore(fit.to[k])));
    bolt.diameter = length.fromCore(fit.diameter);
  }
  f.bolt = bolt, part.solid = {f};
  d.parts(name) = part;
  model::Bolt b;
  b.on = {name + ".bolt.shank"};
  // about two thirds of what a shank of 300 MPa bears, to two figures
  const double area = 0.25 * 3.141592653589793 * fit.diameter * fit.diameter, force = 0.65 * 300 * area,
               unit = std::pow(10, std::floor(std::log10(force)) - 1);
  const model::Entry value(shortNumber(std::round(force / unit) * unit / 1000) + " kN");
  if (d.steps.empty())
    b.force.value = value;
  else
    b.force.stages(d.steps.front().first) = {model::How::ramp, value};
  d.bolts(name) = b;
  return name;
}

}  // namespace anvil::checks
