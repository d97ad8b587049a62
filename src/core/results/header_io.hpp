// The part of a results file that stands before the first increment. For use inside this folder.
#pragma once
#include "core/results/hdf.hpp"
#include "core/results/store.hpp"

namespace anvil::results {

inline constexpr const char* format = "unyielding-anvil results ";
inline constexpr int newestFormat = 4;  ///< 2 had no checksums, and texts as plain bytes; 3 stored every increment

inline std::string numbered(const std::string& base, size_t i) { return base + std::to_string(i); }

void writeHeader(hid_t file, const Header& header);

/// Reads it and checks that every number that stands for a place in a list is one. Throws Error.
Header readHeader(hid_t file);

/// How long a row of each set must be by the header; 0 where it does not tell.
size_t rowLength(const Header& header, const std::string& set);

}  // namespace anvil::results
