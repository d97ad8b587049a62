#include "core/geometry/solid.hpp"

#include <Eigen/Geometry>

#include <BRepAdaptor_Surface.hxx>
#include <BRepBndLib.hxx>
#include <BRepCheck_Analyzer.hxx>
#include <BRepFilletAPI_MakeChamfer.hxx>
#include <BRepFilletAPI_MakeFillet.hxx>
#include <BRepGProp.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepTools.hxx>
#include <Bnd_Box.hxx>
#include <GProp_GProps.hxx>
#include <Standard_Failure.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <functional>
#include <gp_Ax1.hxx>
#include <gp_Ax2.hxx>
#include <gp_Pln.hxx>
#include <gp_Quaternion.hxx>
#include <gp_Trsf.hxx>
#include <sstream>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/geometry/face_shape.hpp"
#include "core/geometry/feature_shapes.hpp"
#include "core/geometry/imprint.hpp"
#include "core/geometry/recipes.hpp"
#include "core/geometry/step_features.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::geometry {

using Eigen::Vector3d;

class SolidBuilder {
 public:
  SolidBuilder(const model::Part& part, const model::Quantities& q, const std::string& folder, const std::string& path)
      : part_(part), q_(q), shapes_(q), folder_(folder), path_(path) {}

  Solid build() {
    for (size_t i = 0; i < part_.solid.size(); ++i) add(part_.solid[i], path_ + "/solid/" + std::to_string(i + 1));
    placeWhole();
    return finish();
  }

 private:
  /// What lies before a plane, as large as the body needs.
  Named before(const model::HalfFeature& h, const std::string& name, const std::string& path) const {
    const auto n = q_.inSpace(h.normal, path + "/normal", "[1, 0, 0] takes away what lies at larger x.");
    const Vector3d normal(n[0], n[1], n[2]), at = shapes_.point(h.at, path + "/at");
    Bnd_Box b;
    BRepBndLib::Add(body_.shape, b);
    const gp_Pnt low = b.CornerMin(), high = b.CornerMax();
    const Vector3d middle = Vector3d(low.X() + high.X(), low.Y() + high.Y(), low.Z() + high.Z()) / 2;
    const double size = 4 * (low.Distance(high) + (middle - at).norm());
    const Vector3d foot = middle - normal.dot(middle - at) * normal, u = normal.unitOrthogonal(), v = normal.cross(u),
                   corner = foot - size / 2 * (u + v);
    const gp_Ax2 frame(gp_Pnt(corner.x(), corner.y(), corner.z()), gp_Dir(normal.x(), normal.y(), normal.z()),
                       gp_Dir(u.x(), u.y(), u.z()));
    return named(BRepPrimAPI_MakeBox(frame, size, size, size).Solid(), name,
                 [&](const auto& s, const auto& f) { return std::string(outward(s, f).dot(normal) < -0.5 ? "cut" : "outside"); });
  }
  Named step(const model::StepFeature& s, const std::string& name, const std::string& path) const {
    const auto taken = stepSolid(s, folder_, path);
    const auto known = knownFaces(s, q_, path);
    const auto marks = marksOf(taken.shape);
    std::vector<int> numbers;
    if (known.empty())
      for (size_t i = 0; i < marks.size(); ++i) numbers.push_back(int(i) + 1);
    else
      numbers = matched(known, marks).number;
    size_t at = 0;
    return named(taken.shape, name, [&](const auto&, const auto&) { return std::to_string(numbers[at++]); });
  }

