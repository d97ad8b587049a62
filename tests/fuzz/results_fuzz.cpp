// Feeds damaged results files to the reader: whatever comes, it reads or refuses with a sentence. Built with ANVIL_FUZZ (Clang's
// libFuzzer): results-fuzz -max_total_time=600 -max_len=400000 CORPUS, with a small *.h5 in CORPUS to begin with.
#include <sys/mman.h>
#include <unistd.h>
#include <cstdint>
#include <string>

#include "core/base/error.hpp"
#include "core/results/export.hpp"
#include "core/results/fields.hpp"
#include "core/results/store.hpp"

using namespace anvil;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const int fd = memfd_create("results", 0);
  if (fd < 0 || write(fd, data, size) != ssize_t(size)) return 0;
  try {
    const results::Reader r("/proc/self/fd/" + std::to_string(fd));
    (void)results::historiesCsv(r);
    for (size_t row = 0; row < std::min<size_t>(3, r.rows().size()); ++row) {
      for (const auto& f : results::fieldList(r.header())) (void)results::nodalField(r, f.name, row);
      (void)r.whole(row);
    }
  } catch (const Error& e) {
    if (e.wrong().empty()) __builtin_trap();  // a refusal without words
  }
  close(fd);
  return 0;
}
