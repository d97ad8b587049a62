// The document: round trip, errors that name the place, quantities, courses.
#include <gtest/gtest.h>

#include <filesystem>

#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/base/units.hpp"
#include "core/model/actions.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/timed_course.hpp"
#include "words.hpp"

using namespace anvil;
using namespace anvil::model;

namespace {

const char* const example = R"({
  // comments are allowed
  "anvil": 1, "title": "t", "space": "axisymmetric",
  "parameters": {"wall": "2 mm", "twice": "=2*wall", "angle": 30},
  "materials": {"m": {"elastic": {"E": "205 GPa", "nu": 0.3}, "plastic": {"rows": [[0, 250], [0.1, "300 MPa"]],
    "hardening": "mixed"}}},
  "parts": {
    "p": {"material": "m", "shape": [{"rectangle": {"at": [0, 0], "size": ["=twice", "1 in"]}, "edges": ["a", "b", "c", "d"]}],
      "mesh": {"count": [3, 2]}},
    "tool": {"rigid": true, "shape": {"profile": {"start": [9, 0], "path": [{"line": [5, 0], "fillet": 1}, {"line": [5, 5]}]}}}
  },
  "contacts": {"c": {"between": ["p.b", "tool"], "friction": 0.1, "start": {"close within": "0.01 mm"}}},
  "steps": {"one": {}, "two": {"time": 2}, "three": {}},
  "motions": {"go": {"on": "tool", "along": "x", "course": {"one": "-1 mm", "two": "hold", "three": {"at once": 0}}}},
  "loads": {"push": {"on": "p.c", "kind": "force", "along": [0, -1], "course": {"table": [[0, 0], [1, 5]]}}},
  "supports": {"s": {"on": ["p.a"], "fix": ["z"], "during": "one"}}
})";

TEST(Reading, AZeroByteIsNamedWithItsLine) {
  const auto words = sentence([] { model::parse(std::string("{\n//a\0b\n}", 9)); });
  EXPECT_NE(words.find("zero byte"), std::string::npos) << words;
  EXPECT_NE(words.find("line 2"), std::string::npos) << words;
}

TEST(Reading, AKeyThatStandsTwiceIsRefusedWithItsPlace) {
  for (const auto& [text, where] :
       {std::pair{R"({"steps": {"a": {}, "b": {}, "a": {}}})", "steps/a"},
        {R"({"space": "solid", "space": "solid"})", "space"},
        {R"({"parts": {"p": {"shape": [{"rectangle": {"at": [0, 0]}}, {"rectangle": {"size": [1, 1], "size": [1, 2]}}]}}})",
         "parts/p/shape/2/rectangle/size"}}) {
    const auto words = sentence([&, t = text] { model::parse(t); });
    EXPECT_NE(words.find("stands twice"), std::string::npos) << words;
    EXPECT_NE(words.find(where), std::string::npos) << words;
  }
  EXPECT_EQ(sentence([] { model::parse(R"({"steps": {"a": {}, "b": {}}, "parameters": {"a": 1, "b": 2}})"); }), "no error")
      << "the same name in two places";
}

TEST(Document, StepGeometryIsToldFromABrokenModel) {
  for (const char* text : {"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=CART", "\n/* made elsewhere */\nISO-10303-21;\n"}) {
    const auto words = sentence([&] { parse(text); });
    EXPECT_SAYS(words, "STEP geometry");
    EXPECT_SAYS(words, "*.anvil");
  }
}

TEST(Document, RoundTripLosesNothing) {
  const auto d = parse(example);
  EXPECT_EQ(parse(print(d)), d);
  EXPECT_EQ(print(parse(print(d))), print(d));
  ASSERT_EQ(d.parts.size(), 2u);
  EXPECT_EQ(d.motions.find("go")->course.stages.find("three")->how, How::atOnce);
}

TEST(Document, EveryModelInTheRepositoryRoundTrips) {
  int seen = 0;
  for (const char* folder : {"verification", "examples"})
    for (const auto& f : std::filesystem::recursive_directory_iterator(std::filesystem::path(ANVIL_SOURCE) / folder))
      if (f.path().extension() == ".anvil") {
        const auto d = load(f.path());
        EXPECT_EQ(parse(print(d)), d) << f.path();
        ++seen;
      }
  EXPECT_GE(seen, 10);
}

TEST(Document, UnknownKeyNamesPlaceLineAndNearest) {
  const auto text = sentence([] { parse("{\"anvil\": 1,\n \"materials\": {\n  \"steel\": {\"elastc\": {\"E\": 1}}}}"); });
  EXPECT_SAYS(text, "materials/steel/elastc (line 3)");
  EXPECT_SAYS(text, "Did you mean 'elastic'?");
}

