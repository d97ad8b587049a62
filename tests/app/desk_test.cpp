// The desk: forms of every kind of thing, values in and out, names that follow.
#include "app/desk/material_bench.hpp"
#include "fixture.hpp"

#include <QCheckBox>
#include <QMenu>
#include <QPlainTextEdit>
#include <QSlider>
#include <QToolButton>
#include <map>
#include <set>

#include "app/desk/desk_words.hpp"
#include "app/desk/form.hpp"
#include "app/shown_units.hpp"
#include "core/base/error.hpp"
#include "core/model/actions.hpp"
#include "core/model/carriers.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/field_table.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/things.hpp"

namespace anvil::app {

namespace {

/// A document with one of everything.
model::Document oneOfEverything() {
  return model::parse(R"({
    "anvil": 1, "title": "Everything", "note": "a remark", "parameters": {"wall": "3 mm"},
    "materials": {
      "steel": {"elastic": {"E": 205000, "nu": 0.3}, "density": 7.85e-9,
                "plastic": {"rows": [[0, 250], [0.1, 400], [0.5, 500]], "hardening": "mixed", "kinematic share": 0.4}},
      "soft": {"elastic": {"E": 1000, "nu": 0.4}},
      "gum": {"rubber": {"mooney": [0.5, 0.1], "bulk": 500}, "expansion": 1e-4},
      "copper": {"elastic": {"E": 110000, "nu": 0.34},
        "plastic": {"yield": 70, "power": {"reference": 0.01, "exponent": 0.2}}},
      "brass": {"elastic": {"E": 100000, "nu": 0.34}, "plastic": {"yield": 90, "voce": {"gain": 50, "rate": 8}}}},
    "parts": {
      "plate": {"material": "steel", "element": "quad4", "shape": [{"rectangle": {"at": [0, 0], "size": [20, "=wall"]}, "mesh": {
        "count": [8, 2], "grading": [2, 1]}}]},
      "hoop": {"material": "soft", "shape": {"ring": {"center": [40, 0], "inner": 5, "outer": 9, "from": 0, "to": 90}}, "mesh": {
        "size": 1}},
      "die": {"rigid": true, "pivot": [10, 8], "shape": {"profile": {"start": [0, 4], "path": [{"line": [20, 4], "name": "face",
        "fillet": 0.5}, {"line": [20, 8]}]}}},
      "puck": {"material": "gum", "shape": {"disc": {"center": [0, 30], "radius": 4, "sector": "half"}}, "extrude": {"depth": 3},
        "place": {"axis": "y", "angle": 90, "shift": [0, 0, 5]}},
      "spring": {"material": "steel", "shape": {"disc": {"radius": 1}},
        "coil": {"radius": 9, "pitch": 5, "turns": 3, "hand": "left"}},
      "pipe": {"material": "steel", "shape": {"disc": {"radius": 1}},
        "along": {"path": [{"line": [0, 0, 9], "fillet": 3},
        {"line": [0, 9, 9]}]}},
      "leaf": {"material": "steel", "shape": {"rectangle": {"at": [9, 9], "size": [5, 2]}}, "thin": {"thickness": 0.4}},
      "mast": {"material": "steel", "slender": {"points": {"foot": [0, 0, 0], "the top": [0, 0, "=10*wall"]},
        "lines": {"main shaft": {"from": "foot", "to": "the top", "by": [1, 0, 9], "section": "pole", "up": [1, 0, 0],
          "hinged": "to", "carries": "all", "count": 6},
          "stay": {"from": "foot", "to": "the top", "carries": "pull", "tension": 20}},
        "sections": {"pole": {"form": "tube", "diameter": 5, "wall": 1}, "own": {"form": "polygon", "shift": [1, 0],
          "points": [[0, 0], [3, 0], [0, 2]], "torsion": 4}}}},
      "bead": {"material": "soft", "shape": {"rectangle": {"at": [3, 0], "size": [1, 1]}}, "revolve": {"angle": 90, "count": 6}},
      "dish": {"rigid": true, "shape": {"facets": {"points": [[0, 0, 0], [1, 0, 0], [0, 1, 0]], "triangles": [[0, 1, 2]],
        "crease": 20}}},
      "block": {"material": "steel", "sizes": {"bar.side": 1}, "near": [{"at": [0, 0, 0], "within": 2, "size": 0.5}], "solid": [
        {"box": {"size": [4, 5, 6]}},
        {"name": "bar", "cylinder": {"from": [0, 0, 0], "to": [0, 0, 9], "radius": 2},
          "how": "cut", "around": {"axis": [0, 0, 1], "count": 2}},
        {"tube": {"from": [0, 0, 0], "to": [0, 0, 9], "inner": 1, "outer": 2}}, {"ball": {"center": [1, 2, 3], "radius": 2}},
        {"plate": {"size": [9, 9, 1], "holes": {"at": [[2, 2]], "radius": 1, "pitch": [3, 3], "count": [2, 2]}}},
        {"angle": {"legs": [9, 9], "thickness": 1, "length": 20, "root": 2}},
        {"bolt": {"through": ["block.plate.hole 1"], "diameter": 2, "washer": 0.3}},
        {"profile": {"start": [0, 0], "path": [{"line": [1, 0]}, {"line": [0, 1]}]}, "extrude": {"depth": 2}},
        {"profile": {"start": [5, 0], "path": [{"line": [6, 0]}, {"line": [5, 1]}]}, "revolve": {"angle": 180}},
        {"step": {"file": "shape.step", "solid": "arm"}}, {"half": {"normal": [1, 0, 0]}},
        {"imprint": {"on": "arm.1", "center": [0, 0, 0], "radius": 2}},
        {"fillet": {"between": ["box.top"], "radius": 0.5}},
        {"chamfer": {"between": ["box.left", "box.front"], "radius": 0.5}}]}},
    "regions": {"ends": {"edges": ["plate.left", "plate.right"]}, "rim": {"cylinder of": "block.bar.side"},
      "flat": {"plane": {"at": [0, 0, 6], "normal": [0, 0, 1]}, "of": "block"},
      "near": {"box": {"from": [0, 0, 0], "to": [1, 1, 1]}}},
    "carriers": {"grip": {"on": "hoop.end", "hold": "mean"}},
    "springs": {"tie": {"between": "grip", "at": [40, 40], "stiffness": 30, "damping": 1}},
    "bolts": {"pin": {"on": "block.bar.side", "force": {"load": "3 kN"}}, "stud": {"beam": {"head": "block.box.top",
      "nut": "block.box.bottom", "diameter": 2, "material": "steel"}, "shortening": {"load": 0.01}}},
    "temperatures": {"warm": {"on": "hoop", "rise": 40}},
    "contacts": {"touch": {"between": ["plate.top", "die"], "friction": 0.2, "shear limit": 100, "start": {"close within": 0.01,
      "resolve over": "load"}, "search": 2, "during": ["load"]}},
    "steps": {"load": {"time": 2, "increments": {"first": 0.1, "smallest": 1e-5, "largest": 0.2, "most": 99}, "note": "first"},
      "after": {"control": "arc length",
      "until": {"watch": "corner", "along": "y", "passes": -3}},
      "rest": {}},
    "supports": {"foot": {"on": ["plate.bottom"], "fix": ["x", "y"], "during": ["load", "rest"]}},
    "motions": {"down": {"on": "die", "along": "y", "course": {"load": -0.5, "rest": "hold"}}, "aside": {"on": "hoop.start",
      "along": [1, 1], "course": 0.1}},
    "loads": {"pull": {"on": "hoop.end", "kind": "force", "along": [0, 1], "course": "2 kN"}},
    "stabilisations": {"calm": {"on": "hoop", "strength": 2, "during": "load"}},
    "watch": {"corner": {"at": [20, 3], "part": "plate"}},
    "results": {"increments": "at times", "every": 7, "times": [0.5], "leave out": ["strain"]},
    "solver": {"most iterations": 25, "line search": false}
  })");
}

struct Row {
  QString kind, name;
  FormRow row;
};

/// Every editable row of every thing.
std::vector<Row> everyRow(const model::Document& d) {
  std::vector<Row> all;
  const auto take = [&](const QString& kind, const std::vector<std::string>& names) {
    for (const auto& n : names)
      for (const auto& section : describeThing(d, kind, QString::fromStdString(n)))
        for (const auto& r : section.rows) all.push_back({kind, QString::fromStdString(n), r});
  };
  for (const auto& kind : model::kindsOfThings()) take(QString::fromStdString(kind), model::namesOf(d, kind));
  take("model", {""});
  return all;
}

QString textOf(const model::Document& d, const Row& wanted) {
  for (const auto& r : everyRow(d))
    if (r.kind == wanted.kind && r.name == wanted.name && r.row.path == wanted.row.path) return r.row.text;
  return "(gone)";
}

/// Types of objects that are there, and those that could be.
void seen(const model::Value& v, std::set<const model::Type*>& types) {
  types.insert(&v.type());
  for (const auto& f : v.type().fields) seen(v[f], types);
  for (size_t i = 0; i < v.size(); ++i) seen(v.at(i), types);
}
void known(const model::Type& t, std::map<const model::Type*, std::string>& types, const std::string& path) {
  if (!types.emplace(&t, path).second) return;
  if (t.item) known(*t.item, types, path);
  for (const auto& f : t.fields) known(*f.type, types, path + "/" + f.key);
}

}  // namespace

