// Meshes of slender parts of the document.
#pragma once
#include "core/mesh/mesh.hpp"
#include "core/model/forward.hpp"

namespace anvil::analysis {

/// Adds the lines of a slender part to the mesh. Throws Error with the place in the document.
void addSlender(mesh::Mesh& mesh, int index, const model::Document& document, const model::Quantities& quantities,
                const std::string& path);

}  // namespace anvil::analysis
