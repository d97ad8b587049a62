#include "core/element/points.hpp"

#include <Eigen/LU>

#include "core/base/error.hpp"
#include "core/material/log_strain.hpp"

namespace anvil::element {
namespace {

using material::Mat3;
using material::Vec6;

/// Per point: plastic strain (small geometry) or Cp⁻¹ - I (6, when the law yields), the law's own state, and the total
/// strain across the plane (plane stress).
template <int dim, class Law>
class PointsOf final : public PointsIn<dim> {
 public:
  using Parts = Layout<dim>;
  static constexpr int NF = Parts::size, plasticSize = Law::yields() ? 6 : 0, stateSize = plasticSize + Law::stateSize() + 1;

  PointsOf(size_t count, const Setting& setting, const Law& law) : setting_(setting), law_(law) {
    this->old_.assign(count * size_t(stateSize), 0);
    this->now_ = this->old_;
  }
  bool symmetric() const override { return Law::symmetric(setting_.large); }

  void evaluate(size_t first, int n, const Components<dim>* F, bool tangent, bool elasticTrial, const double* foreseen,
                PointStress<dim>* out) override {
    for (int i = 0; i < n; ++i) {
      const size_t at = (first + size_t(i)) * size_t(stateSize);
      if (setting_.large)
        large(tensorOf<dim>(F[i]), this->old_.data() + at, this->now_.data() + at, tangent, elasticTrial,
              foreseen ? foreseen + i : nullptr, out[i]);
      else
        small(tensorOf<dim>(F[i]), this->old_.data() + at, this->now_.data() + at, tangent, elasticTrial, out[i]);
    }
  }

  void evaluateStrain(size_t first, int n, const Mat3* E, bool tangent, bool elasticTrial, MetricStress* out) override {
    for (int i = 0; i < n; ++i) {
      const size_t at = (first + size_t(i)) * size_t(stateSize);
      const double* old = this->old_.data() + at;
      double* now = this->now_.data() + at;
      material::Response r;
      MetricStress& s = out[i];
      if (setting_.large) {
        const material::LogStrain log(material::LogStrain::Metric{Mat3::Identity() + 2 * E[i]}, metric(old));
        respond(log, old, now, elasticTrial, r);
        s.S = log.secondPiola(r.T);
        if (tangent) s.tangent = log.tangent(r.T, r.tangent);
      } else {
        respondSmall(material::toMandel(E[i]), old, now, elasticTrial, r);
        s.S = r.T;
        if (tangent) s.tangent = r.tangent;
      }
      s.plasticIncrement = r.plasticIncrement;
    }
  }

  void output(size_t first, int n, const Components<dim>* given, PointOutput* out) const override {
    for (int i = 0; i < n; ++i) {
      const double* state = this->now_.data() + (first + size_t(i)) * size_t(stateSize);
      std::array<double, size_t(stateSize)> scratch;
      PointOutput& o = out[i];
      Mat3 F = tensorOf<dim>(given[i]);
      if (thin()) F(2, 2) = setting_.large ? std::exp(state[stateSize - 1]) : 1 + state[stateSize - 1];
      material::Response response;
      // The stored trial state is plastic already: from it the box answers elastically, with the same stress.
      if (setting_.large) {
        const material::LogStrain log(F, metric(state));
        law_.respond(log.strain() - thermal(), state + plasticSize, scratch.data(), {true, true}, response);
        o.stress = material::toMandel(F * material::fromMandel(log.secondPiola(response.T)) * F.transpose() / F.determinant());
        o.strain = log.spatial(F);
      } else {
        const Vec6 E = material::toMandel((F + F.transpose()) / 2 - Mat3::Identity());
        law_.respond(E - plasticStrain(state) - thermal(), state + plasticSize, scratch.data(), {false, true}, response);
        o.stress = response.T, o.strain = E;
      }
      o.stretch33 = F(2, 2), o.kirchhoffTrace = response.T.head<3>().sum();
      o.strainEnergy = response.strainEnergy;
      if constexpr (Law::yields())
        o.equivalentPlastic = state[plasticSize + Law::alphaAt], o.plasticWork = state[plasticSize + Law::workAt];
    }
  }

 private:
  bool thin() const { return dim == 2 && setting_.space == Space::planeStress; }
  Vec6 thermal() const { return this->thermal_ * material::identity6(); }
  static Vec6 plasticStrain(const double* state) {
    if constexpr (Law::yields())
      return Eigen::Map<const Vec6>(state);
    else
      return Vec6::Zero();
  }
  static Mat3 metric(const double* state) { return Mat3::Identity() + material::fromMandel(plasticStrain(state)); }

  void respondSmall(const Vec6& strain, const double* old, double* now, bool elasticTrial, material::Response& r) {
    const Vec6 plastic = plasticStrain(old);
    law_.respond(strain - plastic - thermal(), old + plasticSize, now + plasticSize, {false, elasticTrial}, r);
    if constexpr (Law::yields()) Eigen::Map<Vec6>{now} = plastic + r.flow;
    now[stateSize - 1] = thin() ? r.elastic33 + plastic[2] + this->thermal_ : 0;
  }