class DeskTest : public QObject, WindowFixture {
  Q_OBJECT
 private slots:
  void nothingIsMissingInOneOfEverything() {
    const auto d = oneOfEverything();
    std::set<const model::Type*> there;
    seen(model::root(d), there);
    std::map<const model::Type*, std::string> all;
    known(model::documentType(), all, "");
    for (const auto& [type, path] : all) QVERIFY2(there.contains(type), path.c_str());
  }

  /// Every key of the document is in a desk, in the loading history, or is the program's own.
  void everyKeyIsWithinReach() {
    auto d = oneOfEverything();
    QSet<QString> rows;
    for (const auto& r : everyRow(d)) rows << r.kind + "/" + r.name + "/" + r.row.path.join('/');
    int keys = 0;
    // of lists that are tables, and of what is edited in the history, the list's own entry is looked for
    const std::function<void(const model::Value&, const QString&)> walk = [&](const model::Value& v, const QString& at) {
      for (const auto& f : v.type().fields) {
        if (f.programsOwn || f.type->form == model::Form::course) continue;
        const auto own = v[f];
        const auto path = at + "/" + QString::fromStdString(f.key);
        const auto form = f.type->form;
        if (form == model::Form::object) {
          walk(own, path);
        } else if (form == model::Form::optional) {
          if (own.size() && own.at(0).form() == model::Form::object)
            walk(own.at(0), path);
          else if (own.size() && !rows.contains(path))
            QFAIL(qPrintable(path));
        } else if (rows.contains(path)) {
          ++keys;
          if (form == model::Form::named && f.type->item->form == model::Form::object)
            for (size_t i = 0; i < own.size(); ++i) walk(own.at(i), path + "/" + QString::fromStdString(own.name(i)));
        } else if (form == model::Form::list && f.type->item->form == model::Form::object) {
          for (size_t i = 0; i < own.size(); ++i) walk(own.at(i), path + "/" + QString::number(i + 1));
        } else {
          bool hidden = false;  // not of use beside what its neighbours say, and not given
          const auto fresh = v.fresh();
          for (const auto& g : v.type().fields) hidden = hidden || (g.key == f.key && own == fresh[g]);
          QVERIFY2(hidden, qPrintable(path));
        }
      }
    };
    for (const auto& kind : model::kindsOfThings()) {
      const auto list = model::things(d, kind);
      for (size_t i = 0; i < list.size(); ++i) walk(list.at(i), QString::fromStdString(kind + "/" + list.name(i)));
    }
    for (const char* key : {"title", "note", "space", "geometry", "fineness"})
      QVERIFY2(rows.contains(QString("model//") + key), key);
    const auto whole = model::root(d);
    for (const char* key : {"results", "solver", "units"}) walk(whole[*whole.type().find(key)], QString("model//") + key);
    QVERIFY2(keys > 250, qPrintable(QString::number(keys)));
  }

