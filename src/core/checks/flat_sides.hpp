#pragma once
// How far the flat sides of linear elements stand off the round face they stand for.
#include <optional>

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

/// A round face, and how far its quadratic sides stand off it.
struct RoundFace {
  double radius = 0, bulge = 0;  ///< mm; 1 where it bulges outwards, -1 where inwards
  double standOff = 0;           ///< greatest distance of a middle of an edge or a side, mm
};

/// Judged by the cylinder through the corners of a face of quadratic sides in space; nothing where they lie on none, or are
/// linear.
std::optional<RoundFace> roundFace(const contact::Surface& surface, const mesh::Mesh& mesh);

}  // namespace anvil::checks
