// The solids of a STEP file as parts of a model.
#pragma once
#include <string>
#include <vector>

#include "core/geometry/solid.hpp"
#include "core/model/forward.hpp"

namespace anvil::geometry {

/// Adds a part for each solid, named as the file names it or after the file, in a model in space; with `whole` one part of all of
/// them, tied where they touch. A model without materials gets a steel. Returns the parts' names.
std::vector<std::string> addStepParts(model::Document& document, const std::string& file, const std::vector<StepContent>& solids,
                                      bool whole = false);

}  // namespace anvil::geometry
