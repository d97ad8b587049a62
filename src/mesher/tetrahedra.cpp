#include "mesher/tetrahedra.hpp"

#include <BRepBndLib.hxx>
#include <BRepGProp.hxx>
#include <BRepTools.hxx>
#include <BRep_Builder.hxx>
#include <Bnd_Box.hxx>
#include <GProp_GProps.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shell.hxx>
#include <algorithm>
#include <cmath>
#include <memory>
#include <optional>
#include <set>
#include <stdexcept>

#include "mesher/remesh.hpp"
#include "mesher/shape_sizes.hpp"
#include "mesher/weld.hpp"

#define OCCGEOMETRY
namespace nglib {
#include <netgen/nglib.h>
}
namespace netgen {  // the library keeps the mesh that questions refer to as a global
class Mesh;
extern std::shared_ptr<Mesh> mesh;
}  // namespace netgen
extern "C" int Ng_GetSurfaceElementIndex(int element);

namespace anvil::mesher {
namespace {

using Eigen::Vector3d;

void check(nglib::Ng_Result result, const char* what) {
  if (result != nglib::NG_OK) throw Refusal(what, {});
}

/// The library's list of faces must be ours: same number, same places.
void compareFaces(nglib::Ng_OCC_Geometry* geometry, const std::vector<TopoDS_Shape>& faces) {
  TopTools_IndexedMapOfShape theirs;
  nglib::Ng_OCC_GetFMap(geometry, reinterpret_cast<nglib::Ng_OCC_TopTools_IndexedMapOfShape*>(&theirs));
  bool same = theirs.Extent() == int(faces.size());
  for (int i = 0; same && i < theirs.Extent(); ++i) {
    Bnd_Box a, b;
    BRepBndLib::Add(theirs(i + 1), a), BRepBndLib::Add(faces[size_t(i)], b);
    same =
        a.CornerMin().Distance(b.CornerMin()) + a.CornerMax().Distance(b.CornerMax()) < 1e-6 + 1e-3 * std::sqrt(a.SquareExtent());
  }
  if (!same) throw std::runtime_error("the faces of the shape could not be told apart while meshing");
}

/// Lays a size on a place of the library's mesh.
SizeAt sizesOf(nglib::Ng_Mesh* mesh) {
  return [mesh](Vector3d place, double h) { nglib::Ng_RestrictMeshSizePoint(mesh, place.data(), h); };
}

void setSizes(nglib::Ng_Meshing_Parameters& p, const Wishes& wishes) {
  p.uselocalh = 1, p.maxh = wishes.size, p.minh = leastOf(wishes);
  p.grading = wishes.grading, p.elementsperedge = 1, p.elementspercurve = wishes.perCircle / (2 * M_PI);
  p.optsteps_2d = 3, p.optsteps_3d = wishes.optimise;
  p.closeedgeenable = wishes.nearEdges, p.closeedgefact = 2;
  p.Transfer_Parameters();  // before a shape is loaded: parts of it read them then
}

/// Places and cells of the library's mesh.
Tetrahedra inside(nglib::Ng_Mesh* mesh) {
  Tetrahedra result;
  for (int i = 1; i <= nglib::Ng_GetNP(mesh); ++i) {
    Vector3d x;
    nglib::Ng_GetPoint(mesh, i, x.data());
    result.x.push_back(x);
  }
  int n[10];
  for (int i = 1; i <= nglib::Ng_GetNE(mesh); ++i) {
    nglib::Ng_GetVolumeElement(mesh, i, n);
    std::array<int, 4> cell{n[0] - 1, n[1] - 1, n[2] - 1, n[3] - 1};
    const auto& x = result.x;
    const Vector3d a = x[size_t(cell[0])];
    if ((x[size_t(cell[1])] - a).cross(x[size_t(cell[2])] - a).dot(x[size_t(cell[3])] - a) < 0) std::swap(cell[1], cell[2]);
    result.cells.push_back(cell);
  }
  return result;
}

/// Triangles of the library's mesh of a shape, with their faces.
std::vector<Tetrahedra::Triangle> outside(nglib::Ng_Mesh* mesh) {
  netgen::mesh = std::shared_ptr<netgen::Mesh>(reinterpret_cast<netgen::Mesh*>(mesh), [](netgen::Mesh*) {});
  std::vector<Tetrahedra::Triangle> triangles;
  int n[10];
  for (int i = 1; i <= nglib::Ng_GetNSE(mesh); ++i) {
    nglib::Ng_GetSurfaceElement(mesh, i, n);
    triangles.push_back({{n[0] - 1, n[1] - 1, n[2] - 1}, Ng_GetSurfaceElementIndex(i) - 1});
  }
  return triangles;
}

/// Faces that got no triangles, or not enough of them, or too many.
std::vector<int> bareFaces(nglib::Ng_Mesh* mesh, const std::vector<TopoDS_Shape>& faces) {
  const auto x = inside(mesh).x;
  std::vector<double> covered(faces.size(), 0);
  for (const auto& t : outside(mesh))
    if (t.face >= 0 && size_t(t.face) < faces.size()) {
      const Vector3d a = x[size_t(t.node[0])];
      covered[size_t(t.face)] += (x[size_t(t.node[1])] - a).cross(x[size_t(t.node[2])] - a).norm() / 2;
    }
  std::vector<int> bare;
  for (size_t f = 0; f < faces.size(); ++f) {
    GProp_GProps area;
    BRepGProp::SurfaceProperties(faces[f], area);
    // coarse triangles cut curved faces short; where the library gives up some lie twice
    if (std::abs(covered[f] - area.Mass()) > 0.3 * area.Mass()) bare.push_back(int(f));
  }
  return bare;
}

Skin skinOf(nglib::Ng_Mesh* mesh) {
  Skin skin;
  skin.x = inside(mesh).x;
  for (const auto& t : outside(mesh)) skin.triangles.push_back(t.node), skin.face.push_back(t.face);
  return skin;
}

/// Faces whose triangles go through others.
std::vector<int> crossedFaces(nglib::Ng_Mesh* mesh) {
  const Skin skin = skinOf(mesh);
  std::set<int> faces;
  for (int t : crossing(skin)) faces.insert(skin.face[size_t(t)]);
  return {faces.begin(), faces.end()};
}

/// Fills what the mesh's triangles enclose; false where that fails, of which the library throws, too.
bool filledByLibrary(nglib::Ng_Mesh* mesh, nglib::Ng_Meshing_Parameters& p, const std::function<void(const char*)>& stage) {
  stage("volume");
  try {
    return nglib::Ng_GenerateVolumeMesh(mesh, &p) == nglib::NG_OK;
  } catch (const std::exception&) {
    return false;
  }
}

Tetrahedra made(const std::string& brepFile, const std::vector<TopoDS_Shape>& faces, const Wishes& asked,
                const std::function<void(const char*)>& stage, bool filled) {
  TopTools_IndexedMapOfShape edges;
  for (const auto& f : faces) TopExp::MapShapes(f, TopAbs_EDGE, edges);
  nglib::Ng_Init();
  nglib::Ng_Meshing_Parameters p;
  Wishes wishes = asked;
  setSizes(p, wishes);
  bool own = edges.Extent() > 1000;  // sizes by our own hand
  for (int e = 1; e <= edges.Extent(); ++e)
    if (const auto piece = pieceOf(TopoDS::Edge(edges(e)), leastOf(wishes))) p.minh = std::min(p.minh, *piece), own = true;
  // of solids that are all detail a first mesh with elements across narrow faces as long as elsewhere is time lost
  wishes.nearEdges |=
      own && std::any_of(faces.begin(), faces.end(), [&](const auto& f) { return widthOf(f) < wishes.size / 12; });
  for (size_t f = 0; f < faces.size() && own && wishes.nearEdges; ++f) p.minh = std::min(p.minh, sizeAlong(faces[f], wishes));
  p.Transfer_Parameters();
  auto* geometry = nglib::Ng_OCC_Load_BREP(brepFile.c_str());
  if (!geometry) throw Refusal("the shape could not be read by the mesher", {});
  compareFaces(geometry, faces);
  auto* mesh = nglib::Ng_NewMesh();
  const auto lay = sizesOf(mesh);
  stage("sizes");
  p.uselocalh = !own;
  check(nglib::Ng_OCC_SetLocalMeshSize(geometry, mesh, &p), "element sizes could not be laid on the shape");
  if (own) sizesByShape(faces, edges, wishes, lay), p.uselocalh = 1;
  sizesOnFaces(faces, wishes.faceSize, wishes, lay);
  sizesNear(wishes, lay);
  stage("edges");
  check(nglib::Ng_OCC_GenerateEdgeMesh(geometry, mesh, &p), "an edge of the shape could not be divided");
  stage("faces");
  bool covered = true;  // the library throws, too
  try {
    covered = nglib::Ng_OCC_GenerateSurfaceMesh(geometry, mesh, &p) == nglib::NG_OK;
  } catch (const std::exception&) {
    covered = false;
  }
  if (!covered) throw Refusal("a face could not be covered with triangles", bareFaces(mesh, faces));
  Tetrahedra result;
  if (!filled) {
    result = inside(mesh), result.cells.clear(), result.triangles = outside(mesh);
    return result;
  }
  const bool full = filledByLibrary(mesh, p, stage);
  result = inside(mesh), result.triangles = outside(mesh);
  if (!full || result.cells.empty()) throw Refusal("the inside could not be filled with tetrahedra", crossedFaces(mesh));
  return result;  // the library's memory ends with the process
}

/// Faces narrower than any element: steps and slots of a thousandth.
std::vector<int> hairFaces(const std::vector<TopoDS_Shape>& faces, double width) {
  std::vector<int> hair;
  for (size_t f = 0; f < faces.size(); ++f)
    if (widthOf(faces[f]) < width) hair.push_back(int(f));
  return hair;
}

/// Meshes a solid without its hair faces: the skin of the others closes where nodes that lie closer than `width` become one.
Tetrahedra meshedOver(const std::string& brepFile, const std::vector<TopoDS_Shape>& faces, const std::vector<int>& hair,
                      double width, const Wishes& wishes, const std::function<void(const char*)>& stage) {
  std::vector<int> kept;
  TopoDS_Shell shell;
  BRep_Builder builder;
  builder.MakeShell(shell);
  for (int f = 0; f < int(faces.size()); ++f)
    if (!std::binary_search(hair.begin(), hair.end(), f)) kept.push_back(f), builder.Add(shell, faces[size_t(f)]);
  const std::string file = brepFile + ".wide";
  BRepTools::Write(shell, file.c_str());
  TopoDS_Shape read;
  BRepTools::Read(read, file.c_str(), builder);
  TopTools_IndexedMapOfShape found;
  TopExp::MapShapes(read, TopAbs_FACE, found);
  Wishes own = wishes;
  own.faceSize.clear();
  for (int f : kept)
    if (size_t(f) < wishes.faceSize.size()) own.faceSize.push_back(wishes.faceSize[size_t(f)]);
  const auto outer = made(file, {found.cbegin(), found.cend()}, own, stage, false);
  Skin skin;
  skin.x = outer.x;
  for (const auto& t : outer.triangles) skin.triangles.push_back(t.node), skin.face.push_back(kept[size_t(t.face)]);
  const auto whole = welded(skin, width);
  if (!whole) throw Refusal("faces narrower than any element could not be closed over", hair);
  Tetrahedra result = filled(*whole, wishes, stage);
  result.closedOver = int(hair.size());
  return result;
}

}  // namespace

Tetrahedra tetrahedra(const std::string& brepFile, const std::vector<TopoDS_Shape>& faces, const Wishes& wishes,
                      const std::function<void(const char*)>& stage) {
  double width = wishes.size / 200;
  for (double h : wishes.faceSize)
    if (h > 0) width = std::min(width, h / 200);
  if (const auto hair = hairFaces(faces, width); !hair.empty()) {
    try {
      return meshedOver(brepFile, faces, hair, width, wishes, stage);
    } catch (const std::exception&) {  // as they are
    }
  }
  return made(brepFile, faces, wishes, stage, true);
}

Tetrahedra surfaceOnly(const std::string& brepFile, const std::vector<TopoDS_Shape>& faces, const Wishes& wishes,
                       const std::function<void(const char*)>& stage) {
  return made(brepFile, faces, wishes, stage, false);
}

Tetrahedra filled(const Skin& skin, const Wishes& wishes, const std::function<void(const char*)>& stage) {
  nglib::Ng_Init();
  nglib::Ng_Meshing_Parameters p;
  setSizes(p, wishes);
  auto* mesh = nglib::Ng_NewMesh();
  for (Vector3d x : skin.x) nglib::Ng_AddPoint(mesh, x.data());
  for (const auto& t : skin.triangles) {
    int n[3] = {t[0] + 1, t[1] + 1, t[2] + 1};
    nglib::Ng_AddSurfaceElement(mesh, nglib::NG_TRIG, n);
  }
  const bool full = filledByLibrary(mesh, p, stage);
  Tetrahedra result = inside(mesh);
  if (!full || result.cells.empty()) throw Refusal("the inside could not be filled with tetrahedra", {});
  for (size_t t = 0; t < skin.triangles.size(); ++t) result.triangles.push_back({skin.triangles[t], skin.face[t]});
  return result;
}

}  // namespace anvil::mesher
