#include "core/base/cache.hpp"

#include <cstdlib>

namespace anvil {

std::filesystem::path cacheFolder(const std::string& name) {
  namespace fs = std::filesystem;
  if (const char* own = std::getenv("XDG_CACHE_HOME"); own && *own) return fs::path(own) / "unyielding-anvil" / name;
  if (const char* home = std::getenv("HOME"); home && *home) return fs::path(home) / ".cache" / "unyielding-anvil" / name;
  return fs::temp_directory_path() / ("unyielding-anvil-" + name);
}

}  // namespace anvil
