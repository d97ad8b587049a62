// Mapped quad meshes on four-sided blocks by transfinite interpolation (W. Gordon, C. Hall, IJNME 7, 1973).
#pragma once
#include <string>
#include <vector>

#include "core/geometry/recipes.hpp"
#include "core/mesh/mesh.hpp"

namespace anvil::mesh {

/// Adds a part's blocks to the mesh; nodes that coincide within the part are joined, named edges become faces
/// "part.edge". `path` is the part's place in the document, for errors (side counts that do not match, bad cells).
void addMapped(Mesh& mesh, int part, Cell type, const std::vector<geometry::Block>& blocks, const std::string& path);

}  // namespace anvil::mesh