  void small(const Mat3& F, const double* old, double* now, bool tangent, bool elasticTrial, PointStress<dim>& s) {
    material::Response r;
    respondSmall(material::toMandel((F + F.transpose()) / 2 - Mat3::Identity()), old, now, elasticTrial, r);
    s.plasticIncrement = r.plasticIncrement;
    const auto index = [](int a) { return material::mandelOf[Parts::row[a]][Parts::column[a]]; };
    const auto weight = [](int a) { return Parts::row[a] == Parts::column[a] ? 1 : 1 / material::root2; };
    for (int a = 0; a < NF; ++a) s.P[a] = weight(a) * r.T[index(a)];
    if (!tangent) return;
    for (int a = 0; a < NF; ++a)
      for (int b = 0; b < NF; ++b) s.A(a, b) = weight(a) * weight(b) * r.tangent(index(a), index(b));
  }

  void respond(const material::LogStrain& log, const double* old, double* now, bool elasticTrial, material::Response& r) {
    law_.respond(log.strain() - thermal(), old + plasticSize, now + plasticSize, {true, elasticTrial}, r);
    // plane stress: F33 entered as 1, so the trial strain 33 found is short of the total by ½ ln G33
    const double found = r.elastic33 + this->thermal_, across = thin() ? found - 0.5 * std::log(metric(old)(2, 2)) : 0;
    now[stateSize - 1] = across;
    if constexpr (Law::yields()) {
      if (r.plasticIncrement > 0) {
        Vec6 flow = r.flow;
        if (thin()) flow[2] -= found - log.strain()[2];  // so that E - flow is the strain left
        Eigen::Map<Vec6>{now} = material::toMandel(log.metricAfter(flow, thin() ? std::exp(across) : 0) - Mat3::Identity());
      } else {
        std::copy(old, old + plasticSize, now);
      }
    }
  }

  void large(const Mat3& F, const double* old, double* now, bool tangent, bool elasticTrial, const double* foreseen,
             PointStress<dim>& s) {
    material::Response r;
    const material::LogStrain log(F, metric(old));
    respond(log, old, now, elasticTrial, r);
    s.plasticIncrement = r.plasticIncrement;
    const auto components = [](const Mat3& P) {
      Components<dim> c;
      for (int a = 0; a < NF; ++a) c[a] = P(Parts::row[a], Parts::column[a]);
      return c;
    };
    Mat3 S = material::fromMandel(log.secondPiola(r.T));
    s.P = s.foreseen = components(F * S);
    s.pressure = r.T.template head<3>().sum() / 3;
    if (tangent) s.bulk = r.tangent.template topLeftCorner<3, 3>().sum() / 9;
    if (foreseen) {
      r.T += (*foreseen - s.pressure) * material::identity6();
      S = material::fromMandel(log.secondPiola(r.T));
      s.foreseen = components(F * S);
    }
    if (!tangent) return;
    // A = δ_ik S_JL + F_iM F_kN CC_MJNL through the matrix of d(C/2)/dF
    constexpr int n = dim == 2 ? 4 : 6;
    Eigen::Matrix<double, NF, n> M;
    for (int m = 0; m < n; ++m)
      for (int a = 0; a < NF; ++a) {
        const int i = Parts::row[a], J = Parts::column[a], K = material::rowOf[m], L = material::columnOf[m];
        if (K == L)
          M(a, m) = J == K ? F(i, J) : 0;
        else
          M(a, m) = ((J == L ? F(i, K) : 0) + (J == K ? F(i, L) : 0)) / material::root2;
      }
    const Eigen::Matrix<double, NF, n> MC = M.lazyProduct(log.template tangent<n>(r.T, r.tangent));
    s.A = MC.lazyProduct(M.transpose());
    for (int a = 0; a < NF; ++a)
      for (int b = 0; b < NF; ++b)
        if (Parts::row[a] == Parts::row[b]) s.A(a, b) += S(Parts::column[a], Parts::column[b]);
  }

  Setting setting_;
  Law law_;
};

}  // namespace

void Points::setState(const std::vector<double>& state) {
  if (state.size() != old_.size()) throw Error("the stored material state does not fit this mesh", {}, "Run from the start.");
  old_ = now_ = state;
}

template <>
std::unique_ptr<PointsIn<2>> makePoints<2>(size_t count, const Setting& setting, const material::AnyLaw& any) {
  return std::visit(
      [&]<class Law>(const Law& law) -> std::unique_ptr<PointsIn<2>> {
        if (setting.space == Space::planeStress)
          return std::make_unique<PointsOf<2, material::PlaneStress<Law>>>(count, setting, material::PlaneStress<Law>{law});
        return std::make_unique<PointsOf<2, Law>>(count, setting, law);
      },
      any);
}
template <>
std::unique_ptr<PointsIn<3>> makePoints<3>(size_t count, const Setting& setting, const material::AnyLaw& any) {
  return std::visit(
      [&]<class Law>(const Law& law) -> std::unique_ptr<PointsIn<3>> {
        return std::make_unique<PointsOf<3, Law>>(count, setting, law);
      },
      any);
}

}  // namespace anvil::element
