// Solids that are one thin wall, which are offered to be treated as thin parts.
#pragma once
#include "core/checks/readiness.hpp"
#include "core/problem/problem.hpp"

namespace anvil::checks {

/// Remarks on parts of features and STEP files that are a wall of one thickness, with the change that makes thin parts of them.
void thinWalls(const analysis::Problem& problem, const model::Document& document, Report& report);

}  // namespace anvil::checks
