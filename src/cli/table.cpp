#include "cli/table.hpp"

#include <fmt/format.h>
#include <algorithm>
#include <iostream>
#include <nlohmann/json.hpp>

#include "core/base/files.hpp"
#include "core/base/text.hpp"

namespace anvil::cli {

static std::string asJson(const Table& t) {
  nlohmann::ordered_json j;
  j["columns"] = t.columns, j["rows"] = t.rows;
  if (const auto& s = t.statistics) {
    j["statistics"] = {{"count", s->count}, {"min", s->least}, {"max", s->greatest}, {"mean", s->mean}, {"sum", s->sum}};
    if (t.weighted) j["statistics"]["area-weighted mean"] = s->weightedMean, j["statistics"]["area"] = s->area;
  }
  if (!t.note.empty()) j["note"] = t.note;
  if (!t.marked.empty() && !t.note.empty()) j["marked"] = t.marked;
  return j.dump(1) + "\n";
}

std::string asText(const Table& t, const std::string& format) {
  if (format == "json") return asJson(t);
  const bool csv = format == "csv";
  std::string text;
  const auto width = [&](size_t i) { return std::max<size_t>(16, t.columns[i].size()); };
  for (size_t i = 0; i < t.columns.size(); ++i)
    text += csv ? (i ? "," : "") + csvCell(t.columns[i]) : fmt::format("{:>{}} ", t.columns[i], width(i));
  text += "\n";
  for (size_t k = 0; k < t.rows.size(); ++k) {
    const auto& row = t.rows[k];
    for (size_t i = 0; i < row.size(); ++i)
      text += csv ? fmt::format("{}{:.12g}", i ? "," : "", row[i]) : fmt::format("{:>{}.7g} ", row[i], width(i));
    text += !csv && k < t.marked.size() && t.marked[k] ? "*\n" : "\n";
  }
  if (const auto& s = t.statistics; s && !csv) {
    text += fmt::format("count {}  min {:.7g}  max {:.7g}  mean {:.7g}  sum {:.7g}", s->count, s->least, s->greatest, s->mean,
                        s->sum);
    if (t.weighted) text += fmt::format("  area-weighted mean {:.7g}  area {:.7g}", s->weightedMean, s->area);
    text += "\n";
  }
  if (!csv && !t.note.empty()) text += t.note + "\n";
  return text;
}

void addOutput(CLI::App& verb, std::string& format, std::string& out) {
  verb.add_option("--format", format, "text, csv or json")->check(CLI::IsMember({"text", "csv", "json"}));
  verb.add_option("--out", out, "Write to a file");
}

void deliver(const std::string& text, const std::string& out, const std::string& from) {
  keepApart(out, from, "the table");
  if (out.empty())
    std::cout << text;
  else
    writeWhole(out, text);
}

}  // namespace anvil::cli