  /// What does not apply is not shown until it is given.
  void onlyWhatAppliesIsShown() {
    auto d = oneOfEverything();
    const auto shows = [&](const char* kind, const char* name, const QString& path) {
      for (const auto& section : describeThing(d, kind, name))
        for (const auto& r : section.rows)
          if (r.path.join('/') == path) return true;
      return false;
    };
    model::Part plain;
    d.parts("plain") = plain;
    QVERIFY(shows("parts", "plain", "material") && !shows("parts", "plain", "pivot") && !shows("parts", "plain", "loose"));
    d.parts("plain").rigid = true;
    QVERIFY(!shows("parts", "plain", "material") && shows("parts", "plain", "pivot") && shows("parts", "plain", "loose"));
    d.loads("wind").kind = "pressure";
    QVERIFY(!shows("loads", "wind", "along"));
    d.loads("wind").kind = "force";
    QVERIFY(shows("loads", "wind", "along"));
    d.contacts("glue").kind = "tied";
    QVERIFY(!shows("contacts", "glue", "friction"));
    d.contacts("glue").friction = 0.2;
    QVERIFY(shows("contacts", "glue", "friction"));  // given, so that it can be taken out
  }

  /// Nothing on a desk is wider than the desk.
  void everyDeskFitsItsWidth() {
    openFresh("everything", QByteArray::fromStdString(model::print(oneOfEverything())));
    const auto look = [&](const QString& kind, const QString& name) {
      w_->select(kind, name);
      settle();
      auto* area = w_->desk()->findChild<QScrollArea*>();
      QVERIFY(area && area->widget());
      for (auto* fold : w_->desk()->findChildren<QToolButton*>("fold")) fold->setChecked(true);
      settle();
      QString wide;
      for (auto* w : area->widget()->findChildren<QWidget*>())
        if (w->isVisible() && w->minimumSizeHint().width() > 215)
          wide += QString("%1 %2 %3; ").arg(w->metaObject()->className(), w->objectName()).arg(w->minimumSizeHint().width());
      QVERIFY2(area->widget()->minimumSizeHint().width() <= 250, qPrintable(kind + "/" + name + ": " + wide));
    };
    look("model", {});
    for (const auto& kind : model::kindsOfThings())
      for (const auto& name : model::namesOf(document(), kind)) look(QString::fromStdString(kind), QString::fromStdString(name));
    w_.reset();
  }

