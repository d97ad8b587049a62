// A soft metal that hardens mixed, for tests of elements.
#pragma once
#include "core/material/laws.hpp"

namespace anvil {

inline material::J2Law softMetal() {
  material::J2Law l;
  l.elastic = material::ElasticLaw::fromYoung(1000, 0.3);
  l.hardening.add(0, 20), l.hardening.add(0.2, 40);
  l.hardening.finalSlope = 10;
  l.kinematicShare = 0.3;
  return l;
}

}  // namespace anvil
