// Things repeated round an axis.
#pragma once
#include "core/model/entry.hpp"

namespace anvil::model {

/// The same feature or part again round an axis.
struct RoundPattern {
  Point at;        ///< a point of the axis; the origin when left out
  Direction axis;  ///< its direction
  Entry count;     ///< how many there are, the first one among them
  Entry angle;     ///< from one to the next; they share a full turn when left out
  bool operator==(const RoundPattern&) const = default;
};

}  // namespace anvil::model
