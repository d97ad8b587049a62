#include "core/geometry/face_shape.hpp"

#include <BRepAdaptor_Surface.hxx>
#include <BRepGProp.hxx>
#include <GProp_GProps.hxx>
#include <TopoDS_Face.hxx>
#include <gp_Cone.hxx>
#include <gp_Cylinder.hxx>
#include <gp_Sphere.hxx>
#include <gp_Torus.hxx>

#include "core/geometry/feature_shapes.hpp"

namespace anvil::geometry {

Solid::Face shapeOf(const TopoDS_Face& f) {
  Solid::Face face;
  GProp_GProps g;
  BRepGProp::SurfaceProperties(f, g);
  face.area = g.Mass();
  const gp_Pnt c = g.CentreOfMass();
  face.centre = {c.X(), c.Y(), c.Z()};
  const BRepAdaptor_Surface s(f);
  const auto along = [&](const gp_Ax1& a) { face.axis = {a.Direction().X(), a.Direction().Y(), a.Direction().Z()}; };
  switch (s.GetType()) {
    case GeomAbs_Plane:
      face.kind = Solid::Kind::plane, face.axis = outward(s, f);
      break;
    case GeomAbs_Cylinder: {
      face.kind = Solid::Kind::cylinder, along(s.Cylinder().Axis()), face.radius = s.Cylinder().Radius();
      const gp_Pnt o = s.Cylinder().Location();
      face.origin = {o.X(), o.Y(), o.Z()}, face.low = s.FirstVParameter(), face.high = s.LastVParameter();
      break;
    }
    case GeomAbs_Cone:
      face.kind = Solid::Kind::cone, along(s.Cone().Axis());
      break;
    case GeomAbs_Sphere:
      face.kind = Solid::Kind::sphere, face.radius = s.Sphere().Radius();
      break;
    case GeomAbs_Torus:
      face.kind = Solid::Kind::torus, along(s.Torus().Axis()), face.radius = s.Torus().MinorRadius();
      break;
    case GeomAbs_BezierSurface:
    case GeomAbs_BSplineSurface:
    case GeomAbs_SurfaceOfRevolution:
    case GeomAbs_SurfaceOfExtrusion:
    case GeomAbs_OffsetSurface:
    case GeomAbs_OtherSurface:
      break;
  }
  return face;
}

}  // namespace anvil::geometry
