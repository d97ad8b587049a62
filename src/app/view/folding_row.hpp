// Widgets side by side that go on in another row where the width does not suffice.
#pragma once
#include <QLayout>
#include <QList>

namespace anvil::app {

/// A layout that sets its widgets in rows from left to right, each as wide as it likes to be, and folds where the
/// next one would not fit. A hidden widget takes no room. It is as narrow as its widest widget allows.
class FoldingRow : public QLayout {
 public:
  explicit FoldingRow(QWidget* parent) : QLayout(parent) {}
  ~FoldingRow() override;

  void addItem(QLayoutItem* item) override { items_.append(item); }
  int count() const override { return int(items_.size()); }
  QLayoutItem* itemAt(int i) const override { return items_.value(i); }
  QLayoutItem* takeAt(int i) override { return i >= 0 && i < count() ? items_.takeAt(i) : nullptr; }

  bool hasHeightForWidth() const override { return true; }
  int heightForWidth(int width) const override;
  QSize sizeHint() const override;
  QSize minimumSize() const override;
  void setGeometry(const QRect& all) override;

 private:
  /// Sets the items into `all` (moves them only if asked); the height they take, in pixels.
  int arrange(const QRect& all, bool move) const;
  QList<QLayoutItem*> items_;
};

}  // namespace anvil::app
