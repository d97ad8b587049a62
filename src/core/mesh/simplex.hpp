// Triangles and tetrahedra from mapped quads and swept hexes and wedges.
#pragma once
#include "core/mesh/mesh.hpp"

namespace anvil::mesh {

/// Splits all quad8 cells of a part into tri6 along their shorter diagonals, hex20 and wedge15 cells into tet10. Every
/// split goes through the lowest node number of a cell and of each of its faces, so that neighbours agree (after
/// J. Dompierre et al., Int. Meshing Roundtable, 1999). New mid-side nodes lie where the cell's own shape functions put
/// them; named faces follow.
void splitIntoSimplices(Mesh& mesh, int part);

}  // namespace anvil::mesh
