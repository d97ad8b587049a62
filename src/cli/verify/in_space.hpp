// A plane or axisymmetric verification model as a solid one, so that each case is checked in space by the same file.
#pragma once
#include <string>

#include "core/model/forward.hpp"

namespace anvil::cli {

struct InSpace {
  double extent = 1;  ///< depth along z, file units of length; of an axisymmetric model the angle, degrees
  int layers = 1;
  std::string element = "hex8";  ///< of every deformable part
};

/// Extrudes the parts of a plane model (plane strain is kept by holding both ends along z, plane stress by holding one) or
/// revolves those of an axisymmetric one (ends held along their normal, r is radial, z is y). Rigid parts reach beyond the
/// ends. Total forces, moments and stiffnesses are scaled to what the slice has of the whole. Carriers follow in the mean.
/// Faces that shrink to the axis are taken off the supports.
void intoSpace(model::Document& d, const InSpace& how);

}  // namespace anvil::cli
