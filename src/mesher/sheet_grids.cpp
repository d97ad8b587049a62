// Regular grids on faces with four sides.
#include <BRepAdaptor_Curve.hxx>
#include <BRepTools.hxx>
#include <BRepTools_WireExplorer.hxx>
#include <BRep_Tool.hxx>
#include <GCPnts_AbscissaPoint.hxx>
#include <Geom2d_Curve.hxx>
#include <Geom_Surface.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Wire.hxx>
#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

#include "mesher/points.hpp"
#include "mesher/sheet.hpp"

namespace anvil::mesher {
namespace {

using Eigen::Vector2d;
using Eigen::Vector3d;

/// An edge that faces share: how many elements lie along it, and its nodes in the curve's own sense.
struct Line {
  TopoDS_Edge edge;
  double length = 0, turned = 0;
  int count = 1;
  std::vector<double> parameter;
  std::vector<int> node;
};

class FaceGrids {
 public:
  FaceGrids(const std::vector<TopoDS_Shape>& faces, Surfaces& surfaces, const Wishes& w)
      : faces_(faces), surfaces_(surfaces), w_(w) {}

  std::optional<Polygons> run() {
    for (size_t f = 0; f < faces_.size(); ++f)
      if (!takeSides(f)) return {};
    divide();
    for (auto& line : lines_) place(line);
    for (size_t f = 0; f < faces_.size(); ++f)
      if (!grid(f)) return {};
    return std::move(p_);
  }

 private:
  struct Side {
    int line;
    TopoDS_Edge edge;  ///< as the face's wire runs through it
    bool reversed() const { return edge.Orientation() == TopAbs_REVERSED; }
  };

  /// The four sides of a face, in the order and sense of its wire; false where it has not just these.
  bool takeSides(size_t f) {
    const auto face = TopoDS::Face(faces_[f].Oriented(TopAbs_FORWARD));
    int wires = 0;
    for (TopExp_Explorer e(face, TopAbs_WIRE); e.More(); e.Next()) ++wires;
    if (wires != 1) return false;
    std::vector<Side> sides;
    for (BRepTools_WireExplorer e(BRepTools::OuterWire(face), face); e.More(); e.Next()) {
      if (BRep_Tool::Degenerated(e.Current()) || sides.size() == 4) return false;
      const int before = known_.Extent();
      const int at = known_.Add(e.Current()) - 1;
      if (known_.Extent() > before) {
        Line line;
        line.edge = TopoDS::Edge(e.Current().Oriented(TopAbs_FORWARD));
        measure(line);
        lines_.push_back(line), leader_.push_back(at);
      }
      sides.push_back({at, e.Current()});
    }
    if (sides.size() != 4) return false;
    for (int k : {0, 1}) leader_[size_t(lead(sides[size_t(k)].line))] = lead(sides[size_t(k) + 2].line);
    sides_.push_back(sides);
    return true;
  }

  int lead(int line) const {
    while (leader_[size_t(line)] != line) line = leader_[size_t(line)];
    return line;
  }

  static void measure(Line& line) {
    const BRepAdaptor_Curve curve(line.edge);
    line.length = GCPnts_AbscissaPoint::Length(curve);
    gp_Vec last;
    for (int i = 0; i <= 32; ++i) {
      gp_Pnt at;
      gp_Vec t;
      curve.D1(curve.FirstParameter() + (curve.LastParameter() - curve.FirstParameter()) * i / 32, at, t);
      if (i && t.Magnitude() > 0 && last.Magnitude() > 0) line.turned += t.Angle(last);
      last = t;
    }
  }

  /// Lines opposite each other on a face get the same number, the largest that any of them wants.
  void divide() {
    std::vector<double> size(lines_.size(), w_.size);
    for (size_t f = 0; f < sides_.size(); ++f)
      if (f < w_.faceSize.size() && w_.faceSize[f] > 0)
        for (const auto& s : sides_[f]) size[size_t(s.line)] = std::min(size[size_t(s.line)], w_.faceSize[f]);
    std::map<int, int> most;
    for (size_t i = 0; i < lines_.size(); ++i) {
      const double wanted = std::max(lines_[i].length / size[i], lines_[i].turned / (2 * M_PI) * w_.perCircle);
      int& n = most[lead(int(i))];
      n = std::max(n, std::clamp(int(std::ceil(std::min(wanted, 1e5) - 0.01)), 1, 100000));
    }
    for (size_t i = 0; i < lines_.size(); ++i) lines_[i].count = most[lead(int(i))];
  }

