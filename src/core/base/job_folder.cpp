#include "core/base/job_folder.hpp"

#include <sys/stat.h>
#include <unistd.h>
#include <cerrno>
#include <csignal>
#include <cstdlib>
#include <cstring>

#include "core/base/error.hpp"

namespace anvil {
namespace {

namespace fs = std::filesystem;
constexpr const char* stem = "anvil-job-";

/// Takes away folders that are named by a process that is gone, and are ours. How the name of the next begins.
std::string swept() {
  std::error_code none;
  for (const auto& f : fs::directory_iterator(temporaryPlace(), none)) {
    const auto name = f.path().filename().string();
    struct stat s {};
    if (!name.starts_with(stem) || ::lstat(f.path().c_str(), &s) != 0 || !S_ISDIR(s.st_mode) || s.st_uid != ::geteuid()) continue;
    const long owner = std::strtol(name.c_str() + std::string(stem).size(), nullptr, 10);
    if (owner > 0 && ::kill(pid_t(owner), 0) != 0 && errno == ESRCH) fs::remove_all(f.path(), none);
  }
  return stem + std::to_string(::getpid()) + "-";
}

}  // namespace

fs::path temporaryPlace() {
  std::error_code none;
  const fs::path set = fs::temp_directory_path(none);
  return none ? "/tmp" : set;
}

OwnFolder::OwnFolder(const fs::path& in, const std::string& stem) {
  std::string name = (in / (stem + "XXXXXX")).string();
  if (!::mkdtemp(name.data()))
    throw Error("no temporary folder can be made there: " + std::string(std::strerror(errno)), in.string(),
                "Make room there, or set TMPDIR.");
  path_ = name;
}

OwnFolder::~OwnFolder() {
  std::error_code none;
  fs::remove_all(path_, none);
}

JobFolder::JobFolder() : folder_(temporaryPlace(), swept()) {}

}  // namespace anvil
