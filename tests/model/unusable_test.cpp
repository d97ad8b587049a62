// Texts, names, numbers and formulas that no model can be made of: each is told where it stands, before anything works on it.
#include <gtest/gtest.h>

#include <cstdlib>

#include "core/base/expression.hpp"
#include "core/base/text.hpp"
#include "core/element/point_driver.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"
#include "core/model/things.hpp"
#include "core/model/timed_course.hpp"
#include "words.hpp"

using namespace anvil;
using namespace anvil::model;

namespace {

std::string told(const std::string& text) {
  return sentence([&] { Quantities q(parse(text)); });
}

TEST(Unusable, TextsThatAreNoModel) {
  EXPECT_SAYS(told(""), "empty");
  EXPECT_SAYS(told(" \n\t\n"), "empty");
  EXPECT_SAYS(told("{\n  \"anvil\": 1,\n  \"title\": \"Gr\xf6\xdf"
                   "e\"}"),
              "line 3: a character here is not UTF-8");
  EXPECT_SAYS(told("{\"a\": " + std::string(60000, '[')), "more than 60 deep");
  EXPECT_SAYS(told("{\"note\": \"" + std::string(1000, '[') + "\", \"anvil\": 2}"), "format version 2")
      << "brackets in texts are text";
  EXPECT_EQ(told("{\"anvil\": 1, /* " + std::string(1000, '{') + " */ \"title\": \"x\"}"), "no error");
}

TEST(Unusable, NamesAndTextsWithWhatCannotBeSeen) {
  for (const char* name : {"a\\nb", "a\\u0007", "\\u001b[31mred", "a\\u0085b", "a\\u2028b", "tab\\there"}) {
    const auto said = told("{\"materials\": {\"" + std::string(name) + "\": {}}}");
    EXPECT_SAYS(said, "cannot be seen") << name;
    EXPECT_FALSE(hasControls(said)) << said;
  }
  EXPECT_SAYS(told("{\"parts\": {\"p\": {\"material\": \"st\\neel\"}}}"), "cannot be seen");
  EXPECT_EQ(told("{\"note\": \"two\\nlines\", \"materials\": {\"größe \\\"é\\\"\": {}}}"), "no error");
  EXPECT_SAYS(told("{\"materials\": {\"" + std::string(100000, 'x') + "\": {}}}"), "100000 characters long");
  Document d = parse("{\"materials\": {\"a\": {}}}");
  EXPECT_SAYS(sentence([&] { rename(d, "materials", "a", "b\nc"); }), "cannot be seen");
}

TEST(Unusable, ParameterNamesThatNoFormulaCanUse) {
  EXPECT_SAYS(told("{\"parameters\": {\"2x\": 1}}"), "parameters/2x (line 1): no formula can use a parameter called '2x'");
  EXPECT_SAYS(told("{\"parameters\": {\"a b\": 1}}"), "letters, digits and _");
  EXPECT_SAYS(told("{\"parameters\": {\"sin\": 1}}"), "means something else");
  const Document d = parse("{\"parameters\": {\"größe\": 3, \"b\": \"=2*größe\"}}");
  EXPECT_EQ(Quantities(d).parameters().at("b"), 6);
}

TEST(Unusable, FormulasThatMeanSomethingElse) {
  EXPECT_SAYS(sentence([] { evaluate("0,3", {}); }), "holds a comma");
  EXPECT_SAYS(sentence([] { evaluate("2*(0,3)", {}); }), "holds a comma");
  EXPECT_EQ(evaluate("min(3, 2)", {}), 2);
  EXPECT_SAYS(sentence([] { evaluate("n=3", {{"n", 1}}); }), "gives a value to a name");
  EXPECT_EQ(evaluate("n==1 ? 5 : 6", {{"n", 1}}), 5);
  EXPECT_EQ(evaluate("n<=1 && n>=1 && n!=2", {{"n", 1}}), 1);
  EXPECT_SAYS(sentence([] { evaluate(" ", {}); }), "is empty");
  EXPECT_SAYS(sentence([] { evaluate("sqrt(0-1)", {}); }), "root or logarithm of a negative number");
  EXPECT_SAYS(sentence([] { evaluate("1/0", {}); }), "division by zero");
  const auto said = sentence([] { evaluate(std::string(100000, '1'), {}); });
  EXPECT_SAYS(said, "100000 characters long");
  EXPECT_LT(said.size(), 300u) << "it is not told back whole";
  EXPECT_SAYS(sentence([] { evaluate(std::string(900, '(') + "1" + std::string(900, ')'), {}); }), "deep");
}

TEST(Unusable, ParametersThatNeedThemselves) {
  EXPECT_SAYS(told("{\"parameters\": {\"a\": \"=a+1\"}}"), "the parameter 'a' needs itself ('=a+1')");
  EXPECT_SAYS(told("{\"parameters\": {\"a\": \"=b\", \"b\": \"=c\", \"c\": \"=a\"}}"), "a, b and c need each other");
  EXPECT_SAYS(told("{\"parameters\": {\"a\": \"=\"}}"), "parameters/a: the formula '=' is empty");
  Document d = parse("{\"parameters\": {\"depth\": \"3 mm\"}}");
  EXPECT_SAYS(sentence([&] { setParameter(d, "depth"); }), "Write depth=value");
  EXPECT_SAYS(sentence([&] { setParameter(d, "depth="); }), "Write depth=value");
}

TEST(Unusable, AThousandParametersInARowAreWorkedOutOnce) {
  Document d;
  constexpr int n = 3000;
  for (int i = 0; i < n; ++i)
    d.parameters("p" + std::to_string(i)) = i + 1 < n ? Entry("=p" + std::to_string(i + 1) + "+1") : Entry(0);
  EXPECT_EQ(Quantities(d).parameters().at("p0"), n - 1);
}

TEST(Unusable, NumbersThatAreNotMeant) {
  const Quantities q{Document()};
  EXPECT_SAYS(sentence([&] { q(Entry(1e160), Kind::stress, "E"); }), "too large to be meant");
  EXPECT_SAYS(sentence([&] { q(Entry("1e200 N"), Kind::force, "f"); }), "too large to be meant");
  EXPECT_EQ(q.whole(Entry(3), 1, 10, "n"), 3);
  EXPECT_EQ(q.whole(Entry("=7/2"), 1, 10, "n", true), 4) << "elements along a side by a formula";
  EXPECT_SAYS(sentence([&] { (void)q.whole(Entry("=7/2"), 1, 10, "n"); }), "the number is 3.5");
  for (const double wrong : {4294967302., 2.5, 0., -1., 1e300})
    EXPECT_NE(sentence([&] { (void)q.whole(Entry(wrong), 1, 10, "n"); }), "no error") << wrong;
  Document d;
  d.steps("long").time = "3 years", d.steps("short").time = "10 us";
  EXPECT_SAYS(sentence([&] { (void)stepTimes(d, Quantities(d)); }), "steps/short/time");
}

TEST(Unusable, SuggestionsAreOtherWords) {
  EXPECT_EQ(nearest("tool", {"tool"}), "");
  EXPECT_EQ(nearest("tool", {"tool", "took"}), "took");
  EXPECT_EQ(brief("a\nb\x1b[0m"), "a?b?[0m");
  EXPECT_EQ(brief(std::string(100, 'x'), 10), std::string(10, 'x') + "…");
  EXPECT_EQ(csvCell("a \"b\""), "\"a \"\"b\"\"\"");
  EXPECT_EQ(xmlText("<a & \"b\">"), "&lt;a &amp; &quot;b&quot;&gt;");
}

TEST(Unusable, StrainsBeyondEveryMaterialAreNoStresses) {
  const material::AnyLaw law = material::ElasticLaw::fromYoung(200000, 0.3);
  EXPECT_SAYS(sentence([&] { (void)element::drive(law, {element::legFrom("xx=1000", 5)}, true); }), "xx=stress 1000 MPa");
}

/// Numbers are read and written alike whatever the person's language. All tests run in German; this one sees to it.
TEST(Languages, NumbersHaveAPointInAll) {
  if (std::atof("1,5") != 1.5) GTEST_SKIP() << "not in German: package locales, or asked for";
  const Document d = parse("{\"parameters\": {\"a\": \"1.5 mm\", \"b\": \"=2.5*a\", \"c\": \"0.25 in\"}, \"thickness\": 1.25}");
  const Quantities q(d);
  EXPECT_DOUBLE_EQ(q.parameters().at("b"), 3.75);
  EXPECT_NEAR(q.parameters().at("c"), 6.35, 1e-12);
  EXPECT_DOUBLE_EQ(q(d.thickness, Kind::length, "t"), 1.25);
  EXPECT_EQ(parse(print(d)), d);
  EXPECT_NE(print(d).find("1.25"), std::string::npos);
  EXPECT_EQ(shortNumber(1234567.8, 3), "1230000");
  EXPECT_EQ(shortNumber(0.125), "0.125");
  const auto leg = element::legFrom("xx=0.5%, yy=stress 1.5 MPa", 3);
  EXPECT_DOUBLE_EQ(*leg.strain[0], 0.005);
  EXPECT_DOUBLE_EQ(*leg.stress[1], 1.5);
}

}  // namespace
