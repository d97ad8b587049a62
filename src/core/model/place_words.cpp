#include "core/model/place_words.hpp"

#include <algorithm>
#include <cctype>
#include <map>
#include <vector>

#include "core/base/error.hpp"

namespace anvil::model {

std::string kindInWords(const std::string& kind) {
  static const std::map<std::string, std::string> kinds{{"parts", "part"},          {"materials", "material"},
                                                        {"contacts", "contact"},    {"steps", "step"},
                                                        {"supports", "support"},    {"motions", "motion"},
                                                        {"loads", "load"},          {"carriers", "carrier"},
                                                        {"springs", "spring"},      {"bolts", "bolt"},
                                                        {"regions", "region"},      {"temperatures", "temperature"},
                                                        {"watch", "watched point"}, {"stabilisations", "stabilisation"},
                                                        {"parameters", "parameter"}};
  const auto known = kinds.find(kind);
  return known == kinds.end() ? std::string() : known->second;
}

std::string placeInWords(const std::string& path) {
  std::string own = path;
  if (const auto line = own.rfind(" (line "); line != std::string::npos && own.ends_with(")")) own.resize(line);
  std::vector<std::string> keys;
  for (size_t from = 0; from <= own.size();) {
    const auto to = std::min(own.find('/', from), own.size());
    keys.push_back(own.substr(from, to - from));
    from = to + 1;
  }
  size_t next = 0;
  std::string words;
  if (const auto kind = kindInWords(keys.front()); !kind.empty() && keys.size() > 1)
    words = kind + " '" + keys[1] + "'", next = 2;
  for (; next < keys.size(); ++next) {
    const auto& key = keys[next];
    const bool number = !key.empty() && std::all_of(key.begin(), key.end(), [](unsigned char c) { return std::isdigit(c); });
    words += (words.empty() ? "" : number ? " " : ", ") + key;
  }
  return words;
}

std::string inWords(const Error& e) {
  std::string text = e.where().empty() ? e.wrong() : placeInWords(e.where()) + ": " + e.wrong();
  if (!text.empty()) text[0] = char(std::toupper(static_cast<unsigned char>(text[0])));
  if (!text.empty() && text.back() != '.' && text.back() != '?') text += '.';
  return e.remedy().empty() ? text : text + ' ' + e.remedy();
}

}  // namespace anvil::model
