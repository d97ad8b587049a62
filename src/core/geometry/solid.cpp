#include "core/geometry/solid.hpp"

#include <Eigen/Geometry>

#include <BRepAdaptor_Surface.hxx>
#include <BRepAlgoAPI_Common.hxx>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBndLib.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepCheck_Analyzer.hxx>
#include <BRepFilletAPI_MakeChamfer.hxx>
#include <BRepFilletAPI_MakeFillet.hxx>
#include <BRepGProp.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRepPrimAPI_MakeRevol.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <BRepTools.hxx>
#include <Bnd_Box.hxx>
#include <GC_MakeArcOfCircle.hxx>
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
#include <numbers>
#include <gp_Ax1.hxx>
#include <gp_Ax2.hxx>
#include <gp_Cone.hxx>
#include <gp_Cylinder.hxx>
#include <gp_Pln.hxx>
#include <gp_Quaternion.hxx>
#include <gp_Torus.hxx>
#include <gp_Trsf.hxx>
#include <sstream>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/geometry/recipes.hpp"
#include "core/geometry/step_faces.hpp"
#include "core/geometry/step_file.hpp"

namespace anvil::geometry {

using Eigen::Vector3d;

/// A shape with the names of its faces.
struct Named {
  TopoDS_Shape shape;
  std::vector<std::pair<TopoDS_Shape, std::string>> names;
};

/// The solid that a feature takes out of its file.
static StepSolid stepSolid(const model::StepFeature& s, const std::string& folder, const std::string& path) {
  const auto found = readStep(s.file, folder, path + "/file");
  int which = -1;
  for (size_t i = 0; i < found.size(); ++i)
    if (!s.solid.empty() && (s.solid == found[i].name || s.solid == std::to_string(i + 1))) which = int(i);
  if (s.solid.empty() && found.size() == 1) which = 0;
  if (which >= 0) return found[size_t(which)];
  std::vector<std::string> known;
  for (size_t i = 0; i < found.size(); ++i) known.push_back(found[i].name.empty() ? std::to_string(i + 1) : "'" + found[i].name + "'");
  throw Error(s.solid.empty() ? "the file holds " + std::to_string(found.size()) + " solids" : "the file holds no solid '" + s.solid + "'", path + "/solid", "Name one of them: " + inProse(known) + ".");
}

static std::vector<FaceMark> knownFaces(const model::StepFeature& s, const model::Quantities& q, const std::string& path) {
  std::vector<FaceMark> known;
  for (size_t i = 0; i < s.faces.size(); ++i) {
    known.push_back(q.list(s.faces[i], Kind::number, path + "/faces/" + std::to_string(i + 1)));
    if (known.back().size() != 10) throw Error("a face's row has " + std::to_string(known.back().size()) + " numbers, not ten", path + "/faces/" + std::to_string(i + 1), "Bring the file in again, or take \"faces\" out.");
  }
  return known;
}

class SolidBuilder {
public:
  SolidBuilder(const model::Part& part, const model::Quantities& q, const std::string& folder, const std::string& path) : part_(part), q_(q), folder_(folder), path_(path) {}

  Solid build() {
    for (size_t i = 0; i < part_.solid.size(); ++i) add(part_.solid[i], path_ + "/solid/" + std::to_string(i + 1));
    placeWhole();
    return finish();
  }

private:
  Vector3d point(const model::Point& p, const std::string& path) const {
    if (p.empty()) return Vector3d::Zero();
    const auto v = q_.list(p, Kind::length, path);
    if (v.size() != 3) throw Error("a point needs three coordinates", path, "Write [x, y, z].");
    return {v[0], v[1], v[2]};
  }
  double positive(const model::Entry& e, const char* what, const std::string& path) const {
    const double v = q_(e, Kind::length, path);
    if (!(v > 0)) throw Error(std::string("the ") + what + " is " + shortNumber(v) + " mm", path, "Give a value above zero.");
    return v;
  }
  gp_Ax2 axis(const model::Point& from, const model::Point& to, double& length, const std::string& path) const {
    const Vector3d a = point(from, path + "/from"), d = point(to, path + "/to") - a;
    length = d.norm();
    if (!(length > 1e-9)) throw Error("the ends of the axis lie at the same point", path + "/to", "Give another point.");
    return {gp_Pnt(a.x(), a.y(), a.z()), gp_Dir(d.x(), d.y(), d.z())};
  }

