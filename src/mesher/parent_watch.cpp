#include "mesher/parent_watch.hpp"

#include <sys/resource.h>
#include <unistd.h>
#include <chrono>
#include <cstdlib>
#include <thread>

namespace anvil::mesher {

void endWithParent(const std::filesystem::path& jobFolder) {
  std::thread([jobFolder, parent = ::getppid()] {
    while (::getppid() == parent) std::this_thread::sleep_for(std::chrono::milliseconds(300));
    std::error_code none;
    std::filesystem::remove_all(jobFolder, none);
    std::_Exit(3);
  }).detach();
}

void limit(int seconds, size_t megabytes) {
  if (seconds > 0) {
    const rlimit time{rlim_t(seconds), rlim_t(seconds) + 5};  // the first ends it with a signal that says why
    ::setrlimit(RLIMIT_CPU, &time);
  }
  if (megabytes > 0) {
    const rlimit memory{rlim_t(megabytes) << 20, rlim_t(megabytes) << 20};
    ::setrlimit(RLIMIT_AS, &memory);
  }
}

}  // namespace anvil::mesher
