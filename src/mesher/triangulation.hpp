// The CAD kernel's own triangles of a solid.
#pragma once
#include <TopoDS_Shape.hxx>

#include "mesher/skin.hpp"

namespace anvil::mesher {

/// Triangles of all faces, closed: nodes on shared edges are one. `sag`: how far triangles may stand off the surface, mm; `turn`:
/// how much their normals may turn from one to the next, rad. Throws std::runtime_error where a face has none.
Skin triangulated(const TopoDS_Shape& solid, const std::vector<TopoDS_Shape>& faces, double sag, double turn);

}  // namespace anvil::mesher
