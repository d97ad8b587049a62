// Solids with details that no mesh needs.
#pragma once
#include <TopoDS_Shape.hxx>

namespace anvil::mesher {

/// The solid with faces joined that lie on one surface, edges joined that run on smoothly, and edges and faces taken out that are
/// narrower than `detail`, mm (the CAD kernel's tools). Empty when nothing changes or no sound solid comes of it.
TopoDS_Shape simplified(const TopoDS_Shape& solid, double detail);

}  // namespace anvil::mesher
