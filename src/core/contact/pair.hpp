// One contact: multipliers on the slave side, their status, and what they add to the equations.
//
// Each slave corner node A carries a pressure λ_n and a friction traction λ_t. With weighted gap g_A, weighted slip s_A
// and weight κ_A the conditions are, in the form of a semi-smooth Newton method (P. Alart, A. Curnier, CMAME 92, 1991;
// active set as A. Popp et al., IJNME 79, 2009):
//   active:  g_A + κ_A (o_A + λ_n/ε) = 0        inactive: λ_n = 0
//   stick:   s_A - κ_A (λ_t - λ_t,old)/ε_t = 0  slip:     λ_t = min(μ λ_n, limit) s / |s|
// ε is so large that the remaining penetration is far below the tolerance; it makes every condition solvable at its own
// node, so that the multipliers are eliminated before the equations are solved and the unknowns stay displacements.
#pragma once
#include <Eigen/Core>
#include <functional>
#include <limits>
#include <optional>
#include <string>
#include <vector>

#include "core/contact/plane_kernel.hpp"
#include "core/contact/rotation.hpp"
#include "core/contact/space_kernel.hpp"
#include "core/contact/surface.hpp"

namespace anvil::contact {

enum class Behaviour { touching, tied, rough, sliding };
enum class Status : int { open = 0, sliding = 1, sticking = 2 };

/// A surface as it is seen turned about an axis: the other end of a sector that repeats round it.
struct Image {
  Eigen::Matrix3d turn = Eigen::Matrix3d::Identity();
  Point3 about{0, 0, 0};
  Point3 operator()(const Point3& x) const { return about + turn * (x - about); }
};

struct PairSetup {
  std::string name, contact;  ///< its own, and that of the contact in the document that it comes from (one may make several)
  Surface slave, master;      ///< master is empty when `rigid` >= 0
  int rigid = -1;             ///< index of the rigid outline
  std::shared_ptr<const RigidBody> rigidFace;  ///< what of it touches, where that is not all
  bool self = false;  ///< master is the slave once more: of two sides that face, the earlier one carries the pressure
  std::vector<std::vector<int>> never;  ///< self: per side, later sides it cannot meet (other side of its wall)
  bool swapped = false;                 ///< the slave is the second surface named by the user
  Behaviour behaviour = Behaviour::touching;
  double friction = 0, shearLimit = std::numeric_limits<double>::infinity();
  double reach = 0;
  double stickStiffness = 3;   ///< Coulomb friction: traction per slip of a sticking node, over Young's modulus per edge length
  double closeWithin = 0;      ///< initial gaps and overlaps up to this are closed without strain
  std::optional<Image> image;  ///< cyclic: the slave meets not the master but its image
};

/// A part of the equations: residual force, tangent (a dense part and one of low rank, left rightᵀ; either may be empty),
/// and the extra right-hand side of the eliminated multipliers. The dofs of a node stand together.
struct Contribution {
  std::vector<int> dofs;
  Eigen::VectorXd force, condensed;
  Eigen::MatrixXd stiffness, left, right;
};

struct PairReport {
  int changes = 0;  ///< nodes that opened, closed, began to slide or to stick in this evaluation
  int turned = 0;   ///< of these, nodes that opened or closed
  int active = 0, sticking = 0;
  double gapError = 0;      ///< largest violation of the gap and stick conditions, mm
  double leastGap = 1e300;  ///< smallest pointwise gap
  double violation = 0;     ///< of the conditions, as forces of an element strained by that much, squared and summed, N²
  int worstNode = -1;
};

/// What is known at a slave corner node.
struct NodeState {
  double pressure = 0;
  Point3 friction{0, 0, 0};  ///< in space a vector along the face; in the plane its first component, signed
  Status status = Status::open;
};

/// What is shown at a corner of a face that touches. Tractions are recovered: the nodal mean of the traction field over
/// what the corner stands for, p_A = ∫ N_A λ dΓ / ∫ N_A dΓ, which keeps its integral and does not follow the multiplier of a
/// corner at the rim, whose value makes up for what the last elements cannot bend to.
struct Shown {
  double pressure = 0, area = 0;  ///< MPa; mm², of what touches or could
  Point3 friction{0, 0, 0};
  Status status = Status::open;
  double gap = 0, slip = 0;
};

/// Sums over the pair at the end of an increment. Forces act on the slave body.
struct PairResultant {
  Point3 force{0, 0, 0}, normalForce{0, 0, 0}, frictionForce{0, 0, 0};
  Point3 moment{0, 0, 0};  ///< about the origin
  double area = 0, pressureIntegral = 0, frictionIntegral = 0, greatestPressure = 0, greatestPenetration = 0, slipWork = 0;
  double unresolvedEnergy = 0;  ///< elastic, round points of contact that the mesh is too coarse for
  double overlapWork = 0;       ///< put in during the increment by overlaps that grow (given as a number or resolved)
};

/// Node places and rigid places, now and at the start of the increment.
struct Configuration {
  int dim = 2;
  const std::vector<Eigen::Vector3d>* x = nullptr;  ///< undeformed
  const Eigen::VectorXd* now = nullptr;             ///< displacements: dim per node, then 3 (plane) or 6 per rigid body
  const Eigen::VectorXd* before = nullptr;
  const std::vector<RigidBody>* rigid = nullptr;
  Depth depth;
  Point3 place(int node, bool old) const {
    Point3 p = (*x)[size_t(node)];
    const Eigen::VectorXd& u = old ? *before : *now;
    for (int k = 0; k < dim; ++k) p[k] += u[dim * node + k];
    return p;
  }
  int rigidDof(int body) const { return dim * int(x->size()) + (dim == 2 ? 3 : 6) * body; }
  /// Rigid dofs of a body: (ux, uy, turn) or (u, rotation vector).
  Eigen::VectorXd rigidPlace(int body, bool old) const {
    return (old ? *before : *now).segment(rigidDof(body), dim == 2 ? 3 : 6);
  }
};

/// What a pair's slave meets of its rigid body.
inline const RigidBody& rigidOf(const PairSetup& setup, const std::vector<RigidBody>& bodies) {
  return setup.rigidFace ? *setup.rigidFace : bodies[size_t(setup.rigid)];
}

/// In space between bodies: a facing side and the points that a slave side shares with it.
struct Meeting {
  int facing;
  FacePoints points;
};

struct SideIntegral;
struct SideContext;
enum class Wanted;

class Pair {
 public:
  explicit Pair(PairSetup setup);

