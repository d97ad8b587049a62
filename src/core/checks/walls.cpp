#include "core/checks/walls.hpp"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>

#include "core/base/text.hpp"
#include "core/geometry/solid.hpp"
#include "core/geometry/wall.hpp"
#include "core/mesh/cut.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::checks {
namespace {

/// Thickness of a wall of this volume and surface over the width of its side, as the mesh has them.
double slimness(const mesh::Mesh& m, int part) {
  double volume = 0, area = 0;
  for (const auto& f : m.boundary(part)) {
    const auto n = m.nodesOf(f);
    const int corners = m.cornersOf(f);
    Eigen::Vector3d middle = Eigen::Vector3d::Zero();
    for (int i = 0; i < corners; ++i) middle += m.x[size_t(n[size_t(i)])] / corners;
    const Eigen::Vector3d normal = mesh::areaOf(m, f);
    area += normal.norm(), volume += normal.dot(middle) / 3;
  }
  return area > 0 ? 2 * std::abs(volume) / area / std::sqrt(area / 2) : 1;
}

/// The names of a wall's faces, each once.
std::vector<std::string> namesOf(const geometry::Wall& wall, const geometry::Solid& solid) {
  std::vector<std::string> names;
  for (int f : wall.faces)
    if (const auto& name = solid.faces()[size_t(f)].name; std::find(names.begin(), names.end(), name) == names.end())
      names.push_back(name);
  return names;
}

}  // namespace

void thinWalls(const analysis::Problem& p, const model::Document& d, Report& r) {
  const model::Quantities q(d);
  for (size_t i = 0; i < d.parts.size(); ++i) {
    const auto& [name, part] = d.parts[i];
    if (part.rigid || part.solid.empty() || part.thin || slimness(p.mesh, int(i)) > 1. / 10) continue;
    const auto solid = geometry::solid(part, q, d.home.folder, "parts/" + name);
    const auto wall = geometry::wallOf(solid);
    if (!wall) continue;
    const auto faces = namesOf(*wall, solid);
    size_t meant = 0;  // one name may stand for faces of both sides
    for (const auto& f : solid.faces()) meant += std::find(faces.begin(), faces.end(), f.name) != faces.end();
    const bool clear = meant == wall->faces.size();
    r.findings.push_back({false, "parts/" + name,
                          "The solid is one wall, " + shortNumber(wall->thickness, 4) +
                              " mm thick all over: as a thin part it would need far fewer elements.",
                          "Make it a thin part, if what happens through its thickness does not matter.", "Make it a thin part",
                          [own = name, faces, clear, t = wall->thickness](model::Document& now) {
                            auto& thin = now.parts.find(own)->thin.emplace();
                            thin.thickness = std::round(t * 1e6) / 1e6;
                            if (clear) thin.faces = faces, thin.given = "upper";
                            now.parts.find(own)->element = "auto";
                          }});
  }
}

}  // namespace anvil::checks
