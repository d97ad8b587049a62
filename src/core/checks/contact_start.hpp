// How contacts stand before anything moves: gaps and overlaps, what is doubtful about them, and what they join.
#pragma once
#include <set>
#include <vector>

#include "core/checks/readiness.hpp"
#include "core/problem/problem.hpp"

namespace anvil::checks {

/// Parts that contact which is closed at the start, or never opens, holds on to each other or to rigid bodies.
struct Joined {
  std::set<int> touched, onRigid;
  std::set<int> inReach;  ///< rigid bodies that lie within a contact's search distance of something
  std::vector<int> root;  ///< per part: another of its group, or itself
  int groupOf(int part) const {
    while (root[size_t(part)] != part) part = root[size_t(part)];
    return part;
  }
  void join(int part, int other) { root[size_t(groupOf(part))] = groupOf(other); }
};

/// Measures all contacts in the undeformed shape and adds to the report what is found.
Joined contactsAtStart(analysis::Problem& problem, Report& report);

}  // namespace anvil::checks
