#include "core/element/beam.hpp"

#include <Eigen/Geometry>
#include <Eigen/LU>
#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/error.hpp"
#include "core/element/beam_strains.hpp"

namespace anvil::element {
namespace {

using material::FibreState;

/// Sections within a cell: Lobatto's three.
constexpr int sections = 3;
constexpr double sectionAt[sections] = {-1, 0, 1}, sectionShare[sections] = {1. / 6, 2. / 3, 1. / 6};

/// Which strains act: in the plane stretch, shear up, curvature about across; in space all six.
template <bool plane>
struct Acting {
  static constexpr int forces = plane ? 3 : 6, bending = plane ? 2 : 3, variables = plane ? 4 : 9, dofs = plane ? 6 : 12;
  static constexpr std::array<int, 6> strain = plane ? std::array<int, 6>{0, 1, 5} : std::array<int, 6>{0, 1, 2, 3, 4, 5};
};

template <bool plane>
class Line final : public Beams {
  using K = Acting<plane>;
  using Force = Eigen::Matrix<double, K::forces, 1>;  ///< normal, shear up (shear across, torque, moments) of the middle
  using Stiffness = Eigen::Matrix<double, K::forces, K::forces>;
  using Bend = Eigen::Matrix<double, K::bending, 1>;  ///< of a section: stretch, curvatures; or what is conjugate to them
  using BendStiffness = Eigen::Matrix<double, K::bending, K::bending>;
  using ToSection = Eigen::Matrix<double, K::bending, K::forces>;

  struct Cell {
    Force force = Force::Zero();
    std::array<Bend, sections> bend;
    std::vector<FibreState> fibres;  ///< section by section; none where nothing yields
    double work = 0;                 ///< plastic, so far
  };

 public:
  Line(const geometry::SlenderLine& line, const geometry::SectionShape& section, const material::FibreLaw& law,
       const Setting& setting)
      : Beams(line, section, law, setting), old_(count()), now_(count()) {
    const auto& s = section_;
    const double E = law_.young, G = law_.shear;
    strain0_ = setting_.tension / (E * s.area);
    for (auto& f : s.fibres) places_.push_back(place(f.up, f.across));
    elastic_.setZero();
    for (size_t i = 0; i < places_.size(); ++i) elastic_ += E * s.fibres[i].area * places_[i] * places_[i].transpose();
    compliance_.setZero();
    const double GJ = G * s.torsion, y = s.middle.y(), z = s.middle.x();
    compliance_(1, 1) = 1 / (G * s.shearUp);
    if constexpr (!plane) {
      compliance_(2, 2) = 1 / (G * s.shearAcross);
      const Eigen::Vector3d arm(z, -y, 1);  // of shear up, shear across and torque about the section's middle
      compliance_.template block<3, 3>(1, 1) += arm * arm.transpose() / GJ;
    }
    for (size_t c = 0; c < count(); ++c) {
      old_[c].bend.fill(Bend::Zero());
      if (law_.yields) old_[c].fibres.resize(size_t(sections) * places_.size());
    }
    now_ = old_;
  }

  BeamReport integrate(size_t c, const double* q, double* r, double* Kout, bool elasticTrial) override {
    return Kout ? evaluate<2>(c, q, r, Kout, elasticTrial) : evaluate<1>(c, q, r, Kout, elasticTrial);
  }

  void output(size_t c, BeamEnd ends[2]) const override {
    const auto& cell = now_[c];
    for (int e = 0; e < 2; ++e) {
      const int s = e == 0 ? 0 : sections - 1;
      BeamEnd& end = ends[e];
      end = {};
      const Bend forces = toSection(sectionAt[s], lengths_[c]) * cell.force, &bend = cell.bend[size_t(s)];
      end.normal = cell.force[0], end.shearUp = cell.force[1];
      end.stretch = bend[0];
      if constexpr (plane) {
        end.momentUp = forces[1], end.curveUp = bend[1];
      } else {
        end.shearAcross = cell.force[2], end.torque = cell.force[3], end.momentUp = forces[2], end.momentAcross = -forces[1];
        end.curveUp = bend[2], end.curveAcross = -bend[1];
        end.twist = (compliance_ * cell.force)[3];
      }
      end.greatest = -1e300, end.least = 1e300;
      for (size_t i = 0; i < places_.size(); ++i) {
        FibreState scratch;
        const auto& was = law_.yields ? old_[c].fibres[size_t(s) * places_.size() + i] : FibreState();
        const double stress = law_.respond(fibreStrain(i, bend), was, scratch, false).stress;
        end.greatest = std::max(end.greatest, stress), end.least = std::min(end.least, stress);
        end.plastic = std::max(end.plastic, scratch.alpha);
        if (scratch.alpha > 0) end.yielded += section_.fibres[i].area / section_.area;
      }
    }
  }

