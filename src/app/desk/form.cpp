#include "app/desk/form.hpp"

#include <algorithm>
#include <map>

#include "app/desk/arrangement.hpp"
#include "app/desk/form_words.hpp"
#include "app/desk/slender_tables.hpp"
#include "app/desk/thing_value.hpp"
#include "app/typed.hpp"
#include "core/base/error.hpp"
#include "core/model/actions.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/entry_kinds.hpp"
#include "core/model/features.hpp"
#include "core/model/field_table.hpp"
#include "core/model/history.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/shapes.hpp"
#include "core/model/slender.hpp"
#include "core/model/things.hpp"
#include "core/model/timed_course.hpp"

namespace anvil::app {

using namespace model;

namespace {

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

/// At its default, as far as it can be told.
bool unused(const Value& owner, const Field& f) {
  const auto v = owner[f];
  switch (v.form()) {
    case Form::optional:
    case Form::list:
    case Form::named:
      return v.size() == 0;
    case Form::course:
      return !v.as<Course>().given();
    case Form::object:
      for (const auto& own : v.type().fields)
        if (!unused(v, own)) return false;
      return true;
    case Form::flag:
    case Form::whole:
    case Form::text:
    case Form::quantity:
    case Form::direction:
      return v == owner.fresh()[f];
  }
  return false;
}

/// Lists rows while walking the fields of an object, as the desk arranges them.
class Describer {
 public:
  Describer(std::vector<FormSection>& sections, const Document& document, std::vector<FormRow>* absent)
      : sections_(sections), document_(document), absent_(absent) {}

  /// Entries before all headings, then what has entries of its own, then the headings.
  void object(const Value& value, const QStringList& path) {
    std::vector<std::pair<const Field*, Arranged>> fields;
    QStringList headings;
    const auto& arranged = arrangementOf(value.type());
    for (const auto& a : arranged)
      if (const auto* f = value.type().find(a.key)) fields.emplace_back(f, a);
    for (const auto& f : value.type().fields)
      if (std::none_of(arranged.begin(), arranged.end(), [&](const Arranged& a) { return f.key == a.key; }))
        fields.emplace_back(&f, Arranged{f.key.c_str(), nullptr, arranged.empty() || holdsOthers(*f.type) ? "" : "More"});
    for (const auto& [f, a] : fields)
      if (!headings.contains(a.heading)) headings << a.heading;
    for (const bool others : {false, true})
      for (const auto& [f, a] : fields)
        if (!*a.heading && holdsOthers(*f->type) == others) field(value, *f, path, a);
    for (const auto& heading : headings) {
      if (heading.isEmpty()) continue;
      FormSection section{heading, {}, {}};
      section.folded = true;
      for (const auto& [f, a] : fields) section.folded = section.folded && (heading != a.heading || unused(value, *f));
      section.folded |= heading == outlineAsText && document_.space != "solid";
      section.foldable = true, section.at = path.join('/');
      sections_.push_back(section);
      for (const auto& [f, a] : fields)
        if (heading == a.heading) field(value, *f, path, a);
      sections_.push_back({"", {}, {}});
    }
  }
  void field(const Value& owner, const Field& f, const QStringList& path, const Arranged& arranged) {
    if (f.programsOwn || (!f.lead.empty() && isIdle(owner, f))) return;
    if (arranged.applies && !arranged.applies({document_, owner}) && unused(owner, f)) return;
    FormRow row;
    row.path = path, row.path << QString::fromStdString(f.key);
    row.label = arranged.label ? QString(arranged.label) : QString::fromStdString(f.key);
    row.label[0] = row.label[0].toUpper(), row.help = QString::fromStdString(f.help);
    row.kind = kindOf(owner, f), row.unit = QString::fromStdString(bareUnit(f, row.kind, document_.units));
    for (const Kind column : columnsOf(owner, f))
      row.columns.push_back({column, QString::fromStdString(bareUnit(f, column, document_.units))});
    if (!f.choices.empty()) row.editor = FormRow::Editor::choice;
    for (const auto& w : f.choices) row.choices << QString::fromStdString(w);
    choose(row, owner, f, arranged);
    unused_ = unused(owner, f);
    fill(std::move(row), owner[f], f.oneOf);
  }

