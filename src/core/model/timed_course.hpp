// How values run over the history in numbers: what the solver knows of a course.
#pragma once
#include <string>
#include <vector>

#include "core/base/curve.hpp"
#include "core/base/units.hpp"
#include "core/model/forward.hpp"

namespace anvil::model {

/// A course over global time, in core units.
struct TimedCourse {
  Curve curve;               ///< value against global time
  std::vector<bool> active;  ///< per step
};

/// End times of the steps (first entry 0), size steps+1.
std::vector<double> stepTimes(const Document& document, const Quantities& quantities);

/// Lays a course over the document's steps. Throws Error naming unknown steps or faulty tables.
TimedCourse timed(const Course& course, Kind kind, const Document& document, const Quantities& quantities,
                  const std::string& path);

/// What the values of a load measure: a stress, a force or a moment.
Kind loadKind(const Load& load);

/// Per step whether it is listed in `during` (all when empty). Throws on an unknown step.
std::vector<bool> activeDuring(const std::vector<std::string>& during, const Document& document, const std::string& path);

}  // namespace anvil::model