TEST(Document, WrongTypesAndChoicesAreNamed) {
  EXPECT_SAYS(sentence([] { parse("{\"steps\": 5}"); }), "expected an object of named entries, found 5");
  EXPECT_SAYS(sentence([] { parse("{\"space\": \"plane stres\"}"); }), "Did you mean 'plane stress'?");
  EXPECT_SAYS(sentence([] { parse("{\"solver\": {\"most iterations\": 2.5}}"); }), "a whole number");
  EXPECT_SAYS(sentence([] { parse("{\"materials\": {\"a.b\": {}}}"); }), "cannot be used");
  EXPECT_SAYS(sentence([] { parse("{\"anvil\": 7}"); }), "version 7");
}

TEST(Document, TruncatedFileIsSaidToBeCutShort) {
  const std::string whole = example;
  EXPECT_SAYS(sentence([&] { parse(whole.substr(0, whole.size() / 2)); }), "cut short");
  EXPECT_SAYS(sentence([&] { parse("{\"title\": \"x\" \"note\": 1}"); }), "not valid JSON");
  EXPECT_SAYS(sentence([&] { load("/nowhere/model.anvil"); }), "cannot be opened");
}

TEST(Document, AnyPrefixOfAModelIsAnErrorNotACrash) {
  const std::string whole = example;
  for (size_t n = 0; n < whole.size(); n += 3) EXPECT_THROW(parse(whole.substr(0, n)), Error) << n;
}

TEST(Document, LinesAreFoundThroughComments) {
  EXPECT_EQ(lineOf(example, "parameters/twice"), 4);
  EXPECT_EQ(lineOf(example, "materials/m/plastic/rows/2"), 5);
  EXPECT_EQ(lineOf(example, "parts/tool/shape"), 10);
  EXPECT_EQ(lineOf(example, "nothing/here"), 0);
}

TEST(Document, SavingIsWholeOrNotAtAll) {
  const auto folder = std::filesystem::temp_directory_path() / ("anvil-save-" + std::to_string(getpid()));
  std::filesystem::create_directories(folder);
  const std::string path = folder / "m.anvil";
  const auto d = parse(example);
  save(d, path);
  EXPECT_EQ(load(path), d);
  EXPECT_SAYS(sentence([&] { save(d, "/proc/nowhere/m.anvil"); }), "cannot be created");
  EXPECT_FALSE(std::filesystem::exists(path + ".part"));
  std::filesystem::remove_all(folder);
}

TEST(Document, SchemaNamesEveryKey) {
  const auto s = schema();
  for (const char* key : {"kinematic share", "close within", "pressure on", "plastic strain limit"})
    EXPECT_SAYS(s, std::string("\"") + key + "\"");
}

TEST(Quantities, UnitsParametersAndExpressions) {
  auto d = parse(example);
  const Quantities q(d);
  EXPECT_DOUBLE_EQ(q(Entry("1 in"), Kind::length, ""), 25.4);
  EXPECT_NEAR(q(Entry("20 ksi"), Kind::stress, ""), 137.895, 1e-3);
  EXPECT_DOUBLE_EQ(q(Entry("=2*wall+1"), Kind::length, ""), 5);
  EXPECT_NEAR(q(Entry(90), Kind::angle, ""), 1.5707963, 1e-6);
  EXPECT_NEAR(q(Entry("20 degC"), Kind::temperature, ""), 293.15, 1e-9);
  d.units.length = "m";
  EXPECT_DOUBLE_EQ(Quantities(d)(Entry(2), Kind::length, ""), 2000);
  EXPECT_DOUBLE_EQ(Quantities(d)(Entry("=wall"), Kind::length, ""), 2);
}

TEST(Quantities, DirectionsInSpaceAreWordsOrNumbers) {
  const Quantities q(parse(example));
  using Vector = std::array<double, 3>;
  EXPECT_EQ(q.inSpace({"z", {}}, "", ""), (Vector{0, 0, 1}));
  EXPECT_EQ(q.inSpace({"-y", {}}, "", ""), (Vector{0, -1, 0}));
  const auto slant = q.inSpace({"", {Entry("=wall"), Entry("=wall"), Entry("=wall-wall")}}, "", "");
  EXPECT_NEAR(slant[0], std::sqrt(0.5), 1e-15);
  EXPECT_NEAR(slant[1], std::sqrt(0.5), 1e-15);
  EXPECT_EQ(slant[2], 0);
  EXPECT_SAYS(sentence([&] { q.inSpace({"up", {}}, "bolts/b/along", "[0, 0, 1]."); }), "'up' is not a direction in space");
  EXPECT_SAYS(sentence([&] { q.inSpace({"up", {}}, "bolts/b/along", "[0, 0, 1]."); }), "bolts/b/along");
  EXPECT_SAYS(sentence([&] { q.inSpace({"", {0, 0, 0}}, "", ""); }), "not all zero");
  EXPECT_SAYS(sentence([&] { q.inSpace({"", {0, 1}}, "", ""); }), "three numbers");
}

