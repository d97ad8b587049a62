#include "mesher/surfaces.hpp"

#include <BRepAdaptor_Surface.hxx>
#include <BRep_Tool.hxx>
#include <GeomAPI_ProjectPointOnCurve.hxx>
#include <Geom_Curve.hxx>
#include <TopExp.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>

#include "mesher/points.hpp"

namespace anvil::mesher {

using Eigen::Vector3d;

Surfaces::Surfaces(const std::vector<TopoDS_Shape>& faces) {
  for (const auto& f : faces) {
    const auto face = TopoDS::Face(f);
    faces_.push_back({new ShapeAnalysis_Surface(BRep_Tool::Surface(face)),
                      BRepAdaptor_Surface(face, false).GetType() == GeomAbs_Plane,
                      face.Orientation() == TopAbs_REVERSED,
                      {}});
    TopExp::MapShapes(f, TopAbs_EDGE, faces_.back().edges);
  }
}

Surfaces::Foot Surfaces::foot(int face, const TopTools_IndexedMapOfShape& among, const Vector3d& x) const {
  Foot best;
  const auto& own = faces_[size_t(face)].edges;
  const auto take = [&](double distance, const gp_Pnt& place, int edge) {
    if (distance < best.distance) best = {distance, vector(place), edge};
  };
  for (int i = 1; i <= own.Extent(); ++i) {
    const auto& edge = TopoDS::Edge(own(i));
    if (!among.Contains(edge) || BRep_Tool::Degenerated(edge)) continue;
    double from, to;
    const auto curve = BRep_Tool::Curve(edge, from, to);
    GeomAPI_ProjectPointOnCurve foot(point(x), curve, from, to);
    if (foot.NbPoints()) take(foot.LowerDistance(), foot.NearestPoint(), i);
    for (const double end : {from, to}) take(curve->Value(end).Distance(point(x)), curve->Value(end), i);
  }
  return best;
}

Vector3d Surfaces::onto(int a, int b, const Vector3d& mid, double length) {
  Vector3d best = mid;
  if (a == b) {
    auto& f = faces_[size_t(a)];
    if (f.flat) return mid;
    best = vector(f.surface->Value(f.surface->ValueOfUV(point(mid), 1e-7)));
  } else if (const auto there = foot(a, faces_[size_t(b)].edges, mid); there.edge) {
    best = there.place;
  }
  return (best - mid).norm() < 0.3 * length ? best : mid;
}

Vector3d Surfaces::ontoRim(int face, const Vector3d& mid, double length) const {
  const auto there = foot(face, faces_[size_t(face)].edges, mid);
  return there.edge && there.distance < 0.3 * length ? there.place : mid;
}

int Surfaces::rimAt(int face, const Vector3d& x) const { return foot(face, faces_[size_t(face)].edges, x).edge; }

Vector3d Surfaces::normal(int face, const Vector3d& x) {
  auto& f = faces_[size_t(face)];
  const gp_Pnt2d uv = f.surface->ValueOfUV(point(x), 1e-7);
  gp_Pnt at;
  gp_Vec du, dv;
  f.surface->Surface()->D1(uv.X(), uv.Y(), at, du, dv);
  const gp_Vec n = du.Crossed(dv);
  const double size = n.Magnitude();
  if (size <= 1e-9 * (du.SquareMagnitude() + dv.SquareMagnitude())) return Vector3d::Zero();
  return (f.reversed ? -1 : 1) / size * Vector3d(n.X(), n.Y(), n.Z());
}

}  // namespace anvil::mesher
