// Rigid bodies of solids: exact where the solid is one round feature, else by the facets of its faces.
#pragma once
#include <memory>
#include <vector>

#include "core/geometry/facets.hpp"
#include "core/geometry/recipes.hpp"

namespace anvil::geometry {

/// Either an outline turned about the y axis of its own frame, or facets in their place.
struct RigidSolid {
  std::vector<Curve2> curves;
  Sweep sweep;
  Placement place;
  std::shared_ptr<const FacetSurface> facets;
};

/// The rigid body of a part that is built of features. A single cylinder, tube or ball is exact; of all others plane faces are
/// exact and curved ones stand off by less than a thousandth of the part's size, with smoothed normals. Throws Error with the
/// place in the document. `face`: only this face of it, by "feature.face"; curves carry such names.
RigidSolid rigidSolid(const model::Part& part, const model::Quantities& quantities, const std::string& folder,
                      const std::string& path, const std::string& face = {});

/// Triangles that fill a closed plane polygon given by its corners, anticlockwise; corners are counted from 0.
std::vector<Triangle> insideOf(const std::vector<Eigen::Vector2d>& corners);

}  // namespace anvil::geometry
