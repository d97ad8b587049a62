// Elastic logarithmic strain of a multiplicative split: the way from the deformation gradient into a small-strain
// constitutive box and back.
//
// With U = √C and the inverse plastic metric G = Cp⁻¹ of the last state, the trial elastic strain in the frame rotated
// by the polar rotation R is E = ½ ln(U G U). The box answers with the rotated Kirchhoff stress T and the plastic flow;
// S = U⁻¹ T U⁻¹, and the new metric is U⁻¹ exp(2(E - flow)) U⁻¹: an exponential-map update (J. Simo, CMAME 99, 1992)
// whose intermediate configuration turns with R, so that a back stress does so too (A. Green, P. Naghdi, 1965) and
// does not oscillate in shear (J. Nagtegaal, J. de Jong, 1982). An additive split of ½ ln C was tried first; in simple
// shear its stress falls to half the plateau at a shear of 4 (case M2).
#pragma once
#include "core/material/tensor.hpp"

namespace anvil::material {

class LogStrain {
 public:
  /// F: deformation gradient with det F > 0. G: inverse plastic metric (identity when nothing has yielded).
  explicit LogStrain(const Mat3& F, const Mat3& G = Mat3::Identity()) : LogStrain(Metric{F.transpose() * F}, G) {}
  /// The same of a metric C = FᵀF, positive definite, where there is no gradient that it comes of.
  struct Metric {
    Mat3 C;
  };
  explicit LogStrain(const Metric& metric, const Mat3& G = Mat3::Identity());

  /// Trial elastic strain E, Mandel.
  const Vec6& strain() const { return E_; }
  /// Second Piola–Kirchhoff stress from the box's stress.
  Vec6 secondPiola(const Vec6& T) const;
  /// dS/d(C/2), from T and the box's tangent dT/dE; n = 4 for states whose third direction stands by itself.
  template <int n = 6>
  MatOf<n> tangent(const Vec6& T, const Mat6& boxTangent) const;
  /// Inverse plastic metric after the box's flow. `stretch33` > 0 replaces the stretch across the plane (plane stress).
  Mat3 metricAfter(const Vec6& flow, double stretch33 = 0) const;
  /// Total spatial logarithmic strain ½ ln(FFᵀ), Mandel.
  Vec6 spatial(const Mat3& F) const;

 private:
  Vec3 stretch_, mu_, e_;      ///< principal stretches; eigenvalues of U G U, and half of their logarithms
  Mat3 Q_, N_, U_, inverseU_;  ///< eigenvectors of C and of U G U
  Mat3 G_;
  Vec6 E_;
  bool unflowed_;  ///< G is 1: the two have the same eigenvectors
};

/// First divided difference of ½ ln x at two positive numbers, equal or not.
double logDifference(double a, double b);

}  // namespace anvil::material
