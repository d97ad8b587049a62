// Thin parts: sheets that are drawn as a surface and have a thickness.
#pragma once
#include <string>

#include "core/model/entry.hpp"

namespace anvil::model {

struct Thin {
  Entry thickness;
  std::string given = "middle";  ///< what the drawn surface is of the sheet: "middle", "upper" or "lower"
  Entry points = 5;              ///< of integration through the thickness
  std::string cells = "quads";   ///< "quads" or "triangles"
  bool operator==(const Thin&) const = default;
};

}  // namespace anvil::model
