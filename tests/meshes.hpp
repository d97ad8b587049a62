// Meshes of models written as text, and what is measured of them.
#pragma once
#include <string>
#include <vector>

#include "core/mesh/mesh.hpp"

namespace anvil {

/// The mesh of a model's text. Throws Error.
mesh::Mesh meshOf(const std::string& model);
/// The mesh of a model of one part "p", given by the text of its object.
mesh::Mesh meshOfPart(const std::string& part, const std::string& space = "plane strain");
inline mesh::Mesh meshOfSolidPart(const std::string& part) { return meshOfPart(part, "solid"); }
/// Of all cells, by their own integration points, mm³ (mm² in the plane).
double volumeOf(const mesh::Mesh& mesh);

/// Of facets with straight sides, mm².
double areaOf(const mesh::Mesh& mesh, const std::vector<mesh::Facet>& facets);

}  // namespace anvil
