// The mesh of a part from its recipe: mapped blocks, swept and split as its element type asks, put in place.
#pragma once
#include <string>
#include <vector>

#include "core/geometry/recipes.hpp"
#include "core/mesh/mesh.hpp"

namespace anvil::mesh {

/// Adds a part. `element` is as in the document ("auto", "quad8", …). Throws Error with the place in the document when
/// the type does not fit the kind of model or the mesh cannot be made.
void addPart(Mesh& mesh, int part, const std::string& element, const std::vector<geometry::Block>& blocks,
             const geometry::Sweep& sweep, const geometry::Placement& placement, const std::string& path);

/// Repeats a part at further places (the first is where it stands). `firstNode`: its nodes are those from there on. Its faces get
/// the copy's number behind their names, from 1.
void repeatPart(Mesh& mesh, int part, size_t firstNode, const std::vector<geometry::Placement>& places);

}  // namespace anvil::mesh
