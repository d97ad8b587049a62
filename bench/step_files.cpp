// How many STEP files of a folder are meshed, each by a process of its own: a table of what came of them.
//   step-bench FOLDER [COUNT [SEED [SECONDS]]]             files with several solids are skipped; the same seed, the same sample
//   step-bench --random [COUNT [SEED [SECONDS]]]           solids of random features instead
//   step-bench --press FOLDER [COUNT [SEED [SECONDS]]]     presses those that stand between two rigid planes, to 1 % of their
//   height
// A fifth number goes on with a sample from there: files are numbered as they are tried.
#include <fmt/format.h>
#include <poll.h>
#include <sys/wait.h>
#include <unistd.h>
#include <algorithm>
#include <chrono>
#include <csignal>
#include <cstdlib>
#include <filesystem>
#include <map>
#include <random>

#include "core/base/error.hpp"
#include "core/geometry/solid.hpp"
#include "core/job/run_model.hpp"
#include "core/lower/lower.hpp"
#include "core/mesh/quality.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

using namespace anvil;
namespace fs = std::filesystem;
using Clock = std::chrono::steady_clock;

static std::string modelOf(const std::string& solid) {
  return R"({"anvil": 1, "space": "solid", "fineness": "draft", "materials": {"m": {"elastic": {"E": 1, "nu": 0.3}}},
    "steps": {"s": {}}, "parts": {"p": {"material": "m", "element": "tet10", "solid": [)" +
         solid + "]}}}";
}

/// A block or a prism with holes, cuts, a ball and roundings, as the generator has it.
static std::string randomSolid(std::mt19937& gen) {
  const auto between = [&](double a, double b) { return std::uniform_real_distribution<double>(a, b)(gen); };
  const double x = between(10, 60), y = between(10, 60), z = between(5, 40);
  std::string text = fmt::format(R"({{"box": {{"size": [{:.2f}, {:.2f}, {:.2f}]}}, "name": "b"}})", x, y, z);
  const int holes = int(between(0, 3.99));
  for (int i = 0; i < holes; ++i) {
    const double px = between(0.1, 0.9) * x, py = between(0.1, 0.9) * y, lean = between(-0.3, 0.3) * z;
    text += fmt::format(R"(, {{"cylinder": {{"from": [{:.2f}, {:.2f}, -1], "to": [{:.2f}, {:.2f}, {:.2f}], "radius": {:.2f}}},)"
                        R"( "how": "cut", "name": "h{}"}})",
                        px, py, px + (i % 2 ? lean : 0), py, z + 1, between(0.03, 0.2) * std::min(x, y), i);
  }
  if (between(0, 1) < 0.4)
    text += fmt::format(R"(, {{"ball": {{"center": [{:.2f}, {:.2f}, {:.2f}], "radius": {:.2f}}}, "how": "{}", "name": "ball"}})",
                        between(0.2, 0.8) * x, between(0.2, 0.8) * y, z, between(0.1, 0.3) * std::min({x, y, z}),
                        between(0, 1) < 0.5 ? "add" : "cut");
  if (between(0, 1) < 0.5)
    text += fmt::format(R"(, {{"fillet": {{"between": ["b.right", "b.back"], "radius": {:.2f}}}}})",
                        between(0.02, 0.1) * std::min({x, y, z}));
  return text;
}

/// What the child says: a word for the kind of end, then words. Runs in the child.
static std::string outcome(const std::string& text, bool several) {
  try {
    const auto d = model::parse(text);
    if (several) {
      const auto found = geometry::stepContents(d.parts.begin()->second.solid[0].step->file, "file");
      if (found.size() != 1) return "skipped\t" + std::to_string(found.size()) + " solids";
    }
    const auto mesh = analysis::buildMesh(d, model::Quantities(d));
    size_t cells = 0;
    double worst = 1;
    for (const auto& b : mesh.blocks) cells += b.count(), worst = std::min(worst, mesh::quality(mesh, b).leastScaledJacobian);
    std::string notes;
    for (const auto& n : mesh.notes) notes += (notes.empty() ? "" : "; ") + n.words;
    return fmt::format("meshed\t{} elements, least scaled Jacobian {:.3f}{}{}", cells, worst, notes.empty() ? "" : ": ", notes);
  } catch (const Error& e) {
    return "refused\t" + std::string(e.what());
  } catch (const std::exception& e) {
    return "failed\t" + std::string(e.what());
  }
}

/// A solid between two rigid planes across z that come together by a hundredth of its height, all else by default.
static std::string pressModelOf(const std::string& solid, const Eigen::AlignedBox3d& box) {
  const Eigen::Vector3d size = box.diagonal(), low = box.min() - 0.2 * size;
  const auto plane = [&](double z) {
    return fmt::format(R"({{"rigid": true, "solid": {{"box": {{"at": [{}, {}, {}], "size": [{}, {}, {}]}}}}}})", low.x(), low.y(),
                       z, 1.4 * size.x(), 1.4 * size.y(), 0.2 * size.z());
  };
  return fmt::format(R"({{"anvil": 1, "space": "solid", "fineness": "draft",
    "materials": {{"m": {{"elastic": {{"E": 2500, "nu": 0.35}}, "plastic": {{"yield": 40, "tangent": 100}}}}}},
    "parts": {{"p": {{"material": "m", "solid": [{}]}}, "below": {}, "above": {}}},
    "contacts": {{"foot": {{"between": ["p", "below"], "friction": 0.2}},
      "head": {{"between": ["p", "above"], "friction": 0.2}}}},
    "steps": {{"press": {{}}}}, "motions": {{"down": {{"on": "above", "along": "z", "course": {}}}}}}})",
                     solid, plane(low.z()), plane(box.max().z()), -0.01 * size.z());
}

