#include "core/checks/pace.hpp"

#include <algorithm>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "core/base/cache.hpp"
#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/json.hpp"
#include "core/model/materials.hpp"
#include "core/model/quantities.hpp"

namespace anvil::checks {
namespace {

using Json = nlohmann::json;
constexpr size_t most = 200, newest = 25;
constexpr double telling = 5;  // s: shorter runs say nothing of others

std::filesystem::path file() { return cacheFolder("runs") / "finished.json"; }

double middle(std::vector<double> values) {
  std::sort(values.begin(), values.end());
  const size_t n = values.size();
  return n % 2 ? values[n / 2] : (values[n / 2 - 1] + values[n / 2]) / 2;
}

/// Iterations that an increment takes where nothing was run yet, from the examples.
double usualIterations(const RunKind& kind) { return kind.contact ? 4.2 : kind.yielding ? 3.5 : 2.5; }

}  // namespace

RunKind kindOf(const model::Document& d) {
  RunKind kind;
  for (const auto& [name, c] : d.contacts) {
    if (c.kind == "tied") continue;
    kind.contact = true;
    if (c.friction.given() && !(c.friction == model::Entry(0))) kind.friction = true;
  }
  for (const auto& [name, m] : d.materials) kind.yielding = kind.yielding || m.plastic;
  return kind;
}

std::string digestOf(const model::Document& d) { return anvil::digestOf(model::print(d)); }

std::vector<FinishedRun> finishedRuns() {
  std::vector<FinishedRun> runs;
  try {
    if (!std::filesystem::exists(file())) return runs;
    for (const auto& j : Json::parse(readWhole(file().string()))) {
      FinishedRun r;
      r.model = j.at("model"), r.planned = j.at("planned"), r.increments = j.at("increments"), r.iterations = j.at("iterations");
      r.kind = {j.at("contact"), j.at("friction"), j.at("yielding")};
      r.seconds = j.at("seconds"), r.saidIteration = j.at("said");
      if (r.planned > 0 && r.iterations > 0 && r.seconds > 0 && r.saidIteration > 0) runs.push_back(r);
    }
  } catch (const Json::exception&) {
    runs.clear();
  } catch (const Error&) {
    runs.clear();
  }
  return runs;
}

void remember(const FinishedRun& run) {
  auto runs = finishedRuns();
  runs.push_back(run);
  Json all = Json::array();
  for (size_t i = runs.size() > most ? runs.size() - most : 0; i < runs.size(); ++i) {
    const auto& r = runs[i];
    all.push_back({{"model", r.model},
                   {"contact", r.kind.contact},
                   {"friction", r.kind.friction},
                   {"yielding", r.kind.yielding},
                   {"planned", r.planned},
                   {"increments", r.increments},
                   {"iterations", r.iterations},
                   {"seconds", r.seconds},
                   {"said", r.saidIteration}});
  }
  if (!makePrivate(cacheFolder("runs"))) return;
  try {
    writeWhole(file().string(), all.dump(1) + "\n");
  } catch (const Error&) {  // a full disk must not spoil a run
  }
}

int plannedIncrements(const model::Document& d) {
  const model::Quantities q(d);
  int sum = 0;
  for (const auto& [name, step] : d.steps) {
    const std::string path = "steps/" + name + "/increments";
    const double largest = std::clamp(q(step.increments.largest, Kind::number, path + "/largest"), 1e-6, 1.);
    double size = std::clamp(q(step.increments.first, Kind::number, path + "/first"), 1e-6, largest);
    const double growth = std::max(1.01, q(d.solver.growth, Kind::number, "solver/growth"));
    for (double done = 0; done < 1 - 1e-9; size = std::min(size * growth, largest)) done += size, ++sum;
  }
  return std::max(1, sum);
}

Pace paceOf(const std::vector<FinishedRun>& runs, const std::string& model, const RunKind& kind, double saidIteration) {
  Pace pace;
  std::vector<double> same, alike, iterations;
  for (auto r = runs.rbegin(); r != runs.rend(); ++r) {
    const double ratio = r->seconds / (r->iterations * r->saidIteration), each = double(r->iterations) / r->planned;
    if (r->model == model && same.empty()) same.push_back(ratio), pace.iterationsEach = each, pace.sameModel = true;
    if (r->kind == kind && iterations.size() < newest) iterations.push_back(each);
    const double cost = r->saidIteration / saidIteration;
    if (r->seconds >= telling && r->kind.contact == kind.contact && cost > 0.125 && cost < 8 && alike.size() < newest)
      alike.push_back(ratio);
  }
  if (!same.empty() || !alike.empty()) pace.speed = std::clamp(middle(same.empty() ? alike : same), 0.05, 50.);
  if (!pace.sameModel) pace.iterationsEach = iterations.size() >= 3 ? middle(iterations) : usualIterations(kind);
  return pace;
}

}  // namespace anvil::checks