  const PairSetup& setup() const { return setup_; }
  const std::vector<NodeState>& states() const { return now_; }  ///< per slave.corners
  const std::vector<double>& gaps() const { return gap_; }
  const std::vector<double>& slips() const { return totalSlip_; }
  bool active() const { return active_; }
  /// Both faces, per slave.corners and master.corners, from the last integration (the master's against a rigid body: none).
  std::vector<Shown> shown() const;
  std::vector<Shown> shownOpposite() const;
  /// Largest change of a gap that was made at the start without strain (`closeWithin`), mm.
  double greatestClosing() const;

  /// Measures gaps in the undeformed shape; least and greatest at the nodes. Fixes what is closed without strain.
  struct Initial {
    double leastGap = 1e300, greatestGap = -1e300;  ///< of nodes: means over the faces round them
    double closest = 1e300;                         ///< of single points
    double advance = 0;                             ///< by how much contact begins before the least of the means is closed
    int nodes = 0;
  };
  Initial measureInitial(const Configuration& c);

  /// At the start of a step: corners that touch without a force hold the bodies from the first iteration on.
  void holdWhatTouches(const Configuration& c);

  /// Share of a way (from `c.before` to `c.now`) at which the first open node touches, for those that would end up deeper
  /// than a part of the edge length there; 1 when there is none. To be asked at the start of an increment.
  double shareToTouch(const Configuration& c, double depth);

  /// Whether in the increment a point of the rigid body went through a side that does not touch it at the end, however thin the
  /// one or the other is.
  bool wentThrough(const Configuration& c) const;

  /// Whether at a place on the increment's way corners that are open at its end lie deep in the other body: then they went
  /// through it. Leaves its integrals there.
  bool goesThrough(const Configuration& c);

