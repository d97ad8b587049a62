// Details of a skin that no element fits into.
#pragma once
#include <optional>

#include "mesher/skin.hpp"

namespace anvil::mesher {

/// The skin with nodes made one that lie closer to each other than `width`, mm. Triangles that vanish are left out, and walls
/// that come to lie on each other. Nothing where no closed skin comes of it, as when the two sides of a slot are divided unlike;
/// the same skin where it is closed and has nothing so small.
std::optional<Skin> welded(const Skin& skin, double width);

}  // namespace anvil::mesher