  /// Names each face by a rule.
  static Named named(const TopoDS_Shape& shape, const std::string& feature, const std::function<std::string(const BRepAdaptor_Surface&, const TopoDS_Face&)>& rule) {
    Named n{shape, {}};
    for (TopExp_Explorer e(shape, TopAbs_FACE); e.More(); e.Next()) n.names.emplace_back(e.Current(), feature + "." + rule(BRepAdaptor_Surface(TopoDS::Face(e.Current())), TopoDS::Face(e.Current())));
    return n;
  }
  static Vector3d outward(const BRepAdaptor_Surface& s, const TopoDS_Face& f) {
    const gp_Dir d = s.Plane().Axis().Direction();
    const double sign = (f.Orientation() == TopAbs_REVERSED) != !s.Plane().Position().Direct() ? -1 : 1;
    return sign * Vector3d(d.X(), d.Y(), d.Z());
  }

  Named box(const model::BoxFeature& b, const std::string& name, const std::string& path) const {
    const Vector3d at = point(b.at, path + "/at"), size = point(b.size, path + "/size");
    for (int k = 0; k < 3; ++k)
      if (!(size[k] > 0)) throw Error("the box has no extent along " + std::string(1, "xyz"[k]), path + "/size", "Write three lengths above zero, [x, y, z].");
    return named(BRepPrimAPI_MakeBox(gp_Pnt(at.x(), at.y(), at.z()), size.x(), size.y(), size.z()).Solid(), name, [](const auto& s, const auto& f) {
      const Vector3d n = outward(s, f);
      Eigen::Index k;
      n.cwiseAbs().maxCoeff(&k);
      const char* const words[] = {"left", "right", "bottom", "top", "front", "back"};
      return std::string(words[2 * k + (n[k] > 0)]);
    });
  }
  Named cylinder(const gp_Ax2& axis, double radius, double length, const std::string& name, const std::string& side) const {
    const gp_Dir along = axis.Direction();
    return named(BRepPrimAPI_MakeCylinder(axis, radius, length).Solid(), name, [&](const auto& s, const auto& f) {
      if (s.GetType() != GeomAbs_Plane) return side;
      return std::string(outward(s, f).dot(Vector3d(along.X(), along.Y(), along.Z())) > 0 ? "end" : "start");
    });
  }
  Named tube(const model::TubeFeature& t, const std::string& name, const std::string& path) const {
    double length;
    const auto a = axis(t.from, t.to, length, path);
    const double inner = positive(t.inner, "inner radius", path + "/inner"), outer = positive(t.outer, "outer radius", path + "/outer");
    if (!(outer > inner)) throw Error("the outer radius " + shortNumber(outer) + " mm is not above the inner one, " + shortNumber(inner) + " mm", path + "/outer", "Make the wall thicker than nothing.");
    return joined(cylinder(a, outer, length, name, "outer"), cylinder(a, inner, length, name, "inner"), "cut", path);
  }
  static void rename(Named& n, const std::string& from, const std::string& to) {
    for (auto& [face, name] : n.names)
      if (name == from) name = to;
  }
  Named plate(const model::PlateFeature& b, const std::string& name, const std::string& path) const {
    Named made = box({b.at, b.size}, name, path);
    if (b.holes.at.empty()) return made;
    const std::string place = path + "/holes";
    const Vector3d corner = point(b.at, path + "/at"), size = point(b.size, path + "/size");
    const double r = positive(b.holes.radius, "radius", place + "/radius");
    const auto pitch = b.holes.pitch.empty() ? std::vector<double>{0, 0} : q_.list(b.holes.pitch, Kind::length, place + "/pitch");
    const auto count = b.holes.count.empty() ? std::vector<double>{1, 1} : q_.list(b.holes.count, Kind::number, place + "/count");
    if (pitch.size() != 2 || count.size() != 2) throw Error("two values are needed, along x and along y", place + (pitch.size() != 2 ? "/pitch" : "/count"), "Write [along x, along y].");
    int number = 0;
    for (size_t k = 0; k < b.holes.at.size(); ++k) {
      const auto first = q_.list(b.holes.at[k], Kind::length, place + "/at/" + std::to_string(k + 1));
      if (first.size() != 2) throw Error("the centre of a hole needs two coordinates", place + "/at/" + std::to_string(k + 1), "Write [x, y] from the plate's corner.");
      for (int j = 0; j < std::max(1, int(std::lround(count[1]))); ++j)
        for (int i = 0; i < std::max(1, int(std::lround(count[0]))); ++i) {
          const Vector3d c = corner + Vector3d(first[0] + i * pitch[0], first[1] + j * pitch[1], 0);
          const std::string hole = "hole " + std::to_string(++number);
          if ((c - corner).head<2>().minCoeff() < -r || (size - (c - corner)).head<2>().minCoeff() < -r)
            throw Error(hole + " lies beside the plate", place, "Its centre would be at " + shortNumber(c.x() - corner.x(), 4) + ", " + shortNumber(c.y() - corner.y(), 4) + " mm from the corner.");
          const gp_Ax2 axis(gp_Pnt(c.x(), c.y(), corner.z() - r), gp_Dir(0, 0, 1));
          made = joined(made, cylinder(axis, r, size.z() + 2 * r, name, hole), "cut", place);
        }
    }
    return made;
  }
  /// Coaxial cylinders: head, washer, shank, washer, nut, all one.
  Named bolt(const model::BoltFeature& b, const std::string& name, const std::string& path) const {
    double length;
    const auto seat = axis(b.from, b.to, length, path);
    const double d = positive(b.diameter, "diameter", path + "/diameter");
    const double across = b.head.given() ? positive(b.head, "width", path + "/head") : 1.6 * d, height = b.headHeight.given() ? positive(b.headHeight, "height", path + "/head height") : 0.7 * d;
    const double washer = q_.orElse(b.washer, Kind::length, 0, path + "/washer");
    if (!(across > d)) throw Error("the head is no wider than the shank", path + "/head", "Give more than " + shortNumber(d) + " mm.");
    if (washer < 0) throw Error("the washer's thickness is below zero", path + "/washer", "Give zero or more.");
    const auto disc = [&](double from, double to, double width, const char* side, const char* start, const char* end) {
      const gp_Vec shift = gp_Vec(seat.Direction()) * from;
      Named n = cylinder(gp_Ax2(seat.Location().Translated(shift), seat.Direction()), width / 2, to - from, name, side);
      rename(n, name + ".start", name + "." + start), rename(n, name + ".end", name + "." + end);
      return n;
    };
    Named made = disc(0, length, d, "shank", "inside", "inside");
    if (washer > 0) made = joined(made, disc(-washer, 0, 1.9 * d, "washer", "inside", "head seat"), "add", path), made = joined(made, disc(length, length + washer, 1.9 * d, "washer", "nut seat", "inside"), "add", path);
    made = joined(made, disc(-washer - height, -washer, across, "head", "head top", washer > 0 ? "inside" : "head seat"), "add", path);
    return joined(made, disc(length + washer, length + washer + height, across, "nut", washer > 0 ? "inside" : "nut seat", "nut top"), "add", path);
  }
  /// A closed path pulled along z or turned about y.
  Named pulled(const model::Feature& f, const std::string& name, const std::string& path) const {
    if (bool(f.extrude) == bool(f.revolve)) throw Error("a profile is either extruded or revolved", path, "Give one of \"extrude\" and \"revolve\".");
    model::Part how;
    how.extrude = f.extrude, how.revolve = f.revolve;
    const auto along = sweep(how, q_, path);
    const auto curves = closedPath(*f.profile, q_, path + "/profile");
    const double z = f.extrude ? along.from : 0;
    const auto at = [&](const Point2& x) { return gp_Pnt(x.x(), x.y(), z); };
    BRepBuilderAPI_MakeWire wire;
    std::vector<std::pair<TopoDS_Edge, std::string>> edges;
    for (size_t i = 0; i < curves.size(); ++i) {
      const auto& c = curves[i];
      const TopoDS_Edge edge = c.arc ? BRepBuilderAPI_MakeEdge(GC_MakeArcOfCircle(at(c.a), at(c.at(0.5)), at(c.b)).Value()).Edge() : BRepBuilderAPI_MakeEdge(at(c.a), at(c.b)).Edge();
      wire.Add(edge);
      if (!wire.IsDone()) throw Error("the path is not closed", path + "/profile/path", "Let its last piece end where it starts.");
      edges.emplace_back(wire.Edge(), c.name.empty() ? "side " + std::to_string(i + 1) : c.name);
    }
    const BRepBuilderAPI_MakeFace face(wire.Wire(), true);
    if (!face.IsDone()) throw Error("the path encloses no face", path + "/profile/path", "Check that it does not cross itself.");
    Named made;
    const auto taken = [&](auto& op, bool ends) {
      made.shape = op.Shape();
      for (const auto& [edge, own] : edges)
        for (const auto& s : op.Generated(edge))
          if (s.ShapeType() == TopAbs_FACE) made.names.emplace_back(s, name + "." + own);
      if (ends) made.names.emplace_back(op.FirstShape(), name + ".front"), made.names.emplace_back(op.LastShape(), name + ".back");
    };
    if (f.extrude) {
      BRepPrimAPI_MakePrism op(face.Face(), gp_Vec(0, 0, along.length));
      taken(op, true);
    } else {
      const gp_Ax1 axis(gp_Pnt(0, 0, 0), gp_Dir(0, -1, 0));   // from x towards z
      gp_Trsf start;
      start.SetRotation(axis, along.from);
      const bool whole = along.length > 2 * std::numbers::pi - 1e-9;
      BRepPrimAPI_MakeRevol op(face.Face(), axis, along.length);
      taken(op, !whole);
      if (along.from != 0) {
        BRepBuilderAPI_Transform turn(made.shape, start, true);
        for (auto& [s, own] : made.names) s = turn.ModifiedShape(s);
        made.shape = turn.Shape();
      }
    }
    if (volumeOf(made.shape) < 0) made.shape.Reverse();
    return made;
  }
  /// What lies before a plane, as large as the body needs.
  Named before(const model::HalfFeature& h, const std::string& name, const std::string& path) const {
    const auto n = q_.list(h.normal, Kind::number, path + "/normal");
    if (n.size() != 3 || Vector3d(n[0], n[1], n[2]).norm() == 0) throw Error("the normal needs three numbers that are not all zero", path + "/normal", "Write [1, 0, 0] to take away what lies at larger x.");
    const Vector3d normal = Vector3d(n[0], n[1], n[2]).normalized(), at = point(h.at, path + "/at");
    Bnd_Box b;
    BRepBndLib::Add(body_.shape, b);
    const gp_Pnt low = b.CornerMin(), high = b.CornerMax();
    const Vector3d middle = Vector3d(low.X() + high.X(), low.Y() + high.Y(), low.Z() + high.Z()) / 2;
    const double size = 4 * (low.Distance(high) + (middle - at).norm());
    const Vector3d foot = middle - normal.dot(middle - at) * normal, u = normal.unitOrthogonal(), v = normal.cross(u), corner = foot - size / 2 * (u + v);
    const gp_Ax2 frame(gp_Pnt(corner.x(), corner.y(), corner.z()), gp_Dir(normal.x(), normal.y(), normal.z()), gp_Dir(u.x(), u.y(), u.z()));
    return named(BRepPrimAPI_MakeBox(frame, size, size, size).Solid(), name, [&](const auto& s, const auto& f) { return std::string(outward(s, f).dot(normal) < -0.5 ? "cut" : "outside"); });
  }
  Named ball(const model::BallFeature& b, const std::string& name, const std::string& path) const {
    const Vector3d c = point(b.center, path + "/center");
    return named(BRepPrimAPI_MakeSphere(gp_Pnt(c.x(), c.y(), c.z()), positive(b.radius, "radius", path + "/radius")).Solid(), name, [](const auto&, const auto&) { return std::string("surface"); });
  }
  Named step(const model::StepFeature& s, const std::string& name, const std::string& path) const {
    const auto taken = stepSolid(s, folder_, path);
    const auto known = knownFaces(s, q_, path);
    const auto marks = marksOf(taken.shape);
    std::vector<int> numbers;
    if (known.empty()) for (size_t i = 0; i < marks.size(); ++i) numbers.push_back(int(i) + 1);
    else numbers = matched(known, marks).number;
    size_t at = 0;
    return named(taken.shape, name, [&](const auto&, const auto&) { return std::to_string(numbers[at++]); });
  }

