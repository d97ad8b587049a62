// Faces of a shape divided into quads, for thin parts: regular grids on those with four sides, the others made of triangles.
#pragma once
#include <Eigen/Core>
#include <TopoDS_Shape.hxx>
#include <array>
#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "mesher/polygons.hpp"
#include "mesher/surfaces.hpp"
#include "mesher/tetrahedra.hpp"

namespace anvil::mesher {

struct Sheet {
  std::vector<Eigen::Vector3d> x;
  std::vector<std::array<int, 4>> cells;               ///< corners anticlockwise seen from the upper side
  std::vector<int> face;                               ///< of each cell, among those asked for
  std::vector<std::array<Eigen::Vector3d, 4>> normal;  ///< of the face at each corner, unit, to the upper side
  struct Rim {
    int cell, side;  ///< side k runs from corner k to the next
    int beyond;      ///< the shape's face on the other side of that edge, else minus the number of the edge, counted from 1
  };
  std::vector<Rim> rims;
  double worst = 1;  ///< least scaled Jacobian
  Eigen::Vector3d worstPlace{0, 0, 0};
};

/// The faces `wanted` (numbers in `faces`, the shape's own list) in quads. Sizes in `wishes` are by the shape's list. `scratch`:
/// name of a file to write to. Throws Refusal where a face cannot be meshed, and where three faces meet along an edge.
Sheet sheetOf(const std::string& scratch, const std::vector<TopoDS_Shape>& faces, const std::vector<int>& wanted,
              const Wishes& wishes, const std::function<void(const char*)>& stage);

}  // namespace anvil::mesher
