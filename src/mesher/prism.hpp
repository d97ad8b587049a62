// Solids that are one plane figure pulled straight: which faces are its two ends, which its sides.
#pragma once
#include <Eigen/Geometry>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Shape.hxx>
#include <optional>
#include <vector>

namespace anvil::mesher {

struct Prism {
  struct End {
    int low, high;  ///< faces of the shape that lie over each other
  };
  struct Rim {
    TopoDS_Edge edge;  ///< of the low end
    int side;          ///< the face that rises from it
  };
  Eigen::Vector3d origin, u, v;  ///< frame of the low end; u × v points along the pull
  double height = 0;             ///< mm
  std::vector<End> ends;         ///< several where an end is divided
  std::vector<Rim> rims;

  Eigen::Vector2d flat(const Eigen::Vector3d& x) const { return {(x - origin).dot(u), (x - origin).dot(v)}; }
  Eigen::Vector3d space(const Eigen::Vector2d& p) const { return origin + p.x() * u + p.y() * v; }
};

/// Tells whether every face is plane across some axis at one of two levels, or runs along it from one level to the other. Of
/// several ways the one with the largest ends is taken, so that a box has few layers.
std::optional<Prism> prismOf(const std::vector<TopoDS_Shape>& faces);

}  // namespace anvil::mesher
