// Mesh data: nodes, blocks of equal cells, named faces. Two dimensions today, three by adding cell types.
#pragma once
#include <Eigen/Core>
#include <array>
#include <map>
#include <string>
#include <vector>

namespace anvil::mesh {

enum class Cell { quad4, quad8 };

/// What every part of the program must know of a cell type.
struct CellInfo {
  const char* name;
  int nodes, corners, sides, points, dim;   ///< points: of integration
  int vtk;                                   ///< cell number in VTK files
  std::vector<std::vector<int>> side;        ///< local nodes of each side: corners in order, then mid-side node
};
const CellInfo& info(Cell type);

/// Cells of one type and one part. `nodes` holds info(type).nodes entries per cell.
struct Block {
  Cell type;
  int part;
  std::vector<int> nodes;
  size_t count() const { return nodes.size() / size_t(info(type).nodes); }
  const int* cell(size_t i) const { return nodes.data() + i * size_t(info(type).nodes); }
};

/// One side of one cell. The cell lies on the left when the side is walked in its node order.
struct Facet {
  int block, cell, side;
};

/// Facets of a named edge ("part.edge"), in path order as far as they are connected.
struct Face {
  std::string name;
  int part;
  std::vector<Facet> facets;
};

struct Quality {
  double leastScaledJacobian = 1, meanScaledJacobian = 1, greatestAspect = 1;
  int worstCell = -1;
  double shortestEdge = 0, longestEdge = 0;
};

struct Mesh {
  int dim = 2;
  std::vector<Eigen::Vector3d> x;       ///< node coordinates
  std::vector<Block> blocks;
  std::vector<Face> faces;              ///< named, on the boundary of a part
  std::vector<std::string> parts;       ///< names; rigid parts have no block

  const Face* face(const std::string& name) const;
  /// All boundary facets of a part.
  std::vector<Facet> boundary(int part) const;
  /// Global node numbers of a facet: corners first, then the mid-side node.
  std::vector<int> nodesOf(const Facet& facet) const;
  std::vector<int> nodesOf(const std::vector<Facet>& facets) const;  ///< sorted, each once
};

/// Scaled Jacobian at the corners, aspect ratio and edge lengths of a block.
Quality quality(const Mesh& mesh, const Block& block);

}  // namespace anvil::mesh
