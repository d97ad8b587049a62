#include "app/desk/parameter_table.hpp"

#include <QEvent>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QSignalBlocker>
#include <QSlider>
#include <QToolButton>
#include <cmath>

#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "app/typed.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/base/units.hpp"
#include "core/model/document.hpp"
#include "core/model/entry_kinds.hpp"
#include "core/model/parameter_uses.hpp"
#include "core/model/place_words.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {

constexpr int slides = 200;

/// The number and unit of a value that is no formula.
static bool plainValue(const model::Entry& e, double& number, std::string& unit) {
  unit.clear();
  if (e.number) return number = *e.number, true;
  return !e.text.starts_with("=") && splitQuantity(e.text, number, unit);
}

ParameterTable::ParameterTable(DocumentStore& document, QWidget* parent) : QWidget(parent), document_(document) {
  auto* grid = grid_ = new QGridLayout(this);
  grid->setContentsMargins(0, 0, 0, 0), grid->setHorizontalSpacing(4), grid->setVerticalSpacing(3);
  int line = 0, column = 1;
  for (const char* title : {"Name", "Value", "Unit", "Used"}) {
    auto* label = new QLabel(title, this);
    label->setStyleSheet("color: " + theme().faint.name());
    grid->addWidget(label, line, column++);
  }
  ++line;
  for (const auto& own : document_.document().parameters.names()) {
    Row row;
    row.name = QString::fromStdString(own);
    row.mark = new QLabel(this), row.value = new QLineEdit(this), row.unit = new QToolButton(this), row.comes = new QLabel(this),
    row.uses = new QLabel(this);
    row.value->setMinimumWidth(52);  // the desk is not widened
    row.mark->setFixedWidth(8), row.mark->setObjectName("mark-" + row.name);
    auto* name = new QLabel(row.name, this);
    name->setBuddy(row.value);
    row.value->setObjectName("row-parameters/" + row.name), row.value->setAccessibleName(row.name);
    row.value->setToolTip("A number in the unit behind it, a quantity with another unit, or a formula such as =2*wall");
    row.unit->setObjectName("unit-" + row.name), row.unit->setAccessibleName("Unit of " + row.name);
    row.unit->setPopupMode(QToolButton::InstantPopup), row.unit->setFocusPolicy(Qt::StrongFocus);
    row.unit->setMenu(new QMenu(row.unit)), row.unit->setProperty("small", true);
    connect(row.unit->menu(), &QMenu::aboutToShow, this, [this, name = row.name] { offerUnits(name); });
    row.comes->setObjectName("comes-" + row.name), row.uses->setObjectName("uses-" + row.name);
    grid->addWidget(row.mark, line, 0), grid->addWidget(name, line, 1), grid->addWidget(row.value, line, 2),
        grid->addWidget(row.unit, line, 3), grid->addWidget(row.uses, line, 4), grid->addWidget(row.comes, line + 1, 2, 1, 3);
    connect(row.value, &QLineEdit::editingFinished, this, [this, value = row.value, name = row.name] {
      if (!value->isModified()) return;  // it only lost the focus
      value->setModified(false);
      emit valueAsked(name, withOwnUnit(name, value->text()), 0);
    });
    row.value->installEventFilter(this);
    rows_.push_back(row), line += 3;  // below each there is room for the slider
  }
  grid->setColumnStretch(2, 1);
  slider_ = new QSlider(Qt::Horizontal, this);
  slider_->setObjectName("parameter-slider"), slider_->setRange(0, slides);
  slider_->setToolTip("Slides the chosen parameter between half and one and a half of its value; the shape follows");
  connect(slider_, &QSlider::sliderPressed, this, [this] { gesture_ = document_.newGesture(); });
  connect(slider_, &QSlider::valueChanged, this, &ParameterTable::slide);
  slider_->hide();
  refresh();
}

void ParameterTable::refresh() {
  const auto& d = document_.document();
  const auto& saved = document_.saved();
  for (auto& row : rows_) {
    const auto name = row.name.toStdString();
    const auto* e = d.parameters.find(name);
    if (!e) continue;
    if (!row.value->hasFocus() || row.name == sliding_) {
      const QSignalBlocker block(row.value);
      if (row.value->text() != numberOf(*e)) row.value->setText(numberOf(*e));
    }
    showUnit(row, *e);
    const auto* before = saved.parameters.find(name);
    const bool changed = !before || !(*before == *e);
    row.mark->setText(changed ? "•" : ""), row.mark->setToolTip(!changed ? QString()
                                                                : before ? "Saved as " + shown(*before)
                                                                         : "New");
    row.mark->setStyleSheet("color: " + theme().accentInk.name());
    const auto uses = model::usesOf(d, name);
    row.uses->setText(uses.empty() ? "unused" : uses.size() == 1 ? "1 use" : QString("%1 uses").arg(uses.size()));
    row.uses->setStyleSheet("color: " + theme().faint.name());
    QStringList places;
    for (const auto& u : uses) places << QString::fromStdString(model::placeInWords(u));
    row.uses->setToolTip(places.mid(0, 20).join("\n"));
  }
}

