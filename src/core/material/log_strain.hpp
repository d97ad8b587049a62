// Logarithmic strain: the way from the deformation gradient into a small-strain constitutive box and back
// (C. Miehe, N. Apel, M. Lambrecht, CMAME 191, 2002). Derivatives of ln C by divided differences (Daleckii, Krein),
// exact and stable for repeated eigenvalues.
#pragma once
#include "core/material/tensor.hpp"

namespace anvil::material {

class LogStrain {
public:
  /// F: deformation gradient with det F > 0.
  explicit LogStrain(const Mat3& F);

  /// E = ½ ln(FᵀF), Mandel.
  const Vec6& strain() const { return E_; }
  /// Second Piola–Kirchhoff stress from the stress T conjugate to E.
  Vec6 secondPiola(const Vec6& T) const;
  /// dS/d(C/2) as 6x6, from T and the box's tangent dT/dE.
  Mat6 tangent(const Vec6& T, const Mat6& boxTangent) const;
  /// Spatial logarithmic strain ½ ln(FFᵀ), Mandel.
  Vec6 spatial(const Mat3& F) const;

private:
  Vec3 lambda_;        ///< eigenvalues of C
  Mat3 Q_;             ///< eigenvectors of C
  Mat6 R_;             ///< Mandel rotation of Q
  Mat3 first_;         ///< first divided differences of ½ ln at pairs of eigenvalues
  Vec6 E_;
};

/// Divided differences of f(x) = ½ ln x at two and three positive numbers, equal or not.
double logDifference(double a, double b);
double logDifference(double a, double b, double c);

}  // namespace anvil::material
