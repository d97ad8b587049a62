// What there is to say of a mesh before it is computed with.
#pragma once
#include "core/checks/readiness.hpp"
#include "core/problem/problem.hpp"

namespace anvil::checks {

/// Adds to the report: counts and shapes of elements, what the free mesher gave up, parts in pieces, single columns of elements
/// with reduced integration.
void meshFindings(const analysis::Problem& problem, const model::Document& document, Report& report);

}  // namespace anvil::checks
