#pragma once
#include "core/checks/readiness.hpp"
#include "core/problem/problem.hpp"

namespace anvil::checks {

/// Doubts thin parts that are not thin: thicker than a fifth of their smallest radius of curvature or of their width.
void thinLimits(const analysis::Problem& problem, Report& report);

/// Faults edges that are hinged and held by something else at once.
void hingesHeld(const analysis::Problem& problem, Report& report);

}  // namespace anvil::checks
