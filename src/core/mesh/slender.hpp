// Meshes of slender parts: nodes along lines, turns where they are joined.
#pragma once
#include "core/geometry/recipes.hpp"
#include "core/geometry/slender.hpp"
#include "core/mesh/mesh.hpp"

namespace anvil::mesh {

/// Adds a slender part, put in its place: a node at every point and between the pieces of lines; a turn for all lines that are
/// rigidly joined at a point, and one for each hinged end. Points that are those of other parts take their nodes and turns; those
/// parts are in the mesh already. Throws Error where one is not.
void addSlender(Mesh& mesh, int part, const geometry::SlenderShape& shape, const geometry::Placement& placement,
                const std::string& path);

}  // namespace anvil::mesh