TEST(Quantities, MistakesAreNamed) {
  const auto d = parse(example);
  const Quantities q(d);
  EXPECT_SAYS(sentence([&] { q(Entry("5 kg"), Kind::stress, "x"); }), "'kg' does not measure a stress");
  EXPECT_SAYS(sentence([&] { q(Entry("5 MPb"), Kind::stress, "x"); }), "not known");
  EXPECT_SAYS(sentence([&] { q(Entry("=2*wal"), Kind::length, "x"); }), "Did you mean 'wall'?");
  EXPECT_SAYS(sentence([&] { q(Entry("=2*(wall"), Kind::length, "x"); }), "cannot be worked out");
  EXPECT_SAYS(sentence([&] { q(Entry("=1/0"), Kind::length, "x"); }), "finite");
  EXPECT_SAYS(sentence([&] { q(Entry(), Kind::length, "x"); }), "missing");
  auto circle = d;
  circle.parameters("a") = "=b", circle.parameters("b") = "=a";
  EXPECT_SAYS(sentence([&] { Quantities{circle}; }), "need each other");
  auto copy = d;
  EXPECT_SAYS(sentence([&] { setParameter(copy, "wal=3"); }), "Did you mean 'wall'?");
  setParameter(copy, "wall=3 cm");
  EXPECT_DOUBLE_EQ(Quantities(copy)(Entry("=twice"), Kind::length, ""), 60);
}

TEST(Quantities, AParameterKeepsToItsKindWhereItIsAddedUp) {
  Document d = parse(
      R"({"anvil": 1, "parameters": {"closing": "3 MPa", "half": "=closing/2", "bare": 3, "stroke": "2 cm", "heat": "10 N m"}})");
  const Quantities q(d);
  const auto asked = [&](const char* text, Kind kind) {
    return sentence([&] { q(Entry(text), kind, "motions/die travel/course/close"); });
  };
  const auto words = asked("=-closing-0.1", Kind::length);
  for (const char* part : {"motions/die travel/course/close", "'closing' is a stress (3 MPa)", "a length", "mm"})
    EXPECT_SAYS(words, part);
  EXPECT_SAYS(asked("=half", Kind::length), "'closing' is a stress (3 MPa)") << "through a parameter worked out of it";
  EXPECT_SAYS(asked("=stroke+2*closing", Kind::length), "'closing'");
  EXPECT_SAYS(asked("=(stroke-1)/4", Kind::force), "'stroke' is a length");
  EXPECT_DOUBLE_EQ(q(Entry("=closing*stroke/bare"), Kind::force, ""), 20) << "a product measures something else";
  EXPECT_DOUBLE_EQ(q(Entry("=stroke/bare"), Kind::number, ""), 20.0 / 3) << "a count from a length";
  EXPECT_DOUBLE_EQ(q(Entry("=bare+1"), Kind::length, ""), 4) << "a bare number fits anything";
  EXPECT_DOUBLE_EQ(q(Entry("=2*closing"), Kind::stress, ""), 6);
  EXPECT_DOUBLE_EQ(q(Entry("=heat"), Kind::moment, ""), 1e4);
  d.parameters("both") = "=closing+stroke";
  EXPECT_SAYS(sentence([&] { Quantities{d}; }), "parameters/both");
}

TEST(Course, StagesRampHoldJumpAndTable) {
  const auto d = parse(example);
  const Quantities q(d);
  const auto go = timed(d.motions.find("go")->course, Kind::length, d, q, "");
  EXPECT_DOUBLE_EQ(go.curve(0.5), -0.5);
  EXPECT_DOUBLE_EQ(go.curve(2), -1);
  EXPECT_DOUBLE_EQ(go.curve(3), -1) << "a jump belongs to the step it opens";
  EXPECT_DOUBLE_EQ(go.curve(3.0001), 0);
  const auto push = timed(d.loads.find("push")->course, Kind::force, d, q, "");
  EXPECT_DOUBLE_EQ(push.curve(0.5), 2.5);
  EXPECT_DOUBLE_EQ(push.curve(4), 5);
  Course wrong;
  wrong.stages("tow") = {How::ramp, 1};
  EXPECT_SAYS(sentence([&] { timed(wrong, Kind::length, d, q, "loads/x/course"); }), "Did you mean 'two'?");
  Course off;
  off.stages("two") = {How::ramp, 1}, off.stages("three") = {How::off, {}};
  const auto t = timed(off, Kind::length, d, q, "");
  EXPECT_EQ(t.active, (std::vector<bool>{false, true, false}));
}

}  // namespace
