#include "app/desk/form.hpp"

#include <QRegularExpression>
#include <algorithm>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/mesh/meeting.hpp"
#include "core/model/document.hpp"
#include "core/model/fields.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {
namespace {

using namespace model;

QString show(const Entry& e) { return e.number ? QString::number(*e.number, 'g', 10) : QString::fromStdString(e.text); }
Entry entryOf(const QString& text) {
  bool ok;
  const double v = text.toDouble(&ok);
  return ok ? Entry(v) : Entry(text.trimmed().toStdString());
}
QStringList parts(const QString& text) { return text.split(QRegularExpression("\\s*[,;]\\s*"), Qt::SkipEmptyParts); }

/// Calls f with the list that a kind names.
template <class D, class F>
void withList(D& d, const QString& kind, const F& f) {
  if (kind == "materials")
    f(d.materials);
  else if (kind == "parts")
    f(d.parts);
  else if (kind == "contacts")
    f(d.contacts);
  else if (kind == "steps")
    f(d.steps);
  else if (kind == "supports")
    f(d.supports);
  else if (kind == "motions")
    f(d.motions);
  else if (kind == "loads")
    f(d.loads);
  else if (kind == "temperatures")
    f(d.temperatures);
  else if (kind == "carriers")
    f(d.carriers);
  else if (kind == "springs")
    f(d.springs);
  else if (kind == "bolts")
    f(d.bolts);
  else if (kind == "regions")
    f(d.regions);
  else if (kind == "stabilisations")
    f(d.stabilisations);
}

QString pieceWords(const PathPiece& p) {
  QStringList numbers, words;
  for (const auto& e : p.arc.empty() ? p.line : p.arc) numbers << show(e);
  for (const auto& e : p.arc.empty() ? model::Point{} : p.center) numbers << show(e);
  words << (p.arc.empty() ? "line " : "arc ") + numbers.join(", ");
  if (!p.arc.empty()) words.back() += ", " + QString::fromStdString(p.turn);
  if (p.fillet.given()) words << "fillet=" + show(p.fillet);
  if (p.count.given()) words << "count=" + show(p.count);
  if (!p.name.empty()) words << "name=" + QString::fromStdString(p.name);  // last: it may hold spaces
  return words.join("  ");
}

PathPiece pieceOf(const QString& line) {
  PathPiece p;
  const auto fault = [&] {
    return Error("'" + line.trimmed().toStdString() + "' is no piece of a path", {},
                 "Write line x, y or arc x, y, cx, cy, left; then fillet=2, count=4 or name=side.");
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
    if (const auto words = option(key, ".+?(?=\\s{2,}|\\s+(?:fillet|count)=|$)"); !words.isEmpty()) *value = entryOf(words);
  const bool arc = rest.startsWith("arc");
  if (!arc && !rest.startsWith("line")) throw fault();
  auto words = parts(rest.mid(arc ? 3 : 4).trimmed());
  if (arc && words.size() == 5) p.turn = words.takeLast().trimmed().toStdString();
  if (words.size() != (arc ? 4 : 2) || (p.turn != "left" && p.turn != "right")) throw fault();
  std::vector<Entry> numbers;
  for (const auto& w : words) numbers.push_back(entryOf(w));
  (arc ? p.arc : p.line) = {numbers[0], numbers[1]};
  if (arc) p.center = {numbers[2], numbers[3]};
  return p;
}

/// Lists rows while walking the fields of an object.
struct Describer {
  std::vector<FormSection>& sections;
  QStringList path;
  std::vector<FormRow>* absent = nullptr;  ///< gathers what is left out

  template <class T, class... Rest>
  void operator()(const char* key, T& value, const char* help, const Rest&... rest) {
    FormRow row;
    row.path = path, row.path << key;
    row.label = QString(key), row.label[0] = row.label[0].toUpper(), row.help = help;
    (note(row, rest), ...);
    fill(row, value);
  }
  static void note(FormRow& row, const Choice& c) {
    row.editor = FormRow::Editor::choice;
    for (const auto& w : c.words) row.choices << QString::fromStdString(w);
  }
  static void note(FormRow& row, Kind kind) { row.unit = coreUnit(kind); }
  void push(FormRow row, const QString& text) {
    row.text = text;
    sections.back().rows.push_back(row);
  }
  void fill(const FormRow& row, Entry& v) { push(row, show(v)); }
  void fill(const FormRow& row, std::string& v) { push(row, QString::fromStdString(v)); }
  void fill(const FormRow& row, int& v) { push(row, QString::number(v)); }
  void fill(FormRow row, bool& v) { row.editor = FormRow::Editor::check, push(row, v ? "true" : "false"); }
  void fill(const FormRow& row, std::vector<std::string>& v) {
    QStringList words;
    for (const auto& w : v) words << QString::fromStdString(w);
    push(row, words.join(", "));
  }
  void fill(const FormRow& row, std::vector<Entry>& v) {
    QStringList words;
    for (const auto& e : v) words << show(e);
    push(row, words.join(", "));
  }
  void fill(FormRow row, std::vector<std::vector<Entry>>& v) {
    if (row.path.back() == "faces") return;  // the program's own notes
    QStringList lines;
    for (const auto& r : v) {
      QStringList words;
      for (const auto& e : r) words << show(e);
      lines << words.join("\t");
    }
    row.editor = FormRow::Editor::table;
    push(row, lines.join("\n"));
  }
  void fill(const FormRow& row, Direction& v) {
    if (v.vector.empty())
      push(row, QString::fromStdString(v.axis));
    else
      fill(row, v.vector);
  }
  void fill(const FormRow&, Course&) {}  // edited in the loading history
  void fill(const FormRow&, std::vector<std::vector<std::string>>&) {}
  void fill(FormRow row, std::vector<PathPiece>& v) {
    QStringList lines;
    for (const auto& piece : v) lines << pieceWords(piece);
    row.editor = FormRow::Editor::table,
    row.help = "A row each: line x, y or arc x, y, cx, cy, left; then fillet=, name= or count= where wanted.";
    push(row, lines.join("\n"));
  }
  template <class T>
  void fill(const FormRow& row, std::optional<T>& v) {
    const bool alternative =
        row.path.size() == 3 && (row.path[0] == "solid" || row.path[0] == "shape");  // features and shapes replace each other
    if (!v) {
      if (absent && !alternative) absent->push_back(row);
      return;
    }
    const size_t first = sections.size();
    fill(row, *v);
    if (!alternative && sections.size() > first) sections[first].removable = row.path;
  }
  void fill(FormRow row, Named<Entry>& v) {
    QStringList lines;
    for (const auto& [name, e] : v) lines << QString::fromStdString(name) + "\t" + show(e);
    row.editor = FormRow::Editor::table;
    push(row, lines.join("\n"));
  }
  static QString title(const Shape&, size_t number, size_t of) { return of > 1 ? QString("Shape %1").arg(number) : "Shape"; }
  static QString title(const Feature& f, size_t number, size_t) {
    const char* kind = f.box        ? "box"
                       : f.cylinder ? "cylinder"
                       : f.tube     ? "tube"
                       : f.ball     ? "ball"
                       : f.step     ? "step"
                       : f.fillet   ? "fillet"
                       : f.chamfer  ? "chamfer"
                                    : "nothing yet";
    return QString("%1  %2%3")
        .arg(number)
        .arg(f.name.empty() ? kind : QString::fromStdString(f.name) + ", " + kind,
             f.how == "add" ? "" : QString::fromStdString(", " + f.how));
  }
  template <class T>
  void each(const FormRow& row, std::vector<T>& v) {
    for (size_t i = 0; i < v.size(); ++i) {
      FormRow sub = row;
      sub.path << QString::number(i + 1);
      sub.label = title(v[i], i + 1, v.size());
      fill(sub, v[i]);
    }
  }
  void fill(FormRow row, std::vector<NearSize>& v) {  // x, y, z, within, size
    QStringList lines;
    for (const auto& n : v) {
      QStringList words;
      for (const auto& e : n.at) words << show(e);
      lines << (words << show(n.within) << show(n.size)).join("\t");
    }
    row.editor = FormRow::Editor::table, row.help += " A row each: x, y, z, within, size.";
    push(row, lines.join("\n"));
  }
  void fill(const FormRow& row, std::vector<Shape>& v) { each(row, v); }
  void fill(const FormRow& row, std::vector<Feature>& v) { each(row, v); }
  template <class T>
  void fill(const FormRow& row, T& nested) {
    sections.push_back({row.label, {}, {}});
    Describer inner{sections, row.path, absent};
    fields(inner, nested);
    sections.push_back({"", {}, {}});
  }
};

/// Walks to one field and sets it.
struct Assigner {
  const QStringList& path;
  qsizetype depth;
  const QString& text;
  bool present = true;  ///< what may be left out and is named itself is put in, or taken out

  template <class T, class... Rest>
  void operator()(const char* key, T& value, const char*, const Rest&...) {
    if (depth < path.size() && path[depth] == key) set(value);
  }
  void set(Entry& v) { v = entryOf(text); }
  void set(std::string& v) { v = text.trimmed().toStdString(); }
  void set(int& v) {
    bool ok;
    const int n = text.toInt(&ok);
    if (!ok) throw Error("'" + text.toStdString() + "' is not a whole number");
    v = n;
  }
  void set(bool& v) { v = text == "true"; }
  void set(std::vector<std::string>& v) {
    v.clear();
    for (const auto& w : parts(text)) v.push_back(w.trimmed().toStdString());
  }
  void set(std::vector<Entry>& v) {
    v.clear();
    for (const auto& w : parts(text)) v.push_back(entryOf(w));
  }
  void set(std::vector<std::vector<Entry>>& v) {
    v.clear();
    for (const auto& line : text.split('\n', Qt::SkipEmptyParts)) {
      std::vector<Entry> row;
      for (const auto& w : line.split(QRegularExpression("[\\s,;]+"), Qt::SkipEmptyParts)) row.push_back(entryOf(w));
      v.push_back(row);
    }
  }
  void set(Direction& v) {
    const auto list = parts(text);
    v = {};
    if (list.size() > 1)
      set(v.vector);
    else
      v.axis = text.trimmed().toStdString();
  }
  void set(Course&) {}
  void set(std::vector<std::vector<std::string>>&) {}
  void set(std::vector<PathPiece>& v) {
    v.clear();
    for (const auto& line : text.split('\n', Qt::SkipEmptyParts)) v.push_back(pieceOf(line));
  }
  void set(Named<Entry>& v) {
    v.clear();
    for (const auto& line : text.split('\n', Qt::SkipEmptyParts)) {  // names may hold spaces: the last word is the value
      const auto words = line.trimmed();
      const auto at = words.lastIndexOf(QRegularExpression("[\\s,;]"));
      if (at > 0) v(words.left(at).trimmed().toStdString()) = entryOf(words.mid(at + 1));
    }
  }
  template <class T>
  void set(Named<T>&) {}
  template <class T>
  void set(std::optional<T>& v) {
    if (depth + 1 == path.size())
      present ? void(v.emplace()) : v.reset();
    else if (v)
      set(*v);
  }
  void set(std::vector<NearSize>& v) {
    std::vector<std::vector<Entry>> rows;
    set(rows);
    v.clear();
    for (const auto& row : rows) {
      if (row.size() != 5) throw Error("a place needs five values: x, y, z, within, size");
      v.push_back({{row[0], row[1], row[2]}, row[3], row[4]});
    }
  }
  void set(std::vector<Shape>& v) { setEach(v); }
  void set(std::vector<Feature>& v) { setEach(v); }
  template <class T>
  void setEach(std::vector<T>& v) {
    const auto index = size_t(path.value(depth + 1).toInt());
    if (index < 1 || index > v.size()) return;
    Assigner inner{path, depth + 2, text, present};
    fields(inner, v[index - 1]);
  }
  template <class T>
  void set(T& nested) {
    Assigner inner{path, depth + 1, text, present};
    fields(inner, nested);
  }
};

}  // namespace

std::vector<FormSection> describeThing(const Document& document, const QString& kind, const QString& name) {
  std::vector<FormSection> sections{{"", {}, {}}};
  auto& d = const_cast<Document&>(document);  // the visitor reads only
  withList(d, kind, [&](auto& list) {
    if (auto* thing = list.find(name.toStdString())) {
      Describer describer{sections, {}, nullptr};
      fields(describer, *thing);
    }
  });
  if (kind == "model") {
    Describer describer{sections, {}, nullptr};
    describer("title", d.title, "What this model is.");
    describer("note", d.note, "A remark.");
    describer("space", d.space, "Kind of model.", Choice{{"plane strain", "plane stress", "axisymmetric", "solid"}});
    describer("geometry", d.geometry, "large follows rotation and stretch; small is for comparison.", Choice{{"large", "small"}});
    describer("fineness", d.fineness, "Of all meshes at once: draft is coarse and quick, fine is for the last word.",
              Choice{{"draft", "usual", "fine"}});
    if (d.space.starts_with("plane")) describer("thickness", d.thickness, "Thickness of a plane model.", Kind::length);
    sections.push_back({"Parameters", {}, {}});
    for (auto& [n, e] : d.parameters) {
      FormRow row;
      row.path = {"parameters", QString::fromStdString(n)}, row.label = QString::fromStdString(n), row.text = show(e);
      sections.back().rows.push_back(row);
    }
    sections.push_back({"Iterations", {}, {}});
    Describer solver{sections, {"solver"}, nullptr};
    fields(solver, d.solver);
  }
  std::erase_if(sections, [](const FormSection& s) { return s.rows.empty() && s.title != "Parameters"; });
  return sections;
}

std::vector<FormRow> absentIn(const Document& document, const QString& kind, const QString& name) {
  std::vector<FormSection> sections{{"", {}, {}}};
  std::vector<FormRow> absent;
  withList(const_cast<Document&>(document), kind, [&](auto& list) {  // the visitor reads only
    if (auto* thing = list.find(name.toStdString())) {
      Describer describer{sections, {}, &absent};
      fields(describer, *thing);
    }
  });
  return absent;
}

void setPresent(Document& d, const QString& kind, const QString& name, const QStringList& path, bool present) {
  const QString none;
  withList(d, kind, [&](auto& list) {
    if (auto* thing = list.find(name.toStdString())) {
      Assigner assigner{path, 0, none, present};
      fields(assigner, *thing);
    }
  });
}

void assignThing(Document& d, const QString& kind, const QString& name, const QStringList& path, const QString& text) {
  if (kind == "model") {
    if (path.front() == "parameters") {
      if (auto* e = d.parameters.find(path.value(1).toStdString())) *e = entryOf(text);
      return;
    }
    Assigner assigner{path, 0, text, true};
    fields(assigner, d);
    return;
  }
  withList(d, kind, [&](auto& list) {
    if (auto* thing = list.find(name.toStdString())) {
      Assigner assigner{path, 0, text, true};
      fields(assigner, *thing);
    }
  });
}

void removeThing(Document& d, const QString& kind, const QString& name) {
  withList(d, kind, [&](auto& list) { std::erase_if(list, [&](const auto& item) { return item.first == name.toStdString(); }); });
}

void addParameter(Document& d, const QString& name, const QString& value) {
  d.parameters(name.toStdString()) = entryOf(value);
  const model::Quantities whole(d);  // says what is not understood
}

QString copyThing(Document& d, const QString& kind, const QString& name) {
  QString made;
  withList(d, kind, [&](auto& list) {
    const auto* thing = list.find(name.toStdString());
    if (!thing) return;
    std::string fresh = name.toStdString() + " copy";
    for (int k = 2; list.find(fresh); ++k) fresh = name.toStdString() + " copy " + std::to_string(k);
    const auto same = *thing;  // the list may move when it grows
    list(fresh) = same;
    made = QString::fromStdString(fresh);
  });
  return made;
}

void renameThing(Document& d, const QString& kind, const QString& from, const QString& to) {
  const auto old = from.toStdString(), fresh = to.trimmed().toStdString();
  if (fresh.empty() || fresh.find_first_of("./") != std::string::npos)
    throw Error("the name '" + fresh + "' cannot be used", {}, "Names are not empty and have no '.' or '/'.");
  withList(d, kind, [&](auto& list) {
    if (old != fresh && list.find(fresh)) throw Error("there is a '" + fresh + "' already", {}, "Choose another name.");
    for (auto& item : list)
      if (item.first == old) item.first = fresh;
  });
  const auto follow = [&](std::vector<std::string>& names) {
    for (auto& n : names) {
      if (n == old) n = fresh;
      if (kind != "parts") continue;
      std::string whole;  // the faces of an edge one by one
      for (auto& face : mesh::facesInName(n)) {
        if (face.starts_with(old + ".")) face = fresh + face.substr(old.size());
        whole += (whole.empty() ? "" : mesh::meets) + face;
      }
      n = whole;
    }
  };
  if (kind == "materials") {
    for (auto& [n, p] : d.parts)
      if (p.material == old) p.material = fresh;
    for (auto& [n, b] : d.bolts)
      if (b.beam && b.beam->material == old) b.beam->material = fresh;
  }
  if (kind == "parts" || kind == "carriers" || kind == "regions") {
    for (auto& [n, c] : d.contacts) follow(c.between);
    for (auto& [n, s] : d.springs) follow(s.between);
    for (auto& [n, s] : d.supports) follow(s.on);
    for (auto& [n, m] : d.motions) follow(m.on);
    for (auto& [n, l] : d.loads) follow(l.on);
    for (auto& [n, s] : d.stabilisations) follow(s.on);
    for (auto& [n, t] : d.temperatures) follow(t.on);
    for (auto& [n, c] : d.carriers) follow(c.on);
    for (auto& [n, b] : d.bolts) {
      follow(b.on);
      if (b.beam) follow(b.beam->head), follow(b.beam->nut);
    }
    for (auto& [n, q] : d.parts)
      for (auto& f : q.solid)
        if (f.bolt) follow(f.bolt->through);
    for (auto& [n, r] : d.regions) follow(r.edges), follow(r.cylinderOf), follow(r.tangentTo), follow(r.of);
    for (auto& [n, w] : d.watch)
      if (w.part == old) w.part = fresh;
  }
  if (kind == "steps") {
    const auto course = [&](Course& c) {
      for (auto& s : c.stages)
        if (s.first == old) s.first = fresh;
    };
    for (auto& [n, m] : d.motions) course(m.course);
    for (auto& [n, l] : d.loads) course(l.course);
    for (auto& [n, t] : d.temperatures) course(t.rise);
    for (auto& [n, b] : d.bolts) course(b.force), course(b.shortening);
    for (auto& [n, c] : d.contacts) {
      course(c.interference), follow(c.during);
      if (c.start.resolveOver == old) c.start.resolveOver = fresh;
    }
    for (auto& [n, s] : d.supports) follow(s.during);
    for (auto& [n, s] : d.stabilisations) follow(s.during);
  }
}

}  // namespace anvil::app
