// Parts that nothing holds.
#pragma once
#include "core/checks/contact_start.hpp"

namespace anvil::checks {

/// Adds to the report: pieces of parts that no support hinders to move or turn, and parts that hold each other but are free
/// together.
void looseParts(const analysis::Problem& problem, const Joined& joined, Report& report);

}  // namespace anvil::checks
