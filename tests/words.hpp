// What is said when something is refused.
#pragma once
#include <gtest/gtest.h>

#include <charconv>
#include <functional>
#include <limits>
#include <string>
#include <string_view>

#include "core/base/error.hpp"

namespace anvil {

/// The sentence an act is refused with; "no error" when it is done.
inline std::string sentence(const std::function<void()>& act) {
  try {
    act();
  } catch (const Error& e) {
    return e.what();
  }
  return "no error";
}

/// The number that a text begins with, in no language; quiet NaN where it begins with none.
inline double numberAt(std::string_view text) {
  double value = std::numeric_limits<double>::quiet_NaN();
  if (const auto from = text.find_first_not_of(' '); from != std::string_view::npos)
    std::from_chars(text.data() + from, text.data() + text.size(), value);
  return value;
}

}  // namespace anvil

#define EXPECT_SAYS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)
