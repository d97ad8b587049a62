// The rim of a prism's end as curves in its plane. For use inside this folder.
#pragma once
#include <Eigen/Core>
#include <Geom_Curve.hxx>
#include <optional>
#include <vector>

#include "mesher/prism.hpp"
#include "mesher/quads.hpp"

namespace anvil::mesher {

class Rims {
 public:
  explicit Rims(const Prism& prism);
  /// The point of the rim halfway between two of its points that are next to each other; nothing when they lie on none.
  /// `rim` gets which one it is.
  std::optional<Eigen::Vector2d> onto(const Eigen::Vector2d& a, const Eigen::Vector2d& b, int* rim = nullptr) const;

  struct Curve {
    Handle(Geom_Curve) curve;
    double from, to;
    Eigen::Vector2d a, b;  ///< its ends
    double length = 0;
    bool circle = false;
    Eigen::Vector2d centre{0, 0};
    double radius = 0;
    bool whole() const { return (a - b).norm() < 1e-7 * length; }
  };
  const std::vector<Curve>& curves() const { return curves_; }
  /// Point at a share of a curve's length.
  Eigen::Vector2d at(int curve, double share) const;
  /// Share of the curve's length turned through, as edges of a circle: how many a full circle would hold is `perCircle`.
  double edgesFor(int curve, double perCircle) const;

 private:
  const Prism& prism_;
  std::vector<Curve> curves_;
};

/// Adds the middles, on the rim where a side lies there. Throws std::runtime_error when an outer side lies on no rim.
Quads withMiddles(const std::vector<Eigen::Vector2d>& x, const std::vector<std::vector<int>>& cells, const std::vector<int>& end,
                  const Rims& rims);

}  // namespace anvil::mesher
