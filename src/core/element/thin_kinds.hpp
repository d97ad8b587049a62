// The two kinds of thin cells: shape functions, points in the sheet, where assumed strains are sampled, enhanced strains. See
// solid_shell.hpp for the papers. For use inside this folder.
#pragma once
#include <Eigen/Core>
#include <array>
#include <cmath>
#include <utility>

namespace anvil::element::thin {

/// Natural directions of a Mandel component.
inline constexpr int first[6] = {0, 1, 2, 0, 1, 0}, second[6] = {0, 1, 2, 1, 2, 2};
inline constexpr int across = 2, shear23 = 4, shear13 = 5;

/// Where assumed strains are sampled: shears along a line in the sheet (`along`), or the thickness strain (no line).
struct Sample {
  double xi, eta;
  double along[2];
  bool ofThickness() const { return along[0] == 0 && along[1] == 0; }
};
/// What a sample counts for at a point in the natural components 33, 23 and 13.
using Share = std::array<double, 3>;
inline constexpr std::array<int, 3> assumed{across, shear23, shear13};

/// Eight corners. Samples: shears in the middles of the four edges, thickness strains in the four corners.
struct Hexahedron {
  static constexpr int N = 8, M = 9, inSheet = 4, ofMembrane = 4;
  static constexpr double at[N][3] = {{-1, -1, -1}, {1, -1, -1}, {1, 1, -1}, {-1, 1, -1},
                                      {-1, -1, 1},  {1, -1, 1},  {1, 1, 1},  {-1, 1, 1}};
  using Slopes = Eigen::Matrix<double, N, 3>;
  static Slopes slopesAt(double xi, double eta, double zeta) {
    Slopes d;
    for (int a = 0; a < N; ++a) {
      const double x = 1 + at[a][0] * xi, y = 1 + at[a][1] * eta, z = 1 + at[a][2] * zeta;
      d(a, 0) = at[a][0] * y * z / 8, d(a, 1) = at[a][1] * x * z / 8, d(a, 2) = at[a][2] * x * y / 8;
    }
    return d;
  }
  /// Points of a layer, each near the corner of its number, with weights.
  static std::array<std::array<double, 3>, inSheet> layer() {
    const double g = 1 / std::sqrt(3.);
    return {{{-g, -g, 1}, {g, -g, 1}, {g, g, 1}, {-g, g, 1}}};
  }
  static constexpr std::array<double, 2> middle{0, 0};
  static constexpr std::array<Sample, 8> samples{{{0, -1, {1, 0}},
                                                  {0, 1, {1, 0}},
                                                  {-1, 0, {0, 1}},
                                                  {1, 0, {0, 1}},
                                                  {-1, -1, {0, 0}},
                                                  {1, -1, {0, 0}},
                                                  {1, 1, {0, 0}},
                                                  {-1, 1, {0, 0}}}};
  static Share share(size_t i, double xi, double eta) {
    const Sample& s = samples[i];
    if (i < 2) return {0, 0, (1 + s.eta * eta) / 2};
    if (i < 4) return {0, (1 + s.xi * xi) / 2, 0};
    return {(1 + s.xi * xi) * (1 + s.eta * eta) / 4, 0, 0};
  }
  /// Enhanced strains in natural components of the middle, those of the membrane first: a shape and the component that has it. Of
  /// the thickness strain only what the nodes do not have already; the last one lets a sheet bend as sharply as it is thick and
  /// keep its volume.
  static std::array<std::pair<int, double>, M> modes(double xi, double eta, double zeta) {
    return {{{0, xi},
             {1, eta},
             {3, xi},
             {3, eta},
             {across, zeta},
             {across, zeta * xi},
             {across, zeta * eta},
             {across, zeta * xi * eta},
             {across, zeta * zeta - 1. / 3}}};
  }
};

/// Six corners: a triangle and its thickness. Shears as they are along its edges (P. Lee, K. Bathe, Computers & Structures 82,
/// 2004), thickness strains from its corners; its stretch in the sheet is uniform.
struct Wedge {
  static constexpr int N = 6, M = 4, inSheet = 3, ofMembrane = 0;
  using Slopes = Eigen::Matrix<double, N, 3>;
  static Slopes slopesAt(double xi, double eta, double zeta) {
    const double L[3] = {1 - xi - eta, xi, eta}, byXi[3] = {-1, 1, 0}, byEta[3] = {-1, 0, 1};
    Slopes d;
    for (int a = 0; a < N; ++a) {
      const int c = a % 3;
      const double sign = a < 3 ? -1 : 1, half = (1 + sign * zeta) / 2;
      d(a, 0) = byXi[c] * half, d(a, 1) = byEta[c] * half, d(a, 2) = sign * L[c] / 2;
    }
    return d;
  }
  static std::array<std::array<double, 3>, inSheet> layer() {
    const double a = 1. / 6, b = 2. / 3, w = 1. / 6;
    return {{{a, a, w}, {b, a, w}, {a, b, w}}};
  }
  static constexpr std::array<double, 2> middle{1. / 3, 1. / 3};
  static constexpr std::array<Sample, 6> samples{
      {{0.5, 0, {1, 0}}, {0, 0.5, {0, 1}}, {0.5, 0.5, {-1, 1}}, {0, 0, {0, 0}}, {1, 0, {0, 0}}, {0, 1, {0, 0}}}};
  static Share share(size_t i, double xi, double eta) {
    const double L[3] = {1 - xi - eta, xi, eta};
    const Share shears[3] = {{0, xi, 1 - eta}, {0, 1 - xi, eta}, {0, xi, -eta}};
    return i < 3 ? shears[i] : Share{L[i - 3], 0, 0};
  }
  static std::array<std::pair<int, double>, M> modes(double xi, double eta, double zeta) {
    return {{{across, zeta}, {across, zeta * (xi - 1. / 3)}, {across, zeta * (eta - 1. / 3)}, {across, zeta * zeta - 1. / 3}}};
  }
};

}  // namespace anvil::element::thin
