#include "core/mesh/symmetry.hpp"
#include "core/model/actions.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/quantities.hpp"
#include "core/model/regions.hpp"

#include <algorithm>
#include <cmath>

namespace anvil::mesh {
namespace {

/// The faces a support names, regions taken apart.
std::vector<const Face*> facesOf(const model::Document& d, const Mesh& mesh, const std::vector<std::string>& on) {
  std::vector<const Face*> faces;
  for (const auto& name : on) {
    const auto* region = d.regions.find(name);
    for (const auto& edge : region ? region->edges : std::vector<std::string>{name})
      for (const auto* face : mesh.facesNamed(edge)) faces.push_back(face);
  }
  return faces;
}

}  // namespace

std::vector<MirrorPlane> mirrorPlanes(const model::Document& d, const Mesh& mesh) {
  std::vector<MirrorPlane> planes;
  Eigen::Vector3d low = Eigen::Vector3d::Constant(1e300), high = -low;
  for (const auto& b : mesh.blocks)
    for (int n : b.nodes) low = low.cwiseMin(mesh.x[size_t(n)]), high = high.cwiseMax(mesh.x[size_t(n)]);
  const double tolerance = 1e-6 * (high - low).maxCoeff();
  const char* const names[3] = {"x", "y", "z"};
  for (const auto& [support, s] : d.supports) {
    if (s.fix.size() != 1 || (!s.during.empty() && s.during.size() < d.steps.size())) continue;  // a clamp mirrors nothing
    for (const auto* face : facesOf(d, mesh, s.on)) {
      const auto nodes = mesh.nodesOf(face->facets);
      if (nodes.empty()) continue;
      for (int k = d.space == "axisymmetric" ? 1 : 0; k < mesh.dim; ++k) {
        const auto& f = s.fix.front();
        const bool held = f == "normal" || f == names[k] || (d.space == "axisymmetric" && k == 1 && f == "z");
        const double at = mesh.x[size_t(nodes.front())][k];
        const bool flat =
            std::all_of(nodes.begin(), nodes.end(), [&](int n) { return std::abs(mesh.x[size_t(n)][k] - at) < tolerance; });
        if (!held || !flat || (low[k] < at - tolerance && high[k] > at + tolerance)) continue;
        if (std::none_of(planes.begin(), planes.end(),
                         [&](const MirrorPlane& p) { return p.axis == k && std::abs(p.at - at) < tolerance; }))
          planes.push_back({k, at, support});
      }
    }
  }
  // of two planes square to one axis the first is shown: mirroring about both never ends
  std::vector<MirrorPlane> kept;
  for (const auto& p : planes)
    if (std::none_of(kept.begin(), kept.end(), [&](const MirrorPlane& q) { return q.axis == p.axis; })) kept.push_back(p);
  return kept;
}

}  // namespace anvil::mesh