  void energies(size_t c, double& elastic, double& plastic) const override {
    const auto& cell = now_[c];
    const double L = lengths_[c];
    elastic = L / 2 * cell.force.dot(compliance_ * cell.force), plastic = old_[c].work;
    for (int s = 0; s < sections; ++s)
      for (size_t i = 0; i < places_.size(); ++i) {
        FibreState scratch;
        const auto& was = law_.yields ? old_[c].fibres[size_t(s) * places_.size() + i] : FibreState();
        const auto r = law_.respond(fibreStrain(i, cell.bend[size_t(s)]), was, scratch, false);
        const double volume = L * sectionShare[s] * section_.fibres[i].area;
        elastic += volume * r.strainEnergy, plastic += volume * r.plasticWork;
      }
  }

  void accept() override {
    double elastic;
    for (size_t c = 0; c < count() && law_.yields; ++c) energies(c, elastic, now_[c].work);
    old_ = now_;
  }
  void reject() override { now_ = old_; }

  std::vector<double> state() const override {
    std::vector<double> all;
    for (const auto& c : old_) {
      all.push_back(c.work), all.insert(all.end(), c.force.begin(), c.force.end());
      for (const auto& b : c.bend) all.insert(all.end(), b.begin(), b.end());
      for (const auto& f : c.fibres) {
        all.push_back(f.plastic), all.push_back(f.alpha);
        for (size_t k = 0; k < backs(); ++k) all.push_back(f.back[k]);
      }
    }
    return all;
  }
  void setState(const std::vector<double>& all) override {
    size_t at = 0;
    const auto next = [&](double& v) {
      if (at >= all.size()) throw Error("the stored state of a slender part does not fit", {}, "Run from the start.");
      v = all[at++];
    };
    for (auto& c : old_) {
      next(c.work);
      for (double& v : c.force) next(v);
      for (auto& b : c.bend)
        for (double& v : b) next(v);
      for (auto& f : c.fibres) {
        next(f.plastic), next(f.alpha);
        for (size_t k = 0; k < backs(); ++k) next(f.back[k]);
      }
    }
    if (at != all.size()) throw Error("the stored state of a slender part does not fit", {}, "Run from the start.");
    now_ = old_;
  }

 private:
  /// With second derivatives of the strains the tangent is written, too.
  template <int order>
  BeamReport evaluate(size_t c, const double* q, double* r, double* Kout, bool elasticTrial) {
    double variables[K::variables], soundness;
    constexpr int dim = plane ? 2 : 3, turns = plane ? 1 : 3, half = dim + turns;
    for (int k = 0; k < dim; ++k) variables[k] = q[half + k] - q[k];
    for (int k = 0; k < turns; ++k) variables[dim + k] = q[dim + k], variables[dim + turns + k] = q[half + dim + k];
    const auto e = beamStrains<K::variables, order>(frames_[c], lengths_[c], variables, setting_.large, soundness);
    BeamReport report;
    Force strain;
    for (int i = 0; i < K::forces; ++i) strain[i] = e[size_t(K::strain[size_t(i)])].value;
    Stiffness stiffness;
    if (soundness < 0.3 || !strain.allFinite() || !balance(c, strain, elasticTrial, stiffness)) {
      report.failed = true;
      return report;
    }
    const double L = lengths_[c];
    for (size_t i = 0; i < now_[c].fibres.size(); ++i)
      report.plasticIncrement = std::max(report.plasticIncrement, now_[c].fibres[i].alpha - old_[c].fibres[i].alpha);
    Eigen::Matrix<double, K::forces, K::variables> B;
    for (int i = 0; i < K::forces; ++i) B.row(i) = e[size_t(K::strain[size_t(i)])].first.transpose();
    const Eigen::Matrix<double, K::variables, 1> g = L * B.transpose() * now_[c].force;
    // which variable, and with which sign, a degree of freedom is
    int variable[K::dofs];
    double sign[K::dofs];
    for (int k = 0; k < K::dofs; ++k) {
      const int end = k / half, at = k % half;
      variable[k] = at < dim ? at : at + end * turns, sign[k] = at < dim && end == 0 ? -1 : 1;
    }
    for (int k = 0; k < K::dofs; ++k) r[k] = sign[k] * g[variable[k]];
    if constexpr (order == 2) {
      Eigen::Matrix<double, K::variables, K::variables> H = L * B.transpose() * stiffness * B;
      for (int i = 0; i < K::forces; ++i) H += L * now_[c].force[i] * e[size_t(K::strain[size_t(i)])].second;
      for (int k = 0; k < K::dofs; ++k)
        for (int i = 0; i < K::dofs; ++i) Kout[k * K::dofs + i] = sign[i] * sign[k] * H(variable[i], variable[k]);
    }
    return report;
  }

