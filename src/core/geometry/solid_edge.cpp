#include "core/geometry/solid_edge.hpp"

#include <BRepAdaptor_CompCurve.hxx>
#include <BRep_Tool.hxx>
#include <GCPnts_AbscissaPoint.hxx>
#include <ShapeAnalysis_FreeBounds.hxx>
#include <TopExp.hxx>
#include <TopTools_HSequenceOfShape.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Wire.hxx>
#include <algorithm>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/geometry/kernel_shape.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "core/model/place_names.hpp"
#include "core/model/quantities.hpp"

namespace anvil::geometry {
namespace {

class Curve : public SolidEdge {
 public:
  explicit Curve(const TopoDS_Wire& wire) : curve_(wire) {
    first_ = curve_.FirstParameter(), last_ = curve_.LastParameter();
    length_ = GCPnts_AbscissaPoint::Length(curve_);
    constexpr int looks = 256;
    gp_Vec before;
    for (int i = 0; i <= looks; ++i) {
      gp_Pnt at;
      gp_Vec way;
      curve_.D1(first_ + (last_ - first_) * i / looks, at, way);
      if (i && way.Magnitude() > 0 && before.Magnitude() > 0) turned_ += way.Angle(before);
      before = way;
    }
  }
  double length() const override { return length_; }
  double turned() const override { return turned_; }
  Eigen::Vector3d at(double share) const override {
    const double t = share <= 0 ? first_ : share >= 1 ? last_ : GCPnts_AbscissaPoint(curve_, share * length_, first_).Parameter();
    const gp_Pnt p = curve_.Value(t);
    return {p.X(), p.Y(), p.Z()};
  }

 private:
  BRepAdaptor_CompCurve curve_;
  double first_ = 0, last_ = 0, length_ = 0, turned_ = 0;
};

/// Faces of the solid's shape by name. On a thin part a face has an upper and a lower side, which share their edges.
class Edges {
 public:
  Edges(const Solid& solid, const std::string& path) : solid_(solid), path_(path), faces_(facesOfShape(kernelShape(solid))) {}

  std::unique_ptr<SolidEdge> between(const std::string& first, const std::string& second) const {
    const auto a = edgesOf(first);
    TopTools_IndexedMapOfShape shared;
    if (second.starts_with("edge ")) {
      const int number = std::atoi(second.c_str() + 5);
      if (const auto free = freeEdges(); number >= 1 && number <= free.Extent() && a.Contains(free(number)))
        shared.Add(free(number));
    } else {
      const auto b = edgesOf(second);
      for (int i = 1; i <= a.Extent(); ++i)
        if (b.Contains(a(i)) && !BRep_Tool::Degenerated(TopoDS::Edge(a(i))) && !isSeam(a(i))) shared.Add(a(i));
    }
    if (shared.IsEmpty())
      throw Error("the faces '" + first + "' and '" + second + "' have no edge in common", path_, "Name faces that meet.");
    return chained(shared, first, second);
  }

 private:
  TopTools_IndexedMapOfShape edgesOf(const std::string& asked) const {
    std::string name = asked;
    const auto known = [&] {
      return std::any_of(solid_.faces().begin(), solid_.faces().end(), [&](const auto& f) { return f.name == name; });
    };
    for (const std::string side : {" upper", " lower"})
      if (!known() && name.ends_with(side)) name.resize(name.size() - side.size());
    TopTools_IndexedMapOfShape edges;
    std::vector<std::string> names;
    for (int f = 1; f <= faces_.Extent(); ++f) {
      names.push_back(solid_.faces()[size_t(f) - 1].name);
      if (names.back() == name) TopExp::MapShapes(faces_(f), TopAbs_EDGE, edges);
    }
    if (!edges.IsEmpty()) return edges;
    const auto near = nearest(name, names);
    throw Error("there is no face '" + asked + "' of that part", path_,
                near.empty() ? "Faces: " + inProse(names) + "." : "Did you mean '" + near + "'?");
  }

  bool isSeam(const TopoDS_Shape& edge) const {
    for (int f = 1; f <= faces_.Extent(); ++f)
      if (BRep_Tool::IsClosed(TopoDS::Edge(edge), TopoDS::Face(faces_(f)))) return true;
    return false;
  }

  /// Edges that only one face has, as they turn up: numbered as the mesher numbers them.
  TopTools_IndexedMapOfShape freeEdges() const {
    TopTools_IndexedMapOfShape free;
    std::vector<TopTools_IndexedMapOfShape> of(size_t(faces_.Extent()));
    for (int f = 1; f <= faces_.Extent(); ++f) TopExp::MapShapes(faces_(f), TopAbs_EDGE, of[size_t(f) - 1]);
    for (const auto& edges : of)
      for (int i = 1; i <= edges.Extent(); ++i)
        if (std::count_if(of.begin(), of.end(), [&](const auto& o) { return o.Contains(edges(i)); }) == 1) free.Add(edges(i));
    return free;
  }

  std::unique_ptr<SolidEdge> chained(const TopTools_IndexedMapOfShape& edges, const std::string& first,
                                     const std::string& second) const {
    Handle(TopTools_HSequenceOfShape) pieces = new TopTools_HSequenceOfShape, wires;
    for (int i = 1; i <= edges.Extent(); ++i) pieces->Append(edges(i).Oriented(TopAbs_FORWARD));
    ShapeAnalysis_FreeBounds::ConnectEdgesToWires(pieces, 1e-6, true, wires);
    if (wires.IsNull() || wires->Length() != 1)
      throw Error("the faces '" + first + "' and '" + second + "' meet in " +
                      std::to_string(wires.IsNull() ? 0 : wires->Length()) + " places",
                  path_, "Take another pair of faces, or draw the line from point to point.");
    return std::make_unique<Curve>(TopoDS::Wire(wires->Value(1)));
  }

  const Solid& solid_;
  const std::string& path_;
  TopTools_IndexedMapOfShape faces_;
};

}  // namespace

std::unique_ptr<SolidEdge> edgeBetween(const Solid& solid, const std::string& first, const std::string& second,
                                       const std::string& path) {
  return Edges(solid, path).between(first, second);
}

std::unique_ptr<SolidEdge> edgeNamed(const model::Document& d, const model::Quantities& q, std::map<std::string, Solid>& known,
                                     const std::string& name, const std::string& path) {
  const auto faces = model::facesInName(name);
  const auto partOf = [](const std::string& face) { return face.substr(0, face.find('.')); };
  if (faces.size() != 2 || partOf(faces[0]) != partOf(faces[1]) || partOf(faces[0]) == faces[0] || partOf(faces[1]) == faces[1])
    throw Error("'" + name + "' is no edge", path, "Write the faces that meet there: part.face & part.face.");
  const std::string own = partOf(faces[0]);
  const auto* part = d.parts.find(own);
  if (!part) {
    const auto near = nearest(own, d.parts.names());
    throw Error("there is no part '" + own + "'", path,
                near.empty() ? "Parts: " + inProse(d.parts.names()) + "." : "Did you mean '" + near + "'?");
  }
  if (part->solid.empty())
    throw Error("the part '" + own + "' is not made of features or a STEP file, so it has no edges to draw along", path,
                "Draw the line from point to point.");
  auto at = known.find(own);
  if (at == known.end()) at = known.emplace(own, solid(*part, q, d.home.folder, "parts/" + own)).first;
  return edgeBetween(at->second, faces[0].substr(own.size() + 1), faces[1].substr(own.size() + 1), path);
}

}  // namespace anvil::geometry
