// Solid meshes from plane ones: pulled along z or turned about y. Quads become hexes; where an edge lies on the axis,
// wedges.
#pragma once
#include <string>

#include "core/geometry/recipes.hpp"
#include "core/mesh/mesh.hpp"

namespace anvil::mesh {

/// Layers that a plane mesh is swept in: as many as are asked for, else by its longest edge.
int layersOf(const Mesh& plane, const geometry::Sweep& sweep);

/// Sweeps a part's plane mesh (quad4 or quad8) into `mesh`. Named edges become faces of the same name, the two ends
/// "part.front" and "part.back" (a full turn has none). `path` is the part's place in the document, for errors.
void addSwept(Mesh& mesh, int part, const Mesh& plane, const geometry::Sweep& sweep, const std::string& path);

}  // namespace anvil::mesh
