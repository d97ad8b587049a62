// A worker does not outlive who asked for it.
#pragma once
#include <filesystem>

namespace anvil::mesher {

/// From now on: when the process that started this one is gone, the folder of its job is removed and this process ends.
void endWithParent(const std::filesystem::path& jobFolder);

/// Limits of processor time and memory of this process; 0: none. What needs more ends with a signal or std::bad_alloc.
void limit(int seconds, size_t megabytes);

}  // namespace anvil::mesher
