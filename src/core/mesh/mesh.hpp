// Mesh data: nodes, blocks of equal cells, named faces. Two and three dimensions.
#pragma once
#include <Eigen/Geometry>
#include <array>
#include <map>
#include <string>
#include <vector>

namespace anvil::mesh {

/// The numbers are stored in results files: only add at the end.
enum class Cell { quad4, quad8, tri6, hex8, hex20, tet10, wedge6, wedge15 };

/// What every part of the program must know of a cell type.
struct CellInfo {
  const char* name;
  int nodes, corners, sides, points, dim;  ///< points: of integration
  int vtk;                                 ///< cell number in VTK files
  bool quadratic;
  std::vector<std::vector<int>> side;  ///< local nodes of each side: corners in order, then mid-side nodes; the
                                       ///< outside lies to the right of a plane side and above an anticlockwise one
  std::vector<std::vector<int>> edge;  ///< two ends, then the mid-edge node
  int cornersOf(int s) const {
    return quadratic && dim == 3 ? int(side[size_t(s)].size()) / 2 : dim == 3 ? int(side[size_t(s)].size()) : 2;
  }
};
const CellInfo& info(Cell type);

/// Integration points through the thickness of thin cells: fewest, most.
inline constexpr int fewestThrough = 2, mostThrough = 9;

/// Cells of one type and one part. `nodes` holds info(type).nodes entries per cell. Thin cells are hex8 and wedge6 whose first
/// half of nodes lies on the lower side of a sheet, the other half opposite on its upper side.
struct Block {
  Cell type;
  int part;
  std::vector<int> nodes;
  int through = 0;       ///< thin cells: integration points through the thickness; 0: solid cells
  double thickness = 0;  ///< thin cells: of their sheet as given, mm
  size_t count() const { return nodes.size() / size_t(info(type).nodes); }
  bool thin() const { return through > 0; }
  /// Points of integration per cell; those of thin cells layer by layer, from the lower side to the upper.
  int points() const { return thin() ? through * info(type).nodes / 2 : info(type).points; }
  const int* cell(size_t i) const { return nodes.data() + i * size_t(info(type).nodes); }
};

/// One side of one cell. A plane cell lies on the left when the side is walked in its node order; seen from outside, the
/// corners of a solid cell's side run anticlockwise.
struct Facet {
  int block, cell, side;
};

/// Facets of a named edge or face ("part.edge"), in path order as far as they are connected.
struct Face {
  std::string name;
  int part;
  std::vector<Facet> facets;
};

/// A cut across a shank: nodes that were one, on both sides of it.
struct Cut {
  std::string name;
  int part = -1;
  std::vector<int> below, above;  ///< nodes in pairs
  std::vector<double> share;      ///< of the cut's area, per pair
  Eigen::Vector3d axis{0, 0, 1}, centre{0, 0, 0};
  double area = 0, radius = 0;
  std::vector<int> frame;  ///< nodes that tell how the axis turns: Σ weight x is its direction, times a stretch
  std::vector<double> weight;
};

/// A line of slender cells, each between two nodes that follow each other.
struct Line {
  std::string name;  ///< "part.line"
  int part = -1;
  std::vector<int> nodes;
  std::vector<int> turns;           ///< parallel: which of the mesh's turns the line takes part in there; none of bars
  std::vector<Eigen::Vector3d> up;  ///< of each cell's section: unit, square to the cell
  std::vector<std::vector<Eigen::Vector2d>> outline;  ///< of the section: loops of [across, up], mm
  size_t count() const { return nodes.size() - 1; }
};

/// A named point of a slender part.
struct Spot {
  std::string name;  ///< "part.point"
  int part = -1, node = -1;
  int turn = -1;  ///< of what is rigidly joined there; -1: none
};

struct Mesh {
  int dim = 2;
  std::vector<Eigen::Vector3d> x;  ///< node coordinates
  std::vector<Block> blocks;
  std::vector<Face> faces;         ///< named, on the boundary of a part
  std::vector<std::string> parts;  ///< names; rigid parts have no block
  std::vector<Cut> cuts;           ///< across bolts' shanks
  std::vector<Line> lines;         ///< slender cells; they are in no block
  std::vector<Spot> spots;
  std::vector<int> turnNode;  ///< where the turns of slender parts are; several at a node with a hinge
  struct Note {
    int part;
    std::string words;  ///< a sentence without its full stop
    bool doubt;         ///< it may matter for what is computed
  };
  std::vector<Note> notes;  ///< what was given up to come by the mesh

  const Face* face(const std::string& name) const;
  const Line* line(const std::string& name) const;
  const Spot* spot(const std::string& name) const;
  /// Faces that a name stands for: the one of that name, or of a part that is repeated those of all copies, whose names have a
  /// number behind ("pin.side 1", "pin.side 2" …). Empty when there is none.
  std::vector<const Face*> facesNamed(const std::string& name) const;
  /// All boundary facets of a part; sides that only a cut has opened are none.
  std::vector<Facet> boundary(int part) const;
  /// Nodes of a part that hang together, also over the cut of a bolt: one list, or one for each of its copies. Sorted.
  std::vector<std::vector<int>> bodies(int part) const;
  /// Number of corners of a facet: 2 in the plane, 3 or 4 in space.
  int cornersOf(const Facet& facet) const { return info(blocks[size_t(facet.block)].type).cornersOf(facet.side); }
  /// Global node numbers of a facet: corners first, then the mid-side nodes.
  std::vector<int> nodesOf(const Facet& facet) const;
  std::vector<int> nodesOf(const std::vector<Facet>& facets) const;  ///< sorted, each once
};

}  // namespace anvil::mesh
