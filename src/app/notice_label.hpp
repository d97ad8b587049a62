// One line of words that ends in an ellipsis where it is longer than its room; all of it stands in the tooltip.
#pragma once
#include <QLabel>

namespace anvil::app {

class NoticeLabel : public QLabel {
 public:
  using QLabel::QLabel;

  void say(const QString& words) {
    words_ = words;
    setToolTip(words);
    fill();
  }
  const QString& words() const { return words_; }

 protected:
  void resizeEvent(QResizeEvent* e) override {
    QLabel::resizeEvent(e);
    fill();
  }

 private:
  void fill() { setText(fontMetrics().elidedText(words_, Qt::ElideRight, contentsRect().width())); }
  QString words_;
};

}  // namespace anvil::app
