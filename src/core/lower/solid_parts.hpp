// The meshes of parts built of features or read from STEP files. For use inside this folder.
#pragma once
#include <string>

#include "core/geometry/solid.hpp"
#include "core/lower/fitted_bolts.hpp"
#include "core/mesh/mesh.hpp"
#include "core/mesh/working.hpp"
#include "core/model/forward.hpp"

namespace anvil::analysis {

/// Adds a part built of features: swept or filled with tetrahedra, or where it is thin, a sheet on faces of it. Throws Error with
/// the place in the document.
void addSolid(mesh::Mesh& mesh, int index, const model::Document& document, const model::Quantities& quantities,
              const std::string& path, const mesh::Working& working, const SolidNamed& solidNamed);

}  // namespace anvil::analysis
