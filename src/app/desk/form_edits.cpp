// Writes what was typed at the desk into the document.
#include <QRegularExpression>
#include <algorithm>

#include "app/desk/form.hpp"
#include "app/desk/form_words.hpp"
#include "app/desk/slender_tables.hpp"
#include "app/desk/thing_value.hpp"
#include "app/typed.hpp"
#include "core/base/error.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/field_table.hpp"
#include "core/model/history.hpp"
#include "core/model/quantities.hpp"
#include "core/model/things.hpp"

namespace anvil::app {

using namespace model;

namespace {

void setNamed(const Value& v, const QString& text) {
  v.clear();
  for (const auto& line : text.split('\n', Qt::SkipEmptyParts)) {  // names may hold spaces: the last word is the value
    const auto words = line.trimmed();
    const auto cells = typedCells(words);
    if (cells.size() < 2) continue;
    const auto at = line.contains('\t') ? words.lastIndexOf('\t') : words.lastIndexOf(cells.back());
    const auto name = words.left(at).remove(QRegularExpression("[\\s,;]+$")).toStdString();
    const auto place = placeOf(v, name);
    const auto entry = place < v.size() ? v.at(place) : v.append();
    v.name(place) = name, entry.as<Entry>() = typed(cells.back());
  }
}

/// Sets a list from the text of its row. Lists of other things are not edited as a whole.
void setList(const Value& v, const QString& text) {
  const auto words = typedList(text);
  if (v.is<std::vector<std::string>>()) {
    auto& list = v.as<std::vector<std::string>>();
    list.clear();
    for (const auto& w : words) list.push_back(w.trimmed().toStdString());
  } else if (v.is<std::vector<Entry>>()) {
    auto& list = v.as<std::vector<Entry>>();
    list.clear();
    for (const auto& w : words) list.push_back(typed(w));
  } else if (v.is<std::vector<std::vector<Entry>>>()) {
    v.as<std::vector<std::vector<Entry>>>() = rowsOf(text);
  } else if (v.is<std::vector<std::vector<std::string>>>()) {
    auto& rows = v.as<std::vector<std::vector<std::string>>>();
    rows.clear();
    for (const auto& line : text.split('\n', Qt::SkipEmptyParts)) {
      auto& row = rows.emplace_back();
      for (const auto& w : typedList(line)) row.push_back(w.trimmed().toStdString());
    }
  } else if (v.is<std::vector<PathPiece>>()) {
    std::vector<PathPiece> list;
    for (const auto& line : text.split('\n', Qt::SkipEmptyParts)) list.push_back(pieceOf(line));
    v.as<std::vector<PathPiece>>() = list;
  } else if (v.is<std::vector<NearSize>>()) {
    std::vector<NearSize> list;
    for (const auto& row : rowsOf(text)) {
      if (row.size() != 5) throw Error("a place needs five values: x, y, z, within, size");
      list.push_back({{row[0], row[1], row[2]}, row[3], row[4]});
    }
    v.as<std::vector<NearSize>>() = list;
  }
}

void set(const Value& v, const QString& text) {
  switch (v.form()) {
    case Form::quantity:
      v.as<Entry>() = typed(text);
      break;
    case Form::text:
      v.as<std::string>() = text.trimmed().toStdString();
      break;
    case Form::whole: {
      bool ok;
      const int n = text.toInt(&ok);
      if (!ok) throw Error("'" + text.toStdString() + "' is not a whole number");
      v.as<int>() = n;
      break;
    }
    case Form::flag:
      v.as<bool>() = text == "true";
      break;
    case Form::direction: {
      const auto words = typedList(text);
      Direction d;
      if (words.size() > 1)
        for (const auto& w : words) d.vector.push_back(typed(w));
      else
        d.axis = text.trimmed().toStdString();
      v.as<Direction>() = d;
      break;
    }
    case Form::list:
      setList(v, text);
      break;
    case Form::named:
      if (v.is<Named<Entry>>()) setNamed(v, text);
      break;
    case Form::course: {
      auto& c = v.as<Course>();
      if (!c.stages.empty()) break;  // edited in the loading history
      if (text.contains('\n') || !c.table.empty())
        c.table = rowsOf(text), c.value = Entry();
      else
        c.value = typed(text);
      break;
    }
    case Form::optional:
    case Form::object:
      break;
  }
}

/// What a path of keys leads to, from `depth` on; what may be left out is gone into where it is there. Calls `act` with it.
template <class Act>
void follow(const Value& v, const QStringList& path, qsizetype depth, const Act& act) {
  if (depth == path.size()) return act(v);
  if (v.form() == Form::object) {
    if (const auto* f = v.type().find(path[depth].toStdString())) follow(v[*f], path, depth + 1, act);
  } else if (v.form() == Form::optional) {
    if (v.size()) follow(v.at(0), path, depth, act);
  } else if (v.form() == Form::named) {
    if (const auto i = placeOf(v, path[depth].toStdString()); i < v.size()) follow(v.at(i), path, depth + 1, act);
  } else if (v.form() == Form::list) {
    const auto index = size_t(path[depth].toInt());
    if (index >= 1 && index <= v.size()) follow(v.at(index - 1), path, depth + 1, act);
  }
}

}  // namespace

void setPresent(Document& d, const QString& kind, const QString& name, const QStringList& path, bool present) {
  withThing(d, kind, name, [&](const Value& thing) {
    follow(thing, path, 0, [&](const Value& v) {
      if (v.form() != Form::optional) return;
      if (present)
        v.append();
      else
        v.clear();
    });
  });
}

void assignThing(Document& d, const QString& kind, const QString& name, const QStringList& path, const QString& text) {
  if (kind == "parts" && path.size() == 2 && path.front() == "slender") {
    withThing(d, kind, name, [&](const Value& thing) {
      follow(thing, path, 0, [&](const Value& v) {
        for (const auto& [from, to] : setSlender(v, text))
          followSlender(d, name.toStdString(), path.back().toStdString(), from, to);
      });
    });
    return;
  }
  const auto assign = [&](const Value& v) { set(v, text); };
  if (kind != "model") return withThing(d, kind, name, [&](const Value& thing) { follow(thing, path, 0, assign); });
  if (path.front() == "parameters") {
    if (auto* e = d.parameters.find(path.value(1).toStdString())) *e = typed(text);
    return;
  }
  follow(root(d), path, 0, assign);
}

void removeThing(Document& d, const QString& kind, const QString& name) {
  model::remove(d, kind.toStdString(), name.toStdString());
}

void addParameter(Document& d, const QString& name, const QString& value) {
  d.parameters(name.toStdString()) = typed(value);
  const model::Quantities whole(d);  // says what is not understood
}

QString copyThing(Document& d, const QString& kind, const QString& name) {
  return QString::fromStdString(model::copy(d, kind.toStdString(), name.toStdString()));
}

void renameThing(Document& d, const QString& kind, const QString& from, const QString& to) {
  model::rename(d, kind.toStdString(), from.toStdString(), to.trimmed().toStdString());
}

}  // namespace anvil::app
