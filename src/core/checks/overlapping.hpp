// Parts that lie in each other.
#pragma once
#include <Eigen/Core>
#include <vector>

#include "core/checks/readiness.hpp"
#include "core/mesh/mesh.hpp"

namespace anvil::checks {

/// Two parts of which one reaches into the other.
struct Overlap {
  int first, second;  ///< parts, in order
  double depth = 0;   ///< of the deepest node (or middle of a cell) below the other's outside, mm
  double length = 0;  ///< of that cell's longest edge, mm: what is a small part of it may be the mesh's doing
  Eigen::Vector3d at{0, 0, 0};
};

/// Deformable parts that overlap, undeformed, with straight-sided cells. Parts whose cells are all between the nodes and middles
/// of the other's are not found.
std::vector<Overlap> overlaps(const mesh::Mesh& mesh);

/// Adds to the report: parts that overlap deeply where no contact between them sees it.
void overlappingParts(const analysis::Problem& problem, Report& report);

}  // namespace anvil::checks
