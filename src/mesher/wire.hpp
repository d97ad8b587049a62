// Solids that are a round wire along any line: a spring, a bent rod. Which faces are its ends, where the section lies on its way.
#pragma once
#include <optional>
#include <vector>

#include "mesher/prism.hpp"

namespace anvil::mesher {

struct Wire {
  /// A section: its middle and frame; u × v points along the way.
  struct Section {
    Eigen::Vector3d middle, u, v;
  };
  /// A stretch of the wire with the faces round it.
  struct Stretch {
    double from, to;               ///< mm along the way
    std::vector<int> faces;        ///< of the shape
    std::vector<double> turned;    ///< where their middles stand round the section, rad in its frame
    std::vector<double> place;     ///< mm, of the sections
    std::vector<Section> section;  ///< close enough for a cubic between them
  };
  Prism end;                      ///< its low end, of the wire's whole length
  std::vector<double> rimAngles;  ///< where the middles of its rims stand, rad in the section's frame
  std::vector<Stretch> stretches;

  Section at(double place) const;
  /// The face round the wire at a place, on the side of an angle in the section's frame.
  int faceAt(double place, double angle) const;
};

/// Tells whether two faces are equal flat discs and the others have circles of that radius as lines of one of their parameters,
/// end to end from the one disc to the other.
std::optional<Wire> wireOf(const std::vector<TopoDS_Shape>& faces);

}  // namespace anvil::mesher