  /// Switches the pair for a step; switched off, its tractions vanish.
  void setActive(bool active) { active_ = active; }
  /// Overlap given as a number, and the share of the initial overlap that is already taken up (0..1).
  void setInterference(double overlap, double resolvedShare) { interference_ = overlap, resolved_ = resolvedShare; }
  void setResolves(bool resolves) { resolves_ = resolves; }

  /// Evaluates residual forces (and tangents) at the present multipliers; settles the status first when `decide`.
  PairReport evaluate(const Configuration& c, bool tangent, bool decide, std::vector<Contribution>& out);
  /// Settles the status where the pair was evaluated last, without integrating anew.
  PairReport decide();

  /// Multiplier corrections that belong to the solved displacement correction (all dofs).
  void solveMultipliers(const Eigen::VectorXd& du);
  /// Opens the corners that would pull hard after the last correction, against the pressures of before: where a small contact is
  /// handed from one corner to the next, both conditions together turn the face rather than push it. True when there were some:
  /// the correction is then to be found again from where it set out; what that adds to the equations goes to `changes`.
  bool releasePulling(std::vector<Contribution>& changes);
  /// The last correction was shortened to a part of it.
  void shorten(double part) {
    for (auto& s : stepN_) s *= part;
    for (auto& s : stepT_) s *= part;
  }
  /// Multipliers at a fraction of the last correction.
  void step(double fraction);

  /// Makes sticking softer where stiff sticking kept the status from settling (it hardens again with each accepted increment); or
  /// as it was.
  void soften() { softness_ = std::max(0.3 * softness_, 0.01); }
  void stiffen() { softness_ = 1; }
  /// Pressure per penetration, as a part of what it is in the end. Soft contact is a convex problem where the active set
  /// would not settle by itself (bodies that bend between others); the result is then made hard.
  void setHardness(double part) { epsilon_ = part * hardest_, soft_ = part < 1; }

  /// The forces on the nodes alone (residual: minus the force), at the present multipliers.
  std::vector<Contribution> forces(const Configuration& c);

  /// Start of an increment: trial = old. What slides goes on sliding until its slip is known, or (`turns`, as a step begins)
  /// sticks until then.
  void begin(bool turns = true);
  void accept();  ///< end of an increment: old = trial, slips are added up
  PairResultant resultant(const Configuration& c);

  /// Values to be stored for a restart, and back.
  std::vector<double> save() const;
  void restore(const std::vector<double>& values);

 private:
  /// Sums over the sides at a slave corner node, on its own list of dofs. Columns of `row`: dκ, dg, normal, then the
  /// components of ds and of the tangential forces.
  struct Corner {
    std::vector<int> dofs;
    Eigen::MatrixXd row;
    double kappa = 0, gap = 0;
    double lookedOver = 0, distance = 0;  // over all that is within reach
    Point3 slip{0, 0, 0};
    double add = 0;  // Δλ = add + b·du (normal), likewise tangential
    Point3 addT{0, 0, 0};
    Eigen::VectorXd b;
    Eigen::MatrixXd bT;
  };
  void integrate(const Configuration& c, std::vector<Contribution>* out, double* leastGap, Wanted wanted);
  std::vector<char> sidesHeld(const SideContext& context);
  void search(const SideContext& context);
  void meet(const SideContext& context, const std::vector<char>& kinds);
  std::vector<char> mayClose(const std::vector<std::vector<SideIntegral>>& met) const;
  void gather(std::vector<std::vector<SideIntegral>>& met, Wanted wanted, std::vector<Contribution>* out, double* leastGap);
  void turnOldFriction(const Configuration& c, bool slopes);
  /// Derivative of the turned old friction on a corner's dofs (n x T).
  Eigen::MatrixXd oldFrictionSlope(size_t a) const;
  double offset(size_t a) const;
  /// How far a corner gives way under its pressure, mm, and its slope, mm/MPa: gap + offset + value = 0 where it touches.
  struct Compliance {
    double value, slope, energy;  ///< energy per area, N/mm
  };
  Compliance compliance(size_t a) const;
  bool decideNode(size_t a, double largest);
  PairReport judge() const;
  bool keeps() const { return setup_.behaviour == Behaviour::tied || setup_.behaviour == Behaviour::sliding; }
  double frictionBound(double pressure) const;
  double stick(size_t a) const;  ///< MPa/mm
  Point3 frictionTrial(size_t a) const;
  /// No place to stick to yet: the node was open at the increment's start, or has been open since, or only just touched.
  bool firstTouch(size_t a) const { return old_[a].status == Status::open || reopened_[a] || fresh_[a]; }
  bool coulomb() const { return setup_.friction > 0 && setup_.behaviour == Behaviour::touching; }
  bool hasFriction() const { return coulomb() || setup_.behaviour == Behaviour::rough || setup_.behaviour == Behaviour::tied; }
  void condense(size_t a, std::vector<Contribution>& out);

