#include "core/material/log_strain.hpp"

#include "core/material/principal.hpp"

namespace anvil::material {

double logDifference(double a, double b) {
  // ½ ln(a/b)/(a-b) = atanh(z)/(z (a+b)) with z = (a-b)/(a+b)
  const double z = (a - b) / (a + b), z2 = z * z;
  const double ratio = z2 < 1e-4 ? 1 + z2 * (1. / 3 + z2 * (1. / 5 + z2 * (1. / 7 + z2 / 9))) : std::atanh(z) / z;
  return ratio / (a + b);
}

namespace {

/// Matrix of X ↦ A X B + (A X B)ᵀ on symmetric X, Mandel.
template <int n>
MatOf<n> twoSided(const Mat3& A, const Mat3& B) {
  MatOf<n> M;
  for (int b = 0; b < n; ++b) {
    const int k = rowOf[b], l = columnOf[b];
    const double ofColumn = k != l ? 1 / root2 : 0.5;
    for (int m = 0; m < n; ++m) {
      const int r = rowOf[m], c = columnOf[m];
      const double sum = A(r, k) * B(l, c) + A(c, k) * B(l, r) + A(r, l) * B(k, c) + A(c, l) * B(k, r);
      M(m, b) = (r != c ? root2 : 1) * ofColumn * sum;
    }
  }
  return M;
}

/// Matrix of an isotropic tensor function's derivative: divided differences d in the frame of the columns of Q.
template <int n>
MatOf<n> inFrame(const Mat3& Q, const Eigen::Matrix<double, n, 1>& d) {
  const MatOf<n> R = mandelRotation<n>(Q);
  return R * d.asDiagonal() * R.transpose();
}

}  // namespace

LogStrain::LogStrain(const Metric& metric, const Mat3& G) : G_(G), unflowed_(G == Mat3::Identity()) {
  const auto ofC = principalOf(metric.C);
  stretch_ = ofC.values.cwiseSqrt(), Q_ = ofC.directions;
  U_ = Q_ * stretch_.asDiagonal() * Q_.transpose();
  inverseU_ = Q_ * stretch_.cwiseInverse().asDiagonal() * Q_.transpose();
  if (unflowed_) {
    mu_ = ofC.values, N_ = Q_;
  } else {
    const auto ofM = principalOf(U_ * G * U_);
    mu_ = ofM.values, N_ = ofM.directions;
  }
  e_ = 0.5 * mu_.array().log();
  E_ = toMandel(N_ * e_.asDiagonal() * N_.transpose());
}

Vec6 LogStrain::secondPiola(const Vec6& T) const { return toMandel(inverseU_ * fromMandel(T) * inverseU_); }

template <int n>
MatOf<n> LogStrain::tangent(const Vec6& T, const Mat6& boxTangent) const {
  Eigen::Matrix<double, n, 1> ofU, ofE;  // divided differences of the root, and of half of the logarithm
  for (int m = 0; m < n; ++m) {
    const int i = rowOf[m], j = columnOf[m];
    ofU[m] = 2 / (stretch_[i] + stretch_[j]);
    const double a = mu_[i], b = mu_[j];
    ofE[m] = std::abs(a - b) > 0.1 * (a + b) ? (e_[i] - e_[j]) / (a - b) : logDifference(a, b);
  }
  const MatOf<n> box = boxTangent.topLeftCorner<n, n>();
  const Mat3 S = inverseU_ * fromMandel(T) * inverseU_;
  if (unflowed_) {  // all but the box and S is diagonal in the frame of the stretches
    const MatOf<n> R = mandelRotation<n>(Q_);
    const Vec3 inverse = stretch_.cwiseInverse();
    Eigen::Matrix<double, n, 1> ofS;
    for (int m = 0; m < n; ++m) ofS[m] = inverse[rowOf[m]] * inverse[columnOf[m]];
    const MatOf<n> half = R.transpose().lazyProduct(box);
    MatOf<n> turned = half.lazyProduct(R);
    turned = ofS.asDiagonal() * turned * (2 * ofE).asDiagonal();
    turned -= twoSided<n>(inverse.asDiagonal().toDenseMatrix(), Q_.transpose() * S * Q_) * ofU.asDiagonal();
    const MatOf<n> back = R.lazyProduct(turned);
    return back.lazyProduct(R.transpose());
  }
  const MatOf<n> dU = inFrame<n>(Q_, ofU), dM = twoSided<n>(Mat3::Identity(), G_ * U_) * dU, dE = inFrame<n>(N_, ofE) * dM,
                 dT = box * dE;
  return 0.5 * twoSided<n>(inverseU_, inverseU_) * dT - twoSided<n>(inverseU_, S) * dU;
}
template MatOf<4> LogStrain::tangent<4>(const Vec6&, const Mat6&) const;
template MatOf<6> LogStrain::tangent<6>(const Vec6&, const Mat6&) const;

Mat3 LogStrain::metricAfter(const Vec6& flow, double stretch33) const {
  const auto elastic = principalOf(fromMandel(E_ - flow));
  const Vec3 e = (2 * elastic.values).array().exp();
  const Mat3 b = elastic.directions * e.asDiagonal() * elastic.directions.transpose();
  Mat3 inverse = inverseU_;
  if (stretch33 > 0) inverse(2, 2) = 1 / stretch33;
  return inverse * b * inverse;
}

Vec6 LogStrain::spatial(const Mat3& F) const {
  Mat3 e = Mat3::Zero();
  for (int i = 0; i < 3; ++i) {
    const Vec3 n = F * Q_.col(i) / stretch_[i];
    e += std::log(stretch_[i]) * n * n.transpose();
  }
  return toMandel(e);
}

}  // namespace anvil::material
