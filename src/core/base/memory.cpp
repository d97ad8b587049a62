#include "core/base/memory.hpp"

#include <fstream>
#include <sstream>
#include <string>

namespace anvil {

double availableMemory() {
  std::ifstream in("/proc/meminfo");
  for (std::string line; std::getline(in, line);)
    if (line.starts_with("MemAvailable:")) {
      double kilobytes = 0;
      std::istringstream(line.substr(13)) >> kilobytes;
      return kilobytes / 1024;
    }
  return 1e300;
}

}  // namespace anvil
