#include "core/model/parameter_uses.hpp"

#include <cctype>

#include "core/model/document.hpp"
#include "core/model/entry_kinds.hpp"
#include "core/model/field_table.hpp"
#include "core/model/history.hpp"

namespace anvil::model {
namespace {

/// What the entries below a value measure.
struct Kinds {
  Kind all = Kind::number;
  std::vector<Kind> columns = {};
  Kind at(size_t column) const { return column < columns.size() ? columns[column] : all; }
};

void eachBelow(const Value& v, const std::string& path, const Kinds& kinds, const VisitEntry& visit) {
  const auto below = [&](const std::string& key) { return path.empty() ? key : path + "/" + key; };
  switch (v.form()) {
    case Form::object:
      for (const auto& f : v.type().fields) eachBelow(v[f], below(f.key), {kindOf(v, f), columnsOf(v, f)}, visit);
      break;
    case Form::optional:
      if (v.size()) eachBelow(v.at(0), path, kinds, visit);
      break;
    case Form::list:
      for (size_t i = 0; i < v.size(); ++i)
        if (v.type().item->form == Form::quantity)
          visit(v.at(i).as<Entry>(), path, kinds.at(i));
        else
          eachBelow(v.at(i), below(std::to_string(i + 1)), kinds, visit);
      break;
    case Form::named:
      for (size_t i = 0; i < v.size(); ++i) eachBelow(v.at(i), below(v.name(i)), kinds, visit);
      break;
    case Form::course: {
      const auto& course = v.as<Course>();
      visit(course.value, path, kinds.all);
      for (const auto& [step, stage] : course.stages) visit(stage.value, below(step), kinds.all);
      for (const auto& row : course.table)
        for (size_t i = 0; i < row.size(); ++i) visit(row[i], path, kinds.at(i));
      break;
    }
    case Form::direction:
      for (const auto& e : v.as<Direction>().vector) visit(e, path, Kind::number);
      break;
    case Form::quantity:
      visit(v.as<Entry>(), path, kinds.all);
      break;
    case Form::text:
    case Form::flag:
    case Form::whole:
      break;
  }
}

bool isOfWord(char c) { return std::isalnum(static_cast<unsigned char>(c)) || c == '_'; }

}  // namespace

bool namesParameter(const std::string& formula, const std::string& name) {
  if (!formula.starts_with("=") || name.empty()) return false;
  for (size_t at = formula.find(name); at != std::string::npos; at = formula.find(name, at + 1))
    if (!isOfWord(formula[at - 1]) && (at + name.size() == formula.size() || !isOfWord(formula[at + name.size()]))) return true;
  return false;
}

void eachEntry(const Document& d, const VisitEntry& visit) { eachBelow(root(d), {}, {}, visit); }

std::vector<std::string> usesOf(const Document& d, const std::string& parameter) {
  std::vector<std::string> places;
  eachEntry(d, [&](const Entry& e, const std::string& path, Kind) {
    if (namesParameter(e.text, parameter) && (places.empty() || places.back() != path)) places.push_back(path);
  });
  return places;
}

}  // namespace anvil::model
