#include "core/mesh/worker_mesh.hpp"

#include <unistd.h>
#include <algorithm>
#include <cerrno>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <iterator>

#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/base/text.hpp"
#include "core/base/worker.hpp"

namespace anvil::mesh {
namespace {

using Json = nlohmann::json;
namespace fs = std::filesystem;

/// FNV-1a with a seed; two of them tell shapes apart for good.
std::uint64_t digest(const std::string& text, std::uint64_t hash) {
  for (unsigned char c : text) hash = (hash ^ c) * 1099511628211ull;
  return hash;
}

std::string keyOf(const std::string& brep, const Json& wishes) {
  const std::string all = "3 " +  // of the mesher: other meshes, other number
                          wishes.dump() + brep;
  char key[40];
  std::snprintf(key, sizeof key, "%016llx%016llx", static_cast<unsigned long long>(digest(all, 14695981039346656037ull)),
                static_cast<unsigned long long>(digest(all, 88172645463325252ull)));
  return key;
}

fs::path cacheFolder() {
  if (const char* own = std::getenv("XDG_CACHE_HOME"); own && *own) return fs::path(own) / "unyielding-anvil" / "meshes";
  if (const char* home = std::getenv("HOME"); home && *home) return fs::path(home) / ".cache" / "unyielding-anvil" / "meshes";
  return fs::temp_directory_path() / "unyielding-anvil-meshes";
}

std::string readBytes(const fs::path& file) {
  std::ifstream in(file, std::ios::binary);
  return {std::istreambuf_iterator<char>(in), {}};
}

/// Keeps the newest meshes only.
void prune(const fs::path& folder, size_t most) {
  std::error_code none;
  std::vector<std::pair<fs::file_time_type, fs::path>> files;
  for (const auto& f : fs::directory_iterator(folder, none))
    if (f.path().extension() == ".mesh") files.emplace_back(fs::last_write_time(f, none), f.path());
  std::sort(files.begin(), files.end());
  for (size_t i = 0; i + most < files.size(); ++i) fs::remove(files[i].second, none);
}

/// Takes away what programs that were killed have left: folders named by a process that is gone.
void sweepScratch() {
  std::error_code none;
  const std::string stem = "anvil-mesh-";
  for (const auto& f : fs::directory_iterator(fs::temp_directory_path(none), none)) {
    const auto name = f.path().filename().string();
    if (!name.starts_with(stem)) continue;
    const long owner = std::strtol(name.c_str() + stem.size(), nullptr, 10);
    if (owner > 0 && kill(pid_t(owner), 0) != 0 && errno == ESRCH) fs::remove_all(f.path(), none);
  }
}

/// A folder of our own that goes with us.
struct Scratch {
  fs::path folder;
  Scratch() {
    sweepScratch();
    std::string name = (fs::temp_directory_path() / ("anvil-mesh-" + std::to_string(getpid()) + "-XXXXXX")).string();
    if (!mkdtemp(name.data()))
      throw Error("no temporary folder can be made in " + fs::temp_directory_path().string(), "mesher",
                  "Make room there, or set TMPDIR.");
    folder = name;
  }
  ~Scratch() {
    std::error_code none;
    fs::remove_all(folder, none);
  }
};

/// One run of the mesher. An answer with "error" when it refuses or dies.
Json attempt(const geometry::Solid& solid, const Json& wishes, const std::string& path, const Working& working) {
  Scratch scratch;
  writeWhole((scratch.folder / "shape.brep").string(), solid.brep());
  Json job = wishes;
  job["shape"] = (scratch.folder / "shape.brep").string();
  const auto bytes = Json::to_cbor(job);
  writeWhole((scratch.folder / "job").string(), std::string(bytes.begin(), bytes.end()));
  const auto end = runWorker("anvil-mesher", {(scratch.folder / "job").string(), (scratch.folder / "result").string()},
                             [&](const std::string& stage) { return !working || working(stage); });
  if (end.stopped) throw Error("meshing was stopped", path, "Ask for coarser elements, or mesh again.");
  Json j = Json::from_cbor(readBytes(scratch.folder / "result"), true, false);
  if (!j.is_object())
    j = {{"error",
          "the mesher ended without a mesh" + (end.lastWord.empty() ? std::string() : " while it worked on: " + end.lastWord)}};
  return j;
}

}  // namespace

/// The mesh of these wishes, kept or made. Where an element comes out too thin or the mesher gives up, other sizes and smoother
/// gradings are tried.
Json meshedByWorker(const geometry::Solid& solid, const Json& wishes, const std::string& path, const Working& working) {
  constexpr double soundEnough = 0.1;  // least scaled Jacobian
  const fs::path kept = cacheFolder() / (keyOf(solid.brep(), wishes) + ".mesh");
  std::error_code none;
  if (fs::exists(kept, none))
    if (Json j = Json::from_cbor(readBytes(kept), true, false); j.is_object() && j.contains("cells")) {
      fs::last_write_time(kept, fs::file_time_type::clock::now(), none);
      return j;
    }
  Json best;
  for (const auto& [factor, grading] : {std::pair{1., 0.3}, {1., 0.2}, {0.86, 0.2}, {0.7, 0.2}, {0.55, 0.2}}) {
    Json changed = wishes;
    changed["grading"] = grading;
    for (const char* key : {"size", "smallest"}) changed[key] = wishes[key].get<double>() * factor;
    for (auto& h : changed["face sizes"]) h = h.get<double>() * factor;
    if (changed.contains("near"))
      for (auto& n : changed["near"]) n[4] = n[4].get<double>() * factor;
    Json j = attempt(solid, changed, path, working);
    if (best.is_null() || j.value("worst", 0.) > best.value("worst", 0.)) best = std::move(j);
    if (best.value("worst", 0.) >= soundEnough || best.contains("unfit")) break;
  }
  if (best.contains("unfit")) throw Error(best["error"].get<std::string>(), path + "/element", "Take tet10, or auto.");
  if (best.contains("error"))
    throw Error(best["error"].get<std::string>(), path,
                "Give a smaller element size there, or take out very small faces and slivers of the shape.");
  if (best.value("worst", 0.) < soundEnough) {
    const std::vector<double> at = best["worst place"];
    throw Error("no sound mesh was found: the best has an element as thin as " + shortNumber(best["worst"].get<double>(), 2) +
                    " (scaled Jacobian; 0.1 is wanted) near x " + shortNumber(at[0], 4) + ", y " + shortNumber(at[1], 4) +
                    ", z " + shortNumber(at[2], 4) + " mm",
                path, "Give the faces there a smaller size (\"sizes\"), or take the thin wedge out of the shape.");
  }
  const auto packed = Json::to_cbor(best);
  const std::string result(packed.begin(), packed.end());
  try {  // a cache that cannot be written is no reason to fail
    fs::create_directories(kept.parent_path());
    writeWhole(kept.string(), result);
    prune(kept.parent_path(), 60);
  } catch (const std::exception&) {
  }
  return best;
}

}  // namespace anvil::mesh
