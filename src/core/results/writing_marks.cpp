#include "core/results/writing_marks.hpp"

#include <unistd.h>
#include <array>
#include <bit>
#include <cstdint>
#include <cstring>

namespace anvil::results {
namespace {

/// Checksum of HDF5's metadata: B. Jenkins, lookup3 (2006), as `hashlittle` with nothing before it.
std::uint32_t lookup3(const unsigned char* bytes, size_t count) {
  std::uint32_t a = 0xdeadbeef + std::uint32_t(count), b = a, c = a;
  const auto word = [&](size_t from) {
    std::uint32_t w = 0;
    for (size_t i = 0; i < 4 && from + i < count; ++i) w |= std::uint32_t(bytes[from + i]) << (8 * i);
    return w;
  };
  size_t at = 0;
  for (; count - at > 12; at += 12) {
    a += word(at), b += word(at + 4), c += word(at + 8);
    a -= c, a ^= std::rotl(c, 4), c += b;
    b -= a, b ^= std::rotl(a, 6), a += c;
    c -= b, c ^= std::rotl(b, 8), b += a;
    a -= c, a ^= std::rotl(c, 16), c += b;
    b -= a, b ^= std::rotl(a, 19), a += c;
    c -= b, c ^= std::rotl(b, 4), b += a;
  }
  if (at == count) return c;
  a += word(at), b += word(at + 4), c += word(at + 8);
  c ^= b, c -= std::rotl(b, 14);
  a ^= c, a -= std::rotl(c, 11);
  b ^= a, b -= std::rotl(a, 25);
  c ^= b, c -= std::rotl(b, 16);
  a ^= c, a -= std::rotl(c, 4);
  b ^= a, b -= std::rotl(a, 14);
  c ^= b, c -= std::rotl(b, 24);
  return c;
}

}  // namespace

void dropWritingMarks(int fd) {
  constexpr size_t version = 8, lengths = 9, marks = 11, checksum = 44, size = 48;
  std::array<unsigned char, size> block{};
  const auto stored = [&] {
    std::uint32_t sum = 0;
    for (size_t i = 0; i < 4; ++i) sum |= std::uint32_t(block[checksum + i]) << (8 * i);
    return sum;
  };
  if (::pread(fd, block.data(), size, 0) == ssize_t(size) && std::memcmp(block.data(), "\x89HDF\r\n\x1a\n", 8) == 0 &&
      block[version] == 3 && block[lengths] == 8 && block[lengths + 1] == 8 && block[marks] != 0 &&
      stored() == lookup3(block.data(), checksum)) {
    block[marks] = 0;
    const auto sum = lookup3(block.data(), checksum);
    for (size_t i = 0; i < 4; ++i) block[checksum + i] = static_cast<unsigned char>(sum >> (8 * i));
    if (::pwrite(fd, block.data(), size, 0) < 0) {  // then the marks stay; our own reader does not mind them
    }
  }
}

}  // namespace anvil::results
