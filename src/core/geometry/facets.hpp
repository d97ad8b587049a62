// A surface of triangles with smoothed normals: each triangle is a quadratic patch that meets the normals at its corners
// (T. Nagata, Computer Aided Geometric Design 22, 2005), so that a tool known by facets only does not rattle.
#pragma once
#include <Eigen/Core>
#include <array>
#include <memory>
#include <string>
#include <vector>

#include "core/model/entry.hpp"
#include "core/model/forward.hpp"

namespace anvil::geometry {

using Point3 = Eigen::Vector3d;
using Triangle = std::array<int, 3>;

class FacetSurface {
 public:
  /// `points` in mm; triangles run anticlockwise seen from outside. Edges whose facets turn by more than `crease` (rad) stay
  /// sharp. Throws Error naming the facet when one is flat, three meet at an edge, or neighbours run in opposite senses.
  FacetSurface(std::vector<Point3> points, std::vector<Triangle> triangles, double crease, const std::string& path);
  ~FacetSurface();

  /// The surface's place nearest to x, of those that face it squarely (interior or convex sharp edge or corner).
  struct Near {
    bool found = false;
    double distance = 0;                              ///< mm, positive outside
    Point3 normal{0, 0, 0};                           ///< unit, outwards; gradient of the distance
    Eigen::Matrix3d slope = Eigen::Matrix3d::Zero();  ///< derivative of the normal with x, 1/mm
  };
  Near nearest(const Point3& x) const;

  /// The same surface seen from its other side.
  std::shared_ptr<const FacetSurface> turnedRound() const;

  const std::vector<Point3>& points() const { return points_; }
  const std::vector<Triangle>& triangles() const { return triangles_; }
  bool closed() const { return closed_; }

 private:
  struct Patch;
  struct Tree;
  std::vector<Point3> points_;
  std::vector<Triangle> triangles_;
  double crease_;
  bool closed_ = true;
  std::vector<Patch> patches_;
  std::unique_ptr<Tree> tree_;
};

/// The facets of a rigid part's shape. Throws Error with the place in the document.
std::shared_ptr<const FacetSurface> facets(const model::Facets& facets, const model::Quantities& quantities,
                                           const std::string& path);

}  // namespace anvil::geometry
