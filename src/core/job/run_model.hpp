// Joins document, solver and store: what "run" means for the shell, the window and the tests.
#pragma once
#include <functional>
#include <optional>
#include <string>

#include "core/mesh/working.hpp"
#include "core/model/forward.hpp"
#include "core/results/store.hpp"
#include "core/run/run.hpp"

namespace anvil::job {

struct RunOptions {
  std::string out;                   ///< results file
  int threads = 0;                   ///< 0: all
  bool resume = false;               ///< go on from the last stored increment
  std::optional<size_t> resumeFrom;  ///< or from this one (counted from 1)
  double memory = 0;                 ///< most that the process takes, MB; 0: what is free
  bool remember = false;             ///< what the run takes, for later estimates
  mesh::Working meshing = {};        ///< hears of free meshes in the making
  /// Whether the run is to end; asked a few times a second beside it. When it has not ended of itself two seconds after that (a
  /// large factorisation hears nothing), what is stored is closed as stopped and `leave` is called, which ends the process.
  std::function<bool()> stopAsked = {};
  std::function<void()> leave = {};
};

/// Runs a document and stores every increment. `watch` (may be null) also sees all events. Throws Error.
analysis::Outcome runModel(const model::Document& document, const RunOptions& options, analysis::Observer* watch = nullptr,
                           analysis::Timing* timing = nullptr);

/// What can be shown of a solid model that cannot be meshed: the outsides of its parts of features, without a mesh. Parts whose
/// geometry is at fault are left out.
results::Header outsidesOf(const model::Document& document);

/// Header of the results of a problem.
results::Header headerOf(const analysis::Problem& problem, const model::Document& document);

}  // namespace anvil::job
