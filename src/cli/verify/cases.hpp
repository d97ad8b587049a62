#pragma once
#include <numbers>

#include "cli/verify/study.hpp"

namespace anvil::cli {

inline constexpr double pi = std::numbers::pi;

void caseE1(Study&), caseE2(Study&), caseM1(Study&), caseM2(Study&), caseP1(Study&), caseP2(Study&), caseP3(Study&);
void caseP2Solid(Study&), caseP3Solid(Study&), caseL1Solid(Study&), caseC1Solid(Study&);
void caseP5(Study&), caseP6(Study&), caseL2(Study&), caseC4(Study&), caseC6(Study&), caseC8(Study&), caseC9(Study&),
    caseC10(Study&);
void caseM3(Study&), caseP4(Study&), caseC2(Study&), caseC3(Study&);
void caseM1Solid(Study&), caseM2Solid(Study&), caseP1Solid(Study&), caseP4Solid(Study&), caseP5Solid(Study&), caseP6Solid(Study&),
    caseL5(Study&);
void caseC2Solid(Study&), caseC3Solid(Study&), caseC4Solid(Study&), caseC5Solid(Study&), caseC6Solid(Study&), caseC7Solid(Study&),
    caseC8Solid(Study&), caseC9Solid(Study&), caseC10Solid(Study&);
void caseC3Free(Study&), caseC7Free(Study&), caseB1(Study&), caseB2(Study&);
void caseCrimp(Study&), caseC1(Study&), caseC5(Study&), caseC7(Study&), caseL1(Study&), caseL3(Study&), caseX1(Study&),
    caseX2(Study&), caseX3(Study&);
void caseS1(Study&), caseS5(Study&);
void caseS2(Study&), caseS3(Study&), caseS4(Study&), caseS6(Study&), caseS7(Study&), caseS8(Study&), caseS9(Study&),
    caseS10(Study&), caseS11(Study&), caseS12(Study&), caseS13(Study&), caseS14(Study&);
void caseN1(Study&), caseN2(Study&), caseN3(Study&), caseN4(Study&), caseN5(Study&), caseN6(Study&), caseN7(Study&);

/// Outermost radius with plastic strain: the border is taken where the strain, falling outwards, goes to zero.
double plasticRadius(const Solved& solved, size_t row);

/// Half width (radius) where the pressure of a smooth contact ends, in the plane or in space. p² falls linearly with the squared
/// distance there, so the end is the zero of the least-squares line through the nodes that carry at least a fifth of the
/// greatest pressure; whole nodal areas would be known to an element only.
double hertzWidth(const Solved& solved);

/// The table of case M1: yield stress (MPa) at an equivalent plastic strain.
double tableOfM1(double strain);

/// Largest r_{k+1} / r_k² over all increments, r the residual over the average force, where r_k is small enough for the
/// quadratic end and r_{k+1} above rounding.
double quadraticConstant(const Solved& solved);

}  // namespace anvil::cli
