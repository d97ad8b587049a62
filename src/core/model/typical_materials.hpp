// Materials with values as textbooks have them, to begin with.
#pragma once
#include <string>
#include <vector>

#include "core/model/materials.hpp"

namespace anvil::model {

struct TypicalMaterial {
  std::string name;   ///< "structural steel 355"
  std::string group;  ///< "Steel", "Light and copper metals", "Rubber", "Polymers"
  Material material;  ///< its note says that the values are typical
};
/// In core units, whatever the file's are: entries have their units with them.
const std::vector<TypicalMaterial>& typicalMaterials();

}  // namespace anvil::model
