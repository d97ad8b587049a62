// The numerical problem: the document and its mesh lowered to flat arrays. The solver sees only this.
#pragma once
#include <Eigen/Core>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/contact/pair.hpp"
#include "core/element/block.hpp"
#include "core/mesh/mesh.hpp"
#include "core/model/timed_course.hpp"
#include "core/problem/bolt.hpp"
#include "core/problem/carrier.hpp"
#include "core/problem/slender.hpp"
#include "core/unknowns/layout.hpp"

namespace anvil::analysis {

using Eigen::Vector3d;
using Eigen::VectorXd;

struct StepPlan {
  std::string name;
  double begin = 0, end = 0;
  double first, smallest, largest;  ///< increment sizes as parts of the step
  int most;
  bool arcLength = false;              ///< the share of the loading is found with the displacements
  int untilWatch = -1, untilAxis = 0;  ///< arc length: ends when this watched point's displacement passes `untilValue`
  double untilValue = 0;
  std::vector<double> stops = {};  ///< times at which an increment ends
};

/// When courses are read. In arc-length steps the share of a step's loading is an unknown, which may fall again and go
/// below zero: courses then run along the straight line through their values at the step's ends.
struct Instant {
  double time = 0;
  double begin = 0, end = 1;  ///< of the step; needed with a share only
  std::optional<double> share;

  Instant() = default;
  Instant(double t) : time(t) {}
  Instant(double t, const StepPlan& step) : time(t), begin(step.begin), end(step.end) {}
  /// Value of a course.
  double of(const model::TimedCourse& c) const {
    if (!share) return c.curve(time);
    const double a = start(c, begin);
    return a + *share * (c.curve(end) - a);
  }
  /// Change of a course since the step's begin (just after it: a jump there counts as done before).
  double change(const model::TimedCourse& c, double stepBegin) const {
    return of(c) - c.curve(stepBegin + 1e-12 * ((share ? end : time) - stepBegin));
  }
  double stepShare() const { return share ? *share : (time - begin) / (end - begin); }

 private:
  double start(const model::TimedCourse& c, double at) const { return c.curve(at + 1e-12 * (end - at)); }
};

/// A motion or support on nodes or a rigid body: displacement along `direction` follows the course. A turn moves its
/// nodes on circles about an axis; the course is the angle.
struct Motion {
  std::string name;
  bool support = false;
  std::vector<int> nodes;
  std::vector<Vector3d> direction;  ///< one per node (turn: none)
  std::vector<int> opposite;        ///< hinged edges of thin parts: the nodes of the other side; each pair moves in the mean
  bool turn = false;
  Vector3d about{0, 0, 0}, axis{0, 0, 1};
  int body = -1, bodyAxis = 0;  ///< translations first, then turns
  bool anyAxis = false;         ///< a body's turn about `axis`, all three turns prescribed together
  model::TimedCourse course;
};

/// Two nodes on either side of a thin part's edge that a hinge holds or moves in the mean.
struct HingePair {
  int upper, lower;
  int first;  ///< of its multipliers, one per direction
};

struct Load {
  std::string name;
  bool pressure = true, moment = false;
  bool perLength = false;  ///< the value is a force per length, and the nodes' shares are lengths, mm
  int body = -1;           ///< the force or moment acts on a body
  std::vector<mesh::Facet> facets;
  std::vector<int> nodes;     ///< of edges or corners, in place of facets, with
  std::vector<double> share;  ///< each node's share
  std::vector<int> opposite;  ///< a moment along the edge of a sheet: nodes on its lower side; those in `nodes` are on its upper
  Vector3d direction{0, 0, 0};
  model::TimedCourse course;
};

struct Stabilisation {
  std::string name;
  VectorXd viscosity;  ///< per dof, N s/mm
  std::vector<bool> active;
};

struct ContactPlan {
  std::vector<bool> active;
  model::TimedCourse interference;
  bool hasInterference = false;
  int resolveStep = -1;
};

/// A change of temperature of some blocks.
struct Temperature {
  std::string name;
  std::vector<double> expansion;  ///< per block, then per line of slender parts; 0 where it does not act
  model::TimedCourse rise;
};

struct WatchPoint {
  std::string name;
  int node;
  int opposite = -1;  ///< in the middle of a thin part: the node of its other side; the point moves as both do in the mean
  int body = -1;      ///< on a slender part: what turns there
};

struct Control {
  double forceTolerance, correctionTolerance, growth, cutback, plasticStrainLimit;
  int mostIterations, fewestIterations, easyIterations;
  bool lineSearch, predictor;
};

/// Everything the solver needs. Not copyable: it holds the state of elements and contacts.
struct Problem {
  Problem();
  ~Problem();
  mesh::Mesh mesh;
  element::Setting setting;
  std::vector<std::unique_ptr<element::Block>> blocks;  ///< parallel to mesh.blocks
  std::vector<Slender> slender;                         ///< parallel to mesh.lines
  std::vector<contact::RigidBody> rigid;
  std::vector<int> rigidPart;  ///< part index of each rigid outline
  std::vector<Body> bodies;    ///< the rigid parts, then the turns of slender parts, then the carriers' points
  std::vector<Carrier> carriers;
  std::vector<Spring> springs;
  std::vector<Bolt> bolts;
  std::vector<HingePair> hinges;
  double hingeScale = 1;  ///< of their multipliers, N/mm
  int multipliers = 0;    ///< unknowns that hold the carriers, the bolts' cuts and the hinges
  int lengthsBehind = 0;  ///< those among them that are lengths, no multipliers
  std::vector<contact::Pair> pairs;
  std::vector<ContactPlan> contactPlans;
  std::vector<Motion> motions;
  std::vector<Load> loads;
  std::vector<Stabilisation> stabilisations;
  std::vector<Temperature> temperatures;
  std::vector<StepPlan> steps;
  std::vector<WatchPoint> watch;
  Control control{};
  double youngScale = 1;          ///< a typical Young's modulus
  std::vector<double> partYoung;  ///< per part; 0 for rigid ones

