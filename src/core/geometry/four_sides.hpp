// Outlines without named sides: where their four corners are best put, so that they are meshed from side to side.
#pragma once
#include <array>
#include <optional>
#include <vector>

#include "core/geometry/path.hpp"

namespace anvil::geometry {

/// The curves of a closed path, anticlockwise, as four sides end to end, beginning with the first corner on or behind the path's
/// start. Corners are where curves meet; of all choices the one whose blended mesh (W. Gordon, C. Hall, Numer. Math. 21, 1973)
/// has the best worst cell. Nothing when that is folded or nearly so, or there are fewer than four curves. `quality`: the least
/// scaled Jacobian of a coarse mesh.
struct FourSides {
  std::array<std::vector<Curve2>, 4> sides;
  double quality = 0;
};
std::optional<FourSides> fourSides(const std::vector<Curve2>& closedPath);

}  // namespace anvil::geometry