  /// Names handed on through an operation that knows what became of each face.
  template <class Operation> static void handOn(Operation& op, const std::vector<std::pair<TopoDS_Shape, std::string>>& before, Named& after) {
    TopTools_IndexedMapOfShape there;
    TopExp::MapShapes(after.shape, TopAbs_FACE, there);
    for (const auto& [face, name] : before) {
      const TopTools_ListOfShape& now = op.Modified(face);
      for (const auto& f : now)
        if (there.Contains(f)) after.names.emplace_back(f, name);
      if (now.IsEmpty() && !op.IsDeleted(face) && there.Contains(face)) after.names.emplace_back(face, name);
    }
  }
  static double volumeOf(const TopoDS_Shape& s) {
    GProp_GProps g;
    BRepGProp::VolumeProperties(s, g);
    return g.Mass();
  }
  static Named joined(const Named& a, const Named& b, const std::string& how, const std::string& path) {
    const auto run = [&](auto& op) {
      op.Build();
      if (!op.IsDone() || op.HasErrors()) throw Error("it cannot be joined with what is there", path, "Shift it a little: surfaces that touch along a line or nearly coincide are hard to join.");
      Named result{op.Shape(), {}};
      handOn(op, a.names, result), handOn(op, b.names, result);
      return result;
    };
    BRepAlgoAPI_Fuse fuse;
    BRepAlgoAPI_Cut cut;
    BRepAlgoAPI_Common common;
    BRepAlgoAPI_BooleanOperation& op = how == "cut" ? static_cast<BRepAlgoAPI_BooleanOperation&>(cut) : how == "common" ? static_cast<BRepAlgoAPI_BooleanOperation&>(common) : fuse;
    TopTools_ListOfShape first, second;
    first.Append(a.shape), second.Append(b.shape);
    op.SetArguments(first), op.SetTools(second);
    return run(op);
  }

