// What a new model begins with: its kind, and a part.
#pragma once
#include <string>
#include <vector>

#include "core/model/forward.hpp"

namespace anvil::model {

/// A kind of model as it is chosen. Thin models are models in space whose first part is a sheet.
struct Beginning {
  std::string name;                ///< "plane strain", "plane stress", "axisymmetric", "solid", "thin"
  std::string space;               ///< as the document has it
  std::string sentence;            ///< when it is right
  std::vector<std::string> parts;  ///< to begin with, by name
};
const std::vector<Beginning>& beginnings();

/// A model of that kind with a part of typical steel, or without one where `part` is empty; one step, nothing that acts. Throws
/// Error when there is no such kind or part.
Document begun(const std::string& kind, const std::string& part = {});

}  // namespace anvil::model
