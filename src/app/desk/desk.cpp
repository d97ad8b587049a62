#include "app/desk/desk.hpp"

#include "app/desk/features.hpp"
#include "app/desk/help_label.hpp"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QRegularExpression>
#include <QScrollArea>
#include <QScrollBar>
#include <QStackedWidget>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/desk/material_bench.hpp"
#include "app/desk/parameter_table.hpp"
#include "app/desk/row_editor.hpp"
#include "app/new_thing.hpp"
#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/place_words.hpp"
#include "core/model/quantities.hpp"
#include "core/problem/problem.hpp"

namespace anvil::app {

Desk::Desk(DocumentStore& document, const Preparation& preparation, RunControl& run, QWidget* parent)
    : QWidget(parent), document_(document), preparation_(preparation) {
  setObjectName("side");
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  pages_ = new QStackedWidget(this);
  layout->addWidget(pages_);
  monitor_ = new Monitor(run, this);
  pages_->addWidget(monitor_);
  connect(&document_, &DocumentStore::changed, this, [this] {
    if (!editing_ && form_ && pages_->currentWidget() == form_) rebuildForm();
  });
  connect(&preparation, &Preparation::ready, this, &Desk::showEffects);
  connect(&units(), &ShownUnits::changed, this, [this] {
    if (form_) rebuildForm();
  });
  connect(&document_, &DocumentStore::opened, this, [this] { showThing("model", {}); });
}

void Desk::showThing(const QString& kind, const QString& name) {
  if (kind == kind_ && name == name_ && form_ && pages_->currentWidget() == form_) return;  // it follows changes by itself
  kind_ = kind, name_ = name;
  rebuildForm();
}

void Desk::reachRow(const QString& key) {
  QTimer::singleShot(0, this, [this, key] {  // once a new form has been laid out, and scrolled to where the last one was
    QTimer::singleShot(0, this, [this, key] {
      auto* box = form_ ? form_->findChild<QWidget*>("row-" + key) : nullptr;
      if (!box) return;
      unfold(box);
      box->setFocus(Qt::OtherFocusReason);
      form_->findChild<QScrollArea*>()->ensureWidgetVisible(box, 0, 60);
    });
  });
}

void Desk::showMonitor() { pages_->setCurrentWidget(monitor_); }

QWidget* Desk::scrolled(QWidget* page) {
  auto* outer = new QVBoxLayout(page);
  outer->setContentsMargins(0, 0, 0, 0);
  auto* area = new QScrollArea(page);
  area->setWidgetResizable(true);
  area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  outer->addWidget(area);
  auto* body = new QWidget;
  body->setObjectName("plain");
  area->setWidget(body);
  return body;
}

/// The thing's name, which can be changed, and what may be done with the whole of it.
void Desk::addHead(QVBoxLayout* layout, QWidget* body) {
  auto* head = new QHBoxLayout;
  if (kind_ == "model") {
    auto* title = new QLabel("Model", body);
    title->setObjectName("title");
    head->addWidget(title);
  } else {
    auto* title = new QLineEdit(name_, body);
    title->setObjectName("thingName");
    title->setToolTip("Name; what refers to it follows");
    connect(title, &QLineEdit::editingFinished, this, [this, title] {
      if (title->text() == name_) return;
      const auto from = name_;
      try {
        name_ = title->text().trimmed();
        document_.edit("rename " + from, [&](model::Document& d) { renameThing(d, kind_, from, name_); });
      } catch (const Error& e) {
        name_ = from, title->setText(from), say(QString::fromStdString(model::inWords(e)));
      }
    });
    head->setSpacing(2), head->addWidget(title, 1);
    auto* copy = new QToolButton(body);
    copy->setText("Copy"), copy->setObjectName("copyThing"), copy->setProperty("small", true),
        copy->setToolTip("Another one like this");
    connect(copy, &QToolButton::clicked, this, [this] {
      QString made;
      document_.edit("copy " + name_, [&](model::Document& d) { made = copyThing(d, kind_, name_); });
      if (!made.isEmpty()) emit placeAsked(kind_, made);
    });
    head->addWidget(copy);
    auto* remove = new QToolButton(body);
    remove->setText("Remove"), remove->setObjectName("removeThing"), remove->setProperty("small", true);
    connect(remove, &QToolButton::clicked, this, [this] {
      document_.edit("remove " + name_, [this](model::Document& d) { removeThing(d, kind_, name_); });
      emit removed();
    });
    head->addWidget(remove);
  }
  layout->addLayout(head);
}

/// A material's curves, and the ways to let it yield.
void Desk::addMaterialBench(QVBoxLayout* layout, QWidget* body) {
  layout->addWidget(new MaterialBench(document_, name_, body));
  auto* line = new QHBoxLayout;
  auto* curve = new QPushButton("Curve and table", body);
  curve->setObjectName("curveAndTable"), curve->setToolTip("The law beside its table; test data, fits, usual values");
  connect(curve, &QPushButton::clicked, this, [this] { emit curveAsked(name_); });
  line->addWidget(curve);
  const auto* m = document_.document().materials.find(name_.toStdString());
  if (m && !m->plastic && !m->rubber) {
    auto* add = new QPushButton("Let it yield", body);
    add->setObjectName("framed");
    connect(add, &QPushButton::clicked, this, [this] {
      document_.edit("let " + name_ + " yield", [this](model::Document& d) {
        if (auto* mat = d.materials.find(name_.toStdString())) mat->plastic.emplace(), mat->plastic->yield = 250;
      });
    });
    line->addWidget(add);
  }
  line->addStretch();
  layout->addLayout(line);
}

/// Adds features to a part that is made of them.
void Desk::addFeatureMenu(QVBoxLayout* layout, QWidget* body) {
  auto* add = new QPushButton("Add a feature", body);
  add->setObjectName("addFeature");
  auto* menu = new QMenu(add);
  for (const auto& kind : featureKinds())
    menu->addAction(kind, this, [this, kind] {
      document_.edit("add a " + kind + " to " + name_,
                     [&](model::Document& d) { addFeature(d, name_.toStdString(), kind, picked_); });
    });
  add->setMenu(menu);
  layout->addWidget(add);
}

/// A section's title, and what takes the section out. Where it can be folded the title is what opens it; what it holds goes into
/// the widget that is returned.
QVBoxLayout* Desk::addSectionHead(QVBoxLayout* layout, QWidget* body, const FormSection& section) {
  layout->addSpacing(8);
  auto* line = new QHBoxLayout;
  QVBoxLayout* inside = layout;
  QWidget* folded = nullptr;
  if (!section.foldable || !section.removable.isEmpty()) {
    auto* label = new QLabel(section.title.toUpper(), body);
    label->setObjectName("head");
    line->addWidget(label, 1);
  } else {
    auto* fold = new QToolButton(body);
    auto* rows = new QWidget(body);
    const auto key = kind_ + "/" + section.at + "/" + section.title;
    const bool open = opened_.value(key, !section.folded);
    fold->setObjectName("fold"), fold->setCheckable(true), fold->setChecked(open), fold->setFocusPolicy(Qt::StrongFocus);
    fold->setText(section.title), fold->setArrowType(open ? Qt::DownArrow : Qt::RightArrow);
    fold->setToolButtonStyle(Qt::ToolButtonTextBesideIcon), fold->setMinimumWidth(60);
    rows->setProperty("folded", QVariant::fromValue<QObject*>(fold)), rows->setVisible(open);
    connect(fold, &QToolButton::toggled, this, [this, fold, rows, key](bool on) {
      opened_[key] = on, rows->setVisible(on), fold->setArrowType(on ? Qt::DownArrow : Qt::RightArrow);
    });
    line->addWidget(fold), line->addStretch();
    inside = new QVBoxLayout(rows);
    inside->setContentsMargins(0, 0, 0, 0), inside->setSpacing(4);
    folded = rows;
  }
  if (!section.rows.empty() && section.rows.front().path.size() == 3 && section.rows.front().path.front() == "solid") {
    const int number = section.rows.front().path[1].toInt();
    auto* out = new QToolButton(body);
    out->setText("Take out"), out->setObjectName(QString("takeOut-%1").arg(number));
    connect(out, &QToolButton::clicked, this, [this, number] {
      document_.edit("take a feature out of " + name_,
                     [&](model::Document& d) { removeFeature(d, name_.toStdString(), number); });
    });
    line->addWidget(out);
  }
  if (!section.removable.isEmpty()) {
    auto* out = new QToolButton(body);
    out->setText("Take out"), out->setObjectName("without-" + section.removable.join("/"));
    connect(out, &QToolButton::clicked, this, [this, path = section.removable] {
      document_.edit("take " + path.back() + " out of " + name_,
                     [&](model::Document& d) { setPresent(d, kind_, name_, path, false); });
    });
    line->addWidget(out);
  }
  layout->addLayout(line);
  if (folded) layout->addWidget(folded);
  return inside;
}

void Desk::unfold(QWidget* row) {
  for (auto* up = row; up && up != form_; up = up->parentWidget())
    if (auto* fold = qobject_cast<QToolButton*>(up->property("folded").value<QObject*>())) fold->setChecked(true);
}

/// What the thing comes to, from the mesh as it is now.
void Desk::showEffects() {
  if (!effects_) return;
  QStringList lines;
  const auto& all = preparation_.readiness().effects;
  const auto it = all.find((kind_ + "/" + name_).toStdString());
  if (preparation_.current() && it != all.end())
    for (const auto& e : it->second)
      lines << QString("<span style='color:%1'>%2</span>&nbsp; <b>%3</b>")
                   .arg(theme().faint.name(), QString::fromStdString(e.label).toHtmlEscaped(), effectWords(e).toHtmlEscaped());
  effects_->setText(lines.join("<br>")), effects_->setVisible(!lines.isEmpty());
}

QString Desk::effectWords(const checks::Effect& e) {
  QStringList numbers;
  for (double v : e.numbers) numbers << (e.numbers.size() == 1 ? units().quantity(v, e.kind) : units().number(v, e.kind));
  QString words = numbers.join(e.vector ? ", " : " to ");
  if (e.numbers.size() > 1) words += units().behind(e.kind).mid(1);
  return (words + " " + QString::fromStdString(e.words)).trimmed();
}

void Desk::rebuildForm() {
  int scroll = 0;
  if (form_) {
    if (auto* area = form_->findChild<QScrollArea*>()) scroll = area->verticalScrollBar()->value();
  }
  auto* before = form_;         // shown until the new one stands, so that no other page is laid out between the two
  form_ = new QWidget(pages_);  // a widget is styled anew with all in it when it gets another parent
  auto* body = scrolled(form_);
  auto* area = form_->findChild<QScrollArea*>();
  auto* layout = new QVBoxLayout(body);
  layout->setContentsMargins(14, 12, 12, 12), layout->setSpacing(4);

  addHead(layout, body);
  trouble_ = new QLabel(body);
  trouble_->setObjectName("trouble"), trouble_->setWordWrap(true), trouble_->hide();
  layout->addWidget(trouble_);
  effects_ = new QLabel(body);
  effects_->setObjectName("effects"), effects_->setWordWrap(true), effects_->setTextFormat(Qt::RichText);
  layout->addWidget(effects_);
  showEffects();
  if (kind_ == "materials") addMaterialBench(layout, body);
  if (const auto* part = document_.document().parts.find(name_.toStdString());
      kind_ == "parts" && part && !part->slender &&
      (!part->solid.empty() || (document_.document().space == "solid" && part->shape.empty())))
    addFeatureMenu(layout, body);
  editors_.clear(), rows_ = shownRows();
  auto* inside = layout;
  for (const auto& section : describeThing(document_.document(), kind_, name_)) {
    inside = section.title.isEmpty() ? layout : addSectionHead(layout, body, section);
    if (kind_ == "model" && section.title == "Parameters")
      addParameters(layout, body);
    else
      for (const auto& row : section.rows) addRow(inside, row);
  }
  addAbsentMenu(layout, body);
  if (kind_ == "motions" || kind_ == "loads") {
    layout->addWidget(new HelpLabel("Its course is in the loading history below: double-click a cell.", body));
  }
  layout->addStretch();
  pages_->addWidget(form_);
  pages_->setCurrentWidget(form_);
  if (before) pages_->removeWidget(before), before->deleteLater();
  QTimer::singleShot(0, area, [area, scroll] { area->verticalScrollBar()->setValue(scroll); });
}

/// What the thing may have besides: a law of rubber, a place to be put at, a rule of a region.
void Desk::addAbsentMenu(QVBoxLayout* layout, QWidget* body) {
  auto absent = absentIn(document_.document(), kind_, name_);
  std::erase_if(absent, [this](const FormRow& row) {
    return kind_ == "materials" && row.path == QStringList("plastic");
  });  // it has a button
  if (absent.empty()) return;
  auto* add = new QPushButton("Add what it may have besides", body);
  add->setObjectName("addPart");
  auto* menu = new QMenu(add);
  menu->setToolTipsVisible(true);
  for (const auto& row : absent) {
    auto* action = menu->addAction(row.label.toLower(), this, [this, row] {
      document_.edit("add " + row.path.back() + " to " + name_,
                     [&](model::Document& d) { setPresent(d, kind_, name_, row.path, true); });
    });
    action->setToolTip(row.help), action->setObjectName(row.path.join("/"));
  }
  add->setMenu(menu);
  layout->addSpacing(8), layout->addWidget(add);
}

/// The table, and a line that takes "wall = 8": another parameter.
void Desk::addParameters(QVBoxLayout* layout, QWidget* body) {
  auto* table = new ParameterTable(document_, body);
  connect(table, &ParameterTable::valueAsked, this, [this, table](const QString& name, const QString& text, int gesture) {
    editing_ = true;  // the table keeps its rows
    try {
      document_.drag("parameter " + name, gesture, [&](model::Document& d) {
        assignThing(d, "model", {}, {"parameters", name}, text);
      });
      say({});
      (void)model::Quantities(document_.document());
    } catch (const Error& e) {
      say(QString::fromStdString(model::inWords(e)));
    }
    editing_ = false;
    table->refresh();
  });
  layout->addWidget(table);
  auto* box = new QLineEdit;
  box->setObjectName("newParameter"), box->setPlaceholderText("another: wall = 8");
  box->setToolTip("A name and a value with an equals sign between; entries use it as \"=2*wall\"");
  connect(box, &QLineEdit::returnPressed, this, [this, box] {
    const auto name = box->text().section('=', 0, 0).trimmed(), value = box->text().section('=', 1).trimmed();
    static const QRegularExpression word("^[A-Za-z][A-Za-z0-9_]*$");
    if (!word.match(name).hasMatch() || value.isEmpty())
      return say("A parameter is written as a name and a value: wall = 8. Names are letters, digits and _.");
    if (document_.document().parameters.find(name.toStdString())) return say("There is a parameter " + name + " already.");
    try {
      document_.edit("parameter " + name, [&](model::Document& d) { addParameter(d, name, value); });
    } catch (const Error& e) {
      say(QString::fromStdString(model::inWords(e)));
    }
  });
  layout->addWidget(box);
}

void Desk::addRow(QVBoxLayout* layout, const FormRow& row) {
  auto* editor = new RowEditor(document_, row, layout->parentWidget());
  editor->setPlaces(places_);
  connect(editor, &RowEditor::entered, this, [this, row](const QString& text) { commit(row, text); });
  connect(editor, &RowEditor::placesPointedAt, this, &Desk::placesPointedAt);
  connect(editor, &RowEditor::openAsked, this,
          [this, row](const QString& name) { emit placeAsked(row.newKind.isEmpty() ? "materials" : row.newKind, name); });
  connect(editor, &RowEditor::newAsked, this, [this, row] {
    QString made;
    document_.edit("a new one of the " + row.newKind + " for " + name_, [&](model::Document& d) {
      made = addThing(d, row.newKind, {});
      assignThing(d, kind_, name_, row.path, made);
    });
    emit placeAsked(row.newKind, made);
  });
  connect(editor, &RowEditor::pickingBegun, this, [this, editor] {
    for (auto* other : editors_)
      if (other != editor) other->endPicking();
    emit pickingAsked();
  });
  layout->addWidget(editor);
  editors_.push_back(editor);
}

bool Desk::takePicked(const QStringList& names) {
  for (auto* editor : editors_)
    if (form_ && pages_->currentWidget() == form_ && editor->takesPicked()) {
      editor->setPicked(names);
      return true;
    }
  return false;
}

void Desk::setPlaces(const QStringList& names) {
  places_ = names;
  for (auto* editor : editors_) editor->setPlaces(places_);
}

void Desk::commit(const FormRow& row, const QString& text) {
  editing_ = true;  // the form keeps its widgets while one of them is in use
  try {
    document_.edit(QString("%1 of %2").arg(row.label.toLower(), name_.isEmpty() ? "the model" : name_),
                   [&](model::Document& d) { assignThing(d, kind_, name_, row.path, text); });
    say({});
    const model::Quantities q(document_.document());
    if (kind_ == "materials")
      if (const auto* m = document_.document().materials.find(name_.toStdString()))
        (void)analysis::materialLaw(*m, q, "materials/" + name_.toStdString());
  } catch (const Error& e) {
    say(QString::fromStdString(model::inWords(e)));
  }
  editing_ = false;
  refresh();
}

void Desk::say(const QString& trouble) { trouble_->setText(trouble), trouble_->setVisible(!trouble.isEmpty()); }

/// Entries follow the document; another kind brings other entries: once a choice is closed.
void Desk::refresh() {
  if (shownRows() != rows_) {
    QTimer::singleShot(0, this, [this] {
      if (form_ && pages_->currentWidget() == form_) rebuildForm();
    });
    return;
  }
  QMap<QString, QString> texts;
  for (const auto& section : describeThing(document_.document(), kind_, name_))
    for (const auto& row : section.rows) texts[row.path.join('/')] = row.text;
  for (auto* editor : editors_)
    if (const auto it = texts.find(editor->row().path.join('/')); it != texts.end()) editor->setText(*it);
}

/// Paths of the entries and their headings: where one of them comes or goes the form is built anew.
QStringList Desk::shownRows() const {
  QStringList rows;
  for (const auto& section : describeThing(document_.document(), kind_, name_)) {
    rows << section.title;
    for (const auto& row : section.rows)
      rows << row.path.join("/") + (row.editor == FormRow::Editor::choice || row.editor == FormRow::Editor::toggles
                                        ? "=" + row.choices.join(',')
                                        : QString());
  }
  return rows;
}

void Desk::showOther(QWidget* page) {
  if (pages_->indexOf(page) < 0) pages_->addWidget(page);
  pages_->setCurrentWidget(page);
}

}  // namespace anvil::app
