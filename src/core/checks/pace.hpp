// What finished runs on this machine took: estimates learn from it.
#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/model/forward.hpp"

namespace anvil::checks {

/// What makes runs alike in their number of iterations.
struct RunKind {
  bool contact = false, friction = false, yielding = false;
  bool operator==(const RunKind&) const = default;
};
RunKind kindOf(const model::Document& document);

/// One finished run.
struct FinishedRun {
  std::string model;  ///< a digest of the model's text
  RunKind kind;
  int planned = 0;  ///< increments, were none cut
  int increments = 0, iterations = 0;
  double seconds = 0;
  double saidIteration = 0;  ///< seconds an iteration would take, as estimated
};

/// Increments that the steps take when each goes well: the first, growing to the largest.
int plannedIncrements(const model::Document& document);

/// Digest of a model's text.
std::string digestOf(const model::Document& document);

/// Finished runs that are known, the oldest first. A file that cannot be read is as good as none.
std::vector<FinishedRun> finishedRuns();
/// Adds one and keeps the newest 200. What cannot be written is left out.
void remember(const FinishedRun& run);

/// What they teach.
struct Pace {
  double speed = 1;           ///< seconds an iteration took, over what was said
  double iterationsEach = 0;  ///< iterations for each planned increment, of a run of this kind
  bool sameModel = false;     ///< this very model was run before
};
/// From runs of this model, else of the like: with or without contact, and whose iterations cost as much within a factor of 8.
Pace paceOf(const std::vector<FinishedRun>& runs, const std::string& model, const RunKind& kind, double saidIteration);

}  // namespace anvil::checks
