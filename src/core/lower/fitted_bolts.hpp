// Bolts that name the holes they go through are as long as these and as thick as they allow: they follow every change of the
// parts.
#pragma once
#include <functional>
#include <string>

#include "core/geometry/solid.hpp"
#include "core/model/forward.hpp"

namespace anvil::analysis {

/// The solid of a part by name; null where there is none of features.
using SolidNamed = std::function<const geometry::Solid*(const std::string& part)>;

/// The part with the ends and diameters of its bolts filled in from their holes. Throws Error with the place in the document: a
/// name that is no round hole, holes on different axes.
model::Part withFittedBolts(const model::Part& part, const model::Quantities& quantities, const SolidNamed& solidNamed,
                            const std::string& path);

}  // namespace anvil::analysis
