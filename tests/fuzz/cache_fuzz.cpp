// Feeds damaged files of the cache: what is kept is given back as it was put there, or not at all; and estimates learn nothing
// from what is no list of runs. Built with ANVIL_FUZZ (Clang's libFuzzer): cache-fuzz -max_total_time=600 CORPUS
#include <stdlib.h>
#include <cstdint>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <string>

#include "core/base/cache.hpp"
#include "core/checks/pace.hpp"

using namespace anvil;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  static const std::filesystem::path folder = [] {
    char name[] = "/tmp/anvil-cache-fuzz-XXXXXX";
    const std::filesystem::path made = mkdtemp(name);
    setenv("XDG_CACHE_HOME", made.c_str(), 1);
    return made;
  }();
  const std::string bytes(reinterpret_cast<const char*>(data), size);
  for (const auto& file : {cacheFolder("things") / "a.kept", cacheFolder("runs") / "finished.json"}) {
    makePrivate(file.parent_path());
    std::ofstream(file, std::ios::binary) << bytes;
  }
  if (const auto found = kept("things", "a"); found && digestOf(*found) + *found != bytes) __builtin_trap();
  (void)checks::finishedRuns();
  keep("things", "b", bytes, 10);
  if (kept("things", "b") != bytes) __builtin_trap();
  return 0;
}
