// Arithmetic on named parameters, "=2*wall + 1", by muParser.
#pragma once
#include <map>
#include <string>
#include <vector>

namespace anvil {

/// Value of `formula` (without the leading '=') with the given names. Angles are in radian; `pi` is known.
/// Throws Error naming the unknown name and the nearest known one, or the place of a syntax fault.
double evaluate(const std::string& formula, const std::map<std::string, double>& names);

/// The names that a formula uses. Throws Error on a syntax fault.
std::vector<std::string> namesIn(const std::string& formula);

/// The names whose plain multiples `formula` adds up ("=2*wall + gap/2 - 1": wall and gap), so that its result measures
/// what they measure. Empty when it does anything else with them, a product or a root for instance.
/// Found by values: a sum is affine, so halfway between two points it takes the mean. Throws Error on a syntax fault.
std::vector<std::string> addends(const std::string& formula);

/// Whether formulas know a name as a function or a constant.
bool isReserved(const std::string& name);

}  // namespace anvil
