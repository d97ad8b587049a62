#include "app/shelf/card.hpp"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QScrollArea>
#include <algorithm>

#include "app/shown_units.hpp"
#include "app/silhouette.hpp"
#include "app/theme.hpp"
#include "app/typed.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/geometry/facets.hpp"
#include "core/geometry/recipes.hpp"
#include "core/lower/lower.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/carriers.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/place_words.hpp"
#include "core/model/quantities.hpp"
#include "core/model/regions.hpp"
#include "core/model/shapes.hpp"
#include "core/problem/problem.hpp"

namespace anvil::app {
namespace {

QString words(const std::vector<std::string>& list) { return QString::fromStdString(inProse(list)); }

}  // namespace

Card::Card(DocumentStore& document, ResultStore& results, QString k, QString n, int index, QWidget* parent)
    : QWidget(parent), kind(std::move(k)), name(std::move(n)), document_(document), results_(results), index_(index) {
  setFixedHeight(kind == "parts" || kind == "materials" || kind == "contacts" ? 62 : 34);
  setCursor(Qt::PointingHandCursor), setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(QString::fromStdString(model::kindInWords(kind.toStdString())) + " " + name);
  if (kind == "parts") setToolTip("The eye fades the part to its outline, then hides it, then shows it again (E).");
}

void Card::mousePressEvent(QMouseEvent* e) {
  if (kind == "parts" && e->position().x() > width() - 38 && e->position().y() < 30) {
    return turnSight();
  }
  emit picked(kind, name);
}

void Card::turnSight() {
  sight = sight == Sight::shown ? Sight::faded : sight == Sight::faded ? Sight::hidden : Sight::shown;
  emit sightChanged(index_, sight);
  update();
}

/// The space bar and E are the card's while it has the keys; elsewhere they are the window's.
bool Card::event(QEvent* e) {
  if (e->type() == QEvent::ShortcutOverride) {
    const int key = static_cast<QKeyEvent*>(e)->key();
    if (key == Qt::Key_Space || key == Qt::Key_Return || key == Qt::Key_Enter || (key == Qt::Key_E && kind == "parts"))
      e->accept();
  }
  return QWidget::event(e);
}

void Card::keyPressEvent(QKeyEvent* e) {
  const int key = e->key();
  if (key == Qt::Key_Space || key == Qt::Key_Return || key == Qt::Key_Enter) return emit picked(kind, name);
  if (key == Qt::Key_E && kind == "parts") return turnSight();
  if (key == Qt::Key_Down || key == Qt::Key_Up) {  // from card to card
    const auto cards = parentWidget()->findChildren<Card*>();
    const auto to = cards.indexOf(this) + (key == Qt::Key_Down ? 1 : -1);
    if (to >= 0 && to < cards.size()) cards[to]->setFocus(Qt::TabFocusReason);
    return;
  }
  QWidget::keyPressEvent(e);
}

void Card::focusInEvent(QFocusEvent* e) {
  byKeys_ = e->reason() == Qt::TabFocusReason || e->reason() == Qt::BacktabFocusReason;
  for (auto* up = parentWidget(); up; up = up->parentWidget())
    if (auto* area = qobject_cast<QScrollArea*>(up)) area->ensureWidgetVisible(this);
  update();
}

void Card::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const auto& th = theme();
  p.setPen(QPen(chosen ? th.accent : hover_ ? th.faint : th.line, chosen ? 1.6 : 1)), p.setBrush(th.raised);
  p.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), 5, 5);
  if (byKeys_) {
    p.setPen(QPen(th.accent, 1, Qt::DashLine)), p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(QRectF(rect()).adjusted(3.5, 3.5, -3.5, -3.5), 3, 3);
  }
  if (kind == "parts")
    part(p);
  else if (kind == "materials")
    material(p);
  else if (kind == "contacts")
    contact(p);
  else
    acting(p);
}

static void twoLines(QPainter& p, const QRect& r, int left, const QString& a, const QString& b) {
  QFont f = p.font();
  const auto plain = f;
  f.setWeight(QFont::DemiBold), p.setFont(f), p.setPen(theme().ink);
  p.drawText(QRect(left, 8, r.width() - left - 38, 20), Qt::AlignVCenter,
             p.fontMetrics().elidedText(a, Qt::ElideRight, r.width() - left - 40));
  f = plain;
  f.setPixelSize(12), p.setFont(f), p.setPen(theme().faint);
  p.drawText(QRect(left, 30, r.width() - left - 8, 20), Qt::AlignVCenter,
             p.fontMetrics().elidedText(b, Qt::ElideRight, r.width() - left - 10));
  p.setFont(plain);
}

