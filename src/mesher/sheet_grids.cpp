// Regular grids on faces with four sides.
#include "mesher/sheet_grids.hpp"

#include <BRepAdaptor_Curve.hxx>
#include <BRepBndLib.hxx>
#include <BRepTools.hxx>
#include <BRepTools_WireExplorer.hxx>
#include <BRep_Tool.hxx>
#include <Bnd_Box.hxx>
#include <GCPnts_AbscissaPoint.hxx>
#include <Geom2d_Curve.hxx>
#include <GeomAPI_ProjectPointOnCurve.hxx>
#include <Geom_Curve.hxx>
#include <Geom_Surface.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Wire.hxx>
#include <algorithm>
#include <cmath>
#include <numeric>

#include "mesher/points.hpp"

namespace anvil::mesher {

using Eigen::Vector2d;
using Eigen::Vector3d;

SheetGrids::SheetGrids(const std::vector<TopoDS_Shape>& faces, Surfaces& surfaces, const Wishes& w)
    : faces_(faces), surfaces_(surfaces), w_(w), sides_(faces.size()), free_(faces.size(), false) {
  for (size_t f = 0; f < faces_.size(); ++f) free_[f] = refined(f) || !takeSides(f);
}

bool SheetGrids::refined(size_t f) const {
  Bnd_Box box;
  BRepBndLib::Add(faces_[f], box);
  const double own = f < w_.faceSize.size() && w_.faceSize[f] > 0 ? std::min(w_.size, w_.faceSize[f]) : w_.size;
  return std::any_of(w_.near.begin(), w_.near.end(), [&](const auto& n) {
    Bnd_Box round;
    round.Set(point(n.at)), round.Enlarge(n.within);
    return n.size < own && !box.IsOut(round);
  });
}

bool SheetGrids::takeSides(size_t f) {
  const auto face = TopoDS::Face(faces_[f].Oriented(TopAbs_FORWARD));
  int wires = 0;
  for (TopExp_Explorer e(face, TopAbs_WIRE); e.More(); e.Next()) ++wires;
  if (wires != 1) return false;
  std::vector<TopoDS_Edge> round;
  for (BRepTools_WireExplorer e(BRepTools::OuterWire(face), face); e.More(); e.Next()) {
    if (BRep_Tool::Degenerated(e.Current()) || round.size() == 4) return false;
    round.push_back(e.Current());
  }
  if (round.size() != 4) return false;
  for (const auto& edge : round) {
    const int before = known_.Extent(), at = known_.Add(edge) - 1;
    if (known_.Extent() > before) {
      Line line;
      line.edge = TopoDS::Edge(edge.Oriented(TopAbs_FORWARD));
      measure(line);
      lines_.push_back(line);
    }
    sides_[f].push_back({at, edge});
  }
  return true;
}

void SheetGrids::measure(Line& line) {
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

int SheetGrids::lead(int line) const {
  while (leader_[size_t(line)] != line) line = leader_[size_t(line)];
  return line;
}

void SheetGrids::divide() {
  leader_.resize(lines_.size());
  std::iota(leader_.begin(), leader_.end(), 0);
  std::vector<double> size(lines_.size(), w_.size);
  for (size_t f = 0; f < faces_.size(); ++f) {
    if (free_[f]) continue;
    for (size_t k : {0, 1}) leader_[size_t(lead(sides_[f][k].line))] = lead(sides_[f][k + 2].line);
    for (const auto& s : sides_[f])
      if (f < w_.faceSize.size() && w_.faceSize[f] > 0) size[size_t(s.line)] = std::min(size[size_t(s.line)], w_.faceSize[f]);
  }
  const auto used = usedLines();
  for (auto& line : lines_) line.beside = false;
  for (size_t f = 0; f < faces_.size(); ++f) {
    if (!free_[f]) continue;
    TopTools_IndexedMapOfShape edges;
    TopExp::MapShapes(faces_[f], TopAbs_EDGE, edges);
    for (size_t i = 0; i < lines_.size(); ++i)
      if (used[i] && edges.Contains(lines_[i].edge)) lines_[i].beside = true;
  }
  std::vector<int> most(lines_.size(), 1);
  std::vector<bool> even(lines_.size(), false);
  for (size_t i = 0; i < lines_.size(); ++i) {
    if (!used[i]) continue;
    const double wanted = std::max(lines_[i].length / size[i], lines_[i].turned / (2 * M_PI) * w_.perCircle);
    const auto group = size_t(lead(int(i)));
    most[group] = std::max({most[group], lines_[i].least, std::clamp(int(std::ceil(std::min(wanted, 1e5) - 0.01)), 1, 100000)});
    if (lines_[i].beside) even[group] = true;
  }
  for (size_t i = 0; i < lines_.size(); ++i) {
    const auto group = size_t(lead(int(i)));
    lines_[i].count = even[group] ? (most[group] + 1) / 2 * 2 : most[group];
  }
}

std::vector<Vector3d> SheetGrids::partings() const {
  std::vector<Vector3d> places;
  for (const auto& line : lines_) {
    if (!line.beside) continue;
    const BRepAdaptor_Curve curve(line.edge);
    for (int i = 2; i < line.count; i += 2)
      places.push_back(
          vector(curve.Value(GCPnts_AbscissaPoint(curve, line.length * i / line.count, curve.FirstParameter()).Parameter())));
  }
  return places;
}

bool SheetGrids::join(const Polygons& beside) {
  p_ = beside;
  corners_.Clear(), cornerNode_.clear();
  std::map<std::pair<int, int>, std::pair<int, size_t>> sides;  // how often a side is used, and by which cell
  for (size_t c = 0; c < beside.cells.size(); ++c)
    for (size_t i = 0; i < beside.cells[c].size(); ++i) {
      auto& use = sides[std::minmax(beside.cells[c][i], beside.cells[c][(i + 1) % beside.cells[c].size()])];
      ++use.first, use.second = c;
    }
  std::vector<std::set<int>> on(lines_.size());
  border_.clear();
  for (const auto& [side, use] : sides) {
    if (use.first != 1) continue;
    border_.insert({side.first, side.second});
    const int f = beside.face[use.second];
    const Vector3d middle = (p_.x[size_t(side.first)] + p_.x[size_t(side.second)]) / 2;
    const int at = surfaces_.rimAt(f, middle), line = at ? known_.FindIndex(surfaces_.edges(f)(at)) - 1 : -1;
    if (line >= 0 && lines_[size_t(line)].beside) on[size_t(line)].insert({side.first, side.second});
  }
  bool alike = true;
  for (size_t i = 0; i < lines_.size(); ++i) {
    auto& line = lines_[i];
    line.parameter.clear(), line.node.clear();
    line.unlike = line.beside && !follow(line, on[i]);
    alike &= !line.unlike;
  }
  return alike;
}

bool SheetGrids::follow(Line& line, const std::set<int>& nodes) {
  double from, to;
  const auto curve = BRep_Tool::Curve(line.edge, from, to);
  const Vector3d first = vector(curve->Value(from)), last = vector(curve->Value(to));
  const double near = 1e-6 * line.length;
  std::map<double, int> order;
  for (int n : nodes) {
    const Vector3d x = p_.x[size_t(n)];
    if ((x - first).norm() < near) order[from] = n;
    if ((x - last).norm() < near) order[to] = n;
    if ((x - first).norm() < near || (x - last).norm() < near) continue;
    GeomAPI_ProjectPointOnCurve foot(point(x), curve, from, to);
    if (!foot.NbPoints()) return false;
    order[foot.LowerDistanceParameter()] = n;
  }
  for (const auto& [at, n] : order) line.parameter.push_back(at), line.node.push_back(n);
  const int found = int(order.size()) - 1;
  if (found == line.count) return true;
  line.least = std::max(line.least, found);
  return false;
}

std::vector<bool> SheetGrids::usedLines() const {
  std::vector<bool> used(lines_.size(), false);
  for (size_t f = 0; f < faces_.size(); ++f)
    for (const auto& s : sides_[f])
      if (!free_[f]) used[size_t(s.line)] = true;
  return used;
}

int SheetGrids::vertex(const TopoDS_Shape& v) {
  const int before = corners_.Extent(), at = corners_.Add(v);
  if (corners_.Extent() == before) return cornerNode_[size_t(at) - 1];
  const Vector3d x = vector(BRep_Tool::Pnt(TopoDS::Vertex(v)));
  const double near = std::max(1e-6 * w_.size, 2 * BRep_Tool::Tolerance(TopoDS::Vertex(v)));
  int node = -1;
  for (int n : border_)
    if ((p_.x[size_t(n)] - x).norm() < near) node = n;
  if (node < 0) node = int(p_.x.size()), p_.x.push_back(x);
  cornerNode_.push_back(node);
  return node;
}

void SheetGrids::place(Line& line) {
  const BRepAdaptor_Curve curve(line.edge);
  for (int i = 0; i <= line.count; ++i) {
    const bool first = i == 0, last = i == line.count;
    line.parameter.push_back(first ? curve.FirstParameter()
                             : last
                                 ? curve.LastParameter()
                                 : GCPnts_AbscissaPoint(curve, line.length * i / line.count, curve.FirstParameter()).Parameter());
    if (first || last) {
      line.node.push_back(vertex(first ? TopExp::FirstVertex(line.edge) : TopExp::LastVertex(line.edge)));
    } else {
      line.node.push_back(int(p_.x.size()));
      p_.x.push_back(vector(curve.Value(line.parameter.back())));
    }
  }
}

bool SheetGrids::grid(size_t f) {
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
  for (int i = 0; i <= n; ++i) low.push_back(along(sides[0], i, slot(i, 0))), high.push_back(along(sides[2], n - i, slot(i, m)));
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

std::optional<Polygons> SheetGrids::grids() {
  const auto used = usedLines();
  for (size_t i = 0; i < lines_.size(); ++i)
    if (used[i] && lines_[i].node.empty()) place(lines_[i]);
  bool sound = true;
  for (size_t f = 0; f < faces_.size(); ++f)
    if (!free_[f] && !grid(f)) free_[f] = true, sound = false;
  if (!sound) return {};
  return std::move(p_);
}

bool SheetGrids::freeAll() {
  const bool any = std::find(free_.begin(), free_.end(), false) != free_.end();
  free_.assign(free_.size(), true);
  return any;
}

void SheetGrids::letGo() {
  std::set<int> groups;
  for (size_t i = 0; i < lines_.size(); ++i)
    if (lines_[i].unlike) groups.insert(lead(int(i)));
  const auto unlike = [&](const Side& s) { return groups.contains(lead(s.line)); };
  for (size_t f = 0; f < faces_.size(); ++f)
    if (std::any_of(sides_[f].begin(), sides_[f].end(), unlike)) free_[f] = true;
}

}  // namespace anvil::mesher
