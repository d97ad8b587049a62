#include "core/model/parameter_uses.hpp"

#include <cctype>
#include <functional>

#include "core/model/document.hpp"
#include "core/model/field_table.hpp"
#include "core/model/history.hpp"

namespace anvil::model {
namespace {

using Visit = std::function<void(const Entry&, const std::string&)>;

void eachEntry(const Value& v, const std::string& path, const Visit& visit) {
  const auto below = [&](const std::string& key) { return path.empty() ? key : path + "/" + key; };
  switch (v.form()) {
    case Form::object:
      for (const auto& f : v.type().fields) eachEntry(v[f], below(f.key), visit);
      break;
    case Form::optional:
      if (v.size()) eachEntry(v.at(0), path, visit);
      break;
    case Form::list:
      for (size_t i = 0; i < v.size(); ++i)
        eachEntry(v.at(i), v.type().item->form == Form::quantity ? path : below(std::to_string(i + 1)), visit);
      break;
    case Form::named:
      for (size_t i = 0; i < v.size(); ++i) eachEntry(v.at(i), below(v.name(i)), visit);
      break;
    case Form::course: {
      const auto& course = v.as<Course>();
      visit(course.value, path);
      for (const auto& [step, stage] : course.stages) visit(stage.value, below(step));
      for (const auto& row : course.table)
        for (const auto& e : row) visit(e, path);
      break;
    }
    case Form::direction:
      for (const auto& e : v.as<Direction>().vector) visit(e, path);
      break;
    case Form::quantity:
      visit(v.as<Entry>(), path);
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

std::vector<std::string> usesOf(const Document& d, const std::string& parameter) {
  std::vector<std::string> places;
  eachEntry(root(const_cast<Document&>(d)), {}, [&](const Entry& e, const std::string& path) {
    if (namesParameter(e.text, parameter) && (places.empty() || places.back() != path)) places.push_back(path);
  });
  return places;
}

}  // namespace anvil::model