  /// Sentences of the core name entries by keys; at the desk they are called otherwise.
  void sentencesSpeakOfEntriesAsTheDeskDoes() {
    QCOMPARE(inDeskWords("let a contact look farther (\"search\").", "contacts"),
             QString("let a contact look farther (‘Looks for faces within’)."));
    QCOMPARE(inDeskWords("Move a part, or give \"start\": {\"resolve over\": …}.", "contacts"),
             QString("Move a part, or give ‘Resolve overlap over step’."));
    QCOMPARE(inDeskWords("Make \"largest\" smaller", "steps"), QString("Make ‘Largest increment’ smaller"));
    QCOMPARE(inDeskWords("Set \"stress\" to engineering", "materials/steel/plastic/rows"),
             QString("Set ‘The stresses are’ to engineering"));
    QCOMPARE(inDeskWords("The part 'a' is free. Nothing quoted.", "parts"), QString("The part 'a' is free. Nothing quoted."));
  }

  void bareNumbersAreShownInTheFilesUnits() {
    auto d = oneOfEverything();
    d.units.length = "in", d.units.angle = "deg";
    int lengths = 0, angles = 0;
    for (const auto& r : everyRow(d)) {
      const auto key = r.row.path.back();
      if ((key != "radius" && key != "angle" && key != "crease") || r.row.path.front() == "units") continue;
      QCOMPARE(r.row.unit, QString(key == "radius" ? "in" : "deg"));
      ++(key == "radius" ? lengths : angles);
    }
    QVERIFY(lengths >= 3 && angles >= 3);
  }

  void everyRowShowsItsHelpAndChoices() {
    const auto rows = everyRow(oneOfEverything());
    QVERIFY2(rows.size() > 300, qPrintable(QString::number(rows.size())));
    for (const auto& r : rows) {
      QVERIFY(!r.row.label.isEmpty());
      if (r.row.path.front() != "parameters") QVERIFY2(!r.row.help.isEmpty(), qPrintable(r.row.path.join('/')));
      if (r.row.editor == FormRow::Editor::choice)
        QVERIFY2(r.row.choices.contains(r.row.text), qPrintable(r.kind + " " + r.row.path.join('/') + " " + r.row.text));
    }
  }

  /// What a row shows, written back, changes nothing: forms lose no information.
  void writingBackWhatIsShownChangesNothing() {
    const auto d = oneOfEverything();
    for (const auto& r : everyRow(d)) {
      auto copy = d;
      assignThing(copy, r.kind, r.name, r.row.path, r.row.text);
      if (copy == d) continue;
      // an unset quantity may come back as an empty entry: the document must still print the same
      QCOMPARE(QString::fromStdString(model::print(copy)), QString::fromStdString(model::print(d)));
    }
  }

  /// Every row takes a new value and shows it.
  void everyRowTakesANewValue() {
    const auto d = oneOfEverything();
    for (const auto& r : everyRow(d)) {
      QString fresh = "0.125";
      if (r.row.editor == FormRow::Editor::check)
        fresh = r.row.text == "true" ? "false" : "true";
      else if (r.row.editor == FormRow::Editor::choice)
        fresh = r.row.choices.back() == r.row.text ? r.row.choices.front() : r.row.choices.back();
      else if (r.row.path.back() == "near")
        fresh = "0\t0\t1\t2\t0.5\n1\t1\t1\t3\t0.25";
      else if (r.row.path.back() == "path")
        fresh = "line 4, 0  fillet=0.5  name=lower side\narc 4, 4, 4, 2, right  count=3";
      else if (r.row.path.back() == "lines")
        fresh = "main shaft\tfoot\tthe top\nnew one\tthe top\tfoot";
      else if (r.row.path.back() == "sides")
        fresh = "one, other\nthird";
      else if (r.row.editor == FormRow::Editor::table)
        fresh = "0\t100\n0.2\t150";
      else if (r.row.path.back().contains("iterations") || r.row.path.back() == "most" || r.row.path.back() == "every")
        fresh = "7";
      auto copy = d;
      assignThing(copy, r.kind, r.name, r.row.path, fresh);
      if (r.kind == "model" && r.row.path.front() == "space") continue;  // other rows come and go with it
      QVERIFY2(textOf(copy, r) == fresh, qPrintable(r.kind + "/" + r.name + "/" + r.row.path.join('/') + ": " + textOf(copy, r)));
    }
  }

