// Small models through the solver: text changed in place, the last increment, histories by name.
#pragma once
#include <gtest/gtest.h>

#include <algorithm>
#include <string>

#include "core/analysis/histories.hpp"
#include "core/analysis/run.hpp"

namespace anvil {

inline std::string with(std::string text, const std::string& from, const std::string& to) {
  const auto at = text.find(from);
  EXPECT_NE(at, std::string::npos) << from;
  return text.replace(at, from.size(), to);
}

struct Last : analysis::Observer {
  analysis::Increment last;
  void converged(const analysis::Increment& i) override { last = i; }
};

inline double history(const analysis::Problem& p, const Last& l, const std::string& name) {
  const auto names = analysis::historyNames(p);
  const auto it = std::find(names.begin(), names.end(), name);
  EXPECT_NE(it, names.end()) << name;
  return it == names.end() ? 0 : l.last.histories[size_t(it - names.begin())];
}

}  // namespace anvil
