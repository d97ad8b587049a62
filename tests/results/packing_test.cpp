// Rows are packed by our own hand and unpacked by the storage library, which checks their sums; one is read without the others.
#include "core/results/packing.hpp"

#include <gtest/gtest.h>

#include <fstream>
#include <random>

#include "core/results/store.hpp"
#include "scratch.hpp"

using namespace anvil;

namespace {

/// Points without elements: what is stored of each is its displacement and reaction.
results::Header pointsAlone(size_t nodes) {
  results::Header h;
  h.space = "plane strain", h.mesh.dim = 2;
  h.mesh.x.assign(nodes, Eigen::Vector3d::Zero());
  h.steps = {"one"}, h.stepEnds = {1};
  return h;
}

results::Row randomRow(const results::Header& h, int index) {
  std::mt19937 gen{unsigned(index)};
  std::normal_distribution<double> value(0, 1);
  results::Row r;
  r.index = index, r.time = 0.01 * (index + 1), r.size = 0.01;
  for (size_t i = 0; i < 2 * h.mesh.x.size(); ++i)
    r.displacement.push_back(float(value(gen))), r.reaction.push_back(i % 7 ? 0.f : float(value(gen)));
  for (const size_t size : {1u, 255u, 257u, 5001u}) {
    auto& state = r.restart["state of " + std::to_string(size)];
    for (size_t i = 0; i < size; ++i) state.push_back(i % 3 ? 0 : value(gen));
  }
  return r;
}

long bytesReadSoFar() {
  std::ifstream in("/proc/self/io");
  std::string name;
  long count = -1;
  in >> name >> count;
  return name == "rchar:" ? count : -1;
}

TEST(Packing, TheChecksumIsThatOfFletcher) {
  // words 6162 6364 65(00), as in the published examples of the sum over 16 bits, high byte first
  const std::string text = "abcde";
  const std::uint32_t first = 0x6162, second = first + 0x6364, third = second + 0x6500;
  const std::uint32_t one = (third & 0xffff) + (third >> 16), all = first + second + third;
  const std::uint32_t two = (all & 0xffff) + (all >> 16);
  EXPECT_EQ(results::fletcher32(reinterpret_cast<const std::uint8_t*>(text.data()), text.size()), two << 16 | one);
}

TEST(Packing, WhatIsEmptyInPartBecomesSmall) {
  std::vector<double> mostlyNothing(10000, 0.);
  mostlyNothing[77] = 3.25;
  EXPECT_LT(results::packed(mostlyNothing.data(), mostlyNothing.size(), sizeof(double)).size(), 2000u);
}

class Packed : public Scratch {};

TEST_F(Packed, RowsAreReadAsTheyWereWritten) {
  const auto h = pointsAlone(733);
  const std::string path = folder / "rows.h5";
  results::Writer writer(path, h);
  for (int i = 0; i < 5; ++i) writer.append(randomRow(h, i));
  const results::Reader reader(path);
  for (int i = 4; i >= 0; --i) {
    const auto was = randomRow(h, i);
    EXPECT_EQ(reader.field("displacement", size_t(i)), was.displacement);
    EXPECT_EQ(reader.field("reaction", size_t(i)), was.reaction);
    EXPECT_EQ(reader.restart(size_t(i)), was.restart);
  }
}

TEST_F(Packed, OneFieldIsReadWithoutTheRest) {
  const auto h = pointsAlone(20000);
  const std::string path = folder / "rows.h5";
  {
    results::Writer writer(path, h);
    for (int i = 0; i < 12; ++i) writer.append(randomRow(h, i));
  }
  ASSERT_GT(std::filesystem::file_size(path), 2'000'000u);
  const results::Reader reader(path);
  const long before = bytesReadSoFar();
  const auto field = reader.field("displacement", 7);
  EXPECT_EQ(field, randomRow(h, 7).displacement);
  EXPECT_GT(bytesReadSoFar() - before, 100'000);  // it was not known before
  EXPECT_LT(bytesReadSoFar() - before, long(field.size() * sizeof(float)) + 40'000);
}

}  // namespace
