#pragma once
// How far the flat sides of linear elements stand off the round face they stand for.
#include "core/contact/surface.hpp"
#include "core/mesh/mesh.hpp"

namespace anvil::checks {

struct FlatSides {
  double curvature = 0;  ///< the strongest of the face, 1/mm; above 0 where it bulges outwards
  double standOff = 0;   ///< greatest height of the round face over its flat sides, mm: h² κ/8 of a side of length h
};

/// Judged by the angles between sides that meet; those over 30° are edges of the shape. Quadratic sides follow the face: both are
/// 0.
FlatSides flatSides(const contact::Surface& surface, const mesh::Mesh& mesh);

}  // namespace anvil::checks