  /// Edges between two named faces, or all of one.
  std::vector<TopoDS_Edge> edgesOf(const model::EdgeFeature& e, const std::string& path) const {
    if (e.between.empty() || e.between.size() > 2) throw Error("one or two faces are needed", path + "/between", "Name them as feature.face.");
    std::vector<TopTools_IndexedMapOfShape> edges(e.between.size());
    for (size_t i = 0; i < e.between.size(); ++i) {
      bool any = false;
      for (const auto& [face, name] : body_.names)
        if (name == e.between[i]) TopExp::MapShapes(face, TopAbs_EDGE, edges[i]), any = true;
      if (!any) throw Error("there is no face '" + e.between[i] + "' at this point", path + "/between/" + std::to_string(i + 1), facesKnown(e.between[i]));
    }
    std::vector<TopoDS_Edge> list;
    for (int i = 1; i <= edges[0].Extent(); ++i)
      if (const auto& edge = TopoDS::Edge(edges[0](i)); (edges.size() == 1 || edges[1].Contains(edge)) && !isSeam(edge)) list.push_back(edge);
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
  template <class Maker> void shapeEdges(Maker& maker, const model::EdgeFeature& e, const std::string& name, const std::string& face, const std::string& path) {
    const double size = positive(e.radius, "radius", path + "/radius");
    const auto edges = edgesOf(e, path);
    for (const auto& edge : edges) maker.Add(size, edge);
    const auto fault = [&] { return Error("the edges cannot be worked with " + shortNumber(size) + " mm", path, "Take a smaller radius, or fewer edges at once."); };
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
      if (!f.name.empty()) throw Error("two features are called '" + f.name + "'", path_ + "/solid", "Give one of them another name.");
      name = std::string(kind) + " " + std::to_string(n);
    }
    if (name.find('.') != std::string::npos) throw Error("the name '" + name + "' holds a dot", path_ + "/solid", "Dots part the names of part, feature and face.");
    taken_.push_back(name);
    return name;
  }

