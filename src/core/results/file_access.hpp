// How the library opens results files, and what their tables are wide. For use inside this folder.
#pragma once
#include <string>

#include "core/results/hdf.hpp"

namespace anvil::results {

inline constexpr size_t residualWidth = 40;  ///< numbers per increment in "residuals"
inline constexpr size_t aboutWidth = 7;      ///< and in "increments"
/// What stands in the last column of "increments" where an increment is not stored; -1 and -2: among the latest.
inline constexpr int notStored = -3;

void quiet();
hdf::Id fileAccess();
hid_t pages();
/// An open file, or below zero.
hid_t openToRead(const std::string& path);

}  // namespace anvil::results
