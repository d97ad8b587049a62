// Plane figures divided into 8-node quads: regular grids where the figure allows them, else made of triangles.
#pragma once
#include <Eigen/Core>
#include <array>
#include <functional>
#include <optional>
#include <vector>

#include "mesher/prism.hpp"
#include "mesher/tetrahedra.hpp"

namespace anvil::mesher {

/// Corners anticlockwise, then the middles of the sides 01 12 23 30.
struct Quads {
  std::vector<Eigen::Vector2d> x;
  std::vector<std::array<int, 8>> cells;
  std::vector<int> end;  ///< per cell: which of the prism's ends it lies on
  struct Side {
    int cell, side, rim;
  };
  std::vector<Side> sides;  ///< those on the rim
  double worst = 1;         ///< least scaled Jacobian
  Eigen::Vector2d worstPlace{0, 0};
};

inline double cross(const Eigen::Vector2d& a, const Eigen::Vector2d& b) { return a.x() * b.y() - a.y() * b.x(); }

/// Least sine of a corner's angle, negative where the quad is folded; 1 for a rectangle.
double scaledJacobian(const Eigen::Vector2d& a, const Eigen::Vector2d& b, const Eigen::Vector2d& c, const Eigen::Vector2d& d);

/// A regular grid on a figure with four corners, between two circles about one centre, or on a round disc. Nothing where the
/// figure is none of these. Sizes as for tetrahedra: those of sides act along their rims.
std::optional<Quads> regularQuads(const Prism& prism, const Wishes& wishes);

/// Any figure: neighbouring triangles (of twice the wanted size) are joined to quads, best ones first; then every quad is parted
/// in four and every triangle in three, and inner nodes are moved where that makes their worst quad better.
Quads quadsOfTriangles(const Prism& prism, const Tetrahedra& surface);

}  // namespace anvil::mesher