/// What a part is meshed with, or how thick a sheet it is.
QString Card::kindOf(const model::Part& part) const {
  if (part.slender) {
    const auto lines = int(part.slender->lines.size());
    return lines == 1 ? QString("a line") : QString("%1 lines").arg(lines);
  }
  if (!part.thin) return QString::fromStdString(part.element);
  try {
    return "sheet " +
           units().quantity(model::Quantities(document_.document())(part.thin->thickness, Kind::length, ""), Kind::length);
  } catch (const Error&) {
    return "sheet";
  }
}

void Card::part(QPainter& p) {
  const auto* part = document_.document().parts.find(name.toStdString());
  if (!part) return;
  const QRectF box(8, 8, 44, 46);
  QRectF all;
  const auto shapes = silhouette(document_.document(), *part);
  for (const auto& s : shapes) all = all.united(s.boundingRect());
  if (all.width() + all.height() > 0) {
    const double scale = std::min(box.width() / std::max(all.width(), 1e-9), box.height() / std::max(all.height(), 1e-9));
    p.setPen(QPen(part->rigid ? QColor("#5B6470") : theme().ink, part->rigid ? 2 : 0.8));
    p.setBrush(part->rigid ? Qt::NoBrush : QBrush(partColor(index_, QString::fromStdString(part->color))));
    const auto fit = QTransform::fromTranslate(-all.center().x(), -all.center().y()) * QTransform::fromScale(scale, scale) *
                     QTransform::fromTranslate(box.center().x(), box.center().y());
    for (const auto& s : shapes) p.drawPath(fit.map(s));
  }
  twoLines(p, rect(), 62, name,
           part->rigid              ? "rigid"
           : part->material.empty() ? "no material yet"
                                    : QString::fromStdString(part->material) + " · " + kindOf(*part));
  // the eye
  const QPointF c(width() - 21, 18);
  p.setPen(QPen(sight == Sight::hidden ? theme().line : theme().faint, 1.4)), p.setBrush(Qt::NoBrush);
  QPainterPath eye(c - QPointF(8, 0));
  eye.quadTo(c - QPointF(0, 8), c + QPointF(8, 0)), eye.quadTo(c + QPointF(0, 8), c - QPointF(8, 0));
  p.drawPath(eye);
  if (sight == Sight::hidden)
    p.drawLine(c + QPointF(-7, 6), c + QPointF(7, -6));
  else if (sight == Sight::shown)
    p.setBrush(theme().faint), p.drawEllipse(c, 2.4, 2.4);
}

void Card::material(QPainter& p) {
  const auto* m = document_.document().materials.find(name.toStdString());
  if (!m) return;
  const QRectF box(10, 10, 42, 42);
  p.setPen(QPen(theme().line, 1)), p.drawLine(box.bottomLeft(), box.bottomRight()), p.drawLine(box.bottomLeft(), box.topLeft());
  QString about;
  try {  // stress–strain curve as a spark line
    const model::Quantities q(document_.document());
    if (m->elastic.E.given()) about = "E " + units().quantity(q(m->elastic.E, Kind::stress, ""), Kind::stress);
    QPainterPath path(box.bottomLeft());
    if (m->plastic) {
      const auto law = analysis::plasticLaw(*m, q, name.toStdString());
      const double E = q(m->elastic.E, Kind::stress, ""), end = std::max(0.05, law.hardening.span());
      const double most = law.yieldAt(end) * 1.05, total = end + most / E;
      for (int i = 0; i <= 30; ++i) {
        const double a = end * i / 30, s = law.yieldAt(a);
        path.lineTo(box.left() + (a + s / E) / total * box.width(), box.bottom() - s / most * box.height());
      }
      about = "yields at " + units().quantity(law.yieldAt(0), Kind::stress);
    } else if (m->rubber) {
      const auto law = analysis::rubberLaw(*m, q, name.toStdString());
      about = "rubber, G " + units().quantity(law.shearModulus(), Kind::stress, 3);
      double most = 0;
      std::vector<double> nominal;  // incompressible tension to twice the length
      for (int i = 0; i <= 30; ++i)
        nominal.push_back(analysis::nominalTension(law, 1 + i / 30.)), most = std::max(most, nominal.back());
      for (int i = 0; i <= 30; ++i)
        path.lineTo(box.left() + i / 30. * box.width(), box.bottom() - nominal[size_t(i)] / most * box.height());
    } else {
      path.lineTo(box.topRight()), about += " · elastic";
    }
    p.setPen(QPen(theme().accent, 1.8)), p.setBrush(Qt::NoBrush), p.drawPath(path);
  } catch (const Error&) {
    about = "has a fault";
  }
  twoLines(p, rect(), 62, name, about);
}

