// Units, expressions, curves, words, whole files.
#include <gtest/gtest.h>

#include <unistd.h>
#include <atomic>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <numeric>
#include <thread>

#include "core/base/curve.hpp"
#include "core/base/error.hpp"
#include "core/base/expression.hpp"
#include "core/base/files.hpp"
#include "core/base/parallel.hpp"
#include "core/base/text.hpp"
#include "core/base/units.hpp"

using namespace anvil;

namespace {

template <class F>
std::string trouble(const F& f) {
  try {
    f();
  } catch (const Error& e) {
    return e.what();
  }
  return "no error";
}

TEST(Units, KnownConversionsToTheCoreSystem) {
  struct Known {
    const char* unit;
    Kind kind;
    double core;
  };
  for (const auto& k : {Known{"in", Kind::length, 25.4},
                        {"m", Kind::length, 1000},
                        {"kN", Kind::force, 1000},
                        {"lbf", Kind::force, 4.4482216152605},
                        {"GPa", Kind::stress, 1000},
                        {"ksi", Kind::stress, 6.894757293168361},
                        {"N/mm2", Kind::stress, 1},
                        {"min", Kind::time, 60},
                        {"deg", Kind::angle, std::acos(-1.) / 180},
                        {"rad", Kind::angle, 1},
                        {"g/cm3", Kind::density, 1e-9},
                        {"kg/m3", Kind::density, 1e-12},
                        {"t/mm3", Kind::density, 1},
                        {"kN/m", Kind::lineForce, 1},
                        {"1/K", Kind::expansion, 1}})
    EXPECT_NEAR(conversion(k.unit, k.kind).toCore(1) / k.core, 1, 1e-12) << k.unit;
  EXPECT_NEAR(conversion("degC", Kind::temperature).toCore(20), 293.15, 1e-9);
  EXPECT_NEAR(conversion("degF", Kind::temperature).toCore(212), 373.15, 1e-9);
}

TEST(Units, EveryOfferedUnitFitsItsKindAndGoesBothWays) {
  for (const Kind kind : {Kind::length, Kind::force, Kind::stress, Kind::time, Kind::temperature, Kind::angle, Kind::density,
                          Kind::lineForce, Kind::expansion}) {
    ASSERT_FALSE(commonUnits(kind).empty());
    for (const auto& unit : commonUnits(kind)) {
      EXPECT_TRUE(fits(unit, kind)) << unit;
      const auto c = conversion(unit, kind);
      EXPECT_NEAR(c.fromCore(c.toCore(3.7)), 3.7, 1e-9) << unit;
    }
  }
  EXPECT_FALSE(fits("kg", Kind::length));
  EXPECT_FALSE(fits("nonsense", Kind::length));
  EXPECT_EQ(conversion("mm", Kind::length).factor, 1);
}

TEST(Units, WrongOnesAreNamedWithWhatWouldDo) {
  EXPECT_NE(trouble([] { conversion("mmm", Kind::length); }).find("'mmm' is not known"), std::string::npos);
  const auto text = trouble([] { conversion("kg", Kind::stress); });
  EXPECT_NE(text.find("does not measure a stress"), std::string::npos) << text;
  EXPECT_NE(text.find("MPa"), std::string::npos) << text;
}

TEST(Units, ManyThreadsAtOnce) {
  std::vector<std::thread> crowd;
  std::atomic<int> wrong = 0;
  for (int t = 0; t < 8; ++t)
    crowd.emplace_back([&] {
      for (int i = 0; i < 200; ++i)
        wrong += std::abs(conversion("in", Kind::length).factor - 25.4) > 1e-9 || fits("kg", Kind::length);
    });
  for (auto& t : crowd) t.join();
  EXPECT_EQ(wrong, 0);
}

TEST(Expression, ArithmeticNamesAndFunctions) {
  EXPECT_DOUBLE_EQ(evaluate("2*wall + 1", {{"wall", 3}}), 7);
  EXPECT_NEAR(evaluate("sin(pi/6)", {}), 0.5, 1e-15);
  EXPECT_DOUBLE_EQ(evaluate("a > b ? a : b", {{"a", 2}, {"b", 5}}), 5);
  EXPECT_DOUBLE_EQ(evaluate("sqrt(a^2 + b^2)", {{"a", 3}, {"b", 4}}), 5);
  EXPECT_EQ(namesIn("a + b*a - pi"), (std::vector<std::string>{"a", "b"}));
}

TEST(Expression, AddendsAreTheNamesWhosePlainMultiplesAreSummed) {
  using Names = std::vector<std::string>;
  EXPECT_EQ(addends("2*wall + gap/2 - 1"), (Names{"gap", "wall"}));
  EXPECT_EQ(addends("-(a - b)/3 + 0*c"), (Names{"a", "b"})) << "what does not count is not among them";
  for (const char* other : {"a*b", "a/b", "a + b*c", "sqrt(a)", "a^2", "exp(a) - b", "3", "pi/2"})
    EXPECT_EQ(addends(other), Names{}) << other;
}

TEST(Expression, FaultsAreSentences) {
  EXPECT_NE(trouble([] { evaluate("2*wal", {{"wall", 3}}); }).find("Did you mean 'wall'?"), std::string::npos);
  EXPECT_NE(trouble([] { evaluate("2*(3", {}); }).find("cannot be worked out"), std::string::npos);
  EXPECT_NE(trouble([] { evaluate("1/0", {}); }).find("not a finite number"), std::string::npos);
  EXPECT_NE(trouble([] { evaluate("x", {}); }).find("Define it under parameters"), std::string::npos);
  EXPECT_NE(trouble([] { evaluate("", {}); }).find("is empty"), std::string::npos);
}

TEST(Curve, StraightPiecesConstantEndsAndJumps) {
  Curve c;
  EXPECT_EQ(c(1), 0);
  c.add(0, 1), c.add(2, 5), c.add(2, 10), c.add(3, 10);
  EXPECT_EQ(c(-1), 1);
  EXPECT_EQ(c(1), 3);
  EXPECT_EQ(c(2), 5) << "at a jump the earlier value holds";
  EXPECT_EQ(c(2 + 1e-12), 10);
  EXPECT_EQ(c(99), 10);
}

TEST(Text, NearestWordAndProse) {
  EXPECT_EQ(nearest("frcition", {"friction", "fraction", "between"}), "friction");
  EXPECT_EQ(nearest("Steps", {"steps"}), "steps");
  EXPECT_EQ(nearest("zzzzzzz", {"friction", "steps"}), "");
  EXPECT_EQ(nearest("x", {}), "");
  EXPECT_EQ(inProse({}), "");
  EXPECT_EQ(inProse({"a"}), "a");
  EXPECT_EQ(inProse({"a", "b", "c"}), "a, b and c");
  EXPECT_EQ(shortNumber(0.1 + 0.2), "0.3");
  EXPECT_EQ(shortNumber(210000), "210000");
  EXPECT_EQ(shortNumber(21684, 3), "21700");
  EXPECT_EQ(shortNumber(-999999.9, 2), "-1000000");
  EXPECT_EQ(shortNumber(2.5e9, 2), "2.5e+09");
}

TEST(Error, SaysWhatWhereAndWhatToDo) {
  const Error e("The yield stress is negative", "materials/bronze", "Give a stress above zero.");
  EXPECT_STREQ(e.what(), "materials/bronze: The yield stress is negative. Give a stress above zero.");
  EXPECT_STREQ(Error("Really?").what(), "Really?");
}

TEST(Parallel, EveryIndexOnceOnAnyNumberOfThreads) {
  for (int threads : {1, 2, 4}) {
    const ThreadLimit limit(threads);
    std::vector<int> seen(10007, 0);
    forEach(seen.size(), [&](size_t i) { ++seen[i]; });
    EXPECT_EQ(std::accumulate(seen.begin(), seen.end(), 0), 10007);
    EXPECT_EQ(*std::max_element(seen.begin(), seen.end()), 1);
  }
}

}  // namespace
