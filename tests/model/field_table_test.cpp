// The table of fields: whatever the document may hold is read, written and described; names are followed wherever they stand.
#include "core/model/field_table.hpp"

#include <gtest/gtest.h>

#include <nlohmann/json.hpp>
#include <set>

#include "core/base/error.hpp"
#include "core/model/actions.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/regions.hpp"
#include "core/model/things.hpp"
#include "words.hpp"

using namespace anvil;
using namespace anvil::model;

namespace {

/// Puts something that is not its default everywhere.
void fill(const Value& v, const Field* field, int& count) {
  ++count;
  switch (v.form()) {
    case Form::flag:
      v.as<bool>() = !v.as<bool>();
      break;
    case Form::whole:
      if (field->key != "anvil") v.as<int>() += 3;
      break;
    case Form::text:
      v.as<std::string>() = field->choices.empty()                         ? "word " + std::to_string(count)
                            : v.as<std::string>() == field->choices.back() ? field->choices.front()
                                                                           : field->choices.back();
      break;
    case Form::quantity:
      v.as<Entry>() = count % 3 == 0   ? Entry("=" + std::to_string(count))
                      : count % 3 == 1 ? Entry("3.5 mm")
                                       : Entry(count + 0.25);
      break;
    case Form::direction:
      if (count % 2)
        v.as<Direction>().axis = "y";
      else
        v.as<Direction>().vector = {1, 2, count};
      break;
    case Form::course:
      v.as<Course>().stages("first").value = count, v.as<Course>().stages("then").how = How::hold;
      break;
    case Form::optional:
      fill(v.append(), field, count);
      break;
    case Form::list:
      for (int i = 0; i < 2; ++i) fill(v.append(), field, count);
      break;
    case Form::named:
      for (int i = 0; i < 2; ++i) {
        fill(v.append(), field, count);
        v.name(v.size() - 1) = (field->key == "parameters" ? "name_" : "name ") + std::to_string(count);
      }
      break;
    case Form::object:
      for (const auto& f : v.type().fields) fill(v[f], &f, count);
  }
}

/// Keys of objects, each once, as the table has them.
void keysOf(const Type& t, std::multiset<std::string>& keys) {
  if (t.item) keysOf(*t.item, keys);
  for (const auto& f : t.fields) keys.insert(f.key), keysOf(*f.type, keys);
}
void keysOf(const nlohmann::json& schema, std::multiset<std::string>& keys) {
  if (schema.contains("properties"))
    for (const auto& [key, item] : schema["properties"].items()) keys.insert(key), keysOf(item, keys);
  if (schema.contains("additionalProperties") && schema["additionalProperties"].is_object())
    keysOf(schema["additionalProperties"], keys);
  if (schema.contains("anyOf")) keysOf(schema["anyOf"][0], keys);
}

}  // namespace

TEST(FieldTable, WhateverADocumentHoldsComesBackFromItsText) {
  Document d;
  int count = 0;
  fill(root(d), nullptr, count);
  EXPECT_GT(count, 400);
  const auto text = print(d);
  const auto back = parse(text);
  EXPECT_TRUE(back == d) << print(back) << "\n--- instead of ---\n" << text;
  EXPECT_TRUE(root(back) == root(d)) << "as the table compares them";
}

TEST(FieldTable, EachFieldMakesADocumentAnotherOne) {
  int count = 0;
  for (const auto& f : documentType().fields) {
    if (f.key == "anvil") continue;
    Document d;
    fill(root(d)[f], &f, count);
    EXPECT_FALSE(d == Document()) << f.key;
    EXPECT_FALSE(root(d) == root(Document())) << f.key;
    Document copy;
    root(copy).assign(root(d));
    EXPECT_TRUE(copy == d) << f.key;
    EXPECT_NE(print(d).find("\"" + f.key + "\""), std::string::npos);
    EXPECT_TRUE(parse(print(d)) == d) << print(d);
  }
}

TEST(FieldTable, TheSchemaHasEveryKeyAndHelpLine) {
  std::multiset<std::string> table, described;
  keysOf(documentType(), table);
  keysOf(nlohmann::json::parse(schema()), described);
  EXPECT_EQ(table, described);
  const auto& friction = *documentType().find("contacts")->type->item->find("friction");
  EXPECT_FALSE(friction.help.empty());
}

