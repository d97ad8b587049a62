#include "core/mesh/worker_mesh.hpp"

#include <algorithm>
#include <chrono>
#include <iterator>

#include "core/base/cache.hpp"
#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/base/job_folder.hpp"
#include "core/base/text.hpp"
#include "core/base/worker.hpp"
#include "core/mesh/refusal.hpp"

namespace anvil::mesh {
namespace {

using Json = nlohmann::json;

std::string keyOf(const std::string& brep, const Json& wishes) {
  return digestOf("14 " +  // of the mesher: other meshes, other number
                  wishes.dump() + brep);
}

/// One way to come by a mesh: how the outside is made (see the mesher), sizes times `factor`, the least of them besides times
/// `finest`, and whether elements are smaller where edges run close to each other.
struct Try {
  const char* way;
  double factor, finest;
  bool nearEdges;
};
/// In turn. What most solids need comes first; each later one gives up something: sizes asked for, small details, the borders
/// between faces that go on smoothly. The last ones are for solids that had no mesh at all until then.
constexpr Try tries[] = {{"faces", 1, 1, false},       {"faces", 1, 1, true},     {"faces", 1, 0.5, false},
                         {"simplified", 1, 1, true},   {"faces", 1, 0.5, true},   {"triangles", 1, 1, false},
                         {"triangles", 0.6, 1, false}, {"faces", 0.7, 0.5, false}};
constexpr size_t forBetterElements = 4;  // tries that are worth their time where there is a mesh already
/// The same tries where the first one came to no mesh at all: what fails once mostly fails again, and the outside as a whole is
/// the surest way.
constexpr size_t afterFailure[] = {0, 5, 3, 6, 1, 2, 4, 7};
constexpr double soundEnough = 0.1;  // least scaled Jacobian of a good mesh
constexpr double solvable = 0.02;    // and of one that can be solved

Json wishesOf(const Json& wishes, const Try& t, int seconds) {
  Json changed = wishes;
  changed["way"] = t.way, changed["seconds"] = seconds, changed["near edges"] = t.nearEdges;
  for (const char* key : {"size", "smallest"}) changed[key] = wishes[key].get<double>() * t.factor;
  for (auto& h : changed["face sizes"]) h = h.get<double>() * t.factor;
  changed["smallest"] = changed["smallest"].get<double>() * t.finest;
  if (changed.contains("near"))
    for (auto& n : changed["near"]) n[4] = n[4].get<double>() * t.factor;
  return changed;
}

/// Halves the sizes on the faces at which meshing failed; false where it told of none.
bool refineWhereItFailed(Json& wishes, const Json& failure) {
  auto& sizes = wishes["face sizes"];
  bool any = false;
  for (int f : failure.value("faces", std::vector<int>{}))
    if (f >= 0 && size_t(f) < sizes.size()) {
      const double h = sizes[size_t(f)];
      sizes[size_t(f)] = (h > 0 ? h : wishes["size"].get<double>()) / 2, any = true;
      wishes["smallest"] = std::min(wishes["smallest"].get<double>(), sizes[size_t(f)].get<double>());
    }
  return any;
}

/// What was given up on the way to a mesh: sentences, and whether each is a doubt.
Json toldOf(const Try& t, const Json& j, const geometry::Solid& solid, double size) {
  Json told = Json::array();
  if (const int hair = j.value("closed over", 0))
    told.push_back({(hair == 1 ? "a face" : std::to_string(hair) + " faces") +
                        " narrower than a two-hundredth of an element, as of a step or a slot, " + (hair == 1 ? "was" : "were") +
                        " closed over",
                    true});
  if (t.factor != 1)
    told.push_back({"it was meshed with elements of " + shortNumber(t.factor, 2) + " times the size asked for", false});
  if (t.way == std::string("simplified"))
    told.push_back({"it was meshed after small edges and narrow faces had been taken out and faces on one surface joined", true});
  if (t.way == std::string("triangles"))
    told.push_back(
        {"its faces could not be meshed one by one: its outside was triangulated as a whole, and where faces go on "
         "smoothly their borders run along the elements nearest",
         true});
  double most = 0;
  std::string where;
  for (const auto& f : j.value("stand off", Json::array()))
    if (f[1].get<double>() > most && size_t(f[0]) < solid.faces().size())
      most = f[1], where = solid.faces()[f[0].get<size_t>()].name;
  if (most > 0.02 * size)
    told.push_back({"elements stand off the face '" + where + "' by up to " + shortNumber(most, 2) +
                        " mm: they are too long for its curvature, and following it they would turn inside out",
                    false});
  if (t.way != std::string("faces") && j.contains("face")) {
    std::vector<bool> seen(solid.faces().size(), false);
    for (int f : j["face"].get<std::vector<int>>())
      if (f >= 0 && size_t(f) < seen.size()) seen[size_t(f)] = true;
    std::string lost;
    int count = 0;
    for (size_t f = 0; f < seen.size(); ++f)
      if (!seen[f] && ++count <= 4) lost += (count > 1 ? ", '" : "'") + solid.faces()[f].name + "'";
    if (count)
      told.push_back({(count == 1 ? "the face " : "the faces ") + lost +
                          (count > 4 ? " and " + std::to_string(count - 4) + " more" : "") + (count == 1 ? " is" : " are") +
                          " too narrow for elements of their own",
                      true});
  }
  return told;
}

/// The faces at which meshing failed, three at the most.
std::vector<Refusal::Place> facesIn(const Json& failure, const geometry::Solid& solid) {
  std::vector<Refusal::Place> places;
  for (int f : failure.value("faces", std::vector<int>{}))
    if (f >= 0 && size_t(f) < solid.faces().size() && places.size() < 3)
      places.push_back({solid.faces()[size_t(f)].name, solid.faces()[size_t(f)].centre});
  return places;
}

std::string inWords(const Eigen::Vector3d& at) {
  return "near x " + shortNumber(at.x(), 4) + ", y " + shortNumber(at.y(), 4) + ", z " + shortNumber(at.z(), 4) + " mm";
}

/// The places as the end of a sentence.
std::string inWords(const std::vector<Refusal::Place>& places) {
  std::string words;
  for (const auto& p : places) words += (words.empty() ? ": '" : ", '") + p.face + "' " + inWords(p.at);
  return words;
}

}  // namespace

Json sizeWishes(const FreeSizes& sizes, double size) {
  double least = size;
  std::vector<double> onFaces = sizes.onFaces;
  for (double& h : onFaces)
    if (h > 0) least = std::min(least, h *= sizes.factor);
  Json wishes{{"size", size}, {"face sizes", onFaces}};
  for (const auto& n : sizes.near) {
    wishes["near"].push_back({n.at.x(), n.at.y(), n.at.z(), n.within, n.size * sizes.factor});
    least = std::min(least, 2 * n.size * sizes.factor);  // the floor lies nearer to these
  }
  wishes["smallest"] = least;
  return wishes;
}

Json askedOfWorker(const geometry::Solid& solid, const Json& wishes, const std::string& path, const Working& working) {
  const JobFolder folder;
  writeWhole((folder / "shape.brep").string(), solid.brep());
  Json job = wishes;
  job["shape"] = (folder / "shape.brep").string();
  const auto [end, result] =
      askWorker("anvil-mesher", folder, Json::to_cbor(job), [&](const std::string& stage) { return !working || working(stage); });
  if (end.stopped) throw Error("meshing was stopped", path, "Ask for coarser elements, or mesh again.");
  Json j = Json::from_cbor(result, true, false);
  if (!j.is_object())
    j = {{"error",
          "the mesher ended without a mesh" + (end.lastWord.empty() ? std::string() : " while it worked on: " + end.lastWord)}};
  return j;
}

/// The mesh of these wishes, kept or made.
Json meshedByWorker(const geometry::Solid& solid, const Json& wishes, const std::string& path, const Working& working) {
  const std::string key = keyOf(solid.brep(), wishes);
  if (const auto before = kept("meshes", key))
    if (Json j = Json::from_cbor(*before, true, false); j.is_object() && j.contains("cells")) return j;
  // processor time that a try may take, s: several times what the mesher needs for as many elements and faces; three times
  // as much for the first, twice for the second, for solids that are all detail
  const double size = wishes["size"];
  const int patience = int(15 + 8 * solid.volume() / (size * size * size) / 400 + double(solid.faces().size()) / 150);
  const auto start = std::chrono::steady_clock::now();
  Json best, firstFailure;
  bool failedAtOnce = false;
  const auto worst = [&best] { return best.is_null() ? -1. : best.value("worst", 0.); };
  for (size_t turn = 0; turn < std::size(tries) && worst() < soundEnough; ++turn) {
    const size_t k = failedAtOnce ? afterFailure[turn] : turn;
    const auto& t = tries[k];
    const double took = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    if (worst() >= solvable && (turn >= forBetterElements || took > std::min(patience, 20))) break;
    if (took > 6 * patience) break;
    if (t.way != std::string("faces") && wishes.value("element", "tet") == "hex") continue;
    const int seconds = k == 0 ? 3 * patience : k == 1 ? 2 * patience : patience;
    Json j = askedOfWorker(solid, wishesOf(wishes, t, seconds), path, working);
    Json refined = wishes;
    bool finer = false;
    for (int round = 0; turn == 0 && round < 5 && refineWhereItFailed(refined, j); ++round)
      j = askedOfWorker(solid, wishesOf(refined, t, seconds), path, working), finer = true;
    if (j.contains("unfit")) throw Error(j["error"].get<std::string>(), path + "/element", "Take tet10, or auto.");
    failedAtOnce |= turn == 0 && j.contains("error");
    if (j.contains("error")) {
      if (firstFailure.is_null()) firstFailure = std::move(j);
    } else if (worst() < solvable ? j.value("worst", 0.) > worst()  // else what was asked for more nearly, and cheaper
                                  : j.value("worst", 0.) > 1.5 * worst() && j["cells"].size() < 2.5 * best["cells"].size()) {
      best = std::move(j), best["told"] = toldOf(t, best, solid, wishes["size"].get<double>());
      if (finer)
        best["told"].push_back({"elements are smaller on faces that could not be meshed with the size asked for", false});
    }
  }
  if (best.is_null()) {
    const auto places = facesIn(firstFailure, solid);
    throw Refusal(firstFailure["error"].get<std::string>() + inWords(places), path,
                  "Give a smaller element size there, or take out very small faces and slivers of the shape.", places);
  }
  if (best.value("worst", 0.) < solvable) {
    const std::vector<double> x = best["worst place"];
    const Eigen::Vector3d at(x[0], x[1], x[2]);
    throw Refusal("no sound mesh was found: the best has an element as thin as " + shortNumber(best["worst"].get<double>(), 2) +
                      " (scaled Jacobian; 0.02 is the least that can be solved) " + inWords(at),
                  path, "Give the faces there a smaller size (\"sizes\"), or take the thin wedge out of the shape.", {{"", at}});
  }
  const auto packed = Json::to_cbor(best);
  keep("meshes", key, {packed.begin(), packed.end()}, 60);
  return best;
}

}  // namespace anvil::mesh
