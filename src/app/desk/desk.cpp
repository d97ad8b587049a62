#include "app/desk/desk.hpp"

#include "app/accessible.hpp"
#include "app/desk/features.hpp"
#include "app/desk/help_label.hpp"

#include <QApplication>
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
    if (!editing_ && form_ && pages_->currentWidget() == form_) refresh();
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

void Desk::unfold(QWidget* row) {
  for (auto* up = row; up && up != form_; up = up->parentWidget())
    if (auto* fold = qobject_cast<QToolButton*>(up->property("folded").value<QObject*>())) fold->setChecked(true);
}

/// What the thing comes to, from the mesh as it is now.
void Desk::showEffects() {
  if (!effects_) return;
  QStringList lines;
  const auto& all = preparation_.readiness().effects;  // those of before stay until the model has been looked at anew
  const auto it = all.find((kind_ + "/" + name_).toStdString());
  if (it != all.end())
    for (const auto& e : it->second)
      lines << QString("<span style='color:%1'>%2</span>&nbsp; <b>%3</b>")
                   .arg(theme().faint.name(), QString::fromStdString(e.label).toHtmlEscaped(), effectWords(e).toHtmlEscaped());
  effects_->setText(lines.join("<br>")), effects_->setVisible(!lines.isEmpty());
}

QString Desk::effectWords(const checks::Effect& e) {
  QStringList numbers;
  for (double v : e.numbers) numbers << (e.numbers.size() == 1 ? units().quantity(v, e.kind) : units().number(v, e.kind));
  if (!e.vector) numbers.removeDuplicates();  // from and to the same
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
  nameForAssistiveTools(form_);
  pages_->addWidget(form_);
  pages_->setCurrentWidget(form_);
  if (before) pages_->removeWidget(before), before->deleteLater();
  QTimer::singleShot(0, area, [area, scroll] { area->verticalScrollBar()->setValue(scroll); });
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
    if (!editing_ && !inEditor()) return rebuildForm();
    QTimer::singleShot(0, this, [this] {  // not under the hands of the editor that is in use
      if (form_ && pages_->currentWidget() == form_ && shownRows() != rows_) rebuildForm();
    });
    return;
  }
  QMap<QString, QString> texts;
  for (const auto& section : describeThing(document_.document(), kind_, name_))
    for (const auto& row : section.rows) texts[row.path.join('/')] = row.text;
  for (auto* editor : editors_)
    if (const auto it = texts.find(editor->row().path.join('/')); it != texts.end()) editor->setText(*it);
  if (auto* table = form_ ? form_->findChild<ParameterTable*>() : nullptr) table->refresh();
}

/// One of the entries has the keys.
bool Desk::inEditor() const {
  auto* focus = QApplication::focusWidget();
  return focus && form_ && form_->isAncestorOf(focus);
}

/// Paths of the entries, what they measure, and their headings: where one of them comes or goes the form is built anew.
QStringList Desk::shownRows() const {
  QStringList rows;
  for (const auto& section : describeThing(document_.document(), kind_, name_)) {
    rows << section.title;
    for (const auto& row : section.rows) {
      auto words = row.path.join("/");
      if (row.editor == FormRow::Editor::choice || row.editor == FormRow::Editor::toggles) words += "=" + row.choices.join(',');
      for (const auto& column : row.columns) words += " " + QString::number(int(column.kind));
      rows << words + " " + QString::number(int(row.kind));
    }
  }
  return rows;
}

void Desk::showOther(QWidget* page) {
  nameForAssistiveTools(page);
  if (pages_->indexOf(page) < 0) pages_->addWidget(page);
  pages_->setCurrentWidget(page);
}

}  // namespace anvil::app
