#include "core/results/packing.hpp"

#include <libdeflate.h>
#include <memory>
#include <new>

namespace anvil::results {
namespace {

constexpr int quickly = 1;  // of libdeflate's levels; higher ones save some percent and take twice as long

libdeflate_compressor* compressor() {
  struct Free {
    void operator()(libdeflate_compressor* c) const { libdeflate_free_compressor(c); }
  };
  static thread_local const std::unique_ptr<libdeflate_compressor, Free> own(libdeflate_alloc_compressor(quickly));
  if (!own) throw std::bad_alloc();
  return own.get();
}

/// First bytes of all numbers, then second ones, and so on.
std::vector<std::uint8_t> shuffled(const std::uint8_t* numbers, size_t count, size_t each) {
  std::vector<std::uint8_t> sorted(count * each);
  for (size_t b = 0; b < each; ++b) {
    std::uint8_t* to = sorted.data() + b * count;
    for (size_t i = 0; i < count; ++i) to[i] = numbers[i * each + b];
  }
  return sorted;
}

}  // namespace

std::uint32_t fletcher32(const std::uint8_t* bytes, size_t count) {
  std::uint32_t one = 0, two = 0;
  const auto reduce = [](std::uint32_t v) { return (v & 0xffff) + (v >> 16); };
  constexpr size_t safe = 360;  // words before the sums could overflow
  for (size_t words = count / 2; words > 0;) {
    size_t some = words < safe ? words : safe;
    for (words -= some; some > 0; --some, bytes += 2) one += std::uint32_t(bytes[0]) << 8 | bytes[1], two += one;
    one = reduce(one), two = reduce(two);
  }
  if (count % 2) one = reduce(one + (std::uint32_t(bytes[0]) << 8)), two = reduce(two + one);
  one = reduce(one), two = reduce(two);
  return two << 16 | one;
}

std::vector<std::uint8_t> packed(const void* numbers, size_t count, size_t each) {
  const auto sorted = shuffled(static_cast<const std::uint8_t*>(numbers), count, each);
  constexpr size_t checksum = 4;
  std::vector<std::uint8_t> out(libdeflate_zlib_compress_bound(compressor(), sorted.size()) + checksum);
  const size_t size = libdeflate_zlib_compress(compressor(), sorted.data(), sorted.size(), out.data(), out.size() - checksum);
  const auto sum = fletcher32(out.data(), size);
  for (size_t k = 0; k < checksum; ++k) out[size + k] = std::uint8_t(sum >> (8 * k));
  out.resize(size + checksum);
  return out;
}

}  // namespace anvil::results
