// A solid as the CAD kernel has it. For use inside this folder.
#pragma once
#include <BRepTools.hxx>
#include <BRep_Builder.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS_Shape.hxx>
#include <sstream>

#include "core/geometry/solid.hpp"

namespace anvil::geometry {

inline TopoDS_Shape kernelShape(const Solid& solid) {
  TopoDS_Shape shape;
  std::istringstream text(solid.brep());
  BRepTools::Read(shape, text, BRep_Builder());
  return shape;
}

/// Its faces in the order of Solid::faces.
inline TopTools_IndexedMapOfShape facesOfShape(const TopoDS_Shape& shape) {
  TopTools_IndexedMapOfShape faces;
  for (TopExp_Explorer e(shape, TopAbs_FACE); e.More(); e.Next()) faces.Add(e.Current());
  return faces;
}

}  // namespace anvil::geometry
