// What is said when something is refused.
#pragma once
#include <gtest/gtest.h>

#include <functional>
#include <string>

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

}  // namespace anvil

#define EXPECT_SAYS(text, part) EXPECT_NE((text).find(part), std::string::npos) << (text)
