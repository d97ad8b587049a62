// Rows of numbers packed as the storage library's own filters would (bytes sorted by their place in the numbers, deflate, a
// checksum), so that any reader unpacks them; but faster, and outside of it, where threads may help.
#pragma once
#include <cstddef>
#include <cstdint>
#include <vector>

namespace anvil::results {

/// `count` numbers of `each` bytes, as they lie in a file behind the filters shuffle, deflate and fletcher32, in this order.
std::vector<std::uint8_t> packed(const void* numbers, size_t count, size_t each);

/// The checksum of the filter fletcher32 (J. G. Fletcher, IEEE Trans. Commun. 30, 1982), over words of 16 bits, high byte first.
std::uint32_t fletcher32(const std::uint8_t* bytes, size_t count);

}  // namespace anvil::results
