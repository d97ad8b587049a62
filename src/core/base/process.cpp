#include "core/base/process.hpp"

#include <fcntl.h>
#include <clocale>
#include <csignal>

namespace anvil {

void secureProcess() {
  for (int fd = 0; fd <= 2; ++fd)
    if (::fcntl(fd, F_GETFD) < 0) ::open("/dev/null", fd == 0 ? O_RDONLY : O_WRONLY);  // takes the least that is free: this one
  std::signal(SIGXFSZ, SIG_IGN);
  std::setlocale(LC_NUMERIC, "C");
}

}  // namespace anvil
