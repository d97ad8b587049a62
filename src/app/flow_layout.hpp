// Lays widgets out like words: side by side, going on in the next line where there is no more room.
#pragma once
#include <QLayout>
#include <vector>

namespace anvil::app {

class FlowLayout : public QLayout {
 public:
  explicit FlowLayout(QWidget* parent = nullptr, int gap = 4) : QLayout(parent), gap_(gap) { setContentsMargins(0, 0, 0, 0); }
  ~FlowLayout() override {
    for (auto* item : items_) delete item;
  }
  void addItem(QLayoutItem* item) override { items_.push_back(item); }
  int count() const override { return int(items_.size()); }
  QLayoutItem* itemAt(int i) const override { return i >= 0 && i < count() ? items_[size_t(i)] : nullptr; }
  QLayoutItem* takeAt(int i) override {
    auto* item = itemAt(i);
    if (item) items_.erase(items_.begin() + i);
    return item;
  }
  Qt::Orientations expandingDirections() const override { return {}; }
  bool hasHeightForWidth() const override { return true; }
  int heightForWidth(int width) const override { return place(QRect(0, 0, width, 0), false); }
  void setGeometry(const QRect& r) override {
    QLayout::setGeometry(r);
    place(r, true);
  }
  QSize sizeHint() const override { return minimumSize(); }
  QSize minimumSize() const override {
    return {60, items_.empty() ? 0 : items_.front()->minimumSize().height()};  // what is wider is cut, the page is not widened
  }

 private:
  /// Height that is needed; moves the widgets there too where asked.
  int place(const QRect& r, bool move) const {
    int x = r.x(), y = r.y(), line = 0;
    for (auto* item : items_) {
      const QSize s = item->sizeHint().boundedTo(QSize(r.width(), 1000));
      if (x > r.x() && x + s.width() > r.right() + 1) x = r.x(), y += line + gap_, line = 0;
      if (move) item->setGeometry(QRect(QPoint(x, y), s));
      x += s.width() + gap_, line = std::max(line, s.height());
    }
    return y + line - r.y();
  }
  std::vector<QLayoutItem*> items_;
  int gap_;
};

}  // namespace anvil::app
