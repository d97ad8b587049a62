// Thin parts: sheets that are drawn as a surface and have a thickness.
#pragma once
#include <string>
#include <vector>

#include "core/model/entry.hpp"

namespace anvil::model {

struct Thin {
  Entry thickness;                 ///< of a solid that is all wall it may be left out: it is measured
  std::vector<std::string> faces;  ///< of the part's solid that make the sheet; none: all of a sheet body, one side of a wall
  std::string given = "middle";    ///< what the drawn surface is of the sheet: "middle", "upper" or "lower"
  Entry points = 5;                ///< of integration through the thickness
  std::string cells = "quads";     ///< "quads" or "triangles"
  bool operator==(const Thin&) const = default;
};

}  // namespace anvil::model
