// Small models through the solver: text changed in place, the last increment, histories by name.
#pragma once
#include <gtest/gtest.h>

#include <memory>
#include <string>
#include <vector>

#include "core/problem/problem.hpp"
#include "core/run/run.hpp"

namespace anvil {

/// The text with its first `from` replaced, which must be there; blanks and new lines may differ.
std::string with(std::string text, const std::string& from, const std::string& to);

/// The problem of a model's text.
std::unique_ptr<analysis::Problem> lowered(const std::string& text);

struct Last : analysis::Observer {
  analysis::Increment last;
  void converged(const analysis::Increment& i) override { last = i; }
};

/// All that a run says and leaves.
struct RunLog : analysis::Observer {
  std::vector<analysis::Increment> all;
  std::vector<std::string> notes;
  int cutbacks = 0;
  int after = -1;  ///< stops after so many increments
  void converged(const analysis::Increment& i) override { all.push_back(i); }
  void cutBack(const analysis::IterationReport&, const std::string&, double) override { ++cutbacks; }
  void warned(const std::string& words) override { notes.push_back(words); }
  bool stop() override { return after >= 0 && int(all.size()) >= after; }
  int said(const std::string& words) const;
};

double historyOf(const analysis::Problem& p, const analysis::Increment& inc, const std::string& name);
double history(const analysis::Problem& p, const Last& l, const std::string& name);

/// A model text run to its end.
struct Solved {
  std::unique_ptr<analysis::Problem> p;
  RunLog course;
  double at(size_t row, const std::string& name) const { return historyOf(*p, course.all[row], name); }
  double last(const std::string& name) const { return historyOf(*p, course.all.back(), name); }
};
Solved solved(const std::string& text);

}  // namespace anvil
