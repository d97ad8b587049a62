#include "core/base/files.hpp"

#include <fcntl.h>
#include <sys/random.h>
#include <sys/stat.h>
#include <unistd.h>
#include <cerrno>
#include <cstdint>
#include <cstring>
#include <ctime>
#include <fstream>
#include <sstream>

#include "core/base/error.hpp"
#include "core/base/file_lock.hpp"

namespace anvil {
namespace {

namespace fs = std::filesystem;

constexpr const char *begun = ".anvil-", *unfinished = ".part";
const char* const roomOrRights = "Check that the folder can be written to and the disk has room.";

[[noreturn]] void failed(const std::string& what, const std::string& path, int reason) {
  throw Error(what + ": " + std::strerror(reason), path, roomOrRights);
}

/// All of `content`; the reason where it cannot be, else 0.
int written(int fd, const std::string& content) {
  for (size_t done = 0; done < content.size();) {
    const ssize_t n = ::write(fd, content.data() + done, content.size() - done);
    if (n < 0 && errno == EINTR) continue;
    if (n <= 0) return n < 0 ? errno : EIO;
    done += size_t(n);
  }
  return 0;
}

/// Into a device or a pipe, which cannot be replaced.
void writeThrough(const fs::path& to, const std::string& content, const std::string& path) {
  const int fd = ::open(to.c_str(), O_WRONLY | O_CLOEXEC);
  if (fd < 0) failed("It cannot be written to", path, errno);
  const int trouble = written(fd, content);
  if (::close(fd) != 0 || trouble) failed("It cannot be written to", path, trouble ? trouble : errno);
}

/// A file that is removed again unless it is put in place.
struct Begun {
  fs::path name;
  int fd = -1;
  bool placed = false;
  ~Begun() {
    if (fd >= 0) ::close(fd);
    if (!placed && !name.empty()) ::unlink(name.c_str());
  }
};

}  // namespace

fs::path leadsTo(const std::string& path) {
  fs::path to = path;
  std::error_code none;
  for (int links = 0; fs::is_symlink(fs::symlink_status(to, none)); ++links) {
    if (links == 40) throw Error("the links of this name go round in a circle", path, "Mend the links, or give another name.");
    const fs::path next = fs::read_symlink(to, none);
    if (none) break;
    to = next.is_absolute() ? next : to.parent_path() / next;
  }
  return to;
}

fs::path nameBeside(const fs::path& path) {
  std::error_code none;
  for (;;) {
    std::uint64_t chance = 0;
    if (::getrandom(&chance, sizeof chance, 0) != sizeof chance) chance ^= std::uint64_t(::getpid());
    char digits[17];
    std::snprintf(digits, sizeof digits, "%016llx", static_cast<unsigned long long>(chance));
    const fs::path beside = path.parent_path() / (std::string(begun) + digits + unfinished);
    if (!fs::exists(fs::symlink_status(beside, none))) return beside;
  }
}

void sweepBegun(const fs::path& folder) {
  std::error_code none;
  for (const auto& f : fs::directory_iterator(folder.empty() ? "." : folder, none)) {
    const auto name = f.path().filename().string();
    struct stat s {};
    const bool ours = name.starts_with(begun) && name.ends_with(unfinished) && name.size() == 28 &&
                      ::lstat(f.path().c_str(), &s) == 0 && S_ISREG(s.st_mode) && s.st_uid == ::geteuid();
    if (ours && std::time(nullptr) - s.st_mtime > 3600 && !isLocked(f.path())) fs::remove(f.path(), none);
  }
}

void writeWhole(const std::string& path, const std::string& content) {
  const fs::path to = leadsTo(path);
  struct stat there {};
  const bool replaces = ::stat(to.c_str(), &there) == 0;
  if (replaces && S_ISDIR(there.st_mode)) throw Error("this is a folder", path, "Give the name of a file.");
  if (replaces && !S_ISREG(there.st_mode)) return writeThrough(to, content, path);
  if (replaces && ::access(to.c_str(), W_OK) != 0)
    throw Error("The file is write-protected", path, "Change its rights, or give another name.");
  Begun file;
  const fs::path name = nameBeside(to);
  file.fd = ::open(name.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, replaces ? 0600 : 0666);
  if (file.fd < 0) failed("The file cannot be created", path, errno);
  file.name = name;
  if (const int trouble = written(file.fd, content)) failed("The file cannot be written", path, trouble);
  if (replaces) {  // the owner first: a change of owner takes rights away
    if (::fchown(file.fd, there.st_uid, there.st_gid) != 0) there.st_mode &= 0777;
    if (::fchmod(file.fd, there.st_mode & 07777) != 0) failed("The file cannot keep its rights", path, errno);
  }
  if (::fsync(file.fd) != 0) failed("The file cannot be brought to disk", path, errno);
  if (::rename(name.c_str(), to.c_str()) != 0) failed("The file cannot be put in place", path, errno);
  file.placed = true;
  std::error_code none;
  const auto folder = fs::absolute(to, none).parent_path();
  if (const int dir = ::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC); dir >= 0) ::fsync(dir), ::close(dir);
}

std::string readWhole(const std::string& path) {
  std::ifstream in(path, std::ios::binary);
  if (!in || fs::is_directory(path))
    throw Error("The file cannot be opened: " + std::string(std::strerror(in ? EISDIR : errno)), path,
                "Check its name and folder.");
  std::ostringstream text;
  text << in.rdbuf();
  return text.str();
}

bool sameFile(const std::string& one, const std::string& other) {
  std::error_code none;
  if (fs::equivalent(one, other, none)) return true;
  const auto place = [&](const std::string& path) { return fs::weakly_canonical(leadsTo(path), none); };
  return !one.empty() && !other.empty() && place(one) == place(other);
}

void keepApart(const std::string& out, const std::string& in, const std::string& what) {
  if (!out.empty() && !in.empty() && sameFile(out, in))
    throw Error(what + " cannot be written over " + in + ": it is read here", out, "Give another name.");
}

}  // namespace anvil
