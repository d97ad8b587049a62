// Files are written whole or not at all.
#pragma once
#include <filesystem>
#include <string>

namespace anvil {

/// Writes `content` to `path`: to a new file of its own beside it, synced, then renamed over it. A symbolic link is followed, the
/// rights of a file that is replaced are kept, and what is no plain file (a device, a pipe) is written to as it is.
/// Throws Error (folder not writable, disk full, write-protected) and leaves an existing file as it was.
void writeWhole(const std::string& path, const std::string& content);

/// The whole of a text file. Throws Error when it cannot be read.
std::string readWhole(const std::string& path);

/// Where a name leads once its symbolic links are followed, also to a file that is not there yet. Throws Error where links go
/// round in a circle.
std::filesystem::path leadsTo(const std::string& path);

/// A name beside `path`, of no file that is there, for what takes its place when it is whole.
std::filesystem::path nameBeside(const std::filesystem::path& path);

/// Takes away what was begun in a folder by programs that were killed since: files of such names, ours, unlocked and over an hour
/// old.
void sweepBegun(const std::filesystem::path& folder);

/// Whether two names lead to one file, be it by links, or to the same place where there is none yet.
bool sameFile(const std::string& one, const std::string& other);

/// Throws Error when `out` is the file `in` from which it is made. `what`: what would be written, as "the table".
void keepApart(const std::string& out, const std::string& in, const std::string& what);

}  // namespace anvil
