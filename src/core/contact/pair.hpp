// One contact: multipliers on the slave side, their status, and what they add to the equations.
//
// Each slave corner node A carries a pressure λ_n and a friction traction λ_t. With weighted gap g_A, weighted slip s_A
// and weight κ_A the conditions are, in the form of a semi-smooth Newton method (P. Alart, A. Curnier, CMAME 92, 1991;
// active set as A. Popp et al., IJNME 79, 2009):
//   active:  g_A + κ_A (o_A + λ_n/ε) = 0        inactive: λ_n = 0
//   stick:   s_A - κ_A (λ_t - λ_t,old)/ε_t = 0  slip:     λ_t = ± min(μ λ_n, limit)
// ε is so large that the remaining penetration is far below the tolerance; it makes every condition solvable at its own
// node, so that the multipliers are eliminated before the equations are solved and the unknowns stay displacements.
#pragma once
#include <Eigen/Core>
#include <functional>
#include <limits>
#include <string>
#include <vector>

#include "core/contact/kernel.hpp"
#include "core/contact/surface.hpp"

namespace anvil::contact {

enum class Behaviour { touching, tied, rough, sliding };
enum class Status : int { open = 0, sliding = 1, sticking = 2 };

struct PairSetup {
  std::string name;
  Surface slave, master;          ///< master is empty when `rigid` >= 0
  int rigid = -1;                 ///< index of the rigid outline
  bool swapped = false;           ///< the slave is the second surface named by the user
  Behaviour behaviour = Behaviour::touching;
  double friction = 0, shearLimit = std::numeric_limits<double>::infinity();
  double reach = 0;
  double elasticSlip = 0.005;     ///< Coulomb friction: slip at which a sticking node reaches its bound, over the edge length
  double closeWithin = 0;         ///< initial gaps and overlaps up to this are closed without strain
};

/// A dense part of the equations: residual force, tangent, and the extra right-hand side of the eliminated multipliers.
struct Contribution {
  std::vector<int> dofs;
  Eigen::VectorXd force, condensed;
  Eigen::MatrixXd stiffness;
};

struct PairReport {
  int changes = 0;               ///< nodes that opened, closed, began to slide or to stick in this evaluation
  int active = 0, sticking = 0;
  double gapError = 0;           ///< largest violation of the gap and stick conditions, mm
  double leastGap = 1e300;       ///< smallest pointwise gap
  int worstNode = -1;
};

/// What is known at a slave corner node.
struct NodeState {
  double pressure = 0, friction = 0;
  Status status = Status::open;
};

/// Sums over the pair at the end of an increment. Forces act on the slave body.
struct PairResultant {
  Point2 force{0, 0}, normalForce{0, 0}, frictionForce{0, 0};
  double area = 0, pressureIntegral = 0, frictionIntegral = 0, greatestPressure = 0, greatestPenetration = 0, slipWork = 0;
};

/// Node places and rigid places, now and at the start of the increment.
struct Configuration {
  const std::vector<Eigen::Vector3d>* x = nullptr;   ///< undeformed
  const Eigen::VectorXd* now = nullptr;              ///< displacements: 2 per node, then 3 per rigid body
  const Eigen::VectorXd* before = nullptr;
  const std::vector<RigidOutline>* rigid = nullptr;
  Measure measure;
  Point2 place(int node, bool old) const {
    const auto& u = old ? *before : *now;
    return (*x)[size_t(node)].head<2>() + u.segment<2>(2 * node);
  }
  Eigen::Vector3d rigidPlace(int body, bool old) const {
    return (old ? *before : *now).segment<3>(2 * Eigen::Index(x->size()) + 3 * body);
  }
};

class Pair {
public:
  explicit Pair(PairSetup setup);

  const PairSetup& setup() const { return setup_; }
  const std::vector<NodeState>& states() const { return now_; }   ///< per slave.corners
  const std::vector<double>& gaps() const { return gap_; }
  const std::vector<double>& slips() const { return totalSlip_; }
  bool active() const { return active_; }

  /// Measures gaps in the undeformed shape; least and greatest at the nodes. Fixes what is closed without strain.
  struct Initial {
    double leastGap = 1e300, greatestGap = -1e300;
    int nodes = 0;
  };
  Initial measureInitial(const Configuration& c);

  /// Switches the pair for a step; switched off, its tractions vanish.
  void setActive(bool active) { active_ = active; }
  /// Overlap given as a number, and the share of the initial overlap that is already taken up (0..1).
  void setInterference(double overlap, double resolvedShare) { interference_ = overlap, resolved_ = resolvedShare; }
  void setResolves(bool resolves) { resolves_ = resolves; }

  /// Evaluates residual forces (and tangents) at the present multipliers; settles the status first when `decide`.
  PairReport evaluate(const Configuration& c, bool tangent, bool decide, std::vector<Contribution>& out);

  /// Multiplier corrections that belong to the solved displacement correction (all dofs).
  void solveMultipliers(const Eigen::VectorXd& du);
  /// Multipliers at a fraction of the last correction.
  void step(double fraction);

  void begin();    ///< start of an increment: trial = old
  void accept();   ///< end of an increment: old = trial, slips are added up
  PairResultant resultant(const Configuration& c);

  /// Values to be stored for a restart, and back.
  std::vector<double> save() const;
  void restore(const std::vector<double>& values);

private:
  struct Corner {            // sums over the segments at a slave corner node, on its own list of dofs
    std::vector<int> dofs;
    std::vector<std::array<double, 5>> row;   // per dof: dKappa, dGap, dSlip, normal, tangential
    double kappa = 0, gap = 0, slip = 0;
    double add = 0, addT = 0;                 // Δλ = add + b·du (normal), likewise tangential
    std::vector<double> b, bT;
  };
  void integrate(const Configuration& c, std::vector<Contribution>* out, double* leastGap);
  double offset(size_t a) const;
  bool decideNode(size_t a, double largest);
  double frictionBound(double pressure) const;
  double elasticSlip() const;
  double frictionTrial(size_t a, double bound) const;
  void condense(size_t a, std::vector<Contribution>& out);

  PairSetup setup_;
  std::vector<int> cornerIndex_;              // node -> corner
  double epsilon_ = 0;
  bool active_ = true, resolves_ = false;
  double interference_ = 0, resolved_ = 1;
  std::vector<NodeState> old_, now_, base_;
  std::vector<double> stepN_, stepT_, closed_, initialOverlap_, gap_, totalSlip_, direction_;
  std::vector<bool> seen_;
  std::vector<Corner> corners_;
};

}  // namespace anvil::contact
