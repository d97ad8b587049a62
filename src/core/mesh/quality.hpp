// How well shaped the cells of a mesh are.
#pragma once
#include <vector>

#include "core/mesh/mesh.hpp"

namespace anvil::mesh {

struct Quality {
  double leastScaledJacobian = 1, meanScaledJacobian = 1, greatestAspect = 1;
  double usualAspect = 1;   ///< half of the cells are longer than this for their width
  double greatestWarp = 0;  ///< of thin cells: angle between the halves of their middle surface, degrees
  int worstCell = -1;
  double shortestEdge = 0, longestEdge = 0;
};

/// Scaled Jacobian at the corners, aspect ratio and edge lengths of a block; those of thin cells along their sides only.
Quality quality(const Mesh& mesh, const Block& block);

/// Least Jacobian at a cell's corners over the lengths of the edges there, 1 for a cube or an equilateral cell, negative where
/// folded (P. Knupp, Finite Elements in Analysis and Design 39, 2003).
double scaledJacobian(const Mesh& mesh, const Block& block, size_t cell);

/// Below this scaled Jacobian a cell can be solved, but what is recovered at its nodes from its own points is rough.
inline constexpr double sliver = 0.1;
/// The same for a block's cells: triangles of sheets, which are narrow where a sheet closes on its axis, bear more.
double sliverLimit(const Block& block);

/// Per node: does it belong to a cell thinner than `sliver`?
std::vector<bool> nodesOfSlivers(const Mesh& mesh);

struct CellQuality {
  int block, cell;
  double scaledJacobian;
  Eigen::Vector3d middle;
};
/// The worst cells of a mesh, worst first.
std::vector<CellQuality> worstCells(const Mesh& mesh, size_t most);

}  // namespace anvil::mesh
