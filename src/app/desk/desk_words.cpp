#include "app/desk/desk_words.hpp"

#include <QRegularExpression>
#include <functional>
#include <set>

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

}  // namespace

QString inDeskWords(const QString& sentence, const QString& kind) {
  const auto label = [&](const QString& key) {
    const auto& whole = model::documentType();
    for (const auto* type : {whole.find(kind.toStdString()) ? whole.find(kind.toStdString())->type : &whole, &whole}) {
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
