// Fields of slender parts: forces on their sections, curvatures, stresses. They are known at both ends of every cell, since they
// jump where lines are joined and where forces act.
#pragma once
#include <string>
#include <vector>

#include "core/results/fields.hpp"

namespace anvil::results {

/// Forces and moments on sections and what they do; none for meshes without lines.
std::vector<FieldInfo> slenderFields(const mesh::Mesh& mesh);
bool isSlenderField(const std::string& name);
/// True for a force or moment, which is drawn as a diagram along its line.
bool isSlenderForce(const std::string& name);
/// Whether a force or moment lies in the plane across the section's up, and is drawn there.
bool isAcross(const std::string& name);

/// Values of any field at both ends of every cell, line by line; of fields that lines do not have 0. `nodal`: the field at nodes.
std::vector<double> slenderEnds(const Reader& reader, const std::string& name, size_t row, const std::vector<double>& nodal);

/// Puts into a nodal field what lines have there: of the ends that meet at a node the value that is greatest without its sign.
void addSlenderNodes(const Reader& reader, const std::string& name, size_t row, std::vector<double>& nodal);

}  // namespace anvil::results
