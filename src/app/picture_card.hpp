// A button that is a picture with a title and, where there is one, a sentence.
#pragma once
#include <QAbstractButton>
#include <QPainterPath>
#include <functional>
#include <vector>

namespace anvil::app {

class PictureCard : public QAbstractButton {
  Q_OBJECT
 public:
  /// Paints into a frame of its own.
  using Picture = std::function<void(QPainter&, const QRectF&)>;
  PictureCard(const QString& title, const QString& sentence, Picture picture, QSize size, QWidget* parent = nullptr);
  const QString& sentence() const { return sentence_; }

 protected:
  void paintEvent(QPaintEvent*) override;
  bool event(QEvent* e) override;
  void keyPressEvent(QKeyEvent* e) override;
  void enterEvent(QEnterEvent*) override { update(); }
  void leaveEvent(QEvent*) override { update(); }
  QSize sizeHint() const override { return size_; }

 private:
  QString sentence_;
  Picture picture_;
  QSize size_;
};

/// Outlines of a part (as `silhouette` gives them) fitted into a frame.
PictureCard::Picture outlinePicture(std::vector<QPainterPath> outlines);

}  // namespace anvil::app
