#include "mesher/prism.hpp"

#include <BRepAdaptor_Surface.hxx>
#include <BRepGProp.hxx>
#include <BRepLProp_SLProps.hxx>
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <GProp_GProps.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>
#include <algorithm>
#include <cmath>
#include <gp_Pln.hxx>

#include "mesher/points.hpp"

namespace anvil::mesher {
namespace {

using Eigen::Vector3d;

struct Known {
  TopoDS_Face face;
  bool flat;
  Vector3d normal{0, 0, 0}, middle;  ///< outward normal where flat; middle of the area
  double area;
  std::vector<Vector3d> normals;  ///< at a net of places
  TopTools_IndexedMapOfShape edges;
};

Known known(const TopoDS_Shape& shape) {
  Known k;
  k.face = TopoDS::Face(shape);
  const BRepAdaptor_Surface s(k.face);
  GProp_GProps g;
  BRepGProp::SurfaceProperties(k.face, g);
  k.area = g.Mass(), k.middle = vector(g.CentreOfMass());
  k.flat = s.GetType() == GeomAbs_Plane;
  if (k.flat) {
    const gp_Dir d = s.Plane().Axis().Direction();
    const bool turned = (k.face.Orientation() == TopAbs_REVERSED) != !s.Plane().Position().Direct();
    k.normal = (turned ? -1 : 1) * Vector3d(d.X(), d.Y(), d.Z());
  }
  double u0, u1, v0, v1;
  BRepTools::UVBounds(k.face, u0, u1, v0, v1);
  for (int i = 0; i <= 6; ++i)
    for (int j = 0; j <= 6; ++j) {
      BRepLProp_SLProps p(s, u0 + (u1 - u0) * i / 6, v0 + (v1 - v0) * j / 6, 1, 1e-9);
      if (p.IsNormalDefined()) k.normals.emplace_back(p.Normal().X(), p.Normal().Y(), p.Normal().Z());
    }
  TopExp::MapShapes(shape, TopAbs_EDGE, k.edges);
  return k;
}

double lengthOf(const TopoDS_Shape& edge) {
  GProp_GProps g;
  BRepGProp::LinearProperties(edge, g);
  return g.Mass();
}

/// The solid pulled along `along`, if it is.
std::optional<Prism> along(const Vector3d& axis, const std::vector<Known>& faces) {
  std::vector<int> low, high, sides;
  for (size_t i = 0; i < faces.size(); ++i) {
    const auto& f = faces[i];
    if (f.flat && std::abs(std::abs(f.normal.dot(axis)) - 1) < 1e-9) {
      (f.normal.dot(axis) < 0 ? low : high).push_back(int(i));
      continue;
    }
    if (f.normals.empty() ||
        std::any_of(f.normals.begin(), f.normals.end(), [&](const Vector3d& n) { return std::abs(n.dot(axis)) > 1e-6; }))
      return {};
    sides.push_back(int(i));
  }
  if (low.empty() || low.size() != high.size()) return {};
  const auto level = [&](int f) { return faces[size_t(f)].middle.dot(axis); };
  Prism p;
  p.height = level(high[0]) - level(low[0]);
  const double near = 1e-6 * std::sqrt(faces[size_t(low[0])].area) + 1e-9;
  if (!(p.height > near)) return {};
  for (int l : low) {
    if (std::abs(level(l) - level(low[0])) > near) return {};
    const auto& f = faces[size_t(l)];
    const auto over = std::find_if(high.begin(), high.end(), [&](int h) {
      return (faces[size_t(h)].middle - f.middle - p.height * axis).norm() < 10 * near &&
             std::abs(faces[size_t(h)].area - f.area) < 1e-6 * f.area;
    });
    if (over == high.end()) return {};
    p.ends.push_back({l, *over});
  }
  // sides rise from the low end's rim all the way
  std::vector<double> expected(faces.size(), 0.);
  for (int l : low)
    for (int i = 1; i <= faces[size_t(l)].edges.Extent(); ++i) {
      const auto& edge = TopoDS::Edge(faces[size_t(l)].edges(i));
      if (BRep_Tool::Degenerated(edge)) return {};
      for (int s : sides)
        if (faces[size_t(s)].edges.Contains(edge)) p.rims.push_back({edge, s}), expected[size_t(s)] += lengthOf(edge) * p.height;
    }
  for (int s : sides)
    if (std::abs(expected[size_t(s)] - faces[size_t(s)].area) > 1e-4 * faces[size_t(s)].area) return {};
  p.u = axis.unitOrthogonal();
  for (int k = 0; k < 3; ++k)  // along an axis of space where one lies in the plane
    if (const Vector3d e = Vector3d::Unit(k); std::abs(e.dot(axis)) < 1e-12) {
      p.u = e;
      break;
    }
  p.v = axis.cross(p.u);
  p.origin = faces[size_t(low[0])].middle;
  return p;
}

}  // namespace

std::optional<Prism> prismOf(const std::vector<TopoDS_Shape>& shapes) {
  std::vector<Known> faces;
  for (const auto& s : shapes) faces.push_back(known(s));
  std::optional<Prism> best;
  double largest = 0;
  std::vector<Vector3d> tried;
  for (const auto& f : faces) {
    if (!f.flat || std::any_of(tried.begin(), tried.end(),
                               [&](const Vector3d& t) { return std::abs(std::abs(t.dot(f.normal)) - 1) < 1e-9; }))
      continue;
    tried.push_back(f.normal);
    auto p = along(f.normal, faces);
    if (!p) continue;
    double area = 0;
    for (const auto& e : p->ends) area += faces[size_t(e.low)].area;
    if (area > largest * (1 + 1e-6)) largest = area, best = std::move(p);
  }
  return best;
}

}  // namespace anvil::mesher
