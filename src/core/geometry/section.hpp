// Sections of slender parts: what they look like, their fibres, how they resist shear and torsion.
#pragma once
#include <Eigen/Core>
#include <string>
#include <vector>

#include "core/model/forward.hpp"

namespace anvil::geometry {

/// A piece of a section's area. Places are measured from the line, up and across (across = along the line × up), mm.
struct Fibre {
  double up, across, area;
};

struct SectionShape {
  std::vector<std::vector<Eigen::Vector2d>> loops;  ///< outlines [across, up]: the outer one anticlockwise, then holes
  std::vector<Fibre> fibres;                        ///< exact for the area's first and second moments
  double area = 0, torsion = 0;                     ///< mm²; Saint-Venant's constant, mm⁴
  double shearUp = 0, shearAcross = 0;              ///< areas that carry shear, mm²
  Eigen::Vector2d middle{0, 0};                     ///< centroid [across, up]
  Eigen::Vector2d inertia{0, 0};                    ///< about the centroid, ∫up² and ∫across², mm⁴
  double mixed = 0;                                 ///< ∫up across about the centroid, mm⁴
  double height = 0, width = 0;                     ///< extents up and across
  /// Bends the same in every direction.
  bool round() const;
};

/// The shape of a section; with `flat`, of a plane model, its fibres are those of its height alone. Shear areas are those of
/// G. Cowper (J. Appl. Mech. 33, 1966) at Poisson's ratio 0, of open sections their webs and flanges; torsion is free of warping
/// stresses (S. Timoshenko, J. Goodier, Theory of Elasticity, 1951, §§ 109–117). Throws Error with the place in the document.
SectionShape sectionShape(const model::Section& section, bool flat, const model::Quantities& quantities, const std::string& path);

}  // namespace anvil::geometry
