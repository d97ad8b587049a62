#include "app/desk/form.hpp"

#include <QRegularExpression>
#include <algorithm>

#include "app/desk/slender_tables.hpp"
#include "app/typed.hpp"
#include "core/base/error.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/field_table.hpp"
#include "core/model/history.hpp"
#include "core/model/quantities.hpp"
#include "core/model/shapes.hpp"
#include "core/model/slender.hpp"
#include "core/model/things.hpp"

namespace anvil::app {
namespace {

using namespace model;

QString pieceWords(const PathPiece& p) {
  QStringList numbers, words;
  for (const auto& e : p.arc.empty() ? p.line : p.arc) numbers << shown(e);
  for (const auto& e : p.arc.empty() ? model::Point{} : p.center) numbers << shown(e);
  words << (p.arc.empty() ? "line " : "arc ") + shownList(numbers);
  if (!p.arc.empty()) words.back() += ", " + QString::fromStdString(p.turn);
  if (p.fillet.given()) words << "fillet=" + shown(p.fillet);
  if (p.count.given()) words << "count=" + shown(p.count);
  if (!p.name.empty()) words << "name=" + QString::fromStdString(p.name);  // last: it may hold spaces
  return words.join("  ");
}

PathPiece pieceOf(const QString& line) {
  PathPiece p;
  const auto fault = [&] {
    return Error("'" + line.trimmed().toStdString() + "' is no piece of a path", {},
                 "Write line x, y or arc x, y, cx, cy, left (x, y, z in space); then fillet=2, count=4 or name=side.");
  };
  QString rest = line.trimmed();
  const auto option = [&](const QString& key, const QString& until) {
    const QRegularExpression wanted("\\b" + key + "=(" + until + ")");
    const auto m = wanted.match(rest);
    if (m.hasMatch()) rest.remove(m.capturedStart(), m.capturedLength());
    return m.captured(1).trimmed();
  };
  p.name = option("name", ".*$").toStdString();
  for (const auto& [key, value] : {std::pair{"fillet", &p.fillet}, {"count", &p.count}})
    if (const auto words = option(key, ".+?(?=\\s{2,}|\\s+(?:fillet|count)=|$)"); !words.isEmpty()) *value = typed(words);
  const bool arc = rest.startsWith("arc");
  if (!arc && !rest.startsWith("line")) throw fault();
  auto words = typedList(rest.mid(arc ? 3 : 4).trimmed());
  if (arc && (words.size() == 5 || words.size() == 7)) p.turn = words.takeLast().trimmed().toStdString();
  const qsizetype dim = words.size() / (arc ? 2 : 1);  // a path in space has three coordinates
  if (words.size() != dim * (arc ? 2 : 1) || (dim != 2 && dim != 3) || (p.turn != "left" && p.turn != "right")) throw fault();
  std::vector<Entry> numbers;
  for (const auto& w : words) numbers.push_back(typed(w));
  (arc ? p.arc : p.line).assign(numbers.begin(), numbers.begin() + dim);
  if (arc) p.center.assign(numbers.begin() + dim, numbers.end());
  return p;
}

QStringList listOf(const std::vector<Entry>& entries) {
  QStringList list;
  for (const auto& e : entries) list << shown(e);
  return list;
}

/// The name of what stands for others of its kind (a feature, a shape): the first that is there.
QString kindOf(const Value& thing) {
  for (const auto& f : thing.type().fields)
    if (f.oneOf && thing[f].size()) return QString::fromStdString(f.key);
  return "nothing yet";
}

QString title(const Value& thing, size_t number, size_t of) {
  if (!thing.is<Feature>()) return of > 1 ? QString("Shape %1").arg(number) : "Shape";
  const auto& f = thing.as<Feature>();
  const auto kind = kindOf(thing);
  return QString("%1  %2%3")
      .arg(number)
      .arg(f.name.empty() || QString::fromStdString(f.name) == kind ? kind : QString::fromStdString(f.name) + ", " + kind,
           f.how == "add" ? "" : QString::fromStdString(", " + f.how));
}

/// Lists rows while walking the fields of an object.
class Describer {
 public:
  Describer(std::vector<FormSection>& sections, const FileUnits& units, std::vector<FormRow>* absent)
      : sections_(sections), units_(units), absent_(absent) {}

