#include "core/mesh/free.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <map>
#include <nlohmann/json.hpp>

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
  const std::string all = "2 " +   // of the mesher: other meshes, other number
                           wishes.dump() + brep;
  char key[40];
  std::snprintf(key, sizeof key, "%016llx%016llx", static_cast<unsigned long long>(digest(all, 14695981039346656037ull)), static_cast<unsigned long long>(digest(all, 88172645463325252ull)));
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

/// A folder of our own that goes with us.
struct Scratch {
  fs::path folder;
  Scratch() {
    std::string name = (fs::temp_directory_path() / "anvil-mesh-XXXXXX").string();
    if (!mkdtemp(name.data())) throw Error("no temporary folder can be made in " + fs::temp_directory_path().string(), "mesher", "Make room there, or set TMPDIR.");
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
  const auto end = runWorker("anvil-mesher", {(scratch.folder / "job").string(), (scratch.folder / "result").string()}, [&](const std::string& stage) { return !working || working(stage); });
  if (end.stopped) throw Error("meshing was stopped", path, "");
  Json j = Json::from_cbor(readBytes(scratch.folder / "result"), true, false);
  if (!j.is_object()) j = {{"error", "the mesher ended without a mesh" + (end.lastWord.empty() ? std::string() : " while it worked on: " + end.lastWord)}};
  return j;
}

/// The mesh of these wishes, kept or made. Where an element comes out too thin or the mesher gives up, other sizes and smoother gradings are tried.
Json meshed(const geometry::Solid& solid, const Json& wishes, const std::string& path, const Working& working) {
  constexpr double soundEnough = 0.1;   // least scaled Jacobian
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
    Json j = attempt(solid, changed, path, working);
    if (best.is_null() || j.value("worst", 0.) > best.value("worst", 0.)) best = std::move(j);
    if (best.value("worst", 0.) >= soundEnough) break;
  }
  if (best.contains("error")) throw Error(best["error"].get<std::string>(), path, "Give a smaller element size there, or take out very small faces and slivers of the shape.");
  if (best.value("worst", 0.) < soundEnough) {
    const std::vector<double> at = best["worst place"];
    throw Error("no sound mesh was found: the best has an element as thin as " + shortNumber(best["worst"].get<double>(), 2) + " (scaled Jacobian; 0.1 is wanted) near x " + shortNumber(at[0], 4) + ", y " +
                    shortNumber(at[1], 4) + ", z " + shortNumber(at[2], 4) + " mm",
                path, "Give the faces there a smaller size (\"sizes\"), or take the thin wedge out of the shape.");
  }
  const auto packed = Json::to_cbor(best);
  const std::string result(packed.begin(), packed.end());
  try {   // a cache that cannot be written is no reason to fail
    fs::create_directories(kept.parent_path());
    writeWhole(kept.string(), result);
    prune(kept.parent_path(), 60);
  } catch (const std::exception&) {
  }
  return best;
}

}  // namespace

double usualSize(const geometry::Solid& solid) {
  double surface = 0;
  for (const auto& f : solid.faces()) surface += f.area;
  return std::min(std::cbrt(solid.volume()) / 8, 2 * solid.volume() / std::max(surface, 1e-300));
}

void addFree(Mesh& mesh, int part, const geometry::Solid& solid, const FreeSizes& sizes, const std::string& path, const Working& working) {
  const double size = sizes.factor * (sizes.size > 0 ? sizes.size : usualSize(solid));
  double least = size;
  std::vector<double> onFaces = sizes.onFaces;
  for (double& h : onFaces)
    if (h > 0) least = std::min(least, h *= sizes.factor);
  Json wishes{{"size", size}, {"smallest", least / 6}, {"face sizes", onFaces}};
  if (sizes.perCircle != 12) wishes["per circle"] = sizes.perCircle;
  const double cells = 8 * solid.volume() / (size * size * size);
  if (cells > 2e7) throw Error("an element size of " + shortNumber(size, 3) + " mm would make about " + shortNumber(cells, 2) + " tetrahedra", path + "/mesh/size", "Take a larger one.");
  const Json j = meshed(solid, wishes, path, working);
  const std::vector<double> x = j.at("x");
  const std::vector<int> cell = j.at("cells"), triangle = j.at("triangles"), face = j.at("face");
  const int first = int(mesh.x.size()), block = int(mesh.blocks.size());
  for (size_t i = 0; i + 2 < x.size(); i += 3) mesh.x.emplace_back(x[i], x[i + 1], x[i + 2]);
  Block b{Cell::tet10, part, {}};
  for (int n : cell) b.nodes.push_back(first + n);
  // sides by their three corners
  std::map<std::array<int, 3>, std::pair<int, int>> sideOf;
  const auto& sides = info(Cell::tet10).side;
  for (size_t c = 0; c < b.count(); ++c)
    for (size_t s = 0; s < sides.size(); ++s) {
      std::array<int, 3> corner{};
      for (size_t k = 0; k < 3; ++k) corner[k] = b.cell(c)[sides[s][k]];
      std::sort(corner.begin(), corner.end());
      sideOf[corner] = {int(c), int(s)};
    }
  std::map<std::string, size_t> index;
  for (size_t t = 0; t < face.size(); ++t) {
    std::array<int, 3> corner{first + triangle[6 * t], first + triangle[6 * t + 1], first + triangle[6 * t + 2]};
    std::sort(corner.begin(), corner.end());
    const auto at = sideOf.find(corner);
    if (at == sideOf.end() || face[t] < 0 || size_t(face[t]) >= solid.faces().size()) throw Error("the mesher's triangles do not fit its tetrahedra", path, "Try another element size.");
    const std::string name = mesh.parts[size_t(part)] + "." + solid.faces()[size_t(face[t])].name;
    const auto [it, fresh] = index.try_emplace(name, mesh.faces.size());
    if (fresh) mesh.faces.push_back({name, part, {}});
    mesh.faces[it->second].facets.push_back({block, at->second.first, at->second.second});
  }
  mesh.blocks.push_back(std::move(b));
}

}  // namespace anvil::mesh
