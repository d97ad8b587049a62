#include "core/base/files.hpp"

#include <fcntl.h>
#include <unistd.h>
#include <cerrno>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <sstream>

#include "core/base/error.hpp"

namespace anvil {

void writeWhole(const std::string& path, const std::string& content) {
  const std::string temporary = path + ".part";
  const auto fail = [&](const char* what, int fd) {
    const std::string reason = std::strerror(errno);
    if (fd >= 0) ::close(fd);
    ::unlink(temporary.c_str());
    throw Error(std::string(what) + ": " + reason, path, "Check that the folder can be written to and the disk has room.");
  };
  const int fd = ::open(temporary.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
  if (fd < 0) fail("The file cannot be created", fd);
  for (size_t done = 0; done < content.size();) {
    const ssize_t n = ::write(fd, content.data() + done, content.size() - done);
    if (n < 0 && errno == EINTR) continue;
    if (n <= 0) fail("The file cannot be written", fd);
    done += size_t(n);
  }
  if (::fsync(fd) != 0) fail("The file cannot be brought to disk", fd);
  ::close(fd);
  if (::rename(temporary.c_str(), path.c_str()) != 0) fail("The file cannot be put in place", -1);
  const auto folder = std::filesystem::absolute(path).parent_path();
  if (const int dir = ::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC); dir >= 0) ::fsync(dir), ::close(dir);
}

std::string readWhole(const std::string& path) {
  std::ifstream in(path, std::ios::binary);
  if (!in || std::filesystem::is_directory(path))
    throw Error("The file cannot be opened: " + std::string(std::strerror(in ? EISDIR : errno)), path,
                "Check its name and folder.");
  std::ostringstream text;
  text << in.rdbuf();
  return text.str();
}

}  // namespace anvil
