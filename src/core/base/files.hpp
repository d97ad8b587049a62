// Files are written whole or not at all.
#pragma once
#include <string>

namespace anvil {

/// Writes `content` to `path`: a temporary file beside it, synced, then renamed over it.
/// Throws Error (folder not writable, disk full) and leaves an existing file as it was.
void writeWhole(const std::string& path, const std::string& content);

/// The whole of a text file. Throws Error when it cannot be read.
std::string readWhole(const std::string& path);

}  // namespace anvil
