#include "core/geometry/wall.hpp"

#include <BRepClass_FaceClassifier.hxx>
#include <BRepTools.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <Geom_Surface.hxx>
#include <IntCurvesFace_ShapeIntersector.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>
#include <algorithm>
#include <cmath>
#include <deque>
#include <gp_Lin.hxx>
#include <map>
#include <set>

#include "core/geometry/kernel_shape.hpp"

namespace anvil::geometry {
namespace {

/// What lies behind a face: how thick, and which faces are on the other side.
struct Behind {
  double thickness = 0;
  std::set<int> others;
  bool wall = false;
};

class Look {
 public:
  explicit Look(const Solid& solid) : solid_(solid), shape_(kernelShape(solid)), faces_(facesOfShape(shape_)) {
    through_.Load(shape_, 1e-6);
  }

  std::optional<Wall> run() {
    std::vector<Behind> behind;
    for (int f = 1; f <= faces_.Extent(); ++f) behind.push_back(lookFrom(f));
    const double t = usual(behind);
    if (!(t > 0)) return {};
    for (auto& b : behind) b.wall = b.thickness > 0 && std::abs(b.thickness - t) < 0.03 * t;
    const auto side = oneSide(behind);
    if (!side) return {};
    double area[2] = {0, 0};
    for (size_t f = 0; f < behind.size(); ++f)
      if (behind[f].wall) area[(*side)[f]] += solid_.faces()[f].area;
    const int larger = area[0] >= area[1] ? 0 : 1;
    const double middle = (area[0] + area[1]) / 2;
    if (std::abs(middle * t - solid_.volume()) > 0.07 * solid_.volume() || t > std::sqrt(middle) / 12) return {};
    Wall wall{{}, t};
    for (size_t f = 0; f < behind.size(); ++f)
      if (behind[f].wall && (*side)[f] == larger) wall.faces.push_back(int(f));
    return wall;
  }

 private:
  /// A point of a face and its outward normal; false outside of the face.
  bool pointOn(const TopoDS_Face& face, double s, double t, gp_Pnt& at, gp_Vec& outward) const {
    double u0, u1, v0, v1;
    BRepTools::UVBounds(face, u0, u1, v0, v1);
    const gp_Pnt2d uv(u0 + s * (u1 - u0), v0 + t * (v1 - v0));
    if (BRepClass_FaceClassifier(face, uv, 1e-7).State() != TopAbs_IN) return false;
    gp_Vec du, dv;
    BRep_Tool::Surface(face)->D1(uv.X(), uv.Y(), at, du, dv);
    outward = du.Crossed(dv);
    if (outward.Magnitude() < 1e-12) return false;
    outward.Normalize();
    if (face.Orientation() == TopAbs_REVERSED) outward.Reverse();
    return true;
  }

  Behind lookFrom(int number) {
    const auto& face = TopoDS::Face(faces_(number));
    std::vector<std::pair<double, int>> seen;  // thickness, face
    int looked = 0;
    for (const double s : {0.5, 0.27, 0.73, 0.13, 0.87})
      for (const double t : {0.5, 0.31, 0.69}) {
        gp_Pnt at;
        gp_Vec outward;
        if (!pointOn(face, s, t, at, outward)) continue;
        ++looked;
        through_.Perform(gp_Lin(at, gp_Dir(-outward)), 1e-5, 1e9);
        double nearest = 1e300;
        int hit = 0;
        for (int i = 1; through_.IsDone() && i <= through_.NbPnt(); ++i)
          if (through_.WParameter(i) < nearest) nearest = through_.WParameter(i), hit = i;
        if (!hit) continue;
        const auto& there = through_.Face(hit);
        gp_Pnt at2;
        gp_Vec du, dv;
        BRep_Tool::Surface(there)->D1(through_.UParameter(hit), through_.VParameter(hit), at2, du, dv);
        gp_Vec n = du.Crossed(dv);
        if (n.Magnitude() < 1e-12) continue;
        n.Normalize();
        if (std::abs(n.Dot(outward)) < 0.995) continue;  // not parallel
        seen.emplace_back(nearest, faces_.FindIndex(there) - 1);
      }
    if (seen.empty() || 2 * int(seen.size()) < looked) return {};
    std::sort(seen.begin(), seen.end());
    Behind b;
    b.thickness = seen[seen.size() / 2].first;
    int alike = 0;
    for (const auto& [thickness, other] : seen)
      if (std::abs(thickness - b.thickness) < 0.03 * b.thickness) ++alike, b.others.insert(other);
    if (2 * alike < looked) return {};
    return b;
  }

  /// The thickness behind the largest part of the surface.
  double usual(const std::vector<Behind>& behind) const {
    double best = 0, most = 0;
    for (const auto& b : behind) {
      double area = 0;
      for (size_t k = 0; k < behind.size() && b.thickness > 0; ++k)
        if (std::abs(behind[k].thickness - b.thickness) < 0.03 * b.thickness) area += solid_.faces()[k].area;
      if (area > most * (1 + 1e-9)) most = area, best = b.thickness;
    }
    return best;
  }

  /// Which of the wall's two sides each face lies on: faces that meet along an edge lie on the same one, those behind on the
  /// other. Nothing where that does not work out.
  std::optional<std::vector<int>> oneSide(const std::vector<Behind>& behind) {
    std::vector<TopTools_IndexedMapOfShape> edges(behind.size());
    for (size_t f = 0; f < behind.size(); ++f) TopExp::MapShapes(faces_(int(f) + 1), TopAbs_EDGE, edges[f]);
    const auto meet = [&](size_t a, size_t b) {
      for (int i = 1; i <= edges[a].Extent(); ++i)
        if (edges[b].Contains(edges[a](i))) return true;
      return false;
    };
    std::vector<int> side(behind.size(), -1);
    for (size_t start = 0; start < behind.size(); ++start) {
      if (!behind[start].wall || side[start] >= 0) continue;
      if (start > 0 && std::any_of(side.begin(), side.end(), [](int s) { return s >= 0; })) return {};  // two walls
      side[start] = 0;
      for (std::deque<size_t> open{start}; !open.empty(); open.pop_front()) {
        const size_t f = open.front();
        const auto put = [&](size_t other, int s) {
          if (!behind[other].wall) return true;
          if (side[other] < 0) side[other] = s, open.push_back(other);
          return side[other] == s;
        };
        for (int other : behind[f].others)
          if (!put(size_t(other), 1 - side[f])) return {};
        for (size_t other = 0; other < behind.size(); ++other)
          if (other != f && behind[other].wall && meet(f, other) && !put(other, side[f])) return {};
      }
    }
    return side;
  }

  const Solid& solid_;
  TopoDS_Shape shape_;
  TopTools_IndexedMapOfShape faces_;
  IntCurvesFace_ShapeIntersector through_;
};

}  // namespace

std::optional<Wall> wallOf(const Solid& solid) {
  if (solid.sheet() || solid.faces().size() > 200) return {};
  return Look(solid).run();
}

}  // namespace anvil::geometry
