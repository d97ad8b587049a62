#include "app/new_page.hpp"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/picture_card.hpp"
#include "app/scrolled_page.hpp"
#include "app/silhouette.hpp"
#include "app/theme.hpp"
#include "app/view/folding_row.hpp"
#include "core/model/beginnings.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"

namespace anvil::app {
namespace {

QPolygonF at(const QRectF& f, std::initializer_list<QPointF> shares) {
  QPolygonF p;
  for (const auto& s : shares) p << QPointF(f.left() + s.x() * f.width(), f.top() + s.y() * f.height());
  return p;
}

void arrow(QPainter& p, const QPointF& from, const QPointF& to) {
  p.save();
  p.setPen(QPen(theme().accent, 2)), p.drawLine(from, to);
  const QPointF d = (to - from) / std::hypot((to - from).x(), (to - from).y()), n(-d.y(), d.x());
  p.setBrush(theme().accent), p.drawPolygon(QPolygonF{to, to - 8 * d + 4 * n, to - 8 * d - 4 * n});
  p.restore();
}

/// A section that goes on and on.
void paintStrain(QPainter& p, const QRectF& f) {
  const auto section = at(f, {{.12, .9}, {.12, .45}, {.3, .45}, {.3, .7}, {.5, .7}, {.5, .9}});
  const QPointF back(0.38 * f.width(), -0.36 * f.height());
  p.setPen(QPen(theme().ink, 1)), p.setBrush(partColor(0).darker(118));
  for (int i = 0; i < section.size(); ++i) {
    const QPointF a = section[i], b = section[(i + 1) % section.size()];
    if ((b - a).x() * back.y() - (b - a).y() * back.x() < 0) p.drawPolygon(QPolygonF{a, b, b + back, a + back});
  }
  p.setBrush(partColor(0)), p.drawPolygon(section);
  p.setPen(QPen(theme().faint, 1, Qt::DashLine));
  for (const int i : {1, 2, 4, 5}) p.drawLine(section[i] + back, section[i] + 1.3 * back);
}

/// A flat plate with a hole, pulled.
void paintStress(QPainter& p, const QRectF& f) {
  QPainterPath plate;
  plate.addRect(QRectF(f.left() + .2 * f.width(), f.top() + .3 * f.height(), .6 * f.width(), .45 * f.height()));
  plate.addEllipse(f.center() + QPointF(0, .025 * f.height()), .12 * f.height(), .12 * f.height());
  p.setPen(QPen(theme().ink, 1)), p.setBrush(partColor(0).darker(118)), p.drawPath(plate.translated(4, -4));
  p.setBrush(partColor(0)), p.drawPath(plate);
  const double y = f.center().y() + .025 * f.height();
  arrow(p, {f.left() + .2 * f.width(), y}, {f.left() + .02 * f.width(), y});
  arrow(p, {f.left() + .82 * f.width(), y}, {f.right() - .02 * f.width(), y});
}

/// Half a section beside its axis, with the way round.
void paintAxis(QPainter& p, const QRectF& f) {
  const double x = f.left() + .42 * f.width();
  p.setPen(QPen(theme().ink, 1)), p.setBrush(partColor(0));
  p.drawPolygon(at(f, {{.52, .25}, {.62, .25}, {.62, .68}, {.82, .68}, {.82, .85}, {.52, .85}}));
  p.setBrush(Qt::NoBrush), p.setPen(QPen(theme().faint, 1));
  p.drawPolygon(at(f, {{.32, .25}, {.22, .25}, {.22, .68}, {.02, .68}, {.02, .85}, {.32, .85}}));
  p.setPen(QPen(theme().faint, 1.4, Qt::DashDotLine)), p.drawLine(QPointF(x, f.top()), QPointF(x, f.bottom()));
  p.setPen(QPen(theme().accent, 2));
  p.drawArc(QRectF(x - .14 * f.width(), f.top() + .02 * f.height(), .28 * f.width(), .2 * f.height()), 200 * 16, 290 * 16);
}

/// A block with a hole, in space.
void paintSolid(QPainter& p, const QRectF& f) {
  p.setPen(QPen(theme().ink, 1));
  p.setBrush(partColor(0)), p.drawPolygon(at(f, {{.15, .4}, {.55, .52}, {.55, .98}, {.15, .84}}));
  p.setBrush(partColor(0).darker(118)), p.drawPolygon(at(f, {{.55, .52}, {.85, .36}, {.85, .8}, {.55, .98}}));
  p.setBrush(partColor(0).lighter(112)), p.drawPolygon(at(f, {{.15, .4}, {.45, .26}, {.85, .36}, {.55, .52}}));
  p.setBrush(partColor(0).darker(260)), p.drawEllipse(at(f, {{.5, .39}})[0], .07 * f.width(), .055 * f.height());
}

/// A bent sheet.
void paintThin(QPainter& p, const QRectF& f) {
  QPainterPath edge(at(f, {{.06, .62}})[0]);
  const auto to = at(f, {{.2, .15}, {.45, .2}, {.6, .55}, {.7, .75}, {.8, .8}, {.94, .66}});
  edge.cubicTo(to[0], to[1], to[2]), edge.cubicTo(to[3], to[4], to[5]);
  const QPointF back(.05 * f.width(), -.24 * f.height());
  QPainterPath sheet = edge;
  sheet.lineTo(edge.currentPosition() + back);
  sheet.connectPath(edge.translated(back).toReversed());
  sheet.closeSubpath();
  p.setPen(QPen(theme().ink, 1)), p.setBrush(partColor(0)), p.drawPath(sheet);
  p.setBrush(Qt::NoBrush), p.setPen(QPen(theme().ink, 3.5)), p.drawPath(edge);
}

PictureCard::Picture pictureOf(const std::string& kind) {
  return kind == "plane strain"   ? paintStrain
         : kind == "plane stress" ? paintStress
         : kind == "axisymmetric" ? paintAxis
         : kind == "solid"        ? paintSolid
                                  : paintThin;
}

QLabel* heading(const QString& text, QWidget* parent) {
  auto* l = new QLabel(text, parent);
  l->setObjectName("head");
  return l;
}

}  // namespace

NewPage::NewPage(QWidget* parent) : QWidget(parent) {
  layout_ = scrolledPage(this);
  auto* body = layout_->parentWidget();
  layout_->setContentsMargins(48, 32, 48, 24), layout_->setSpacing(10);
  auto* title = new QLabel("New model", body);
  title->setStyleSheet("font-size: 22px; font-weight: 600;");
  auto* back = new QPushButton("Back", body);
  back->setObjectName("framed"), back->setToolTip("To where you were (Esc)");
  connect(back, &QPushButton::clicked, this, &NewPage::left);
  auto* top = new QHBoxLayout;
  top->addWidget(title), top->addStretch(), top->addWidget(back);
  layout_->addLayout(top);
  layout_->addWidget(heading("WHAT KIND IS IT?", body));
  auto* row = new QWidget(body);
  auto* cards = new FoldingRow(row);
  cards->setContentsMargins(0, 0, 0, 0), cards->setSpacing(12);
  for (const auto& b : model::beginnings()) {
    const auto name = QString::fromStdString(b.name);
    auto* card = new PictureCard(name, QString::fromStdString(b.sentence), pictureOf(b.name), {176, 226}, row);
    card->setObjectName("kind-" + name), card->setCheckable(true), card->setAutoExclusive(true);
    connect(card, &QAbstractButton::clicked, this, [this, name] { choose(name); });
    cards->addWidget(card);
    kinds_ << card;
  }
  layout_->addWidget(row);
  layout_->addStretch();
}

void NewPage::begin() {
  for (auto* card : kinds_) card->setAutoExclusive(false), card->setChecked(false), card->setAutoExclusive(true);
  kind_.clear();
  if (parts_) parts_->hide(), parts_->deleteLater(), parts_ = nullptr;
  kinds_.front()->setFocus(Qt::OtherFocusReason);
}

void NewPage::choose(const QString& kind) {
  kind_ = kind;
  if (parts_) parts_->hide(), parts_->deleteLater();
  parts_ = new QWidget(this);
  auto* column = new QVBoxLayout(parts_);
  column->setContentsMargins(0, 12, 0, 0), column->setSpacing(10);
  column->addWidget(heading("WHAT DOES IT BEGIN WITH?", parts_));
  auto* row = new QWidget(parts_);
  auto* cards = new FoldingRow(row);
  cards->setContentsMargins(0, 0, 0, 0), cards->setSpacing(12);
  const auto add = [&](const QString& title, PictureCard::Picture picture, const QString& help) {
    auto* card = new PictureCard(title, {}, std::move(picture), {140, 132}, row);
    card->setObjectName("begin-" + title), card->setToolTip(help);
    cards->addWidget(card);
    return card;
  };
  const auto nothing = [](QPainter& p, const QRectF& f) {
    p.setPen(QPen(theme().faint, 1.4, Qt::DashLine));
    p.drawRect(QRectF(f.center() - QPointF(30, 22), QSizeF(60, 44)));
  };
  const auto file = [](QPainter& p, const QRectF& f) {  // a sheet of paper with a corner turned down, and a block on it
    const QPointF c = f.center();
    p.setPen(QPen(theme().ink, 1)), p.setBrush(theme().paper);
    p.drawPolygon(
        QPolygonF{c + QPointF(-26, -34), c + QPointF(12, -34), c + QPointF(26, -20), c + QPointF(26, 34), c + QPointF(-26, 34)});
    p.drawPolyline(QPolygonF{c + QPointF(12, -34), c + QPointF(12, -20), c + QPointF(26, -20)});
    p.setBrush(partColor(0)), p.drawRect(QRectF(c + QPointF(-15, -8), QSizeF(30, 26)));
  };
  for (const auto& b : model::beginnings()) {
    if (b.name != kind.toStdString()) continue;
    for (const auto& own : b.parts) {
      const auto d = model::begun(b.name, own);
      const auto part = QString::fromStdString(own);
      auto* card =
          add(part, outlinePicture(silhouette(d, d.parts.front().second)), "A part of typical steel; change it at its desk");
      connect(card, &QAbstractButton::clicked, this, [this, kind, part] { emit chosen(kind, part); });
    }
    if (b.space != "solid") {
      const auto drawn = [](QPainter& p, const QRectF& f) {  // a way that is not closed yet, with its points
        const auto way = at(f, {{.2, .75}, {.8, .75}, {.8, .5}, {.45, .5}, {.45, .2}, {.25, .25}});
        p.setPen(QPen(theme().accent, 2)), p.setBrush(Qt::NoBrush), p.drawPolyline(way);
        p.setBrush(theme().raised);
        for (const auto& x : way) p.drawRect(QRectF(x - QPointF(3.5, 3.5), QSizeF(7, 7)));
      };
      auto* card = add("draw it", drawn, "An outline, point by point");
      connect(card, &QAbstractButton::clicked, this, [this, kind] { emit drawAsked(kind); });
    }
    if (b.space == "solid") {
      auto* card = add("STEP geometry…", file, "Parts of a CAD file");
      connect(card, &QAbstractButton::clicked, this, [this, kind] { emit geometryAsked(kind); });
    }
  }
  auto* none = add("nothing yet", nothing, "An empty model");
  connect(none, &QAbstractButton::clicked, this, [this, kind] { emit chosen(kind, {}); });
  column->addWidget(row);
  layout_->insertWidget(layout_->count() - 1, parts_);
}

}  // namespace anvil::app
