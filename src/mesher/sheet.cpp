#include "mesher/sheet.hpp"

#include <BOPAlgo_Builder.hxx>
#include <BRepBuilderAPI_MakeVertex.hxx>
#include <BRepTools.hxx>
#include <BRep_Builder.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Shell.hxx>
#include <algorithm>
#include <deque>
#include <map>
#include <optional>
#include <set>
#include <stdexcept>

#include "mesher/points.hpp"
#include "mesher/sheet_grids.hpp"

namespace anvil::mesher {
namespace {

using Eigen::Vector3d;
using Edge = std::pair<int, int>;

/// Faces parted at places on their edges, in their order.
std::vector<TopoDS_Shape> partedAt(const std::vector<Vector3d>& places, const std::vector<TopoDS_Shape>& faces) {
  if (places.empty()) return faces;
  BOPAlgo_Builder builder;
  for (const auto& f : faces) builder.AddArgument(f);
  for (const auto& x : places) builder.AddArgument(BRepBuilderAPI_MakeVertex(point(x)).Vertex());
  builder.Perform();
  if (builder.HasErrors()) return faces;
  std::vector<TopoDS_Shape> parted;
  for (const auto& f : faces) {
    const auto& now = builder.Modified(f);
    if (now.Extent() > 1) return faces;
    parted.push_back(now.IsEmpty() ? f : now.First());
  }
  return parted;
}

/// The chosen faces as a shape of their own, written and read again as the mesher library reads it.
std::vector<TopoDS_Shape> writtenAlone(const std::string& file, const std::vector<TopoDS_Shape>& faces) {
  TopoDS_Shell shell;
  BRep_Builder builder;
  builder.MakeShell(shell);
  for (const auto& f : faces) builder.Add(shell, f);
  BRepTools::Write(shell, file.c_str());
  TopoDS_Shape read;
  BRepTools::Read(read, file.c_str(), builder);
  TopTools_IndexedMapOfShape found;
  TopExp::MapShapes(read, TopAbs_FACE, found);
  return {found.cbegin(), found.cend()};
}

/// Triangles as polygons, turned as their faces are.
Polygons polygonsOf(const Tetrahedra& surface, Surfaces& surfaces) {
  Polygons p;
  std::map<int, int> number;
  for (const auto& t : surface.triangles) {
    std::vector<int> cell;
    Vector3d middle = Vector3d::Zero();
    for (int n : t.node) {
      const auto [it, fresh] = number.try_emplace(n, int(p.x.size()));
      if (fresh) p.x.push_back(surface.x[size_t(n)]);
      cell.push_back(it->second), middle += surface.x[size_t(n)] / 3;
    }
    const auto at = [&](size_t i) { return p.x[size_t(cell[i])]; };
    const Vector3d own = (at(1) - at(0)).cross(at(2) - at(0)).normalized();
    Vector3d normal = surfaces.normal(t.face, middle);  // that of a narrow triangle on a bend says little
    if (normal.isZero(0)) normal = own;
    if (own.dot(normal) < 0) std::swap(cell[1], cell[2]);
    p.cells.push_back(cell), p.face.push_back(t.face), p.normal.push_back(normal);
  }
  return p;
}

/// Turns whole faces round until neighbours run the same way. Throws Refusal where three meet along an edge or no way fits all.
/// Returns which were turned.
std::vector<bool> turnAlike(Polygons& p, size_t faces, const std::vector<int>& wanted) {
  struct Use {
    int face;
    bool forward;
  };
  std::map<Edge, std::vector<Use>> uses;
  for (size_t c = 0; c < p.cells.size(); ++c)
    for (size_t i = 0; i < p.cells[c].size(); ++i) {
      const int a = p.cells[c][i], b = p.cells[c][(i + 1) % p.cells[c].size()];
      uses[std::minmax(a, b)].push_back({p.face[c], a < b});
    }
  std::map<Edge, bool> meets;  // pairs of faces: do they run against each other as they are?
  for (const auto& [edge, list] : uses) {
    if (list.size() > 2) {
      std::set<int> where;
      for (const auto& u : list) where.insert(wanted[size_t(u.face)]);
      throw Refusal("three faces meet along an edge", {where.begin(), where.end()});
    }
    if (list.size() == 2 && list[0].face != list[1].face)
      meets[std::minmax(list[0].face, list[1].face)] = list[0].forward == list[1].forward;
  }
  std::vector<int> turned(faces, -1);
  for (size_t start = 0; start < faces; ++start) {
    if (turned[start] >= 0) continue;
    turned[start] = 0;
    for (std::deque<int> open{int(start)}; !open.empty(); open.pop_front())
      for (const auto& [pair, against] : meets) {
        const int here = open.front();
        if (pair.first != here && pair.second != here) continue;
        const int other = pair.first == here ? pair.second : pair.first, way = turned[size_t(here)] ^ int(against);
        if (turned[size_t(other)] < 0)
          turned[size_t(other)] = way, open.push_back(other);
        else if (turned[size_t(other)] != way)
          throw Refusal("the faces make a band with one side only", {wanted[size_t(other)]});
      }
  }
  for (size_t c = 0; c < p.cells.size(); ++c)
    if (turned[size_t(p.face[c])] == 1) std::reverse(p.cells[c].begin(), p.cells[c].end()), p.normal[c] = -p.normal[c];
  return {turned.begin(), turned.end()};
}

Wishes forAlone(const Wishes& w, const std::vector<int>& wanted) {
  Wishes own = w;
  own.faceSize.clear();
  for (int f : wanted) own.faceSize.push_back(size_t(f) < w.faceSize.size() ? w.faceSize[size_t(f)] : 0);
  return own;
}

/// All quads on the faces that have no grids; `alike` turns polygons the same way.
Polygons freeQuads(const std::string& scratch, const std::vector<TopoDS_Shape>& chosen, const SheetGrids& grids,
                   Surfaces& surfaces, const Wishes& own, const std::vector<int>& wanted,
                   const std::function<void(const char*)>& stage, const std::function<void(Polygons&)>& alike) {
  std::vector<TopoDS_Shape> faces;
  std::vector<int> number;
  Wishes coarse = own;  // each edge of a triangle is parted once more
  coarse.faceSize.clear();
  for (size_t f = 0; f < chosen.size(); ++f)
    if (grids.free()[f]) faces.push_back(chosen[f]), number.push_back(int(f)), coarse.faceSize.push_back(2 * own.faceSize[f]);
  if (faces.empty()) return {};
  const auto alone = writtenAlone(scratch, partedAt(grids.partings(), faces));
  if (alone.size() != faces.size()) throw Refusal("faces are named twice", wanted);
  coarse.size *= 2, coarse.smallest *= 2, coarse.perCircle /= 2;
  for (auto& n : coarse.near) n.size *= 2;
  auto surface = surfaceOnly(scratch, alone, coarse, stage);
  for (auto& t : surface.triangles) t.face = number[size_t(t.face)];
  auto triangles = polygonsOf(surface, surfaces);
  if (triangles.cells.empty()) throw Refusal("the faces got no elements", wanted);
  alike(triangles);
  stage("quads");
  Ground ground;
  ground.onFace = [&](int f, const Vector3d& x) { return surfaces.onto(f, f, x, 1e300); };
  ground.onBorder = [&](int f, int other, const Vector3d& a, const Vector3d& b) {
    const Vector3d mid = (a + b) / 2;
    const double length = (a - b).norm();
    return other < 0 ? surfaces.ontoRim(f, mid, length) : surfaces.onto(f, other, mid, length);
  };
  return quadsOf(std::move(triangles), ground);
}

/// The free sides of cells, with what lies beyond the shape's edges that they run along.
void findRims(Sheet& s, const std::vector<TopoDS_Shape>& faces, const std::vector<int>& wanted, const Surfaces& surfaces) {
  std::map<Edge, int> uses;
  for (const auto& c : s.cells)
    for (size_t i = 0; i < 4; ++i) ++uses[std::minmax(c[i], c[(i + 1) % 4])];
  TopTools_IndexedMapOfShape free;  // edges in the order they turn up
  std::vector<TopTools_IndexedMapOfShape> edgesOf(faces.size());
  for (size_t f = 0; f < faces.size(); ++f) TopExp::MapShapes(faces[f], TopAbs_EDGE, edgesOf[f]);
  for (int f : wanted)
    for (int i = 1; i <= edgesOf[size_t(f)].Extent(); ++i) {
      const auto& edge = edgesOf[size_t(f)](i);
      const auto holds = [&](int other) { return edgesOf[size_t(other)].Contains(edge); };
      if (std::count_if(wanted.begin(), wanted.end(), holds) == 1) free.Add(edge);
    }
  for (size_t c = 0; c < s.cells.size(); ++c)
    for (size_t i = 0; i < 4; ++i) {
      const int a = s.cells[c][i], b = s.cells[c][(i + 1) % 4];
      if (uses[std::minmax(a, b)] != 1) continue;
      const int own = wanted[size_t(s.face[c])], at = surfaces.rimAt(s.face[c], (s.x[size_t(a)] + s.x[size_t(b)]) / 2);
      const TopoDS_Shape edge = at ? surfaces.edges(s.face[c])(at) : TopoDS_Shape();
      int beyond = at ? -std::max(1, free.FindIndex(edge)) : -1;
      for (size_t f = 0; f < faces.size() && at; ++f)
        if (int(f) != own && edgesOf[f].Contains(edge)) beyond = int(f);
      s.rims.push_back({int(c), int(i), beyond});
    }
}

}  // namespace

Sheet sheetOf(const std::string& scratch, const std::vector<TopoDS_Shape>& faces, const std::vector<int>& wanted, const Wishes& w,
              const std::function<void(const char*)>& stage) {
  std::vector<TopoDS_Shape> chosen;
  for (int f : wanted) chosen.push_back(faces.at(size_t(f)));
  Surfaces surfaces(chosen);
  const Wishes own = forAlone(w, wanted);
  std::vector<bool> turned(chosen.size(), false);
  const auto alike = [&](Polygons& p) {
    const auto now = turnAlike(p, chosen.size(), wanted);
    for (size_t f = 0; f < now.size(); ++f) turned[f] = turned[f] != now[f];
  };
  SheetGrids grids(chosen, surfaces, own);
  std::optional<Polygons> q;
  for (int tries = 0; !q; ++tries) {
    stage("grids");
    grids.divide();
    turned.assign(chosen.size(), false);
    Polygons beside;
    try {
      beside = freeQuads(scratch, chosen, grids, surfaces, own, wanted, stage, alike);
    } catch (const Refusal&) {  // with the grids' partings on its edges a face may be harder to cover
      if (!grids.freeAll()) throw;
      continue;
    }
    if (grids.join(beside))
      q = grids.grids();
    else if (tries >= 3)
      grids.letGo();
  }
  alike(*q);
  Sheet s;
  s.x = q->x, s.face = q->face;
  for (size_t c = 0; c < q->cells.size(); ++c) {
    const auto& cell = q->cells[c];
    s.cells.push_back({cell[0], cell[1], cell[2], cell[3]});
    const auto at = [&](size_t i) -> const Vector3d& { return s.x[size_t(cell[i % 4])]; };
    const Vector3d across = (at(2) - at(0)).cross(at(3) - at(1)).normalized();
    auto& normals = s.normal.emplace_back();
    for (size_t i = 0; i < 4; ++i) {
      normals[i] = (turned[size_t(s.face[c])] ? -1 : 1) * surfaces.normal(s.face[c], at(i));
      if (normals[i].dot(across) < 0.2) normals[i] = across;  // at poles, and where the surface's own coordinates end
    }
    if (const double j = scaledJacobian(at(0), at(1), at(2), at(3), across); j < s.worst)
      s.worst = j, s.worstPlace = (at(0) + at(1) + at(2) + at(3)) / 4;
  }
  findRims(s, faces, wanted, surfaces);
  return s;
}

}  // namespace anvil::mesher
