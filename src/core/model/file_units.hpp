// The units that a file's bare numbers are in.
#pragma once
#include <string>

namespace anvil::model {

struct FileUnits {
  std::string length = "mm", force = "N", stress = "MPa", time = "s", temperature = "K", angle = "deg", density = "t/mm3";
  bool operator==(const FileUnits&) const = default;
};

}  // namespace anvil::model
