// Total-Lagrangian solid elements from the deformation gradient. Plasticity is kept here as plastic strain (small
// geometry) or as the inverse plastic metric (large); the laws see elastic strains only.
//
// Plane and axisymmetric cells use F = [F11, F12, F21, F22, F33], solid ones all nine components row by row. Linear
// cells are freed from volumetric locking by a modified gradient (as E. de Souza Neto, D. Perić et al., IJSS 33, 1996):
// F̄ = (J0/J)^⅓ F with J0 the determinant of the mean of F over the cell (at the centre in the paper; the mean passes
// the patch test on distorted hexes too); so are quadratic triangles and tetrahedra, with constant dilatation. The residual is taken as the exact variation of F̄ (so r = [dev τ] F⁻ᵀ : δF + p F0⁻ᵀ : δF0),
// which keeps the element's stiffness symmetric wherever the material's is.
#pragma once
#include <Eigen/LU>
#include <numbers>

#include "core/base/error.hpp"
#include "core/element/block.hpp"
#include "core/element/shapes.hpp"
#include "core/material/log_strain.hpp"

namespace anvil::element {

/// Places of the components of F that a cell of this dimension has.
template <int dim> struct Layout;
template <> struct Layout<2> {
  static constexpr int size = 5, row[5] = {0, 0, 1, 1, 2}, column[5] = {0, 1, 0, 1, 2};
};
template <> struct Layout<3> {
  static constexpr int size = 9, row[9] = {0, 0, 0, 1, 1, 1, 2, 2, 2}, column[9] = {0, 1, 2, 0, 1, 2, 0, 1, 2};
};

template <class Type, class Law> class Solid final : public Block {
public:
  static constexpr int N = Type::nodes, dim = Type::dim, D = dim * N, P = Type::points;
  using Parts = Layout<dim>;
  static constexpr int NF = Parts::size;
  /// Per point: plastic strain (small geometry) or Cp⁻¹ - I (6, when the law yields), the law's own state, and the
  /// total strain across the plane (plane stress).
  static constexpr int plasticSize = Law::yields() ? 6 : 0, stateSize = plasticSize + Law::stateSize() + 1;
  using VecF = Eigen::Matrix<double, NF, 1>;
  using MatF = Eigen::Matrix<double, NF, NF>;
  using VecD = Eigen::Matrix<double, D, 1>;
  using MatD = Eigen::Matrix<double, D, D>;
  using MatFD = Eigen::Matrix<double, NF, D>;

  Solid(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting, const Law& law)
      : Block(cells), setting_(setting), law_(law) {
    bar_ = Type::bar && setting.space != Space::planeStress;
    precompute(x);
    old_.assign(cells.count() * P * size_t(stateSize), 0);
    now_ = old_;
  }

  bool symmetric() const override { return Law::symmetric(setting_.large); }

  ElementReport integrate(size_t cell, const double* u, double* r, double* K, bool elasticTrial) override {
    const VecD ue = Eigen::Map<const VecD>(u);
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
      const Point& q = point(cell, p);
      const double dV = q.dV;
      const VecD GP = transposeTimes(q, s.P);
      // F̄ = beta F, dF̄/du = beta (G + F ψᵀ/3); small: dF̄/du = G + I ψᵀ/3
      force += (k.beta * dV) * GP;
      if (bar_) force += (k.beta * dV * k.plain.dot(s.P) / 3) * k.psi;
      if (!K) continue;
      const MatF A = (k.beta * k.beta * dV) * s.A;
      addStiffness(q, A, stiffness);
      if (!bar_) continue;
      const VecF AF = A * k.plain, FA = A.transpose() * k.plain;
      stiffness += transposeTimes(q, AF) * (k.psi / 3).transpose() + (k.psi / 3) * (transposeTimes(q, FA) + (k.plain.dot(AF) / 3) * k.psi).transpose();
      if (!setting_.large) continue;
      const double pressure = k.beta * s.P.dot(k.plain) / 3;
      const VecD scaled = (k.beta * dV / 3) * GP;
      stiffness += scaled * k.psi.transpose() + k.psi * (scaled + (dV / 3 * pressure) * k.psi).transpose();
      addSecondVariation(q, k.g, k.inverse33, -pressure * dV, stiffness);
      pressureSum += pressure * dV;
    }
    if (K && bar_ && setting_.large) addSecondVariation(centres_[cell], centre.g, centre.inverse33, pressureSum, stiffness);
    Eigen::Map<VecD>{r} = force;
    if (K) Eigen::Map<MatD>{K} = stiffness;
    return report;
  }

  void output(size_t cell, const double* u, PointOutput* out) const override {
    const VecD ue = Eigen::Map<const VecD>(u);
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
    Eigen::Matrix<double, N, dim> dN; ///< shape function gradients with respect to reference coordinates
    Eigen::Matrix<double, N, 1> hoop; ///< N_a / R in axisymmetric models, else 0
    double dV;
  };
  struct Centre {
    double logJ = 0, inverse33 = 0;
    VecD g;            ///< d ln J / du
  };
  struct Kinematics {
    VecF F, plain;     ///< F is F̄ where the element uses it; plain: the factor of ψ/3 in its variation
    double beta = 1, inverse33 = 0;
    VecD g, psi;       ///< d ln J / du, and d(ln J0 - ln J)/du
  };
  struct Stress {
    material::Response response;
    VecF P;            ///< first Piola–Kirchhoff stress
    MatF A;            ///< dP/dF
  };

