// Feeds damaged results files to the reader: whatever comes, it reads or refuses with a sentence. Built with ANVIL_FUZZ (Clang's
// libFuzzer): results-fuzz -max_total_time=600 -max_len=400000 CORPUS, with a small *.h5 in CORPUS to begin with.
#include <stdlib.h>
#include <cstdint>
#include <filesystem>
#include <fstream>
#include <string>

#include "core/base/error.hpp"
#include "core/results/export.hpp"
#include "core/results/fields.hpp"
#include "core/results/slender_fields.hpp"
#include "core/results/store.hpp"

using namespace anvil;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  static const std::filesystem::path file = [] {  // in memory where it can be; a file without a name the library does not open
    std::string folder = std::filesystem::is_directory("/dev/shm") ? "/dev/shm" : "/tmp";
    folder += "/anvil-results-fuzz-XXXXXX";
    return std::filesystem::path(mkdtemp(folder.data())) / "results.h5";
  }();
  std::ofstream(file, std::ios::binary).write(reinterpret_cast<const char*>(data), std::streamsize(size));
  try {
    const results::Reader r(file);
    (void)results::historiesCsv(r);
    for (size_t row = 0; row < std::min<size_t>(3, r.rows().size()); ++row) {
      for (const auto& f : results::fieldList(r.header())) {
        const auto nodal = results::nodalField(r, f.name, row);
        if (results::isSlenderField(f.name)) (void)results::slenderEnds(r, f.name, row, nodal);
      }
      (void)r.whole(row);
    }
  } catch (const Error& e) {
    if (e.wrong().empty()) __builtin_trap();  // a refusal without words
  }
  return 0;
}
