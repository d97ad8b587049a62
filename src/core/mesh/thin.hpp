// Meshes of thin parts: one layer of hexes, or of wedges, between the two sides of a sheet.
//
// Faces: "part.lower" and "part.upper" are the sides; the edges of flat sheets are called as those of the shape. A swept line has
// "part.start" and "part.end" (closed: none), "part.front" and "part.back" (full turn: none), and both sides of each of its named
// pieces: "part.piece lower", "part.piece upper".
#pragma once
#include <string>

#include "core/geometry/recipes.hpp"
#include "core/geometry/sheet.hpp"
#include "core/mesh/mesh.hpp"

namespace anvil::mesh {

/// A line with thickness, in the plane: a row of quads from its lower side (right of it) to its upper. Its sides meet at the
/// bisectors of corners; with `axis` ends at x = 0 are cut along the axis. Throws Error where a corner turns back on itself.
Mesh strip(const geometry::SheetLine& line, const geometry::SheetSides& sides, const std::string& part, bool axis,
           const std::string& path);

/// Adds a flat sheet in the x–y plane from a mesh of quad4; its upper side is that of larger z.
void addFlatSheet(Mesh& mesh, int part, const Mesh& plane, const geometry::SheetSides& sides, int through,
                  const std::string& path);

/// Adds a swept strip.
void addSweptSheet(Mesh& mesh, int part, const Mesh& strip, const geometry::Sweep& sweep, const geometry::SheetSides& sides,
                   int through, const std::string& path);

/// Makes the cells of a part thin ones. Throws Error for cells that are folded.
void makeThin(Mesh& mesh, int part, int through, double thickness, const std::string& path);

/// Splits the hexes of a thin part into wedges along the shorter diagonals of their sides.
void splitIntoTriangles(Mesh& mesh, int part);

}  // namespace anvil::mesh
