#include "core/base/cache.hpp"

#include <pwd.h>
#include <sys/stat.h>
#include <unistd.h>
#include <algorithm>
#include <cstdint>
#include <cstdlib>
#include <vector>

#include "core/base/error.hpp"
#include "core/base/files.hpp"

namespace anvil {
namespace {

namespace fs = std::filesystem;

constexpr size_t digits = 32;  // of a digest
constexpr const char* ending = ".kept";

std::uint64_t fnv(const std::string& bytes, std::uint64_t hash) {
  for (unsigned char c : bytes) hash = (hash ^ c) * 1099511628211ull;
  return hash;
}

std::string environment(const char* name) {
  const char* value = std::getenv(name);
  return value ? value : "";
}

}  // namespace

std::string digestOf(const std::string& bytes) {
  char key[digits + 1];
  std::snprintf(key, sizeof key, "%016llx%016llx", static_cast<unsigned long long>(fnv(bytes, 14695981039346656037ull)),
                static_cast<unsigned long long>(fnv(bytes, 88172645463325252ull)));
  return key;
}

fs::path cacheFolder(const std::string& name) {
  if (const fs::path own = environment("XDG_CACHE_HOME"); own.is_absolute()) return own / "unyielding-anvil" / name;
  fs::path home = environment("HOME");
  if (!home.is_absolute())
    if (const passwd* person = ::getpwuid(::getuid()); person && person->pw_dir) home = person->pw_dir;
  return home.is_absolute() ? home / ".cache" / "unyielding-anvil" / name : fs::path();
}

bool makePrivate(const fs::path& folder) {
  if (folder.empty()) return false;
  std::error_code none;
  std::vector<fs::path> missing;
  for (fs::path at = folder; !at.empty() && !fs::exists(at, none); at = at.parent_path()) missing.push_back(at);
  for (; !missing.empty(); missing.pop_back())
    if (::mkdir(missing.back().c_str(), 0700) != 0 && errno != EEXIST) return false;
  struct stat s {};
  return ::stat(folder.c_str(), &s) == 0 && S_ISDIR(s.st_mode) && s.st_uid == ::geteuid();
}

std::optional<std::string> kept(const std::string& folder, const std::string& key) {
  const fs::path place = cacheFolder(folder), file = place / (key + ending);
  std::error_code none;
  if (place.empty() || !fs::is_regular_file(file, none)) return {};
  try {
    std::string all = readWhole(file.string());
    if (all.size() < digits) return {};
    const std::string sum = all.substr(0, digits);
    all.erase(0, digits);
    if (digestOf(all) != sum) return {};
    fs::last_write_time(file, fs::file_time_type::clock::now(), none);
    return all;
  } catch (const Error&) {
    return {};
  }
}

void keep(const std::string& folder, const std::string& key, const std::string& bytes, size_t most) try {
  const fs::path place = cacheFolder(folder);
  if (!makePrivate(place)) return;
  writeWhole((place / (key + ending)).string(), digestOf(bytes) + bytes);
  std::error_code none;
  std::vector<std::pair<fs::file_time_type, fs::path>> files;
  for (const auto& f : fs::directory_iterator(place, none))
    if (f.is_regular_file(none)) files.emplace_back(fs::last_write_time(f, none), f.path());
  std::sort(files.begin(), files.end());
  for (size_t i = 0; i + most < files.size(); ++i) fs::remove(files[i].second, none);
} catch (const std::exception&) {
}

}  // namespace anvil