  void add(const model::Feature& f, const std::string& path) try {
    const int given = bool(f.box) + bool(f.cylinder) + bool(f.tube) + bool(f.ball) + bool(f.step) + bool(f.fillet) + bool(f.chamfer) + bool(f.plate) + bool(f.bolt) + bool(f.profile) + bool(f.half);
    if (given != 1) throw Error("a feature is one of box, plate, cylinder, tube, ball, profile, bolt, step, half, fillet and chamfer", path, given ? "Make several features of it." : "Give one.");
    if (f.fillet || f.chamfer) {
      if (body_.shape.IsNull()) throw Error("there is nothing yet whose edges could be worked", path, "Put it after the features it works on.");
      if (f.fillet) {
        BRepFilletAPI_MakeFillet maker(body_.shape);
        return shapeEdges(maker, *f.fillet, featureName(f, "fillet"), "round", path + "/fillet");
      }
      BRepFilletAPI_MakeChamfer maker(body_.shape);
      return shapeEdges(maker, *f.chamfer, featureName(f, "chamfer"), "slope", path + "/chamfer");
    }
    double length;
    Named made;
    if (f.box) made = box(*f.box, featureName(f, "box"), path + "/box");
    if (f.cylinder) {
      const auto a = axis(f.cylinder->from, f.cylinder->to, length, path + "/cylinder");
      made = cylinder(a, positive(f.cylinder->radius, "radius", path + "/cylinder/radius"), length, featureName(f, "cylinder"), "side");
    }
    if (f.tube) made = tube(*f.tube, featureName(f, "tube"), path + "/tube");
    if (f.ball) made = ball(*f.ball, featureName(f, "ball"), path + "/ball");
    if (f.plate) made = plate(*f.plate, featureName(f, "plate"), path + "/plate");
    if (f.bolt) made = bolt(*f.bolt, featureName(f, "bolt"), path + "/bolt");
    if (f.profile) made = pulled(f, featureName(f, "profile"), path);
    if (f.step) made = step(*f.step, featureName(f, "step"), path + "/step");
    if (f.half) {
      if (body_.shape.IsNull()) throw Error("there is nothing yet to cut", path, "Put it after the features it cuts.");
      made = before(*f.half, featureName(f, "half"), path + "/half");
    }
    const std::string how = f.half ? "cut" : f.how;
    if (body_.shape.IsNull()) {
      if (how != "add") throw Error("there is nothing yet to " + std::string(how == "cut" ? "cut from" : "have in common"), path + "/how", "The first feature is added.");
      body_ = made;
      return;
    }
    const double before = volumeOf(body_.shape), own = volumeOf(made.shape);
    Named result = joined(body_, made, how, path);
    const double after = volumeOf(result.shape);
    if (!(after > 1e-9 * before)) throw Error("nothing is left of the part", path, how == "cut" ? "The feature cuts all of it away: make it smaller or shift it." : "The feature has nothing in common with it: shift it.");
    if (how == "cut" && after > before * (1 - 1e-9)) throw Error("it cuts nothing away", path, f.half ? "All of the part lies behind the plane." : "It lies beside the part: shift it.");
    if (how == "add" && after > (before + own) * (1 - 1e-12) && pieces(result.shape) > 1) throw Error("it does not touch what is there", path, "Shift it, or make it a part of its own.");
    body_ = result;
  } catch (const Standard_Failure& e) {
    throw Error(std::string("the feature cannot be made (") + e.GetMessageString() + ")", path, "Check its sizes against what is there.");
  }
  static int pieces(const TopoDS_Shape& s) {
    int n = 0;
    for (TopExp_Explorer e(s, TopAbs_SOLID); e.More(); e.Next()) ++n;
    return n;
  }

