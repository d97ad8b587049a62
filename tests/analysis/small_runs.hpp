// Small models through the solver: text changed in place, the last increment, histories by name.
#pragma once
#include <gtest/gtest.h>

#include <algorithm>
#include <memory>
#include <string>
#include <vector>

#include "core/analysis/histories.hpp"
#include "core/analysis/lower.hpp"
#include "core/analysis/run.hpp"
#include "core/model/json.hpp"

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

/// All that a run says and leaves.
struct Course : analysis::Observer {
  std::vector<analysis::Increment> all;
  std::vector<std::string> notes;
  int cuts = 0;
  int after = -1;  ///< stops after so many increments
  void converged(const analysis::Increment& i) override { all.push_back(i); }
  void cut(const analysis::IterationReport&, const std::string&, double) override { ++cuts; }
  void warned(const std::string& words) override { notes.push_back(words); }
  bool stop() override { return after >= 0 && int(all.size()) >= after; }
  int said(const std::string& words) const {
    return int(
        std::count_if(notes.begin(), notes.end(), [&](const std::string& n) { return n.find(words) != std::string::npos; }));
  }
};

inline double historyOf(const analysis::Problem& p, const analysis::Increment& inc, const std::string& name) {
  const auto names = analysis::historyNames(p);
  const auto it = std::find(names.begin(), names.end(), name);
  EXPECT_NE(it, names.end()) << name;
  return it == names.end() ? 0 : inc.histories[size_t(it - names.begin())];
}

inline double history(const analysis::Problem& p, const Last& l, const std::string& name) { return historyOf(p, l.last, name); }

/// A model text run to its end.
struct Solved {
  std::unique_ptr<analysis::Problem> p;
  Course course;
  double at(size_t row, const std::string& name) const { return historyOf(*p, course.all[row], name); }
  double last(const std::string& name) const { return historyOf(*p, course.all.back(), name); }
};

inline Solved solved(const std::string& text) {
  Solved s{analysis::lower(model::parse(text)), {}};
  analysis::run(*s.p, s.course);
  return s;
}

}  // namespace anvil
