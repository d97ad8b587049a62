// Where the unknowns of nodes and bodies stand in a vector over all degrees of freedom: the nodes' displacements, then each
// body's translations and turns, then the turns of slender parts, then what holds carriers and bolts.
#pragma once
#include <Eigen/Core>

namespace anvil::unknowns {

struct Layout {
  int dim = 2;  ///< 2 or 3
  int nodes = 0;
  int bodies = 0;
  int behind = 0;  ///< unknowns behind all others: multipliers, and the bolts' lengths
  /// Bodies that are nodes of slender parts stand behind the first `rigid` ones. Their translations are the node's; their turns
  /// stand behind all whole bodies.
  int rigid = 0, turning = 0;
  const int* turnNode = nullptr;  ///< of each of those

  int nodeDofs() const { return dim * nodes; }
  int turnSize() const { return dim == 2 ? 1 : 3; }
  /// Degrees of freedom of a rigid body: translations, then turns (one about z in the plane; a rotation vector in space).
  int bodySize() const { return dim + turnSize(); }
  /// Where the turns of slender parts begin.
  int firstTurn() const { return nodeDofs() + bodySize() * (bodies - turning); }
  /// Where the bodies' dofs end and those behind begin.
  int bodyEnd() const { return firstTurn() + turnSize() * turning; }
  int dofs() const { return bodyEnd() + behind; }
  /// True for a body that is a node of a slender part.
  bool isNode(int body) const { return body >= rigid && body < rigid + turning; }
  int ofBody(int body, int axis) const {
    if (isNode(body))
      return axis < dim ? dim * turnNode[body - rigid] + axis : firstTurn() + turnSize() * (body - rigid) + axis - dim;
    return nodeDofs() + bodySize() * (body < rigid ? body : body - turning) + axis;
  }
  /// Body of a dof, or -1; translations of nodes belong to none.
  int bodyOf(int dof) const {
    if (dof < nodeDofs() || dof >= bodyEnd()) return -1;
    if (dof >= firstTurn()) return rigid + (dof - firstTurn()) / turnSize();
    const int whole = (dof - nodeDofs()) / bodySize();
    return whole < rigid ? whole : whole + turning;
  }
  /// Axis of a body's dof: translations, then turns.
  int axisOf(int dof) const {
    return dof >= firstTurn() ? dim + (dof - firstTurn()) % turnSize() : (dof - nodeDofs()) % bodySize();
  }
  /// True for a turning dof of a body.
  bool isTurn(int dof) const { return bodyOf(dof) >= 0 && axisOf(dof) >= dim; }
  /// A node's part of a vector over dofs; the third component is 0 in the plane.
  Eigen::Vector3d at(const Eigen::VectorXd& v, int node) const {
    Eigen::Vector3d r = Eigen::Vector3d::Zero();
    for (int k = 0; k < dim; ++k) r[k] = v[dim * node + k];
    return r;
  }
};

}  // namespace anvil::unknowns
