// Bolts that are tightened, then held.
#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/model/history.hpp"

namespace anvil::model {

/// A bolt that is not drawn: an elastic round beam whose ends are spread over the faces it presses.
struct BoltBeam {
  std::vector<std::string> head, nut;  ///< faces under head and nut
  Entry diameter;
  std::string material;  ///< its elastic part is taken
  bool operator==(const BoltBeam&) const = default;
};

/// A bolt, tightened to a force or by a length, then held: a drawn shank that the program cuts across, or a beam.
struct Bolt {
  std::vector<std::string> on;   ///< faces of its shank
  std::optional<BoltBeam> beam;  ///< in place of a shank
  std::string of =
      "part";         ///< force: of the "part" of the shank that is modelled, or of the "whole" bolt that symmetry planes cut
  Direction along;    ///< its axis; from the faces when left out
  Entry cut = 0.5;    ///< where it is cut, as a share of the faces' length along the axis
  Course force;       ///< steps with a value tighten to it; it keeps its length in all others, and is slack where off
  Course shortening;  ///< steps with a value draw it in by that much
  bool operator==(const Bolt&) const = default;
};

}  // namespace anvil::model