  void placeWhole() {
    const auto p = placement(part_, q_, true, path_);
    if (p.turn.isIdentity(0) && p.shift.isZero(0)) return;
    gp_Trsf t;
    const Eigen::Matrix3d& R = p.turn;
    t.SetValues(R(0, 0), R(0, 1), R(0, 2), p.shift.x(), R(1, 0), R(1, 1), R(1, 2), p.shift.y(), R(2, 0), R(2, 1), R(2, 2), p.shift.z());
    BRepBuilderAPI_Transform op(body_.shape, t, true);
    Named result{op.Shape(), {}};
    for (const auto& [face, name] : body_.names) result.names.emplace_back(op.ModifiedShape(face), name);
    body_ = result;
  }

  Solid finish() {
    const int n = pieces(body_.shape);
    if (n != 1) throw Error(n ? "the part falls into " + std::to_string(n) + " pieces" : "the features make no solid", path_ + "/solid", n ? "Join them, or make a part of each." : "Check the features.");
    const TopoDS_Shape one = TopExp_Explorer(body_.shape, TopAbs_SOLID).Current();
    if (!BRepCheck_Analyzer(one).IsValid()) throw Error("the solid is not sound: its faces do not close it properly", path_ + "/solid", "Check features that nearly touch; round with smaller radii.");
    Solid s;
    std::ostringstream text;
    BRepTools::Write(one, text);
    s.brep_ = text.str();
    s.volume_ = volumeOf(one);
    Bnd_Box b;
    BRepBndLib::AddOptimal(one, b, true, false);
    const gp_Pnt low = b.CornerMin(), high = b.CornerMax();
    s.bounds_ = {Vector3d(low.X(), low.Y(), low.Z()), Vector3d(high.X(), high.Y(), high.Z())};
    TopTools_IndexedMapOfShape faces;   // each once, as the mesher lists them
    for (TopExp_Explorer e(one, TopAbs_FACE); e.More(); e.Next()) faces.Add(e.Current());
    for (int i = 1; i <= faces.Extent(); ++i) s.faces_.push_back(described(TopoDS::Face(faces(i))));
    return s;
  }
  Solid::Face described(const TopoDS_Face& f) const {
    Solid::Face face;
    face.name = nameOf(f);
    GProp_GProps g;
    BRepGProp::SurfaceProperties(f, g);
    face.area = g.Mass();
    const gp_Pnt c = g.CentreOfMass();
    face.centre = {c.X(), c.Y(), c.Z()};
    const BRepAdaptor_Surface s(f);
    const auto along = [&](const gp_Ax1& a) { face.axis = {a.Direction().X(), a.Direction().Y(), a.Direction().Z()}; };
    switch (s.GetType()) {
      case GeomAbs_Plane: face.kind = Solid::Kind::plane, face.axis = outward(s, f); break;
      case GeomAbs_Cylinder: face.kind = Solid::Kind::cylinder, along(s.Cylinder().Axis()), face.radius = s.Cylinder().Radius(); break;
      case GeomAbs_Cone: face.kind = Solid::Kind::cone, along(s.Cone().Axis()); break;
      case GeomAbs_Sphere: face.kind = Solid::Kind::sphere, face.radius = s.Sphere().Radius(); break;
      case GeomAbs_Torus: face.kind = Solid::Kind::torus, along(s.Torus().Axis()), face.radius = s.Torus().MinorRadius(); break;
      default: break;
    }
    return face;
  }

