#include "core/base/job_folder.hpp"

#include <sys/stat.h>
#include <unistd.h>
#include <cerrno>
#include <csignal>
#include <cstdlib>

#include "core/base/error.hpp"

namespace anvil {
namespace {

namespace fs = std::filesystem;
constexpr const char* stem = "anvil-job-";

/// Where temporary folders go: what the person has set, as far as it is there.
fs::path place() {
  std::error_code none;
  const fs::path set = fs::temp_directory_path(none);
  return none ? "/tmp" : set;
}

/// Takes away folders that are named by a process that is gone, and are ours.
void sweep() {
  std::error_code none;
  for (const auto& f : fs::directory_iterator(place(), none)) {
    const auto name = f.path().filename().string();
    struct stat s {};
    if (!name.starts_with(stem) || ::lstat(f.path().c_str(), &s) != 0 || !S_ISDIR(s.st_mode) || s.st_uid != ::geteuid()) continue;
    const long owner = std::strtol(name.c_str() + std::string(stem).size(), nullptr, 10);
    if (owner > 0 && ::kill(pid_t(owner), 0) != 0 && errno == ESRCH) fs::remove_all(f.path(), none);
  }
}

}  // namespace

JobFolder::JobFolder() {
  sweep();
  std::string name = (place() / (stem + std::to_string(::getpid()) + "-XXXXXX")).string();
  if (!::mkdtemp(name.data()))
    throw Error("no temporary folder can be made in " + place().string(), "worker", "Make room there, or set TMPDIR.");
  path_ = name;
}

JobFolder::~JobFolder() {
  std::error_code none;
  fs::remove_all(path_, none);
}

}  // namespace anvil
