// An edge of a solid or a sheet as a line to draw along.
#pragma once
#include <Eigen/Core>
#include <map>
#include <memory>
#include <string>

#include "core/geometry/solid.hpp"
#include "core/model/forward.hpp"

namespace anvil::geometry {

/// Edges that go on into each other, as one curve.
class SolidEdge {
 public:
  virtual ~SolidEdge() = default;
  virtual double length() const = 0;  ///< mm
  virtual double turned() const = 0;  ///< angle that its direction turns by on the way, radians
  /// Place at a share of the length, from 0 to 1, mm.
  virtual Eigen::Vector3d at(double share) const = 0;
};

/// The edge where two faces of a solid meet; of a sheet, with `second` "edge N", the N-th of its free edges on the first face, as
/// thin parts name them. Throws Error with `path` where a face is not known, where they do not meet, or meet in several places.
std::unique_ptr<SolidEdge> edgeBetween(const Solid& solid, const std::string& first, const std::string& second,
                                       const std::string& path);

/// The edge "part.face & part.face" of another part of the document, whose solid is kept in `known` for the next one. Throws
/// Error as above, and where that part has no solid.
std::unique_ptr<SolidEdge> edgeNamed(const model::Document& document, const model::Quantities& quantities,
                                     std::map<std::string, Solid>& known, const std::string& name, const std::string& path);

}  // namespace anvil::geometry
