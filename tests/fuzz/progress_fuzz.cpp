// Feeds damaged lines to the reader of a run's progress, and damaged orders to the run: what it reads, it writes and reads again
// as the same event. Built with ANVIL_FUZZ (Clang's libFuzzer): progress-fuzz -max_total_time=600 CORPUS
#include <cstdint>
#include <string_view>

#include "core/job/progress.hpp"

using namespace anvil;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string_view bytes(reinterpret_cast<const char*>(data), size);
  for (size_t from = 0; from < bytes.size();) {
    const size_t to = std::min(bytes.find('\n', from), bytes.size());
    if (const auto read = job::progressOf(bytes.substr(from, to - from)))
      if (const auto again = job::progressOf(job::lineOf(*read)); !again || !(*again == *read)) __builtin_trap();
    from = to + 1;
  }
  job::Orders whole, pieces;
  int changes = 0;
  whole.hear(bytes, [&](job::Progress::Event) { ++changes; });
  for (size_t i = 0; i < bytes.size(); ++i) pieces.hear(bytes.substr(i, 1), [&](job::Progress::Event) { --changes; });
  if (changes != 0 || whole.paused() != pieces.paused() || whole.stopped() != pieces.stopped()) __builtin_trap();
  return 0;
}
