// A block of solid elements of one type, one material and one part, behind an interface without types.
#pragma once
#include <memory>
#include <string>
#include <vector>

#include "core/material/laws.hpp"
#include "core/mesh/mesh.hpp"

namespace anvil::element {

enum class Space { planeStrain, planeStress, axisymmetric, solid };

struct Setting {
  Space space = Space::planeStrain;
  bool large = true;        ///< large displacements and strains
  double thickness = 1;     ///< of plane models, mm
};

/// What an element evaluation found out.
struct ElementReport {
  bool inverted = false;         ///< det F <= 0 at a point
  double plasticIncrement = 0;   ///< largest in the element
};

/// State at an integration point for output.
struct PointOutput {
  material::Vec6 stress;   ///< Cauchy, Mandel
  material::Vec6 strain;   ///< spatial logarithmic (small: linear), Mandel
  double equivalentPlastic = 0, strainEnergy = 0, plasticWork = 0, volume = 0, stretch33 = 1;
};

/// Most degrees of freedom that any cell has.
inline constexpr int mostDofs = 60;

class Block {
public:
  virtual ~Block() = default;

  const mesh::Block& cells() const { return cells_; }
  int dofs() const { return mesh::info(cells_.type).dim * mesh::info(cells_.type).nodes; }
  virtual bool symmetric() const = 0;

  /// Internal force r (dofs) and tangent K (dofs x dofs, column major; may be null) of a cell at displacements u (dofs,
  /// node by node). Writes the trial state. `elasticTrial` asks for the elastic answer from the old state.
  virtual ElementReport integrate(size_t cell, const double* u, double* r, double* K, bool elasticTrial) = 0;

  /// State at the cell's integration points, from the trial state of the last call of integrate.
  virtual void output(size_t cell, const double* u, PointOutput* points) const = 0;

  /// Lumped volume (solid: its own; plane: area x thickness, or 2πr x area) of each node of a cell, for stabilisation.
  virtual void lumpedVolume(size_t cell, double* perNode) const = 0;

  void accept() { old_ = now_; }     ///< the trial state becomes the old one
  void reject() { now_ = old_; }
  const std::vector<double>& state() const { return old_; }
  /// Puts back a stored state. Throws Error when the size does not fit.
  void setState(const std::vector<double>& state);

protected:
  explicit Block(mesh::Block cells) : cells_(std::move(cells)) {}
  mesh::Block cells_;
  std::vector<double> old_, now_;
};

/// Solid elements with a law. For plane stress the law is wrapped. `x` are the mesh's node coordinates.
std::unique_ptr<Block> makeBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting,
                                 const material::ElasticLaw& law);
std::unique_ptr<Block> makeBlock(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting,
                                 const material::J2Law& law);

}  // namespace anvil::element
