// The meshes of thin parts from the document. For use inside this folder.
#pragma once
#include <string>
#include <vector>

#include "core/geometry/recipes.hpp"
#include "core/mesh/mesh.hpp"
#include "core/model/forward.hpp"

namespace anvil::analysis {

/// Mapped blocks and their layers, coarser or finer than they are written.
void scale(std::vector<geometry::Block>& blocks, geometry::Sweep& sweep, double factor);

/// Adds a thin part: a flat sheet of shapes, or a swept line. Throws Error with the place in the document.
void addThin(mesh::Mesh& mesh, int index, const model::Document& document, const model::Quantities& quantities,
             const std::string& path);

}  // namespace anvil::analysis
