// Carriers: a point that a face follows, rigidly or in the mean; and springs between such points.
//
// Rigidly: every node keeps its place in the point's own frame, x_i = P + U + R (X_i - P).
// In the mean: the point moves with the face's mean displacement and turns with the rotation that fits the face best,
// Σ w_i (R r_i) × x_i = 0, r_i = X_i - ΣwX (the condition of S. Umeyama, IEEE PAMI 13, 1991, weights w_i by area); the
// face may deform.
// Both are held exactly by multipliers, which are unknowns behind all others, scaled so that they are lengths.
#pragma once
#include <Eigen/Core>
#include <string>
#include <vector>

#include "core/base/curve.hpp"
#include "core/contact/pair.hpp"

namespace anvil::analysis {

using Eigen::Vector3d;
using Eigen::VectorXd;

struct Problem;

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
  /// Number of multipliers.
  int multipliers(int dim) const { return rigid ? dim * int(nodes.size()) : dim == 2 ? 3 : 6; }
};

/// Residual and tangent of a carrier at displacements `u` (all dofs), appended to `out`.
void carrierParts(const Problem& problem, const Carrier& carrier, const VectorXd& u, bool tangent,
                  std::vector<contact::Contribution>& out);

/// Force and moment (about the carrier's point where it is now) that a carrier puts on its face.
struct CarrierResultant {
  Vector3d force{0, 0, 0}, moment{0, 0, 0};
};
CarrierResultant carrierResultant(const Problem& problem, const Carrier& carrier, const VectorXd& u);

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

/// Extension (angle) of a spring.
double springExtension(const Problem& problem, const Spring& spring, const VectorXd& u);
/// Elastic force of a spring, its slope and its energy.
struct SpringLaw {
  double force = 0, slope = 0, energy = 0;
};
SpringLaw springLaw(const Curve& force, double extension);

/// Residual and tangent of a spring; `before` and `size` (s) give the dashpot its speed.
void springParts(const Problem& problem, const Spring& spring, const VectorXd& u, const VectorXd& before, double size,
                 bool tangent, std::vector<contact::Contribution>& out);

}  // namespace anvil::analysis
