// Folders of our own, for a job that a worker does among others.
#pragma once
#include <filesystem>
#include <string>

namespace anvil {

/// A new folder with what it holds: only its owner may enter it, and it goes with us.
class OwnFolder {
 public:
  /// `stem`: how its name begins. Throws Error when none can be made there.
  OwnFolder(const std::filesystem::path& in, const std::string& stem);
  ~OwnFolder();
  OwnFolder(const OwnFolder&) = delete;
  const std::filesystem::path& path() const { return path_; }

 private:
  std::filesystem::path path_;
};

/// Where temporary files go: what the person has set, as far as it is there.
std::filesystem::path temporaryPlace();

/// One for a job. What programs that were killed have left is taken away when the next is made.
class JobFolder {
 public:
  /// Throws Error when none can be made.
  JobFolder();
  std::filesystem::path operator/(const char* name) const { return folder_.path() / name; }

 private:
  OwnFolder folder_;
};

}  // namespace anvil
