// Where parameters are used.
#include <gtest/gtest.h>

#include "core/model/document.hpp"
#include "core/model/entry_kinds.hpp"
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

TEST(ParameterUses, WhatAParameterMeasuresFollowsFromItsUnitOrWhatItStandsFor) {
  const auto d =
      model::parse(R"({"anvil": 1, "parameters": {"w": 3, "twice": "=2*w", "grip": "2 in", "share": 0.5, "p": 9, "k": 20,
      "c": 4, "turned": 5, "n": 7, "mixed": 1, "steep": "3 kN/m", "both": "=grip+w", "idle": 2, "t": 2, "own": "=own"},
    "materials": {"steel": {"elastic": {"E": "=1000*p", "nu": "=0.1*n"}, "plastic": {"rows": [["=share", "=p"]]}}},
    "parts": {"b": {"material": "steel", "shape": {"rectangle": {"at": ["=mixed", 0], "size": ["=twice", "=w*share"]}},
      "mesh": {"count": ["=w", "=n"]}}},
    "springs": {"s": {"between": ["b"], "along": "y", "stiffness": "=k"},
      "r": {"between": ["b"], "along": "turn z", "stiffness": "=turned", "damping": "=c"}},
    "steps": {"a": {}}, "motions": {"m": {"on": "b.top", "along": "turn", "course": {"a": "=t"}}},
    "loads": {"l": {"on": "b.top", "course": "=mixed"}}})");
  const auto kind = [&](const char* name) { return model::kindOfParameter(d, name); };
  EXPECT_EQ(kind("w"), Kind::length);  // by way of twice, and though a count follows from it
  EXPECT_EQ(kind("twice"), Kind::length);
  EXPECT_EQ(kind("grip"), Kind::length);
  EXPECT_EQ(kind("both"), Kind::length);
  EXPECT_EQ(kind("share"), Kind::number);  // a strain; the product says nothing
  EXPECT_EQ(kind("p"), Kind::stress);
  EXPECT_EQ(kind("k"), Kind::lineForce);
  EXPECT_EQ(kind("turned"), Kind::turnStiffness);
  EXPECT_EQ(kind("c"), Kind::turnDamping);
  EXPECT_EQ(kind("t"), Kind::angle);
  EXPECT_EQ(kind("n"), Kind::number);
  EXPECT_EQ(kind("steep"), Kind::lineForce);
  EXPECT_FALSE(kind("mixed"));
  EXPECT_FALSE(kind("idle"));
  EXPECT_FALSE(kind("own"));
  EXPECT_FALSE(kind("nobody"));
}
