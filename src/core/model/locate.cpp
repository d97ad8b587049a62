// Finds the line of a value in a model file, for error messages. Walks the text as JSON tokens; comments are skipped.
#include <algorithm>
#include <sstream>

#include "core/model/json.hpp"

namespace anvil::model {
namespace {

class Scanner {
public:
  explicit Scanner(const std::string& text) : text_(text) {}

  /// Offset of the value at `path`, or of the deepest enclosing value found.
  size_t find(const std::vector<std::string>& path) {
    size_t best = std::string::npos;
    size_t depth = 0;
    skip();
    while (depth < path.size() && enter(path[depth])) {
      ++depth;
      best = at_;
    }
    return best;
  }

private:
  bool enter(const std::string& key) {
    if (at_ >= text_.size()) return false;
    if (text_[at_] == '{') return enterObject(key);
    if (text_[at_] == '[') return enterArray(key);
    return false;
  }
  bool enterObject(const std::string& key) {
    ++at_;
    for (;;) {
      skip();
      if (at_ >= text_.size() || text_[at_] != '"') return false;
      const size_t keyAt = at_;
      const std::string name = string();
      skip();
      if (at_ >= text_.size() || text_[at_] != ':') return false;
      ++at_;
      skip();
      if (name == key) return keyAt < text_.size();
      value();
      skip();
      if (at_ < text_.size() && text_[at_] == ',') ++at_;
    }
  }
  bool enterArray(const std::string& key) {
    if (key.empty() || !std::all_of(key.begin(), key.end(), ::isdigit) || key.size() > 6) return false;
    ++at_;
    for (int n = std::stoi(key); n > 1; --n) {
      skip();
      value();
      skip();
      if (at_ >= text_.size() || text_[at_] != ',') return false;
      ++at_;
    }
    skip();
    return at_ < text_.size();
  }
  std::string string() {
    std::string s;
    for (++at_; at_ < text_.size() && text_[at_] != '"'; ++at_) {
      if (text_[at_] == '\\') ++at_;
      if (at_ < text_.size()) s += text_[at_];
    }
    if (at_ < text_.size()) ++at_;
    return s;
  }
  void value() {  // steps over one value
    int depth = 0;
    do {
      skip();
      if (at_ >= text_.size()) return;
      const char c = text_[at_];
      if (c == '"') {
        string();
        continue;
      }
      if (depth == 0 && (c == ',' || c == '}' || c == ']')) return;
      if (c == '{' || c == '[') ++depth;
      if (c == '}' || c == ']') --depth;
      ++at_;
      if (depth == 0 && c != '}' && c != ']' && at_ < text_.size() && !std::isspace(static_cast<unsigned char>(text_[at_])) &&
          text_[at_] != ',' && text_[at_] != '}' && text_[at_] != ']')
        depth = 0, at_ = text_.find_first_of(",}] \t\r\n/", at_);
      if (at_ == std::string::npos) at_ = text_.size();
    } while (depth > 0);
  }
  void skip() {
    while (at_ < text_.size()) {
      if (std::isspace(static_cast<unsigned char>(text_[at_])))
        ++at_;
      else if (text_.compare(at_, 2, "//") == 0)
        at_ = std::min(text_.find('\n', at_), text_.size());
      else if (text_.compare(at_, 2, "/*") == 0) {
        const auto end = text_.find("*/", at_ + 2);
        at_ = end == std::string::npos ? text_.size() : end + 2;
      } else
        break;
    }
  }

  const std::string& text_;
  size_t at_ = 0;
};

}  // namespace

int lineOf(const std::string& text, const std::string& path) {
  if (path.empty()) return 0;
  std::vector<std::string> keys;
  std::istringstream in(path);
  for (std::string key; std::getline(in, key, '/');) keys.push_back(key);
  const size_t at = Scanner(text).find(keys);
  return at == std::string::npos ? 0 : int(1 + std::count(text.begin(), text.begin() + std::ptrdiff_t(std::min(at, text.size())), '\n'));
}

std::string sentenceWithLine(const Error& error, const std::string& text) {
  const int line = lineOf(text, error.where());
  if (!line || error.where().find("(line") != std::string::npos) return error.what();
  return Error(error.wrong(), error.where() + " (line " + std::to_string(line) + ")", error.remedy()).what();
}

}  // namespace anvil::model