 private:
  static bool holdsOthers(const Type& t) {
    if (t.form == Form::object) return true;
    return t.item && (t.form == Form::optional || t.form == Form::list || t.form == Form::named) && holdsOthers(*t.item) &&
           t.item->cpp != typeid(PathPiece) && t.item->cpp != typeid(NearSize);
  }
  /// Objects that most models leave as they are; others stay open.
  static bool folds(const Value& v) { return v.is<ContactStart>() || v.is<Until>() || v.is<FileUnits>() || v.is<Storage>(); }
  /// What is chosen among what the document has.
  void choose(FormRow& row, const Value& owner, const Field& f, const Arranged& arranged) const {
    using Editor = FormRow::Editor;
    auto choosing = arranged.choosing;
    const bool list = owner[f].is<std::vector<std::string>>(), text = owner[f].is<std::string>();
    if (choosing == Choosing::asTyped && list && f.refers == Refers::places) choosing = Choosing::places;
    if (choosing == Choosing::asTyped && list && f.refers == Refers::parts) choosing = Choosing::parts;
    if (choosing == Choosing::asTyped && list && f.refers == Refers::steps) choosing = Choosing::steps;
    if (choosing != Choosing::asTyped) {
      row.choices = choicesFor(choosing, document_);
      row.editor = choosing == Choosing::places                                    ? Editor::places
                   : choosing >= Choosing::direction && choosing <= Choosing::axis ? Editor::openChoice
                                                                                   : Editor::toggles;
      return;
    }
    if (!text) return;
    const char* const refers = f.refers == Refers::materials ? "materials"
                               : f.refers == Refers::parts   ? "parts"
                               : f.refers == Refers::watch   ? "watch"
                               : f.refers == Refers::steps   ? "steps"
                                                             : nullptr;
    if (!refers) return;
    row.editor = Editor::choice, row.newKind = f.refers == Refers::materials ? "materials" : "";
    if (f.refers == Refers::steps || owner[f].as<std::string>().empty()) row.choices << QString();
    for (const auto& own : namesOf(document_, refers)) row.choices << QString::fromStdString(own);
    const auto now = QString::fromStdString(owner[f].as<std::string>());
    if (!row.choices.contains(now)) row.choices << now;  // of a thing that is gone: readiness tells
  }
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
    if (row.editor == FormRow::Editor::line && row.choices.isEmpty()) row.editor = editor;
    sections_.back().rows.push_back(row);
  }
  void fill(FormRow row, const Value& v, bool alternative) {
    using Editor = FormRow::Editor;
    switch (v.form()) {
      case Form::quantity:
        row.quantities = 1;
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
        return course(std::move(row), v.as<Course>());
      case Form::optional:
        return optional(row, v, alternative);
      case Form::list:
        return list(row, v);
      case Form::named:
        return named(row, v);
      case Form::object:
        sections_.push_back({row.label, {}, {}});
        sections_.back().foldable = true,
        sections_.back().folded = unused_ && (folds(v) || (v.is<Division>() && row.path.size() > 1));
        sections_.back().at = row.path.join('/');
        object(v, row.path);
        sections_.push_back({"", {}, {}});
    }
  }
  /// One value, or a table over time; what differs from step to step is edited in the loading history.
  void course(FormRow row, const Course& c) {
    if (!c.stages.empty()) return;
    if (c.table.empty()) {
      row.quantities = 1;
      return push(row, shown(c.value), FormRow::Editor::line);
    }
    QStringList lines;
    for (const auto& r : c.table) lines << listOf(r).join("\t");
    row.help += " A row each: time, value.";
    push(row, lines.join("\n"), FormRow::Editor::table);
  }
  void optional(const FormRow& row, const Value& v, bool alternative) {
    if (!v.size()) {
      if (absent_ && !alternative) absent_->push_back(row);
      return;
    }
    const size_t first = sections_.size();
    unused_ = false;
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
    row.columns.assign(v.is<Named<Point>>() ? 4 : v.is<Named<Entry>>() ? 2 : 0, {row.kind, row.unit});
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
    if (v.is<std::vector<Entry>>()) {
      row.quantities = 2;
      return push(row, shownList(listOf(v.as<std::vector<Entry>>())), FormRow::Editor::line);
    }
    if (v.is<std::vector<std::vector<std::string>>>()) {
      for (const auto& names : v.as<std::vector<std::vector<std::string>>>()) {
        QStringList words;
        for (const auto& w : names) words << QString::fromStdString(w);
        lines << shownList(words);
      }
      row.help += " A row each.";
      return push(row, lines.join("\n"), FormRow::Editor::table);
    }
    if (v.is<std::vector<std::vector<Entry>>>()) {
      for (const auto& r : v.as<std::vector<std::vector<Entry>>>()) lines << listOf(r).join("\t");
      if (row.columns.empty() && row.kind != Kind::number) row.columns = {{row.kind, row.unit}};  // each of them
    } else if (v.is<std::vector<PathPiece>>()) {
      for (const auto& piece : v.as<std::vector<PathPiece>>()) lines << pieceWords(piece);
      row.help = "A row each: line x, y or arc x, y, cx, cy, left; then fillet=, name= or count= where wanted.";
    } else if (v.is<std::vector<NearSize>>()) {
      for (const auto& n : v.as<std::vector<NearSize>>())
        lines << (n.at.empty() ? "" : listOf(n.at).join("\t") + "\t") + shown(n.within) + "\t" + shown(n.size);
      row.help += " A row each: x, y, z, within, size.";
      row.columns.assign(5, {Kind::length, QString::fromStdString(fileUnit(document_.units, Kind::length))});
    } else {
      for (size_t i = 0; i < v.size(); ++i) {
        FormRow sub = row;
        sub.path << QString::number(i + 1);
        sub.label = title(v.at(i), i + 1, v.size());
        unused_ = false;
        fill(sub, v.at(i), false);
      }
      return;
    }
    push(row, lines.join("\n"), FormRow::Editor::table);
  }
  std::vector<FormSection>& sections_;
  const Document& document_;
  bool unused_ = false;           ///< the field that is being filled in
  std::vector<FormRow>* absent_;  ///< gathers what is left out
};

}  // namespace

