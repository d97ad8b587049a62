// Constitutive boxes: trial elastic strain (logarithmic, or linear in small geometry) and old state in; stress, tangent,
// plastic flow and new state out. Who calls keeps the plastic strain itself (see element/solid.hpp).
#pragma once
#include <array>
#include <variant>
#include <vector>

#include "core/material/hardening.hpp"
#include "core/material/tensor.hpp"

namespace anvil::material {

/// What a box gives back at a point.
struct Response {
  Vec6 T;                       ///< Kirchhoff stress in the rotated frame, MPa
  Mat6 tangent;                 ///< dT/dE, consistent with the update
  Vec6 flow = Vec6::Zero();     ///< increment of plastic strain; the elastic strain left is E - flow
  double elastic33 = 0;         ///< plane stress: trial elastic strain across the plane that was found
  double plasticIncrement = 0;  ///< of the equivalent plastic strain
  double strainEnergy = 0;      ///< elastic, per reference volume
};

/// How a box is to be evaluated.
struct Evaluation {
  bool finite = true;         ///< large strain: yield compares true (Cauchy) stress, J = exp(tr E)
  bool elasticTrial = false;  ///< take no plastic flow (first guess when the loading turns round)
};

/// Hencky elasticity: T = lambda tr(E) I + 2 mu E.
struct ElasticLaw {
  double lambda = 0, mu = 0;

  static ElasticLaw fromYoung(double E, double nu);
  static constexpr int stateSize() { return 0; }
  static constexpr bool yields() { return false; }
  static constexpr bool symmetric(bool) { return true; }
  void respond(const Vec6& E, const double* old, double* now, const Evaluation& how, Response& r) const;
  Mat6 stiffness() const;
};

/// J2 plasticity with a hardening curve split between growth and motion of the yield surface: return mapping of
/// J. Simo, T. Hughes, Computational Inelasticity (1998), box 3.2, written for the true stress T/J so that a uniaxial
/// test returns the given table exactly.
/// State: back stress (6, true), equivalent plastic strain, plastic work per reference volume.
struct J2Law {
  ElasticLaw elastic;
  Hardening hardening;        ///< true yield stress against equivalent plastic strain
  double kinematicShare = 0;  ///< 0 isotropic, 1 kinematic

  static constexpr int stateSize() { return 8; }
  static constexpr int alphaAt = 6, workAt = 7;  ///< places in the state
  static constexpr bool yields() { return true; }
  /// The dependence of yield on J makes the large-strain tangent slightly unsymmetric.
  static constexpr bool symmetric(bool finite) { return !finite; }
  void respond(const Vec6& E, const double* old, double* now, const Evaluation& how, Response& r) const;

  double yieldAt(double alpha) const { return hardening(alpha); }

 private:
  double solveIncrement(double trial, double alpha, double shear) const;
};

/// J2 plasticity with several back stresses that saturate (P. Armstrong, C. Frederick, 1966; J. Chaboche, IJP 5, 1989):
/// dβ_k = ⅔ C_k dεp - γ_k β_k dα, integrated implicitly. The yield radius follows `hardening`.
/// State: back stresses (6 each), equivalent plastic strain, plastic work.
struct CyclicLaw {
  struct Term {
    double modulus = 0, recovery = 0;  ///< C, MPa; γ
  };
  static constexpr int most = 4;
  ElasticLaw elastic;
  Hardening hardening;
  std::vector<Term> terms;

  static constexpr int stateSize() { return 6 * most + 2; }
  static constexpr int alphaAt = 6 * most, workAt = 6 * most + 1;
  static constexpr bool yields() { return true; }
  static constexpr bool symmetric(bool) { return false; }
  void respond(const Vec6& E, const double* old, double* now, const Evaluation& how, Response& r) const;
};

/// Elastic along a curve of uniaxial stress, loading and unloading alike: T = K tr(E) I + ⅔ q(e)/e dev E, with the
/// equivalent strain e = √⅔ |dev E| (Hencky's deformation theory).
struct CurveElasticLaw {
  double bulk = 0;
  Curve curve;  ///< q against e, from (0, 0)
  double finalSlope = 0;

  static constexpr int stateSize() { return 0; }
  static constexpr bool yields() { return false; }
  static constexpr bool symmetric(bool) { return true; }
  void respond(const Vec6& E, const double* old, double* now, const Evaluation& how, Response& r) const;
};

/// Rubber: an energy of the principal stretches, isochoric part plus K/4 (J² - 1 - 2 ln J) (R. Ogden, 1972; J. Simo,
/// R. Taylor, CMAME 85, 1991). Written in logarithmic stretches, so that it shares the way of the metals.
struct RubberLaw {
  /// Σ μ_p/α_p (λ̄1^α_p + λ̄2^α_p + λ̄3^α_p - 3); initial shear modulus ½ Σ μ_p α_p. Neo-Hookean and Mooney–Rivlin are
  /// the terms α = 2 and α = -2.
  struct Term {
    double modulus = 0, exponent = 2;
  };
  std::vector<Term> terms;
  std::array<double, 3> yeoh{};  ///< Σ c_i (I1 - 3)^i instead, where c_1 is not 0
  double bulk = 0;

  double shearModulus() const;
  static constexpr int stateSize() { return 0; }
  static constexpr bool yields() { return false; }
  static constexpr bool symmetric(bool) { return true; }
  void respond(const Vec6& E, const double* old, double* now, const Evaluation& how, Response& r) const;
};

/// Zero stress across the plane: finds the trial elastic strain 33 by Newton's method and condenses the tangent
/// (R. de Borst, IJNME 31, 1991). State of the box, then the elastic strain 33 as a first guess.
template <class Law>
struct PlaneStress {
  Law box;

  static constexpr int stateSize() { return Law::stateSize() + 1; }
  static constexpr int alphaAt = [] {
    if constexpr (Law::yields())
      return Law::alphaAt;
    else
      return 0;
  }();
  static constexpr int workAt = [] {
    if constexpr (Law::yields())
      return Law::workAt;
    else
      return 0;
  }();
  static constexpr bool yields() { return Law::yields(); }
  static constexpr bool symmetric(bool finite) { return Law::symmetric(finite); }
  /// E's component 33 is ignored on entry.
  void respond(const Vec6& E, const double* old, double* now, const Evaluation& how, Response& r) const {
    Vec6 e = E;
    e[2] = old[Law::stateSize()];
    for (int i = 0; i < 40; ++i) {
      box.respond(e, old, now, how, r);
      const double step = r.T[2] / r.tangent(2, 2);
      e[2] -= step;
      if (std::abs(step) < 1e-15 + 1e-13 * E.norm()) break;
    }
    box.respond(e, old, now, how, r);
    r.elastic33 = e[2];
    now[Law::stateSize()] = e[2] - r.flow[2];
    const Vec6 column = r.tangent.col(2), row = r.tangent.row(2).transpose();
    r.tangent -= column * row.transpose() / r.tangent(2, 2);
    r.T[2] = 0;
  }
};

using AnyLaw = std::variant<ElasticLaw, J2Law, CyclicLaw, CurveElasticLaw, RubberLaw>;

/// The stiffest that a law answers a strain with, unstrained: K + 4/3 G, MPa. Rounding of strains turns up as this times it.
double stiffestModulus(const AnyLaw& law);

}  // namespace anvil::material
