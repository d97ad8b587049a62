#include "app/desk/desk_words.hpp"

#include <QRegularExpression>
#include <functional>
#include <set>
#include <vector>

#include "app/desk/arrangement.hpp"

namespace anvil::app {
namespace {

/// Label of a key, nearest to the top of a type.
QString labelOf(const std::string& key, const model::Type& type, std::set<const model::Type*>& seen) {
  if (!seen.insert(&type).second) return {};
  for (const auto& a : arrangementOf(type))
    if (key == a.key && a.label) return a.label;
  for (const auto& f : type.fields)
    if (const auto label = labelOf(key, *f.type, seen); !label.isEmpty()) return label;
  return type.item ? labelOf(key, *type.item, seen) : QString();
}

/// Types along a place ("materials/steel/plastic"), the innermost first.
std::vector<const model::Type*> typesAlong(const QString& place) {
  std::vector<const model::Type*> types{&model::documentType()};
  for (const auto& key : place.split('/')) {
    const auto* type = types.front();
    if (const auto* f = type->find(key.toStdString())) type = f->type;
    while (type->form == model::Form::optional || type->form == model::Form::list || type->form == model::Form::named)
      type = type->item;  // names and numbers of items say nothing more
    if (type->form == model::Form::object && type != types.front()) types.insert(types.begin(), type);
  }
  return types;
}

}  // namespace

QString inDeskWords(const QString& sentence, const QString& place) {
  const auto label = [&](const QString& key) {
    for (const auto* type : typesAlong(place)) {
      std::set<const model::Type*> seen;
      if (const auto words = labelOf(key.toStdString(), *type, seen); !words.isEmpty()) return words;
    }
    return key;
  };
  static const QRegularExpression nested(R"re("([^"]+)": \{"([^"]+)": [^}]*\})re"), keyed(R"re("([^"]+)": )re"),
      quoted(R"re("([a-z][^"]*)")re");
  QString text = sentence;
  for (auto m = nested.match(text); m.hasMatch(); m = nested.match(text))
    text.replace(m.capturedStart(), m.capturedLength(), "‘" + label(m.captured(2)) + "’");
  for (auto m = keyed.match(text); m.hasMatch(); m = keyed.match(text))
    text.replace(m.capturedStart(), m.capturedLength(), "‘" + label(m.captured(1)) + "’ ");
  for (auto m = quoted.match(text); m.hasMatch(); m = quoted.match(text))
    text.replace(m.capturedStart(), m.capturedLength(), "‘" + label(m.captured(1)) + "’");
  return text;
}

}  // namespace anvil::app
