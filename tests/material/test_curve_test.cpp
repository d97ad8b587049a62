// From tests to laws: conversions against hand calculation, fits against curves whose constants are known.
#include <gtest/gtest.h>

#include <cmath>

#include "core/material/rubber_fit.hpp"
#include "core/material/test_reading.hpp"
#include "words.hpp"

namespace anvil::material {
namespace {

constexpr double steelE = 200000;

/// Elastic to 200 MPa, then a straight rise of 1000 MPa per strain, engineering.
TestCurve straightTest() {
  TestCurve c;
  for (double e : {0., 0.0005, 0.001}) c.push_back({e, steelE * e});
  for (double e : {0.002, 0.01, 0.05, 0.1}) c.push_back({e, 200 + 1000 * (e - 0.001)});
  return c;
}

TEST(TestCurve, ConversionsAgreeWithHandCalculation) {
  const auto t = trueOf({{0.1, 300}});
  EXPECT_NEAR(t[0].strain, 0.0953101798, 1e-9);
  EXPECT_NEAR(t[0].stress, 330, 1e-9);
  const auto back = engineeringOf(t);
  EXPECT_NEAR(back[0].strain, 0.1, 1e-12);
  EXPECT_NEAR(back[0].stress, 300, 1e-9);
}

TEST(TestCurve, RowsOfEveryMeaningComeBack) {
  for (const bool total : {false, true})
    for (const bool engineering : {false, true}) {
      const TestPoint p{0.12, 410};
      const auto row = asRow(p, {total, engineering}, steelE), again = plasticTrue(row, {total, engineering}, steelE);
      EXPECT_NEAR(again.strain, p.strain, 1e-12);
      EXPECT_NEAR(again.stress, p.stress, 1e-9);
      EXPECT_EQ(row.strain == p.strain && row.stress == p.stress, !total && !engineering);
    }
  EXPECT_NEAR(plasticTrue({0.1, 300}, {true, true}, steelE).strain, 0.0953101798 - 330 / steelE, 1e-9);
}

TEST(TestCurve, TheOffsetLineMeetsTheCurve) {
  // 200 + 1000 (e - 0.001) = steelE (e - 0.002)
  const double e = (200 - 1 + 0.002 * steelE) / (steelE - 1000);
  const auto at = offsetYield(straightTest(), steelE);
  EXPECT_NEAR(at.strain, e, 1e-9);
  EXPECT_NEAR(at.stress, steelE * (e - 0.002), 1e-6);
  EXPECT_SAYS(sentence([] { offsetYield({{0, 0}, {0.001, 200}}, steelE); }), "does not reach a plastic strain of 0.2 %");
}

TEST(TestCurve, TheSlopeAtTheBeginIsYoungsModulus) {
  EXPECT_NEAR(slopeAtStart(straightTest()) / steelE, 1, 1e-9);
  TestCurve noisy;
  for (int i = 0; i <= 100; ++i) noisy.push_back({i * 1e-5, steelE * i * 1e-5 + (i % 2 ? 0.4 : -0.4)});
  EXPECT_NEAR(slopeAtStart(noisy) / steelE, 1, 0.01);
}

TEST(TestCurve, PlasticRowsBeginAtYieldAndGoThroughThePoints) {
  const auto curve = trueOf(straightTest());
  const auto yield = offsetYield(straightTest(), steelE);
  const double level = yield.stress * (1 + yield.strain);
  const auto rows = plasticRows(curve, steelE, level, false);
  EXPECT_EQ(rows.front().strain, 0);
  EXPECT_EQ(rows.front().stress, level);
  ASSERT_EQ(rows.size(), 4u);  // 0.01, 0.05 and 0.1 lie above
  EXPECT_NEAR(rows[3].strain, std::log(1.1) - 299 * 1.1 / steelE, 1e-12);
  EXPECT_NEAR(rows[3].stress, 299 * 1.1, 1e-9);
  // begun on the elastic line, all lie less what is plastic at yield: nearly 0.2 %
  const auto shifted = plasticRows(curve, steelE, level, true);
  const double shift = rows[3].strain - shifted[3].strain;
  EXPECT_NEAR(shift, 0.002, 2e-5);
  EXPECT_NEAR(rows[1].strain - shifted[1].strain, shift, 1e-12);
}

TEST(TestCurve, WhatComesBehindTheGreatestLoadIsNotOfTheWholeBar) {
  auto curve = straightTest();
  curve.push_back({0.2, 250}), curve.push_back({0.3, 100});
  EXPECT_EQ(upToGreatestLoad(curve).size(), straightTest().size());
}

TEST(TestCurve, AThinnedCurveStaysWithinItsTolerance) {
  TestCurve curve;
  for (int i = 0; i <= 2000; ++i) curve.push_back({i * 1e-4, 200 + 300 * (1 - std::exp(-i * 2e-3))});
  const auto few = thinned(curve);
  EXPECT_LT(few.size(), 60u);
  Curve lines;
  for (const auto& p : few) lines.add(p.strain, p.stress);
  for (const auto& p : curve) EXPECT_NEAR(lines(p.strain), p.stress, 0.002 * 500);
}

TEST(HardeningFit, FindsTheConstantsOfACurveThatHasThem) {
  Hardening power;
  power.form = Hardening::Form::power, power.yield = 180, power.strain = 0.008, power.exponent = 0.23;
  Hardening voce;
  voce.form = Hardening::Form::voce, voce.yield = 210, voce.gain = 160, voce.rate = 14, voce.slope = 350;
  std::vector<TestPoint> one, other;
  for (double a : {0., 0.002, 0.005, 0.01, 0.03, 0.06, 0.1, 0.2, 0.4})
    one.push_back({a, power(a)}), other.push_back({a, voce(a)});
  const auto p = fitPower(one);
  EXPECT_LT(p.error, 1e-6);
  EXPECT_NEAR(p.law.yield, 180, 0.05);
  EXPECT_NEAR(p.law.strain, 0.008, 1e-5);
  EXPECT_NEAR(p.law.exponent, 0.23, 1e-4);
  const auto v = fitVoce(other);
  EXPECT_LT(v.error, 1e-6);
  EXPECT_NEAR(v.law.gain, 160, 0.1);
  EXPECT_NEAR(v.law.rate, 14, 0.02);
  EXPECT_NEAR(v.law.slope, 350, 0.5);
  // one through the other's points is off by what it says
  const auto cross = fitPower(other);
  double sum = 0;
  for (const auto& q : other) sum += std::pow(cross.law(q.strain) - q.stress, 2);
  EXPECT_NEAR(cross.error, std::sqrt(sum / double(other.size())) / other.back().stress, 1e-9);
  EXPECT_GT(cross.error, 1e-4);
  EXPECT_SAYS(sentence([] { fitVoce({{0, 1}, {1, 2}}); }), "needs at least 4 points");
}

/// Points of a law in a test.
RubberData testOf(const RubberLaw& law, RubberTest test, double end) {
  RubberData d{test, {}};
  for (int i = 1; i <= 12; ++i) d.points.push_back({end * i / 12, nominalStress(law, test, end * i / 12)});
  return d;
}

TEST(RubberFit, NominalStressesAreTheDerivativesOfTheEnergy) {
  RubberLaw law;
  law.terms = {{0.6, 1.7}, {-0.02, -2.3}};
  const auto energy = [&](double a, double b, double c) {
    double w = 0;
    for (const auto& t : law.terms)
      w += t.modulus / t.exponent * (std::pow(a, t.exponent) + std::pow(b, t.exponent) + std::pow(c, t.exponent) - 3);
    return w;
  };
  const double h = 1e-6, l = 1.6;
  const auto slope = [&](auto at) { return (at(l + h) - at(l - h)) / (2 * h); };
  EXPECT_NEAR(nominalStress(law, RubberTest::oneWay, 0.6),
              slope([&](double x) { return energy(x, 1 / std::sqrt(x), 1 / std::sqrt(x)); }), 1e-8);
  EXPECT_NEAR(nominalStress(law, RubberTest::twoWays, 0.6), slope([&](double x) { return energy(x, x, 1 / x / x) / 2; }), 1e-8);
  EXPECT_NEAR(nominalStress(law, RubberTest::widthHeld, 0.6), slope([&](double x) { return energy(x, 1, 1 / x); }), 1e-8);
  const auto sheared = [&](double g) {
    const double x = g / 2 + std::sqrt(1 + g * g / 4);
    return energy(x, 1, 1 / x);
  };
  EXPECT_NEAR(nominalStress(law, RubberTest::shear, 0.8), (sheared(0.8 + h) - sheared(0.8 - h)) / (2 * h), 1e-8);
}

TEST(RubberFit, FindsTheConstantsOfEveryForm) {
  RubberLaw mooney;
  mooney.terms = {{2 * 0.4, 2}, {-2 * 0.07, -2}};
  const auto tests = [&](const RubberLaw& law) {
    return std::vector<RubberData>{testOf(law, RubberTest::oneWay, 1.5), testOf(law, RubberTest::twoWays, 0.8),
                                   testOf(law, RubberTest::shear, 1)};
  };
  const auto m = fitRubber(RubberForm::mooney, tests(mooney));
  EXPECT_NEAR(m.constants[0], 0.4, 1e-9);
  EXPECT_NEAR(m.constants[1], 0.07, 1e-9);
  EXPECT_EQ(m.unstable, "");
  RubberLaw yeoh;
  yeoh.yeoh = {0.5, -0.02, 0.004};
  const auto y = fitRubber(RubberForm::yeoh, tests(yeoh));
  for (size_t k = 0; k < 3; ++k) EXPECT_NEAR(y.constants[k], yeoh.yeoh[k], 1e-9);
  RubberLaw one;
  one.terms = {{0.9, 1.4}};
  const auto o = fitRubber(RubberForm::ogden1, tests(one));
  EXPECT_NEAR(o.constants[0], 0.9, 1e-4);
  EXPECT_NEAR(o.constants[1], 1.4, 1e-4);
  EXPECT_LT(fitRubber(RubberForm::ogden2, tests(mooney)).error, 1e-4);  // Mooney-Rivlin is one of them
  RubberLaw neo;
  neo.terms = {{0.8, 2}};
  EXPECT_NEAR(fitRubber(RubberForm::neoHooke, tests(neo)).constants[0], 0.8, 1e-9);
  EXPECT_SAYS(sentence([&] { fitRubber(RubberForm::ogden3, {{RubberTest::oneWay, {{0.1, 0.1}}}}); }), "more than 1 points");
}

TEST(RubberFit, SaysWhereALawIsUnstable) {
  RubberLaw good;
  good.terms = {{0.8, 2}};
  EXPECT_EQ(instability(good, 0.4, 6), "");
  RubberLaw bad;  // a negative C01, as fits to one way alone often give
  bad.terms = {{2 * 0.5, 2}, {2 * 0.1, -2}};
  EXPECT_SAYS(instability(bad, 0.5, 3), "from a stretch of");
  RubberLaw falls;
  falls.yeoh = {0.5, -0.2, 0};
  EXPECT_SAYS(instability(falls, 0.9, 3), "pulled two ways, from a stretch of");
}

TEST(TestReading, ColumnsAreKnownByWordsUnitsAndSizes) {
  const auto read = [](const char* text) { return guessReading(readPasted(text)); };
  auto r = read("Spannung [MPa];Dehnung [%]\n210,5;0,1\n");
  EXPECT_EQ(r.strain, 1u);
  EXPECT_EQ(r.stress, 0u);
  EXPECT_EQ(r.strainUnit, "%");
  EXPECT_TRUE(r.engineering);
  r = read("time [s];load [kN];stress [ksi];strain [mm/mm]\n0;1;30;0.1\n");
  EXPECT_EQ(r.strain, 3u);
  EXPECT_EQ(r.stress, 2u);
  EXPECT_EQ(r.stressUnit, "ksi");
  r = read("0.1 210\n0.2 300\n");
  EXPECT_EQ(r.strain, 0u);
  EXPECT_EQ(r.strainUnit, "1");
  r = read("210 0.1\n300 12\n");
  EXPECT_EQ(r.strain, 1u);
  EXPECT_EQ(r.strainUnit, "%");
  EXPECT_FALSE(read("true strain;true stress [MPa]\n0.1;210\n").engineering);
  EXPECT_EQ(read("stretch ratio;nominal stress [MPa]\n1.1;0.2\n").strainUnit, "stretch");
  EXPECT_SAYS(sentence([&] { read("1\n2\n"); }), "only one column");
}

TEST(TestReading, CurvesComeInCoreUnits) {
  const auto t = readPasted("strain [%];stress [ksi]\n0,5;30\n0,1;10\n");
  const auto c = curveOf(t, guessReading(t));
  EXPECT_NEAR(c[0].strain, 0.001, 1e-15);  // turned round, as it began at its end
  EXPECT_NEAR(c[1].stress, 30 * 6.894757293168, 1e-6);
  auto r = guessReading(t);
  r.strainUnit = "stretch";
  EXPECT_NEAR(curveOf(t, r)[0].strain, -0.9, 1e-12);
  r.stressUnit = "mm";
  EXPECT_SAYS(sentence([&] { curveOf(t, r); }), "does not measure a stress");
}

}  // namespace
}  // namespace anvil::material