  /// What a section's strains make of a fibre: stretch + across × curvature about up - up × curvature about across.
  static Bend place(double up, double across) {
    if constexpr (plane)
      return Bend(1, -up);
    else
      return Bend(1, across, -up);
  }
  /// Forces and moments of a section at -1 to 1 of the cell, from those of its middle: moments' slopes are the shears.
  static ToSection toSection(double at, double length) {
    ToSection b = ToSection::Zero();
    b(0, 0) = 1;
    if constexpr (plane)
      b(1, 2) = 1, b(1, 1) = -length / 2 * at;
    else
      b(1, 4) = b(2, 5) = 1, b(1, 2) = length / 2 * at, b(2, 1) = -length / 2 * at;
    return b;
  }
  double fibreStrain(size_t i, const Bend& bend) const { return places_[i].dot(bend) + strain0_ - thermal_; }
  size_t backs() const { return !law_.terms.empty() ? law_.terms.size() : law_.kinematicShare > 0 ? 1 : 0; }

  /// A section's answer to its strains.
  void answer(size_t c, int s, const Bend& bend, bool elasticTrial, Bend& force, BendStiffness& stiffness) {
    if (!law_.yields) {
      Bend offset = Bend::Zero();
      offset[0] = strain0_ - thermal_;
      force = elastic_ * (bend + offset), stiffness = elastic_;
      return;
    }
    force.setZero(), stiffness.setZero();
    const size_t first = size_t(s) * places_.size();
    for (size_t i = 0; i < places_.size(); ++i) {
      const auto r = law_.respond(fibreStrain(i, bend), old_[c].fibres[first + i], now_[c].fibres[first + i], elasticTrial);
      const double area = section_.fibres[i].area;
      force += area * r.stress * places_[i];
      stiffness.noalias() += area * r.tangent * places_[i] * places_[i].transpose();
    }
  }

  /// Finds the forces and the sections' strains that belong to a cell's strains, from where the last call ended. Newton's method
  /// on all of them at once (A. Neuenhofer, F. Filippou, J. Struct. Eng. 123, 1997); where it does not settle, from the
  /// increment's start on a way of small pieces. False when that fails, too.
  bool balance(size_t c, const Force& strain, bool elasticTrial, Stiffness& stiffness) {
    const Cell before = now_[c];
    for (int pieces : {1, 8, 64}) {
      if (pieces > 1) now_[c] = old_[c];
      const Force from = pieces > 1 ? strainOf(c) : Force::Zero();
      bool found = true;
      for (int k = 1; k <= pieces && found; ++k)
        found = settle(c, k == pieces ? strain : Force(from + double(k) / pieces * (strain - from)), elasticTrial, stiffness);
      if (found) return true;
    }
    now_[c] = before;
    return false;
  }

  /// The cell's strains that its forces and its sections' strains stand for.
  Force strainOf(size_t c) const {
    Force e = compliance_ * now_[c].force;
    for (int s = 0; s < sections; ++s)
      e += sectionShare[s] * toSection(sectionAt[s], lengths_[c]).transpose() * now_[c].bend[size_t(s)];
    return e;
  }

