#include "mesher/shape_sizes.hpp"

#include <BRepAdaptor_Curve.hxx>
#include <BRepAdaptor_Surface.hxx>
#include <BRepGProp.hxx>
#include <BRepLProp_CLProps.hxx>
#include <BRepLProp_SLProps.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <GCPnts_AbscissaPoint.hxx>
#include <GProp_GProps.hxx>
#include <Poly_Triangulation.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopLoc_Location.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Vertex.hxx>
#include <algorithm>
#include <cmath>

#include "mesher/points.hpp"

namespace anvil::mesher {
namespace {

using Eigen::Vector3d;

/// The size that curvature leaves, 1/mm in.
double sizeAt(double curvature, const Wishes& w) {
  return curvature > 0 ? std::max(leastOf(w), 2 * M_PI / (curvature * w.perCircle)) : w.size;
}

}  // namespace

double leastOf(const Wishes& w) { return w.smallest > 0 ? w.smallest : w.size / 20; }

void sizesOnFaces(const std::vector<TopoDS_Shape>& faces, const std::vector<double>& sizes, const Wishes& wishes,
                  const SizeAt& lay) {
  for (size_t i = 0; i < faces.size() && i < sizes.size(); ++i) {
    const double h = sizes[i];
    if (h <= 0 || h >= wishes.size) continue;
    BRepMesh_IncrementalMesh(faces[i], h / 4);
    TopLoc_Location place;
    const auto net = BRep_Tool::Triangulation(TopoDS::Face(faces[i]), place);
    if (net.IsNull()) continue;
    for (int t = 1; t <= net->NbTriangles(); ++t) {
      int n[3];
      net->Triangle(t).Get(n[0], n[1], n[2]);
      gp_Pnt p[3];
      for (int k = 0; k < 3; ++k) p[k] = net->Node(n[k]).Transformed(place);
      const double edge = std::max({p[0].Distance(p[1]), p[1].Distance(p[2]), p[2].Distance(p[0])});
      const int m = std::clamp(int(std::ceil(edge / h)), 1, 60);
      for (int a = 0; a <= m; ++a)
        for (int b = 0; a + b <= m; ++b) {
          const double u = double(a) / m, v = double(b) / m, w = 1 - u - v;
          lay(w * vector(p[0]) + u * vector(p[1]) + v * vector(p[2]), h);
        }
    }
  }
}

std::optional<double> pieceOf(const TopoDS_Edge& edge, double least) {
  if (BRep_Tool::Degenerated(edge) || !TopExp::FirstVertex(edge).IsSame(TopExp::LastVertex(edge))) return {};
  const double length = GCPnts_AbscissaPoint::Length(BRepAdaptor_Curve(edge));
  if (length >= 3 * least) return {};
  return length / 4;
}

double widthOf(const TopoDS_Shape& face) {
  GProp_GProps area, rim;
  BRepGProp::LinearProperties(face, rim);
  BRepGProp::SurfaceProperties(face, area);
  return rim.Mass() > 0 ? 2 * area.Mass() / rim.Mass() : 0;
}

double sizeAlong(const TopoDS_Shape& face, const Wishes& w) {
  const double width = widthOf(face);
  return std::max(2 * width, std::min(leastOf(w), 5 * width));
}

void sizesByShape(const std::vector<TopoDS_Shape>& faces, const TopTools_IndexedMapOfShape& edges, const Wishes& wishes,
                  const SizeAt& lay) {
  for (int e = 1; e <= edges.Extent(); ++e) {
    const auto& edge = TopoDS::Edge(edges(e));
    if (BRep_Tool::Degenerated(edge)) continue;
    const BRepAdaptor_Curve curve(edge);
    const auto piece = pieceOf(edge, leastOf(wishes));
    const double length = GCPnts_AbscissaPoint::Length(curve), first = curve.FirstParameter(), last = curve.LastParameter(),
                 own = piece.value_or(std::clamp(length, leastOf(wishes), wishes.size));
    const bool straight = curve.GetType() == GeomAbs_Line;
    if (straight && own >= wishes.size) continue;
    const int n = straight ? 2 : 12;
    for (int k = 0; k <= n; ++k) {
      const double u = first + (last - first) * k / n;
      BRepLProp_CLProps at(curve, u, 2, 1e-9);
      const double h = std::min(own, straight || !at.IsTangentDefined() ? wishes.size : sizeAt(at.Curvature(), wishes));
      if (h < wishes.size) lay(vector(at.Value()), h);
    }
  }
  for (size_t f = 0; f < faces.size() && wishes.nearEdges; ++f) {
    const double h = sizeAlong(faces[f], wishes);
    if (h >= wishes.size) continue;
    for (TopExp_Explorer e(faces[f], TopAbs_EDGE); e.More(); e.Next()) {
      if (BRep_Tool::Degenerated(TopoDS::Edge(e.Current()))) continue;
      const BRepAdaptor_Curve curve(TopoDS::Edge(e.Current()));
      const int n = std::clamp(int(GCPnts_AbscissaPoint::Length(curve) / h) + 1, 1, 200);
      for (int k = 0; k <= n; ++k) {
        const gp_Pnt at = curve.Value(curve.FirstParameter() + (curve.LastParameter() - curve.FirstParameter()) * k / n);
        lay(vector(at), h);
      }
    }
  }
  std::vector<double> sizes(faces.size(), 0.);
  for (size_t f = 0; f < faces.size(); ++f) {
    const BRepAdaptor_Surface surface(TopoDS::Face(faces[f]));
    if (surface.GetType() == GeomAbs_Plane) continue;
    double u0, u1, v0, v1, curvature = 0;
    BRepTools::UVBounds(TopoDS::Face(faces[f]), u0, u1, v0, v1);
    for (int i = 0; i <= 6; ++i)
      for (int j = 0; j <= 6; ++j) {
        BRepLProp_SLProps at(surface, u0 + (u1 - u0) * i / 6, v0 + (v1 - v0) * j / 6, 2, 1e-9);
        if (at.IsCurvatureDefined()) curvature = std::max({curvature, std::abs(at.MaxCurvature()), std::abs(at.MinCurvature())});
      }
    sizes[f] = sizeAt(curvature, wishes);
    for (TopExp_Explorer e(faces[f], TopAbs_EDGE); e.More(); e.Next())
      sizes[f] = std::min(sizes[f], pieceOf(TopoDS::Edge(e.Current()), leastOf(wishes)).value_or(sizes[f]));
  }
  sizesOnFaces(faces, sizes, wishes, lay);
}

void sizesNear(const Wishes& wishes, const SizeAt& lay) {
  for (const auto& n : wishes.near) {
    const int m = std::clamp(int(std::ceil(n.within / n.size)), 1, 25);
    for (int i = -m; i <= m; ++i)
      for (int j = -m; j <= m; ++j)
        for (int k = -m; k <= m; ++k) {
          if (i * i + j * j + k * k > m * m) continue;
          lay(n.at + n.within / m * Vector3d(i, j, k), n.size);
        }
  }
}

}  // namespace anvil::mesher
