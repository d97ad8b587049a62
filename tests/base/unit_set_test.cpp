// Sets of units in which people read.
#include <gtest/gtest.h>

#include "core/base/unit_set.hpp"

namespace anvil {
namespace {

TEST(UnitSet, EveryKindHasAUnitThatMeasuresItInEverySet) {
  for (const auto& set : unitSets())
    for (int k = 0; k <= int(Kind::percent); ++k) {
      const auto c = set.conversionOf(Kind(k));  // throws where it does not
      EXPECT_NEAR(c.toCore(c.fromCore(3.7)), 3.7, 1e-12) << set.name << " " << k;
    }
}

TEST(UnitSet, ValuesAgreeWithTheDefinitionsOfTheUnits) {
  const auto& inches = unitSets()[2];
  ASSERT_EQ(inches.name, "in lbf psi");
  EXPECT_NEAR(inches.conversionOf(Kind::length).fromCore(25.4), 1, 1e-12);
  EXPECT_NEAR(inches.conversionOf(Kind::force).fromCore(4.4482216152605), 1, 1e-12);
  EXPECT_NEAR(inches.conversionOf(Kind::stress).fromCore(6.894757293168e-3), 1, 1e-10);
  EXPECT_NEAR(inches.conversionOf(Kind::moment).fromCore(4.4482216152605 * 25.4), 1, 1e-12);
  EXPECT_NEAR(inches.conversionOf(Kind::area).fromCore(25.4 * 25.4), 1, 1e-12);
  const auto& metres = unitSets()[1];
  EXPECT_NEAR(metres.conversionOf(Kind::work).fromCore(1000), 1, 1e-12);
  EXPECT_NEAR(metres.conversionOf(Kind::mass).fromCore(0.001), 1, 1e-12);
  EXPECT_NEAR(metres.conversionOf(Kind::angle).fromCore(3.14159265358979), 180, 1e-9);
}

TEST(UnitSet, CoreUnitsTellTheirKind) {
  for (int k = 0; k <= int(Kind::percent); ++k) {
    const int own = Kind(k) == Kind::work ? int(Kind::moment) : k;
    EXPECT_EQ(int(kindOfCoreUnit(coreUnit(Kind(k)))), own);
  }
  EXPECT_EQ(kindOfCoreUnit("N mm"), Kind::moment);  // as work is shown
  EXPECT_EQ(kindOfCoreUnit("parsec"), Kind::number);
}

}  // namespace
}  // namespace anvil
