// Bodies, the carriers whose points are bodies, and springs between them.
#pragma once
#include <Eigen/Core>
#include <array>
#include <string>
#include <vector>

#include "core/base/curve.hpp"

namespace anvil::analysis {

using Eigen::Vector3d;

/// A body with translations and turns: a rigid part or a carrier's point.
struct Body {
  std::string name;
  Vector3d pivot{0, 0, 0};
  std::array<bool, 6> loose{};  ///< axes that are free wherever nothing moves them (carriers: all)
  double lever = 1;             ///< size, mm; moments over it compare with forces
};

struct Carrier {
  std::string name;
  bool rigid = true;
  bool ofBolt = false;  ///< the end of a bolt that is a beam
  int body = -1;        ///< in Problem::bodies
  std::vector<int> nodes;
  std::vector<double> weight;  ///< shares of the face's area, sum 1
  Vector3d centre{0, 0, 0};    ///< weighted mean of the undeformed places
  int firstMultiplier = -1;    ///< dof
  double scale = 1;            ///< N/mm
  int follower = -1;           ///< end of a slender part on a rigid part: the body that turns as `body` does
  /// Number of multipliers.
  int multipliers(int dim) const {
    const int turns = follower < 0 ? 0 : dim == 2 ? 1 : 3;
    return rigid ? dim * int(nodes.size()) + turns : dim == 2 ? 3 : 6;
  }
};

/// A spring and dashpot between two bodies, or from a body to a place in space (second = -1).
struct Spring {
  std::string name;
  int first = -1, second = -1;
  Vector3d ground{0, 0, 0};
  bool turning = false;
  Vector3d axis{0, 0, 0};  ///< fixed direction; zero: along the line between the ends
  Curve force;             ///< against extension (or angle), continued straight beyond its ends; N or N mm
  double damping = 0;      ///< N s/mm or N mm s
};

}  // namespace anvil::analysis
