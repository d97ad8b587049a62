// Fields of thin parts: thickness, section forces, and what lies in the middle of the sheet.
//
// Section forces are those per length of the sheet as it is now, in its own axes: 1 is the direction of x seen on the sheet (of y
// where the sheet faces along x), 2 square to it, 3 from the lower to the upper side. Bending moments stretch the upper side.
#pragma once
#include <functional>
#include <string>
#include <vector>

#include "core/results/fields.hpp"

namespace anvil::results {

bool hasThinCells(const mesh::Mesh& mesh);

/// Thickness and section forces; none for meshes without thin cells.
std::vector<FieldInfo> sheetFields(const mesh::Mesh& mesh);
bool isSheetField(const std::string& name);

/// Thickness at every node, mm, or thinning in per cent of the thickness as given; 0 at nodes of solid cells. `displacement`: 3
/// per node.
std::vector<double> sheetThickness(const mesh::Mesh& mesh, const std::vector<float>& displacement, bool thinning);

/// Section forces at the nodes of every cell, block by block, cell by cell; 0 in solid cells. `stress`: 6 per point.
std::vector<double> sectionForces(const mesh::Mesh& mesh, const std::string& name, const std::vector<float>& displacement,
                                  const std::vector<float>& stress);

/// Values at a thin cell's points taken to its nodes: to each side from the two layers next to it, then in the sheet.
void toSides(const mesh::Block& cells, const double* atPoints, double* atNodes);

/// The same as they are in the middle of the sheet: the same on both sides.
void toMiddle(const mesh::Block& cells, const double* atPoints, double* atNodes);

}  // namespace anvil::results