/// Whether the outside near the lowest and the highest z lies one above the other: else a part tips over.
static bool stands(const mesh::Mesh& mesh, const Eigen::AlignedBox3d& box) {
  Eigen::AlignedBox2d foot, head;
  const double near = 1e-3 * box.diagonal().z();
  for (const auto& x : mesh.x) {
    if (x.z() < box.min().z() + near) foot.extend(x.head<2>());
    if (x.z() > box.max().z() - near) head.extend(x.head<2>());
  }
  if (foot.isEmpty() || head.isEmpty()) return false;
  const Eigen::AlignedBox2d both = foot.intersection(head);
  return !both.isEmpty() && (both.diagonal().array() > 0.1 * box.diagonal().head<2>().array()).all();
}

/// As `outcome`, of a run.
static std::string pressed(const std::string& file) {
  struct Count : analysis::Observer {
    int increments = 0, iterations = 0, cutbacks = 0;
    double share = 0;
    void converged(const analysis::Increment& i) override { ++increments, share = i.time; }
    void iterated(const analysis::IterationReport&) override { ++iterations; }
    void cutBack(const analysis::IterationReport&, const std::string&, double) override { ++cutbacks; }
  } count;
  try {
    const std::string solid = "{\"step\": {\"file\": \"" + file + "\"}, \"name\": \"s\"}";
    const auto alone = model::parse(modelOf(solid));
    if (geometry::stepContents(file, "file").size() != 1) return "skipped\tseveral solids";
    const model::Quantities q(alone);
    const auto box = geometry::solid(alone.parts.begin()->second, q, "", "parts/p").bounds();
    const auto mesh = analysis::buildMesh(alone, q);
    if (!stands(mesh, box)) return "skipped\tit does not stand on its foot";
    const auto d = model::parse(pressModelOf(solid, box));
    const auto out = fs::temp_directory_path() / ("anvil-pressed-" + std::to_string(getpid()) + ".h5");
    job::RunOptions options;
    options.out = out.string(), options.threads = 1;
    const auto end = job::runModel(d, options, &count);
    fs::remove(out);
    const std::string took = fmt::format("{} nodes, {} increments, {} iterations, {} cutbacks", mesh.x.size(), count.increments,
                                         count.iterations, count.cutbacks);
    return (end == analysis::Outcome::finished ? "pressed\t" : "stopped\t") + took;
  } catch (const Error& e) {
    if (count.iterations == 0) return "refused\t" + std::string(e.what());
    return fmt::format("stopped\tat {:.3f} after {} iterations: {}", count.share, count.iterations, e.what());
  } catch (const std::exception& e) {
    return "failed\t" + std::string(e.what());
  }
}

