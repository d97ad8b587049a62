// What a face of a solid is. For use inside this folder.
#pragma once
#include "core/geometry/solid.hpp"

class TopoDS_Face;

namespace anvil::geometry {

/// Kind, area, middle and direction of a face, of a cylinder its ends too; without a name.
Solid::Face shapeOf(const TopoDS_Face& face);

}  // namespace anvil::geometry
