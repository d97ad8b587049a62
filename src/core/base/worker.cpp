#include "core/base/worker.hpp"

#include <fcntl.h>
#include <poll.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>
#include <cerrno>
#include <csignal>
#include <filesystem>

#include "core/base/error.hpp"
#include "core/base/files.hpp"

extern char** environ;

namespace anvil {
namespace {

namespace fs = std::filesystem;

std::string find(const std::string& program) {
  std::error_code none;
  const fs::path here = fs::read_symlink("/proc/self/exe", none).parent_path();
  for (const auto& folder : {here, here / "../mesher", here / "../src/mesher"})
    if (fs::exists(folder / program, none)) return (folder / program).lexically_normal().string();
  std::string path = std::getenv("PATH") ? std::getenv("PATH") : "";
  for (size_t from = 0; from < path.size();) {
    const size_t to = std::min(path.find(':', from), path.size());
    if (fs::exists(fs::path(path.substr(from, to - from)) / program, none)) return path.substr(from, to - from) + "/" + program;
    from = to + 1;
  }
  throw Error("the program " + program + " is not there", "installation",
              "It belongs beside " + (here / "anvil").string() + ": build or install again.");
}

}  // namespace

WorkerEnd runWorker(const std::string& program, const std::vector<std::string>& arguments,
                    const std::function<bool(const std::string&)>& heard) {
  std::string file = find(program);
  int ends[2];
  if (pipe2(ends, O_CLOEXEC) != 0) throw Error("no pipe to " + program + " can be made", "system", "Close some programs.");
  posix_spawn_file_actions_t actions;
  posix_spawn_file_actions_init(&actions);
  posix_spawn_file_actions_adddup2(&actions, ends[1], STDERR_FILENO);
  posix_spawn_file_actions_addopen(&actions, STDOUT_FILENO, "/dev/null", O_WRONLY, 0);
  std::vector<std::string> words{file};
  words.insert(words.end(), arguments.begin(), arguments.end());
  std::vector<char*> argv;
  for (auto& w : words) argv.push_back(w.data());
  argv.push_back(nullptr);
  pid_t child = 0;
  const int failed = posix_spawn(&child, file.c_str(), &actions, nullptr, argv.data(), environ);
  posix_spawn_file_actions_destroy(&actions);
  close(ends[1]);
  if (failed) {
    close(ends[0]);
    throw Error("the program " + file + " cannot be started", "installation", "Build or install again.");
  }
  WorkerEnd end;
  std::string line;
  for (bool open = true; open;) {
    pollfd p{ends[0], POLLIN, 0};
    const int n = poll(&p, 1, 200);
    bool go = true;
    if (n > 0) {
      char text[512];
      const auto got = read(ends[0], text, sizeof text);
      if (got <= 0) open = got < 0 && errno == EINTR;
      for (ssize_t i = 0; i < got; ++i) {
        if (text[i] != '\n') {
          line += text[i];
          continue;
        }
        end.lastWord = line;
        go = heard(line) && go;
        line.clear();
      }
    } else {
      go = heard("");
    }
    if (!go && !end.stopped) end.stopped = true, kill(child, SIGKILL);
  }
  close(ends[0]);
  int status = 0;
  while (waitpid(child, &status, 0) < 0 && errno == EINTR) {
  }
  if (WIFEXITED(status)) end.code = WEXITSTATUS(status);
  end.outOfTime = WIFSIGNALED(status) && WTERMSIG(status) == SIGXCPU;
  return end;
}

WorkerAnswer askWorker(const std::string& program, const JobFolder& folder, const std::vector<std::uint8_t>& job,
                       const std::function<bool(const std::string&)>& heard) {
  const std::string asked = (folder / "job").string(), answered = (folder / "result").string();
  writeWhole(asked, {job.begin(), job.end()});
  WorkerAnswer answer{runWorker(program, {asked, answered}, heard), {}};
  if (fs::exists(answered)) answer.result = readWhole(answered);
  return answer;
}

}  // namespace anvil
