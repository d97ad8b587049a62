// What acts in a model: supports, motions, loads, temperatures, stabilisations.
#pragma once
#include <string>
#include <vector>

#include "core/model/history.hpp"

namespace anvil::model {

struct Support {
  std::vector<std::string> on, fix;  ///< fix: axes, "normal", or in space "radial y", "around y"
  Point about;                       ///< a point of the axis of radial and around
  std::string edge = "held";         ///< of a thin part: "held", or "hinged" about its middle line
  std::vector<std::string> during;   ///< steps; all when empty
  bool operator==(const Support&) const = default;
};

struct Motion {
  std::vector<std::string> on;
  Direction along;
  Direction axis;             ///< turn in space about any axis: its direction
  Point about;                ///< turn of edges and faces: a point of the axis
  std::string edge = "held";  ///< as for supports
  Course course;
  bool operator==(const Motion&) const = default;
};

struct Load {
  std::vector<std::string> on;
  std::string kind =
      "pressure";  ///< "pressure" (follows the surface), "force" (total, keeps its direction), "force per length", "moment"
  std::string of =
      "part";       ///< a force or moment is that of the modelled "part", or of the "whole" that symmetry planes make of it
  Direction along;  ///< of a force; axis of a moment
  Course course;
  bool operator==(const Load&) const = default;
};

struct Stabilisation {
  std::vector<std::string> on;  ///< parts
  Entry strength = 1;           ///< multiplies the self-chosen viscosity
  std::vector<std::string> during;
  bool operator==(const Stabilisation&) const = default;
};

/// A change of temperature against the start, the same all over its parts.
struct Temperature {
  std::vector<std::string> on;  ///< parts
  Course rise;                  ///< kelvin
  bool operator==(const Temperature&) const = default;
};

}  // namespace anvil::model
