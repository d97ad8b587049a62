// Total-Lagrangian solid elements from the deformation gradient.
//
// Linear cells are freed from volumetric locking by a modified gradient (as E. de Souza Neto, D. Perić et al., IJSS 33,
// 1996): F̄ = (J0/J)^⅓ F with J0 the determinant of the mean of F over the cell (at the centre in the paper; the mean
// passes the patch test on distorted hexes too). So are quadratic triangles and tetrahedra of materials that flow or are
// nearly incompressible, where it keeps the dilatation constant; others keep it linear, which bends better. The residual is taken
// as the exact variation of F̄ (so r = [dev τ] F⁻ᵀ : δF + p F0⁻ᵀ : δF0), which keeps the element's stiffness symmetric wherever
// the material's is.
#pragma once
#include <Eigen/LU>
#include <array>
#include <numbers>

#include "core/base/error.hpp"
#include "core/element/block.hpp"
#include "core/element/shapes.hpp"
#include "core/element/solid_families.hpp"

namespace anvil::element {

template <class Type>
class Solid final : public Block {
 public:
  static constexpr int N = Type::nodes, dim = Type::dim, D = dim * N, P = Type::points;
  using Parts = Layout<dim>;
  static constexpr int NF = Parts::size;
  using VecF = Eigen::Matrix<double, NF, 1>;
  using MatF = Eigen::Matrix<double, NF, NF>;
  using VecD = Eigen::Matrix<double, D, 1>;
  using MatD = Eigen::Matrix<double, D, D>;

  Solid(const mesh::Block& cells, const std::vector<Eigen::Vector3d>& x, const Setting& setting, const material::AnyLaw& law)
      : Block(cells), setting_(setting), material_(makePoints<dim>(cells.count() * P, setting, law)) {
    modulus_ = material::stiffestModulus(law);
    bar_ = Type::bar && setting.space != Space::planeStress && (Type::corners == N || keepsVolume(law));
    precompute(x);
    foresees_ = bar_ && setting.large && isStiffInVolume(law);
    if (foresees_) seen_.resize(cells.count());
  }

  Points& points() override { return *material_; }
  const Points& points() const override { return *material_; }

  void accept() override { Block::accept(), forget(); }
  void reject() override { Block::reject(), forget(); }
  bool foresees() const override { return foresees_; }

  ElementReport integrate(size_t cell, const double* u, double* r, double* K, bool elasticTrial,
                          const Foresight& foresight = {}) override {
    const VecD ue = Eigen::Map<const VecD>(u);
    std::array<Kinematics, P> all;
    Centre centre;
    if (!kinematics(cell, ue, centre, all)) return {true, 0};
    std::array<VecF, P> F;
    for (size_t p = 0; p < P; ++p) F[p] = all[p].F;
    std::array<PointStress<dim>, P> stress;
    std::array<double, P> foreseen;
    const bool ahead = (K || foresight.ahead >= 0) && foresee(cell, ue, K ? -1 : foresight.ahead, foreseen);
    material_->evaluate(cell * P, P, F.data(), K != nullptr, elasticTrial, ahead ? foreseen.data() : nullptr, stress.data());
    if (K && foresees()) remember(cell, ue, centre, stress, ahead ? &foreseen : nullptr);
    if (ahead && !K)
      for (auto& s : stress) s.P = s.foreseen;
    VecD force = VecD::Zero(), shift = VecD::Zero();
    MatD stiffness, byComponent;  // node by node, and component by component, so that loops run over nodes
    if (K) stiffness.setZero(), byComponent.setZero();
    ElementReport report;
    double pressureSum = 0;
    for (int p = 0; p < P; ++p) {
      const Kinematics& k = all[size_t(p)];
      const auto& s = stress[size_t(p)];
      report.plasticIncrement = std::max(report.plasticIncrement, s.plasticIncrement);
      const Point& q = point(cell, p);
      const double dV = q.dV;
      const VecD GP = transposeTimes(q, s.P);
      // F̄ = beta F, dF̄/du = beta (G + F ψᵀ/3); small: dF̄/du = G + I ψᵀ/3
      force += (k.beta * dV) * GP;
      if (bar_) force += (k.beta * dV * k.plain.dot(s.P) / 3) * k.psi;
      if (!K) continue;
      const MatF A = (k.beta * k.beta * dV) * s.A;
      addStiffness(q, A, byComponent);
      if (!bar_) continue;
      const VecF AF = A.lazyProduct(k.plain), FA = A.transpose().lazyProduct(k.plain);
      stiffness += transposeTimes(q, AF) * (k.psi / 3).transpose() +
                   (k.psi / 3) * (transposeTimes(q, FA) + (k.plain.dot(AF) / 3) * k.psi).transpose();
      if (!setting_.large) continue;
      const double pressure = k.beta * s.foreseen.dot(k.plain) / 3;
      const VecD scaled = (k.beta * dV / 3) * (ahead ? transposeTimes(q, s.foreseen) : GP);
      if (ahead && foresight.shift) {
        const VecF more = s.foreseen - s.P;
        shift += (k.beta * dV) * (transposeTimes(q, more) + (k.plain.dot(more) / 3) * k.psi);
      }
      stiffness += scaled * k.psi.transpose() + k.psi * (scaled + (dV / 3 * pressure) * k.psi).transpose();
      addSecondVariation(q, k.g, k.inverse33, -pressure * dV, byComponent);
      pressureSum += pressure * dV;
    }
    if (K && bar_ && setting_.large) addSecondVariation(centres_[cell], centre.g, centre.inverse33, pressureSum, byComponent);
    Eigen::Map<VecD>{r} = force;
    if (K && foresight.shift) Eigen::Map<VecD>{foresight.shift} = shift;
    if (K)
      for (int b = 0; b < N; ++b)
        for (int k = 0; k < dim; ++k) {
          double* column = K + D * (dim * b + k);
          const double *own = stiffness.col(dim * b + k).data(), *other = byComponent.col(k * N + b).data();
          for (int a = 0; a < N; ++a)
            for (int i = 0; i < dim; ++i) column[dim * a + i] = own[dim * a + i] + other[i * N + a];
        }
    return report;
  }

