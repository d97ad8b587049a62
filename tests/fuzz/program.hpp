// Runs the program under test with a time limit, as scripts and people do.
#pragma once
#include <fcntl.h>
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>
#include <chrono>
#include <fstream>
#include <iterator>
#include <string>
#include <thread>
#include <vector>

namespace anvil::fuzz {

struct End {
  int code = -1;   ///< exit code; -1 when it died
  int signal = 0;  ///< of which it died
  bool hung = false;
  double seconds = 0;
  std::string said;  ///< both outputs
};

inline std::string bytesOf(const std::string& file) {
  std::ifstream in(file, std::ios::binary);
  return {std::istreambuf_iterator<char>(in), {}};
}

inline pid_t start(const std::vector<std::string>& words, const std::string& log) {
  const pid_t child = fork();
  if (child != 0) return child;
  const int out = open(log.c_str(), O_WRONLY | O_CREAT | O_TRUNC, 0600), in = open("/dev/null", O_RDONLY);
  dup2(out, 1), dup2(out, 2), dup2(in, 0);
  std::vector<char*> argv;
  for (const auto& w : words) argv.push_back(const_cast<char*>(w.c_str()));
  argv.push_back(nullptr);
  execv(argv[0], argv.data());
  _exit(127);
}

/// Waits for a child to its end; kills it after `most` seconds.
inline End finish(pid_t child, const std::string& log, double most) {
  using Clock = std::chrono::steady_clock;
  const auto begin = Clock::now();
  End end;
  int status = 0;
  while (waitpid(child, &status, WNOHANG) == 0) {
    end.seconds = std::chrono::duration<double>(Clock::now() - begin).count();
    if (end.seconds > most && !end.hung) end.hung = true, kill(child, SIGKILL);
    std::this_thread::sleep_for(std::chrono::milliseconds(5));
  }
  if (WIFEXITED(status)) end.code = WEXITSTATUS(status);
  if (WIFSIGNALED(status)) end.signal = WTERMSIG(status);
  end.said = bytesOf(log);
  return end;
}

inline End run(const std::vector<std::string>& words, const std::string& log, double most) {
  return finish(start(words, log), log, most);
}

}  // namespace anvil::fuzz
