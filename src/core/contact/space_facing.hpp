// Exact slopes of the integrals over what two faces share.
#pragma once
#include "core/contact/space_kernel.hpp"

namespace anvil::contact {

/// Adds `dKappa`, `dGap`, `dSlip` and `stiffness` of two faces that share points to what else was found.
void addExactSlopes(const SpaceFace& slave, const SpaceFace& master, double reach, const std::array<CornerTraction, 4>& traction,
                    bool friction, FaceIntegral& out);

}  // namespace anvil::contact