  /// Where unknowns stand in vectors.
  unknowns::Layout layout() const {
    return {mesh.dim,          int(mesh.x.size()),        int(bodies.size()),  multipliers,
            int(rigid.size()), int(mesh.turnNode.size()), mesh.turnNode.data()};
  }
  int dim() const { return mesh.dim; }
  int nodeCount() const { return int(mesh.x.size()); }
  int nodeDofs() const { return layout().nodeDofs(); }
  int rigidSize() const { return layout().bodySize(); }
  int dofs() const { return layout().dofs(); }
  int bodyEnd() const { return layout().bodyEnd(); }
  int rigidDof(int body, int axis) const { return layout().ofBody(body, axis); }
  int bodyOf(int dof) const { return layout().bodyOf(dof); }
  bool isTurn(int dof) const { return layout().isTurn(dof); }
  /// The body that a turn of slender parts is; its node moves it along.
  int bodyOfTurn(int turn) const { return int(rigid.size()) + turn; }
  bool isNodeBody(int body) const { return layout().isNode(body); }
  /// A body's shift and turn in a vector over dofs; in the plane the turn is about z.
  Vector3d shiftOf(const VectorXd& v, int body) const {
    Vector3d s = Vector3d::Zero();
    for (int k = 0; k < dim(); ++k) s[k] = v[rigidDof(body, k)];
    return s;
  }
  Vector3d turnOf(const VectorXd& v, int body) const {
    if (dim() == 2) return {0, 0, v[rigidDof(body, 2)]};
    return v.segment<3>(rigidDof(body, 3));
  }
  Vector3d at(const VectorXd& v, int node) const { return layout().at(v, node); }
  Vector3d at(const VectorXd& v, const WatchPoint& w) const {
    return w.opposite < 0 ? at(v, w.node) : Vector3d((at(v, w.node) + at(v, w.opposite)) / 2);
  }
  /// Where a watched point is in the undeformed model.
  Vector3d placeOf(const WatchPoint& w) const {
    return w.opposite < 0 ? mesh.x[size_t(w.node)] : Vector3d((mesh.x[size_t(w.node)] + mesh.x[size_t(w.opposite)]) / 2);
  }
  contact::Depth depth() const { return {setting.space == element::Space::axisymmetric, setting.thickness}; }
  /// Names of the axes: x y, r z, or x y z.
  const char* axis(int i) const {
    if (setting.space == element::Space::axisymmetric) return i ? "z" : "r";
    return i == 0 ? "x" : i == 1 ? "y" : "z";
  }
  /// A typical width of the model's cells, mm.
  double sizeScale() const;
  /// "part 'sleeve' near r 12.3, z 4.5" for a node.
  std::string whereIs(int node) const;
};

}  // namespace anvil::analysis
