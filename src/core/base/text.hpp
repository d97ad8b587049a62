// Small helpers on words: the nearest known name to a mistyped one, lists in prose.
#pragma once
#include <string>
#include <vector>

namespace anvil {

/// The entry of `known` with the smallest edit distance to `word` (Levenshtein); empty when none is near.
std::string nearest(const std::string& word, const std::vector<std::string>& known);

/// `a, b and c`.
std::string inProse(const std::vector<std::string>& words);

/// A number with at most `digits` significant digits, without trailing zeros: 12.5, 0.003, 2.1e+05.
std::string shortNumber(double value, int digits = 5);

}  // namespace anvil
