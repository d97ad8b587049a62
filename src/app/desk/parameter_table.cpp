#include "app/desk/parameter_table.hpp"

#include <QEvent>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QSignalBlocker>
#include <QSlider>
#include <cmath>

#include "app/theme.hpp"
#include "app/typed.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/base/units.hpp"
#include "core/model/document.hpp"
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
  grid->setContentsMargins(0, 0, 0, 0), grid->setHorizontalSpacing(6), grid->setVerticalSpacing(3);
  int line = 0;
  for (const auto& own : document_.document().parameters.names()) {
    Row row;
    row.name = QString::fromStdString(own);
    row.mark = new QLabel(this), row.value = new QLineEdit(this), row.comes = new QLabel(this), row.uses = new QLabel(this);
    row.mark->setFixedWidth(8), row.mark->setObjectName("mark-" + row.name);
    auto* name = new QLabel(row.name, this);
    name->setBuddy(row.value);
    row.value->setObjectName("row-parameters/" + row.name), row.value->setAccessibleName(row.name);
    row.value->setToolTip("A number, a quantity with its unit, or a formula such as =2*wall");
    row.comes->setObjectName("comes-" + row.name), row.uses->setObjectName("uses-" + row.name);
    grid->addWidget(row.mark, line, 0), grid->addWidget(name, line, 1), grid->addWidget(row.value, line, 2),
        grid->addWidget(row.comes, line, 3), grid->addWidget(row.uses, line, 4);
    connect(row.value, &QLineEdit::editingFinished, this, [this, value = row.value, name = row.name] {
      if (!value->isModified()) return;  // it only lost the focus
      value->setModified(false);
      emit valueAsked(name, value->text(), 0);
    });
    row.value->installEventFilter(this);
    rows_.push_back(row), line += 2;  // below each there is room for the slider
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
      if (row.value->text() != shown(*e)) row.value->setText(shown(*e));
    }
    const auto* before = saved.parameters.find(name);
    const bool changed = !before || !(*before == *e);
    row.mark->setText(changed ? "•" : ""), row.mark->setToolTip(!changed ? QString()
                                                                : before ? "Saved as " + shown(*before)
                                                                         : "New");
    row.mark->setStyleSheet("color: " + theme().accentInk.name());
    QString comes;
    if (e->text.starts_with("=")) try {
        comes = "= " + QString::fromStdString(shortNumber(model::Quantities(d).parameters().at(name), 5));
      } catch (const std::exception&) {
        comes = "?";  // the desk says why
      }
    row.comes->setText(comes);
    const auto uses = model::usesOf(d, name);
    row.uses->setText(uses.empty() ? "unused" : uses.size() == 1 ? "1 use" : QString("%1 uses").arg(uses.size()));
    row.uses->setStyleSheet("color: " + theme().faint.name());
    QStringList places;
    for (const auto& u : uses) places << QString::fromStdString(model::placeInWords(u));
    row.uses->setToolTip(places.mid(0, 20).join("\n"));
  }
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
    if (rows_[i].name == name) grid_->removeWidget(slider_), grid_->addWidget(slider_, int(2 * i) + 1, 1, 1, 4);
  low_ = v == 0 ? -1 : v - 0.5 * std::abs(v), high_ = v == 0 ? 1 : v + 0.5 * std::abs(v);
  const QSignalBlocker block(slider_);
  slider_->setValue(slides / 2);
}

void ParameterTable::slide(int position) {
  if (sliding_.isEmpty()) return;
  const double raw = low_ + (high_ - low_) * position / slides,
               digit = std::pow(10, std::floor(std::log10((high_ - low_) / slides)));
  const auto number = QString::fromStdString(shortNumber(std::round(raw / digit) * digit, 6));
  emit valueAsked(sliding_, unit_.isEmpty() ? number : number + " " + unit_,
                  slider_->isSliderDown() ? gesture_ : document_.newGesture());
}

}  // namespace anvil::app
