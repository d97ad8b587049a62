// Shapes of the document as exact curves: mapped blocks with four sides, and rigid outlines.
#pragma once
#include <array>
#include <vector>

#include "core/geometry/path.hpp"
#include "core/geometry/trail.hpp"
#include "core/model/entry.hpp"
#include "core/model/forward.hpp"

namespace anvil::geometry {

/// One side of a mapped block: curves end to end.
using Side = std::vector<Curve2>;

/// A block with four sides, anticlockwise, and how it is to be divided.
struct Block {
  std::array<Side, 4> sides;
  double size = 0;                 ///< element size; 0 when counts are given
  std::array<int, 2> count{0, 0};  ///< along sides 0 and 1; 0: by size
  std::array<double, 2> grading{1, 1};
};

/// The blocks of a deformable part. Throws Error with the place in the document.
std::vector<Block> blocks(const model::Part& part, const model::Quantities& quantities, const std::string& path);

/// How plane blocks become solids, and where a part is put.
struct Sweep {
  enum class Kind { none, extrude, revolve, trail } kind = Kind::none;
  double from = 0, length = 0;  ///< along z in mm, about y in rad, or along the trail in mm
  int count = 0;                ///< layers; 0: by the element size
  double grading = 1;
  Trail trail = {};
  double twist = 0;                  ///< extruded: turn of the far end about z, rad
  std::vector<double> borders = {};  ///< of the layers, as shares of the length from 0 to 1, where they are not even
};
Sweep sweep(const model::Part& part, const model::Quantities& quantities, const std::string& path);

/// Turn about an axis through the origin, then shift.
struct Placement {
  Eigen::Matrix3d turn = Eigen::Matrix3d::Identity();
  Eigen::Vector3d shift = Eigen::Vector3d::Zero();
  Eigen::Vector3d operator()(const Eigen::Vector3d& x) const { return turn * x + shift; }
};
Placement placement(const model::Part& part, const model::Quantities& quantities, bool solid, const std::string& path);

/// Where the copies of a thing repeated round an axis stand; the first is where it is. In the plane the axis is z. Throws Error
/// with the place in the document.
std::vector<Placement> around(const model::RoundPattern& pattern, const model::Quantities& quantities, bool solid,
                              const std::string& path);

/// The outline of a rigid part, material on the left. Closed paths are turned anticlockwise.
struct Outline {
  std::vector<Curve2> curves;
  bool closed = false;
};
Outline outline(const model::Part& part, const model::Quantities& quantities, const std::string& path);

/// The curves of a closed path, anticlockwise; a path that ends elsewhere is closed by a line. Throws Error naming the piece.
std::vector<Curve2> closedPath(const model::Profile& profile, const model::Quantities& quantities, const std::string& path);

}  // namespace anvil::geometry
