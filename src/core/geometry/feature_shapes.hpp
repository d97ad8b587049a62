// Shapes of single features, by a CAD kernel, each face named by what it is. For use inside this folder.
#pragma once
#include <Eigen/Geometry>

#include <BRepAdaptor_Surface.hxx>
#include <BRepTools.hxx>
#include <TopExp.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <functional>
#include <gp_Ax2.hxx>
#include <gp_Trsf.hxx>
#include <string>
#include <utility>
#include <vector>

#include "core/model/entry.hpp"
#include "core/model/forward.hpp"

namespace anvil::geometry {

/// A shape with the names of its faces.
struct Named {
  TopoDS_Shape shape;
  std::vector<std::pair<TopoDS_Shape, std::string>> names;
};

/// Names handed on through an operation that knows what became of each face.
template <class Operation>
void handOn(Operation& op, const std::vector<std::pair<TopoDS_Shape, std::string>>& before, Named& after) {
  TopTools_IndexedMapOfShape there;
  TopExp::MapShapes(after.shape, TopAbs_FACE, there);
  for (const auto& [face, name] : before) {
    const TopTools_ListOfShape& now = op.Modified(face);
    for (const auto& f : now)
      if (there.Contains(f)) after.names.emplace_back(f, name);
    if (now.IsEmpty() && !op.IsDeleted(face) && there.Contains(face)) after.names.emplace_back(face, name);
  }
}

/// Names each face by a rule.
Named named(const TopoDS_Shape& shape, const std::string& feature,
            const std::function<std::string(const BRepAdaptor_Surface&, const TopoDS_Face&)>& rule);
/// The same shape elsewhere; names that begin with "from." begin with "to.".
Named moved(const Named& shape, const gp_Trsf& motion, const std::string& from, const std::string& to);
/// Outward normal of a plane face.
Eigen::Vector3d outward(const BRepAdaptor_Surface& surface, const TopoDS_Face& face);
/// Signed volume, mm³.
double volumeOf(const TopoDS_Shape& shape);
/// Two shapes made one by "add", "cut" or "common". Throws Error.
Named joined(const Named& a, const Named& b, const std::string& how, const std::string& path);

/// Makes features that need not know of what is there already. Lengths in mm; errors name the place in the document.
class FeatureShapes {
 public:
  explicit FeatureShapes(const model::Quantities& q) : q_(q) {}
  /// The shape of a box, plate, angle, cylinder, tube, ball, bolt or profile called `name`; without a shape for features of other
  /// kinds.
  Named make(const model::Feature& f, const std::string& name, const std::string& path) const;

  Eigen::Vector3d point(const model::Point& p, const std::string& path) const;
  double positive(const model::Entry& e, const char* what, const std::string& path) const;

 private:
  gp_Ax2 axis(const model::Point& from, const model::Point& to, double& length, const std::string& path) const;
  Named box(const model::BoxFeature& b, const std::string& name, const std::string& path) const;
  Named plate(const model::PlateFeature& b, const std::string& name, const std::string& path) const;
  Named angle(const model::AngleFeature& b, const std::string& name, const std::string& path) const;
  Named cylinder(const gp_Ax2& axis, double radius, double length, const std::string& name, const std::string& side) const;
  Named tube(const model::TubeFeature& t, const std::string& name, const std::string& path) const;
  Named ball(const model::BallFeature& b, const std::string& name, const std::string& path) const;
  Named bolt(const model::BoltFeature& b, const std::string& name, const std::string& path) const;
  Named pulled(const model::Feature& f, const std::string& name, const std::string& path) const;

  const model::Quantities& q_;
};

}  // namespace anvil::geometry
