// Lines in space that a plane section is swept along: paths of straight pieces and arcs, and coils.
#pragma once
#include <Eigen/Geometry>
#include <string>
#include <vector>

#include "core/model/entry.hpp"
#include "core/model/forward.hpp"

namespace anvil::geometry {

/// One piece of a trail: straight, an arc, or a helix about y. Positions in mm; the section's frame (its x, its y, the way it
/// goes) is turned along with it and never about itself, so that nothing is twisted.
struct TrailPiece {
  enum class Kind { line, arc, helix } kind = Kind::line;
  Eigen::Vector3d start{0, 0, 0};
  Eigen::Matrix3d frame = Eigen::Matrix3d::Identity();  ///< at its start: columns x, y, tangent
  Eigen::Vector3d centre{0, 0, 0}, axis{0, 1, 0};       ///< of an arc
  double angle = 0;                                     ///< of an arc or helix, rad
  double radius = 0, rise = 0;                          ///< of a helix: about y, rise per radian (negative: right-handed)
  double extent = 0;                                    ///< length, mm

  /// The section's origin and frame at a fraction, 0 to 1.
  Eigen::Isometry3d at(double fraction) const;
};
using Trail = std::vector<TrailPiece>;

double lengthOf(const Trail& trail);

/// A round coil about y that stands on y = 0. Throws Error with the place in the document.
Trail coil(const model::Coil& coil, const model::Quantities& quantities, const std::string& path);

/// Lines and arcs end to end, corners between lines rounded. Throws Error naming the piece; corners that are not rounded are
/// refused.
Trail trail(const model::SpacePath& along, const model::Quantities& quantities, const std::string& path);

}  // namespace anvil::geometry
