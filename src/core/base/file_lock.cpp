#include "core/base/file_lock.hpp"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>
#include <cerrno>
#include <utility>

namespace anvil {
namespace {

struct flock oneByte() {
  struct flock lock {};
  lock.l_type = F_WRLCK, lock.l_whence = SEEK_SET, lock.l_start = off_t(1) << 61, lock.l_len = 1;
  return lock;
}

}  // namespace

FileLock::FileLock(const std::filesystem::path& file) : fd_(::open(file.c_str(), O_RDWR | O_CLOEXEC | O_NONBLOCK)) {
  auto lock = oneByte();
  held_ = fd_ >= 0 && (::fcntl(fd_, F_OFD_SETLK, &lock) == 0 || (errno != EAGAIN && errno != EACCES));
}
FileLock::FileLock(FileLock&& other) noexcept : fd_(std::exchange(other.fd_, -1)), held_(std::exchange(other.held_, false)) {}
FileLock& FileLock::operator=(FileLock&& other) noexcept {
  std::swap(fd_, other.fd_), std::swap(held_, other.held_);
  return *this;
}
FileLock::~FileLock() {
  if (fd_ >= 0) ::close(fd_);
}

bool isLocked(const std::filesystem::path& file) {
  const int fd = ::open(file.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK);
  if (fd < 0) return false;
  auto lock = oneByte();
  const bool known = ::fcntl(fd, F_OFD_GETLK, &lock) == 0;
  ::close(fd);
  return known && lock.l_type != F_UNLCK;
}

FolderLock::FolderLock(const std::filesystem::path& folder)
    : fd_(::open(folder.empty() ? "." : folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC)) {
  if (fd_ >= 0)
    while (::flock(fd_, LOCK_EX) != 0 && errno == EINTR) {
    }
}
FolderLock::~FolderLock() {
  if (fd_ >= 0) ::close(fd_);
}

}  // namespace anvil
