// Comments of model files: found, kept through editing, written back where they stood; and the walk over the text.
#include <gtest/gtest.h>

#include <algorithm>
#include <random>

#include "core/base/error.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/materials.hpp"
#include "core/model/text_walk.hpp"

using namespace anvil;
using namespace anvil::model;

namespace {

const char* const commented = R"(// A bush pressed home.
// Drawing 4711.
{
  "anvil": 1, "title": "t",  // as on the drawing
  "materials": {
    /* hard
     * drawn */
    "bronze": {  // from the mill
      "elastic": {"E": 110000, "nu": 0.34},
      "plastic": {
        "rows": [
          [0, 250],
          // measured up to here
          [0.1, 300]   // extrapolated
        ]
      }
      // no creep
    }
  },
  "parts": {"p": {"material": "bronze", "shape": {"rectangle": {"at": [0, 0], "size": [4, 2]}}}},
  "steps": {"one": {}}
  // more steps later
}
// end
)";

std::vector<std::string> texts(const std::vector<Comment>& comments) {
  std::vector<std::string> all;
  for (const auto& c : comments) {
    std::string t;
    for (char x : c.text)
      if (!std::isspace(static_cast<unsigned char>(x))) t += x;
    all.push_back(t);
  }
  std::sort(all.begin(), all.end());
  return all;
}

const Comment& remarkOn(const std::vector<Comment>& comments, const std::string& word) {
  for (const auto& c : comments)
    if (c.text.find(word) != std::string::npos) return c;
  throw std::runtime_error("no comment on " + word);
}

}  // namespace

TEST(Comments, BehindTheModelStayBehindIt) {
  const std::string text = "// head\n{\"space\": \"solid\"}  // done\n// see the notes\n/* of\n   May */\n";
  const auto d = model::parse(text);
  ASSERT_EQ(d.comments.size(), 4u);
  const auto printed = model::print(d);
  EXPECT_EQ(printed.rfind("// see the notes"), printed.find("// see the notes"));
  EXPECT_GT(printed.find("// see the notes"), printed.rfind('}'));
  EXPECT_TRUE(model::parse(printed) == d) << printed;
}

TEST(Comments, EndWithTheirLineHoweverItEnds) {
  for (const char* const end : {"\n", "\r\n", "\r"}) {
    const auto d = model::parse(std::string("{// first") + end + "\"space\": \"solid\" // second" + end + "}");
    EXPECT_EQ(d.space, "solid");
    ASSERT_EQ(d.comments.size(), 2u);
    EXPECT_EQ(d.comments[0].text, "// first");
    EXPECT_TRUE(model::parse(model::print(d)) == d);
  }
}

TEST(Comments, BelongToWhatTheyStandBy) {
  const auto c = commentsIn(commented);
  ASSERT_EQ(c.size(), 10u);
  using Where = Comment::Where;
  const auto expect = [&](const char* word, const char* path, Where where) {
    EXPECT_EQ(remarkOn(c, word).path, path) << word;
    EXPECT_EQ(int(remarkOn(c, word).where), int(where)) << word;
  };
  expect("pressed home", "", Where::above);
  expect("as on", "title", Where::behind);
  expect("hard", "materials/bronze", Where::above);
  expect("mill", "materials/bronze", Where::opening);
  expect("measured", "materials/bronze/plastic/rows/2", Where::above);
  expect("extrapolated", "materials/bronze/plastic/rows/2", Where::behind);
  expect("creep", "materials/bronze", Where::below);
  expect("more steps", "", Where::below);
}

TEST(Comments, AreWrittenBackInTheirPlaces) {
  const auto d = parse(commented);
  const auto text = print(d);
  EXPECT_EQ(texts(commentsIn(text)), texts(d.comments)) << text;
  EXPECT_EQ(print(parse(text)), text);
  const auto lineWith = [&](const std::string& word) {
    const auto at = text.find(word);
    const auto start = text.rfind('\n', at) + 1;
    return text.substr(start, text.find('\n', at) - start);
  };
  EXPECT_NE(lineWith("as on").find("\"title\""), std::string::npos) << text;
  EXPECT_NE(lineWith("extrapolated").find("0.1"), std::string::npos) << text;
  EXPECT_LT(text.find("measured"), text.find("0.1")) << text;
  EXPECT_GT(text.find("measured"), text.find("250")) << text;
  EXPECT_LT(text.find("hard"), text.find("\"bronze\"")) << text;
}

TEST(Comments, StayWhenOtherThingsChangeAndMoveOutWhenTheirEntryGoes) {
  auto d = parse(commented);
  d.materials("steel").elastic.E = 205000;
  d.materials.find("bronze")->plastic.reset();
  const auto text = print(d);
  EXPECT_EQ(texts(commentsIn(text)), texts(d.comments)) << text;
  EXPECT_GT(text.find("extrapolated"), text.find("\"materials\"")) << text;
  EXPECT_LT(text.find("measured"), text.find("\"bronze\"")) << text;
  EXPECT_NE(parse(text).materials.find("steel"), nullptr);
}

TEST(Comments, SlashesInsideTextAreNoComments) {
  const auto d = parse(R"({"anvil": 1, "title": "half // and /* half */", "note": "a \" // b", "steps": {"one": {}}})");
  EXPECT_TRUE(d.comments.empty());
  EXPECT_EQ(parse(print(d)), d);
}

TEST(TextWalk, GivesEveryValueItsPathAndExtent) {
  const std::string text = R"({"a": [1, {"b": "x"}], "c": {}})";
  const auto map = walkText(text);
  std::vector<std::string> found;
  for (const auto& i : map.items) found.push_back(i.path + "=" + text.substr(i.value, i.end - i.value));
  const std::vector<std::string> expected{"=" + text,           "a=[1, {\"b\": \"x\"}]", "a/1=1",
                                          "a/2={\"b\": \"x\"}", "a/2/b=\"x\"",           "c={}"};
  EXPECT_EQ(found, expected);
}

TEST(TextWalk, SurvivesDamagedText) {
  // every cut of the file, and a thousand with bytes changed, end and stay inside the text
  const std::string whole = commented;
  std::mt19937 random(7);
  const auto check = [](const std::string& text) {
    const auto map = walkText(text);
    for (const auto& i : map.items) ASSERT_TRUE(i.start <= i.value && i.value <= i.end && i.end <= text.size());
    for (const auto& c : map.comments) ASSERT_TRUE(c.start < c.end && c.end <= text.size());
    const auto comments = commentsIn(text);
    ASSERT_EQ(comments.size(), map.comments.size());
    try {
      parse(text);
    } catch (const Error& e) {
      ASSERT_FALSE(std::string(e.what()).empty());
    }
  };
  for (size_t n = 0; n <= whole.size(); ++n) check(whole.substr(0, n));
  const std::string bytes = "{}[],:\"/*\\ \n0a";
  for (int k = 0; k < 1000; ++k) {
    auto text = whole;
    for (int j = 0; j < 4; ++j) text[random() % text.size()] = bytes[random() % bytes.size()];
    check(text);
  }
}
