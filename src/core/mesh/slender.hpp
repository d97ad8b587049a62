// Meshes of slender parts: nodes along lines, turns where they are joined.
#pragma once
#include "core/geometry/recipes.hpp"
#include "core/geometry/slender.hpp"
#include "core/mesh/mesh.hpp"

namespace anvil::mesh {

/// Adds a slender part, put in its place: a node at every point and between the pieces of lines; a turn for all lines that are
/// rigidly joined at a point, and one for each hinged end.
void addSlender(Mesh& mesh, int part, const geometry::SlenderShape& shape, const geometry::Placement& placement);

}  // namespace anvil::mesh
