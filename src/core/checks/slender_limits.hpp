// What beam theory asks of slender parts.
#pragma once
#include "core/checks/readiness.hpp"

namespace anvil::checks {

/// Facts of slender parts, and a doubt for lines shorter than ten times their section's height or width.
void slenderLimits(const analysis::Problem& problem, Report& report);

}  // namespace anvil::checks
