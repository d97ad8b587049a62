// Points that faces follow, and springs between bodies.
#pragma once
#include <string>
#include <vector>

#include "core/model/entry.hpp"

namespace anvil::model {

/// A point that faces follow: it carries loads, motions, supports and springs.
struct Carrier {
  std::vector<std::string> on;
  Point at;                    ///< the faces' middle when left out
  std::string end;             ///< in place of `at`: the point of a slender part that is joined to the faces
  std::string hold = "rigid";  ///< "rigid": the faces keep their shape; "mean": they follow in the mean and may deform
  bool operator==(const Carrier&) const = default;
};

/// A spring and dashpot between two carriers or rigid parts, or from one to a place in space.
struct Spring {
  std::vector<std::string> between;
  Point at;           ///< place in space of the other end, when one body is named
  std::string along;  ///< an axis or "turn"; along the line between the ends when left out
  Entry stiffness;
  std::vector<std::vector<Entry>> rows;  ///< [extension, force]
  Entry damping = 0;
  bool operator==(const Spring&) const = default;
};

}  // namespace anvil::model
