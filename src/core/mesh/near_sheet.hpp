// Smaller elements round places of a swept sheet: shorter ones along its line, thinner layers along its way.
#pragma once
#include <functional>
#include <string>
#include <vector>

#include "core/geometry/recipes.hpp"
#include "core/geometry/sheet.hpp"
#include "core/mesh/free.hpp"

namespace anvil::mesh {

/// Shares of a length, from 0 to 1, between which elements are as long as `wanted` (of a share) says, and of even length where
/// that is longer than `count` of them are. At least `count` elements.
std::vector<double> stations(double length, int count, const std::function<double(double share)>& wanted);

/// Divides a line and its way (extruded or revolved, of `layers` layers else) for the sizes round places; away from a place sizes
/// grow by three tenths of the distance. Throws Error for ways that bend or twist.
void refineNear(geometry::SheetLine& line, geometry::Sweep& sweep, int layers, const std::vector<FreeSizes::Near>& near,
                const std::string& path);

}  // namespace anvil::mesh
