// What a new model begins with can be meshed, has a material, and says when it is right.
#include <gtest/gtest.h>

#include "core/base/error.hpp"
#include "core/lower/lower.hpp"
#include "core/model/beginnings.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/json.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "meshes.hpp"
#include "scratch.hpp"
#include "words.hpp"

using namespace anvil;

namespace {
class Beginnings : public ScratchCache {};
}  // namespace

TEST_F(Beginnings, EveryPartIsMeshedAndKeptInTheFile) {
  ASSERT_EQ(model::beginnings().size(), 5u);
  for (const auto& kind : model::beginnings()) {
    EXPECT_GT(kind.sentence.size(), 30u);
    EXPECT_GE(kind.parts.size(), 3u);
    for (const auto& part : kind.parts) {
      const auto d = model::begun(kind.name, part);
      EXPECT_EQ(d.space, kind.space);
      ASSERT_EQ(d.parts.size(), 1u);
      EXPECT_TRUE(d.materials.find(d.parts.front().second.material));
      EXPECT_EQ(d.parts.front().second.thin.has_value(), kind.name == "thin");
      const auto mesh = analysis::buildMesh(d, model::Quantities(d));
      EXPECT_GT(volumeOf(mesh), 0) << kind.name << " " << part;
      EXPECT_TRUE(model::parse(model::print(d)) == d);
    }
    const auto empty = model::begun(kind.name);
    EXPECT_TRUE(empty.parts.empty() && empty.materials.empty());
    EXPECT_EQ(empty.steps.size(), 1u);
  }
}

TEST_F(Beginnings, KnownVolumesAreThose) {
  const auto volume = [](const char* kind, const char* part) {
    const auto d = model::begun(kind, part);
    return volumeOf(analysis::buildMesh(d, model::Quantities(d)));
  };
  EXPECT_NEAR(volume("plane strain", "rectangle"), 1200, 1e-9);
  EXPECT_NEAR(volume("solid", "box"), 60 * 20 * 40, 1e-6);
  EXPECT_NEAR(volume("thin", "plate"), 9600, 1e-9);
  EXPECT_NEAR(volume("plane stress", "bracket"), 80 * 20 + 60 * 20 + 100 * (1 - 3.14159265 / 4), 1);
}

TEST_F(Beginnings, WhatIsNotKnownIsSaid) {
  EXPECT_NE(sentence([] { model::begun("plane"); }).find("Known: plane strain"), std::string::npos);
  EXPECT_NE(sentence([] { model::begun("solid", "tray"); }).find("begins with 'tray'"), std::string::npos);
}
