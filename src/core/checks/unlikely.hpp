// What can be computed but hardly is meant.
#pragma once
#include "core/checks/readiness.hpp"

namespace anvil::checks {

/// Adds doubts: more memory than is free, watched points far from their part, regions that share a part's name, interference as
/// large as the parts, supports that a motion overrides.
void unlikely(const analysis::Problem& problem, const model::Document& document, Report& report);

}  // namespace anvil::checks