  void output(size_t cell, const double* u, PointOutput* out) const override {
    const VecD ue = Eigen::Map<const VecD>(u);
    std::array<Kinematics, P> all;
    Centre centre;
    kinematics(cell, ue, centre, all);
    std::array<VecF, P> F;
    for (size_t p = 0; p < P; ++p) F[p] = all[p].F;
    material_->output(cell * P, P, F.data(), out);
    for (int p = 0; p < P; ++p) out[p].volume = point(cell, p).dV;
  }

  void lumpedVolume(size_t cell, double* perNode) const override {
    double total = 0;
    for (int p = 0; p < P; ++p) total += point(cell, p).dV;
    for (int a = 0; a < N; ++a) perNode[a] = total / N;
  }

  double leastVolume(size_t cell, const double* u) const override {
    if (!setting_.large) return 1;
    const VecD ue = Eigen::Map<const VecD>(u);
    double least = 1e300;
    const auto at = [&](const Point& q) {
      const material::Mat3 F = tensorOf<dim>(unit() + gradient(q, ue));
      const double J = F.determinant();
      least = std::min(least, dim == 3 || F(2, 2) > 0 ? J : -std::abs(J));
    };
    for (int p = 0; p < P; ++p) at(point(cell, p));
    if (bar_) at(centres_[cell]);
    return least;
  }

  Rounding rounding(size_t cell) const override {
    Rounding r;
    for (int p = 0; p < P; ++p) {
      const Point& q = point(cell, p);
      const double slope = std::max(q.dN.rowwise().norm().maxCoeff(), q.hoop.cwiseAbs().maxCoeff());
      r.perStrain += modulus_ * slope * q.dV, r.perShift += modulus_ * slope * slope * q.dV;
    }
    return r;
  }

 private:
  struct Point {
    Eigen::Matrix<double, N, dim> dN;  ///< shape function gradients with respect to reference coordinates
    Eigen::Matrix<double, N, 1> hoop;  ///< N_a / R in axisymmetric models, else 0
    double dV;
  };
  struct Centre {
    double logJ = 0, inverse33 = 0;
    VecD g;  ///< d ln J / du
  };
  struct Kinematics {
    VecF F, plain;  ///< F is F̄ where the element uses it; plain: the factor of ψ/3 in its variation
    double beta = 1, inverse33 = 0;
    VecD g, psi;  ///< d ln J / du, and d(ln J0 - ln J)/du
  };
  /// Of a cell, at the last tangent since the increment began.
  struct Seen {
    bool any = false;
    VecD u, g;                             ///< displacements; d ln J0 / du
    std::array<double, P> pressure, bulk;  ///< the true mean Kirchhoff stress and its derivative by ln J
    std::array<double, P> taken;           ///< the mean Kirchhoff stress that the tangent was taken with
  };
  /// The pressures foreseen at displacements u; with a share of the correction on the way from those of the last tangent to
  /// there. False where there was none.
  bool foresee(size_t cell, const VecD& u, double share, std::array<double, P>& foreseen) const {
    if (!foresees() || !seen_[cell].any) return false;
    const Seen& s = seen_[cell];
    if (share < 0 && u == s.u) share = 0;  // the same once more
    const double swelling = s.g.dot(u - s.u);
    for (size_t p = 0; p < P; ++p)
      foreseen[p] = (share < 0 ? s.pressure[p] : (1 - share) * s.taken[p] + share * s.pressure[p]) + s.bulk[p] * swelling;
    return true;
  }
  void forget() {
    for (auto& s : seen_) s.any = false;
  }
  void remember(size_t cell, const VecD& u, const Centre& centre, const std::array<PointStress<dim>, P>& stress,
                const std::array<double, P>* taken) {
    Seen& s = seen_[cell];
    s.any = true, s.u = u, s.g = centre.g;
    for (size_t p = 0; p < P; ++p)
      s.pressure[p] = stress[p].pressure, s.bulk[p] = stress[p].bulk, s.taken[p] = taken ? (*taken)[p] : stress[p].pressure;
  }

