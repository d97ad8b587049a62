// The material-point driver against closed forms: uniaxial and shear paths, cycles, rubber, stress control, refusals.
#include <gtest/gtest.h>

#include <cmath>

#include "core/base/error.hpp"
#include "core/element/point_driver.hpp"
#include "words.hpp"

using namespace anvil;
using namespace anvil::element;

namespace {

constexpr double modulus = 200000, nu = 0.3;

material::J2Law steel(double tangent = 2000, double kinematic = 0) {
  material::J2Law law;
  law.elastic = material::ElasticLaw::fromYoung(modulus, nu);
  law.hardening.add(0, 250);
  law.hardening.finalSlope = tangent;
  law.kinematicShare = kinematic;
  return law;
}

Leg to(const char* words, int increments = 50) { return legFrom(words, increments); }

}  // namespace

TEST(PointDriver, ElasticTensionFollowsHookesLawInLogarithmicStrain) {
  const auto states = drive(material::ElasticLaw::fromYoung(modulus, nu), {to("xx=0.01", 4)});
  ASSERT_EQ(states.size(), 5u);
  const auto& s = states.back();
  // Kirchhoff stress E e; the volume grows by exp((1 - 2 nu) e)
  EXPECT_NEAR(s.stress[0], modulus * 0.01 / std::exp((1 - 2 * nu) * 0.01), 1e-6);
  EXPECT_NEAR(s.strain[1], -nu * 0.01, 1e-12);
  for (int i = 1; i < 6; ++i) EXPECT_NEAR(s.stress[size_t(i)], 0, 1e-6);
  EXPECT_NEAR(s.strainEnergy, modulus * 0.01 * 0.01 / 2, 1e-8);
}

TEST(PointDriver, UniaxialTensionReturnsTheGivenCurve) {
  const auto states = drive(steel(), {to("xx=0.3", 60)});
  for (size_t k = 2; k < states.size(); ++k)
    EXPECT_NEAR(states[k].stress[0], 250 + 2000 * states[k].equivalentPlastic, 1e-5) << k;
}

TEST(PointDriver, SimpleShearYieldsAtYieldOverRootThree) {
  const auto states = drive(steel(0), {to("xy=0.01", 20)}, false);
  EXPECT_NEAR(states.back().stress[3], 250 / std::sqrt(3.), 1e-6);
  EXPECT_NEAR(states.back().vonMises, 250, 1e-6);
}

TEST(PointDriver, CyclesShowTheBauschingerEffectOfKinematicHardening) {
  // after tension to a stress s the reverse yield is at s - 2 yield when kinematic, at -s when isotropic
  for (const double share : {0., 1.}) {
    const auto states = drive(steel(2000, share), {to("xx=0.05", 50), to("xx=0.04", 400)}, false);
    const double top = states[50].stress[0];
    double reverse = 0;
    for (size_t k = 51; k < states.size(); ++k)
      if (states[k].equivalentPlastic > states[50].equivalentPlastic + 1e-9) {
        reverse = states[k - 1].stress[0];
        break;
      }
    EXPECT_NEAR(reverse, share == 1 ? top - 500 : -top, modulus * 0.01 / 400 + 1) << share;
  }
}

TEST(PointDriver, UniaxialStrainOfAPlasticMaterialFollowsTheBulkModulus) {
  // sides held: beyond yield the slope of stress over strain is K (perfect plasticity, small strain)
  const auto states = drive(steel(0), {to("xx=0.02, yy=0, zz=0", 100)}, false);
  const double slope = (states[100].stress[0] - states[90].stress[0]) / (states[100].strain[0] - states[90].strain[0]);
  EXPECT_NEAR(slope, modulus / 3 / (1 - 2 * nu), 1e-3 * slope);
  EXPECT_NEAR(states.back().stress[0] - states.back().stress[1], 250, 1e-5);
}

TEST(PointDriver, StressControlMeetsStressesAndTheUnloadedStrainStays) {
  const auto states = drive(steel(), {to("xx=stress 300 MPa"), to("xx=stress 0")}, false);
  EXPECT_NEAR(states[50].stress[0], 300, 1e-6);
  EXPECT_NEAR(states[50].strain[0], 300 / modulus + 50. / 2000, 1e-8);
  EXPECT_NEAR(states[100].strain[0], 50. / 2000, 1e-8);
}

