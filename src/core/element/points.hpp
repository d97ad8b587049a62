// The material at the integration points of a block: takes deformation gradients to stresses and tangents and keeps the
// state. Cells know only this interface; it is called once per cell for all of its points.
//
// Plasticity is kept here as plastic strain (small geometry) or as the inverse plastic metric (large); the laws see
// elastic strains only.
#pragma once
#include <memory>
#include <vector>

#include "core/material/laws.hpp"

namespace anvil::element {

enum class Space { planeStrain, planeStress, axisymmetric, solid };

struct Setting {
  Space space = Space::planeStrain;
  bool large = true;     ///< large displacements and strains
  double thickness = 1;  ///< of plane models, mm
};

/// State at an integration point for output.
struct PointOutput {
  material::Vec6 stress;  ///< Cauchy, Mandel
  material::Vec6 strain;  ///< spatial logarithmic (small: linear), Mandel
  double equivalentPlastic = 0, strainEnergy = 0, plasticWork = 0, volume = 0, stretch33 = 1;
  double kirchhoffTrace = 0;  ///< trace of the Kirchhoff stress: what a thermal strain works against, MPa
};

/// Places of the components of F that a cell of this dimension has: in the plane [11, 12, 21, 22, 33], in space row by row.
template <int dim>
struct Layout;
template <>
struct Layout<2> {
  static constexpr int size = 5, row[5] = {0, 0, 1, 1, 2}, column[5] = {0, 1, 0, 1, 2};
};
template <>
struct Layout<3> {
  static constexpr int size = 9, row[9] = {0, 0, 0, 1, 1, 1, 2, 2, 2}, column[9] = {0, 1, 2, 0, 1, 2, 0, 1, 2};
};
template <int dim>
using Components = Eigen::Matrix<double, Layout<dim>::size, 1>;

template <int dim>
material::Mat3 tensorOf(const Components<dim>& F) {
  material::Mat3 m = material::Mat3::Zero();
  for (int a = 0; a < Layout<dim>::size; ++a) m(Layout<dim>::row[a], Layout<dim>::column[a]) = F[a];
  return m;
}

/// First Piola–Kirchhoff stress and its tangent dP/dF at a point.
template <int dim>
struct PointStress {
  Components<dim> P;
  Components<dim> foreseen;  ///< large geometry: P with the pressure that was foreseen in place of its own, as A has it
  Eigen::Matrix<double, Layout<dim>::size, Layout<dim>::size> A;
  double pressure = 0, bulk = 0;  ///< large geometry: mean Kirchhoff stress; with a tangent its derivative by ln J, MPa
  double plasticIncrement = 0;
};

/// State of all points of a block: what was accepted, and the trial.
class Points {
 public:
  virtual ~Points() = default;
  virtual bool symmetric() const = 0;
  void accept() { old_ = now_; }
  void reject() { now_ = old_; }
  const std::vector<double>& state() const { return old_; }
  /// Puts back a stored state. Throws Error when the size does not fit.
  void setState(const std::vector<double>& state);
  /// Thermal logarithmic strain of all points from now on.
  void setThermalStrain(double strain) { thermal_ = strain; }
  double thermalStrain() const { return thermal_; }

 protected:
  std::vector<double> old_, now_;
  double thermal_ = 0;
};

/// Second Piola–Kirchhoff stress and its derivative by the Green–Lagrange strain, Mandel; in small geometry the stress and its
/// derivative by the strain.
struct MetricStress {
  material::Vec6 S;
  material::Mat6 tangent;
  double plasticIncrement = 0;
};

template <int dim>
class PointsIn : public Points {
 public:
  /// Stresses of n points from `first` on; writes the trial state. `elasticTrial` asks for the elastic answer. `foreseen` (may
  /// be null; large geometry): mean Kirchhoff stresses with which the tangents are to be taken.
  virtual void evaluate(size_t first, int n, const Components<dim>* F, bool tangent, bool elasticTrial, const double* foreseen,
                        PointStress<dim>* out) = 0;
  /// The same of strains that come from no gradient (assumed ones): `E` are Green–Lagrange strains (small: linear ones), 1 + 2E
  /// positive definite. In space only.
  virtual void evaluateStrain(size_t first, int n, const material::Mat3* E, bool tangent, bool elasticTrial,
                              MetricStress* out) = 0;
  /// State for output, from the trial state of the last evaluation.
  virtual void output(size_t first, int n, const Components<dim>* F, PointOutput* out) const = 0;
};

/// The points of a law; plane stress wraps it.
template <int dim>
std::unique_ptr<PointsIn<dim>> makePoints(size_t count, const Setting& setting, const material::AnyLaw& law);
template <>
std::unique_ptr<PointsIn<2>> makePoints<2>(size_t count, const Setting& setting, const material::AnyLaw& law);
template <>
std::unique_ptr<PointsIn<3>> makePoints<3>(size_t count, const Setting& setting, const material::AnyLaw& law);

}  // namespace anvil::element
