// A folder of our own for a job that a worker does.
#pragma once
#include <filesystem>
#include <string>

namespace anvil {

/// Only its owner may enter it; it goes with us. What programs that were killed have left is taken away when the next is made.
class JobFolder {
 public:
  /// Throws Error when none can be made.
  JobFolder();
  ~JobFolder();
  JobFolder(const JobFolder&) = delete;
  std::filesystem::path operator/(const char* name) const { return path_ / name; }

 private:
  std::filesystem::path path_;
};

}  // namespace anvil
