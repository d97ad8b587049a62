// The shell program takes nothing away from anyone: not by names given twice, closed descriptors, full disks or two runs at once.
#include <gtest/gtest.h>

#include <sys/wait.h>
#include <cstdlib>
#include <fstream>

#include "core/base/files.hpp"
#include "core/results/store.hpp"
#include "scratch.hpp"
#include "words.hpp"

using namespace anvil;
namespace fs = std::filesystem;

namespace {

class Safety : public Scratch {
 protected:
  void SetUp() override {
    Scratch::SetUp();
    fs::copy_file(std::string(ANVIL_SOURCE) + "/verification/C1-patch.anvil", model());
  }
  std::string model() const { return (folder / "m.anvil").string(); }
  std::string results() const { return (folder / "r.h5").string(); }
  /// Exit code of the program with these words behind it; `said` is both its outputs.
  int anvil(const std::string& words, std::string* said = nullptr) const {
    const std::string log = (folder / "log").string();
    const int status =
        std::system(("cd " + folder.string() + " && { timeout 60 " + ANVIL_CLI + " " + words + " ; } >" + log + " 2>&1").c_str());
    if (said) *said = readWhole(log);
    return WEXITSTATUS(status);
  }
};

TEST_F(Safety, NoOutputIsWrittenOverWhatItIsMadeOf) {
  ASSERT_EQ(anvil("run m.anvil --quiet --out r.h5"), 0);
  fs::create_symlink("m.anvil", folder / "link");
  fs::create_hard_link(results(), folder / "hard");
  const std::string modelBefore = readWhole(model()), resultsBefore = readWhole(results());
  for (const char* words : {"run m.anvil --out m.anvil", "run m.anvil --out link", "run link --out ./m.anvil",
                            "export r.h5 --csv r.h5", "export r.h5 --model hard", "table r.h5 'contact pressure' --out r.h5",
                            "export r.h5 --csv one --model one", "import m.anvil m.anvil"}) {
    std::string said;
    EXPECT_EQ(anvil(words, &said), 1) << words << said;
    EXPECT_SAYS(said, "another name") << words;
  }
  EXPECT_EQ(readWhole(model()), modelBefore);
  EXPECT_EQ(readWhole(results()), resultsBefore);
}

TEST_F(Safety, ClosedDescriptorsSpoilNoFile) {
  for (const char* closed : {">&-", "2>&-", "<&-", ">&- 2>&- <&-"}) {
    anvil(std::string("run m.anvil --out r.h5 ") + closed);
    EXPECT_EQ(results::Reader(results()).outcome(), "finished") << closed;
  }
}

TEST_F(Safety, WhatCannotBeSaidIsNoSuccess) {
  ASSERT_EQ(anvil("run m.anvil --quiet --out r.h5"), 0);
  std::string said;
  EXPECT_EQ(anvil("table r.h5 > /dev/full", &said), 1);
  EXPECT_SAYS(said, "standard output");
  EXPECT_EQ(anvil("schema > /dev/full"), 1);
}

TEST_F(Safety, OfTwoRunsOnOneFileOneIsRefusedAndTheOtherDone) {
  std::string said;
  anvil("run m.anvil --quiet --out r.h5 & " ANVIL_CLI " run m.anvil --quiet --out r.h5; a=$?; wait $!; echo codes $a $?", &said);
  const bool both = said.find("codes 0 0") != std::string::npos;  // the second may have begun after the first had ended
  EXPECT_TRUE(both || said.find("another run (process ") != std::string::npos) << said;
  EXPECT_EQ(results::Reader(results()).outcome(), "finished");
}

TEST_F(Safety, AContinuationFromBelowTheFirstIncrementIsRefused) {
  ASSERT_EQ(anvil("run m.anvil --quiet --out r.h5"), 0);
  const std::string before = readWhole(results());
  for (const char* n : {"0", "-5", "1.5", "9999"})
    EXPECT_NE(anvil(std::string("run m.anvil --out r.h5 --continue-from ") + n), 0) << n;
  EXPECT_EQ(readWhole(results()), before);
}

TEST_F(Safety, TooLittleMemoryEndsInASentence) {
  for (const int kilobytes : {150000, 250000, 350000, 400000, 450000}) {
    std::string said;
    const int code = anvil("version >/dev/null; ulimit -v " + std::to_string(kilobytes) +
                               "; timeout 60 " ANVIL_CLI " run m.anvil --quiet --threads 1 --out r.h5",
                           &said);
    EXPECT_TRUE(code == 0 || (code == 1 && said.find("emory") != std::string::npos) || code == 127)
        << kilobytes << ": " << code << said;
  }
}

TEST_F(Safety, ALimitOfFileSizeKeepsWhatWasStored) {
  std::string said;
  fs::copy_file(std::string(ANVIL_SOURCE) + "/examples/ferrule-crimp/ferrule-crimp.anvil", folder / "f.anvil");
  EXPECT_EQ(anvil("version >/dev/null; ulimit -f 3000; " ANVIL_CLI " run f.anvil --set h=0.6 --quiet --out f.h5", &said), 1)
      << said;
  EXPECT_SAYS(said, "disk has room");
  EXPECT_GT(results::Reader((folder / "f.h5").string()).rows().size(), 3u);
  EXPECT_EQ(anvil("run f.anvil --set h=0.6 --quiet --continue --out f.h5", &said), 0) << said;
}

}  // namespace
