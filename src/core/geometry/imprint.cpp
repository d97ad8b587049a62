#include "core/geometry/imprint.hpp"

#include <BOPAlgo_Builder.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepGProp.hxx>
#include <BRep_Tool.hxx>
#include <GProp_GProps.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <algorithm>
#include <gp_Circ.hxx>
#include <gp_Pln.hxx>

#include "core/base/error.hpp"
#include "core/base/text.hpp"

namespace anvil::geometry {

using Eigen::Vector3d;

namespace {

/// The middle of a face that lies wholly within a circle, or wholly outside, tells which: all its corners do.
bool liesInside(const TopoDS_Shape& face, const gp_Circ& circle) {
  TopTools_IndexedMapOfShape edges;
  TopExp::MapShapes(face, TopAbs_EDGE, edges);
  bool inside = true;
  for (int i = 1; i <= edges.Extent() && inside; ++i) {
    double from, to;
    const auto curve = BRep_Tool::Curve(TopoDS::Edge(edges(i)), from, to);
    for (const double s : {0., 0.25, 0.5, 0.75})
      inside &= curve->Value(from + s * (to - from)).Distance(circle.Location()) < circle.Radius() * (1 + 1e-6);
  }
  return inside;
}

}  // namespace

Named imprinted(const Named& body, const std::string& face, const Vector3d& centre, double radius, const std::string& name,
                const std::string& path) {
  std::vector<TopoDS_Face> own;
  std::vector<std::string> known;
  for (const auto& [f, n] : body.names) {
    known.push_back(n);
    if (n == face) own.push_back(TopoDS::Face(f));
  }
  if (own.empty()) {
    const auto near = nearest(face, known);
    throw Error("there is no face '" + face + "' at this point", path + "/on",
                near.empty() ? "Faces: " + inProse(known) + "." : "Did you mean '" + near + "'?");
  }
  const BRepAdaptor_Surface surface(own.front());
  if (surface.GetType() != GeomAbs_Plane)
    throw Error("the face '" + face + "' is not plane", path + "/on", "Circles are drawn on plane faces.");
  const gp_Pln plane = surface.Plane();
  const Vector3d normal = outward(surface, own.front());
  const gp_Pnt location = plane.Location();
  const Vector3d origin(location.X(), location.Y(), location.Z()), at = centre - normal.dot(centre - origin) * normal;
  const gp_Circ circle(gp_Ax2(gp_Pnt(at.x(), at.y(), at.z()), gp_Dir(normal.x(), normal.y(), normal.z())), radius);
  BOPAlgo_Builder builder;
  builder.AddArgument(body.shape);
  builder.AddArgument(BRepBuilderAPI_MakeEdge(circle).Edge());
  builder.Perform();
  const auto apart = [&] {
    return Error("the circle does not part the face '" + face + "'", path,
                 "Put its centre on the face, and take a radius that leaves some of it outside.");
  };
  if (builder.HasErrors()) throw apart();
  Named result;
  for (TopExp_Explorer e(builder.Shape(), body.shape.ShapeType()); e.More() && result.shape.IsNull(); e.Next())
    result.shape = e.Current();
  if (result.shape.IsNull()) throw apart();
  bool parted = false;
  TopTools_IndexedMapOfShape there;
  TopExp::MapShapes(result.shape, TopAbs_FACE, there);
  for (const auto& [f, n] : body.names) {
    const auto now = builder.Modified(f);
    if (now.IsEmpty() && there.Contains(f)) result.names.emplace_back(f, n);
    for (const auto& piece : now) {
      const bool inside = n == face && now.Extent() > 1 && liesInside(piece, circle);
      parted |= inside;
      result.names.emplace_back(piece, inside ? name + ".inside" : n);
    }
  }
  if (!parted) throw apart();
  return result;
}

}  // namespace anvil::geometry
