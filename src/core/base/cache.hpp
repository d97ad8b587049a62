// Where the program keeps what it can make again.
#pragma once
#include <filesystem>
#include <string>

namespace anvil {

/// A folder of the person's cache (XDG base directories), not made yet.
std::filesystem::path cacheFolder(const std::string& name);

}  // namespace anvil
