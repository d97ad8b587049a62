#include "app/view/section_bar.hpp"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QSignalBlocker>
#include <QSlider>
#include <QToolButton>
#include <algorithm>
#include <cmath>

#include "app/shown_units.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {

constexpr int slides = 400;

SectionBar::SectionBar(const DocumentStore& document, QWidget* parent) : QWidget(parent), document_(document) {
  setObjectName("plain"), setAttribute(Qt::WA_StyledBackground);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(12, 0, 12, 6);
  row->addWidget(new QLabel("Section across", this));
  for (int k = 0; k < 3; ++k) {
    axes_[k] = new QToolButton(this);
    axes_[k]->setText(QString("xyz")[k]), axes_[k]->setCheckable(true),
        axes_[k]->setObjectName(QString("section-") + QString("xyz")[k]);
    axes_[k]->setToolTip(QString("A plane square to ") + QString("xyz")[k]);
    connect(axes_[k], &QToolButton::clicked, this, [this, k] {
      if (section_.axis != k) section_.axis = k, section_.at = (bounds_[2 * k] + bounds_[2 * k + 1]) / 2;
      refresh(true);
    });
    row->addWidget(axes_[k]);
  }
  slider_ = new QSlider(Qt::Horizontal, this);
  slider_->setRange(0, slides), slider_->setFixedWidth(200), slider_->setObjectName("section-slider");
  connect(slider_, &QSlider::valueChanged, this, [this](int v) {
    const double low = bounds_[2 * section_.axis], high = bounds_[2 * section_.axis + 1];
    section_.at = low + (high - low) * v / slides;
    refresh(true);
  });
  row->addWidget(slider_);
  place_ = new QLineEdit(this);
  place_->setFixedWidth(86), place_->setObjectName("section-place"),
      place_->setToolTip("Where the plane stands; units may be given");
  connect(place_, &QLineEdit::editingFinished, this, [this] {
    try {
      place_->setToolTip("Where the plane stands; units may be given");
      section_.at = model::Quantities(document_.document())(place_->text().toStdString(), Kind::length, "section");
    } catch (const Error& e) {
      place_->setToolTip(e.what());
    }
    refresh(true);
  });
  row->addWidget(place_);
  flip_ = new QToolButton(this);
  flip_->setText("Other side"), flip_->setObjectName("section-flip"), flip_->setToolTip("Keep the other side of the plane");
  connect(flip_, &QToolButton::clicked, this, [this] { section_.keepAbove = !section_.keepAbove, refresh(true); });
  row->addWidget(flip_);
  row->addStretch();
  refresh(false);
}

void SectionBar::setBounds(const double b[6]) {
  std::copy_n(b, 6, bounds_);
  refresh(false);
}

void SectionBar::setSection(const Section& section) {
  section_ = section;
  refresh(false);
}

void SectionBar::refresh(bool tell) {
  const double low = bounds_[2 * section_.axis], high = bounds_[2 * section_.axis + 1];
  section_.at = std::clamp(section_.at, low, std::max(low, high));
  for (int k = 0; k < 3; ++k) axes_[k]->setChecked(section_.axis == k);
  {
    const QSignalBlocker block(slider_);
    slider_->setValue(high > low ? int(std::lround((section_.at - low) / (high - low) * slides)) : 0);
  }
  if (!place_->hasFocus() || tell) {
    const QSignalBlocker block(place_);
    place_->setText(units().quantity(section_.at, Kind::length));
  }
  if (tell) emit moved();
}

}  // namespace anvil::app