  /// What a thing may have is put in with its defaults and taken out again, each by its keys.
  void whatMayBeLeftOutComesAndGoes() {
    const auto d = oneOfEverything();
    int seen = 0;
    for (const auto& [kind, name] : std::vector<std::pair<QString, QString>>{
             {"parts", "plate"}, {"materials", "soft"}, {"materials", "steel"}, {"parts", "die"}})
      for (const auto& row : absentIn(d, kind, name)) {
        auto copy = d;
        setPresent(copy, kind, name, row.path, true);
        QVERIFY2(!(copy == d), qPrintable(kind + "/" + row.path.join('/')));
        for (const auto& left : absentIn(copy, kind, name)) QVERIFY2(left.path != row.path, qPrintable(row.path.join('/')));
        bool removable = false;
        for (const auto& section : describeThing(copy, kind, name)) removable = removable || section.removable == row.path;
        QVERIFY2(removable, qPrintable(kind + "/" + row.path.join('/')));
        setPresent(copy, kind, name, row.path, false);
        QVERIFY(copy == d);
        ++seen;
      }
    QVERIFY2(seen >= 6, qPrintable(QString::number(seen)));
  }

  void piecesOfPathsAreWrittenAsTheyAreRead() {
    auto d = oneOfEverything();
    const QStringList at{"shape", "1", "profile", "path"};
    bool any = false;
    for (const auto& name : d.parts.names()) {
      const auto* part = d.parts.find(name);
      if (part->shape.empty() || !part->shape.front().profile) continue;
      any = true;
      assignThing(d, "parts", QString::fromStdString(name), at,
                  "line 10, =2*wall  fillet=1.5 mm\narc 0, 10, 0, 0, left  count=4  name=round side");
      const auto& path = d.parts.find(name)->shape.front().profile->path;
      QCOMPARE(path.size(), size_t(2));
      QCOMPARE(path[0].line[1].text, std::string("=2*wall"));
      QCOMPARE(path[1].name, std::string("round side"));
      QCOMPARE(path[1].turn, std::string("left"));
      QCOMPARE(*path[1].count.number, 4.0);
      QCOMPARE(*path[1].center[1].number, 0.0);
      const auto before = d;
      for (const char* bad :
           {"curve 1, 2", "line 1", "arc 1, 2, 3", "line 1, 2, 3, 4", "arc 1, 2, 3, 4, 5, 6, 7, left", "arc 1, 2, 3, 4, up"})
        QVERIFY_EXCEPTION_THROWN(assignThing(d, "parts", QString::fromStdString(name), at, bad), Error);
    }
    QVERIFY(any);
  }

  void wholeNumbersAreAskedFor() {
    auto d = oneOfEverything();
    QVERIFY_EXCEPTION_THROWN(assignThing(d, "steps", "load", {"increments", "most"}, "many"), Error);
    QVERIFY(d == oneOfEverything());
  }

  void renamingFollowsEveryReference() {
    const auto d = oneOfEverything();
    for (const auto& [kind, from] : std::vector<std::pair<QString, QString>>{{"parts", "plate"},
                                                                             {"parts", "hoop"},
                                                                             {"parts", "die"},
                                                                             {"materials", "steel"},
                                                                             {"steps", "load"},
                                                                             {"regions", "ends"},
                                                                             {"carriers", "grip"},
                                                                             {"watch", "corner"}}) {
      auto copy = d;
      renameThing(copy, kind, from, "renamed");
      auto text = QString::fromStdString(model::print(copy));
      text.remove("\"plate\": {\"size\"");  // the key of a feature, not the part's name
      QVERIFY2(!text.contains("\"" + from + "\""), qPrintable(text));
      QVERIFY2(!text.contains("\"" + from + "."), qPrintable(text));
      renameThing(copy, kind, "renamed", from);
      QVERIFY(copy == d);
    }
  }

  void namesThatCannotBeAreRefused() {
    auto d = oneOfEverything();
    for (const char* bad : {"", "a.b", "a/b", "hoop"}) QVERIFY_EXCEPTION_THROWN(renameThing(d, "parts", "plate", bad), Error);
    QVERIFY(d == oneOfEverything());
  }

  void everyKindOfThingCanBeTakenOut() {
    for (const auto& [kind, name] : std::vector<std::pair<QString, QString>>{{"parts", "hoop"},
                                                                             {"materials", "soft"},
                                                                             {"contacts", "touch"},
                                                                             {"steps", "rest"},
                                                                             {"supports", "foot"},
                                                                             {"motions", "down"},
                                                                             {"loads", "pull"},
                                                                             {"stabilisations", "calm"},
                                                                             {"carriers", "grip"},
                                                                             {"bolts", "pin"},
                                                                             {"watch", "corner"}}) {
      auto d = oneOfEverything();
      QVERIFY(!describeThing(d, kind, name).empty());
      removeThing(d, kind, name);
      QVERIFY2(describeThing(d, kind, name).empty(), qPrintable(kind));
    }
  }

  void aTableIsPastedFromASheet() {
    auto d = oneOfEverything();
    assignThing(d, "materials", "steel", {"plastic", "rows"}, "0\t260\n0.05; 310\n 0.2,  390 \n\n");
    const auto& rows = d.materials.front().second.plastic->rows;
    QCOMPARE(int(rows.size()), 3);
    QCOMPARE(*rows[2][1].number, 390.);
  }

