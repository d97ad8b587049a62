#include "run/small_runs.hpp"

#include <algorithm>

#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/run/histories.hpp"

namespace anvil {

std::string with(std::string text, const std::string& from, const std::string& to) {
  const auto blank = [](char c) { return c == ' ' || c == '\n'; };
  for (size_t at = 0; at < text.size(); ++at) {
    size_t a = at, b = 0;  // side by side through both, over blanks
    while (b < from.size()) {
      while (b < from.size() && blank(from[b])) ++b;
      while (b > 0 && a < text.size() && blank(text[a])) ++a;
      if (b == from.size() || a == text.size() || text[a] != from[b]) break;
      ++a, ++b;
    }
    if (b == from.size()) return text.replace(at, a - at, to);
  }
  ADD_FAILURE() << "not in the text: " << from;
  return text;
}

std::unique_ptr<analysis::Problem> lowered(const std::string& text) { return analysis::lower(model::parse(text)); }

int RunLog::said(const std::string& words) const {
  return int(std::count_if(notes.begin(), notes.end(), [&](const std::string& n) { return n.find(words) != std::string::npos; }));
}

double historyOf(const analysis::Problem& p, const analysis::Increment& inc, const std::string& name) {
  const auto names = analysis::historyNames(p);
  const auto it = std::find(names.begin(), names.end(), name);
  EXPECT_NE(it, names.end()) << name;
  return it == names.end() ? 0 : inc.histories[size_t(it - names.begin())];
}

double history(const analysis::Problem& p, const Last& l, const std::string& name) { return historyOf(p, l.last, name); }

Solved solved(const std::string& text) {
  Solved s{lowered(text), {}};
  analysis::run(*s.p, s.course);
  return s;
}

}  // namespace anvil
