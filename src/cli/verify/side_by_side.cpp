#include "cli/verify/side_by_side.hpp"

#include <sys/prctl.h>
#include <sys/wait.h>
#include <unistd.h>
#include <cerrno>
#include <csignal>
#include <cstdio>
#include <exception>
#include <map>

#include "core/base/error.hpp"

namespace anvil::cli {

void sideBySide(size_t count, int jobs, const std::function<void(size_t)>& task, const std::function<void(size_t, int)>& done) {
  std::map<pid_t, size_t> running;
  const auto wait = [&] {
    int status = 0;
    const pid_t ended = ::wait(&status);
    if (ended < 0 && errno == ECHILD) throw Error("what became of the tasks' processes is not told", "--jobs", "Use --jobs 1.");
    const auto it = running.find(ended);
    if (it == running.end()) return;
    const size_t which = it->second;
    running.erase(it);
    done(which, WIFSIGNALED(status) ? WTERMSIG(status) : 0);
  };
  for (size_t next = 0; next < count; ++next) {
    while (int(running.size()) >= jobs) wait();
    std::fflush(nullptr);  // else what is still to be printed is printed twice
    const pid_t child = ::fork();
    if (child < 0)
      throw Error("no process could be begun for another task", "--jobs", "Let fewer run at a time, or close other programs.");
    if (child == 0) {
      ::prctl(PR_SET_PDEATHSIG, SIGTERM);  // whoever stops the whole stops this
      int code = 0;
      try {
        task(next);
      } catch (const std::exception& e) {
        std::fprintf(stderr, "%s\n", e.what()), code = 1;
      }
      std::fflush(nullptr);
      ::_exit(code);
    }
    running.emplace(child, next);
  }
  while (!running.empty()) wait();
}

}  // namespace anvil::cli
