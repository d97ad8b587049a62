// Strains of a slender cell from the places and turns of its ends, with their derivatives.
#pragma once
#include <Eigen/Core>
#include <array>
#include <cmath>

#include "core/base/jet.hpp"

namespace anvil::element {

template <class T>
using Three = std::array<T, 3>;

template <class T>
Three<T> crossed(const Three<T>& a, const Three<T>& b) {
  return {a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]};
}
template <class T>
T dotted(const Three<T>& a, const Three<T>& b) {
  return a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
}

/// A unit quaternion.
template <class T>
struct Turn {
  T w;
  Three<T> v;
};

/// Below this square the functions that follow are summed as power series.
inline constexpr double small = 1e-2;

/// Σ c_k x^k from its first coefficient and the ratio of each to the one before, with two derivatives.
template <class J, class Ratio>
J series(const J& x, double first, const Ratio& ratio) {
  double f = 0, df = 0, ddf = 0, c = first, p0 = 1, p1 = 0, p2 = 0;
  for (int k = 0; k < 10; ++k) {
    f += c * p0, df += c * p1, ddf += c * p2;
    p2 = p2 * x.value + 2 * p1, p1 = p1 * x.value + p0, p0 *= x.value;
    c *= ratio(k);
  }
  return x.through(f, df, ddf);
}

/// sin(t/2)/t, cos(t/2) and asin(s)/s as functions of the square, with two derivatives by it.
template <class J>
J halfSine(const J& square) {
  const double x = square.value;
  if (x < small) return series(square, 0.5, [](double k) { return -0.25 / ((2 * k + 2) * (2 * k + 3)); });
  const double t = std::sqrt(x), s = std::sin(t / 2), c = std::cos(t / 2);
  const double f = s / t, df = (c / 2 - f) / (2 * x);
  return square.through(f, df, (-s / 4 / (2 * t) - df) / (2 * x) - df / x);
}
template <class J>
J halfCosine(const J& square) {
  const double x = square.value;
  if (x < small) return series(square, 1, [](double k) { return -0.25 / ((2 * k + 1) * (2 * k + 2)); });
  const double t = std::sqrt(x), s = std::sin(t / 2), c = std::cos(t / 2), df = -s / (4 * t);
  return square.through(c, df, -c / (16 * x) + s / (8 * t * x));
}
template <class J>
J arcSine(const J& square) {
  const double x = square.value;
  if (x < small) return series(square, 1, [](double k) { return (2 * k + 1) * (2 * k + 1) / ((2 * k + 2) * (2 * k + 3)); });
  const double s = std::sqrt(x), c = std::sqrt(1 - x), f = std::asin(s) / s, df = (1 / c - f) / (2 * x);
  return square.through(f, df, (1 / (2 * c * c * c) - df) / (2 * x) - df / x);
}

template <class J>
Turn<J> turnOf(const Three<J>& theta) {
  const auto square = dotted(theta, theta), s = halfSine(square);
  return {halfCosine(square), {s * theta[0], s * theta[1], s * theta[2]}};
}

/// conj(a) b
template <class T>
Turn<T> between(const Turn<T>& a, const Turn<T>& b) {
  const auto c = crossed(b.v, a.v);
  return {a.w * b.w + dotted(a.v, b.v),
          {a.w * b.v[0] - b.w * a.v[0] + c[0], a.w * b.v[1] - b.w * a.v[1] + c[1], a.w * b.v[2] - b.w * a.v[2] + c[2]}};
}
/// a b
template <class T>
Turn<T> after(const Turn<T>& a, const Turn<T>& b) {
  const auto c = crossed(a.v, b.v);
  return {a.w * b.w - dotted(a.v, b.v),
          {a.w * b.v[0] + b.w * a.v[0] + c[0], a.w * b.v[1] + b.w * a.v[1] + c[1], a.w * b.v[2] + b.w * a.v[2] + c[2]}};
}

/// The strains: stretch less 1, shear up, shear across, twist, curvature about up, curvature about across. Variables: how far
/// the ends moved apart (3), the rotation vectors of both (3 + 3); in the plane 2 + 1 + 1.
/// `soundness`: cosine of half the turn between the ends.
template <int N, int order>
std::array<Jet<N, order>, 6> beamStrains(const Eigen::Matrix3d& frame, double length, const double* variables, bool large,
                                         double& soundness) {
  using J = Jet<N, order>;
  Three<J> apart, one, two;
  for (int k = 0; k < (N == 4 ? 2 : 3); ++k) apart[size_t(k)] = J::variable(variables[k], k);
  if constexpr (N == 4) {
    one[2] = J::variable(variables[2], 2), two[2] = J::variable(variables[3], 3);
  } else {
    for (int k = 0; k < 3; ++k)
      one[size_t(k)] = J::variable(variables[3 + k], 3 + k), two[size_t(k)] = J::variable(variables[6 + k], 6 + k);
  }
  const auto own = [&](const Three<J>& v, int axis) {
    return v[0] * frame(0, axis) + v[1] * frame(1, axis) + v[2] * frame(2, axis);
  };
  std::array<J, 6> e;
  soundness = 1;
  if (!large) {
    Three<J> mean, along{J(frame(0, 0)), J(frame(1, 0)), J(frame(2, 0))};
    for (size_t k = 0; k < 3; ++k) mean[k] = (one[k] + two[k]) * 0.5;
    const auto turned = crossed(mean, along);
    for (int a = 0; a < 3; ++a)
      e[size_t(a)] = own(apart, a) * (1 / length) - own(turned, a), e[size_t(3 + a)] = (own(two, a) - own(one, a)) * (1 / length);
    return e;
  }
  const auto first = turnOf<J>(one), second = turnOf<J>(two);
  auto way = between(first, second);
  if (way.w.value < 0) {
    way.w *= -1;
    for (auto& v : way.v) v *= -1;
  }
  soundness = way.w.value;
  const auto arc = arcSine(dotted(way.v, way.v)) * (2 / length);
  const Three<J> bent{arc * way.v[0], arc * way.v[1], arc * way.v[2]};
  // half of the way: (1 + w, v), of square 2 (1 + w)
  const double w = way.w.value, n = 1 / std::sqrt(2 * (1 + w));
  const auto norm = way.w.through(n, -n / (2 * (1 + w)), 3 * n / (4 * (1 + w) * (1 + w)));
  const auto half = after(first, Turn<J>{(way.w + J(1)) * norm, {way.v[0] * norm, way.v[1] * norm, way.v[2] * norm}});
  Three<J> chord;
  for (size_t k = 0; k < 3; ++k) chord[k] = (apart[k] + J(length * frame(Eigen::Index(k), 0))) * (1 / length);
  // turned back: x - 2 w v × x + 2 v × (v × x)
  const auto once = crossed(half.v, chord), twice = crossed(half.v, once);
  Three<J> back;
  for (size_t k = 0; k < 3; ++k) back[k] = chord[k] - half.w * once[k] * 2 + twice[k] * 2;
  for (int a = 0; a < 3; ++a) e[size_t(a)] = own(back, a), e[size_t(3 + a)] = own(bent, a);
  e[0] -= J(1);
  return e;
}

}  // namespace anvil::element