  const Point& point(size_t cell, int p) const { return points_[cell * P + size_t(p)]; }
  size_t place(size_t cell, int p) const { return (cell * P + size_t(p)) * size_t(stateSize); }

  static material::Vec6 plasticStrain(const double* state) {
    if constexpr (Law::yields()) return Eigen::Map<const material::Vec6>(state);
    else return material::Vec6::Zero();
  }
  static material::Mat3 metric(const double* state) { return material::Mat3::Identity() + material::fromMandel(plasticStrain(state)); }

  void precompute(const std::vector<Eigen::Vector3d>& x) {
    const auto rule = Type::rule();
    for (size_t c = 0; c < cells_.count(); ++c) {
      Eigen::Matrix<double, N, dim> X;
      for (int a = 0; a < N; ++a) X.row(a) = x[size_t(cells_.cell(c)[a])].template head<dim>().transpose();
      for (const auto& [at, weight] : rule) points_.push_back(pointAt(X, at, weight, c));
      if (bar_) centres_.push_back(mean(points_.data() + points_.size() - P));
    }
  }

  Point pointAt(const Eigen::Matrix<double, N, dim>& X, const Local<dim>& at, double weight, size_t cell) const {
    const auto shape = Type::shape(at);
    const auto local = Type::gradient(at);
    const Eigen::Matrix<double, dim, dim> jacobian = X.transpose() * local;
    const double det = jacobian.determinant();
    if (!(det > 0)) throw Error("element " + std::to_string(cell + 1) + " is folded in the undeformed mesh", {}, "Mend the part's mesh.");
    Point q;
    q.dN = local * jacobian.inverse();
    q.dV = det * weight * (dim == 2 ? setting_.thickness : 1);
    q.hoop.setZero();
    if (dim == 2 && setting_.space == Space::axisymmetric) {
      const double R = shape.dot(X.col(0));
      q.hoop = shape / R;
      q.dV = det * weight * 2 * std::numbers::pi * R;
    }
    return q;
  }

  /// Mean gradients over a cell: F there is the mean of F, so that a uniform stress stays in balance on any shape.
  static Point mean(const Point* p) {
    Point q;
    q.dN.setZero(), q.hoop.setZero(), q.dV = 0;
    for (int i = 0; i < P; ++i) q.dN += p[i].dV * p[i].dN, q.hoop += p[i].dV * p[i].hoop, q.dV += p[i].dV;
    q.dN /= q.dV, q.hoop /= q.dV;
    return q;
  }

  static VecF unit() {
    VecF F;
    for (int a = 0; a < NF; ++a) F[a] = Parts::row[a] == Parts::column[a];
    return F;
  }
  static material::Mat3 tensorOf(const VecF& F) {
    material::Mat3 m = material::Mat3::Zero();
    for (int a = 0; a < NF; ++a) m(Parts::row[a], Parts::column[a]) = F[a];
    return m;
  }
  /// F - 1 = G u.
  static VecF gradient(const Point& q, const VecD& u) {
    VecF F = VecF::Zero();
    const Eigen::Map<const Eigen::Matrix<double, dim, N>> U(u.data());
    const Eigen::Matrix<double, dim, dim> H = U * q.dN;
    for (int i = 0; i < dim; ++i)
      for (int j = 0; j < dim; ++j) F[dim * i + j] = H(i, j);
    if constexpr (dim == 2) F[4] = U.row(0) * q.hoop;
    return F;
  }
  /// Gᵀ p.
  static VecD transposeTimes(const Point& q, const VecF& p) {
    VecD r;
    Eigen::Map<Eigen::Matrix<double, dim, N>> R(r.data());
    Eigen::Matrix<double, dim, dim> M;
    for (int i = 0; i < dim; ++i)
      for (int j = 0; j < dim; ++j) M(i, j) = p[dim * i + j];
    R.noalias() = M * q.dN.transpose();
    if constexpr (dim == 2) R.row(0) += p[4] * q.hoop.transpose();
    return r;
  }
  /// K += Gᵀ A G, using that G has one non-zero block per node.
  static void addStiffness(const Point& q, const MatF& A, MatD& K) {
    MatFD AG;
    for (int b = 0; b < N; ++b)
      for (int k = 0; k < dim; ++k) {
        VecF column = A.col(dim * k) * q.dN(b, 0);
        for (int l = 1; l < dim; ++l) column += A.col(dim * k + l) * q.dN(b, l);
        if (dim == 2 && k == 0) column += A.col(NF - 1) * q.hoop[b];
        AG.col(dim * b + k) = column;
      }
    for (int c = 0; c < D; ++c)
      for (int a = 0; a < N; ++a)
        for (int i = 0; i < dim; ++i) {
          double sum = 0;
          for (int j = 0; j < dim; ++j) sum += q.dN(a, j) * AG(dim * i + j, c);
          if (dim == 2 && i == 0) sum += q.hoop[a] * AG(NF - 1, c);
          K(dim * a + i, c) += sum;
        }
  }
  /// d ln J / du from F⁻¹.
  static VecD logVolumeGradient(const Point& q, const material::Mat3& inverse) {
    VecF t;
    for (int a = 0; a < NF; ++a) t[a] = inverse(Parts::column[a], Parts::row[a]);
    return transposeTimes(q, t);
  }
  /// K += factor times the second variation of ln J: -tr(F⁻¹ δF F⁻¹ ΔF).
  static void addSecondVariation(const Point& q, const VecD& g, double inverse33, double factor, MatD& K) {
    Eigen::Matrix<double, dim, N> G = Eigen::Map<const Eigen::Matrix<double, dim, N>>(g.data());
    if constexpr (dim == 2) G.row(0) -= inverse33 * q.hoop.transpose();
    for (int b = 0; b < N; ++b)
      for (int k = 0; k < dim; ++k)
        for (int a = 0; a < N; ++a)
          for (int i = 0; i < dim; ++i) {
            double v = G(k, a) * G(i, b);
            if (dim == 2 && i == 0 && k == 0) v += inverse33 * inverse33 * q.hoop[a] * q.hoop[b];
            K(dim * a + i, dim * b + k) -= factor * v;
          }
  }
  double outOfPlane(const double* state) const {
    const double e = state[stateSize - 1];
    return setting_.large ? std::exp(e) : 1 + e;
  }

