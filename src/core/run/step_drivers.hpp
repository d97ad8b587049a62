// The two ways to choose increments. For use inside this folder.
#pragma once
#include <memory>

#include "core/run/run_state.hpp"

namespace anvil::analysis {

/// Loading raised with time: increments grow after easy ones, are cut after failures, end at corners of courses and where gaps
/// close.
std::unique_ptr<StepDriver> rampDriver(Run& run, const StepPlan& plan, const Restart* resume);
/// Loading found with the displacements (M. Crisfield, 1981).
std::unique_ptr<StepDriver> arcDriver(Run& run, const StepPlan& plan, const Restart* resume);

}  // namespace anvil::analysis
