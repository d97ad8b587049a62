#include "app/desk/material_bench.hpp"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPainterPath>
#include <QVBoxLayout>
#include <algorithm>

#include "app/theme.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/element/point_driver.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/quantities.hpp"
#include "core/problem/problem.hpp"

namespace anvil::app {

MaterialPlot::MaterialPlot(DocumentStore& document, QString name, QWidget* parent)
    : QWidget(parent), document_(document), name_(std::move(name)) {
  setFixedHeight(150);
  refresh();
}

void MaterialPlot::setPath(const QString& legs) {
  path_ = legs.trimmed();
  refresh();
}

void MaterialPlot::refresh() {
  points_.clear(), trouble_.clear();
  try {
    path_.isEmpty() ? asEntered() : asDriven();
  } catch (const Error& e) {
    points_.clear(), trouble_ = e.what();
  }
  update();
}

/// The curve by which the material was given.
void MaterialPlot::asEntered() {
  const auto* m = document_.document().materials.find(name_.toStdString());
  if (!m) return;
  const model::Quantities q(document_.document());
  const auto path = "materials/" + name_.toStdString();
  points_ = {{0, 0}}, across_ = "log strain", up_ = "true stress, MPa";
  if (m->rubber) {
    const auto law = analysis::rubberLaw(*m, q, path);
    for (int i = 1; i <= 80; ++i) points_.emplace_back(2. * i / 80, analysis::nominalTension(law, 1 + 2. * i / 80));
    across_ = "elongation", up_ = "nominal stress, MPa";
    return;
  }
  const double E = q(m->elastic.E, Kind::stress, path + "/elastic/E");
  if (m->plastic) {
    const auto law = analysis::plasticLaw(*m, q, path);
    const double end = std::max({0.02, law.hardening.span(), law.yieldAt(0) / E * 6});
    for (int i = 0; i <= 80; ++i) points_.emplace_back(end * i / 80 + law.yieldAt(end * i / 80) / E, law.yieldAt(end * i / 80));
  } else if (!m->elastic.rows.empty()) {
    (void)analysis::materialLaw(*m, q, path);
    for (const auto& row : m->elastic.rows) points_.emplace_back(q(row.at(0), Kind::number, ""), q(row.at(1), Kind::stress, ""));
  } else {
    points_.emplace_back(0.005, 0.005 * E);
  }
}

/// Stress against strain of the first component that the path names.
void MaterialPlot::asDriven() {
  const auto& d = document_.document();
  const auto* m = d.materials.find(name_.toStdString());
  if (!m) return;
  std::vector<element::Leg> legs;
  for (const auto& words : path_.split(';', Qt::SkipEmptyParts)) legs.push_back(element::legFrom(words.toStdString(), 60));
  if (legs.empty()) return;
  size_t shown = 0;
  for (size_t i = 6; i-- > 0;)
    if (legs.front().strain[i] || legs.front().stress[i]) shown = i;
  const auto law = analysis::materialLaw(*m, model::Quantities(d), "materials/" + name_.toStdString());
  for (const auto& s : element::drive(law, legs, d.geometry == "large")) points_.emplace_back(s.strain[shown], s.stress[shown]);
  across_ = QString("log strain ") + element::componentNames[shown],
  up_ = QString("true stress ") + element::componentNames[shown] + ", MPa";
}

void MaterialPlot::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF box(52, 8, width() - 64, height() - 36);
  p.setPen(theme().line), p.setBrush(theme().raised), p.drawRect(box);
  if (!trouble_.isEmpty()) {
    p.setPen(theme().accentInk);
    p.drawText(box.adjusted(8, 8, -8, -8), Qt::TextWordWrap, trouble_);
    return;
  }
  if (points_.size() < 2) return;
  double x0 = 0, x1 = 0, y0 = 0, y1 = 0;
  for (const auto& at : points_)
    x0 = std::min(x0, at.x()), x1 = std::max(x1, at.x()), y0 = std::min(y0, at.y()), y1 = std::max(y1, at.y());
  if (x1 - x0 <= 0 || y1 - y0 <= 0) return;
  const double room = 0.08 * (y1 - y0);
  y1 += y1 > 0 ? room : 0, y0 -= y0 < 0 ? room : 0;
  const auto place = [&](const QPointF& at) {
    return QPointF(box.left() + (at.x() - x0) / (x1 - x0) * box.width(), box.bottom() - (at.y() - y0) / (y1 - y0) * box.height());
  };
  p.setPen(QPen(theme().line, 1));
  if (y0 < 0) p.drawLine(place({x0, 0}), place({x1, 0}));
  if (x0 < 0) p.drawLine(place({0, y0}), place({0, y1}));
  QPainterPath path;
  for (size_t i = 0; i < points_.size(); ++i) i ? path.lineTo(place(points_[i])) : path.moveTo(place(points_[i]));
  p.setPen(QPen(theme().accent, 2)), p.setBrush(Qt::NoBrush), p.drawPath(path);
  p.setPen(theme().faint);
  QFont f = font();
  f.setPixelSize(12), p.setFont(f);
  const auto number = [](double v) { return QString::fromStdString(shortNumber(v, 3)); };
  p.drawText(QRectF(0, box.top() - 2, 48, 16), Qt::AlignRight, number(y1));
  p.drawText(QRectF(0, box.bottom() - 12, 48, 16), Qt::AlignRight, number(y0));
  p.drawText(box.adjusted(8, 4, 0, 0), Qt::AlignLeft | Qt::AlignTop, up_);  // beside the axis: below there is no room for both
  p.drawText(QRectF(box.left(), box.bottom() + 4, box.width(), 18), Qt::AlignRight,
             across_ + " " + (x0 < 0 ? number(x0) + " to " : "") + number(x1));
}

