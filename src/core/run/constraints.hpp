// Which motions are prescribed in a step, and the numbering of what is left to solve for.
#pragma once
#include <vector>

#include "core/problem/problem.hpp"

namespace anvil::analysis {

/// Prescribed directions per node. A node with oblique directions gets its own frame, whose first axes span them; others
/// use the global axes. A body's dof is given (it stands still) unless it is loose or loaded and nothing moves it.
class Constraints {
 public:
  /// Gathers the motions that act in a step. Throws Error when two contradict each other at a node.
  Constraints(const Problem& problem, int step);

  /// Equation of a local dof, or -1 when it is prescribed.
  int equation(int dof) const { return equation_[size_t(dof)]; }
  int equations() const { return count_; }
  const std::vector<int>& equationOfDof() const { return equation_; }

  bool framed(int node) const { return frame_[size_t(node)] >= 0; }
  bool anyFrame() const { return !frames_.empty(); }
  /// Columns: the node's own axes in global components.
  auto frame(int node) const { return frames_[size_t(frame_[size_t(node)])].topLeftCorner(problem_.dim(), problem_.dim()); }

  /// Takes a vector over dofs from global to local components, or back.
  void toLocal(VectorXd& v) const;
  void toGlobal(VectorXd& v) const;

  /// Total displacement of every prescribed dof (local components) at a time; others keep their entry in `u`.
  void prescribe(const Instant& time, const VectorXd& startOfStep, VectorXd& localU) const;

  /// What each motion or support that prescribes a direction at a node contributes to the node's reaction: forces along their own
  /// directions whose sum is the reaction. Held twice in one direction, a node's force is the first motion's, else the first
  /// support's.
  struct Held {
    int motion;
    Vector3d force;
  };
  std::vector<Held> held(int node, const Vector3d& reaction) const;

  /// A pair of nodes on either side of a thin part's edge, held or moved in the mean along a direction, by a multiplier.
  struct Hinged {
    int motion;
    int upper, lower;
    Vector3d direction;
    int multiplier;  ///< its dof
  };
  const std::vector<Hinged>& hinges() const { return hinges_; }
  /// Mean displacement along its direction that a hinge is to have.
  double value(const Hinged& hinge, const Instant& time, const VectorXd& startOfStep) const;
  /// Motions whose hinges find nothing to hold: both sides are prescribed in their direction by others wherever they act.
  const std::vector<int>& idleHinges() const { return idle_; }
  /// Equations behind those of nodes and bodies.
  int equationsBehind() const { return behind_; }

 private:
  struct Given {
    int motion;
    Vector3d direction;
  };
  double value(int motion, int node, const Vector3d& direction, const Instant& time, const VectorXd& start) const;
  void give(int node, int motion, const Vector3d& direction, int step);
  void giveBody(int body, int axis, int motion, int step);
  void hinge(int step);
  bool spans(int node, const Vector3d& direction) const;
  bool loaded(int body, int axis, int step) const;
  const Problem& problem_;
  double begin_;
  std::vector<int> equation_, frame_;
  std::vector<Eigen::Matrix3d> frames_;
  std::vector<std::vector<Given>> given_;  ///< per node
  std::vector<int> rigidMotion_;           ///< per rigid dof: motion or -1
  std::vector<Hinged> hinges_;
  std::vector<int> idle_;
  int count_ = 0, behind_ = 0;
};

}  // namespace anvil::analysis
