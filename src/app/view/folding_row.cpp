#include "app/view/folding_row.hpp"

#include <algorithm>

namespace anvil::app {

FoldingRow::~FoldingRow() { qDeleteAll(items_); }

int FoldingRow::heightForWidth(int width) const { return arrange(QRect(0, 0, width, 0), false); }

QSize FoldingRow::sizeHint() const {
  const QMargins m = contentsMargins();
  int width = 0, height = 0;
  for (const QLayoutItem* item : items_) {
    if (item->isEmpty()) continue;
    width += item->sizeHint().width() + (width ? spacing() : 0);
    height = std::max(height, item->sizeHint().height());
  }
  return {width + m.left() + m.right(), height + m.top() + m.bottom()};
}

QSize FoldingRow::minimumSize() const {
  const QMargins m = contentsMargins();
  QSize least;
  for (const QLayoutItem* item : items_)
    if (!item->isEmpty()) least = least.expandedTo(item->minimumSize());
  return least.grownBy(m);
}

void FoldingRow::setGeometry(const QRect& all) {
  QLayout::setGeometry(all);
  arrange(all, true);
}

int FoldingRow::arrange(const QRect& all, bool move) const {
  const QRect room = all.marginsRemoved(contentsMargins());
  QList<QPair<QLayoutItem*, QSize>> row;
  int top = room.top(), width = 0, height = 0;
  // Items of one row stand in the middle of its height.
  const auto close = [&] {
    int left = room.left();
    for (const auto& [item, size] : row) {
      if (move) item->setGeometry({QPoint(left, top + (height - size.height()) / 2), size});
      left += size.width() + spacing();
    }
    row.clear();
  };
  for (QLayoutItem* item : items_) {
    if (item->isEmpty()) continue;
    const QSize size = item->sizeHint().expandedTo(item->minimumSize());
    if (!row.isEmpty() && width + spacing() + size.width() > room.width()) {
      close();
      top += height + spacing();
      width = height = 0;
    }
    width += size.width() + (row.isEmpty() ? 0 : spacing());
    height = std::max(height, size.height());
    row.append({item, size});
  }
  close();
  return top + height - room.top() + contentsMargins().top() + contentsMargins().bottom();
}

}  // namespace anvil::app
