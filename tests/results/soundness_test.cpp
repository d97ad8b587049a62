// Results files that are damaged, half written or of another make: right values or a sentence, never something else.
#include <gtest/gtest.h>

#include <hdf5.h>
#include <sys/wait.h>
#include <unistd.h>
#include <csignal>
#include <fstream>
#include <random>
#include <thread>

#include "core/base/files.hpp"
#include "core/job/run_model.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/results/export.hpp"
#include "core/results/fields.hpp"
#include "core/results/store.hpp"
#include "results/pushed_block.hpp"
#include "scratch.hpp"
#include "words.hpp"

using namespace anvil;
namespace fs = std::filesystem;

namespace {

class Soundness : public Scratch {
 protected:
  void SetUp() override {
    Scratch::SetUp();
    job::RunOptions options;
    options.out = file(), options.threads = 1;
    auto pressed = model::parse(pushedBlock);  // with few elements and two increments in a step
    pressed.parts.find("block")->mesh.size = 2.5;
    for (auto& [name, step] : pressed.steps) step.increments.first = 0.5, step.increments.largest = 0.5;
    job::runModel(pressed, options);
  }
  std::string file() const { return (folder / "r.h5").string(); }
};

/// All that is read of a file, as text.
std::string everythingIn(const std::string& path) {
  const results::Reader r(path);
  std::string all = r.header().model + r.outcome() + results::historiesCsv(r);
  for (const auto& x : r.header().mesh.x) all += std::to_string(x.sum());
  for (size_t row = 0; row < r.rows().size(); ++row) {
    for (const auto& f : results::fieldList(r.header()))
      for (double v : results::nodalField(r, f.name, row)) all += std::to_string(v);
    for (const auto& [name, v] : r.restart(row))
      for (double x : v) all += std::to_string(x);
  }
  return all;
}

TEST_F(Soundness, AChangedBitIsFoundOrDoesNotMatter) {
  const std::string sound = readWhole(file()), all = everythingIn(file());
  std::mt19937 random(16);
  int refused = 0;
  for (int i = 0; i < 400; ++i) {
    std::string bytes = sound;
    const size_t at = std::uniform_int_distribution<size_t>(0, i % 2 ? bytes.size() - 1 : 8000)(random);
    bytes[at] = char(bytes[at] ^ (1 << (i % 8)));
    std::ofstream(folder / "d.h5", std::ios::binary) << bytes;
    std::string now;
    try {
      now = everythingIn((folder / "d.h5").string());
    } catch (const Error& e) {
      ++refused;
      EXPECT_NE(std::string(e.what()).find('.'), std::string::npos);
      continue;
    }
    // the word of how the run ended is written last, over another, and has no checksum
    EXPECT_EQ(now.size(), all.size()) << "bit " << i % 8 << " of byte " << at;
  }
  EXPECT_GT(refused, 20);
}

TEST_F(Soundness, AnIndexThatLeadsNowhereIsRefused) {
  const auto spoil = [&](const char* set, size_t at, int value) {
    fs::copy_file(file(), folder / "d.h5", fs::copy_options::overwrite_existing);
    const hid_t f = H5Fopen((folder / "d.h5").c_str(), H5F_ACC_RDWR, H5P_DEFAULT);
    const hid_t s = H5Dopen2(f, set, H5P_DEFAULT), space = H5Dget_space(s);
    std::vector<int> v(size_t(H5Sget_simple_extent_npoints(space)));
    H5Dread(s, H5T_NATIVE_INT, H5S_ALL, H5S_ALL, H5P_DEFAULT, v.data());
    ASSERT_LT(at, v.size()) << set;
    v[at] = value;
    H5Dwrite(s, H5T_NATIVE_INT, H5S_ALL, H5S_ALL, H5P_DEFAULT, v.data());
    H5Sclose(space), H5Dclose(s), H5Fclose(f);
    EXPECT_SAYS(sentence([&] { results::Reader r((folder / "d.h5").string()); }), "damaged") << set << " " << value;
  };
  for (const int wrong : {-1, 1 << 30}) {
    for (size_t at : {0, 5}) spoil("/mesh/blocks/0", at, wrong);
    spoil("/mesh/blocks/about 0", 0, wrong), spoil("/mesh/blocks/about 0", 1, wrong);
    for (size_t at : {0, 1, 2}) spoil("/mesh/faces/0", at, wrong);
    spoil("/mesh/faces/part 0", 0, wrong);
    spoil("/contacts/nodes 0", 0, wrong), spoil("/contacts/segments 0", 1, wrong), spoil("/contacts/carriers 0", 0, wrong);
  }
}

TEST_F(Soundness, WhatIsNoResultsFileIsTold) {
  const auto told = [&](const std::string& bytes) {
    std::ofstream(folder / "x.h5", std::ios::binary) << bytes;
    return sentence([&] { results::Reader r((folder / "x.h5").string()); });
  };
  EXPECT_SAYS(told(""), "still empty");
  EXPECT_SAYS(told("words"), "not a results file");
  EXPECT_SAYS(told(readWhole(file()).substr(0, 3000)), "not a results file");
  EXPECT_SAYS(sentence([&] { results::Reader r(folder.string()); }), "folder");
  EXPECT_SAYS(sentence([&] { results::Reader r((folder / "none.h5").string()); }), "no such results file");
  // one of a version that is not there yet
  fs::copy_file(file(), folder / "new.h5");
  const hid_t f = H5Fopen((folder / "new.h5").c_str(), H5F_ACC_RDWR, H5P_DEFAULT);
  const hid_t s = H5Dopen2(f, "/format", H5P_DEFAULT), type = H5Dget_type(s);
  std::string word = "unyielding-anvil results 9";
  word.resize(H5Tget_size(type));
  H5Dwrite(s, type, H5S_ALL, H5S_ALL, H5P_DEFAULT, word.data());
  H5Tclose(type), H5Dclose(s), H5Fclose(f);
  EXPECT_SAYS(sentence([&] { results::Reader r((folder / "new.h5").string()); }), "newer version");
}

/// A kill can leave the next row of a set half written; rows before it are whole, and all that is read.
TEST_F(Soundness, AHalfWrittenRowBehindTheWholeOnesIsNotRead) {
  const auto rows = results::Reader(file()).rows().size();
  const auto histories = results::Reader(file()).histories();
  const auto tear = [&](const char* set) {
    const hid_t f = H5Fopen((folder / "t.h5").c_str(), H5F_ACC_RDWR, H5P_DEFAULT);
    const hid_t s = H5Dopen2(f, set, H5P_DEFAULT), space = H5Dget_space(s);
    hsize_t dims[2] = {0, 0};
    H5Sget_simple_extent_dims(space, dims, nullptr);
    const hsize_t at[2] = {dims[0], 0};
    ++dims[0];
    const std::vector<double> half(dims[1] + 1, 0.5);  // too long for its checksum, which is wrong
    EXPECT_GE(H5Dset_extent(s, dims), 0);
    EXPECT_GE(H5Dwrite_chunk(s, H5P_DEFAULT, 0, at, 8 * dims[1] + 4, half.data()), 0);
    H5Sclose(space), H5Dclose(s), H5Fclose(f);
  };
  const auto copied = [&](double outcome) {
    fs::copy_file(file(), folder / "t.h5", fs::copy_options::overwrite_existing);
    const hid_t f = H5Fopen((folder / "t.h5").c_str(), H5F_ACC_RDWR, H5P_DEFAULT), s = H5Dopen2(f, "/outcome", H5P_DEFAULT);
    H5Dwrite(s, H5T_NATIVE_DOUBLE, H5S_ALL, H5S_ALL, H5P_DEFAULT, &outcome);
    H5Dclose(s), H5Fclose(f);
  };
  copied(0);  // by a kill
  tear("/histories");
  EXPECT_EQ(results::Reader((folder / "t.h5").string()).histories(), histories);
  tear("/increments");
  EXPECT_EQ(results::Reader((folder / "t.h5").string()).rows().size(), rows);
  EXPECT_EQ(results::Reader((folder / "t.h5").string()).histories(), histories);
  copied(1);  // of a run that came to its end: damage
  tear("/increments");
  EXPECT_SAYS(sentence([&] { results::Reader r((folder / "t.h5").string()); }), "damaged");
}

/// General tools open files without the library's words for "somebody writes it".
size_t rowsByTheLibraryAlone(const std::string& path) {
  const hid_t f = H5Fopen(path.c_str(), H5F_ACC_RDONLY, H5P_DEFAULT);
  if (f < 0) return 0;
  const hid_t s = H5Dopen2(f, "/increments", H5P_DEFAULT), space = s < 0 ? -1 : H5Dget_space(s);
  hsize_t dims[2] = {0, 0};
  if (space >= 0) H5Sget_simple_extent_dims(space, dims, nullptr), H5Sclose(space), H5Dclose(s);
  H5Fclose(f);
  return size_t(dims[0]);
}

TEST_F(Soundness, GeneralToolsOpenWhatAKillHasLeft) {
  const results::Reader whole(file());
  const std::string left = (folder / "left.h5").string();
  const pid_t child = fork();
  if (child == 0) {
    results::Writer w(left, whole.header());
    for (size_t i = 0; i < whole.rows().size(); ++i) w.append(whole.whole(i));
    kill(getpid(), SIGKILL);
  }
  waitpid(child, nullptr, 0);
  EXPECT_EQ(rowsByTheLibraryAlone(left), whole.rows().size());
  EXPECT_EQ(results::Reader(left).history("motions/down/force y"), whole.history("motions/down/force y"));
}

TEST_F(Soundness, KillsInTheMiddleOfWritingTearNothing) {
  const results::Reader whole(file());
  const auto header = whole.header();
  const auto row = whole.whole(0);
  const std::string left = (folder / "left.h5").string();
  std::mt19937 random(9);
  int readable = 0;
  size_t most = 0;
  for (int round = 0; round < 150; ++round) {
    fs::remove(left);
    const pid_t child = fork();
    if (child == 0) {
      results::Writer w(left, header);
      for (;;) w.append(row);
    }
    std::this_thread::sleep_for(std::chrono::microseconds(std::uniform_int_distribution<int>(5000, 60000)(random)));
    kill(child, SIGKILL);
    waitpid(child, nullptr, 0);
    if (!fs::exists(left)) continue;  // of a machine that was busy
    ++readable;
    ASSERT_NO_THROW({
      const results::Reader r(left);
      for (size_t i = 0; i < r.rows().size(); ++i) ASSERT_EQ(r.whole(i).stress, row.stress);
      most = std::max(most, r.rows().size());
    }) << "round "
       << round;
  }
  EXPECT_GT(readable, 30);
  EXPECT_GT(most, 5u);
}

TEST_F(Soundness, OneWriterAtATime) {
  const auto header = results::Reader(file()).header();
  const std::string out = (folder / "two.h5").string();
  results::Writer first(out, header);
  first.append(results::Reader(file()).whole(0));
  const std::string before = readWhole(out);
  const auto word = sentence([&] { results::Writer second(out, header); });
  EXPECT_SAYS(word, "another run (process " + std::to_string(getpid()) + ", since ");
  EXPECT_SAYS(sentence([&] { results::Writer second(out, 1, header); }), "another run");
  EXPECT_EQ(readWhole(out), before);
  fs::create_symlink(out, folder / "link.h5");
  EXPECT_SAYS(sentence([&] { results::Writer second((folder / "link.h5").string(), header); }), "another run");
  first.append(results::Reader(file()).whole(1));
  EXPECT_EQ(results::Reader(out).rows().size(), 2u);
  EXPECT_EQ(std::distance(fs::directory_iterator(folder), {}), 3) << "nothing is left beside";
}

}  // namespace
