#include "mesher/triangulation.hpp"

#include <BRepMesh_IncrementalMesh.hxx>
#include <BRep_Tool.hxx>
#include <Poly_PolygonOnTriangulation.hxx>
#include <Poly_Triangulation.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopLoc_Location.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Vertex.hxx>
#include <stdexcept>

namespace anvil::mesher {

Skin triangulated(const TopoDS_Shape& solid, const std::vector<TopoDS_Shape>& faces, double sag, double turn) {
  BRepMesh_IncrementalMesh(solid, sag, false, turn);
  TopTools_IndexedMapOfShape edges, corners;
  TopExp::MapShapes(solid, TopAbs_EDGE, edges);
  TopExp::MapShapes(solid, TopAbs_VERTEX, corners);
  Skin skin;
  std::vector<int> ofCorner(size_t(corners.Extent()) + 1, -1);
  std::vector<std::vector<int>> ofEdge(size_t(edges.Extent()) + 1);
  const auto add = [&](const gp_Pnt& p) {
    skin.x.emplace_back(p.X(), p.Y(), p.Z());
    return int(skin.x.size()) - 1;
  };
  for (size_t f = 0; f < faces.size(); ++f) {
    TopLoc_Location place;
    const auto& face = TopoDS::Face(faces[f]);
    const auto net = BRep_Tool::Triangulation(face, place);
    if (net.IsNull()) throw std::runtime_error("a face could not be triangulated");
    std::vector<int> number(size_t(net->NbNodes()) + 1, -1);
    const auto node = [&](int k) { return net->Node(k).Transformed(place); };
    for (TopExp_Explorer e(face, TopAbs_EDGE); e.More(); e.Next()) {
      const auto& edge = TopoDS::Edge(e.Current());
      const auto line = BRep_Tool::PolygonOnTriangulation(edge, net, place);
      if (line.IsNull()) continue;
      const int length = line->NbNodes();
      auto& known = ofEdge[size_t(edges.FindIndex(edge))];
      known.resize(size_t(length), -1);
      for (int k = 1; k <= length; ++k) {
        const int local = line->Nodes()(k);
        const bool end = k == 1 || k == length;
        int* shared = &known[size_t(k - 1)];
        if (end) {
          TopoDS_Edge forward = edge;
          forward.Orientation(TopAbs_FORWARD);
          const auto corner = k == 1 ? TopExp::FirstVertex(forward) : TopExp::LastVertex(forward);
          if (!corner.IsNull()) shared = &ofCorner[size_t(corners.FindIndex(corner))];
        }
        if (*shared < 0) *shared = add(node(local));
        number[size_t(local)] = *shared;
      }
    }
    for (int t = 1; t <= net->NbTriangles(); ++t) {
      int n[3];
      net->Triangle(t).Get(n[0], n[1], n[2]);
      if (faces[f].Orientation() == TopAbs_REVERSED) std::swap(n[1], n[2]);
      std::array<int, 3> triangle{};
      for (size_t k = 0; k < 3; ++k) {
        int& mine = number[size_t(n[k])];
        if (mine < 0) mine = add(node(n[k]));
        triangle[k] = mine;
      }
      if (triangle[0] == triangle[1] || triangle[1] == triangle[2] || triangle[2] == triangle[0]) continue;
      skin.triangles.push_back(triangle), skin.face.push_back(int(f));
    }
  }
  return skin;
}

}  // namespace anvil::mesher
