#include "core/geometry/rigid_solid.hpp"
#include "core/geometry/kernel_shape.hpp"

#include <Eigen/Geometry>

#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakePolygon.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRepTools.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Poly_Triangulation.hxx>
#include <TopExp_Explorer.hxx>
#include <TopLoc_Location.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>
#include <cmath>
#include <map>
#include <numbers>

#include "core/base/dense.hpp"
#include "core/base/error.hpp"
#include "core/geometry/feature_shapes.hpp"
#include "core/geometry/solid.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::geometry {
namespace {

using Eigen::Vector3d;

/// A frame whose y axis runs from one point to another.
Placement alongY(const Vector3d& from, const Vector3d& to) {
  Placement p;
  p.turn = shortestTurn(Vector3d::UnitY(), to - from);
  p.shift = from;
  return p;
}

std::vector<Curve2> closedLine(const std::vector<Point2>& points, const std::vector<std::string>& names) {
  std::vector<Curve2> curves;
  for (size_t i = 0; i < points.size(); ++i) curves.push_back(Curve2::line(points[i], points[(i + 1) % points.size()], names[i]));
  return curves;
}

/// Triangles of all faces, or of those of a name, points at the same place made one.
std::shared_ptr<const FacetSurface> facetsOf(const Solid& solid, const std::string& name, const std::string& path) {
  const TopoDS_Shape shape = kernelShape(solid);
  const double size = solid.bounds().diagonal().norm();
  BRepMesh_IncrementalMesh(shape, 1e-3 * size, false, 0.15);
  std::vector<Point3> points;
  std::vector<Triangle> triangles;
  std::map<std::array<int64_t, 3>, int> at;
  const double close = 1e-6 * size;
  const auto pointAt = [&](const Vector3d& x) {
    std::array<int64_t, 3> key{};
    for (size_t k = 0; k < 3; ++k) key[k] = int64_t(std::floor(x[Eigen::Index(k)] / close));
    for (int64_t i = -1; i <= 1; ++i)
      for (int64_t j = -1; j <= 1; ++j)
        for (int64_t k = -1; k <= 1; ++k)
          if (const auto it = at.find({key[0] + i, key[1] + j, key[2] + k});
              it != at.end() && (points[size_t(it->second)] - x).norm() < close)
            return it->second;
    points.push_back(x);
    return at[key] = int(points.size()) - 1;
  };
  const auto faces = facesOfShape(shape);
  for (int k = 1; k <= faces.Extent(); ++k) {
    if (!name.empty() && solid.faces()[size_t(k - 1)].name != name) continue;
    const TopoDS_Face face = TopoDS::Face(faces(k));
    TopLoc_Location where;
    const auto net = BRep_Tool::Triangulation(face, where);
    if (net.IsNull())
      throw Error("a face of the rigid part cannot be divided into facets", path, "Check the shape, or draw the part as shapes.");
    for (int i = 1; i <= net->NbTriangles(); ++i) {
      int n[3];
      net->Triangle(i).Get(n[0], n[1], n[2]);
      Triangle t{};
      for (size_t k = 0; k < 3; ++k) {
        const gp_Pnt x = net->Node(n[k]).Transformed(where.Transformation());
        t[k] = pointAt({x.X(), x.Y(), x.Z()});
      }
      if (face.Orientation() == TopAbs_REVERSED) std::swap(t[1], t[2]);
      if (t[0] != t[1] && t[1] != t[2] && t[2] != t[0]) triangles.push_back(t);
    }
  }
  return std::make_shared<FacetSurface>(std::move(points), std::move(triangles), 30 * std::numbers::pi / 180, path);
}

}  // namespace

