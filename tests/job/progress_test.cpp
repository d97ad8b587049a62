#include "core/job/progress.hpp"

#include <gtest/gtest.h>

#include "words.hpp"

using namespace anvil;
using job::Progress;
using Event = Progress::Event;

namespace {

/// With something in every member that the event has, and in no other.
Progress exampleOf(Event event) {
  Progress p;
  p.event = event;
  switch (event) {
    case Event::start:
      p.model = "a \"b\"\n.anvil", p.results = "größe.h5", p.steps = {"press", "", "let go"};
      break;
    case Event::meshing:
    case Event::note:
      p.text = "a line\nand {\"event\": \"stopped\"}";
      break;
    case Event::iteration:
      p.step = "press", p.increment = 3, p.attempt = 1, p.iteration = 12, p.time = 0.1, p.size = 1e-9, p.force = 1e300,
      p.forceLimit = 5e-324, p.correction = -1, p.correctionLimit = 0.25, p.contactChanges = 7, p.contactActive = 9,
      p.gapError = 1. / 3, p.worstNode = 2147483647;
      break;
    case Event::increment:
      p.step = "press", p.increment = 4, p.time = 2, p.size = 0.5, p.iterations = 5, p.cuts = 1;
      break;
    case Event::cut:
      p.time = 1.5, p.size = 0.125, p.why = "no balance", p.worstNode = 8;
      break;
    case Event::paused:
    case Event::resumed:
      break;
    case Event::stopped:
    case Event::finished:
      p.results = "r.h5";
      break;
    case Event::failed:
      p.what = "no hold", p.where = "step 'press'", p.remedy = "Add one.", p.sentence = "step 'press': no hold. Add one.";
      break;
  }
  return p;
}

}  // namespace

TEST(ProgressLines, EveryEventIsReadAsItWasWritten) {
  for (int k = 0; k <= int(Event::failed); ++k) {
    const auto told = exampleOf(Event(k));
    const auto line = job::lineOf(told);
    EXPECT_EQ(line.find('\n'), std::string::npos) << line;
    const auto read = job::progressOf(line);
    ASSERT_TRUE(read) << line;
    EXPECT_TRUE(*read == told) << line << "\n" << job::lineOf(*read);
  }
}

TEST(ProgressLines, WhatIsNoEventIsNone) {
  for (const char* line : {"", "null", "[]", "{", "{}", "7", R"({"event": 3})", R"({"event": "other"})", R"({"Event": "note"})",
                           "\xff\xfe", R"(["event", "note"])"})
    EXPECT_FALSE(job::progressOf(line)) << line;
}

TEST(ProgressLines, AMemberOfAnotherKindIsLeftOut) {
  const auto read = job::progressOf(
      R"({"event": "iteration", "step": 5, "increment": 4294967302, "iteration": 2.5, "force": "a", "size": 3, "time": null})");
  ASSERT_TRUE(read);
  Progress none;
  none.event = Event::iteration, none.size = 3;
  EXPECT_TRUE(*read == none);
}

TEST(ProgressLines, BytesThatAreNoTextDoNotBreakALine) {
  Progress p;
  p.event = Event::note, p.text =
                             "a\xff"
                             "b";
  const auto read = job::progressOf(job::lineOf(p));
  ASSERT_TRUE(read);
  EXPECT_EQ(read->text,
            "a\xef\xbf\xbd"
            "b");
}

TEST(ProgressLines, OrdersMayComeInPieces) {
  job::Orders orders;
  std::vector<Event> heard;
  const auto hear = [&](std::string_view bytes) { orders.hear(bytes, [&](Event e) { heard.push_back(e); }); };
  hear("pau");
  EXPECT_FALSE(orders.paused());
  hear("se\npause\n");
  EXPECT_TRUE(orders.paused());
  hear("resum\nresume\n");
  EXPECT_FALSE(orders.paused());
  EXPECT_EQ(heard, (std::vector<Event>{Event::paused, Event::resumed}));
  hear("pause\n" + std::string(1000000, 'x') + "stop\n");
  EXPECT_FALSE(orders.stopped());
  orders.end();
  EXPECT_FALSE(orders.paused());
  hear("stop");
  EXPECT_FALSE(orders.stopped());
  hear("\n");
  EXPECT_TRUE(orders.stopped());
}
