// Edges and corners of shapes, by the faces that meet there: they keep their names as long as the faces do.
#pragma once
#include <string>
#include <vector>

#include "core/mesh/mesh.hpp"

namespace anvil::mesh {

/// Where faces meet.
struct Meeting {
  std::string name;
  int part = -1;
  std::vector<std::vector<int>> lines;  ///< sides of cells along an edge: two ends, and the middle of quadratic cells
  std::vector<int> nodes;               ///< all of them, sorted
};

/// Where all of these faces meet: in space an edge of two faces, a corner of three or more; in the plane a corner of two.
/// Without nodes where they do not.
Meeting meetingOf(const Mesh& mesh, const std::vector<const Face*>& faces);

/// All edges of the parts' shapes (in space).
std::vector<Meeting> edgesOfShapes(const Mesh& mesh);
/// All corners of the parts' shapes, one node each.
std::vector<Meeting> cornersOfShapes(const Mesh& mesh);

}  // namespace anvil::mesh