  void theCurveAndItsFaultAreShownWhileTyping() {
    open();
    w_->select("materials", "steel");
    auto* plot = w_->desk()->findChild<QWidget*>("materialPlot");
    QVERIFY(plot);
    const auto before = plot->grab().toImage();
    type(row<QLineEdit>("plastic/tangent"), "20000");
    QVERIFY(plot->grab().toImage() != before);
    type(row<QLineEdit>("plastic/tangent"), "=nonsense");
    QVERIFY(w_->desk()->findChild<QLabel*>("trouble")->text().contains("nonsense"));
    w_.reset();
  }

  void aMaterialIsTriedOnATestMachine() {
    open();
    w_->select("materials", "steel");
    settle();
    auto* bench = w_->desk()->findChild<MaterialBench*>();
    QVERIFY(bench);
    QVERIFY(bench->plot()->points().size() > 10);
    auto* test = bench->findChild<QComboBox*>("materialTest");
    auto* path = bench->findChild<QLineEdit*>("materialPath");
    QVERIFY(!path->isVisible());
    const auto choose = [&](const QString& title) {
      test->setCurrentIndex(test->findText(title));
      emit test->activated(test->currentIndex());
    };
    choose("Pull and let go");
    QVERIFY(path->isVisible());
    QCOMPARE(bench->plot()->trouble(), QString());
    // what stays after unloading is the plastic part: 0.02 less the elastic strain
    const auto end = bench->plot()->points().back();
    QVERIFY(std::abs(end.y()) < 1e-3);
    QVERIFY2(end.x() > 0.0180 && end.x() < 0.0190, qPrintable(QString::number(end.x())));
    type(path, "xx=stress 100; xx=stress -100");
    QCOMPARE(test->currentText(), QString("Path of my own"));
    QVERIFY(std::abs(bench->plot()->points().back().x() + 100. / 205000) < 1e-6);
    type(path, "xx=stress 100 mm");
    QVERIFY(!bench->plot()->trouble().isEmpty());
    type(row<QLineEdit>("elastic/E"), "100 GPa");  // the machine follows the material
    type(path, "xx=stress 100");
    QVERIFY(std::abs(bench->plot()->points().back().x() - 100. / 100000) < 1e-6);
    w_.reset();
  }

  void anElasticMaterialIsLetYield() {
    open();
    w_->document().edit("no plasticity", [](model::Document& d) { d.materials.front().second.plastic.reset(); });
    w_->select("materials", "steel");
    for (auto* b : w_->desk()->findChildren<QPushButton*>())
      if (b->text() == "Let it yield" && b->isVisible()) {
        b->click();
        break;
      }
    QVERIFY(document().materials.front().second.plastic.has_value());
    w_.reset();
  }

  void boxesAndChecksAreClicked() {
    open();
    w_->select("parts", "block");
    auto* box = row<QComboBox>("element");
    QVERIFY(box);
    takeChoice(box, "quad8");
    QCOMPARE(document().parts.front().second.element, "quad8");
    w_->select("model", {});
    auto* check = row<QCheckBox>("solver/line search");
    QVERIFY(check);
    check->click();
    QVERIFY(!document().solver.lineSearch);
    w_.reset();
  }

  void entriesComeAndGoWithTheKindTheyBelongTo() {
    open();
    const auto name = QString::fromStdString(document().contacts.front().first);
    w_->select("contacts", name);
    QVERIFY(!row<QComboBox>("axis"));
    const auto choose = [&](const char* key, const char* word) {
      auto* box = row<QComboBox>(key);
      QVERIFY(box);
      takeChoice(box, word);
    };
    choose("kind", "cyclic");
    QTRY_VERIFY(row<QComboBox>("axis"));
    QVERIFY(row<QLineEdit>("about"));
    type(row<QComboBox>("axis")->lineEdit(), "z");
    choose("kind", "touching");
    QTRY_VERIFY(!row<QLineEdit>("about"));
    QVERIFY(row<QComboBox>("axis"));  // what is given is shown, so that it can be taken out
    w_->select("parts", "block");
    QVERIFY(!row<QLineEdit>("pivot"));
    row<QCheckBox>("rigid")->click();
    QTRY_VERIFY(row<QLineEdit>("pivot"));
    w_->select("model", {});
    QVERIFY(row<QLineEdit>("thickness"));
    choose("space", "axisymmetric");
    QTRY_VERIFY(!row<QLineEdit>("thickness"));
    w_.reset();
  }

  void parametersAreEditedAndTheModelFollows() {
    open();
    w_->select("model", {});
    type(row<QLineEdit>("parameters/depth"), "0.5 mm");
    QCOMPARE(document().parameters.front().second.text, "0.5 mm");
    const auto& lane = w_->history()->lanes().front();
    QCOMPARE(*std::min_element(lane.v.begin(), lane.v.end()), -0.5);
    w_.reset();
  }

