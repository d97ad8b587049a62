// Smaller elements round places of a part. For use inside this folder.
#pragma once
#include <string>
#include <vector>

#include "core/mesh/free.hpp"
#include "core/model/forward.hpp"

namespace anvil::analysis {

/// In the part's own coordinates, before it is placed. Throws Error with the place in the document.
std::vector<mesh::FreeSizes::Near> nearSizes(const model::Part& part, const model::Quantities& quantities,
                                             const std::string& path);

}  // namespace anvil::analysis
