// Slender cells of one line: beams with two nodes, geometrically exact, shear-flexible, with sections of fibres.
#pragma once
#include <Eigen/Core>
#include <memory>
#include <vector>

#include "core/geometry/slender.hpp"
#include "core/material/fibre.hpp"

namespace anvil::element {

/// One end of a slender cell: forces on its section in the section's own axes, what they do to it.
struct BeamEnd {
  double normal = 0, shearUp = 0, shearAcross = 0;              ///< N
  double torque = 0, momentUp = 0, momentAcross = 0;            ///< N mm; positive where it bends towards up (across)
  double stretch = 0, twist = 0, curveUp = 0, curveAcross = 0;  ///< of the line; 1/mm
  double greatest = 0, least = 0;                               ///< direct stress at points of the section, MPa
  double plastic = 0;                                           ///< greatest equivalent plastic strain
  double yielded = 0;                                           ///< share of the section that has yielded
};

struct BeamReport {
  bool failed = false;  ///< no state of the section was found, or the ends turned against each other by more than it can follow
  double plasticIncrement = 0;
};

/// A line of beams. Places and turns are in global axes; a turn is a rotation vector. In the plane only what lies in it acts.
///
/// Strains are those of J. Simo, L. Vu-Quoc (CMAME 58, 1986), taken once per cell from the chord and the rotation half-way
/// between the ends' along their shortest turn, which any rigid turn leaves as they are (M. Crisfield, G. Jelenić, Proc. R. Soc.
/// A 455, 1999). Within the cell forces and moments follow from its ends' by balance, as in beams by forces (E. Spacone,
/// F. Filippou, F. Taucer, Earthq. Eng. Struct. Dyn. 25, 1996): sections at both ends and the middle (Lobatto) answer with the
/// strains that go with them. Elastic cells are then exact at their ends for small turns, and the moment that makes a hinge is
/// met at the end itself. Shear and torsion are elastic.
class Beams {
 public:
  struct Setting {
    bool plane = false, large = true;
    geometry::Carries carries = geometry::Carries::all;
    double tension = 0;  ///< at the start, N
  };
  virtual ~Beams() = default;

  size_t count() const { return lengths_.size(); }
  bool bar() const { return setting_.carries != geometry::Carries::all; }
  double length(size_t cell) const { return lengths_[cell]; }
  const material::FibreLaw& law() const { return law_; }
  const geometry::SectionShape& section() const { return section_; }
  /// Degrees of freedom of a cell: shift and turn of one end, then of the other; of bars their shifts alone.
  int dofs() const { return bar() ? (setting_.plane ? 4 : 6) : setting_.plane ? 6 : 12; }

  /// Force r (dofs) and tangent K (dofs x dofs, column major; may be null) at displacements q (dofs). Writes the trial state.
  virtual BeamReport integrate(size_t cell, const double* q, double* r, double* K, bool elasticTrial) = 0;
  /// Both ends, from the trial state of the last call of integrate.
  virtual void output(size_t cell, BeamEnd ends[2]) const = 0;
  /// Elastic energy and plastic work so far, N mm, of the trial state.
  virtual void energies(size_t cell, double& elastic, double& plastic) const = 0;
  void setThermalStrain(double strain) { thermal_ = strain; }
  double thermalStrain() const { return thermal_; }

  virtual void accept() = 0;
  virtual void reject() = 0;
  virtual std::vector<double> state() const = 0;
  /// Throws Error when the size does not fit.
  virtual void setState(const std::vector<double>& state) = 0;

 protected:
  Beams(const geometry::SlenderLine& line, const geometry::SectionShape& section, const material::FibreLaw& law,
        const Setting& setting);
  geometry::SectionShape section_;
  material::FibreLaw law_;
  Setting setting_;
  std::vector<double> lengths_;
  std::vector<Eigen::Matrix3d> frames_;  ///< undeformed: along, up, across
  double thermal_ = 0;
};

/// Bars and stays: a normal force along the line between their ends. For makeBeams.
std::unique_ptr<Beams> makeBars(const geometry::SlenderLine& line, const geometry::SectionShape& section,
                                const material::FibreLaw& law, const Beams::Setting& setting);

/// `line`: as it lies in the model.
std::unique_ptr<Beams> makeBeams(const geometry::SlenderLine& line, const geometry::SectionShape& section,
                                 const material::FibreLaw& law, const Beams::Setting& setting);

}  // namespace anvil::element
