// Sizes of solids' features, as they are shown in the view and dragged there.
#pragma once
#include <Eigen/Core>
#include <string>
#include <vector>

#include "core/model/entry.hpp"
#include "core/model/forward.hpp"

namespace anvil::model {
struct Feature;
}

namespace anvil::geometry {

/// One size: a line from where it is measured to its tip, which is dragged along it. Of the part's own coordinates, mm.
struct FeatureSize {
  std::string key;  ///< "size 1" to "size 3", "radius", "inner", "outer", "length", "depth", "legs 1", "thickness"
  double value = 0;
  Eigen::Vector3d base{0, 0, 0}, tip{0, 0, 0};
  model::Entry written = {};  ///< as it stands in the document, where it is an entry of its own
  bool fixed = false;         ///< by a formula: typed, not dragged
};

/// Sizes of a box, cylinder, tube, ball, plate, angle, or of a profile that is pulled; none of others, and of what is not given.
std::vector<FeatureSize> sizesOf(const model::Feature& feature, const model::Quantities& quantities);

/// Gives a size another value. Formulas and units are kept where the size is an entry; the length of a cylinder moves its end.
/// Throws Error where the feature could not be so.
void setSize(model::Feature& feature, const model::Quantities& quantities, const FeatureSize& size, const model::Entry& value);

}  // namespace anvil::geometry
