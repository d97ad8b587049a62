// Numbers that carry their first and second derivatives by N variables: automatic differentiation, forward, second order
// (A. Griewank, A. Walther, Evaluating Derivatives, 2008, ch. 13).
#pragma once
#include <Eigen/Core>
#include <cmath>

namespace anvil {

/// `order`: 2, or 1 without second derivatives.
template <int N, int order = 2>
struct Jet {
  static constexpr int rows = order == 2 ? N : 0;
  double value = 0;
  Eigen::Matrix<double, N, 1> first = Eigen::Matrix<double, N, 1>::Zero();
  Eigen::Matrix<double, rows, rows> second = Eigen::Matrix<double, rows, rows>::Zero();

  Jet() = default;
  Jet(double v) : value(v) {}
  /// Variable `i` at a value.
  static Jet variable(double v, int i) {
    Jet j(v);
    j.first[i] = 1;
    return j;
  }

  Jet& operator+=(const Jet& b) {
    value += b.value, first += b.first, second += b.second;
    return *this;
  }
  Jet& operator-=(const Jet& b) {
    value -= b.value, first -= b.first, second -= b.second;
    return *this;
  }
  Jet& operator*=(double s) {
    value *= s, first *= s, second *= s;
    return *this;
  }
  friend Jet operator+(Jet a, const Jet& b) { return a += b; }
  friend Jet operator-(Jet a, const Jet& b) { return a -= b; }
  friend Jet operator-(Jet a) { return a *= -1; }
  friend Jet operator*(Jet a, double s) { return a *= s; }
  friend Jet operator*(double s, Jet a) { return a *= s; }
  friend Jet operator*(const Jet& a, const Jet& b) {
    Jet r(a.value * b.value);
    r.first = a.value * b.first + b.value * a.first;
    if constexpr (order == 2)
      r.second = a.value * b.second + b.value * a.second + a.first * b.first.transpose() + b.first * a.first.transpose();
    return r;
  }
  /// A function of it, by the function's value and first two derivatives there.
  Jet through(double f, double df, double ddf) const {
    Jet r(f);
    r.first = df * first;
    if constexpr (order == 2) r.second = df * second + ddf * first * first.transpose();
    return r;
  }
};

}  // namespace anvil
