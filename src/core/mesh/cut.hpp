// A cut across a shank, for bolts: the mesh is parted there, and what the two sides must know of each other is kept.
#pragma once
#include <string>
#include <vector>

#include "core/mesh/mesh.hpp"

namespace anvil::mesh {

/// Where a shank is cut.
struct CutPlace {
  Eigen::Vector3d along = Eigen::Vector3d::Zero();  ///< axis; zero: found from the faces
  double share = 0.5;                               ///< of the faces' length along the axis, from its lower end
};

/// Parts the cells of a solid on both sides of a plane across its shank: the nodes between them are doubled, and the cut is
/// added to `mesh.cuts`. The cut runs along the cells' sides next to the plane, so the mesh need not know of it. `shank`: facets
/// of one part around an axis. Throws Error naming `path` when they have no axis, or the part hangs together beside the cut.
void cutAcross(Mesh& mesh, const std::string& name, const std::vector<Facet>& shank, const CutPlace& place,
               const std::string& path);

/// Direction that facets go round or along: the one that their normals have least of (unit, its largest component positive), and
/// how much they have of it, 0 for a cylinder or prism.
struct Axis {
  Eigen::Vector3d direction;
  double slope;
};
Axis axisOf(const Mesh& mesh, const std::vector<Facet>& facets);

/// Area vector of a facet, mm², outward; of its corners.
Eigen::Vector3d areaOf(const Mesh& mesh, const Facet& facet);

}  // namespace anvil::mesh
