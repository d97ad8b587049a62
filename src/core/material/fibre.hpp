// Direct stress in a fibre of a slender part: the laws of laws.hpp for uniaxial stress, at small strains.
#pragma once
#include <array>
#include <optional>
#include <vector>

#include "core/material/laws.hpp"

namespace anvil::material {

/// What a fibre remembers.
struct FibreState {
  double plastic = 0;                          ///< plastic strain
  double alpha = 0;                            ///< equivalent plastic strain
  std::array<double, CyclicLaw::most> back{};  ///< back stresses, MPa
  static constexpr size_t size = 2 + CyclicLaw::most;
};

struct FibreResponse {
  double stress = 0, tangent = 0;  ///< MPa
  double strainEnergy = 0;         ///< elastic, per volume
  double plasticWork = 0;          ///< of the increment, per volume
};

/// Uniaxial return mapping (J. Simo, T. Hughes, Computational Inelasticity, 1998, box 1.5), implicit for a hardening curve whose
/// gain is split between growth and motion of the yield range, and for several back stresses that saturate.
struct FibreLaw {
  double young = 0, shear = 0;  ///< MPa
  bool yields = false;
  Hardening hardening;
  double kinematicShare = 0;
  std::vector<CyclicLaw::Term> terms;

  FibreResponse respond(double strain, const FibreState& old, FibreState& now, bool elasticTrial) const;
};

/// The fibre of a law; nothing for laws that are no metals.
std::optional<FibreLaw> fibreOf(const AnyLaw& law);

}  // namespace anvil::material
