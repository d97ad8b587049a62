// Tables as they come from spreadsheets and test machines: columns parted by tabs, semicolons, commas or spaces, with a decimal
// point or comma, and headers that name quantities and units.
#pragma once
#include <string>
#include <vector>

namespace anvil {

struct PastedColumn {
  std::string name, unit;  ///< as the header has them; empty without one
  std::vector<double> values;
};

struct PastedTable {
  std::vector<PastedColumn> columns;
  bool decimalComma = false;
  size_t rows() const { return columns.empty() ? 0 : columns.front().values.size(); }
};

/// Reads a table of numbers. Lines that are empty or begin with # are left out, columns that are empty throughout too. Throws
/// Error with the line where something else than a number stands among numbers.
PastedTable readPasted(const std::string& text);

}  // namespace anvil
