// Whether elements are small enough for the pressure of a contact between round faces to be read.
#pragma once
#include "core/checks/readiness.hpp"
#include "core/problem/problem.hpp"

namespace anvil::checks {

/// Adds doubts about contacts whose area, as H. Hertz (1881) gives it for elastic bodies, spans fewer than four element edges.
/// The loading is taken at its largest, so that what is doubted is too coarse in any case; flow makes the area larger.
void pressureReading(analysis::Problem& problem, Report& report);

/// Half of the width of the contact between faces whose curvatures add up to 1/`radius`, mm: under a force per length (N/mm) of
/// cylinders that touch along a line, or a force (N) of bodies that touch at a point; `modulus` 1/((1-ν1²)/E1 + (1-ν2²)/E2), MPa.
double lineHalfWidth(double forcePerLength, double radius, double modulus);
double pointHalfWidth(double force, double radius, double modulus);

}  // namespace anvil::checks
