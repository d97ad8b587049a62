// Export to open formats: VTU files with a PVD series, and CSV tables.
#pragma once
#include <string>
#include <vector>

#include "core/results/store.hpp"

namespace anvil::results {

/// Writes increments (all when `rows` is empty) as base_0001.vtu … and base.pvd. Returns the paths.
std::vector<std::string> exportVtu(const Reader& reader, const std::string& base, std::vector<size_t> rows = {});

/// All histories as CSV: time and one column per quantity.
std::string historiesCsv(const Reader& reader);

}  // namespace anvil::results