  const model::Part& part_;
  const model::Quantities& q_;
  std::string folder_, path_;
  Named body_;
  std::vector<std::string> taken_;
};

Solid solid(const model::Part& part, const model::Quantities& q, const std::string& folder, const std::string& path) {
  if (part.solid.empty()) throw Error("the part has no features", path + "/solid", "Give at least one.");
  return SolidBuilder(part, q, folder, path).build();
}

std::vector<StepContent> stepContents(const std::string& file, const std::string& path) {
  std::vector<StepContent> list;
  for (const auto& s : readStep(file, "", path)) list.push_back({s.name, s.healing, marksOf(s.shape)});
  return list;
}

std::vector<StepNote> stepNotes(const model::Part& part, const model::Quantities& q, const std::string& folder, const std::string& path) {
  std::vector<StepNote> notes;
  for (size_t i = 0; i < part.solid.size(); ++i) {
    if (!part.solid[i].step) continue;
    const auto& feature = *part.solid[i].step;
    const std::string place = path + "/solid/" + std::to_string(i + 1) + "/step";
    const auto taken = stepSolid(feature, folder, place);
    if (!taken.healing.empty()) notes.push_back({int(i), taken.healing, {}});
    const auto known = knownFaces(feature, q, place);
    if (known.empty()) continue;
    auto marks = marksOf(taken.shape);
    const auto m = matched(known, marks);
    if (m.gone.empty() && m.fresh.empty()) continue;
    const auto faces = [](const std::vector<int>& numbers) {
      std::vector<std::string> words;
      for (int n : numbers) words.push_back(std::to_string(n));
      return (numbers.size() > 1 ? "faces " : "face ") + inProse(words);
    };
    std::string words = "the file " + feature.file + " has changed since it was taken in: ";
    if (!m.gone.empty()) words += faces(m.gone) + (m.gone.size() > 1 ? " are gone" : " is gone");
    if (!m.fresh.empty()) words += std::string(m.gone.empty() ? "" : ", ") + faces(m.fresh) + (m.fresh.size() > 1 ? " are new" : " is new");
    for (size_t k = 0; k < marks.size(); ++k) marks[k][0] = m.number[k];
    notes.push_back({int(i), words, marks});
  }
  return notes;
}

}  // namespace anvil::geometry
