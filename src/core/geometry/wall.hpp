// Solids that are one wall all over: their faces in pairs that lie a thickness apart.
#pragma once
#include <optional>
#include <vector>

#include "core/geometry/solid.hpp"

namespace anvil::geometry {

struct Wall {
  std::vector<int> faces;  ///< of the solid that make one side of the wall, the larger one; the wall lies behind them
  double thickness = 0;    ///< mm
};

/// Looks through the solid from points of every face, square to it. A wall is found where most of the surface has the same
/// thickness behind it, that of its side times it is the solid's volume, and it is thinner than a twelfth of its width.
/// Nothing for solids of more than 200 faces.
std::optional<Wall> wallOf(const Solid& solid);

}  // namespace anvil::geometry