TEST(FieldTable, AValueIsOnlyTakenForWhatItIs) {
  Document d;
  EXPECT_THROW(root(d)[*documentType().find("title")].as<int>(), std::bad_cast);
  EXPECT_NO_THROW(root(d)[*documentType().find("title")].as<std::string>());
}

namespace {

const char* const clamp = R"({"anvil": 1, "space": "solid",
  "materials": {"steel": {"elastic": {"E": 1, "nu": 0}}, "soft": {"elastic": {"E": 1, "nu": 0}}},
  "parts": {"arm": {"material": "steel", "solid": [{"box": {"size": [1, 1, 1]}}]},
            "arm 2": {"material": "soft", "solid": [{"bolt": {"through": ["arm.hole.side"]}}]}},
  "regions": {"edge": {"edges": ["arm.box.top & arm.box.left"], "of": ["arm"]}},
  "contacts": {"seat": {"between": ["arm.box.top", "arm 2"], "during": ["press"], "start": {"resolve over": "press"}}},
  "steps": {"press": {"until": {"watch": "tip"}}, "arm": {}},
  "supports": {"foot": {"on": ["edge", "arm.box.bottom"], "during": ["arm"]}},
  "carriers": {"grip": {"on": ["arm.box.right"]}},
  "loads": {"pull": {"on": "grip", "kind": "force", "along": "x", "course": {"press": 1}}},
  "springs": {"tie": {"between": ["grip", "arm 2"]}},
  "bolts": {"b": {"beam": {"head": ["arm.a"], "nut": ["arm 2.a"], "material": "steel"}, "force": {"press": 5}}},
  "temperatures": {"warm": {"on": ["arm"], "rise": {"press": 10}}},
  "stabilisations": {"calm": {"on": ["arm"], "during": ["press"]}},
  "watch": {"tip": {"at": [0, 0, 0], "part": "arm"}}
})";

}  // namespace

TEST(Things, ANameIsFollowedWhereverItStandsAndNowhereElse) {
  const auto before = parse(clamp);
  struct Case {
    const char *kind, *from;
    int places;  ///< in which it stands, itself among them
  };
  for (const auto& c : {Case{"parts", "arm", 12},
                        {"parts", "arm 2", 4},
                        {"materials", "steel", 3},
                        {"steps", "press", 7},
                        {"steps", "arm", 2},
                        {"watch", "tip", 2},
                        {"carriers", "grip", 3},
                        {"regions", "edge", 2}}) {
    auto d = before;
    rename(d, c.kind, c.from, "other");
    const auto text = print(d);
    int found = 0;
    for (size_t at = 0; (at = text.find("other", at)) != std::string::npos; ++at) ++found;
    EXPECT_EQ(found, c.places) << c.kind << " " << c.from << "\n" << text;
    rename(d, c.kind, "other", c.from);
    EXPECT_TRUE(d == before) << c.kind << " " << c.from;
  }
}

TEST(Things, NamesThatAreTakenOrCannotBeAreRefused) {
  auto d = parse(clamp);
  const auto before = d;
  for (const char* bad : {"", "a.b", "a/b", "arm 2"}) EXPECT_THROW(rename(d, "parts", "arm", bad), Error) << bad;
  EXPECT_THROW(rename(d, "gadgets", "arm", "leg"), Error);
  EXPECT_TRUE(d == before);
}

TEST(Things, ACopyStandsBehindAndEqualsWhatItWasMadeOf) {
  auto d = parse(clamp);
  EXPECT_EQ(copy(d, "parts", "arm"), "arm copy");
  EXPECT_EQ(copy(d, "parts", "arm"), "arm copy 2");
  EXPECT_TRUE(*d.parts.find("arm copy 2") == *d.parts.find("arm"));
  EXPECT_EQ(copy(d, "parts", "nobody"), "");
  remove(d, "parts", "arm copy"), remove(d, "parts", "arm copy 2"), remove(d, "parts", "nobody");
  EXPECT_TRUE(d == parse(clamp));
}

TEST(Things, EveryKindIsListed) {
  const auto kinds = kindsOfThings();
  for (const char* kind : {"materials", "parts", "regions", "contacts", "steps", "supports", "motions", "loads", "carriers",
                           "springs", "bolts", "temperatures", "stabilisations", "watch"})
    EXPECT_NE(std::find(kinds.begin(), kinds.end(), kind), kinds.end()) << kind;
  EXPECT_EQ(kinds.size(), 14u);
}
