// Where parameters are used.
#include <gtest/gtest.h>

#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/parameter_uses.hpp"

using namespace anvil;

TEST(ParameterUses, FormulasNameWholeWordsOnly) {
  EXPECT_TRUE(model::namesParameter("=wall", "wall"));
  EXPECT_TRUE(model::namesParameter("=2*wall+1", "wall"));
  EXPECT_TRUE(model::namesParameter("=walls + wall", "wall"));
  EXPECT_FALSE(model::namesParameter("=walls", "wall"));
  EXPECT_FALSE(model::namesParameter("=my_wall", "wall"));
  EXPECT_FALSE(model::namesParameter("wall", "wall"));
  EXPECT_FALSE(model::namesParameter("=2", ""));
}

TEST(ParameterUses, AllPlacesAreFound) {
  const auto d = model::parse(R"({"anvil": 1, "parameters": {"w": 3, "twice": "=2*w", "idle": 1},
    "materials": {"steel": {"elastic": {"E": "=w*1000", "nu": 0.3}, "plastic": {"rows": [[0, 200], [0.1, "=w*100"]]}}},
    "parts": {"b": {"material": "steel", "shape": {"rectangle": {"at": ["=w", 0], "size": ["=w", "=twice"]}},
      "mesh": {"count": ["=w", 4]}}},
    "steps": {"a": {}, "b": {}},
    "motions": {"m": {"on": "b.top", "along": [0, "=w"], "course": {"a": "=-w", "b": 0}}},
    "loads": {"l": {"on": "b.top", "course": "=w"}}})");
  EXPECT_EQ(model::usesOf(d, "w"),
            (std::vector<std::string>{"parameters/twice", "materials/steel/elastic/E", "materials/steel/plastic/rows/2",
                                      "parts/b/shape/1/rectangle/at", "parts/b/shape/1/rectangle/size", "parts/b/mesh/count",
                                      "motions/m/along", "motions/m/course/a", "loads/l/course"}));
  EXPECT_EQ(model::usesOf(d, "twice"), std::vector<std::string>{"parts/b/shape/1/rectangle/size"});
  EXPECT_TRUE(model::usesOf(d, "idle").empty());
}