  /// Edges between two named faces, or all of one.
  std::vector<TopoDS_Edge> edgesOf(const model::EdgeFeature& e, const std::string& path) const {
    if (e.between.empty() || e.between.size() > 2)
      throw Error("one or two faces are needed", path + "/between", "Name them as feature.face.");
    std::vector<TopTools_IndexedMapOfShape> edges(e.between.size());
    for (size_t i = 0; i < e.between.size(); ++i) {
      bool any = false;
      for (const auto& [face, name] : body_.names)
        if (name == e.between[i]) TopExp::MapShapes(face, TopAbs_EDGE, edges[i]), any = true;
      if (!any)
        throw Error("there is no face '" + e.between[i] + "' at this point", path + "/between/" + std::to_string(i + 1),
                    facesKnown(e.between[i]));
    }
    std::vector<TopoDS_Edge> list;
    for (int i = 1; i <= edges[0].Extent(); ++i)
      if (const auto& edge = TopoDS::Edge(edges[0](i)); (edges.size() == 1 || edges[1].Contains(edge)) && !isSeam(edge))
        list.push_back(edge);
    if (list.empty()) throw Error("the faces have no edge in common", path + "/between", "Name faces that meet.");
    return list;
  }
  bool isSeam(const TopoDS_Edge& edge) const {
    if (BRep_Tool::Degenerated(edge)) return true;
    for (const auto& [face, name] : body_.names)
      if (BRep_Tool::IsClosed(edge, TopoDS::Face(face))) return true;
    return false;
  }
  std::string facesKnown(const std::string& wanted) const {
    std::vector<std::string> known;
    for (const auto& [face, name] : body_.names)
      if (std::find(known.begin(), known.end(), name) == known.end()) known.push_back(name);
    const auto near = nearest(wanted, known);
    return near.empty() ? "Faces: " + inProse(known) + "." : "Did you mean '" + near + "'?";
  }
  template <class Maker>
  void shapeEdges(Maker& maker, const model::EdgeFeature& e, const std::string& name, const std::string& face,
                  const std::string& path) {
    const double size = shapes_.positive(e.radius, "radius", path + "/radius");
    const auto edges = edgesOf(e, path);
    for (const auto& edge : edges) maker.Add(size, edge);
    const auto fault = [&] {
      return Error("the edges cannot be worked with " + shortNumber(size) + " mm", path,
                   "Take a smaller radius, or fewer edges at once.");
    };
    try {
      maker.Build();
    } catch (const Standard_Failure&) {
      throw fault();
    }
    if (!maker.IsDone()) throw fault();
    Named result{maker.Shape(), {}};
    handOn(maker, body_.names, result);
    for (const auto& edge : edges)
      for (const auto& f : maker.Generated(edge))
        if (f.ShapeType() == TopAbs_FACE) result.names.emplace_back(f, name + "." + face);
    body_ = result;
    nameTheRest(name + "." + face);
  }
  /// Faces that no history tells of, such as the corners of fillets.
  void nameTheRest(const std::string& name) {
    for (TopExp_Explorer e(body_.shape, TopAbs_FACE); e.More(); e.Next())
      if (nameOf(e.Current()).empty()) body_.names.emplace_back(e.Current(), name);
  }
  std::string nameOf(const TopoDS_Shape& face) const {
    for (const auto& [f, name] : body_.names)
      if (f.IsSame(face)) return name;
    return {};
  }

  std::string featureName(const model::Feature& f, const char* kind) {
    std::string name = f.name.empty() ? kind : f.name;
    for (int n = 2; std::find(taken_.begin(), taken_.end(), name) != taken_.end(); ++n) {
      if (!f.name.empty())
        throw Error("two features are called '" + f.name + "'", path_ + "/solid", "Give one of them another name.");
      name = std::string(kind) + " " + std::to_string(n);
    }
    if (name.find('.') != std::string::npos)
      throw Error("the name '" + name + "' holds a dot", path_ + "/solid", "Dots part the names of part, feature and face.");
    taken_.push_back(name);
    return name;
  }

