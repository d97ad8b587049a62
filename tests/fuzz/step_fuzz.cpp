// Feeds damaged STEP files to the reader, which asks a process of its own: whatever comes, there are solids or a sentence, in
// time. Built with ANVIL_FUZZ (Clang's libFuzzer): step-fuzz -max_total_time=600 -timeout=150 -detect_leaks=0 CORPUS, with a
// small
// *.step in CORPUS. The CAD kernel forgets some of what it reads.
#include <stdlib.h>
#include <cstdint>
#include <filesystem>
#include <fstream>

#include "core/base/error.hpp"
#include "core/geometry/step_file.hpp"

using namespace anvil;
namespace fs = std::filesystem;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  static const fs::path folder = [] {
    char name[] = "/tmp/anvil-step-fuzz-XXXXXX";
    const fs::path made = mkdtemp(name);
    setenv("XDG_CACHE_HOME", made.c_str(), 1), setenv("TMPDIR", made.c_str(), 1);
    return made;
  }();
  static int count = 0;
  const std::string name = std::to_string(++count) + ".step";  // what was read last is kept by name
  std::ofstream(folder / name, std::ios::binary).write(reinterpret_cast<const char*>(data), std::streamsize(size));
  try {
    for (const auto& s : geometry::readStep(name, folder.string(), "parts/a"))
      if (s.shape.IsNull()) __builtin_trap();
  } catch (const Error& e) {
    if (e.wrong().empty()) __builtin_trap();  // a refusal without words
  }
  fs::remove(folder / name);
  for (const auto& left : fs::directory_iterator(folder))
    if (left.path().filename().string().starts_with("anvil-job-")) __builtin_trap();
  return 0;
}
