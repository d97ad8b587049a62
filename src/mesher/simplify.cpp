#include "mesher/simplify.hpp"

#include <BRepCheck_Analyzer.hxx>
#include <BRepGProp.hxx>
#include <GProp_GProps.hxx>
#include <ShapeFix_FixSmallFace.hxx>
#include <ShapeFix_Shape.hxx>
#include <ShapeFix_Wireframe.hxx>
#include <ShapeUpgrade_UnifySameDomain.hxx>
#include <Standard_Failure.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <cmath>

namespace anvil::mesher {
namespace {

double volume(const TopoDS_Shape& s) {
  GProp_GProps g;
  BRepGProp::VolumeProperties(s, g);
  return g.Mass();
}

int count(const TopoDS_Shape& s, TopAbs_ShapeEnum kind) {
  TopTools_IndexedMapOfShape map;
  TopExp::MapShapes(s, kind, map);
  return map.Extent();
}

/// One step, kept where a sound solid of the same volume comes of it.
template <class Step>
void attempt(TopoDS_Shape& shape, double mostLost, const Step& step) {
  try {
    const TopoDS_Shape now = step();
    if (now.IsNull() || count(now, TopAbs_SOLID) != 1 || !BRepCheck_Analyzer(now).IsValid()) return;
    if (std::abs(volume(now) - volume(shape)) <= mostLost) shape = now;
  } catch (const Standard_Failure&) {
    // as it was
  }
}

}  // namespace

TopoDS_Shape simplified(const TopoDS_Shape& solid, double detail) {
  TopoDS_Shape shape = solid;
  const double mostLost = 1e-3 * std::abs(volume(solid));
  attempt(shape, mostLost, [&] {
    ShapeUpgrade_UnifySameDomain unify(shape, true, true, true);
    unify.SetLinearTolerance(0.02 * detail), unify.SetAngularTolerance(1e-3);
    unify.Build();
    return unify.Shape();
  });
  for (const double small :
       {1e-3 * detail, 0.03 * detail, 0.3 * detail, detail}) {  // what goes wrong with a larger one leaves these
    attempt(shape, mostLost, [&] {
      ShapeFix_Wireframe wires(shape);
      wires.SetPrecision(small), wires.SetMaxTolerance(2 * small);
      wires.ModeDropSmallEdges() = true;
      wires.FixSmallEdges(), wires.FixWireGaps();
      return wires.Shape();
    });
    attempt(shape, mostLost, [&] {
      ShapeFix_FixSmallFace faces;
      faces.Init(shape);
      faces.SetPrecision(small), faces.SetMaxTolerance(2 * small);
      faces.Perform();
      ShapeFix_Shape sound(faces.FixShape());
      sound.Perform();
      return sound.Shape();
    });
  }
  if (count(shape, TopAbs_FACE) == count(solid, TopAbs_FACE) && count(shape, TopAbs_EDGE) == count(solid, TopAbs_EDGE)) return {};
  TopExp_Explorer one(shape, TopAbs_SOLID);
  return one.More() ? one.Current() : TopoDS_Shape();
}

}  // namespace anvil::mesher