  void add(const model::Feature& f, const std::string& path) try {
    const int given = bool(f.box) + bool(f.cylinder) + bool(f.tube) + bool(f.ball) + bool(f.step) + bool(f.fillet) +
                      bool(f.chamfer) + bool(f.plate) + bool(f.angle) + bool(f.bolt) + bool(f.profile) + bool(f.half) +
                      bool(f.imprint);
    if (given != 1)
      throw Error(
          "a feature is one of box, plate, angle, cylinder, tube, ball, profile, bolt, step, half, imprint, fillet and "
          "chamfer",
          path, given ? "Make several features of it." : "Give one.");
    if (f.around && (f.fillet || f.chamfer || f.half || f.imprint))
      throw Error("edges, cuts by a plane and circles on faces are not repeated round an axis", path + "/around",
                  "Take \"around\" out; a fillet works on all edges of the faces it names.");
    if (f.fillet || f.chamfer) {
      if (body_.shape.IsNull())
        throw Error("there is nothing yet whose edges could be worked", path, "Put it after the features it works on.");
      if (f.fillet) {
        BRepFilletAPI_MakeFillet maker(body_.shape);
        return shapeEdges(maker, *f.fillet, featureName(f, "fillet"), "round", path + "/fillet");
      }
      BRepFilletAPI_MakeChamfer maker(body_.shape);
      return shapeEdges(maker, *f.chamfer, featureName(f, "chamfer"), "slope", path + "/chamfer");
    }
    if (f.imprint) {
      if (body_.shape.IsNull()) throw Error("there is nothing yet to draw on", path, "Put it after the feature it is drawn on.");
      const auto& own = *f.imprint;
      body_ = imprinted(body_, own.on, shapes_.point(own.center, path + "/imprint/center"),
                        shapes_.positive(own.radius, "radius", path + "/imprint/radius"), featureName(f, "imprint"),
                        path + "/imprint");
      return;
    }
    const char* const kind = f.box        ? "box"
                             : f.plate    ? "plate"
                             : f.angle    ? "angle"
                             : f.cylinder ? "cylinder"
                             : f.tube     ? "tube"
                             : f.ball     ? "ball"
                             : f.bolt     ? "bolt"
                                          : "profile";
    Named made;
    const size_t known = taken_.size();
    if (!f.step && !f.half) made = shapes_.make(f, featureName(f, kind), path);
    if (f.step) made = step(*f.step, featureName(f, "step"), path + "/step");
    if (f.half) {
      if (body_.shape.IsNull()) throw Error("there is nothing yet to cut", path, "Put it after the features it cuts.");
      made = before(*f.half, featureName(f, "half"), path + "/half");
    }
    join(made, f.half ? "cut" : f.how, f.half.has_value(), path);
    if (f.around) repeat(made, taken_[known], f, path + "/around");
  } catch (const Standard_Failure& e) {
    const std::string why = e.GetMessageString() ? e.GetMessageString() : "";
    throw Error("the feature cannot be made" + (why.empty() ? why : " (" + why + ")"), path,
                "Check its sizes against what is there.");
  }

  /// The feature again, turned about an axis.
  void repeat(const Named& made, const std::string name, const model::Feature& f, const std::string& path) {
    const auto places = around(*f.around, q_, true, path);
    for (size_t k = 1; k < places.size(); ++k) {
      const std::string number = std::to_string(k + 1), own = name + " " + number;
      if (std::find(taken_.begin(), taken_.end(), own) != taken_.end())
        throw Error("two features are called '" + own + "'", path, "Give the other one another name.");
      taken_.push_back(own);
      try {
        join(moved(made, asTrsf(places[k]), name, own), f.how, false, path);
      } catch (const Error& e) {
        throw Error("number " + number + ": " + e.wrong(), path, e.remedy());
      }
    }
  }

  static gp_Trsf asTrsf(const Placement& p) {
    gp_Trsf t;
    const Eigen::Matrix3d& R = p.turn;
    t.SetValues(R(0, 0), R(0, 1), R(0, 2), p.shift.x(), R(1, 0), R(1, 1), R(1, 2), p.shift.y(), R(2, 0), R(2, 1), R(2, 2),
                p.shift.z());
    return t;
  }

