// Who writes a file that grows keeps others from writing it.
#pragma once
#include <filesystem>

namespace anvil {

/// Held as long as it lives, or as its process does: what is killed leaves nothing behind. Other locks on the file (of libraries,
/// over all of it) are not touched: it lies on one byte far beyond the end.
class FileLock {
 public:
  FileLock() = default;
  /// Takes the lock of a file that is there; `held` says whether it was to be had. Where the file system knows no locks, it is
  /// held.
  explicit FileLock(const std::filesystem::path& file);
  FileLock(FileLock&& other) noexcept;
  FileLock& operator=(FileLock&& other) noexcept;
  ~FileLock();
  bool held() const { return held_; }

 private:
  int fd_ = -1;
  bool held_ = false;
};

/// Whether some other holder has the lock of this file now.
bool isLocked(const std::filesystem::path& file);

/// Held while a name of a folder changes from one file to another, so that two who want it come one after the other.
class FolderLock {
 public:
  explicit FolderLock(const std::filesystem::path& folder);
  ~FolderLock();
  FolderLock(const FolderLock&) = delete;

 private:
  int fd_ = -1;
};

}  // namespace anvil
