#include "core/lower/sectors.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/cut.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/quantities.hpp"

namespace anvil::analysis {
namespace {

/// Where faces stand about an axis: their middle, square to it, and how far they reach from the axis and along it.
struct Standing {
  Vector3d middle = Vector3d::Zero();
  double inner = 1e300, outer = 0, low = 1e300, high = -1e300;
};
Standing standingOf(const std::vector<mesh::Facet>& facets, const mesh::Mesh& mesh, const Sector& s) {
  Standing r;
  double all = 0;
  for (const auto& f : facets) {
    const auto nodes = mesh.nodesOf(f);
    const auto x = [&](int i) -> const Vector3d& { return mesh.x[size_t(nodes[size_t(i)])]; };
    const int corners = mesh.cornersOf(f);
    Vector3d centre = Vector3d::Zero();
    for (int i = 0; i < corners; ++i) {
      centre += x(i) / corners;
      const Vector3d arm = x(i) - s.about;
      const double along = s.axis.dot(arm), out = (arm - along * s.axis).norm();
      r.inner = std::min(r.inner, out), r.outer = std::max(r.outer, out);
      r.low = std::min(r.low, along), r.high = std::max(r.high, along);
    }
    const double area = corners == 2 ? (x(1) - x(0)).norm() : mesh::areaOf(mesh, f).norm();
    const Vector3d arm = centre - s.about;
    r.middle += area * (arm - s.axis.dot(arm) * s.axis), all += area;
  }
  r.middle /= all;
  return r;
}

}  // namespace

Sector sectorOf(const model::Contact& c, const model::Document& d, const mesh::Mesh& mesh, const std::string& path) {
  const model::Quantities q(d);
  Sector s;
  if (c.between.size() != 2)
    throw Error("a sector repeats from one cut face to another", path + "/between", "Name its two cut faces.");
  if (mesh.dim == 3) {
    const auto given = q.inSpace(c.axis, path + "/axis", "\"y\", or [0, 1, 0].");
    s.axis = {given[0], given[1], given[2]};
  }
  const auto at = q.list(c.about, Kind::length, path + "/about");
  if (!at.empty() && int(at.size()) != mesh.dim)
    throw Error("the point of the axis has " + std::to_string(at.size()) + " coordinates", path + "/about",
                mesh.dim == 3 ? "Write [x, y, z]." : "Write [x, y].");
  for (size_t k = 0; k < at.size(); ++k) s.about[Eigen::Index(k)] = at[k];
  const auto first = standingOf(facetsOf({c.between[0]}, d, mesh, path + "/between/1"), mesh, s),
             second = standingOf(facetsOf({c.between[1]}, d, mesh, path + "/between/2"), mesh, s);
  const double size = std::max(first.outer, first.high - first.low);
  const auto off = [&](double a, double b) { return std::abs(a - b) > 0.02 * size; };
  if (off(first.inner, second.inner) || off(first.outer, second.outer) || off(first.low, second.low) ||
      off(first.high, second.high))
    throw Error("the two faces do not lie alike about the axis: the first reaches from " + shortNumber(first.inner, 3) + " to " +
                    shortNumber(first.outer, 3) + " mm from it, the second from " + shortNumber(second.inner, 3) + " to " +
                    shortNumber(second.outer, 3) + " mm",
                path + "/between", "Check the axis, and that the faces are the two ends of one sector.");
  if (std::min(first.middle.norm(), second.middle.norm()) < 1e-3 * size)
    throw Error("a face has its middle on the axis", path + "/between", "Name the face on one side of the axis only.");
  const double angle = std::atan2(s.axis.dot(first.middle.cross(second.middle)), first.middle.dot(second.middle));
  const double sectors = 2 * std::numbers::pi / std::max(std::abs(angle), 1e-9);
  if (sectors > 1e4 || std::abs(sectors - std::round(sectors)) > 2e-3 * sectors)
    throw Error("the faces stand " + shortNumber(std::abs(angle) * 180 / std::numbers::pi, 4) +
                    " degrees apart, of which no whole number makes a full turn",
                path + "/between", "Cut the sector at 360 degrees over a whole number.");
  s.count = int(std::lround(sectors));
  s.turn = Eigen::AngleAxisd(std::copysign(2 * std::numbers::pi / s.count, angle), s.axis).toRotationMatrix();
  return s;
}

std::vector<Sector> sectorsOf(const model::Document& d, const mesh::Mesh& mesh) {
  std::vector<Sector> list;
  for (const auto& [name, c] : d.contacts) {
    if (c.kind != "cyclic") continue;
    try {
      const auto s = sectorOf(c, d, mesh, "contacts/" + name);
      const auto same = [&s](const Sector& o) {
        return o.axis.cross(s.axis).norm() < 1e-9 && (o.about - s.about).cross(s.axis).norm() < 1e-9;
      };
      if (std::none_of(list.begin(), list.end(), same)) list.push_back(s);
    } catch (const Error&) {  // readiness tells of it
    }
  }
  return list;
}

}  // namespace anvil::analysis