int main(int argc, char** argv) {
  const bool press = argc > 2 && std::string(argv[1]) == "--press";
  if (press) --argc, ++argv;
  if (argc < 2) return fmt::print(stderr, "usage: step-bench [--press] FOLDER|--random [COUNT [SEED [SECONDS [FROM]]]]\n"), 2;
  const std::string folder = argv[1];
  const size_t count = argc > 2 ? size_t(std::atoi(argv[2])) : 200;
  const unsigned seed = argc > 3 ? unsigned(std::atoi(argv[3])) : 1;
  const double most = argc > 4 ? std::atof(argv[4]) : 150;
  const size_t from = argc > 5 ? size_t(std::atoi(argv[5])) : 1;
  const auto cache = fs::temp_directory_path() / ("anvil-step-bench-" + std::to_string(getpid()));
  setenv("XDG_CACHE_HOME", cache.c_str(), 1);
  std::mt19937 gen(seed);
  std::vector<std::pair<std::string, std::string>> jobs;  // name, model
  if (folder == "--random") {
    for (size_t i = 0; i < count; ++i) jobs.emplace_back("random " + std::to_string(i + 1), modelOf(randomSolid(gen)));
  } else {
    std::vector<fs::path> files;
    for (const auto& f : fs::recursive_directory_iterator(folder))
      if (const auto e = f.path().extension(); e == ".step" || e == ".stp") files.push_back(f.path());
    std::sort(files.begin(), files.end());
    std::shuffle(files.begin(), files.end(), gen);
    for (const auto& f : files)
      jobs.emplace_back(fs::relative(f, folder).string(),
                        press ? fs::absolute(f).string()
                              : modelOf("{\"step\": {\"file\": \"" + fs::absolute(f).string() + "\"}, \"name\": \"s\"}"));
  }
  std::map<std::string, int> ends;
  std::vector<double> seconds;
  size_t tried = 0, number = 0;
  for (const auto& [name, text] : jobs) {
    if (tried == count) break;
    if (++number < from) continue;
    int ends2[2];
    if (pipe(ends2) != 0) return 2;
    const auto start = Clock::now();
    const pid_t child = fork();
    if (child == 0) {
      setpgid(0, 0);
      const auto said = press ? pressed(text) : outcome(text, folder != "--random");
      if (write(ends2[1], said.data(), said.size()) < 0) _exit(3);
      _exit(0);
    }
    setpgid(child, child);
    close(ends2[1]);
    std::string said;
    pollfd p{ends2[0], POLLIN, 0};
    while (true) {
      const double left = most - std::chrono::duration<double>(Clock::now() - start).count();
      char part[4096];
      if (left <= 0 || poll(&p, 1, int(1000 * left) + 1) == 0) {
        said = "hung\t";
        break;
      }
      const auto n = read(ends2[0], part, sizeof part);
      if (n <= 0) break;
      said.append(part, size_t(n));
    }
    close(ends2[0]);
    kill(-child, SIGKILL);
    int status = 0;
    waitpid(child, &status, 0);
    if (said.empty()) said = "crashed\t";
    const double took = std::chrono::duration<double>(Clock::now() - start).count();
    const auto word = said.substr(0, said.find('\t'));
    if (word != "skipped") ++tried, ++ends[word], seconds.push_back(took);
    if (word == "meshed" && took > 60) ++ends["of these over 60 s"];
    fmt::print("{:4} {:<8} {:6.1f} s  {}: {}\n", number, word, took, name, said.substr(said.find('\t') + 1));
    std::fflush(stdout);
  }
  std::sort(seconds.begin(), seconds.end());
  fmt::print("\n{} solids:", tried);
  for (const auto& [word, n] : ends) fmt::print(" {} {},", n, word);
  if (tried) fmt::print(" half in {:.1f} s, all in {:.1f} s\n", seconds[tried / 2], seconds.back());
  std::error_code none;
  fs::remove_all(cache, none);
}
