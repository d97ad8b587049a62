// What parts look like when seen along z, for thumbnails: drawn from their recipes, without a mesh.
#pragma once
#include <QPainterPath>
#include <vector>

#include "core/model/forward.hpp"

namespace anvil::app {

/// The part's outlines in place, in mm, y downwards; open paths for open rigid tools. Empty when the recipe has a fault, or
/// when only the CAD kernel knows the shape.
std::vector<QPainterPath> silhouette(const model::Document& document, const model::Part& part);

}  // namespace anvil::app
