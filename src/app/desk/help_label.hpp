#pragma once
// A line of explanation that wraps. It remembers how high it is at a width: a plain label shapes its text again at each of the
// many questions that layouts ask, and forms with thirty of them were felt to hesitate.
#include <QEvent>
#include <QLabel>
#include <map>

namespace anvil::app {

class HelpLabel : public QLabel {
 public:
  explicit HelpLabel(const QString& text, QWidget* parent = nullptr) : QLabel(text, parent) {
    setObjectName("help"), setWordWrap(true), setTextFormat(Qt::PlainText);
  }

  /// Height in pixels that the text takes at a width.
  int heightForWidth(int width) const override {
    const auto [it, fresh] = heights_.try_emplace(width, 0);
    if (fresh) it->second = QLabel::heightForWidth(width);
    return it->second;
  }
  QSize sizeHint() const override { return {240, fontMetrics().height()}; }  // its height follows from the width it gets
  QSize minimumSizeHint() const override { return {80, fontMetrics().height()}; }

 protected:
  void changeEvent(QEvent* e) override {
    if (e->type() == QEvent::FontChange || e->type() == QEvent::StyleChange) heights_.clear();
    QLabel::changeEvent(e);
  }

 private:
  mutable std::map<int, int> heights_;
};

}  // namespace anvil::app