RigidSolid rigidSolid(const model::Part& part, const model::Quantities& q, const std::string& folder, const std::string& path,
                      const std::string& face) {
  const auto whole = solid(part, q, folder, path);  // says what is wrong with the features
  RigidSolid r;
  r.place = {};
  const auto& f = part.solid.front();
  if (part.solid.size() > 1 || !(f.cylinder || f.tube || f.ball)) {
    r.facets = facetsOf(whole, face, path + "/solid");
    return r;
  }
  const FeatureShapes shapes(q);
  const std::string place = path + "/solid/1";
  const auto radius = [&](const model::Entry& e) { return shapes.positive(e, "radius", place); };
  const std::string& known = whole.faces().front().name;
  const auto named = [own = known.substr(0, known.rfind('.') + 1)](const char* word) { return own + word; };
  if (f.ball) {
    const double R = radius(f.ball->radius);
    r.curves = {Curve2::arcTo({0, -R}, {R, 0}, {0, 0}, true, named("surface")),
                Curve2::arcTo({R, 0}, {0, R}, {0, 0}, true, named("surface"))};
    r.place.shift = shapes.point(f.ball->center, place);
  } else {
    const Vector3d from = shapes.point(f.cylinder ? f.cylinder->from : f.tube->from, place),
                   to = shapes.point(f.cylinder ? f.cylinder->to : f.tube->to, place);
    const double length = (to - from).norm(), outer = radius(f.cylinder ? f.cylinder->radius : f.tube->outer);
    if (f.tube)
      r.curves = closedLine({{radius(f.tube->inner), 0}, {outer, 0}, {outer, length}, {radius(f.tube->inner), length}},
                            {named("start"), named("outer"), named("end"), named("inner")});
    else
      r.curves = {Curve2::line({0, 0}, {outer, 0}, named("start")), Curve2::line({outer, 0}, {outer, length}, named("side")),
                  Curve2::line({outer, length}, {0, length}, named("end"))};
    r.place = alongY(from, to);
  }
  r.sweep = {Sweep::Kind::revolve, 0, 2 * std::numbers::pi, 0, 1, {}};
  const auto own = placement(part, q, true, path);
  r.place = {own.turn * r.place.turn, own(r.place.shift)};
  if (!face.empty()) std::erase_if(r.curves, [&](const Curve2& c) { return c.name != face; });
  return r;
}

std::vector<Triangle> insideOf(const std::vector<Eigen::Vector2d>& corners) {
  BRepBuilderAPI_MakePolygon line;
  for (const auto& p : corners) line.Add(gp_Pnt(p.x(), p.y(), 0));
  line.Close();
  BRepBuilderAPI_MakeFace face(line.Wire(), true);
  if (!face.IsDone()) return {};
  BRepMesh_IncrementalMesh(face.Face(), 1e9, false, 0.5);
  TopLoc_Location where;
  const auto net = BRep_Tool::Triangulation(face.Face(), where);
  if (net.IsNull()) return {};
  std::vector<int> corner(size_t(net->NbNodes()) + 1, 0);  // of each of the net's nodes
  for (int n = 1; n <= net->NbNodes(); ++n) {
    const Eigen::Vector2d x(net->Node(n).X(), net->Node(n).Y());
    for (size_t k = 0; k < corners.size(); ++k)
      if ((corners[k] - x).norm() < (corners[size_t(corner[size_t(n)])] - x).norm()) corner[size_t(n)] = int(k);
  }
  std::vector<Triangle> triangles;
  for (int i = 1; i <= net->NbTriangles(); ++i) {
    int n[3];
    net->Triangle(i).Get(n[0], n[1], n[2]);
    Triangle t{corner[size_t(n[0])], corner[size_t(n[1])], corner[size_t(n[2])]};
    const Eigen::Vector2d a = corners[size_t(t[1])] - corners[size_t(t[0])], b = corners[size_t(t[2])] - corners[size_t(t[0])];
    if (a.x() * b.y() - a.y() * b.x() < 0) std::swap(t[1], t[2]);
    triangles.push_back(t);
  }
  return triangles;
}

}  // namespace anvil::geometry
