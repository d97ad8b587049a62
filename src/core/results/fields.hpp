// Fields for people: scalars at nodes, averaged within a part, or unaveraged at the corners of each cell.
#pragma once
#include <string>
#include <vector>

#include "core/base/units.hpp"
#include "core/mesh/mesh.hpp"
#include "core/results/store.hpp"

namespace anvil::results {

/// Where in a thin part a field is looked at: on each side as it is there, or all over as it is on one of them or in the middle.
enum class SheetPlace { bothSides, upper, middle, lower };

struct FieldInfo {
  std::string name;                          ///< as in the interface and on the command line: "von Mises stress"
  Kind kind;                                 ///< says its unit
  bool isSigned;                             ///< shown with the two-ended colour map
  bool nodal;                                ///< defined at nodes (displacement), else from integration points
  SheetPlace place = SheetPlace::bothSides;  ///< of the elsewhere ones the name has it at its end
};

/// What stands behind a field's name at a place: nothing, " on the upper side", " in the middle", " on the lower side".
const std::string& placeWords(SheetPlace place);
/// A field's name without its place.
std::string withoutPlace(const FieldInfo& field);

/// All fields of a results file, in the order they are offered. Axis names follow the space.
std::vector<FieldInfo> fieldList(const Header& header);

/// Looks a field up, ignoring case. Throws Error naming the nearest one.
FieldInfo fieldNamed(const Header& header, const std::string& name);

/// Value at every node at an increment, averaged over the cells of a part. Nodes of no cell get 0.
std::vector<double> nodalField(const Reader& reader, const std::string& name, size_t row);

/// Values at the nodes of every cell, block by block, cell by cell: extrapolated from its own points only.
std::vector<double> cellField(const Reader& reader, const std::string& name, size_t row);

/// A scalar at integration points, block by block, cell by cell.
std::vector<double> pointField(const Reader& reader, const std::string& name, size_t row);

/// Takes values at a cell's integration points to its nodes: linearly to the corners; mid-side nodes are means of theirs. In thin
/// cells to each side from the two layers of points next to it.
void extrapolate(const mesh::Block& cells, const double* atPoints, double* atNodes);

struct Statistics {
  size_t count = 0;
  double least = 0, greatest = 0, mean = 0, sum = 0, weightedMean = 0, area = 0;
};
/// Statistics of a nodal field over nodes; weights (areas of a face) give the weighted mean.
Statistics statistics(const std::vector<double>& values, const std::vector<double>& weights);

/// Area of a named face that belongs to each of its nodes, undeformed: length x thickness, or 2πr in axisymmetric models.
std::vector<double> nodalAreas(const Header& header, const std::vector<mesh::Facet>& facets, const std::vector<int>& nodes);

/// Area over which each node touches or faces another surface within reach: the weights with which the mean of the contact
/// pressure, times their sum, is the force.
std::vector<double> contactAreas(const Reader& reader, size_t row, const std::vector<int>& nodes);

}  // namespace anvil::results
