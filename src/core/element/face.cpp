#include "core/element/face.hpp"

#include "core/element/shapes.hpp"

namespace anvil::element {
namespace {

using FaceRule = std::vector<std::pair<Eigen::Vector2d, double>>;

FaceRule edgePoints() {
  const double g = 0.7745966692414834;
  return {{{-g, 0}, 5. / 9}, {{0, 0}, 8. / 9}, {{g, 0}, 5. / 9}};
}
FaceRule squarePoints() {
  FaceRule p;
  for (const auto& [a, wa] : edgePoints())
    for (const auto& [b, wb] : edgePoints()) p.push_back({{a.x(), b.x()}, wa * wb});
  return p;
}
/// Seven points, exact to degree five (J. Radon, 1948).
FaceRule trianglePoints() {
  const double a = 0.059715871789769820, b = 0.470142064105115090, c = 0.797426985353087322, d = 0.101286507323456339;
  const double w0 = 0.1125, w1 = 0.066197076394253090, w2 = 0.062969590272413576;
  return {{{1. / 3, 1. / 3}, w0}, {{a, b}, w1}, {{b, a}, w1}, {{b, b}, w1}, {{c, d}, w2}, {{d, c}, w2}, {{d, d}, w2}};
}

template <class Type>
FaceShape of(const Eigen::Vector2d& at) {
  FaceShape f;
  const auto N = Type::shape(at);
  const auto dN = Type::gradient(at);
  for (int a = 0; a < Type::nodes; ++a) f.N[size_t(a)] = N[a], f.d1[size_t(a)] = dN(a, 0), f.d2[size_t(a)] = dN(a, 1);
  return f;
}

}  // namespace

FaceShape faceShape(int corners, bool quadratic, const Eigen::Vector2d& at) {
  FaceShape f;
  const double s = at.x(), t = at.y();
  if (corners == 2) {
    if (quadratic)
      f.N = {s * (s - 1) / 2, s * (s + 1) / 2, 1 - s * s}, f.d1 = {s - 0.5, s + 0.5, -2 * s};
    else
      f.N = {(1 - s) / 2, (1 + s) / 2}, f.d1 = {-0.5, 0.5};
    return f;
  }
  if (!quadratic) return cornerShape(corners, at);
  if (corners == 4) return of<Quad8>(at);
  const double r = 1 - s - t;  // as Tri6 has them; contact asks for hardly anything else
  f.N = {r * (2 * r - 1), s * (2 * s - 1), t * (2 * t - 1), 4 * r * s, 4 * s * t, 4 * t * r};
  f.d1 = {1 - 4 * r, 4 * s - 1, 0, 4 * (r - s), 4 * t, -4 * t};
  f.d2 = {1 - 4 * r, 0, 4 * t - 1, -4 * s, 4 * s, 4 * (r - t)};
  return f;
}

const FaceRule& faceRule(int corners) {
  static const FaceRule edge = edgePoints(), square = squarePoints(), triangle = trianglePoints();
  return corners == 2 ? edge : corners == 4 ? square : triangle;
}

}  // namespace anvil::element