  const Point& point(size_t cell, int p) const { return points_[cell * P + size_t(p)]; }
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
    if (!(det > 0))
      throw Error("element " + std::to_string(cell + 1) + " is folded in the undeformed mesh", {}, "Mend the part's mesh.");
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
  /// F - 1 = G u.
  static VecF gradient(const Point& q, const VecD& u) {
    VecF F = VecF::Zero();
    const Eigen::Map<const Eigen::Matrix<double, dim, N>> U(u.data());
    const Eigen::Matrix<double, dim, dim> H = U.lazyProduct(q.dN);
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
    R = M.lazyProduct(q.dN.transpose());
    if constexpr (dim == 2) R.row(0) += p[4] * q.hoop.transpose();
    return r;
  }
  /// K += Gᵀ A G, component by component, using that G has one non-zero block per node.
  static void addStiffness(const Point& q, const MatF& A, MatD& K) {
    for (int k = 0; k < dim; ++k) {
      Eigen::Matrix<double, NF, N> AG = A.template middleCols<dim>(dim * k).lazyProduct(q.dN.transpose());
      if (dim == 2 && k == 0) AG += A.col(NF - 1) * q.hoop.transpose();
      for (int b = 0; b < N; ++b)
        for (int i = 0; i < dim; ++i) {
          auto column = K.template block<N, 1>(i * N, k * N + b);
          for (int j = 0; j < dim; ++j) column += AG(dim * i + j, b) * q.dN.col(j);
          if (dim == 2 && i == 0) column += AG(NF - 1, b) * q.hoop;
        }
    }
  }
  /// d ln J / du from F⁻¹.
  static VecD logVolumeGradient(const Point& q, const material::Mat3& inverse) {
    VecF t;
    for (int a = 0; a < NF; ++a) t[a] = inverse(Parts::column[a], Parts::row[a]);
    return transposeTimes(q, t);
  }
  /// K += factor times the second variation of ln J, component by component: -tr(F⁻¹ δF F⁻¹ ΔF).
  static void addSecondVariation(const Point& q, const VecD& g, double inverse33, double factor, MatD& K) {
    Eigen::Matrix<double, N, dim> G = Eigen::Map<const Eigen::Matrix<double, dim, N>>(g.data()).transpose();
    if constexpr (dim == 2) G.col(0) -= inverse33 * q.hoop;
    for (int k = 0; k < dim; ++k)
      for (int b = 0; b < N; ++b)
        for (int i = 0; i < dim; ++i) {
          auto column = K.template block<N, 1>(i * N, k * N + b);
          column -= (factor * G(b, i)) * G.col(k);
          if (dim == 2 && i == 0 && k == 0) column -= (factor * inverse33 * inverse33 * q.hoop[b]) * q.hoop;
        }
  }
  bool kinematics(size_t cell, const VecD& u, Centre& centre, std::array<Kinematics, P>& all) const {
    if (bar_ && !gradientAtCentre(cell, u, centre)) return false;
    for (int p = 0; p < P; ++p)
      if (!kinematicsAt(cell, p, u, centre, all[size_t(p)])) return false;
    return true;
  }

  bool gradientAtCentre(size_t cell, const VecD& u, Centre& c) const {
    const Point& q = centres_[cell];
    const material::Mat3 F = tensorOf<dim>(unit() + gradient(q, u));
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

  bool kinematicsAt(size_t cell, int p, const VecD& u, const Centre& centre, Kinematics& k) const {
    const Point& q = point(cell, p);
    k.F = unit() + gradient(q, u);
    const material::Mat3 F = tensorOf<dim>(k.F);
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

  Setting setting_;
  std::unique_ptr<PointsIn<dim>> material_;
  double modulus_ = 0;  ///< the material's stiffest, MPa
  bool bar_ = false, foresees_ = false;
  std::vector<Point> points_, centres_;
  std::vector<Seen> seen_;  ///< per cell
};

}  // namespace anvil::element
