#include "core/material/log_strain.hpp"

#include <Eigen/Eigenvalues>

namespace anvil::material {

double logDifference(double a, double b) {
  // ½ ln(a/b)/(a-b) = atanh(z)/(z (a+b)) with z = (a-b)/(a+b)
  const double z = (a - b) / (a + b), z2 = z * z;
  const double ratio = z2 < 1e-4 ? 1 + z2 * (1. / 3 + z2 * (1. / 5 + z2 * (1. / 7 + z2 / 9))) : std::atanh(z) / z;
  return ratio / (a + b);
}

namespace {

/// Matrix of X ↦ A X B + (A X B)ᵀ on symmetric X, Mandel.
Mat6 twoSided(const Mat3& A, const Mat3& B) {
  Mat6 M;
  for (int b = 0; b < 6; ++b) {
    const int k = rowOf[b], l = columnOf[b];
    Mat3 Y = A.col(k) * B.row(l);
    if (k != l) Y = (Y + A.col(l) * B.row(k)) / root2;
    M.col(b) = toMandel(Y + Y.transpose());
  }
  return M;
}

/// Matrix of an isotropic tensor function's derivative: divided differences d in the frame of the columns of Q.
Mat6 inFrame(const Mat3& Q, const Mat3& d) {
  const Mat6 R = mandelRotation(Q);
  const Vec6 diagonal = (Vec6() << d(0, 0), d(1, 1), d(2, 2), d(0, 1), d(1, 2), d(0, 2)).finished();
  return R * diagonal.asDiagonal() * R.transpose();
}

}  // namespace

LogStrain::LogStrain(const Metric& metric, const Mat3& G) : G_(G) {
  const Eigen::SelfAdjointEigenSolver<Mat3> ofC(metric.C);
  stretch_ = ofC.eigenvalues().cwiseSqrt(), Q_ = ofC.eigenvectors();
  U_ = Q_ * stretch_.asDiagonal() * Q_.transpose();
  inverseU_ = Q_ * stretch_.cwiseInverse().asDiagonal() * Q_.transpose();
  const Eigen::SelfAdjointEigenSolver<Mat3> ofM(U_ * G * U_);
  mu_ = ofM.eigenvalues(), N_ = ofM.eigenvectors();
  const Vec3 e = 0.5 * mu_.array().log();
  E_ = toMandel(N_ * e.asDiagonal() * N_.transpose());
}

Vec6 LogStrain::secondPiola(const Vec6& T) const { return toMandel(inverseU_ * fromMandel(T) * inverseU_); }

Mat6 LogStrain::tangent(const Vec6& T, const Mat6& boxTangent) const {
  Mat3 ofRoot, ofLog;
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j < 3; ++j) ofRoot(i, j) = 2 / (stretch_[i] + stretch_[j]), ofLog(i, j) = logDifference(mu_[i], mu_[j]);
  const Mat6 dU = inFrame(Q_, ofRoot), dE = inFrame(N_, ofLog) * (twoSided(Mat3::Identity(), G_ * U_) * dU);
  const Mat3 S = inverseU_ * fromMandel(T) * inverseU_;
  return 0.5 * twoSided(inverseU_, inverseU_) * (boxTangent * dE) - twoSided(inverseU_, S) * dU;
}

Mat3 LogStrain::metricAfter(const Vec6& flow, double stretch33) const {
  const Eigen::SelfAdjointEigenSolver<Mat3> elastic(fromMandel(E_ - flow));
  const Vec3 e = (2 * elastic.eigenvalues()).array().exp();
  const Mat3 b = elastic.eigenvectors() * e.asDiagonal() * elastic.eigenvectors().transpose();
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
