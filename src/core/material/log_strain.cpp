#include "core/material/log_strain.hpp"

#include <Eigen/Eigenvalues>
#include <algorithm>

namespace anvil::material {

double logDifference(double a, double b) {
  // ½ ln(a/b)/(a-b) = atanh(z)/(z (a+b)) with z = (a-b)/(a+b)
  const double z = (a - b) / (a + b), z2 = z * z;
  const double ratio = z2 < 1e-4 ? 1 + z2 * (1. / 3 + z2 * (1. / 5 + z2 * (1. / 7 + z2 / 9))) : std::atanh(z) / z;
  return ratio / (a + b);
}

double logDifference(double a, double b, double c) {
  double x[3] = {a, b, c};
  std::sort(x, x + 3);
  const double mean = (a + b + c) / 3, spread = (x[2] - x[0]) / mean;
  if (spread > 0.02) return (logDifference(x[2], x[1]) - logDifference(x[1], x[0])) / (x[2] - x[0]);
  // Taylor series about the mean: sum over n of f^(n)/n! times the complete homogeneous polynomial of degree n-2
  const double p = x[0] / mean - 1, q = x[1] / mean - 1, r = x[2] / mean - 1;
  double sum = 0, sign = -1, hr = 1, hqr = 1, hpqr = 1;
  for (int n = 2; n <= 9; ++n, sign = -sign) {
    sum += sign * 0.5 / n * hpqr;
    hr *= r;              // h_{n-1}(r)
    hqr = hr + q * hqr;   // h_{n-1}(q, r)
    hpqr = hqr + p * hpqr;
  }
  return sum / (mean * mean);
}

LogStrain::LogStrain(const Mat3& F) {
  const Mat3 C = F.transpose() * F;
  const Eigen::SelfAdjointEigenSolver<Mat3> eigen(C);
  lambda_ = eigen.eigenvalues(), Q_ = eigen.eigenvectors();
  R_ = mandelRotation(Q_);
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j <= i; ++j) first_(i, j) = first_(j, i) = logDifference(lambda_[i], lambda_[j]);
  Vec6 principal = Vec6::Zero();
  for (int i = 0; i < 3; ++i) principal[i] = 0.5 * std::log(lambda_[i]);
  E_ = R_ * principal;
}

static Vec6 doubled(const Mat3& first) {
  return 2 * (Vec6() << first(0, 0), first(1, 1), first(2, 2), first(0, 1), first(1, 2), first(0, 2)).finished();
}

Vec6 LogStrain::secondPiola(const Vec6& T) const { return R_ * doubled(first_).cwiseProduct(R_.transpose() * T); }

Mat6 LogStrain::tangent(const Vec6& T, const Mat6& boxTangent) const {
  const Vec6 D = doubled(first_);
  const Mat3 t = fromMandel(R_.transpose() * T);
  Mat6 L = D.asDiagonal() * (R_.transpose() * boxTangent * R_) * D.asDiagonal();
  double second[3][3][3];
  for (int i = 0; i < 3; ++i)
    for (int j = i; j < 3; ++j)
      for (int k = j; k < 3; ++k) {
        const double f = logDifference(lambda_[i], lambda_[j], lambda_[k]);
        second[i][j][k] = second[i][k][j] = second[j][i][k] = second[j][k][i] = second[k][i][j] = second[k][j][i] = f;
      }
  const auto weight = [](int i, int j) { return i == j ? 1. : 1 / root2; };
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j < 3; ++j)
      for (int k = 0; k < 3; ++k) {
        const double v = 4 * second[i][k][j] * t(i, j) * weight(i, k) * weight(k, j);
        L(mandelOf[i][k], mandelOf[k][j]) += v;
        L(mandelOf[k][j], mandelOf[i][k]) += v;
      }
  return R_ * L * R_.transpose();
}

Vec6 LogStrain::spatial(const Mat3& F) const {
  Mat3 e = Mat3::Zero();
  for (int i = 0; i < 3; ++i) {
    const Vec3 n = F * Q_.col(i);
    e += 0.5 * std::log(lambda_[i]) / lambda_[i] * n * n.transpose();
  }
  return toMandel(e);
}

}  // namespace anvil::material
