#include "mesher/midside.hpp"

#include <BRepAdaptor_Surface.hxx>
#include <BRep_Tool.hxx>
#include <GeomAPI_ProjectPointOnCurve.hxx>
#include <Geom_Curve.hxx>
#include <ShapeAnalysis_Surface.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <algorithm>
#include <map>
#include <unordered_map>

#include "mesher/improve.hpp"

namespace anvil::mesher {
namespace {

using Eigen::Vector3d;

constexpr int edges[6][2] = {{0, 1}, {1, 2}, {2, 0}, {0, 3}, {1, 3}, {2, 3}};

gp_Pnt point(const Vector3d& x) { return {x.x(), x.y(), x.z()}; }
Vector3d vector(const gp_Pnt& p) { return {p.X(), p.Y(), p.Z()}; }

/// Puts points on the faces and shared edges of the shape.
class Surfaces {
 public:
  explicit Surfaces(const std::vector<TopoDS_Shape>& faces) {
    for (const auto& f : faces) {
      const auto face = TopoDS::Face(f);
      faces_.push_back(
          {new ShapeAnalysis_Surface(BRep_Tool::Surface(face)), BRepAdaptor_Surface(face, false).GetType() == GeomAbs_Plane, {}});
      TopExp::MapShapes(f, TopAbs_EDGE, faces_.back().edges);
    }
  }
  /// `mid` moved onto the faces: one, or two that meet along an edge. `length` of the straight edge; nothing farther is believed.
  Vector3d onto(int a, int b, const Vector3d& mid, double length) {
    Vector3d best = mid;
    if (a == b) {
      auto& f = faces_[size_t(a)];
      if (f.flat) return mid;
      best = vector(f.surface->Value(f.surface->ValueOfUV(point(mid), 1e-7)));
    } else {
      double nearest = 1e300;
      for (int i = 1; i <= faces_[size_t(a)].edges.Extent(); ++i) {
        const auto& edge = TopoDS::Edge(faces_[size_t(a)].edges(i));
        if (!faces_[size_t(b)].edges.Contains(edge) || BRep_Tool::Degenerated(edge)) continue;
        double from, to;
        const auto curve = BRep_Tool::Curve(edge, from, to);
        GeomAPI_ProjectPointOnCurve foot(point(mid), curve, from, to);
        if (foot.NbPoints() && foot.LowerDistance() < nearest) nearest = foot.LowerDistance(), best = vector(foot.NearestPoint());
      }
    }
    return (best - mid).norm() < 0.3 * length ? best : mid;
  }

 private:
  struct Face {
    Handle(ShapeAnalysis_Surface) surface;
    bool flat;
    TopTools_IndexedMapOfShape edges;
  };
  std::vector<Face> faces_;
};

/// Smallest Jacobian of a cell over that of its straight tetrahedron, at corners and middles.
double leastJacobian(const std::vector<Vector3d>& x, const std::array<int, 10>& cell) {
  const auto at = [&](int i) -> const Vector3d& { return x[size_t(cell[size_t(i)])]; };
  const double straight = (at(1) - at(0)).cross(at(2) - at(0)).dot(at(3) - at(0));
  double least = 1e300;
  for (int place = 0; place < 10; ++place) {
    double L[4] = {0, 0, 0, 0};
    if (place < 4)
      L[place] = 1;
    else
      L[edges[place - 4][0]] = L[edges[place - 4][1]] = 0.5;
    Vector3d d[4];  // derivatives by each barycentric coordinate
    for (int i = 0; i < 4; ++i) d[i] = (4 * L[i] - 1) * at(i);
    for (int e = 0; e < 6; ++e) {
      const int i = edges[e][0], j = edges[e][1];
      d[i] += 4 * L[j] * at(4 + e), d[j] += 4 * L[i] * at(4 + e);
    }
    least = std::min(least, (d[1] - d[0]).cross(d[2] - d[0]).dot(d[3] - d[0]) / straight);
  }
  return least;
}

}  // namespace

Quadratic quadratic(const Tetrahedra& mesh, const std::vector<TopoDS_Shape>& faces) {
  Quadratic q;
  q.x = mesh.x;
  std::map<std::pair<int, int>, int> middle;
  std::vector<std::pair<int, int>> ends;  // of each middle
  const auto between = [&](int a, int b) {
    const auto [it, fresh] = middle.try_emplace(std::minmax(a, b), int(q.x.size()));
    if (fresh) q.x.push_back((mesh.x[size_t(a)] + mesh.x[size_t(b)]) / 2), ends.push_back(it->first);
    return it->second;
  };
  for (const auto& c : mesh.cells) {
    if (const double s = scaledJacobian(mesh.x, c); s < q.worst) {
      q.worst = s, q.worstPlace.setZero();
      for (int n : c) q.worstPlace += mesh.x[size_t(n)] / 4;
    }
    std::array<int, 10> cell{c[0], c[1], c[2], c[3]};
    for (int e = 0; e < 6; ++e) cell[size_t(4 + e)] = between(c[size_t(edges[e][0])], c[size_t(edges[e][1])]);
    q.cells.push_back(cell);
  }
  std::unordered_map<int, std::pair<int, int>> sides;  // of outer middles: one or two faces
  for (const auto& t : mesh.triangles) {
    Quadratic::Triangle triangle{{t.node[0], t.node[1], t.node[2]}, t.face};
    for (int e = 0; e < 3; ++e) {
      const int m = between(t.node[size_t(e)], t.node[size_t((e + 1) % 3)]);
      triangle.node[size_t(3 + e)] = m;
      const auto [it, fresh] = sides.try_emplace(m, t.face, t.face);
      if (!fresh) it->second.second = t.face;
    }
    q.triangles.push_back(triangle);
  }
  // onto the shape
  Surfaces surfaces(faces);
  const std::vector<Vector3d> straight = q.x;
  std::vector<bool> moved(q.x.size(), false);
  for (size_t k = 0; k < ends.size(); ++k) {
    const size_t m = mesh.x.size() + k;
    const auto it = sides.find(int(m));
    if (it == sides.end()) continue;
    q.x[m] = surfaces.onto(it->second.first, it->second.second, straight[m],
                           (mesh.x[size_t(ends[k].first)] - mesh.x[size_t(ends[k].second)]).norm());
    moved[m] = (q.x[m] - straight[m]).squaredNorm() > 0;
  }
  // back again where elements suffer; the last round makes them straight
  std::vector<bool> drawn(q.x.size(), false);
  for (int round = 0; round < 6; ++round) {
    std::vector<bool> back(q.x.size(), false);
    bool any = false;
    for (const auto& c : q.cells) {
      if (std::none_of(c.begin() + 4, c.end(), [&](int n) { return moved[size_t(n)]; }) || leastJacobian(q.x, c) > 0.2) continue;
      for (int e = 4; e < 10; ++e)
        if (moved[size_t(c[size_t(e)])]) back[size_t(c[size_t(e)])] = any = true;
    }
    if (!any) break;
    for (size_t m = 0; m < back.size(); ++m)
      if (back[m]) {
        q.x[m] = round < 5 ? Vector3d((q.x[m] + straight[m]) / 2) : straight[m];
        if (round == 5) moved[m] = false;
        drawn[m] = true;
      }
  }
  q.straightened = int(std::count(drawn.begin(), drawn.end(), true));
  return q;
}

}  // namespace anvil::mesher
