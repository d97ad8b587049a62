// Damages a file in many ways and gives it to the program: whatever comes, it ends in time with a result or a sentence.
//   damage-run ANVIL FILE [COUNT [SEED [SECONDS]]]     FILE: a model (*.anvil), a STEP file or results (*.h5)
// Of results, what a damaged file tells without complaint must be what the sound one tells.
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <map>
#include <random>

#include "fuzz/program.hpp"

using namespace anvil::fuzz;
namespace fs = std::filesystem;

/// A few changes: of bits, of characters, pieces cut out, doubled or moved, numbers made huge.
static std::string damaged(std::string bytes, bool text, std::mt19937& gen) {
  const auto below = [&](size_t n) { return std::uniform_int_distribution<size_t>(0, std::max<size_t>(n, 1) - 1)(gen); };
  const int changes = below(3) == 0 ? int(1 + below(20)) : 1;
  for (int i = 0; i < changes && !bytes.empty(); ++i) {
    const size_t at = below(bytes.size());
    switch (text ? below(6) : below(2)) {
      case 0:
        bytes[at] = char(bytes[at] ^ (1 << below(8)));
        break;
      case 1:
        bytes[at] = text ? "0123456789.,-+eE\"{}[]()/*#'$ \n"[below(31)] : char(below(256));
        break;
      case 2:
        bytes.erase(at, 1 + below(60));
        break;
      case 3:
        bytes.insert(at, bytes.substr(below(bytes.size()), 1 + below(80)));
        break;
      case 4:
        bytes.resize(at);
        break;
      default:
        if (const auto digit = bytes.find_first_of("0123456789", at); digit != std::string::npos) {
          static const char* const numbers[] = {"1e300", "-1", "0", "4294967302", "1e-300", "nan", "0.000001", "99999999"};
          bytes.replace(digit, 1, numbers[below(8)]);
        }
    }
  }
  return bytes;
}

int main(int argc, char** argv) {
  if (argc < 3) return std::fprintf(stderr, "usage: damage-run ANVIL FILE [COUNT [SEED [SECONDS]]]\n"), 2;
  const std::string program = argv[1], file = argv[2];
  const int count = argc > 3 ? std::atoi(argv[3]) : 200;
  std::mt19937 gen(argc > 4 ? unsigned(std::atoi(argv[4])) : 1u);
  const double most = argc > 5 ? std::atof(argv[5]) : 90;
  char name[] = "/tmp/anvil-damage-XXXXXX";
  const fs::path folder = mkdtemp(name);
  setenv("XDG_CACHE_HOME", (folder / "cache").c_str(), 1);
  const auto kind = fs::path(file).extension().string();
  const bool results = kind == ".h5";
  const std::string bad = (folder / ("bad" + kind)).string(), log = (folder / "log").string();
  std::vector<std::vector<std::string>> uses;
  if (results)
    uses = {{"table", bad, "von Mises stress", "--format", "csv"}, {"table", bad}, {"export", bad, "--csv", "/dev/stdout"}};
  else if (kind == ".anvil")
    uses = {{"check", bad}, {"run", bad, "--quiet", "--threads", "1", "--out", (folder / "out.h5").string()}};
  else
    uses = {{"import", bad, (folder / "made.anvil").string()}};
  const std::string sound = bytesOf(file);
  std::vector<std::string> right;
  for (auto words : uses) {
    fs::copy_file(file, bad, fs::copy_options::overwrite_existing);
    words.insert(words.begin(), program);
    right.push_back(run(words, log, most).said);
  }
  std::map<std::string, int> ends;
  int wrong = 0;
  double slowest = 0;
  for (int i = 0; i < count; ++i) {
    const auto bytes = damaged(sound, !results, gen);
    std::ofstream(bad, std::ios::binary) << bytes;
    for (size_t k = 0; k < uses.size(); ++k) {
      fs::remove(folder / "made.anvil");
      auto words = uses[k];
      words.insert(words.begin(), program);
      const auto end = run(words, log, words[1] == "run" ? 5 * most : most);
      slowest = std::max(slowest, end.seconds);
      const bool sentence = end.code == 0 || end.said.find("anvil: ") != std::string::npos || end.code == 5;
      const bool other = results && end.code == 0 && end.said != right[k];
      const bool fault = end.hung || end.signal || end.code > 5 || !sentence || other;
      ++ends[end.hung ? "hung" : end.signal ? "died" : other ? "told something else" : "code " + std::to_string(end.code)];
      if (!fault) continue;
      ++wrong;
      const auto kept = folder / ("fault-" + std::to_string(i) + kind);
      std::ofstream(kept, std::ios::binary) << bytes;
      std::printf("FAULT %s: signal %d, code %d, %.1f s, %s: %s\n", words[1].c_str(), end.signal, end.code, end.seconds,
                  kept.c_str(), end.said.substr(0, 200).c_str());
    }
  }
  for (const auto& [what, n] : ends) std::printf("%6d %s\n", n, what.c_str());
  std::printf("%d damaged files, %d faults, the slowest took %.1f s\n", count, wrong, slowest);
  if (!wrong) fs::remove_all(folder);
  return wrong ? 1 : 0;
}
