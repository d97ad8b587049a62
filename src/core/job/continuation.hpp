// Whether a run that is stored can be gone on with as a model is now.
#pragma once
#include <string>
#include <vector>

#include "core/model/forward.hpp"
#include "core/results/store.hpp"

namespace anvil::job {

/// What two models have different that acts up to the end of a step (counted from 0): a sentence part each, as
/// "materials/steel/elastic/E is 205000, was 210000". Values are compared as they are worked out, courses by what they are worth
/// at each time. Left out is what a run may go on with: increment sizes, solver settings, watched points, remarks, unused
/// regions, and whatever acts only after that step.
std::vector<std::string> differencesUpTo(int step, const model::Document& now, const model::Document& then);

/// Throws Error unless the stored increment `row` (from 0) can be gone on from with this model: same mesh, same contacts and
/// rigid parts, same values and steps up to there. `fresh`: the header that a run of the model as it is now would write.
void checkContinuation(const results::Reader& stored, size_t row, const model::Document& now, const results::Header& fresh);

}  // namespace anvil::job
