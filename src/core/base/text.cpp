#include "core/base/text.hpp"

#include <fmt/format.h>
#include <algorithm>
#include <cctype>
#include <cmath>
#include <numeric>

namespace anvil {

static std::string lower(std::string s) {
  std::transform(s.begin(), s.end(), s.begin(), [](unsigned char c) { return std::tolower(c); });
  return s;
}

static size_t editDistance(const std::string& a, const std::string& b) {
  std::vector<size_t> row(b.size() + 1);
  std::iota(row.begin(), row.end(), 0);
  for (size_t i = 1; i <= a.size(); ++i) {
    size_t diagonal = row[0];
    row[0] = i;
    for (size_t j = 1; j <= b.size(); ++j) {
      const size_t above = row[j];
      row[j] = std::min({row[j] + 1, row[j - 1] + 1, diagonal + (a[i - 1] != b[j - 1])});
      diagonal = above;
    }
  }
  return row.back();
}

std::string nearest(const std::string& word, const std::vector<std::string>& known) {
  std::string best;
  size_t least = std::max<size_t>(2, word.size() / 2) + 1;
  for (const auto& candidate : known) {
    const size_t d = editDistance(lower(word), lower(candidate));
    if (d < least) least = d, best = candidate;
  }
  return best;
}

std::string inProse(const std::vector<std::string>& words) {
  std::string text;
  for (size_t i = 0; i < words.size(); ++i) {
    if (i) text += i + 1 == words.size() ? " and " : ", ";
    text += words[i];
  }
  return text;
}

std::string shortNumber(double value, int digits) {
  std::string text = fmt::format("{:.{}g}", value, digits);
  // whole numbers up to millions are easier to read without a power of ten
  if (const double size = std::abs(value); size < 1e7 && text.find("e+") != std::string::npos)
    text = fmt::format("{:.0f}", std::stod(text));
  return text;
}

}  // namespace anvil