  void parametersHaveAUnitAndAreWrittenInAnother() {
    open();
    w_->document().edit("more", [](model::Document& d) {
      d.parameters("twice") = "=2*depth";
      d.parameters("reach") = "1 in", d.parameters("share") = 0.5;
    });
    w_->select("model", {});
    settle();
    const auto unit = [&](const QString& name) { return w_->desk()->findChild<QToolButton*>("unit-" + name); };
    const auto word = [&](const QString& name) { return unit(name)->text().remove(" ▾"); };
    const auto comes = [&](const QString& name) { return w_->desk()->findChild<QLabel*>("comes-" + name)->text(); };
    const auto choose = [&](const QString& name, const QString& other) {
      auto* menu = unit(name)->menu();
      emit menu->aboutToShow();
      for (auto* action : menu->actions())
        if (action->text() == other) return action->trigger();
      QFAIL(qPrintable(other));
    };
    QCOMPARE(word("depth"), QString("mm"));  // a bare number that a travel is: in the file's unit
    QCOMPARE(word("twice"), QString("mm"));
    QVERIFY(!unit("twice")->isEnabled());
    QCOMPARE(comes("twice"), QString("= 0.6 mm"));
    QCOMPARE(row<QLineEdit>("parameters/reach")->text(), QString("1"));
    QCOMPARE(word("reach"), QString("in"));
    QCOMPARE(comes("reach"), QString("= 25.4 mm"));
    QCOMPARE(word("share"), QString("–"));          // not known
    type(row<QLineEdit>("parameters/reach"), "2");  // what is typed is in the unit behind it
    QCOMPARE(document().parameters.find("reach")->text, "2 in");
    choose("reach", "cm");  // the same length
    QCOMPARE(document().parameters.find("reach")->text, "5.08 cm");
    choose("depth", "um");
    QCOMPARE(document().parameters.find("depth")->text, "300 um");
    QCOMPARE(comes("twice"), QString("= 0.6 mm"));
    choose("share", "MPa");  // says what it is
    QCOMPARE(document().parameters.find("share")->text, "0.5 MPa");
    units().choose(unitSets()[2]);
    settle();
    QCOMPARE(comes("twice"), QString("= 0.023622 in"));
    QCOMPARE(comes("share"), QString("= 72.519 psi"));
    units().choose(unitSets().front());
    w_.reset();
  }

  void springsAndTablesFollowTheUnitsOnShow() {
    open();
    w_->document().edit("a spring", [](model::Document& d) {
      auto& s = d.springs("link");
      s.between = {"press"}, s.along = "y", s.stiffness = 20, s.damping = "3 N s/m";
    });
    units().choose(unitSets()[2]);
    w_->select("springs", "link");
    settle();
    QCOMPARE(row<QLineEdit>("stiffness")->text(), QString("20 N/mm"));
    type(row<QLineEdit>("stiffness"), "100");
    QCOMPARE(document().springs.find("link")->stiffness.text, "100 lbf/in");
    w_->document().edit("turning", [](model::Document& d) {
      auto& s = d.springs("link");
      s.along = "turn", s.stiffness = model::Entry(), s.damping = 0., s.rows = {{0., 0.}, {0.1, 500.}};
    });
    settle();
    auto* rows = row<QPlainTextEdit>("rows");
    QCOMPARE(rows->toPlainText(), QString("0 rad\t0 N mm\n0.1 rad\t500 N mm"));
    QVERIFY(w_->desk()->findChild<QLabel*>("units-rows")->text().contains("deg, lbf in"));
    rows->setPlainText("0\t0\n5\t10\n10\t30 N m");
    const auto& written = document().springs.find("link")->rows;
    QCOMPARE(written[1][0].text, "5 deg");
    QCOMPARE(written[1][1].text, "10 lbf in");
    QCOMPARE(written[2][1].text, "30 N m");
    units().choose(unitSets().front());
    w_.reset();
  }

