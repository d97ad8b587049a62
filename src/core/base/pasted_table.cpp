#include "core/base/pasted_table.hpp"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <optional>
#include <regex>
#include <sstream>

#include "core/base/error.hpp"

namespace anvil {
namespace {

std::string trimmed(std::string s) {
  while (!s.empty() && (std::isspace(static_cast<unsigned char>(s.front())) || s.front() == '"')) s.erase(0, 1);
  while (!s.empty() && (std::isspace(static_cast<unsigned char>(s.back())) || s.back() == '"')) s.pop_back();
  return s;
}

struct Line {
  size_t number;
  std::string text;
};

std::vector<Line> linesOf(const std::string& text) {
  std::vector<Line> lines;
  std::istringstream in(text.starts_with("\xEF\xBB\xBF") ? text.substr(3) : text);
  size_t number = 0;
  for (std::string line; std::getline(in, line);) {
    ++number;
    if (const auto t = trimmed(line); !t.empty() && t.front() != '#') {
      if (!line.empty() && line.back() == '\r') line.pop_back();
      lines.push_back({number, line});
    }
  }
  return lines;
}

std::vector<std::string> parted(const std::string& line, char by) {
  std::vector<std::string> cells;
  if (by == ' ') {
    std::istringstream in(line);
    for (std::string cell; in >> cell;) cells.push_back(trimmed(cell));
    return cells;
  }
  size_t from = 0;
  for (size_t i = 0; i <= line.size(); ++i)
    if (i == line.size() || line[i] == by) cells.push_back(trimmed(line.substr(from, i - from))), from = i + 1;
  return cells;
}

/// A number with a point or a comma; marks between thousands are taken out where they can be told.
std::optional<double> numberIn(std::string cell, bool comma) {
  if (comma) {
    std::erase(cell, '.');
    std::replace(cell.begin(), cell.end(), ',', '.');
  } else {
    static const std::regex thousands(R"([+-]?\d{1,3}(,\d{3})+(\.\d*)?)");
    if (std::regex_match(cell, thousands)) std::erase(cell, ',');
  }
  const char* from = cell.data() + (cell.starts_with('+') ? 1 : 0);
  double value = 0;
  const auto [end, trouble] = std::from_chars(from, cell.data() + cell.size(), value);
  if (trouble != std::errc() || end != cell.data() + cell.size() || !std::isfinite(value)) return {};
  return value;
}

bool has(const std::vector<Line>& lines, char c) {
  return std::any_of(lines.begin(), lines.end(), [&](const Line& l) {
    return l.text.find(c) != std::string::npos && std::any_of(l.text.begin(), l.text.end(), ::isdigit);
  });
}

/// What parts the columns, and whether a comma is the decimal mark.
std::pair<char, bool> marksOf(const std::vector<Line>& lines) {
  static const std::regex commaNumber(R"((^|[\s;"])[+-]?\d*,\d+([eE][+-]?\d+)?($|[\s;"]))");
  const auto anyComma = [&] {
    return std::any_of(lines.begin(), lines.end(), [&](const Line& l) { return std::regex_search(l.text, commaNumber); });
  };
  if (has(lines, '\t')) return {'\t', anyComma()};
  if (has(lines, ';')) return {';', anyComma()};
  if (!has(lines, ',')) return {' ', false};
  // "0,001 210,5" has commas in numbers; "0.001,210.5" and "0, 210" between them
  const bool spaced = std::any_of(lines.begin(), lines.end(), [](const Line& l) {
    static const std::regex two(R"(^\s*[+-]?\d*,\d+\s+[+-]?\d+(,\d+)?(\s.*)?$)");
    return std::regex_match(l.text, two);
  });
  return spaced ? std::pair{' ', true} : std::pair{',', false};
}

/// "Stress [MPa]", "Stress (MPa)", "Stress / MPa", "Stress in MPa": the quantity, then its unit.
void name(PastedColumn& column, const std::string& head) {
  static const std::regex bracketed(R"(^(.*?)\s*[\[\(]\s*([^\]\)]*?)\s*[\]\)]\s*$)"),
      spoken(R"(^(.*\S)\s*(?:\s/\s|\sin\s|,\s*)(\S+)$)"), percent(R"(^(.*\S)\s*(%)$)");
  std::smatch m;
  if (std::regex_match(head, m, bracketed) || std::regex_match(head, m, spoken) || std::regex_match(head, m, percent))
    column.name = m[1], column.unit = m[2];
  else
    column.name = head;
  if (column.unit == "-" || column.unit == "1") column.unit.clear();
}

}  // namespace

PastedTable readPasted(const std::string& text) {
  const auto lines = linesOf(text);
  const auto [by, comma] = marksOf(lines);
  PastedTable table;
  table.decimalComma = comma;
  std::vector<std::vector<std::string>> heads;
  std::vector<std::vector<std::optional<double>>> rows;
  std::vector<size_t> numbers;
  for (const auto& line : lines) {
    auto cells = parted(line.text, by);
    while (!cells.empty() && cells.back().empty()) cells.pop_back();
    if (cells.empty()) continue;
    std::vector<std::optional<double>> values;
    for (const auto& c : cells) values.push_back(numberIn(c, comma));
    const auto count = std::count_if(values.begin(), values.end(), [](const auto& v) { return v.has_value(); });
    if (rows.empty() && count == 0) {
      heads.push_back(by == ' ' ? parted(line.text, has(lines, '\t') ? '\t' : ' ') : cells);
      continue;
    }
    for (size_t k = 0; k < cells.size(); ++k)
      if (!values[k] && !cells[k].empty())
        throw Error("line " + std::to_string(line.number) + " has '" + cells[k] + "' where a number is expected", {},
                    "Numbers are parted by tabs, semicolons, commas or spaces; a header stands above all of them.");
    rows.push_back(values), numbers.push_back(line.number);
  }
  if (rows.empty()) throw Error("there is no number in the text", {}, "Copy the columns of a sheet, or choose a CSV file.");
  size_t width = 0;
  for (const auto& r : rows) width = std::max(width, r.size());
  for (size_t k = 0; k < width; ++k) {
    const auto given = [&](const auto& r) { return k < r.size() && r[k].has_value(); };
    if (std::none_of(rows.begin(), rows.end(), given)) continue;
    PastedColumn column;
    for (size_t i = 0; i < rows.size(); ++i) {
      if (!given(rows[i]))
        throw Error("line " + std::to_string(numbers[i]) + " has no number in column " + std::to_string(k + 1), {},
                    "Give every row as many numbers as the others have.");
      column.values.push_back(*rows[i][k]);
    }
    if (!heads.empty()) {  // the last line of the header, or names in one and units in the next
      const auto& last = heads.back();
      const auto& first = heads.size() > 1 ? heads[heads.size() - 2] : last;
      if (k < last.size()) name(column, last[k]);
      if (heads.size() > 1 && first.size() == last.size() && k < first.size()) {
        std::string unit = last[k];
        std::erase_if(unit, [](char c) { return c == '[' || c == ']' || c == '(' || c == ')'; });
        if (column.unit.empty() || column.name.empty()) name(column, first[k]), column.unit = unit == "-" ? "" : unit;
      }
    }
    table.columns.push_back(std::move(column));
  }
  return table;
}

}  // namespace anvil
