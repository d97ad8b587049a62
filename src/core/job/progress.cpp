#include "core/job/progress.hpp"

#include <cmath>
#include <nlohmann/json.hpp>
#include <type_traits>
#include <variant>

namespace anvil::job {
namespace {

using Json = nlohmann::ordered_json;
using Member = std::variant<std::string Progress::*, std::vector<std::string> Progress::*, int Progress::*, double Progress::*>;

struct Field {
  const char* key;
  Member member;
};

struct Kind {
  const char* name;
  std::vector<Field> fields;
};

/// In the order of Progress::Event.
const std::vector<Kind>& kinds() {
  using P = Progress;
  static const Field model{"model", &P::model}, results{"results", &P::results}, step{"step", &P::step}, text{"text", &P::text},
      increment{"increment", &P::increment}, time{"time", &P::time}, size{"size", &P::size}, worst{"worst node", &P::worstNode};
  static const std::vector<Kind> all{
      {"start", {model, results, {"steps", &P::steps}}},
      {"meshing", {text}},
      {"iteration",
       {step,
        increment,
        {"attempt", &P::attempt},
        {"iteration", &P::iteration},
        time,
        size,
        {"force", &P::force},
        {"force limit", &P::forceLimit},
        {"correction", &P::correction},
        {"correction limit", &P::correctionLimit},
        {"contact changes", &P::contactChanges},
        {"contact active", &P::contactActive},
        {"gap error", &P::gapError},
        worst}},
      {"increment", {step, increment, time, size, {"iterations", &P::iterations}, {"cuts", &P::cuts}}},
      {"cut", {time, size, {"why", &P::why}, worst}},
      {"note", {text}},
      {"paused", {}},
      {"resumed", {}},
      {"stopped", {results}},
      {"finished", {results}},
      {"failed", {{"what", &P::what}, {"where", &P::where}, {"try", &P::remedy}, {"sentence", &P::sentence}}}};
  return all;
}

Json written(const std::string& v) { return v; }
Json written(const std::vector<std::string>& v) { return v; }
Json written(int v) { return v; }
Json written(double v) { return std::isfinite(v) ? Json(v) : Json(nullptr); }

void read(const Json& j, std::string& v) {
  if (j.is_string()) v = j.get<std::string>();
}
void read(const Json& j, std::vector<std::string>& v) {
  if (!j.is_array()) return;
  for (const auto& word : j)
    if (word.is_string()) v.push_back(word.get<std::string>());
}
void read(const Json& j, int& v) {
  if (!j.is_number_integer()) return;
  const auto whole = j.get<std::int64_t>();
  if (whole >= std::numeric_limits<int>::min() && whole <= std::numeric_limits<int>::max()) v = int(whole);
}
void read(const Json& j, double& v) {
  if (j.is_number()) v = j.get<double>();
}

}  // namespace

std::string lineOf(const Progress& progress) {
  const auto& kind = kinds()[size_t(progress.event)];
  Json j{{"event", kind.name}};
  for (const auto& f : kind.fields) std::visit([&](auto member) { j[f.key] = written(progress.*member); }, f.member);
  return j.dump(-1, ' ', false, Json::error_handler_t::replace);  // names and paths may be in any bytes
}

std::optional<Progress> progressOf(std::string_view line) {
  const Json j = Json::parse(line, nullptr, false);
  if (!j.is_object() || !j.contains("event")) return {};
  for (size_t k = 0; k < kinds().size(); ++k) {
    if (j["event"] != kinds()[k].name) continue;
    Progress p;
    p.event = Progress::Event(k);
    for (const auto& f : kinds()[k].fields)
      if (const auto at = j.find(f.key); at != j.end()) std::visit([&](auto member) { read(*at, p.*member); }, f.member);
    return p;
  }
  return {};
}

void Orders::hear(std::string_view bytes, const std::function<void(Progress::Event)>& changed) {
  constexpr size_t longest = 64;  // of what may become a word
  for (const char letter : bytes) {
    if (letter != '\n') {
      if (line_.size() < longest) line_ += letter;
      continue;
    }
    if (line_ == "pause" && !paused_) paused_ = true, changed(Progress::Event::paused);
    if (line_ == "resume" && paused_) paused_ = false, changed(Progress::Event::resumed);
    if (line_ == "stop") stopped_ = true;
    line_.clear();
  }
}

}  // namespace anvil::job
