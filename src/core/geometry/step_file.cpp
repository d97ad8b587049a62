#include "core/geometry/step_file.hpp"

#include <BinTools.hxx>
#include <Standard_Failure.hxx>
#include <TopoDS_Iterator.hxx>
#include <algorithm>
#include <filesystem>
#include <mutex>
#include <nlohmann/json.hpp>
#include <sstream>

#include "core/base/cache.hpp"
#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/base/job_folder.hpp"
#include "core/base/memory.hpp"
#include "core/base/text.hpp"
#include "core/base/worker.hpp"

namespace anvil::geometry {
namespace {

using Json = nlohmann::json;

/// One of the last files read.
struct Kept {
  std::string file;
  std::filesystem::file_time_type time;
  std::uintmax_t size;
  std::vector<StepSolid> solids;
};

std::string called(const Json& solid, size_t number) {
  const std::string name = solid.value("name", "");
  return "the solid " + (name.empty() ? std::to_string(number) : "'" + name + "'");
}

/// What the worker has made of a file: a list of names and what was mended, and the solids together as one shape. Throws Error.
std::string askWorker(const std::string& full, size_t size, const std::string& path) {
  const JobFolder folder;
  // what sound files of all makes need is a small part of this
  const double patience = 60 + 20e-6 * double(size), room = std::min(0.8 * availableMemory(), 3000 + 300e-6 * double(size));
  const Json job{{"step", std::filesystem::absolute(full).string()}, {"seconds", int(patience)}, {"megabytes", int(room)}};
  const auto [end, result] = askWorker("anvil-mesher", folder, Json::to_cbor(job), [](const std::string&) { return true; });
  const Json j = Json::from_cbor(result, true, false);
  if (!j.is_object())
    throw Error("the file " + full + " cannot be read as STEP: " +
                    (end.outOfTime ? "after " + std::to_string(int(patience)) + " s there was no end of it"
                                   : std::string("the reader broke off in it")),
                path, "It may be damaged: export it again.");
  if (j.contains("error")) {
    const int number = j.value("solid", 0);
    const std::string what = number ? called(j, size_t(number)) + " in " + full : "the file " + full;
    throw Error(what + " " + j["error"].get<std::string>(), path, j.value("remedy", "It may be damaged: export it again."));
  }
  return result;
}

/// The solids in what the worker has made; none where it is not that.
std::vector<StepSolid> solidsIn(const std::string& bytes, const std::string& full) {
  std::vector<StepSolid> solids;
  const Json j = Json::from_cbor(bytes, true, false);
  if (!j.is_object() || !j.contains("solids") || !j.contains("shape") || !j["shape"].is_binary()) return {};
  const auto& binary = j["shape"].get_binary();
  std::istringstream in(std::string(binary.begin(), binary.end()));
  TopoDS_Shape all;
  BinTools::Read(all, in);
  if (all.IsNull()) return {};
  for (TopoDS_Iterator i(all); i.More(); i.Next()) {
    if (solids.size() == j["solids"].size()) return {};
    const Json& about = j["solids"][solids.size()];
    std::string healing = about.value("healing", "");
    if (!healing.empty()) healing = called(about, solids.size() + 1) + " in " + full + " " + healing;
    solids.push_back({about.value("name", ""), i.Value(), healing, about.value("sheet", false)});
  }
  return solids;
}

}  // namespace

std::vector<StepSolid> readStep(const std::string& file, const std::string& folder, const std::string& path) try {
  static std::mutex one;
  const std::lock_guard lock(one);
  if (file.empty()) throw Error("no file is named", path, "Give the name of a STEP file.");
  const auto full = (std::filesystem::path(folder) / file).lexically_normal().string();
  static std::vector<Kept> recent;
  std::error_code none;
  const auto time = std::filesystem::last_write_time(full, none);
  const auto size = std::filesystem::file_size(full, none);
  for (const auto& k : recent)
    if (k.file == full && k.time == time && k.size == size && !none) return k.solids;
  const std::string text = readWhole(full);
  if (text.find_first_not_of(" \t\r\n") == std::string::npos)
    throw Error("the file " + full + " is empty", path, "Export it again.");
  if (text.substr(0, 200).find("ISO-10303-21") == std::string::npos)
    throw Error("the file " + full + " is no STEP file", path, "Export the shape as STEP (AP203, AP214 or AP242).");
  if (text.find("END-ISO-10303-21") == std::string::npos)
    throw Error("the file " + full + " ends in the middle; it may have been cut short", path, "Export or copy it again.");
  const std::string key = digestOf("2 " + text);  // of the reader: other solids, other number
  std::vector<StepSolid> solids;
  if (const auto before = kept("solids", key)) solids = solidsIn(*before, full);
  if (solids.empty()) {
    const auto bytes = askWorker(full, text.size(), path);
    solids = solidsIn(bytes, full);
    if (solids.empty()) throw Error("the file " + full + " cannot be read as STEP", path, "It may be damaged: export it again.");
    keep("solids", key, bytes, 60);
  }
  if (recent.size() > 3) recent.erase(recent.begin());
  recent.push_back({full, time, size, solids});
  return solids;
} catch (const Standard_Failure& e) {
  throw Error("the file " + file + " cannot be read as STEP (" + e.GetMessageString() + ")", path,
              "It may be damaged: export it again.");
}

}  // namespace anvil::geometry
