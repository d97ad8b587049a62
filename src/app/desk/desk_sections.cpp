// Parts of the desk's forms: headings that open, features, what may be added, parameters.
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QRegularExpression>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/desk/desk.hpp"
#include "app/desk/features.hpp"
#include "app/desk/material_bench.hpp"
#include "app/desk/parameter_table.hpp"
#include "core/base/error.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/place_words.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {

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
  if (!section.rows.empty() && section.rows.front().path.size() == 3 && section.rows.front().path.front() == "solid" &&
      section.rows.front().path.back() == "name") {
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

}  // namespace anvil::app
