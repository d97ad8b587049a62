#include "core/model/entry_kinds.hpp"

#include <algorithm>
#include <set>
#include <utility>

#include "core/base/error.hpp"
#include "core/base/expression.hpp"
#include "core/model/actions.hpp"
#include "core/model/carriers.hpp"
#include "core/model/document.hpp"
#include "core/model/parameter_uses.hpp"
#include "core/model/quantities.hpp"
#include "core/model/timed_course.hpp"

namespace anvil::model {
namespace {

bool turns(const Value& owner) {
  if (owner.is<Spring>()) return owner.as<Spring>().along.find("turn") != std::string::npos;
  return owner.is<Motion>() && owner.as<Motion>().along.axis.find("turn") != std::string::npos;
}

/// What an entry of a thing that moves along a line measures where the thing turns; what is neither way stays.
Kind turned(Kind kind) {
  constexpr std::pair<Kind, Kind> pairs[] = {{Kind::length, Kind::angle},
                                             {Kind::force, Kind::moment},
                                             {Kind::lineForce, Kind::turnStiffness},
                                             {Kind::damping, Kind::turnDamping}};
  for (const auto& [straight, turning] : pairs)
    if (kind == straight) return turning;
  return kind;
}

/// Kinds that a parameter may be of; `asked` are those whose kind is being looked for.
std::optional<Kind> search(const Document& d, const std::string& name, std::set<std::string>& asked) {
  const Entry* own = d.parameters.find(name);
  if (!own || !asked.insert(name).second) return {};
  const auto adds = [](const Entry& e) {
    try {
      return addends(e.text.substr(1));
    } catch (const Error&) {  // said where it is entered
      return std::vector<std::string>{};
    }
  };
  double number;
  std::string unit;
  if (!own->number && !own->text.starts_with("=") && splitQuantity(own->text, number, unit) && !unit.empty())
    return kindOfUnit(unit);
  if (own->text.starts_with("="))
    for (const auto& used : adds(*own))
      if (const auto kind = search(d, used, asked)) return kind;
  std::set<Kind> kinds;
  eachEntry(d, [&](const Entry& e, const std::string& path, Kind kind) {
    if (!namesParameter(e.text, name)) return;
    const auto sum = adds(e);
    if (std::find(sum.begin(), sum.end(), name) == sum.end()) return;
    if (!path.starts_with("parameters/")) return void(kinds.insert(kind));
    if (const auto there = search(d, path.substr(path.find('/') + 1), asked)) kinds.insert(*there);
  });
  if (kinds.size() > 1) kinds.erase(Kind::number);  // a count that follows from a length
  return kinds.size() == 1 ? std::optional(*kinds.begin()) : std::nullopt;
}

}  // namespace

Kind kindOf(const Value& owner, const Field& f) {
  if (f.type->form == Form::course && owner.is<Load>()) return loadKind(owner.as<Load>());
  const bool acts = owner.is<Motion>() ? f.type->form == Form::course : f.key != "at";  // else it is a place
  return turns(owner) && acts ? turned(f.kind) : f.kind;
}

std::vector<Kind> columnsOf(const Value& owner, const Field& f) {
  if (f.type->form == Form::course) return {Kind::time, kindOf(owner, f)};
  auto columns = f.columns;
  if (turns(owner)) std::transform(columns.begin(), columns.end(), columns.begin(), turned);
  return columns;
}

std::string bareUnit(const Field& f, Kind kind, const FileUnits& units) {
  return f.inCoreUnits ? coreUnit(kind) : fileUnit(units, kind);
}

std::optional<Kind> kindOfParameter(const Document& document, const std::string& name) {
  std::set<std::string> asked;
  return search(document, name, asked);
}

}  // namespace anvil::model
