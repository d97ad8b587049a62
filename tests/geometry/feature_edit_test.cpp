// Sizes of features: each is shown where it is and takes a value.
#include "core/geometry/feature_edit.hpp"

#include <gtest/gtest.h>

#include "core/base/error.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

struct OneFeature {
  model::Document d;
  explicit OneFeature(const std::string& feature)
      : d(model::parse(R"({"anvil": 1, "space": "solid", "parameters": {"wall": 3}, "parts": {"p": {"solid": [)" + feature +
                       "]}}}")) {}
  model::Feature& it() { return d.parts("p").solid.front(); }
  model::Quantities q() const { return model::Quantities(d); }
  geometry::FeatureSize size(const std::string& key) {
    for (const auto& s : geometry::sizesOf(it(), q()))
      if (s.key == key) return s;
    ADD_FAILURE() << "no " << key;
    return {};
  }
};

const char* const kinds[] = {
    R"({"box": {"at": [1, 2, 3], "size": [10, 20, 30]}})",
    R"({"cylinder": {"from": [0, 0, 0], "to": [3, 4, 12], "radius": 5}})",
    R"({"tube": {"from": [0, 0, 1], "to": [0, 0, 9], "inner": 4, "outer": 5}})",
    R"({"ball": {"center": [1, 1, 1], "radius": 7}})",
    R"({"plate": {"size": [40, 30, 4]}})",
    R"({"angle": {"legs": [40, 30], "thickness": 4, "length": 100}})",
    R"({"profile": {"start": [0, 0], "path": [{"line": [10, 0]}, {"line": [10, 10]}]}, "extrude": {"depth": 6}})"};

TEST(FeatureEdit, EverySizeTakesAValueAndItsTipFollows) {
  int seen = 0;
  for (const char* kind : kinds)
    for (const auto& s : geometry::sizesOf(OneFeature(kind).it(), OneFeature(kind).q())) {
      OneFeature own(kind);
      EXPECT_NEAR((s.tip - s.base).norm(), s.value, 1e-12) << kind << " " << s.key;
      geometry::setSize(own.it(), own.q(), s, 1.1 * s.value);
      const auto now = own.size(s.key);
      EXPECT_NEAR(now.value, 1.1 * s.value, 1e-6) << kind << " " << s.key;
      EXPECT_GT((now.tip - s.tip).norm(), 0.05 * s.value) << kind << " " << s.key;
      for (const auto& other : geometry::sizesOf(OneFeature(kind).it(), OneFeature(kind).q()))
        EXPECT_TRUE(other.key == s.key || std::abs(own.size(other.key).value - other.value) < 1e-9) << kind << " " << other.key;
      ++seen;
    }
  EXPECT_EQ(seen, 3 + 2 + 3 + 1 + 3 + 4 + 1);
}

TEST(FeatureEdit, FormulasAreKeptAndWrongSizesRefused) {
  OneFeature own(R"({"tube": {"from": [0, 0, 0], "to": [0, 0, 9], "inner": 4, "outer": "=4+wall"}})");
  EXPECT_TRUE(own.size("outer").fixed);
  EXPECT_FALSE(own.size("inner").fixed);
  geometry::setSize(own.it(), own.q(), own.size("outer"), model::Entry("=5+wall"));
  EXPECT_EQ(own.it().tube->outer.text, "=5+wall");
  EXPECT_SAYS(sentence([&] { geometry::setSize(own.it(), own.q(), own.size("inner"), 9); }), "not below the outer");
  EXPECT_SAYS(sentence([&] { geometry::setSize(own.it(), own.q(), own.size("outer"), 3); }), "not above the inner");
  EXPECT_SAYS(sentence([&] { geometry::setSize(own.it(), own.q(), own.size("length"), -1); }), "is none");
}

}  // namespace