  void parametersSayWhereTheyAreUsedAndAreSlid() {
    open();
    w_->document().edit("another", [](model::Document& d) { d.parameters("twice") = "=2*depth"; });
    w_->select("model", {});
    const auto label = [&](const QString& name) { return w_->desk()->findChild<QLabel*>(name); };
    settle();
    QCOMPARE(label("uses-depth")->text(), QString("2 uses"));
    QVERIFY(label("uses-depth")->toolTip().contains("motion 'push', course, press"));
    QCOMPARE(label("uses-twice")->text(), QString("unused"));
    QCOMPARE(label("comes-twice")->text(), QString("= 0.6 mm"));
    QVERIFY(label("mark-depth")->text().isEmpty());
    QCOMPARE(label("mark-twice")->text(), QString("•"));  // it is not in the file
    auto* slider = w_->desk()->findChild<QSlider*>("parameter-slider");
    QVERIFY(!slider->isVisible());
    auto* value = row<QLineEdit>("parameters/depth");
    reach(value);
    QTest::mouseClick(value, Qt::LeftButton);
    QTRY_VERIFY(slider->isVisible());
    const int before = w_->document().undoStack()->count();
    slider->setSliderDown(true);
    for (const int at : {120, 150, 200}) slider->setValue(at);
    slider->setSliderDown(false);
    QCOMPARE(*document().parameters.find("depth")->number, 0.45);
    QCOMPARE(label("comes-twice")->text(), QString("= 0.9 mm"));
    QCOMPARE(label("mark-depth")->text(), QString("•"));
    QCOMPARE(w_->document().undoStack()->count(), before + 1);  // one act
    w_->document().undoStack()->undo();
    QCOMPARE(*document().parameters.find("depth")->number, 0.3);
    // drags in tables made one after the other are acts of their own
    for (const int at : {150, 50}) {
      w_->select("parts", "block");
      w_->select("model", {});
      settle();
      auto* again = w_->desk()->findChild<QSlider*>("parameter-slider");
      QTest::mouseClick(row<QLineEdit>("parameters/depth"), Qt::LeftButton);
      QTRY_VERIFY(again->isVisible());
      again->setSliderDown(true), again->setValue(at), again->setSliderDown(false);
    }
    w_->document().undoStack()->undo();
    QCOMPARE(*document().parameters.find("depth")->number, 0.375);
    w_.reset();
  }

  void aThingIsRenamedOnTheDeskAndABadNameIsSaid() {
    open();
    w_->select("materials", "steel");
    type(w_->desk()->findChild<QLineEdit*>("thingName"), "spring steel");
    QCOMPARE(document().parts.front().second.material, "spring steel");
    settle();
    type(w_->desk()->findChild<QLineEdit*>("thingName"), "a.b");
    QVERIFY(w_->desk()->findChild<QLabel*>("trouble")->text().contains("cannot be used"));
    QCOMPARE(document().materials.front().first, "spring steel");
    w_.reset();
  }

  void readinessListsAndLeadsToThePlace() {
    open();
    w_->document().edit("free it", [](model::Document& d) { d.supports.clear(); });
    prepared();
    auto* ready = w_->findChild<QToolButton*>("readiness");
    QVERIFY2(ready->text().contains("mend"), qPrintable(ready->text()));
    QTest::mouseClick(ready, Qt::LeftButton);
    QPushButton* show = nullptr;
    for (auto* b : w_->desk()->findChildren<QPushButton*>())
      if (b->text() == "Show block") show = b;
    QVERIFY(show);
    QTest::mouseClick(show, Qt::LeftButton);
    QCOMPARE(w_->desk()->name(), QString("block"));
    w_.reset();
  }

  void aLongReadinessScrolls() {
    open();
    w_->resize(1024, 700);
    w_->document().edit("many parts", [](model::Document& d) {
      const auto one = d.parts.front().second;
      for (int i = 1; i <= 40; ++i) d.parts("part number " + std::to_string(i) + " of many with a long name") = one;
    });
    prepared();
    QTest::mouseClick(w_->findChild<QToolButton*>("readiness"), Qt::LeftButton);
    settle();
    int seen = 0;
    for (auto* label : w_->desk()->findChildren<QLabel*>()) {
      if (!label->isVisible() || !label->wordWrap()) continue;
      QVERIFY2(label->height() >= label->heightForWidth(label->width()), qPrintable("squeezed: " + label->text()));
      ++seen;
    }
    QVERIFY(seen > 40);
    w_.reset();
  }

  void whatReadinessMendsCanBeUndone() {
    open();
    w_->document().edit("free it", [](model::Document& d) { d.supports.clear(); });
    prepared();
    auto* ready = w_->findChild<QToolButton*>("readiness");
    QTest::mouseClick(ready, Qt::LeftButton);
    auto* mend = w_->desk()->findChild<QPushButton*>("mend");
    QVERIFY(mend);
    QVERIFY2(mend->text().contains("stabilisation"), qPrintable(mend->text()));
    QTest::mouseClick(mend, Qt::LeftButton);
    QCOMPARE(w_->document().document().stabilisations.size(), size_t(1));
    prepared();
    QTRY_VERIFY2(!ready->text().contains("mend"), qPrintable(ready->text()));
    QTRY_VERIFY(!w_->desk()->findChild<QPushButton*>("mend"));  // the list is drawn anew
    QVERIFY(w_->document().undoStack()->undoText().contains("stabilisation"));
    w_->document().undoStack()->undo();
    QVERIFY(w_->document().document().stabilisations.empty());
    w_.reset();
  }
};

QObject* makeDeskTest() { return new DeskTest; }

}  // namespace anvil::app

#include "desk_test.moc"