/// Sum of the contact's pressure over its area at the moment on show: the force of a flat contact, the grip of a round one.
QString Card::forceWords() const {
  const auto* f = results_.history("contacts/" + name + "/pressure times area");
  const auto row = size_t(results_.moment().row);
  const double force = f && row < f->size() ? (*f)[row] : 0;
  return units().quantity(force, Kind::force, 3) + ", ";
}

QString Card::statusWords() const {
  const auto* c = document_.document().contacts.find(name.toStdString());
  if (!c) return {};
  QString kindWords = c->kind == "touching"
                          ? (c->friction.number && *c->friction.number == 0 ? "no friction" : "friction " + shown(c->friction))
                          : QString::fromStdString(c->kind);
  if (results_.isOpen() && results_.moment().row >= 0) {
    const auto tally = results_.contactTally(name);
    const int slides = tally.sliding, sticks = tally.sticking;
    kindWords = slides + sticks == 0
                    ? "open"
                    : forceWords() + (sticks == 0   ? "sliding"
                                      : slides == 0 ? "sticking"
                                                    : QString("%1 % sticks").arg(std::lround(100. * sticks / (slides + sticks))));
  }
  return kindWords;
}

void Card::contact(QPainter& p) {
  const auto* c = document_.document().contacts.find(name.toStdString());
  if (!c) return;
  for (int i = 0; i < 2 && i < int(c->between.size()); ++i) {
    const auto part = c->between[size_t(i)].substr(0, c->between[size_t(i)].find('.'));
    int index = 0;
    const auto names = document_.document().parts.names();
    for (size_t k = 0; k < names.size(); ++k)
      if (names[k] == part) index = int(k);
    const auto* owner = document_.document().parts.find(part);
    p.setPen(QPen(theme().raised, 1.5)), p.setBrush(partColor(index, owner ? QString::fromStdString(owner->color) : QString()));
    p.drawEllipse(QPointF(24 + 14 * i, 31), 11, 11);
  }
  twoLines(p, rect(), 62, name, statusWords());
}

void Card::acting(QPainter& p) {
  p.setPen(Qt::NoPen), p.setBrush(laneColor(kind)), p.drawRoundedRect(QRectF(10, 10, 6, height() - 20), 2, 2);
  QString about;
  const auto& d = document_.document();
  const auto n = name.toStdString();
  if (kind == "supports" && d.supports.find(n)) about = "holds " + words(d.supports.find(n)->fix);
  if (kind == "motions" && d.motions.find(n)) about = words(d.motions.find(n)->on);
  if (const auto* r = kind == "regions" ? d.regions.find(n) : nullptr)
    about = !r->cylinderOf.empty()  ? "cylinder of " + words(r->cylinderOf)
            : !r->tangentTo.empty() ? "smooth from " + words(r->tangentTo)
            : r->plane              ? "in a plane"
            : r->box                ? "in a box"
                                    : words(r->edges);
  if (kind == "carriers" && d.carriers.find(n))
    about = QString::fromStdString(d.carriers.find(n)->hold) + " on " + words(d.carriers.find(n)->on);
  if (const auto* b = kind == "bolts" ? d.bolts.find(n) : nullptr)
    about = b->beam ? "beam, " + words(b->beam->head) : words(b->on);
  if (kind == "springs" && d.springs.find(n)) about = words(d.springs.find(n)->between);
  if (kind == "temperatures" && d.temperatures.find(n)) about = words(d.temperatures.find(n)->on);
  if (kind == "stabilisations" && d.stabilisations.find(n)) about = words(d.stabilisations.find(n)->on);
  if (kind == "loads" && d.loads.find(n)) about = QString::fromStdString(d.loads.find(n)->kind);
  p.setPen(theme().ink);
  const int w = p.fontMetrics().horizontalAdvance(name);
  p.drawText(QRect(26, 0, width() - 30, height()), Qt::AlignVCenter,
             p.fontMetrics().elidedText(name, Qt::ElideRight, width() - 36));
  p.setPen(theme().faint);
  p.drawText(QRect(36 + w, 0, width() - w - 46, height()), Qt::AlignVCenter | Qt::AlignRight,
             p.fontMetrics().elidedText(about, Qt::ElideRight, width() - w - 48));
}

}  // namespace anvil::app