TEST(PointDriver, StressesThatALegDoesNotNameAreHeld) {
  // 100 MPa from the sides first; then tension: yield by von Mises is met by the difference
  const auto states = drive(steel(0), {to("yy=stress -100, zz=stress -100", 5), to("xx=0.02", 50)}, false);
  EXPECT_NEAR(states.back().stress[1], -100, 1e-6);
  EXPECT_NEAR(states.back().stress[0], 150, 1e-4);
}

TEST(PointDriver, RubberFollowsNeoHookeInPlaneAndEquibiaxialTension) {
  material::RubberLaw law;
  law.terms = {{1.2, 2}};
  law.bulk = 2e5;  // practically incompressible
  const double l = std::exp(0.5);
  // Cauchy stresses: uniaxial G (l² - 1/l); equibiaxial G (l² - 1/l⁴); plane strain G (l² - 1/l²)
  EXPECT_NEAR(drive(law, {to("xx=0.5")}).back().stress[0], 1.2 * (l * l - 1 / l), 1e-4);
  EXPECT_NEAR(drive(law, {to("xx=0.5, yy=0.5")}).back().stress[1], 1.2 * (l * l - std::pow(l, -4)), 1e-4);
  EXPECT_NEAR(drive(law, {to("xx=0.5, yy=0")}).back().stress[0], 1.2 * (l * l - std::pow(l, -2)), 1e-4);
}

TEST(PointDriver, PlasticWorkIsTheAreaUnderTheCurve) {
  const auto states = drive(steel(), {to("xx=0.1", 200)}, false);
  double area = 0;
  for (size_t k = 1; k < states.size(); ++k)
    area += (states[k].stress[0] + states[k - 1].stress[0]) / 2 * (states[k].strain[0] - states[k - 1].strain[0]);
  EXPECT_NEAR(states.back().plasticWork + states.back().strainEnergy, area, 2e-3 * area);
}

TEST(PointDriver, WhatCannotBeIsSaid) {
  EXPECT_NE(sentence([] { drive(steel(0), {to("xx=stress 300")}); }).find("leg 1"), std::string::npos);
  EXPECT_NE(sentence([] { to("xx=0.1, uu=3"); }).find("'uu=3'"), std::string::npos);
  EXPECT_NE(sentence([] { to("xx=much"); }).find("'much'"), std::string::npos);
  EXPECT_NE(sentence([] { to("xx=stress 3 mm"); }), "no error");
  Leg both = to("xx=0.1");
  both.stress[0] = 1;
  EXPECT_NE(sentence([&] { drive(steel(), {both}); }).find("both"), std::string::npos);
  Leg none = to("xx=0.1", 0);
  EXPECT_NE(sentence([&] { drive(steel(), {none}); }).find("increments"), std::string::npos);
}

TEST(PointDriver, LegsReadPerCentAndUnits) {
  EXPECT_DOUBLE_EQ(*to("xx=5 %").strain[0], 0.05);
  EXPECT_DOUBLE_EQ(*to("yy=stress 0.2 GPa").stress[1], 200);
  EXPECT_FALSE(to("xx=0.1").stress[1]);
}

TEST(PointDriver, PlasticWorkDoesNotDependOnTheIncrements) {
  // the flow stress grows within an increment: its mean works, so that few increments give the area too
  material::CyclicLaw cyclic;
  cyclic.elastic = material::ElasticLaw::fromYoung(modulus, nu);
  cyclic.hardening.add(0, 250);
  cyclic.hardening.finalSlope = 500;
  cyclic.terms = {{20000, 100}};
  const auto work = [](const material::AnyLaw& law, int increments) {
    return drive(law, {to("xx=0.1", increments)}, false).back().plasticWork;
  };
  EXPECT_NEAR(work(steel(), 10), work(steel(), 400), 2e-3 * work(steel(), 400));
  EXPECT_NEAR(work(steel(2000, 1), 10), work(steel(2000, 1), 400), 2e-3 * work(steel(2000, 1), 400));
  EXPECT_NEAR(work(cyclic, 80), work(cyclic, 800), 5e-3 * work(cyclic, 800));
}
