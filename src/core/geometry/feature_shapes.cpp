#include "core/geometry/feature_shapes.hpp"

#include <BRepAlgoAPI_Common.hxx>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepBuilderAPI_MakeWire.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepGProp.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRepPrimAPI_MakeRevol.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <GC_MakeArcOfCircle.hxx>
#include <GProp_GProps.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <gp_Pln.hxx>
#include <gp_Trsf.hxx>
#include <numbers>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/geometry/recipes.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/shapes.hpp"

namespace anvil::geometry {

using Eigen::Vector3d;

Named named(const TopoDS_Shape& shape, const std::string& feature,
            const std::function<std::string(const BRepAdaptor_Surface&, const TopoDS_Face&)>& rule) {
  Named n{shape, {}};
  for (TopExp_Explorer e(shape, TopAbs_FACE); e.More(); e.Next())
    n.names.emplace_back(e.Current(),
                         feature + "." + rule(BRepAdaptor_Surface(TopoDS::Face(e.Current())), TopoDS::Face(e.Current())));
  return n;
}
Named moved(const Named& shape, const gp_Trsf& motion, const std::string& from, const std::string& to) {
  BRepBuilderAPI_Transform op(shape.shape, motion, true);
  Named result{op.Shape(), {}};
  for (const auto& [face, name] : shape.names)
    result.names.emplace_back(op.ModifiedShape(face), name.starts_with(from + ".") ? to + name.substr(from.size()) : name);
  return result;
}
Vector3d outward(const BRepAdaptor_Surface& s, const TopoDS_Face& f) {
  const gp_Dir d = s.Plane().Axis().Direction();
  const double sign = (f.Orientation() == TopAbs_REVERSED) != !s.Plane().Position().Direct() ? -1 : 1;
  return sign * Vector3d(d.X(), d.Y(), d.Z());
}

double volumeOf(const TopoDS_Shape& s) {
  GProp_GProps g;
  BRepGProp::VolumeProperties(s, g);
  return g.Mass();
}
Named joined(const Named& a, const Named& b, const std::string& how, const std::string& path) {
  const auto run = [&](auto& op) {
    op.Build();
    if (!op.IsDone() || op.HasErrors())
      throw Error("it cannot be joined with what is there", path,
                  "Shift it a little: surfaces that touch along a line or nearly coincide are hard to join.");
    Named result{op.Shape(), {}};
    handOn(op, a.names, result), handOn(op, b.names, result);
    return result;
  };
  BRepAlgoAPI_Fuse fuse;
  BRepAlgoAPI_Cut cut;
  BRepAlgoAPI_Common common;
  BRepAlgoAPI_BooleanOperation& op = how == "cut"      ? static_cast<BRepAlgoAPI_BooleanOperation&>(cut)
                                     : how == "common" ? static_cast<BRepAlgoAPI_BooleanOperation&>(common)
                                                       : fuse;
  TopTools_ListOfShape first, second;
  first.Append(a.shape), second.Append(b.shape);
  op.SetArguments(first), op.SetTools(second);
  return run(op);
}

Vector3d FeatureShapes::point(const model::Point& p, const std::string& path) const {
  if (p.empty()) return Vector3d::Zero();
  const auto v = q_.list(p, Kind::length, path);
  if (v.size() != 3) throw Error("a point needs three coordinates", path, "Write [x, y, z].");
  return {v[0], v[1], v[2]};
}
/// Ten times what the CAD kernel takes for the same place, mm.
constexpr double leastExtent = 1e-6;
const char* const checkUnit = "The least is 1e-6 mm; check the unit.";

double FeatureShapes::positive(const model::Entry& e, const char* what, const std::string& path) const {
  const double v = q_(e, Kind::length, path);
  if (!(v > 0)) throw Error(std::string("the ") + what + " is " + shortNumber(v) + " mm", path, "Give a value above zero.");
  if (v < leastExtent)
    throw Error(std::string("the ") + what + " is " + shortNumber(v) + " mm, too small to be made", path, checkUnit);
  return v;
}
gp_Ax2 FeatureShapes::axis(const model::Point& from, const model::Point& to, double& length, const std::string& path) const {
  const Vector3d a = point(from, path + "/from"), d = point(to, path + "/to") - a;
  length = d.norm();
  if (!(length > 1e-9)) throw Error("the ends of the axis lie at the same point", path + "/to", "Give another point.");
  return {gp_Pnt(a.x(), a.y(), a.z()), gp_Dir(d.x(), d.y(), d.z())};
}

Named FeatureShapes::box(const model::BoxFeature& b, const std::string& name, const std::string& path) const {
  const Vector3d at = point(b.at, path + "/at"), size = point(b.size, path + "/size");
  for (int k = 0; k < 3; ++k)
    if (!(size[k] > 0))
      throw Error("the box has no extent along " + std::string(1, "xyz"[k]), path + "/size",
                  "Write three lengths above zero, [x, y, z].");
  if (size.minCoeff() < leastExtent)
    throw Error("a side of the box is " + shortNumber(size.minCoeff()) + " mm, too small to be made", path + "/size", checkUnit);
  return named(BRepPrimAPI_MakeBox(gp_Pnt(at.x(), at.y(), at.z()), size.x(), size.y(), size.z()).Solid(), name,
               [](const auto& s, const auto& f) {
                 const Vector3d n = outward(s, f);
                 Eigen::Index k;
                 n.cwiseAbs().maxCoeff(&k);
                 const char* const words[] = {"left", "right", "bottom", "top", "front", "back"};
                 return std::string(words[2 * k + (n[k] > 0)]);
               });
}
Named FeatureShapes::cylinder(const gp_Ax2& axis, double radius, double length, const std::string& name,
                              const std::string& side) const {
  const gp_Dir along = axis.Direction();
  return named(BRepPrimAPI_MakeCylinder(axis, radius, length).Solid(), name, [&](const auto& s, const auto& f) {
    if (s.GetType() != GeomAbs_Plane) return side;
    return std::string(outward(s, f).dot(Vector3d(along.X(), along.Y(), along.Z())) > 0 ? "end" : "start");
  });
}
Named FeatureShapes::tube(const model::TubeFeature& t, const std::string& name, const std::string& path) const {
  double length;
  const auto a = axis(t.from, t.to, length, path);
  const double inner = positive(t.inner, "inner radius", path + "/inner"),
               outer = positive(t.outer, "outer radius", path + "/outer");
  if (!(outer > inner))
    throw Error("the outer radius " + shortNumber(outer) + " mm is not above the inner one, " + shortNumber(inner) + " mm",
                path + "/outer", "Make the wall thicker than nothing.");
  return joined(cylinder(a, outer, length, name, "outer"), cylinder(a, inner, length, name, "inner"), "cut", path);
}
static void rename(Named& n, const std::string& from, const std::string& to) {
  for (auto& [face, name] : n.names)
    if (name == from) name = to;
}
Named FeatureShapes::plate(const model::PlateFeature& b, const std::string& name, const std::string& path) const {
  Named made = box({b.at, b.size}, name, path);
  if (b.holes.at.empty()) return made;
  const std::string place = path + "/holes";
  const Vector3d corner = point(b.at, path + "/at"), size = point(b.size, path + "/size");
  const double r = positive(b.holes.radius, "radius", place + "/radius");
  const auto pitch = b.holes.pitch.empty() ? std::vector<double>{0, 0} : q_.list(b.holes.pitch, Kind::length, place + "/pitch");
  std::vector<int> count;
  for (const auto& n : b.holes.count) count.push_back(q_.whole(n, 1, 1000, place + "/count"));
  if (count.empty()) count = {1, 1};
  if (pitch.size() != 2 || count.size() != 2)
    throw Error("two values are needed, along x and along y", place + (pitch.size() != 2 ? "/pitch" : "/count"),
                "Write [along x, along y].");
  int number = 0;
  for (size_t k = 0; k < b.holes.at.size(); ++k) {
    const auto first = q_.list(b.holes.at[k], Kind::length, place + "/at/" + std::to_string(k + 1));
    if (first.size() != 2)
      throw Error("the centre of a hole needs two coordinates", place + "/at/" + std::to_string(k + 1),
                  "Write [x, y] from the plate's corner.");
    for (int j = 0; j < count[1]; ++j)
      for (int i = 0; i < count[0]; ++i) {
        const Vector3d c = corner + Vector3d(first[0] + i * pitch[0], first[1] + j * pitch[1], 0);
        const std::string hole = "hole " + std::to_string(++number);
        if ((c - corner).head<2>().minCoeff() < -r || (size - (c - corner)).head<2>().minCoeff() < -r)
          throw Error(hole + " lies beside the plate", place,
                      "Its centre would be at " + shortNumber(c.x() - corner.x(), 4) + ", " + shortNumber(c.y() - corner.y(), 4) +
                          " mm from the corner.");
        const gp_Ax2 axis(gp_Pnt(c.x(), c.y(), corner.z() - r), gp_Dir(0, 0, 1));
        made = joined(made, cylinder(axis, r, size.z() + 2 * r, name, hole), "cut", place);
      }
  }
  return made;
}
/// Coaxial cylinders: head, washer, shank, washer, nut, all one.
Named FeatureShapes::bolt(const model::BoltFeature& b, const std::string& name, const std::string& path) const {
  double length;
  const auto seat = axis(b.from, b.to, length, path);
  const double d = positive(b.diameter, "diameter", path + "/diameter");
  const double across = b.head.given() ? positive(b.head, "width", path + "/head") : 1.6 * d,
               height = b.headHeight.given() ? positive(b.headHeight, "height", path + "/head height") : 0.7 * d;
  const double washer = q_.orElse(b.washer, Kind::length, 0, path + "/washer");
  if (!(across > d))
    throw Error("the head is no wider than the shank", path + "/head", "Give more than " + shortNumber(d) + " mm.");
  if (washer < 0) throw Error("the washer's thickness is below zero", path + "/washer", "Give zero or more.");
  const auto disc = [&](double from, double to, double width, const char* side, const char* start, const char* end) {
    const gp_Vec shift = gp_Vec(seat.Direction()) * from;
    Named n = cylinder(gp_Ax2(seat.Location().Translated(shift), seat.Direction()), width / 2, to - from, name, side);
    rename(n, name + ".start", name + "." + start), rename(n, name + ".end", name + "." + end);
    return n;
  };
  Named made = disc(0, length, d, "shank", "inside", "inside");
  if (washer > 0)
    made = joined(made, disc(-washer, 0, 1.9 * d, "washer", "inside", "head seat"), "add", path),
    made = joined(made, disc(length, length + washer, 1.9 * d, "washer", "nut seat", "inside"), "add", path);
  made =
      joined(made, disc(-washer - height, -washer, across, "head", "head top", washer > 0 ? "inside" : "head seat"), "add", path);
  return joined(made,
                disc(length + washer, length + washer + height, across, "nut", washer > 0 ? "inside" : "nut seat", "nut top"),
                "add", path);
}
/// A closed path pulled along z or turned about y.
Named FeatureShapes::pulled(const model::Feature& f, const std::string& name, const std::string& path) const {
  if (bool(f.extrude) == bool(f.revolve))
    throw Error("a profile is either extruded or revolved", path, "Give one of \"extrude\" and \"revolve\".");
  model::Part how;
  how.extrude = f.extrude, how.revolve = f.revolve;
  const auto along = sweep(how, q_, path);
  const auto curves = closedPath(*f.profile, q_, path + "/profile");
  if (along.twist != 0)
    throw Error("a feature is not twisted", path + "/extrude/twist", "Draw the part by a shape; or take \"twist\" out.");
  const double z = f.extrude ? along.from : 0;
  const auto at = [&](const Point2& x) { return gp_Pnt(x.x(), x.y(), z); };
  BRepBuilderAPI_MakeWire wire;
  std::vector<std::pair<TopoDS_Edge, std::string>> edges;
  for (size_t i = 0; i < curves.size(); ++i) {
    const auto& c = curves[i];
    const TopoDS_Edge edge = c.arc ? BRepBuilderAPI_MakeEdge(GC_MakeArcOfCircle(at(c.a), at(c.at(0.5)), at(c.b)).Value()).Edge()
                                   : BRepBuilderAPI_MakeEdge(at(c.a), at(c.b)).Edge();
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
    const gp_Ax1 axis(gp_Pnt(0, 0, 0), gp_Dir(0, -1, 0));  // from x towards z
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
Named FeatureShapes::ball(const model::BallFeature& b, const std::string& name, const std::string& path) const {
  const Vector3d c = point(b.center, path + "/center");
  return named(BRepPrimAPI_MakeSphere(gp_Pnt(c.x(), c.y(), c.z()), positive(b.radius, "radius", path + "/radius")).Solid(), name,
               [](const auto&, const auto&) { return std::string("surface"); });
}
/// An L in the x-y plane, its outer corner at `at`, pulled along z.
Named FeatureShapes::angle(const model::AngleFeature& b, const std::string& name, const std::string& path) const {
  const Vector3d at = point(b.at, path + "/at");
  const auto legs = q_.list(b.legs, Kind::length, path + "/legs");
  if (legs.size() != 2) throw Error("an angle has two legs", path + "/legs", "Write [along x, along y].");
  const double t = positive(b.thickness, "thickness", path + "/thickness"),
               length = positive(b.length, "length", path + "/length"), root = q_.orElse(b.root, Kind::length, 0, path + "/root");
  for (const double leg : legs)
    if (!(leg > t))
      throw Error("a leg of " + shortNumber(leg) + " mm is no longer than the angle is thick, " + shortNumber(t) + " mm",
                  path + "/legs", "Give longer legs, or a thinner angle.");
  if (root < 0 || root >= std::min(legs[0], legs[1]) - t)
    throw Error("a root radius of " + shortNumber(root) + " mm does not fit between the legs", path + "/root",
                "Give less than the shorter leg's free length, " + shortNumber(std::min(legs[0], legs[1]) - t) + " mm.");
  model::Feature f;
  f.profile = model::Profile{};
  f.profile->start = {at.x(), at.y()};
  const auto to = [&](double x, double y, const char* side, double fillet = 0) {
    model::PathPiece piece;
    piece.line = {at.x() + x, at.y() + y}, piece.name = side;
    if (fillet > 0) piece.fillet = fillet;
    f.profile->path.push_back(piece);
  };
  to(legs[0], 0, "outer x"), to(legs[0], t, "tip x"), to(t, t, "inner x", root), to(t, legs[1], "inner y"),
      to(0, legs[1], "tip y"), to(0, 0, "outer y");
  f.extrude = model::Extrude{};
  f.extrude->from = at.z(), f.extrude->depth = length;
  Named made = pulled(f, name, path);
  for (auto& [face, own] : made.names)  // the rounding has no name of its own yet
    if (BRepAdaptor_Surface(TopoDS::Face(face)).GetType() == GeomAbs_Cylinder) own = name + ".root";
  return made;
}

Named FeatureShapes::make(const model::Feature& f, const std::string& name, const std::string& path) const {
  double length;
  if (f.box) return box(*f.box, name, path + "/box");
  if (f.plate) return plate(*f.plate, name, path + "/plate");
  if (f.angle) return angle(*f.angle, name, path + "/angle");
  if (f.cylinder) {
    const auto a = axis(f.cylinder->from, f.cylinder->to, length, path + "/cylinder");
    return cylinder(a, positive(f.cylinder->radius, "radius", path + "/cylinder/radius"), length, name, "side");
  }
  if (f.tube) return tube(*f.tube, name, path + "/tube");
  if (f.ball) return ball(*f.ball, name, path + "/ball");
  if (f.bolt) return bolt(*f.bolt, name, path + "/bolt");
  if (f.profile) return pulled(f, name, path);
  return {};
}

}  // namespace anvil::geometry