  /// Adds a shape to the body, cuts it out or keeps what is common.
  void join(const Named& made, const std::string& how, bool byPlane, const std::string& path) {
    if (body_.shape.IsNull()) {
      if (how != "add")
        throw Error("there is nothing yet to " + std::string(how == "cut" ? "cut from" : "have in common"), path + "/how",
                    "The first feature is added.");
      body_ = made;
      return;
    }
    const double before = volumeOf(body_.shape), own = volumeOf(made.shape);
    Named result = joined(body_, made, how, path);
    const double after = volumeOf(result.shape);
    if (!(after > 1e-9 * before))
      throw Error("nothing is left of the part", path,
                  how == "cut" ? "The feature cuts all of it away: make it smaller or shift it."
                               : "The feature has nothing in common with it: shift it.");
    if (how == "cut" && after > before * (1 - 1e-9))
      throw Error("it cuts nothing away", path,
                  byPlane ? "All of the part lies behind the plane." : "It lies beside the part: shift it.");
    if (how == "add" && after > (before + own) * (1 - 1e-12) && pieces(result.shape) > 1)
      throw Error("it does not touch what is there", path, "Shift it, or make it a part of its own.");
    body_ = result;
  }
  static int pieces(const TopoDS_Shape& s) {
    int n = 0;
    for (TopExp_Explorer e(s, TopAbs_SOLID); e.More(); e.Next()) ++n;
    return n;
  }

  void placeWhole() {
    const auto p = placement(part_, q_, true, path_);
    if (p.turn.isIdentity(0) && p.shift.isZero(0)) return;
    body_ = moved(body_, asTrsf(p), "", "");
  }

  Solid finish() {
    const int n = pieces(body_.shape);
    const bool sheet = n == 0 && TopExp_Explorer(body_.shape, TopAbs_FACE).More();
    if (sheet && !part_.thin)
      throw Error("the body is a sheet, a surface without a volume", path_ + "/thin", "Make it a thin part: give its thickness.");
    if (n != 1 && !sheet)
      throw Error(n ? "the part falls into " + std::to_string(n) + " pieces" : "the features make no solid", path_ + "/solid",
                  n ? "Join them, or make a part of each." : "Check the features.");
    const TopoDS_Shape one = sheet ? body_.shape : TopExp_Explorer(body_.shape, TopAbs_SOLID).Current();
    if (!BRepCheck_Analyzer(one).IsValid())
      throw Error(sheet ? "the sheet is not sound: its faces do not fit each other"
                        : "the solid is not sound: its faces do not close it properly",
                  path_ + "/solid", "Check features that nearly touch; round with smaller radii.");
    Solid s;
    s.sheet_ = sheet;
    std::ostringstream text;
    BRepTools::Write(one, text);
    s.brep_ = text.str();
    s.volume_ = sheet ? 0 : volumeOf(one);
    Bnd_Box b;
    BRepBndLib::AddOptimal(one, b, true, false);
    const gp_Pnt low = b.CornerMin(), high = b.CornerMax();
    s.bounds_ = {Vector3d(low.X(), low.Y(), low.Z()), Vector3d(high.X(), high.Y(), high.Z())};
    TopTools_IndexedMapOfShape faces;  // each once, as the mesher lists them
    for (TopExp_Explorer e(one, TopAbs_FACE); e.More(); e.Next()) faces.Add(e.Current());
    for (int i = 1; i <= faces.Extent(); ++i) {
      const auto& face = TopoDS::Face(faces(i));
      s.faces_.push_back(shapeOf(face)), s.faces_.back().name = nameOf(face);
    }
    return s;
  }
  const model::Part& part_;
  const model::Quantities& q_;
  FeatureShapes shapes_;
  std::string folder_, path_;
  Named body_;
  std::vector<std::string> taken_;
};

Solid solid(const model::Part& part, const model::Quantities& q, const std::string& folder, const std::string& path) {
  if (part.solid.empty()) throw Error("the part has no features", path + "/solid", "Give at least one.");
  return SolidBuilder(part, q, folder, path).build();
}

}  // namespace anvil::geometry
