// The faces of a shape as surfaces to put points on.
#pragma once
#include <Eigen/Core>
#include <ShapeAnalysis_Surface.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS_Shape.hxx>
#include <vector>

namespace anvil::mesher {

class Surfaces {
 public:
  explicit Surfaces(const std::vector<TopoDS_Shape>& faces);
  /// `mid` moved onto the faces: one, or two that meet along an edge. `length` of the straight edge; nothing farther is believed.
  Eigen::Vector3d onto(int a, int b, const Eigen::Vector3d& mid, double length);
  /// `mid` moved onto the nearest of a face's own edges; nothing farther than a part of `length` is believed.
  Eigen::Vector3d ontoRim(int face, const Eigen::Vector3d& mid, double length) const;
  /// Number of the face's edge, from 1 in `edges`, that a point lies nearest; 0 where it has none.
  int rimAt(int face, const Eigen::Vector3d& x) const;
  /// Unit normal at the point of a face that is nearest, on the side the face's orientation calls outside; zero at a pole.
  Eigen::Vector3d normal(int face, const Eigen::Vector3d& x);
  const TopTools_IndexedMapOfShape& edges(int face) const { return faces_[size_t(face)].edges; }

 private:
  struct Face {
    Handle(ShapeAnalysis_Surface) surface;
    bool flat, reversed;
    TopTools_IndexedMapOfShape edges;
  };
  struct Foot {
    double distance = 1e300;
    Eigen::Vector3d place{0, 0, 0};
    int edge = 0;
  };
  /// The nearest point of those edges of `face` that `among` holds, too.
  Foot foot(int face, const TopTools_IndexedMapOfShape& among, const Eigen::Vector3d& x) const;
  std::vector<Face> faces_;
};

}  // namespace anvil::mesher
