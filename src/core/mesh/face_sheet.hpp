// Thin parts on faces of a solid, or on a body of faces alone: quads by a worker process, with a layer of hexes between the
// sides.
#pragma once
#include <string>
#include <vector>

#include "core/geometry/sheet.hpp"
#include "core/geometry/solid.hpp"
#include "core/mesh/free.hpp"

namespace anvil::mesh {

/// Adds a thin part on the faces of `solid` with these numbers; its upper side looks where they do. Faces of the mesh:
/// "part.lower", "part.upper"; both sides of each face, "part.feature.face upper"; edges, named as the solid's face beyond them,
/// else "part.edge 1", "part.edge 2" … in the order of the body. Throws Error naming `path`.
void addFaceSheet(Mesh& mesh, int part, const geometry::Solid& solid, const std::vector<int>& faces, const FreeSizes& sizes,
                  const geometry::SheetSides& sides, int through, const std::string& path, const Working& working = {});

}  // namespace anvil::mesh
