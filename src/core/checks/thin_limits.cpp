#include "core/checks/thin_limits.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <set>
#include <vector>

#include "core/base/text.hpp"
#include "core/run/constraints.hpp"

namespace anvil::checks {
namespace {

using Eigen::Vector3d;

/// What a sheet is like, over all blocks of a part.
struct Shape {
  double thickness = 0, area = 0, rim = 0, radius = 1e300;
  Vector3d bend{0, 0, 0};  ///< where the radius is smallest
};

/// Adds a cell's middle surface: area, and radii of curvature by how its nodes' ways across turn along its sides. Corners of a
/// folded line turn more and count as folds.
void add(const mesh::Mesh& m, const mesh::Block& b, size_t cell, std::map<std::pair<int, int>, int>& edges, Shape& s) {
  const int half = mesh::info(b.type).nodes / 2;
  const int* n = b.cell(cell);
  const auto middle = [&](int i) { return Vector3d((m.x[size_t(n[i])] + m.x[size_t(n[i + half])]) / 2); };
  const auto across = [&](int i) { return Vector3d(m.x[size_t(n[i + half])] - m.x[size_t(n[i])]).normalized(); };
  const Vector3d normal = half == 4 ? Vector3d((middle(2) - middle(0)).cross(middle(3) - middle(1)).normalized())
                                    : Vector3d((middle(1) - middle(0)).cross(middle(2) - middle(0)).normalized());
  bool beside = false;  // a fold: there the ways across lean
  for (int i = 0; i < half; ++i) beside |= across(i).dot(normal) < std::cos(std::numbers::pi / 11);
  for (int i = 0; i < half; ++i) {
    const int k = (i + 1) % half;
    s.area += (middle(i) - middle(0)).cross(middle(k) - middle(0)).norm() / 2;
    ++edges[std::minmax(n[i], n[k])];
    const double turn = std::atan2(across(i).cross(across(k)).norm(), across(i).dot(across(k)));
    const double radius = (middle(k) - middle(i)).norm() / std::max(turn, 1e-12);
    if (!beside && turn < std::numbers::pi / 9 && radius < s.radius) s.radius = radius, s.bend = (middle(i) + middle(k)) / 2;
  }
}

}  // namespace

void thinLimits(const analysis::Problem& p, Report& r) {
  const auto& m = p.mesh;
  for (size_t part = 0; part < m.parts.size(); ++part) {
    Shape s;
    std::map<std::pair<int, int>, int> edges;
    for (const auto& b : m.blocks) {
      if (b.part != int(part) || !b.thin()) continue;
      s.thickness = b.thickness;
      for (size_t c = 0; c < b.count(); ++c) add(m, b, c, edges, s);
    }
    if (s.thickness == 0) continue;
    for (const auto& [edge, cells] : edges)
      if (cells == 1) s.rim += (m.x[size_t(edge.first)] - m.x[size_t(edge.second)]).norm();
    const auto place = "parts/" + m.parts[part] + "/thin/thickness";
    const std::string remedy = "Model it as a solid, or take its answers near there as rough.";
    if (s.thickness > s.radius / 5 * 1.01)
      r.findings.push_back({false, place,
                            "The sheet is " + shortNumber(s.thickness, 3) + " mm thick, more than a fifth of its radius of " +
                                shortNumber(s.radius, 2) + " mm near x " + shortNumber(s.bend.x(), 3) + ", y " +
                                shortNumber(s.bend.y(), 3) + ", z " + shortNumber(s.bend.z(), 3) + ".",
                            remedy});
    else if (const double width = 4 * s.area / s.rim; s.rim > 0 && s.thickness > width / 5)
      r.findings.push_back({false, place,
                            "The sheet is " + shortNumber(s.thickness, 3) +
                                " mm thick, more than a fifth of its width of about " + shortNumber(width, 2) + " mm.",
                            remedy});
  }
}

void hingesHeld(const analysis::Problem& p, Report& r) {
  std::set<std::string> told;
  for (size_t step = 0; step < p.steps.size(); ++step) {
    const analysis::Constraints c(p, int(step));
    std::map<std::string, int> idle;  // directions in which others hold the whole edge
    for (int m : c.idleHinges()) ++idle[p.motions[size_t(m)].name];
    for (const auto& [name, directions] : idle) {
      const auto hinged = std::count_if(p.motions.begin(), p.motions.end(), [&, &own = name](const analysis::Motion& m) {
        return m.name == own && !m.opposite.empty() && m.course.active[step];
      });
      if (directions < std::min<std::ptrdiff_t>(2, hinged) || !told.insert(name).second) continue;
      const auto& m = *std::find_if(p.motions.begin(), p.motions.end(),
                                    [&, &own = name](const analysis::Motion& k) { return k.name == own && !k.opposite.empty(); });
      r.findings.push_back({true, (m.support ? "supports/" : "motions/") + name + "/edge",
                            "The edge of '" + name + "' is hinged, and held at once by another support or motion in step '" +
                                p.steps[step].name + "' (near " + p.whereIs(m.nodes.front()) + "): held, it cannot turn.",
                            "Keep one of them."});
    }
  }
}

}  // namespace anvil::checks