/// The number of a value that is no formula, without its unit; formulas as they are.
QString ParameterTable::numberOf(const model::Entry& e) {
  double number = 0;
  std::string unit;
  if (!plainValue(e, number, unit) || unit.empty()) return shown(e);
  return shown(e).chopped(qsizetype(QString::fromStdString(unit).size())).trimmed();
}

/// What was typed; a bare number in the unit that the parameter is written in.
QString ParameterTable::withOwnUnit(const QString& name, const QString& text) const {
  const auto* e = document_.document().parameters.find(name.toStdString());
  double number = 0;
  std::string unit;
  const bool bare = typed(text).number.has_value();
  return e && bare && plainValue(*e, number, unit) && !unit.empty() ? text.trimmed() + " " + QString::fromStdString(unit) : text;
}

/// The unit that the value is in, by its own word or by what it stands for; and what it comes to in the units on show.
void ParameterTable::showUnit(const Row& row, const model::Entry& e) const {
  const auto& d = document_.document();
  const auto kind = model::kindOfParameter(d, row.name.toStdString());
  double number = 0;
  std::string unit;
  const bool plain = plainValue(e, number, unit);
  if (unit.empty() && kind) unit = model::fileUnit(d.units, *kind);
  const bool set = kind && units().unit(*kind) == QString::fromStdString(unit);
  row.unit->setEnabled(plain && (!kind || !commonUnits(*kind).empty()));
  row.unit->setText((unit.empty() ? "–" : QString::fromStdString(unit)) + (row.unit->isEnabled() ? " ▾" : ""));
  row.unit->setToolTip(!plain         ? "The formula's unit, by what it is made of and stands for"
                       : unit.empty() ? "Says what the number is: a length, a force, …"
                       : e.number
                           ? "The file's unit, by what the parameter stands for; choose another to write the same value in it"
                           : "Choose another to write the same value in it");
  QString comes;
  if (!plain || (kind && !set)) try {
      double value = model::Quantities(d).parameters().at(row.name.toStdString());  // in the file's unit
      if (kind && *kind != Kind::number) value = conversion(model::fileUnit(d.units, *kind), *kind).toCore(value);
      comes = "= " + (kind ? units().number(value, *kind, 5) + " " + units().unit(*kind)
                           : QString::fromStdString(shortNumber(value, 5)));
    } catch (const std::exception&) {
      comes = "?";  // the desk says why
    }
  row.comes->setText(comes.trimmed()), row.comes->setVisible(!comes.isEmpty());
}

/// Units of the parameter's kind, in which the same value is written; where it has none, units that say what it is.
void ParameterTable::offerUnits(const QString& name) {
  const auto& d = document_.document();
  const auto* e = d.parameters.find(name.toStdString());
  auto* menu = findChild<QToolButton*>("unit-" + name)->menu();
  menu->clear();
  double number = 0;
  std::string unit;
  if (!e || !plainValue(*e, number, unit)) return;
  const auto kind = model::kindOfParameter(d, name.toStdString());
  const auto offer = [&](Kind each) {
    for (const auto& other : commonUnits(each)) {
      double value = number;
      if (kind) {
        const auto own = unit.empty() ? model::fileUnit(d.units, each) : unit;
        value = conversion(other, each).fromCore(conversion(own, each).toCore(number));
      }
      const auto text = shown(value, 12) + " " + QString::fromStdString(other);
      menu->addAction(QString::fromStdString(other), this, [this, name, text] { emit valueAsked(name, text, 0); });
    }
  };
  if (kind) return offer(*kind);
  for (const Kind each : {Kind::length, Kind::force, Kind::stress, Kind::time, Kind::angle}) offer(each), menu->addSeparator();
}

bool ParameterTable::eventFilter(QObject* object, QEvent* e) {
  if (e->type() == QEvent::FocusIn)
    for (const auto& row : rows_)
      if (row.value == object) choose(row.name);
  return QWidget::eventFilter(object, e);
}

/// The slider goes round the value that the parameter has when it is chosen.
void ParameterTable::choose(const QString& name) {
  if (name == sliding_) return;
  const auto* e = document_.document().parameters.find(name.toStdString());
  double v = 0;
  std::string unit;
  const bool plain = e && plainValue(*e, v, unit);
  sliding_ = plain ? name : QString(), unit_ = QString::fromStdString(unit);
  slider_->setVisible(plain);
  if (!plain) return;
  for (size_t i = 0; i < rows_.size(); ++i)
    if (rows_[i].name == name) grid_->removeWidget(slider_), grid_->addWidget(slider_, int(3 * i) + 3, 1, 1, 4);
  low_ = v == 0 ? -1 : v - 0.5 * std::abs(v), high_ = v == 0 ? 1 : v + 0.5 * std::abs(v);
  const QSignalBlocker block(slider_);
  slider_->setValue(slides / 2);
}

void ParameterTable::slide(int position) {
  if (sliding_.isEmpty()) return;
  const double raw = low_ + (high_ - low_) * position / slides,
               digit = std::pow(10, std::floor(std::log10((high_ - low_) / slides)));
  const auto number = shown(std::round(raw / digit) * digit, 6);
  emit valueAsked(sliding_, unit_.isEmpty() ? number : number + " " + unit_,
                  slider_->isSliderDown() ? gesture_ : document_.newGesture());
}

}  // namespace anvil::app
