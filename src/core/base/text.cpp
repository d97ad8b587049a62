#include "core/base/text.hpp"

#include <fmt/format.h>
#include <algorithm>
#include <cctype>
#include <charconv>
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

std::string nearest(const std::string& whole, const std::vector<std::string>& known) {
  const std::string word = whole.substr(0, 200);  // nobody means what is longer
  std::string best;
  size_t least = std::max<size_t>(2, word.size() / 2) + 1;
  for (const auto& candidate : known) {
    if (candidate == word || candidate.size() > 2 * word.size() + 4) continue;
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

std::string sizeInWords(double megabytes) {
  return megabytes < 1000 ? shortNumber(megabytes, 2) + " MB" : shortNumber(megabytes / 1024, 2) + " GB";
}

std::string shortNumber(double value, int digits) {
  std::string text = fmt::format("{:.{}g}", value, digits);
  // whole numbers up to millions are easier to read without a power of ten
  if (const double size = std::abs(value); size < 1e7 && text.find("e+") != std::string::npos) {
    std::from_chars(text.data(), text.data() + text.size(), value);
    text = fmt::format("{:.0f}", value);
  }
  return text;
}

/// Length of the UTF-8 character that begins at `at`, with its code point; 0 where it is none.
static size_t character(const std::string& text, size_t at, unsigned& code) {
  const auto byte = [&](size_t i) { return i < text.size() ? static_cast<unsigned char>(text[i]) : 0u; };
  const unsigned first = byte(at);
  const size_t length = first < 0x80 ? 1 : first >> 5 == 6 ? 2 : first >> 4 == 14 ? 3 : first >> 3 == 30 ? 4 : 0;
  if (length < 2) return code = first, length;
  code = first & (0x7fu >> length);
  for (size_t i = 1; i < length; ++i) {
    if (byte(at + i) >> 6 != 2) return 0;
    code = code << 6 | (byte(at + i) & 0x3f);
  }
  constexpr unsigned least[] = {0, 0, 0x80, 0x800, 0x10000};
  return code < least[length] || code > 0x10ffff || (code >= 0xd800 && code < 0xe000) ? 0 : length;
}

size_t brokenUtf8(const std::string& text) {
  unsigned code = 0;
  for (size_t at = 0, n; at < text.size(); at += n)
    if ((n = character(text, at, code)) == 0) return at;
  return std::string::npos;
}

static bool isControl(unsigned code) { return code < 0x20 || (code >= 0x7f && code < 0xa0) || code == 0x2028 || code == 0x2029; }

bool hasControls(const std::string& text) {
  unsigned code = 0;
  for (size_t at = 0, n; at < text.size(); at += n)
    if ((n = character(text, at, code)) == 0 || isControl(code)) return true;
  return false;
}

std::string brief(const std::string& written, size_t longest) {
  std::string told;
  unsigned code = 0;
  for (size_t at = 0, n; at < written.size(); at += n) {
    if (told.size() >= longest) return told + "…";
    n = character(written, at, code);
    told += n == 0 || isControl(code) ? "?" : written.substr(at, n);
    n = std::max<size_t>(n, 1);
  }
  return told;
}

std::string xmlText(const std::string& text) {
  std::string safe;
  for (char c : text) {
    const char* name = c == '&' ? "&amp;" : c == '<' ? "&lt;" : c == '>' ? "&gt;" : c == '"' ? "&quot;" : nullptr;
    name ? safe += name : safe += c;
  }
  return safe;
}

std::string csvCell(const std::string& text) {
  std::string cell = "\"";
  for (char c : text) cell += c == '"' ? "\"\"" : std::string(1, c);
  return cell + "\"";
}

}  // namespace anvil
