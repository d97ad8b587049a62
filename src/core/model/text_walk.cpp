#include "core/model/text_walk.hpp"

#include <algorithm>
#include <cctype>

namespace anvil::model {
namespace {

class Walker {
 public:
  explicit Walker(const std::string& text) : text_(text) {}

  TextMap walk() {
    skip();
    value("", at_, 0);
    skip();
    return std::move(map_);
  }

 private:
  static constexpr int deepest = 200;

  bool ended() const { return at_ >= text_.size(); }
  char here() const { return ended() ? '\0' : text_[at_]; }

  void skip() {
    while (!ended()) {
      if (std::isspace(static_cast<unsigned char>(here()))) {
        ++at_;
      } else if (text_.compare(at_, 2, "//") == 0) {
        const size_t end = std::min(text_.find_first_of("\r\n", at_), text_.size());  // as JSON reading ends them
        map_.comments.push_back({at_, end});
        at_ = end;
      } else if (text_.compare(at_, 2, "/*") == 0) {
        const auto close = text_.find("*/", at_ + 2);
        const size_t end = close == std::string::npos ? text_.size() : close + 2;
        map_.comments.push_back({at_, end});
        at_ = end;
      } else {
        break;
      }
    }
  }

  std::string string() {
    std::string s;
    for (++at_; !ended() && here() != '"'; ++at_) {
      if (here() == '\\') ++at_;
      if (!ended()) s += here();
    }
    if (!ended()) ++at_;
    return s;
  }

  /// False when there is none.
  bool value(const std::string& path, size_t start, int depth) {
    if (ended() || depth > deepest) return false;
    const size_t index = map_.items.size();
    map_.items.push_back({path, start, at_, at_});
    const char c = here();
    bool good = true;
    if (c == '{' || c == '[')
      good = inside(path, c == '{', depth);
    else if (c == '"')
      string();
    else
      good = plain();
    map_.items[index].end = at_;
    return good;
  }

  bool plain() {  // a number or a word
    const size_t from = at_;
    while (!ended() && !std::isspace(static_cast<unsigned char>(here())) &&
           std::string(",]}/:{[\"").find(here()) == std::string::npos)
      ++at_;
    return at_ > from;
  }

  bool inside(const std::string& path, bool object, int depth) {
    const std::string before = path.empty() ? "" : path + "/";
    ++at_;
    for (int n = 1;; ++n) {
      skip();
      if (here() == (object ? '}' : ']')) {
        ++at_;
        return true;
      }
      const size_t start = at_;
      std::string key = std::to_string(n);
      if (object) {
        if (here() != '"') return false;
        key = string();
        skip();
        if (here() != ':') return false;
        ++at_;
        skip();
      }
      if (!value(before + key, start, depth + 1)) return false;
      skip();
      if (here() == ',')
        ++at_;
      else if (here() != (object ? '}' : ']'))
        return false;
    }
  }

  const std::string& text_;
  size_t at_ = 0;
  TextMap map_;
};

}  // namespace

TextMap walkText(const std::string& text) { return Walker(text).walk(); }

}  // namespace anvil::model