  /// One call is Newton's method for the least of a convex potential (that of the sections and of shear and torsion) among the
  /// strains that make up the cell's. Once a full step has met these, steps that go past the least are shortened.
  bool settle(size_t c, const Force& strain, bool elasticTrial, Stiffness& stiffness) {
    auto& cell = now_[c];
    const double reach = std::max(section_.height, section_.width);
    constexpr double floor = 1e-7;  // of the elastic stiffness: sections without any are still solved for
    std::array<ToSection, sections> b;
    for (size_t i = 0; i < sections; ++i) b[i] = toSection(sectionAt[i], lengths_[c]);
    std::array<Bend, sections> left, step;
    std::array<BendStiffness, sections> k;
    Force forceStep = Force::Zero();
    const auto answers = [&] {
      for (int s = 0; s < sections; ++s) {
        const auto i = size_t(s);
        Bend force;
        answer(c, s, cell.bend[i], elasticTrial, force, k[i]);
        left[i] = b[i] * cell.force - force;
      }
    };
    const auto flexibility = [&](double least) {
      Stiffness give = compliance_;
      for (size_t i = 0; i < sections; ++i)
        give += sectionShare[i] * b[i].transpose() * (k[i] + least * elastic_).inverse() * b[i];
      return give;
    };
    /// How the potential falls along the last step, where it has come to.
    const auto slope = [&] {
      double sum = 0;
      for (size_t i = 0; i < sections; ++i) sum -= sectionShare[i] * left[i].dot(step[i]);
      return sum;
    };
    answers();
    if (!law_.yields) {
      stiffness = flexibility(0).inverse();
      Force more = strain - strainOf(c);
      for (size_t i = 0; i < sections; ++i) more -= sectionShare[i] * b[i].transpose() * (k[i].inverse() * left[i]);
      forceStep = stiffness * more;
      for (size_t i = 0; i < sections; ++i) cell.bend[i] += k[i].inverse() * (left[i] + b[i] * forceStep);
      cell.force += forceStep;
      return cell.force.allFinite();
    }
    const double yield = law_.hardening(0);
    const auto size = [&](const Bend& v, double length) { return std::abs(v[0]) + length * v.tail(K::bending - 1).norm(); };
    for (int it = 0; it < 80; ++it) {
      Force more = strain - strainOf(c);
      // where nothing but rounding is out of balance it is found, however far that moves a section without stiffness
      double unbalanced = 0;
      for (const auto& l : left) unbalanced = std::max(unbalanced, size(l, 1 / reach));
      const bool balanced = it > 0 && unbalanced <= 1e-13 * yield * section_.area;
      double most = 1e-3 * yield / law_.young;
      std::array<BendStiffness, sections> soft;
      for (size_t i = 0; i < sections; ++i) {
        soft[i] = (k[i] + floor * elastic_).inverse();
        more -= sectionShare[i] * b[i].transpose() * (soft[i] * left[i]);
        most = std::max(most, size(cell.bend[i], reach));
      }
      forceStep = flexibility(floor).inverse() * more;
      double change = 0;
      for (size_t i = 0; i < sections; ++i) {
        step[i] = soft[i] * (left[i] + b[i] * forceStep);
        change = std::max(change, size(step[i], reach));
      }
      if (!std::isfinite(change)) return false;
      const double before = slope();
      const auto go = [&](double share) {
        for (size_t i = 0; i < sections; ++i) cell.bend[i] += share * step[i];
        cell.force += share * forceStep;
        answers();
      };
      go(1);
      if (change <= (balanced ? 1e-8 : 1e-11) * most) {
        stiffness = flexibility(1e-10).inverse();
        return true;
      }
      double gone = 1;
      for (int cut = 0; it > 0 && cut < 8; ++cut) {
        const double now = slope();
        if (before >= 0 || now <= -0.5 * before) break;  // not past the least by much
        const double to = gone * std::clamp(-before / (now - before), 0.1, 0.7);
        go(to - gone), gone = to;
      }
    }
    return false;
  }

  double strain0_ = 0;
  std::vector<Bend> places_;
  BendStiffness elastic_;
  Stiffness compliance_;  ///< of shear and torsion alone
  std::vector<Cell> old_, now_;
};

}  // namespace

Beams::Beams(const geometry::SlenderLine& line, const geometry::SectionShape& section, const material::FibreLaw& law,
             const Setting& setting)
    : section_(section), law_(law), setting_(setting) {
  for (size_t i = 0; i + 1 < line.places.size(); ++i) {
    const Eigen::Vector3d chord = line.places[i + 1] - line.places[i], along = chord.normalized(), &up = line.up[i];
    lengths_.push_back(chord.norm());
    Eigen::Matrix3d frame;
    frame << along, up, along.cross(up);
    frames_.push_back(frame);
  }
}

std::unique_ptr<Beams> makeBeams(const geometry::SlenderLine& line, const geometry::SectionShape& section,
                                 const material::FibreLaw& law, const Beams::Setting& setting) {
  if (setting.carries != geometry::Carries::all) return makeBars(line, section, law, setting);
  if (setting.plane) return std::make_unique<Line<true>>(line, section, law, setting);
  return std::make_unique<Line<false>>(line, section, law, setting);
}

}  // namespace anvil::element