MaterialBench::MaterialBench(DocumentStore& document, const QString& name, QWidget* parent) : QWidget(parent) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0), layout->setSpacing(4);
  plot_ = new MaterialPlot(document, name, this);
  plot_->setObjectName("materialPlot");
  layout->addWidget(plot_);
  test_ = new QComboBox(this);
  test_->setObjectName("materialTest");
  test_->setToolTip("What a piece of the material answers when it is taken along a path, free of stress where nothing is said");
  const std::vector<std::pair<QString, QString>> tests{{"Curve as entered", ""},
                                                       {"Pull", "xx=0.1"},
                                                       {"Pull and let go", "xx=0.02; xx=stress 0"},
                                                       {"Two cycles", "xx=0.01; xx=-0.01; xx=0.01; xx=-0.01; xx=0.01"},
                                                       {"Shear to and fro", "xy=0.05; xy=-0.05; xy=0"},
                                                       {"Pull with sides held", "xx=0.02, yy=0, zz=0"}};
  for (const auto& [title, legs] : tests) test_->addItem(title, legs);
  test_->addItem("Path of my own", "own");
  layout->addWidget(test_);
  path_ = new QLineEdit(this);
  path_->setObjectName("materialPath"), path_->setPlaceholderText("xx=0.05; xx=stress 0");
  path_->setToolTip("Legs apart by ';'. Components xx, yy, zz, xy, yz, xz as strains (0.05, 5 %) or stresses (stress 200 MPa).");
  path_->hide();
  layout->addWidget(path_);
  connect(test_, &QComboBox::activated, this, [this] {
    const auto legs = test_->currentData().toString();
    path_->setVisible(!legs.isEmpty());
    if (legs != "own") path_->setText(legs);
    plot_->setPath(legs == "own" ? path_->text() : legs);
  });
  connect(path_, &QLineEdit::textEdited, this, [this] { test_->setCurrentIndex(test_->count() - 1); });
  connect(path_, &QLineEdit::editingFinished, this, [this] { plot_->setPath(path_->text()); });
  connect(&document, &DocumentStore::changed, plot_, &MaterialPlot::refresh);
}

}  // namespace anvil::app
