// Readiness: what is missing, doubtful or wrong in a model before it runs, in plain words.
#pragma once
#include <functional>
#include <map>
#include <string>
#include <vector>

#include "core/base/units.hpp"
#include "core/mesh/working.hpp"
#include "core/model/forward.hpp"

namespace anvil {
class Error;
}
namespace anvil::analysis {
struct Problem;
}

namespace anvil::checks {

struct Finding {
  bool fault;         ///< a fault stops the run; others are doubts
  std::string where;  ///< path in the document
  std::string what, remedy;
  std::string fix = {};  ///< what `mend` does, in a few words; empty where only the user can tell
  std::function<void(model::Document&)> mend = {};
};

/// What a thing of the document comes to, as the desk shows it beside its entries: words, or numbers of one kind.
struct Effect {
  std::string label;            ///< "gap at the start"
  std::vector<double> numbers;  ///< one, from and to, or a vector's components. In core units
  Kind kind = Kind::number;
  std::string words = {};  ///< in place of numbers, or behind them
  bool vector = false;
};

struct Report {
  std::vector<std::string> facts;  ///< sizes, mesh quality, gaps and overlaps
  std::vector<Finding> findings;
  std::map<std::string, std::vector<Effect>> effects;  ///< by the thing's path: "contacts/press"
};

/// Examines a document that was lowered to `problem` already.
Report readiness(const model::Document& document, analysis::Problem& problem);

/// Of a document that could not be lowered, and why: it is not tried again.
Report readiness(const model::Document& document, const Error& whyNot);

/// Examines a document. Never throws for a faulty model: faults are findings.
Report readiness(const model::Document& document, const mesh::Working& working = {});

}  // namespace anvil::checks
