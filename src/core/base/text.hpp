// Small helpers on words: the nearest known name to a mistyped one, lists in prose.
#pragma once
#include <string>
#include <vector>

namespace anvil {

/// The entry of `known` with the smallest edit distance to `word` (Levenshtein), other than the word itself; empty when none is
/// near.
std::string nearest(const std::string& word, const std::vector<std::string>& known);

/// `a, b and c`.
std::string inProse(const std::vector<std::string>& words);

/// A number with at most `digits` significant digits, without trailing zeros: 12.5, 0.003, 2.1e+05.
std::string shortNumber(double value, int digits = 5);

/// A size of memory or of files in words: "340 MB", "1.2 GB".
std::string sizeInWords(double megabytes);

/// What a person wrote, to be told back to them: cut where it is long, without characters that move the cursor.
std::string brief(const std::string& written, size_t longest = 60);

/// Whether there are characters that are not to be seen, line breaks among them (UTF-8).
bool hasControls(const std::string& text);

/// Where bytes stop being UTF-8; npos when they are.
size_t brokenUtf8(const std::string& text);

/// Text between the tags and in the attributes of XML.
std::string xmlText(const std::string& text);

/// A cell of a CSV table in quotes (RFC 4180).
std::string csvCell(const std::string& text);

}  // namespace anvil
