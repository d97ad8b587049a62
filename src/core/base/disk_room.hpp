// Room on disk for what does not fit into memory.
#pragma once
#include <filesystem>
#include <optional>

#include "core/base/file_lock.hpp"
#include "core/base/job_folder.hpp"

namespace anvil {

/// Says in which folder there is room for what does not fit into memory, while it lives. Where none is said it is the system's
/// folder for temporary files.
class DiskPlace {
 public:
  explicit DiskPlace(std::filesystem::path folder);
  ~DiskPlace();
  DiskPlace(const DiskPlace&) = delete;
  static std::filesystem::path now();

 private:
  std::filesystem::path before_;
};

/// A folder of its own at the place said, gone with it; that of a process that was killed is taken away when the next one is
/// made.
class DiskFolder {
 public:
  /// Throws Error where it cannot be made, or where fewer than `megabytes` are free.
  explicit DiskFolder(double megabytes);
  const std::filesystem::path& path() const { return folder_->path(); }

 private:
  std::optional<OwnFolder> folder_;
  FileLock lock_;
};

}  // namespace anvil
