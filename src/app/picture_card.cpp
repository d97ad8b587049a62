#include "app/picture_card.hpp"

#include <QKeyEvent>
#include <QPainter>
#include <algorithm>

#include "app/theme.hpp"

namespace anvil::app {

PictureCard::PictureCard(const QString& title, const QString& sentence, Picture picture, QSize size, QWidget* parent)
    : QAbstractButton(parent), sentence_(sentence), picture_(std::move(picture)), size_(size) {
  setText(title), setFixedSize(size), setCursor(Qt::PointingHandCursor), setFocusPolicy(Qt::StrongFocus);
  setAccessibleName(title), setAccessibleDescription(sentence), setToolTip(sentence);
}

/// Its keys are its own, not the window's.
bool PictureCard::event(QEvent* e) {
  if (e->type() == QEvent::ShortcutOverride) switch (static_cast<QKeyEvent*>(e)->key()) {
      case Qt::Key_Space:
      case Qt::Key_Left:
      case Qt::Key_Right:
      case Qt::Key_Return:
        e->accept();
    }
  return QAbstractButton::event(e);
}

void PictureCard::keyPressEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_Return || e->key() == Qt::Key_Enter) return click();
  QAbstractButton::keyPressEvent(e);
}

void PictureCard::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const bool marked = isChecked() || hasFocus() || underMouse();
  p.setPen(QPen(marked ? theme().accent : theme().line, isChecked() || hasFocus() ? 2 : 1)), p.setBrush(theme().raised);
  p.drawRoundedRect(QRectF(rect()).adjusted(1.5, 1.5, -1.5, -1.5), 6, 6);
  const double words = sentence_.isEmpty() ? 30 : 108;
  p.save();
  picture_(p, QRectF(14, 12, width() - 28, height() - words - 18));
  p.restore();
  QFont f = font();
  f.setWeight(QFont::DemiBold), p.setFont(f), p.setPen(theme().ink);
  p.drawText(QRectF(14, height() - words, width() - 28, 22), Qt::AlignVCenter, text());
  f.setWeight(QFont::Normal), f.setPixelSize(12), p.setFont(f), p.setPen(theme().faint);
  p.drawText(QRectF(14, height() - words + 22, width() - 28, words - 30), Qt::TextWordWrap, sentence_);
}

PictureCard::Picture outlinePicture(std::vector<QPainterPath> outlines) {
  return [outlines = std::move(outlines)](QPainter& p, const QRectF& frame) {
    QRectF all;
    for (const auto& path : outlines) all = all.united(path.boundingRect());
    if (all.isNull()) return;
    const double scale = std::min(frame.width() / std::max(all.width(), 1e-9), frame.height() / std::max(all.height(), 1e-9));
    const auto fit = QTransform::fromTranslate(-all.center().x(), -all.center().y()) * QTransform::fromScale(scale, scale) *
                     QTransform::fromTranslate(frame.center().x(), frame.center().y());
    p.setPen(QPen(theme().ink, 0.8)), p.setBrush(partColor(0));
    for (const auto& path : outlines) p.drawPath(fit.map(path));
  };
}

}  // namespace anvil::app
