#include "core/base/unit_set.hpp"

namespace anvil {

std::string UnitSet::unitOf(Kind kind) const {
  switch (kind) {
    case Kind::number:
      return {};
    case Kind::percent:
      return "%";
    case Kind::length:
      return length;
    case Kind::force:
      return force;
    case Kind::stress:
      return stress;
    case Kind::time:
      return time;
    case Kind::temperature:
      return temperature;
    case Kind::angle:
      return angle;
    case Kind::density:
      return density;
    case Kind::mass:
      return mass;
    case Kind::lineForce:
      return force + "/" + length;
    case Kind::lineMoment:
      return force + " " + length + "/" + length;
    case Kind::moment:
    case Kind::work:
      return force + " " + length;
    case Kind::turnStiffness:
      return force + " " + length + "/" + angle;
    case Kind::damping:
      return force + " " + time + "/" + length;
    case Kind::turnDamping:
      return force + " " + length + " " + time + "/" + angle;
    case Kind::area:
      return length + "²";
    case Kind::volume:
      return length + "³";
    case Kind::curvature:
      return "1/" + length;
    case Kind::twist:
      return angle + "/" + length;
    case Kind::energyDensity:
      return force + " " + length + "/" + length + "³";
    case Kind::expansion:
      return "1/" + temperature;
  }
  return {};
}

const std::vector<UnitSet>& unitSets() {
  static const std::vector<UnitSet> sets{
      {"mm N MPa"},
      {"m N Pa", "m", "N", "Pa", "s", "K", "deg", "kg/m3", "kg"},
      {"in lbf psi", "in", "lbf", "psi", "s", "K", "deg", "lb/in3", "lb"},
      {"in kip ksi", "in", "kip", "ksi", "s", "K", "deg", "lb/in3", "lb"},
  };
  return sets;
}

}  // namespace anvil
