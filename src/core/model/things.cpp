#include "core/model/things.hpp"

#include <functional>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/names.hpp"
#include "core/model/part.hpp"
#include "core/model/place_names.hpp"
#include "core/model/slender.hpp"

namespace anvil::model {
namespace {

bool holdsThings(const Field& f) { return f.type->form == Form::named && f.type->item->form == Form::object; }

/// Calls `visit` with every text that names something, and what kind of thing that is.
void eachReference(const Value& v, Refers refers, const std::function<void(std::string&, Refers)>& visit) {
  switch (v.form()) {
    case Form::object:
      for (const auto& f : v.type().fields) eachReference(v[f], f.refers, visit);
      break;
    case Form::optional:
    case Form::list:
    case Form::named:
      for (size_t i = 0; i < v.size(); ++i) eachReference(v.at(i), refers, visit);
      break;
    case Form::course:
      for (auto& stage : v.as<Course>().stages) visit(stage.first, Refers::steps);
      break;
    case Form::text:
      if (refers != Refers::nothing) visit(v.as<std::string>(), refers);
      break;
    case Form::flag:
    case Form::whole:
    case Form::quantity:
    case Form::direction:
      break;
  }
}

/// What a place is called when a part has another name: "part", "part.face", "part.face & part.face".
std::string followed(const std::string& place, const std::string& from, const std::string& to) {
  std::string whole;
  for (const auto& face : facesInName(place)) {
    whole += whole.empty() ? "" : meets;
    whole += face == from || face.starts_with(from + ".") ? to + face.substr(from.size()) : face;
  }
  return whole;
}

}  // namespace

std::vector<std::string> kindsOfThings() {
  std::vector<std::string> kinds;
  for (const auto& f : documentType().fields)
    if (holdsThings(f)) kinds.push_back(f.key);
  return kinds;
}

Value things(Document& document, const std::string& kind) {
  const auto* f = documentType().find(kind);
  if (!f || !holdsThings(*f)) throw Error("there are no things of the kind '" + kind + "'", {}, inProse(kindsOfThings()));
  return root(document)[*f];
}
Value things(const Document& document, const std::string& kind) { return things(const_cast<Document&>(document), kind); }

std::vector<std::string> namesOf(const Document& document, const std::string& kind) {
  const auto list = things(document, kind);
  std::vector<std::string> names;
  for (size_t i = 0; i < list.size(); ++i) names.push_back(list.name(i));
  return names;
}

size_t placeOf(const Value& things, const std::string& name) {
  size_t i = 0;
  while (i < things.size() && things.name(i) != name) ++i;
  return i;
}

void remove(Document& document, const std::string& kind, const std::string& name) {
  const auto list = things(document, kind);
  if (const auto i = placeOf(list, name); i < list.size()) list.erase(i);
}

std::string copy(Document& document, const std::string& kind, const std::string& name) {
  const auto list = things(document, kind);
  const auto i = placeOf(list, name);
  if (i == list.size()) return {};
  std::string fresh = name + " copy";
  for (int k = 2; placeOf(list, fresh) < list.size(); ++k) fresh = name + " copy " + std::to_string(k);
  const auto made = list.append();  // the list may move when it grows
  made.assign(list.at(i));
  return list.name(list.size() - 1) = fresh;
}

void rename(Document& document, const std::string& kind, const std::string& from, const std::string& to) {
  const auto list = things(document, kind);
  checkName(to, {}, "./");
  if (from == to) return;
  if (placeOf(list, to) < list.size()) throw Error("there is a '" + to + "' already", {}, "Choose another name.");
  if (const auto i = placeOf(list, from); i < list.size()) list.name(i) = to;
  const bool part = kind == "parts", place = part || kind == "carriers" || kind == "regions";
  eachReference(root(document), Refers::nothing, [&](std::string& name, Refers refers) {
    const bool named = (refers == Refers::materials && kind == "materials") || (refers == Refers::steps && kind == "steps") ||
                       (refers == Refers::watch && kind == "watch") || (refers == Refers::parts && part) ||
                       (refers == Refers::places && place);
    if (!named) return;
    if (refers == Refers::places && part)
      name = followed(name, from, to);
    else if (name == from)
      name = to;
  });
}

void followSlender(Document& d, const std::string& part, const std::string& list, const std::string& from,
                   const std::string& to) {
  const auto take = [&](std::string& name) {
    if (name == from) name = to;
  };
  if (auto* own = d.parts.find(part); own && own->slender)
    for (auto& [name, line] : own->slender->lines) {
      if (list == "points") take(line.from), take(line.to);
      if (list == "sections") take(line.section);
    }
  if (list == "sections") return;
  const std::string before = part + "." + from, after = part + "." + to;
  for (auto& [name, other] : d.parts)
    if (other.slender && list == "points")
      for (auto& [point, at] : other.slender->points)
        if (at.size() == 1 && at.front().text == before) at.front().text = after;
  eachReference(root(d), Refers::nothing, [&](std::string& name, Refers refers) {
    if (refers == Refers::places && name == before) name = after;
  });
}

void followFace(Document& d, const std::string& part, const std::string& from, const std::string& to) {
  const std::string before = part + "." + from, after = part + "." + to;
  eachReference(root(d), Refers::nothing, [&](std::string& name, Refers refers) {
    if (refers != Refers::places) return;
    std::string all;
    for (size_t at = 0; at <= name.size();) {  // "part.face & part.face"
      const size_t end = std::min(name.find(meets, at), name.size());
      const auto one = name.substr(at, end - at);
      all += (all.empty() ? "" : meets) + (one == before ? after : one);
      at = end + std::string(meets).size();
    }
    name = all;
  });
}

}  // namespace anvil::model
