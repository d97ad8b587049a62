// Thin cells: hexahedra and wedges with displacements only that bend, stretch and shear as a shell does however thin they are.
//
// Total-Lagrangian, in Green–Lagrange strains of the convected frame (ξ, η in the sheet, ζ through it, from the side of nodes 0
// to 3 to that of nodes 4 to 7). Assumed natural strains free it of shear locking (transverse shears from the middles of the
// edges: E. Dvorkin, K. Bathe, 1984) and of curvature-thickness locking (the thickness strain from the corners: P. Betsch, E.
// Stein, 1995). Enhanced strains free it of thickness and volume locking and let it bend in its plane (S. Klinkel, F. Gruttmann,
// W. Wagner, CMAME 195, 2006): of the thickness strain, and in hexahedra of the membrane's. They are eliminated in the cell: its
// forces and tangent are those of the displacements alone.
#pragma once
#include "core/element/block.hpp"

namespace anvil::element {

/// Blocks of thin cells, of hex8 and wedge6 (the triangle's nodes first on one side, then on the other), in space; 2 x 2 or 3
/// points in the sheet. Null for solid cells. Throws Error for a folded cell.
std::unique_ptr<Block> thinBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting,
                                 const material::AnyLaw& law);

}  // namespace anvil::element