namespace {

/// What the model's own entries are called at the desk.
Arranged labelled(const std::string& key) {
  static const std::map<std::string, const char*> words{{"space", "Kind of model"},
                                                        {"geometry", "Displacements are"},
                                                        {"results", "What is stored"},
                                                        {"solver", "Iterations"},
                                                        {"units", "Units of bare numbers"}};
  const auto it = words.find(key);
  return {key.c_str(), it == words.end() ? nullptr : it->second};
}

}  // namespace

std::vector<FormSection> describeThing(const Document& document, const QString& kind, const QString& name) {
  std::vector<FormSection> sections{{"", {}, {}}};
  Describer describer(sections, document, nullptr);
  withThing(document, kind, name, [&](const Value& thing) { describer.object(thing, {}); });
  if (kind == "model") {
    const auto whole = root(document);
    for (const char* key : {"title", "space", "thickness", "fineness", "geometry", "note"})
      if (std::string(key) != "thickness" || document.space.starts_with("plane"))
        describer.field(whole, *whole.type().find(key), {}, labelled(key));
    sections.push_back({"Parameters", {}, {}});
    for (auto& [n, e] : document.parameters) {
      FormRow row;
      row.path = {"parameters", QString::fromStdString(n)}, row.label = QString::fromStdString(n), row.text = shown(e);
      sections.back().rows.push_back(row);
    }
    for (const char* key : {"results", "solver", "units"}) describer.field(whole, *whole.type().find(key), {}, labelled(key));
  }
  std::erase_if(sections, [](const FormSection& s) { return s.rows.empty() && s.title != "Parameters"; });
  return sections;
}

std::vector<FormRow> absentIn(const Document& document, const QString& kind, const QString& name) {
  std::vector<FormSection> sections{{"", {}, {}}};
  std::vector<FormRow> absent;
  Describer describer(sections, document, &absent);
  withThing(document, kind, name, [&](const Value& thing) { describer.object(thing, {}); });
  return absent;
}

}  // namespace anvil::app