  bool gradientAtCentre(size_t cell, const VecD& u, Centre& c) const {
    const Point& q = centres_[cell];
    const material::Mat3 F = tensorOf(unit() + gradient(q, u));
    if (setting_.large) {
      const double J = F.determinant();
      if (!(J > 0) || !(F(2, 2) > 0 || dim == 3)) return false;
      const material::Mat3 inverse = F.inverse();
      c.logJ = std::log(J), c.inverse33 = inverse(2, 2);
      c.g = logVolumeGradient(q, inverse);
    } else {
      c.logJ = F.trace() - 3;
      c.g = logVolumeGradient(q, material::Mat3::Identity());
    }
    return true;
  }

  bool kinematics(size_t cell, int p, const VecD& u, const Centre& centre, Kinematics& k) const {
    const Point& q = point(cell, p);
    k.F = unit() + gradient(q, u);
    const material::Mat3 F = tensorOf(k.F);
    if (setting_.large) {
      const double J = F.determinant();
      if (!(J > 0) || !(F(2, 2) > 0 || dim == 3)) return false;
      if (!bar_) return true;
      const material::Mat3 inverse = F.inverse();
      k.g = logVolumeGradient(q, inverse), k.inverse33 = inverse(2, 2);
      k.psi = centre.g - k.g;
      k.beta = std::exp((centre.logJ - std::log(J)) / 3);
      k.plain = k.F;
      k.F *= k.beta;
    } else if (bar_) {
      k.psi = centre.g - logVolumeGradient(q, material::Mat3::Identity());
      k.plain = unit();
      k.F += unit() * ((centre.logJ - (F.trace() - 3)) / 3);
    }
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
      const auto index = [](int a) { return material::mandelOf[Parts::row[a]][Parts::column[a]]; };
      const auto weight = [](int a) { return Parts::row[a] == Parts::column[a] ? 1 : 1 / material::root2; };
      for (int a = 0; a < NF; ++a) s.P[a] = weight(a) * T[index(a)];
      if (tangent)
        for (int a = 0; a < NF; ++a)
          for (int b = 0; b < NF; ++b) s.A(a, b) = weight(a) * weight(b) * s.response.tangent(index(a), index(b));
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
    for (int a = 0; a < NF; ++a) s.P[a] = Pk(Parts::row[a], Parts::column[a]);
    if (!tangent) return;
    // A = δ_ik S_JL + F_iM F_kN CC_MJNL through the matrix of d(C/2)/dF
    Eigen::Matrix<double, NF, 6> M = Eigen::Matrix<double, NF, 6>::Zero();
    for (int a = 0; a < NF; ++a)
      for (int m = 0; m < 6; ++m) {
        const int i = Parts::row[a], J = Parts::column[a], K = material::rowOf[m], L = material::columnOf[m];
        if (K == L) M(a, m) = J == K ? F(i, J) : 0;
        else M(a, m) = ((J == L ? F(i, K) : 0) + (J == K ? F(i, L) : 0)) / material::root2;
      }
    s.A.noalias() = M * log.tangent(s.response.T, s.response.tangent) * M.transpose();
    for (int a = 0; a < NF; ++a)
      for (int b = 0; b < NF; ++b)
        if (Parts::row[a] == Parts::row[b]) s.A(a, b) += S(Parts::column[a], Parts::column[b]);
  }

  Setting setting_;
  Law law_;
  bool bar_ = false;
  std::vector<Point> points_, centres_;
};

}  // namespace anvil::element
