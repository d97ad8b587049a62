#include "app/desk/desk.hpp"

#include "app/desk/features.hpp"
#include "app/desk/help_label.hpp"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
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

Desk::Desk(DocumentStore& document, RunControl& run, QWidget* parent) : QWidget(parent), document_(document) {
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
        name_ = from, title->setText(from), trouble_->setText(QString::fromStdString(model::inWords(e)));
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

/// A material's curves, and the way to let it yield.
void Desk::addMaterialBench(QVBoxLayout* layout, QWidget* body) {
  layout->addWidget(new MaterialBench(document_, name_, body));
  const auto* m = document_.document().materials.find(name_.toStdString());
  if (m && !m->plastic) {
    auto* add = new QPushButton("Let it yield", body);
    add->setObjectName("framed");
    connect(add, &QPushButton::clicked, this, [this] {
      document_.edit("let " + name_ + " yield", [this](model::Document& d) {
        if (auto* mat = d.materials.find(name_.toStdString())) mat->plastic.emplace(), mat->plastic->yield = 250;
      });
    });
    layout->addWidget(add);
  }
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

/// A section's title, and what takes the section out.
void Desk::addSectionHead(QVBoxLayout* layout, QWidget* body, const FormSection& section) {
  auto* label = new QLabel(section.title.toUpper(), body);
  label->setObjectName("head");
  layout->addSpacing(8);
  auto* line = new QHBoxLayout;
  line->addWidget(label, 1);
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
  trouble_->setObjectName("trouble"), trouble_->setWordWrap(true);
  layout->addWidget(trouble_);
  if (kind_ == "materials") addMaterialBench(layout, body);
  if (const auto* part = document_.document().parts.find(name_.toStdString());
      kind_ == "parts" && part && !part->slender &&
      (!part->solid.empty() || (document_.document().space == "solid" && part->shape.empty())))
    addFeatureMenu(layout, body);
  rows_.clear();
  for (const auto& section : describeThing(document_.document(), kind_, name_)) {
    if (!section.title.isEmpty()) addSectionHead(layout, body, section);
    const bool parameters = kind_ == "model" && section.title == "Parameters";
    for (const auto& row : section.rows) {
      if (!parameters) addRow(layout, row);
      rows_ << row.path.join("/");
    }
    if (parameters) addParameters(layout, body);
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
      trouble_->clear();
      (void)model::Quantities(document_.document());
    } catch (const Error& e) {
      trouble_->setText(QString::fromStdString(model::inWords(e)));
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
      return trouble_->setText("A parameter is written as a name and a value: wall = 8. Names are letters, digits and _.");
    if (document_.document().parameters.find(name.toStdString()))
      return trouble_->setText("There is a parameter " + name + " already.");
    try {
      document_.edit("parameter " + name, [&](model::Document& d) { addParameter(d, name, value); });
    } catch (const Error& e) {
      trouble_->setText(QString::fromStdString(model::inWords(e)));
    }
  });
  layout->addWidget(box);
}

void Desk::addRow(QVBoxLayout* layout, const FormRow& row) {
  auto* body = layout->parentWidget();
  auto* label = new QLabel(
      row.label + (row.unit.isEmpty() ? "" : "  <span style='color:" + theme().faint.name() + "'>" + row.unit + "</span>"), body);
  layout->addWidget(label);
  const auto key = row.path.join("/");
  QWidget* editor = nullptr;
  if (row.editor == FormRow::Editor::choice) {
    auto* box = new QComboBox(body);
    box->addItems(row.choices), box->setCurrentText(row.text);
    box->setFocusPolicy(Qt::StrongFocus), box->installEventFilter(this);
    connect(box, &QComboBox::textActivated, this, [this, row](const QString& t) { commit(row, t); });
    editor = box;
  } else if (row.editor == FormRow::Editor::check) {
    auto* box = new QCheckBox("yes", body);
    box->setChecked(row.text == "true");
    connect(box, &QCheckBox::toggled, this, [this, row](bool on) { commit(row, on ? "true" : "false"); });
    editor = box;
  } else if (row.editor == FormRow::Editor::table) {
    auto* box = new QPlainTextEdit(row.text, body);
    box->setLineWrapMode(QPlainTextEdit::NoWrap);  // a row is a line
    box->setFixedHeight(120),
        box->setPlaceholderText(row.help.contains("row each") ? QString() : "one row a line; paste from a sheet");
    connect(box, &QPlainTextEdit::textChanged, this, [this, row, box] { commit(row, box->toPlainText()); });
    editor = box;
  } else {
    auto* box = new QLineEdit(row.text, body);
    box->setCursorPosition(0);  // long text is read from its beginning
    connect(box, &QLineEdit::editingFinished, this, [this, row, box] { commit(row, box->text()); });
    editor = box;
  }
  editor->setObjectName("row-" + key);
  editor->setToolTip(row.help);
  layout->addWidget(editor);
  if (!row.help.isEmpty()) {
    layout->addWidget(new HelpLabel(row.help, body));
    layout->addSpacing(4);
  }
}

/// The wheel scrolls the desk; it must not change a choice that happens to pass under it.
bool Desk::eventFilter(QObject* object, QEvent* e) {
  if (e->type() != QEvent::Wheel || !qobject_cast<QComboBox*>(object)) return QWidget::eventFilter(object, e);
  e->ignore();
  return true;
}

void Desk::commit(const FormRow& row, const QString& text) {
  editing_ = true;  // the form keeps its widgets while one of them is in use
  try {
    document_.edit(QString("%1 of %2").arg(row.label.toLower(), name_.isEmpty() ? "the model" : name_),
                   [&](model::Document& d) { assignThing(d, kind_, name_, row.path, text); });
    trouble_->clear();
    const model::Quantities q(document_.document());
    if (kind_ == "materials")
      if (const auto* m = document_.document().materials.find(name_.toStdString()))
        (void)analysis::materialLaw(*m, q, "materials/" + name_.toStdString());
  } catch (const Error& e) {
    trouble_->setText(QString::fromStdString(model::inWords(e)));
  }
  editing_ = false;
  const bool chosen = row.editor == FormRow::Editor::choice || row.editor == FormRow::Editor::check;
  if (chosen && shownRows() != rows_)  // another kind, other entries: once the choice is closed
    QTimer::singleShot(0, this, [this] {
      if (form_ && pages_->currentWidget() == form_) rebuildForm();
    });
}

QStringList Desk::shownRows() const {
  QStringList rows;
  for (const auto& section : describeThing(document_.document(), kind_, name_))
    for (const auto& row : section.rows) rows << row.path.join("/");
  return rows;
}

void Desk::showOther(QWidget* page) {
  if (pages_->indexOf(page) < 0) pages_->addWidget(page);
  pages_->setCurrentWidget(page);
}

}  // namespace anvil::app
