// Finds the line of a value in a model file, for error messages.
#include <algorithm>

#include "core/model/json.hpp"
#include "core/model/text_walk.hpp"

namespace anvil::model {

int lineOf(const std::string& text, const std::string& path) {
  if (path.empty()) return 0;
  const auto map = walkText(text);
  const TextItem* best = nullptr;  // the value itself, or the deepest one around it
  for (const auto& item : map.items) {
    const bool around = path == item.path || (path.starts_with(item.path) && path[item.path.size()] == '/');
    if (!item.path.empty() && around && (!best || item.path.size() >= best->path.size())) best = &item;
  }
  return best ? int(1 + std::count(text.begin(), text.begin() + std::ptrdiff_t(best->value), '\n')) : 0;
}

std::string sentenceWithLine(const Error& error, const std::string& text) {
  const int line = lineOf(text, error.where());
  if (!line || error.where().find("(line") != std::string::npos) return error.what();
  return Error(error.wrong(), error.where() + " (line " + std::to_string(line) + ")", error.remedy()).what();
}

}  // namespace anvil::model
