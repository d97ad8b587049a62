// Tables as sheets and test machines write them.
#include <gtest/gtest.h>

#include "core/base/pasted_table.hpp"
#include "words.hpp"

namespace anvil {
namespace {

TEST(PastedTable, TheSameNumbersInEveryWayOfWriting) {
  const char* const ways[] = {
      "0.001\t210.5\n0.05\t340\n",                      // a sheet, with points
      "0,001\t210,5\n0,05\t340\n",                      // with commas
      "0,001;210,5\n0,05;340\n",                        // CSV where the comma is taken
      "0.001;210.5\n0.05;340\n",                        //
      "0.001,210.5\n0.05,340\n",                        // CSV
      "0.001, 210.5\n0.05, 340\n",                      //
      "0.001 210.5\n0.05 340\n",                        // columns
      "  0,001   210,5\n  0,05   340,0\n",              // with commas
      "1e-3;2.105e2\r\n5E-2;3.4E+2\r\n",                // powers, lines of another system
      "\xEF\xBB\xBF\"0,001\";\"210,5\"\n\n0,05;340\n",  // quoted, with a mark at the begin and an empty line
      "# machine 7\n0.001\t210.5\t\n0.05\t340\t\n",     // remarks, and an empty column at the end
  };
  for (const char* text : ways) {
    const auto t = readPasted(text);
    ASSERT_EQ(t.columns.size(), 2u) << text;
    ASSERT_EQ(t.rows(), 2u) << text;
    EXPECT_EQ(t.columns[0].values, (std::vector<double>{0.001, 0.05})) << text;
    EXPECT_EQ(t.columns[1].values, (std::vector<double>{210.5, 340})) << text;
  }
}

TEST(PastedTable, HeadersNameQuantitiesAndUnits) {
  struct Case {
    const char *text, *name, *unit, *otherName, *otherUnit;
  };
  for (const auto& c : {Case{"Strain [%];Stress [MPa]\n0,1;210\n", "Strain", "%", "Stress", "MPa"},
                        Case{"strain (mm/mm)\tstress (ksi)\n0.1\t30\n", "strain", "mm/mm", "stress", "ksi"},
                        Case{"Dehnung in %;Spannung in N/mm2\n0,1;210\n", "Dehnung", "%", "Spannung", "N/mm2"},
                        Case{"Dehnung / %;Spannung / MPa\n0,1;210\n", "Dehnung", "%", "Spannung", "MPa"},
                        Case{"Strain;Stress\n%;MPa\n0,1;210\n", "Strain", "%", "Stress", "MPa"},
                        Case{"Test 4\nStrain;Stress\n[-];[Pa]\n0,1;210\n", "Strain", "", "Stress", "Pa"},
                        Case{"e,s\n0.1,210\n", "e", "", "s", ""}}) {
    const auto t = readPasted(c.text);
    ASSERT_EQ(t.columns.size(), 2u) << c.text;
    EXPECT_EQ(t.columns[0].name, c.name) << c.text;
    EXPECT_EQ(t.columns[0].unit, c.unit) << c.text;
    EXPECT_EQ(t.columns[1].name, c.otherName) << c.text;
    EXPECT_EQ(t.columns[1].unit, c.otherUnit) << c.text;
  }
}

TEST(PastedTable, MarksBetweenThousandsAreNoDecimalMarks) {
  EXPECT_EQ(readPasted("0,1;1.234,5\n0,2;2.000\n").columns[1].values, (std::vector<double>{1234.5, 2000}));
  EXPECT_EQ(readPasted("0.1;1,234.5\n0.2;2\n").columns[1].values.front(), 1234.5);
}

TEST(PastedTable, WhatIsNoNumberIsNamedWithItsLine) {
  EXPECT_SAYS(sentence([] { readPasted("a;b\n1;2\n3;four\n"); }), "line 3 has 'four'");
  EXPECT_SAYS(sentence([] { readPasted("1;2\n3;4\n5;\n"); }), "line 3 has no number in column 2");
  EXPECT_SAYS(sentence([] { readPasted("strain, stress\n"); }), "no number in the text");
  EXPECT_SAYS(sentence([] { readPasted(""); }), "no number in the text");
}

}  // namespace
}  // namespace anvil