  PairSetup setup_;
  int dim_ = 2, tangents_ = 1;  // components of friction
  double epsilon_ = 0, hardest_ = 0, stiffness_ = 0, young_ = 0, softness_ = 1;
  bool active_ = true, resolves_ = false, soft_ = false, turns_ = true;
  double leastGap_ = 1e300;  ///< pointwise, where the pair was evaluated last
  double interference_ = 0, resolved_ = 1;
  double oldInterference_ = 0, oldResolved_ = 0;  ///< at the start of the increment
  std::vector<NodeState> old_, now_, base_;
  /// How a node's old friction, turned with the surface, changes with the places of three nodes.
  struct Turned {
    std::array<int, 9> dofs{};
    Eigen::Matrix<double, 9, 3> slope;
  };
  std::vector<Point3> oldFriction_;  // turned with the surface since the start of the increment
  std::vector<Turned> turned_;       // per corner; used where old friction is not zero
  /// Bodies that meet at a point meet there, though corners keep a mean of the gap over the faces round them: what the mean is
  /// more than the least, taken off as long as the contact is too small for the mesh.
  std::vector<double> advance_, oldAdvance_;  ///< per corner, mm; in this increment and in the one before
  std::vector<double> curved_;                ///< of that, before it fades; does not grow while the patch touches
  std::vector<double> closest_;               ///< per corner: least gap of the true surfaces over the faces round it
  std::vector<double> stepN_, closed_, initialOverlap_, gap_, totalSlip_;
  std::vector<Point3> stepT_, direction_;
  std::vector<bool> seen_;
  std::vector<int> flips_;      ///< changes between sticking and sliding in this increment
  std::vector<bool> fresh_;     ///< touches without a force as the step begins
  std::vector<bool> reopened_;  ///< opened in this increment: closes again like one that touches for the first time
  std::vector<Corner> corners_;
  /// In space between bodies, per side of the slave: what it meets.
  using Meetings = std::vector<std::vector<Meeting>>;
  Meetings held_;                 ///< by points that stay with the material in the increment; empty: not found, or it slides
  std::vector<char> letGo_;       ///< per side: something slid or opened there in the increment
  std::vector<Point3> heldFrom_;  ///< places of the corners at the increment's start, for which these are
  Meetings met_;                  ///< where the bodies were when they were looked at last
  std::vector<char> metKnown_;    ///< per side: whether that was looked at there
  std::vector<Point3> metAt_;     ///< places of all nodes, now and at the increment's start
  std::vector<int> nodes_;        ///< of both surfaces
  std::vector<std::vector<int>> facing_;  ///< per side: those of the other surface that may be near
  std::vector<Point3> facingFrom_;        ///< places of all nodes when these were sought
  struct Recovered {
    double pressure = 0, area = 0, gap = 0;  ///< integrals
    Point3 friction{0, 0, 0};
    Status status = Status::open;
  };
  std::vector<Recovered> recovered_, opposite_;  ///< per slave.corners and master.corners
  void recover(const Side& side, int facing, const SideIntegral& integral);
  void closeSmoothly();
  std::vector<std::vector<size_t>> patches() const;
  enum class When { atStart, within, after };  ///< of the run; an increment
  void meetWhereClosest(When when);
};

}  // namespace anvil::contact
