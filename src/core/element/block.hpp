// A block of solid elements of one type, one material and one part, behind an interface without types.
#pragma once
#include <memory>
#include <string>
#include <vector>

#include "core/element/points.hpp"
#include "core/mesh/mesh.hpp"

namespace anvil::element {

/// What an element evaluation found out.
struct ElementReport {
  bool inverted = false;        ///< det F <= 0 at a point
  double plasticIncrement = 0;  ///< largest in the element
};

/// What rounding makes of a cell's nodal forces, from its shape and its stiffest modulus M: Σ M |∇N| dV per unit error of
/// the strain (N), and Σ M |∇N|² dV per mm of displacement that is off by that part (N/mm).
struct Rounding {
  double perStrain = 0, perShift = 0;
};

/// Newton's method with the pressure foreseen: where the volume is stiff and the shape soft (rubber), the second-order error that
/// an iteration makes of the volume puts pressures into the next tangent that nothing in the body has. Cells of one dilatation
/// then foresee the pressure linearly from the last tangent on, as if it were an unknown of its own, and take the tangent with
/// it; the residual stays the true one, and so does the result (D. Magisano, L. Leonetti, G. Garcea, CMAME 313, 2017, who do so
/// with all stresses). Forgotten by accept and reject.
struct Foresight {
  double ahead =
      -1;  ///< without a tangent: forces are those of the pressures foreseen at this share of the correction; < 0: true
  double* shift = nullptr;  ///< with a tangent (dofs): the forces of the pressures foreseen less the true ones
};

/// Most degrees of freedom that any cell has.
inline constexpr int mostDofs = 60;

class Block {
 public:
  virtual ~Block() = default;

  const mesh::Block& cells() const { return cells_; }
  int dofs() const { return mesh::info(cells_.type).dim * mesh::info(cells_.type).nodes; }
  virtual Points& points() = 0;  ///< the material at the cells' points
  virtual const Points& points() const = 0;
  bool symmetric() const { return points().symmetric(); }

  /// Internal force r (dofs) and tangent K (dofs x dofs, column major; may be null) of a cell at displacements u (dofs,
  /// node by node). Writes the trial state. `elasticTrial` asks for the elastic answer from the old state.
  virtual ElementReport integrate(size_t cell, const double* u, double* r, double* K, bool elasticTrial,
                                  const Foresight& foresight = {}) = 0;
  /// Whether cells foresee their pressure.
  virtual bool foresees() const = 0;

  /// State at the cell's integration points, from the trial state of the last call of integrate.
  virtual void output(size_t cell, const double* u, PointOutput* points) const = 0;

  /// Lumped volume (solid: its own; plane: area x thickness, or 2πr x area) of each node of a cell, for stabilisation.
  virtual void lumpedVolume(size_t cell, double* perNode) const = 0;

  /// Least det F over the cell's points at displacements u; negative where a point is turned inside out. 1 in small geometry.
  virtual double leastVolume(size_t cell, const double* u) const = 0;

  virtual Rounding rounding(size_t cell) const = 0;

  virtual void accept() { points().accept(); }  ///< the trial state becomes the old one
  virtual void reject() { points().reject(); }
  /// What an increment leaves in the cells, for going on from there.
  virtual std::vector<double> state() const { return points().state(); }
  /// Puts back a stored state. Throws Error when the size does not fit.
  virtual void setState(const std::vector<double>& state) { points().setState(state); }

 protected:
  explicit Block(mesh::Block cells) : cells_(std::move(cells)) {}
  mesh::Block cells_;
};

/// Solid or thin elements with a law. `x` are the mesh's node coordinates. Throws Error for a folded cell.
std::unique_ptr<Block> makeBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting,
                                 const material::AnyLaw& law);

}  // namespace anvil::element
