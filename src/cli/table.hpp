// Tables that a verb prints: as text to read, CSV or JSON.
#pragma once
#include <CLI/CLI.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/results/fields.hpp"

namespace anvil::cli {

struct Table {
  std::vector<std::string> columns;
  std::vector<std::vector<double>> rows;
  std::optional<results::Statistics> statistics;
  bool weighted = false;
  std::vector<bool> marked;  ///< rows that get a star where it is text; empty: none
  std::string note;          ///< under the table where it is text
};

/// The table as "text", "csv" or "json".
std::string asText(const Table& table, const std::string& format);

/// Options --format and --out of a verb that delivers a table.
void addOutput(CLI::App& verb, std::string& format, std::string& out);

/// Prints text, or writes it whole to a file when one is named.
void deliver(const std::string& text, const std::string& out, const std::string& from);

}  // namespace anvil::cli
