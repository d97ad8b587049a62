// Where the program keeps what it can make again.
#pragma once
#include <filesystem>
#include <optional>
#include <string>

namespace anvil {

/// A folder of the person's cache (XDG base directories), which only they may enter; it may not be there yet. Empty where there
/// is no place of their own: then nothing is kept.
std::filesystem::path cacheFolder(const std::string& name);

/// Makes a folder, and those above it, that only its owner may enter. False where it cannot be, or is somebody else's.
bool makePrivate(const std::filesystem::path& folder);

/// A name for these bytes: other bytes, other name (FNV-1a from two seeds, 128 bits).
std::string digestOf(const std::string& bytes);

/// What is kept in a folder of the cache under a key; nothing where there is none or it is not what was put there.
std::optional<std::string> kept(const std::string& folder, const std::string& key);

/// Keeps bytes under a key, and of the folder only the newest `most`. That it cannot be written is no fault.
void keep(const std::string& folder, const std::string& key, const std::string& bytes, size_t most);

}  // namespace anvil