  void object(const Value& value, const QStringList& path) {
    for (const auto& f : value.type().fields) field(value, f, path);
  }
  void field(const Value& owner, const Field& f, const QStringList& path) {
    if (f.programsOwn || (!f.lead.empty() && isIdle(owner, f))) return;
    FormRow row;
    row.path = path, row.path << QString::fromStdString(f.key);
    row.label = QString::fromStdString(f.key), row.label[0] = row.label[0].toUpper(), row.help = QString::fromStdString(f.help);
    row.unit = QString::fromStdString(fileUnit(units_, f.kind));
    if (!f.choices.empty()) row.editor = FormRow::Editor::choice;
    for (const auto& w : f.choices) row.choices << QString::fromStdString(w);
    fill(std::move(row), owner[f], f.oneOf);
  }

 private:
  /// Neither of use here nor given.
  static bool isIdle(const Value& owner, const Field& f) {
    const auto* lead = owner.type().find(f.lead);
    if (!lead) return false;
    const auto at = owner[*lead];
    if ((at.form() == Form::flag ? std::string(at.as<bool>() ? "true" : "false") : at.as<std::string>()) == f.when) return false;
    const auto v = owner[f];
    if (v.form() == Form::direction) return !v.as<Direction>().given();
    return v.form() == Form::list && v.size() == 0;
  }
  void push(FormRow row, const QString& text, FormRow::Editor editor) {
    row.text = text;
    if (row.choices.isEmpty()) row.editor = editor;
    sections_.back().rows.push_back(row);
  }
  void fill(FormRow row, const Value& v, bool alternative) {
    using Editor = FormRow::Editor;
    switch (v.form()) {
      case Form::quantity:
        return push(row, shown(v.as<Entry>()), Editor::line);
      case Form::text:
        return push(row, QString::fromStdString(v.as<std::string>()), Editor::line);
      case Form::whole:
        return push(row, QString::number(v.as<int>()), Editor::line);
      case Form::flag:
        return push(row, v.as<bool>() ? "true" : "false", Editor::check);
      case Form::direction: {
        const auto& d = v.as<Direction>();
        return push(row, d.vector.empty() ? QString::fromStdString(d.axis) : shownList(listOf(d.vector)), Editor::line);
      }
      case Form::course:
        return;  // edited in the loading history
      case Form::optional:
        return optional(row, v, alternative);
      case Form::list:
        return list(row, v);
      case Form::named:
        return named(row, v);
      case Form::object:
        sections_.push_back({row.label, {}, {}});
        object(v, row.path);
        sections_.push_back({"", {}, {}});
    }
  }
  void optional(const FormRow& row, const Value& v, bool alternative) {
    if (!v.size()) {
      if (absent_ && !alternative) absent_->push_back(row);
      return;
    }
    const size_t first = sections_.size();
    fill(row, v.at(0), false);
    if (!alternative && sections_.size() > first) sections_[first].removable = row.path;
  }
  /// A table of what is named; objects follow with all they have, each in a section of its own.
  void named(FormRow row, const Value& v) {
    QStringList lines;
    if (v.is<Named<Entry>>())
      for (size_t i = 0; i < v.size(); ++i) lines << QString::fromStdString(v.name(i)) + "\t" + shown(v.at(i).as<Entry>());
    else
      lines = slenderRows(v), row.help += slenderHint(v);
    push(row, lines.join("\n"), FormRow::Editor::table);
    if (v.type().item->form != Form::object) return;
    for (size_t i = 0; i < v.size(); ++i) {
      const auto name = QString::fromStdString(v.name(i));
      sections_.push_back({(v.is<Named<SlenderLine>>() ? "Line " : "Section ") + name, {}, {}});
      object(v.at(i), row.path + QStringList{name});
    }
    sections_.push_back({"", {}, {}});
  }
  void list(FormRow row, const Value& v) {
    QStringList lines;
    if (v.is<std::vector<std::string>>()) {
      for (const auto& w : v.as<std::vector<std::string>>()) lines << QString::fromStdString(w);
      return push(row, shownList(lines), FormRow::Editor::line);
    }
    if (v.is<std::vector<Entry>>()) return push(row, shownList(listOf(v.as<std::vector<Entry>>())), FormRow::Editor::line);
    if (v.is<std::vector<std::vector<std::string>>>()) return;
    if (v.is<std::vector<std::vector<Entry>>>()) {
      for (const auto& r : v.as<std::vector<std::vector<Entry>>>()) lines << listOf(r).join("\t");
    } else if (v.is<std::vector<PathPiece>>()) {
      for (const auto& piece : v.as<std::vector<PathPiece>>()) lines << pieceWords(piece);
      row.help = "A row each: line x, y or arc x, y, cx, cy, left; then fillet=, name= or count= where wanted.";
    } else if (v.is<std::vector<NearSize>>()) {
      for (const auto& n : v.as<std::vector<NearSize>>())
        lines << (n.at.empty() ? "" : listOf(n.at).join("\t") + "\t") + shown(n.within) + "\t" + shown(n.size);
      row.help += " A row each: x, y, z, within, size.";
    } else {
      for (size_t i = 0; i < v.size(); ++i) {
        FormRow sub = row;
        sub.path << QString::number(i + 1);
        sub.label = title(v.at(i), i + 1, v.size());
        fill(sub, v.at(i), false);
      }
      return;
    }
    push(row, lines.join("\n"), FormRow::Editor::table);
  }
  std::vector<FormSection>& sections_;
  const FileUnits& units_;
  std::vector<FormRow>* absent_;  ///< gathers what is left out
};

std::vector<std::vector<Entry>> rowsOf(const QString& text) {
  std::vector<std::vector<Entry>> rows;
  for (const auto& line : text.split('\n', Qt::SkipEmptyParts)) {
    auto& row = rows.emplace_back();
    for (const auto& w : typedCells(line)) row.push_back(typed(w));
  }
  return rows;
}

void setNamed(const Value& v, const QString& text) {
  v.clear();
  for (const auto& line : text.split('\n', Qt::SkipEmptyParts)) {  // names may hold spaces: the last word is the value
    const auto words = line.trimmed();
    const auto cells = typedCells(words);
    if (cells.size() < 2) continue;
    const auto at = words.lastIndexOf(cells.back());
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
    case Form::course:
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

/// Calls `act` with the thing of that name, if there is one.
template <class Act>
void withThing(const Document& document, const QString& kind, const QString& name, const Act& act) {
  const auto kinds = kindsOfThings();
  if (std::find(kinds.begin(), kinds.end(), kind.toStdString()) == kinds.end()) return;
  const auto list = things(document, kind.toStdString());
  if (const auto i = placeOf(list, name.toStdString()); i < list.size()) act(list.at(i));
}

}  // namespace

std::vector<FormSection> describeThing(const Document& document, const QString& kind, const QString& name) {
  std::vector<FormSection> sections{{"", {}, {}}};
  Describer describer(sections, document.units, nullptr);
  withThing(document, kind, name, [&](const Value& thing) { describer.object(thing, {}); });
  if (kind == "model") {
    const auto whole = root(document);
    for (const auto& f : whole.type().fields) {
      const bool shown = f.key == "title" || f.key == "note" || f.key == "space" || f.key == "geometry" || f.key == "fineness" ||
                         (f.key == "thickness" && document.space.starts_with("plane"));
      if (shown) describer.field(whole, f, {});
    }
    sections.push_back({"Parameters", {}, {}});
    for (auto& [n, e] : document.parameters) {
      FormRow row;
      row.path = {"parameters", QString::fromStdString(n)}, row.label = QString::fromStdString(n), row.text = shown(e);
      sections.back().rows.push_back(row);
    }
    sections.push_back({"Iterations", {}, {}});
    describer.object(whole[*whole.type().find("solver")], {"solver"});
  }
  std::erase_if(sections, [](const FormSection& s) { return s.rows.empty() && s.title != "Parameters"; });
  return sections;
}

std::vector<FormRow> absentIn(const Document& document, const QString& kind, const QString& name) {
  std::vector<FormSection> sections{{"", {}, {}}};
  std::vector<FormRow> absent;
  Describer describer(sections, document.units, &absent);
  withThing(document, kind, name, [&](const Value& thing) { describer.object(thing, {}); });
  return absent;
}

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
