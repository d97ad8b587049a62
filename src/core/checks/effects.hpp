// What each thing of a model comes to: sizes, areas, resultants, motions left free.
#pragma once
#include "core/checks/readiness.hpp"
#include "core/problem/problem.hpp"

namespace anvil::checks {

/// Adds them to the report. Contacts get their gaps where these are measured, see contactsAtStart.
void effects(const analysis::Problem& problem, const model::Document& document, Report& report);

}  // namespace anvil::checks
