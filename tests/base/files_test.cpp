// Files are written whole or not at all, where their name leads, with the rights they had; and two writers do not meet.
#include "core/base/files.hpp"

#include <gtest/gtest.h>

#include <fcntl.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>
#include <csignal>
#include <fstream>
#include <thread>

#include "core/base/file_lock.hpp"
#include "core/base/process.hpp"
#include "scratch.hpp"
#include "words.hpp"

using namespace anvil;
namespace fs = std::filesystem;

namespace {

class WholeFiles : public Scratch {
 protected:
  std::string at(const char* name) const { return (folder / name).string(); }
  size_t count() const { return size_t(std::distance(fs::directory_iterator(folder), {})); }
};

TEST_F(WholeFiles, AreWrittenWholeAndLeaveNothingBeside) {
  writeWhole(at("a"), "first");
  writeWhole(at("a"), std::string(3 << 20, 'x'));
  EXPECT_EQ(readWhole(at("a")).size(), size_t(3 << 20));
  EXPECT_EQ(count(), 1u);
  EXPECT_SAYS(sentence([&] { readWhole(folder.string()); }), "cannot be opened");
  EXPECT_SAYS(sentence([&] { writeWhole(at("no/such.txt"), "x"); }), "Check that the folder");
  EXPECT_SAYS(sentence([&] { writeWhole(folder.string(), "x"); }), "folder");
}

TEST_F(WholeFiles, NothingThatLiesBesideIsTouched) {
  std::ofstream(at("a.part")) << "mine";
  fs::create_symlink(at("other"), at("a.tmp"));
  std::ofstream(at("other")) << "other";
  writeWhole(at("a"), "new");
  EXPECT_EQ(readWhole(at("a.part")), "mine");
  EXPECT_EQ(readWhole(at("other")), "other");
}

TEST_F(WholeFiles, WhatKilledProgramsHaveBegunIsTakenAwayLater) {
  const auto old = nameBeside(folder / "a"), fresh = nameBeside(folder / "a"), mine = folder / ".anvil-notes.part";
  for (const auto& f : {old, fresh, mine}) std::ofstream(f) << "half";
  for (const auto& f : {old, mine}) fs::last_write_time(f, fs::file_time_type::clock::now() - std::chrono::hours(2));
  sweepBegun(folder);
  EXPECT_FALSE(fs::exists(old));
  EXPECT_TRUE(fs::exists(fresh) && fs::exists(mine));
}

TEST_F(WholeFiles, LinksAreFollowedAlsoToWhatIsNotThereYet) {
  fs::create_directory(folder / "deep");
  fs::create_symlink("deep/real", at("link"));
  writeWhole(at("link"), "once");
  EXPECT_TRUE(fs::is_symlink(at("link")));
  EXPECT_EQ(readWhole(at("deep/real")), "once");
  writeWhole(at("link"), "twice");
  EXPECT_EQ(readWhole(at("deep/real")), "twice");
  fs::create_symlink("round", at("round"));
  EXPECT_SAYS(sentence([&] { writeWhole(at("round"), "x"); }), "circle");
}

TEST_F(WholeFiles, KeepTheirRights) {
  for (const mode_t mode : {0600, 0644, 0664, 0755}) {
    writeWhole(at("a"), "x");
    ASSERT_EQ(chmod(at("a").c_str(), mode), 0);
    writeWhole(at("a"), "y");
    struct stat s {};
    ASSERT_EQ(stat(at("a").c_str(), &s), 0);
    EXPECT_EQ(s.st_mode & 07777, mode);
  }
  const mode_t before = umask(027);
  writeWhole(at("fresh"), "x");
  umask(before);
  struct stat s {};
  ASSERT_EQ(stat(at("fresh").c_str(), &s), 0);
  EXPECT_EQ(s.st_mode & 07777, mode_t(0640));
}

TEST_F(WholeFiles, DevicesAndPipesAreWrittenThrough) {
  struct stat before {
  }, after{};
  ASSERT_EQ(stat("/dev/null", &before), 0);
  writeWhole("/dev/null", "x");
  ASSERT_EQ(stat("/dev/null", &after), 0);
  EXPECT_TRUE(S_ISCHR(after.st_mode));
  EXPECT_EQ(before.st_ino, after.st_ino);
  ASSERT_EQ(mkfifo(at("pipe").c_str(), 0600), 0);
  std::string got;
  std::thread reader([&] { got = readWhole(at("pipe")); });
  writeWhole(at("pipe"), "through");
  reader.join();
  EXPECT_EQ(got, "through");
  EXPECT_TRUE(fs::is_fifo(at("pipe")));
  EXPECT_SAYS(sentence([] { writeWhole("/dev/full", "x"); }), "cannot be written");
}

TEST_F(WholeFiles, AreKnownByWhatTheyAreAndNotByName) {
  writeWhole(at("a"), "x");
  fs::create_symlink(at("a"), at("l"));
  fs::create_hard_link(at("a"), at("h"));
  for (const char* name : {"a", "l", "h", "../", "./a"}) {
    if (std::string(name) == "../") continue;
    EXPECT_TRUE(sameFile(at(name), at("a"))) << name;
    EXPECT_SAYS(sentence([&] { keepApart(at(name), at("a"), "the table"); }), "cannot be written over");
  }
  EXPECT_FALSE(sameFile(at("b"), at("a")));
  EXPECT_TRUE(sameFile(at("b"), at("./b"))) << "of two names of what is not there yet";
  keepApart(at("b"), at("a"), "the table");
  keepApart("", at("a"), "the table");
}

TEST_F(WholeFiles, ALockIsOnesUntilItIsGoneOrKilled) {
  writeWhole(at("a"), "x");
  EXPECT_FALSE(isLocked(at("a")));
  {
    const FileLock mine(at("a"));
    EXPECT_TRUE(mine.held());
    EXPECT_TRUE(isLocked(at("a")));
    EXPECT_FALSE(FileLock(at("a")).held());
    readWhole(at("a"));  // closing another descriptor of the file lets nothing go
    EXPECT_TRUE(isLocked(at("a")));
  }
  EXPECT_FALSE(isLocked(at("a")));
  int ends[2];
  ASSERT_EQ(pipe(ends), 0);
  const pid_t child = fork();
  if (child == 0) {
    const FileLock theirs(at("a"));
    const char word = theirs.held() ? 'y' : 'n';
    if (write(ends[1], &word, 1) != 1) _exit(1);
    pause();
  }
  char word = 0;
  ASSERT_EQ(read(ends[0], &word, 1), 1);
  EXPECT_EQ(word, 'y');
  EXPECT_TRUE(isLocked(at("a")));
  EXPECT_FALSE(FileLock(at("a")).held());
  kill(child, SIGKILL);
  waitpid(child, nullptr, 0);
  EXPECT_TRUE(FileLock(at("a")).held());
  close(ends[0]), close(ends[1]);
}

TEST_F(WholeFiles, NoFileIsOpenedInThePlaceOfAStandardDescriptor) {
  const pid_t child = fork();
  if (child == 0) {
    close(0), close(1), close(2);
    secureProcess();
    const int fd = open(at("a").c_str(), O_CREAT | O_WRONLY, 0600);
    _exit(fd > 2 && write(1, "table", 5) == 5 ? 0 : 1);
  }
  int status = 0;
  waitpid(child, &status, 0);
  EXPECT_EQ(WEXITSTATUS(status), 0);
  EXPECT_EQ(readWhole(at("a")), "");
}

}  // namespace
