// Tetrahedra that come out too thin, made thicker.
#pragma once
#include "mesher/tetrahedra.hpp"

namespace anvil::mesher {

/// Least Jacobian at a corner over the lengths of the edges there, 1 for the regular tetrahedron.
double scaledJacobian(const std::vector<Eigen::Vector3d>& x, const std::array<int, 4>& cell);

/// Works on cells below `wanted`. One with two outer sides that hardly turn from each other (under a smooth edge of the shape)
/// cannot be thick: the edge opposite is divided, and the new node moved inwards (within its face, where that is plane). Else its
/// inner nodes are moved to where the thinnest cell round them is thickest (pattern search, as L. Freitag, C. Ollivier-Gooch,
/// IJNME 40, 1997, wish it); what is far too thin even so has one of its edges divided where that helps.
void improve(Tetrahedra& mesh, double wanted);

/// A place taken onto the faces a and b of the shape (the same, or two along their edge); `length` of the edge it is the middle
/// of.
using OntoFaces = std::function<Eigen::Vector3d(int a, int b, const Eigen::Vector3d& place, double length)>;

/// Parts cells that could not follow the shape's curvature: the outer edge that spans the widest arc is divided on the shape;
/// where none is wide, and two outer sides lie on one curved face (bent flush they would leave no angle between them), the edge
/// opposite. True where any was parted.
bool partForCurvature(Tetrahedra& mesh, const std::vector<size_t>& cells, const OntoFaces& onto);

}  // namespace anvil::mesher
