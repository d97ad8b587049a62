// Faces and edges gathered under a name, by hand or by a rule.
#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/model/entry.hpp"

namespace anvil::model {

/// Faces in a plane, or in a box: all facets of the parts' outside that lie there.
struct PlaneRule {
  Point at;
  Direction normal;
  Entry within;  ///< distance from the plane; a hundredth of the model's size when left out
  bool operator==(const PlaneRule&) const = default;
};
struct BoxRule {
  Point from, to;
  bool operator==(const BoxRule&) const = default;
};

/// Named faces, and others found by rule; all of them together.
struct Region {
  std::vector<std::string> edges;       ///< "part.edge"
  std::vector<std::string> cylinderOf;  ///< faces on the same cylinder as these
  std::vector<std::string> tangentTo;   ///< faces that go on from these without a corner
  std::optional<PlaneRule> plane;
  std::optional<BoxRule> box;
  std::vector<std::string> of;  ///< parts that plane and box look at; all when empty
  bool operator==(const Region&) const = default;
};

}  // namespace anvil::model
