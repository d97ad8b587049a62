// Total-Lagrangian solid elements from the deformation gradient. Plasticity is kept here as plastic strain (small
// geometry) or as the inverse plastic metric (large); the laws see elastic strains only.
//
// Plane and axisymmetric cells use F = [F11, F12, F21, F22, F33]. Quad4 is freed from volumetric locking by a modified
// gradient (as E. de Souza Neto, D. Perić et al., IJSS 33, 1996): F̄ = (J0/J)^⅓ F with J0 = det F at the centre. The
// residual is taken as the exact variation of F̄ (so r = [dev τ] F⁻ᵀ : δF + p F0⁻ᵀ : δF0), which keeps the element's
// stiffness symmetric wherever the material's is.
#pragma once
#include <Eigen/LU>
#include <numbers>

#include "core/base/error.hpp"
#include "core/element/block.hpp"
#include "core/element/shapes.hpp"
#include "core/material/log_strain.hpp"

namespace anvil::element {

template <class Type, class Law> class Solid final : public Block {
public:
  static constexpr int N = Type::nodes, D = 2 * N, P = Type::points;
  /// Per point: plastic strain (small geometry) or Cp⁻¹ - I (6, when the law yields), the law's own state, and the
  /// total strain across the plane (plane stress).
  static constexpr int plasticSize = Law::yields() ? 6 : 0, stateSize = plasticSize + Law::stateSize() + 1;
  using Vec5 = Eigen::Matrix<double, 5, 1>;
  using Mat5 = Eigen::Matrix<double, 5, 5>;
  using VecD = Eigen::Matrix<double, D, 1>;
  using MatD = Eigen::Matrix<double, D, D>;
  using Gradient = Eigen::Matrix<double, 5, D>;   ///< dF/du

  Solid(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting, const Law& law)
      : Block(cells), setting_(setting), law_(law) {
    bar_ = N == 4 && setting.space != Space::planeStress;
    precompute(x);
    old_.assign(cells.count() * P * size_t(stateSize), 0);
    now_ = old_;
  }

  bool symmetric() const override { return Law::symmetric(setting_.large); }

  ElementReport integrate(size_t cell, const double* u, double* r, double* K, bool elasticTrial) override {
    const Eigen::Map<const VecD> ue(u);
    VecD force = VecD::Zero();
    MatD stiffness = MatD::Zero();
    ElementReport report;
    Centre centre;
    if (bar_ && !gradientAtCentre(cell, ue, centre)) return {true, 0};
    double pressureSum = 0;
    for (int p = 0; p < P; ++p) {
      Kinematics k;
      if (!kinematics(cell, p, ue, centre, k)) return {true, 0};
      Stress s;
      evaluate(cell, p, k, K != nullptr, elasticTrial, s);
      report.plasticIncrement = std::max(report.plasticIncrement, s.response.plasticIncrement);
      const double dV = point(cell, p).dV;
      const VecD local = k.Gbar.transpose() * s.P;
      force += local * dV;
      if (!K) continue;
      stiffness.noalias() += k.Gbar.transpose() * (s.A * dV) * k.Gbar;
      if (bar_ && setting_.large) {
        const double pressure = s.P.dot(k.F) / 3;
        const VecD scaled = k.beta * (k.G.transpose() * s.P);
        stiffness += dV / 3 * (scaled * k.psi.transpose() + k.psi * scaled.transpose() + pressure * k.psi * k.psi.transpose());
        stiffness -= (pressure * dV) * secondVariation(k.G, k.inverse);
        pressureSum += pressure * dV;
      }
    }
    if (K && bar_ && setting_.large) stiffness += pressureSum * secondVariation(centre.G, centre.inverse);
    Eigen::Map<VecD>{r} = force;
    if (K) Eigen::Map<MatD>{K} = stiffness;
    return report;
  }

  void output(size_t cell, const double* u, PointOutput* out) const override {
    const Eigen::Map<const VecD> ue(u);
    Centre centre;
    if (bar_) gradientAtCentre(cell, ue, centre);
    for (int p = 0; p < P; ++p) {
      Kinematics k;
      kinematics(cell, p, ue, centre, k);
      std::vector<double> scratch(static_cast<size_t>(stateSize));
      PointOutput& o = out[p];
      material::Mat3 F = tensorOf(k.F);
      const double* state = now_.data() + place(cell, p);
      if (setting_.space == Space::planeStress) F(2, 2) = outOfPlane(state);
      material::Response response;
      // The stored trial state is plastic already: from it the box answers elastically, with the same stress.
      if (setting_.large) {
        const material::LogStrain log(F, metric(state));
        law_.respond(log.strain(), state + plasticSize, scratch.data(), {true, true}, response);
        o.stress = material::toMandel(F * material::fromMandel(log.secondPiola(response.T)) * F.transpose() / F.determinant());
        o.strain = log.spatial(F);
      } else {
        const material::Vec6 E = material::toMandel((F + F.transpose()) / 2 - material::Mat3::Identity());
        law_.respond(E - plasticStrain(state), state + plasticSize, scratch.data(), {false, true}, response);
        o.stress = response.T, o.strain = E;
      }
      o.stretch33 = F(2, 2);
      o.strainEnergy = response.strainEnergy;
      o.volume = point(cell, p).dV;
      if constexpr (Law::yields())
        o.equivalentPlastic = state[plasticSize + material::alphaState], o.plasticWork = state[plasticSize + material::plasticWorkState];
    }
  }

  void lumpedVolume(size_t cell, double* perNode) const override {
    double total = 0;
    for (int p = 0; p < P; ++p) total += point(cell, p).dV;
    for (int a = 0; a < N; ++a) perNode[a] = total / N;
  }

private:
  struct Point {
    Eigen::Matrix<double, N, 2> dN;   ///< shape function gradients with respect to reference coordinates
    Eigen::Matrix<double, N, 1> hoop; ///< N_a / R in axisymmetric models, else 0
    double dV;
  };
  struct Centre {
    Gradient G;
    Vec5 inverse;      ///< components of F⁻¹ as [11, 12, 21, 22, 33]
    double logJ = 0;
    VecD g;            ///< d ln J / du
  };
  struct Kinematics {
    Gradient G, Gbar;
    Vec5 F, inverse;   ///< F is F̄ where the element uses it
    double beta = 1;
    VecD psi;          ///< d(ln J0 - ln J)/du
  };
  struct Stress {
    material::Response response;
    Vec5 P;            ///< first Piola–Kirchhoff stress
    Mat5 A;            ///< dP/dF
  };

  static constexpr int rowOfF[5] = {0, 0, 1, 1, 2}, columnOfF[5] = {0, 1, 0, 1, 2};

  const Point& point(size_t cell, int p) const { return points_[cell * P + size_t(p)]; }
  size_t place(size_t cell, int p) const { return (cell * P + size_t(p)) * size_t(stateSize); }

  static material::Vec6 plasticStrain(const double* state) {
    if constexpr (Law::yields()) return Eigen::Map<const material::Vec6>(state);
    else return material::Vec6::Zero();
  }
  static material::Mat3 metric(const double* state) { return material::Mat3::Identity() + material::fromMandel(plasticStrain(state)); }

  void precompute(const std::vector<Eigen::Vector3d>& x) {
    const auto gauss = gauss2x2();
    for (size_t c = 0; c < cells_.count(); ++c) {
      Eigen::Matrix<double, N, 2> X;
      for (int a = 0; a < N; ++a) X.row(a) = x[size_t(cells_.cell(c)[a])].head<2>().transpose();
      for (int p = 0; p < P; ++p) points_.push_back(pointAt(X, gauss[size_t(p)][0], gauss[size_t(p)][1], c));
      if (bar_) centres_.push_back(pointAt(X, 0, 0, c));
    }
  }

  Point pointAt(const Eigen::Matrix<double, N, 2>& X, double s, double t, size_t cell) const {
    const auto shape = Type::shape(s, t);
    const auto local = Type::gradient(s, t);
    const Eigen::Matrix2d jacobian = X.transpose() * local;
    const double det = jacobian.determinant();
    if (!(det > 0)) throw Error("element " + std::to_string(cell + 1) + " is folded in the undeformed mesh", {}, "Mend the part's mesh.");
    Point q;
    q.dN = local * jacobian.inverse();
    q.dV = det * setting_.thickness;
    q.hoop.setZero();
    if (setting_.space == Space::axisymmetric) {
      const double R = shape.dot(X.col(0));
      q.hoop = shape / R;
      q.dV = det * 2 * std::numbers::pi * R;
    }
    return q;
  }

  static void gradientOf(const Point& q, Gradient& G) {
    G.setZero();
    for (int a = 0; a < N; ++a) {
      G(0, 2 * a) = q.dN(a, 0), G(1, 2 * a) = q.dN(a, 1);
      G(2, 2 * a + 1) = q.dN(a, 0), G(3, 2 * a + 1) = q.dN(a, 1);
      G(4, 2 * a) = q.hoop[a];
    }
  }

  static Vec5 unit() { return (Vec5() << 1, 0, 0, 1, 1).finished(); }
  static double determinant(const Vec5& F) { return (F[0] * F[3] - F[1] * F[2]) * F[4]; }
  static Vec5 inverseOf(const Vec5& F) {
    const double d = F[0] * F[3] - F[1] * F[2];
    return (Vec5() << F[3] / d, -F[1] / d, -F[2] / d, F[0] / d, 1 / F[4]).finished();
  }
  static Vec5 transposed(const Vec5& F) { return (Vec5() << F[0], F[2], F[1], F[3], F[4]).finished(); }
  static material::Mat3 tensorOf(const Vec5& F) {
    material::Mat3 m;
    m << F[0], F[1], 0, F[2], F[3], 0, 0, 0, F[4];
    return m;
  }
  double outOfPlane(const double* state) const {
    const double e = state[stateSize - 1];
    return setting_.large ? std::exp(e) : 1 + e;
  }

  bool gradientAtCentre(size_t cell, const VecD& u, Centre& c) const {
    gradientOf(centres_[cell], c.G);
    const Vec5 F = unit() + c.G * u;
    if (setting_.large) {
      const double J = determinant(F);
      if (!(J > 0) || !(F[4] > 0)) return false;
      c.inverse = inverseOf(F);
      c.logJ = std::log(J);
      c.g = c.G.transpose() * transposed(c.inverse);
    } else {
      c.logJ = F[0] + F[3] + F[4] - 3;
      c.g = c.G.transpose() * unit();
    }
    return true;
  }

  bool kinematics(size_t cell, int p, const VecD& u, const Centre& centre, Kinematics& k) const {
    gradientOf(point(cell, p), k.G);
    k.F = unit() + k.G * u;
    if (setting_.large) {
      const double J = determinant(k.F);
      if (!(J > 0) || !(k.F[4] > 0)) return false;
      k.inverse = inverseOf(k.F);
      if (bar_) {
        k.psi = centre.g - k.G.transpose() * transposed(k.inverse);
        k.beta = std::exp((centre.logJ - std::log(J)) / 3);
        k.Gbar = k.beta * (k.G + k.F * k.psi.transpose() / 3);
        k.F *= k.beta;
        return true;
      }
    } else if (bar_) {
      k.psi = centre.g - k.G.transpose() * unit();
      k.Gbar = k.G + unit() * k.psi.transpose() / 3;
      k.F += unit() * ((centre.logJ - (k.F[0] + k.F[3] + k.F[4] - 3)) / 3);
      return true;
    }
    k.Gbar = k.G;
    return true;
  }

  void evaluate(size_t cell, int p, const Kinematics& k, bool tangent, bool elasticTrial, Stress& s) {
    const double* old = old_.data() + place(cell, p);
    double* now = now_.data() + place(cell, p);
    const material::Evaluation how{setting_.large, elasticTrial};
    const material::Mat3 F = tensorOf(k.F);
    const bool thin = setting_.space == Space::planeStress;
    if (!setting_.large) {
      const material::Vec6 plastic = plasticStrain(old);
      law_.respond(material::toMandel((F + F.transpose()) / 2 - material::Mat3::Identity()) - plastic, old + plasticSize, now + plasticSize, how, s.response);
      if constexpr (Law::yields()) Eigen::Map<material::Vec6>{now} = plastic + s.response.flow;
      now[stateSize - 1] = thin ? s.response.elastic33 + plastic[2] : 0;
      const auto& T = s.response.T;
      s.P << T[0], T[3] / material::root2, T[3] / material::root2, T[1], T[2];
      if (tangent) {
        static constexpr int index[5] = {0, 3, 3, 1, 2};
        static constexpr double weight[5] = {1, 1 / material::root2, 1 / material::root2, 1, 1};
        for (int a = 0; a < 5; ++a)
          for (int b = 0; b < 5; ++b) s.A(a, b) = weight[a] * weight[b] * s.response.tangent(index[a], index[b]);
      }
      return;
    }
    const material::Mat3 G = metric(old);
    const material::LogStrain log(F, G);
    law_.respond(log.strain(), old + plasticSize, now + plasticSize, how, s.response);
    // plane stress: F33 entered as 1, so the trial strain 33 found is short of the total by ½ ln G33
    const double across = thin ? s.response.elastic33 - 0.5 * std::log(G(2, 2)) : 0;
    now[stateSize - 1] = across;
    if constexpr (Law::yields()) {
      if (s.response.plasticIncrement > 0) {
        material::Vec6 flow = s.response.flow;
        if (thin) flow[2] -= s.response.elastic33 - log.strain()[2];  // so that E - flow is the elastic strain left
        Eigen::Map<material::Vec6>{now} = material::toMandel(log.metricAfter(flow, thin ? std::exp(across) : 0) - material::Mat3::Identity());
      } else {
        std::copy(old, old + plasticSize, now);
      }
    }
    const material::Mat3 S = material::fromMandel(log.secondPiola(s.response.T)), Pk = F * S;
    for (int a = 0; a < 5; ++a) s.P[a] = Pk(rowOfF[a], columnOfF[a]);
    if (!tangent) return;
    // A = δ_ik S_JL + F_iM F_kN CC_MJNL through the 5x6 matrix of d(C/2)/dF
    Eigen::Matrix<double, 5, 6> M = Eigen::Matrix<double, 5, 6>::Zero();
    for (int a = 0; a < 5; ++a)
      for (int m = 0; m < 6; ++m) {
        const int i = rowOfF[a], J = columnOfF[a], K = material::rowOf[m], L = material::columnOf[m];
        if (K == L) M(a, m) = J == K ? F(i, J) : 0;
        else M(a, m) = ((J == L ? F(i, K) : 0) + (J == K ? F(i, L) : 0)) / material::root2;
      }
    s.A.noalias() = M * log.tangent(s.response.T, s.response.tangent) * M.transpose();
    for (int a = 0; a < 5; ++a)
      for (int b = 0; b < 5; ++b)
        if (rowOfF[a] == rowOfF[b]) s.A(a, b) += S(columnOfF[a], columnOfF[b]);
  }

  /// Matrix of tr(F⁻¹ δF F⁻¹ ΔF): minus the second variation of ln J.
  static MatD secondVariation(const Gradient& G, const Vec5& inverse) {
    const material::Mat3 f = tensorOf(inverse);
    Mat5 m;
    for (int a = 0; a < 5; ++a)
      for (int b = 0; b < 5; ++b) m(a, b) = f(columnOfF[a], rowOfF[b]) * f(columnOfF[b], rowOfF[a]);
    return -(G.transpose() * m * G);
  }

  Setting setting_;
  Law law_;
  bool bar_ = false;
  std::vector<Point> points_, centres_;
};

}  // namespace anvil::element
