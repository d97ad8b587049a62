// Where the unknowns of nodes and bodies stand in a vector over all degrees of freedom: the nodes' displacements, then each
// body's translations and turns, then what holds carriers and bolts.
#pragma once
#include <Eigen/Core>

namespace anvil::unknowns {

struct Layout {
  int dim = 2;  ///< 2 or 3
  int nodes = 0;
  int bodies = 0;
  int behind = 0;  ///< unknowns behind all others: multipliers, and the bolts' lengths

  int nodeDofs() const { return dim * nodes; }
  /// Degrees of freedom of a rigid body: translations, then turns (one about z in the plane; a rotation vector in space).
  int bodySize() const { return dim == 2 ? 3 : 6; }
  /// Where the bodies' dofs end and those behind begin.
  int bodyEnd() const { return nodeDofs() + bodySize() * bodies; }
  int dofs() const { return bodyEnd() + behind; }
  int ofBody(int body, int axis) const { return nodeDofs() + bodySize() * body + axis; }
  /// Body of a dof, or -1.
  int bodyOf(int dof) const { return dof >= nodeDofs() && dof < bodyEnd() ? (dof - nodeDofs()) / bodySize() : -1; }
  /// True for a turning dof of a body.
  bool isTurn(int dof) const { return bodyOf(dof) >= 0 && (dof - nodeDofs()) % bodySize() >= dim; }
  /// A node's part of a vector over dofs; the third component is 0 in the plane.
  Eigen::Vector3d at(const Eigen::VectorXd& v, int node) const {
    Eigen::Vector3d r = Eigen::Vector3d::Zero();
    for (int k = 0; k < dim; ++k) r[k] = v[dim * node + k];
    return r;
  }
};

}  // namespace anvil::unknowns
