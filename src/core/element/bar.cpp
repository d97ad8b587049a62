#include <Eigen/Geometry>

#include "core/base/error.hpp"
#include "core/element/beam.hpp"

namespace anvil::element {
namespace {

using material::FibreState;

class Bar final : public Beams {
 public:
  Bar(const geometry::SlenderLine& line, const geometry::SectionShape& section, const material::FibreLaw& law,
      const Setting& setting)
      : Beams(line, section, law, setting), old_(count()), now_(count()), strain_(count(), 0), work_(count(), 0) {}

  BeamReport integrate(size_t c, const double* q, double* r, double* K, bool elasticTrial) override {
    const int dim = setting_.plane ? 2 : 3;
    const double L = lengths_[c];
    Eigen::Vector3d apart = Eigen::Vector3d::Zero(), along = frames_[c].col(0);
    for (int k = 0; k < dim; ++k) apart[k] = q[dim + k] - q[k];
    double length = L + along.dot(apart);
    if (setting_.large) {
      const Eigen::Vector3d chord = L * along + apart;
      length = chord.norm();
      if (!(length > 0)) return {true, 0};
      along = chord / length;
    }
    strain_[c] = (length - L) / L;
    const auto a = respond(c, elasticTrial, now_[c]);
    const double force = a.stress * section_.area, stiffness = a.tangent * section_.area / L;
    for (int i = 0; i < 2 * dim; ++i) r[i] = (i < dim ? -1 : 1) * force * along[i % dim];
    for (int i = 0; K && i < 2 * dim; ++i)
      for (int j = 0; j < 2 * dim; ++j) {
        const int m = i % dim, n = j % dim;
        double k = stiffness * along[m] * along[n];
        if (setting_.large) k += force / length * ((m == n) - along[m] * along[n]);
        K[i + 2 * dim * j] = ((i < dim) == (j < dim) ? 1 : -1) * k;
      }
    return {false, now_[c].alpha - old_[c].alpha};
  }

  void output(size_t c, BeamEnd ends[2]) const override {
    FibreState scratch;
    const double stress = respond(c, false, scratch).stress;
    BeamEnd end;
    end.normal = stress * section_.area, end.greatest = end.least = stress, end.stretch = strain_[c];
    end.plastic = scratch.alpha, end.yielded = scratch.alpha > 0;
    ends[0] = ends[1] = end;
  }
  void energies(size_t c, double& elastic, double& plastic) const override {
    FibreState scratch;
    const auto a = respond(c, false, scratch);
    const double volume = section_.area * lengths_[c];
    elastic = volume * a.strainEnergy, plastic = work_[c] + volume * a.plasticWork;
  }
  void accept() override {
    double elastic;
    for (size_t c = 0; c < count(); ++c) energies(c, elastic, work_[c]);
    old_ = now_;
  }
  void reject() override { now_ = old_; }
  std::vector<double> state() const override {
    std::vector<double> all;
    for (const auto& s : old_)
      all.push_back(s.plastic), all.push_back(s.alpha), all.insert(all.end(), s.back.begin(), s.back.end());
    all.insert(all.end(), work_.begin(), work_.end());
    return all;
  }
  void setState(const std::vector<double>& all) override {
    if (all.size() != (FibreState::size + 1) * old_.size())
      throw Error("the stored state of a slender part does not fit", {}, "Run from the start.");
    auto at = all.begin();
    for (auto& s : old_) {
      s.plastic = *at++, s.alpha = *at++;
      for (double& b : s.back) b = *at++;
    }
    work_.assign(at, all.end());
    now_ = old_;
  }

 private:
  /// A stay pulls only: what would push it leaves it slack, but for a millionth that keeps its ends found.
  material::FibreResponse respond(size_t c, bool elasticTrial, FibreState& now) const {
    const double strain = strain_[c] + setting_.tension / (law_.young * section_.area) - thermal_;
    auto r = law_.respond(strain, old_[c], now, elasticTrial);
    if (setting_.carries != geometry::Carries::pull || strain - old_[c].plastic > 0) return r;
    constexpr double slack = 1e-6;
    now = old_[c];
    const double left = strain - old_[c].plastic;
    return {slack * law_.young * left, slack * law_.young, slack * law_.young * left * left / 2, 0};
  }
  std::vector<FibreState> old_, now_;
  std::vector<double> strain_, work_;
};

}  // namespace

std::unique_ptr<Beams> makeBars(const geometry::SlenderLine& line, const geometry::SectionShape& section,
                                const material::FibreLaw& law, const Beams::Setting& setting) {
  return std::make_unique<Bar>(line, section, law, setting);
}

}  // namespace anvil::element
