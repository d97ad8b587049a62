// Mid-side nodes on the true surface, without inverted elements.
#pragma once
#include <map>

#include "mesher/tetrahedra.hpp"

namespace anvil::mesher {

/// Ten-node tetrahedra: corners, then the middles of the edges 01 12 20 03 13 23.
struct Quadratic {
  std::vector<Eigen::Vector3d> x;
  std::vector<std::array<int, 10>> cells;
  struct Triangle {
    std::array<int, 6> node;  ///< corners, then the middles of 01 12 20
    int face;
  };
  std::vector<Triangle> triangles;
  double worst = 1;  ///< least scaled Jacobian of the straight tetrahedra, 1 at best
  Eigen::Vector3d worstPlace{0, 0, 0};
  std::map<int, double> standOff;  ///< faces from which middles were drawn back for their elements' sake, and how far, mm
};

/// Adds the middles. Those of outer edges are put on the curve or face of the shape. Where elements would be bent too far the
/// inside follows; where that is not enough they are parted, and at last the middles drawn back toward the straight edge.
Quadratic quadratic(Tetrahedra& mesh, const std::vector<TopoDS_Shape>& faces);

}  // namespace anvil::mesher
