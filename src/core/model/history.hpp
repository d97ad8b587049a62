// Steps of the loading history, and how values run over them.
#pragma once
#include <string>
#include <vector>

#include "core/model/entry.hpp"

namespace anvil::model {

enum class How { ramp, atOnce, hold, off };

struct Stage {
  How how = How::ramp;
  Entry value;
  bool operator==(const Stage&) const = default;
};

/// Value of an acting thing over the history. A single `value` is ramped over the first step and held. Otherwise one
/// stage per named step (inactive before the first one named, held after the last), or a table against time.
struct Course {
  Entry value;
  Named<Stage> stages;
  std::vector<std::vector<Entry>> table;
  bool given() const { return value.given() || !stages.empty() || !table.empty(); }
  bool operator==(const Course&) const = default;
};

struct Increments {
  Entry first = 0.05, smallest = 1e-6, largest = 0.2;  ///< as parts of the step
  int most = 2000;
  std::vector<Entry> at;  ///< times after the step's begin at which an increment ends
  bool operator==(const Increments&) const = default;
};

/// Ends an arc-length step where a watched displacement passes a value.
struct Until {
  std::string watch, along;
  Entry passes;
  bool operator==(const Until&) const = default;
};

struct Step {
  std::string note;
  Entry time = 1;
  std::string control = "time";  ///< what leads: "time", or the "arc length" of displacements
  Until until;
  Increments increments;
  bool operator==(const Step&) const = default;
};

}  // namespace anvil::model