  int vertex(const TopoDS_Shape& v) {
    const int before = corners_.Extent(), at = corners_.Add(v);
    if (corners_.Extent() > before)
      cornerNode_.push_back(int(p_.x.size())), p_.x.push_back(vector(BRep_Tool::Pnt(TopoDS::Vertex(v))));
    return cornerNode_[size_t(at) - 1];
  }

  void place(Line& line) {
    const BRepAdaptor_Curve curve(line.edge);
    for (int i = 0; i <= line.count; ++i) {
      const bool first = i == 0, last = i == line.count;
      line.parameter.push_back(
          first  ? curve.FirstParameter()
          : last ? curve.LastParameter()
                 : GCPnts_AbscissaPoint(curve, line.length * i / line.count, curve.FirstParameter()).Parameter());
      if (first || last) {
        line.node.push_back(vertex(first ? TopExp::FirstVertex(line.edge) : TopExp::LastVertex(line.edge)));
      } else {
        line.node.push_back(int(p_.x.size()));
        p_.x.push_back(vector(curve.Value(line.parameter.back())));
      }
    }
  }

  bool grid(size_t f) {
    const auto face = TopoDS::Face(faces_[f].Oriented(TopAbs_FORWARD));
    const auto surface = BRep_Tool::Surface(face);
    const auto& sides = sides_[f];
    const int n = lines_[size_t(sides[0].line)].count, m = lines_[size_t(sides[1].line)].count;
    // nodes and places in the surface's own coordinates, along a side in the sense of the wire
    const auto along = [&](const Side& side, int i, int& node) {
      const auto& line = lines_[size_t(side.line)];
      const auto at = size_t(side.reversed() ? line.count - i : i);
      double from, to;
      const Handle(Geom2d_Curve) curve = BRep_Tool::CurveOnSurface(side.edge, face, from, to);
      node = line.node[at];
      const gp_Pnt2d uv = curve->Value(line.parameter[at]);
      return Vector2d(uv.X(), uv.Y());
    };
    std::vector<int> id(size_t((n + 1) * (m + 1)), -1);
    const auto slot = [&](int i, int j) -> int& { return id[size_t(j * (n + 1) + i)]; };
    std::vector<Vector2d> low, right, high, left;
    for (int i = 0; i <= n; ++i)
      low.push_back(along(sides[0], i, slot(i, 0))), high.push_back(along(sides[2], n - i, slot(i, m)));
    for (int j = 0; j <= m; ++j)
      right.push_back(along(sides[1], j, slot(n, j))), left.push_back(along(sides[3], m - j, slot(0, j)));
    for (int j = 1; j < m; ++j)
      for (int i = 1; i < n; ++i) {
        const double s = double(i) / n, t = double(j) / m;
        const Vector2d uv =
            (1 - t) * low[size_t(i)] + t * high[size_t(i)] + (1 - s) * left[size_t(j)] + s * right[size_t(j)] -
            ((1 - s) * (1 - t) * low.front() + s * (1 - t) * low.back() + s * t * high.back() + (1 - s) * t * high.front());
        slot(i, j) = int(p_.x.size());
        p_.x.push_back(vector(surface->Value(uv.x(), uv.y())));
      }
    for (int j = 0; j < m; ++j)
      for (int i = 0; i < n; ++i) {
        std::vector<int> cell{slot(i, j), slot(i + 1, j), slot(i + 1, j + 1), slot(i, j + 1)};
        const auto at = [&](size_t k) -> const Vector3d& { return p_.x[size_t(cell[k])]; };
        Vector3d normal = (at(2) - at(0)).cross(at(3) - at(1)).normalized();
        if (normal.dot(surfaces_.normal(int(f), (at(0) + at(1) + at(2) + at(3)) / 4)) < 0)
          std::swap(cell[1], cell[3]), normal = -normal;
        if (scaledJacobian(at(0), at(1), at(2), at(3), normal) < 0.4) return false;
        p_.cells.push_back(cell), p_.face.push_back(int(f)), p_.normal.push_back(normal);
      }
    return true;
  }

  const std::vector<TopoDS_Shape>& faces_;
  Surfaces& surfaces_;
  const Wishes& w_;
  TopTools_IndexedMapOfShape known_, corners_;
  std::vector<Line> lines_;
  std::vector<int> leader_;  ///< of lines that are divided alike
  std::vector<std::vector<Side>> sides_;
  std::vector<int> cornerNode_;
  Polygons p_;
};

}  // namespace

std::optional<Polygons> sheetGrids(const std::vector<TopoDS_Shape>& faces, Surfaces& surfaces, const Wishes& w) {
  return FaceGrids(faces, surfaces, w).run();
}

}  // namespace anvil::mesher
