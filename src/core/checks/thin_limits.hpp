#pragma once
#include "core/checks/readiness.hpp"
#include "core/problem/problem.hpp"

namespace anvil::checks {

/// Doubts thin parts that are not thin: thicker than a fifth of their smallest radius of curvature or of their width.
void thinLimits(const analysis::Problem& problem, Report& report);

}  // namespace anvil::checks
