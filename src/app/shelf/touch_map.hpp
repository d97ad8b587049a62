// The touch map: all contacts of an assembly at once, parts by parts.
#pragma once
#include <QWidget>
#include <map>
#include <optional>

#include "app/document_store.hpp"
#include "app/result_store.hpp"

namespace anvil::app {

/// A triangle of cells under the diagonal of parts. A cell is filled where two parts touch: by its status when a result
/// is on show. Hovering lights both faces in the view; a click selects the contact, further clicks the next of the pair.
class TouchMap : public QWidget {
  Q_OBJECT
 public:
  TouchMap(DocumentStore& document, ResultStore& results, QWidget* parent = nullptr);
  QSize sizeHint() const override;
  int heightForWidth(int width) const override;
  bool hasHeightForWidth() const override { return true; }
  /// Middle of the cell of two parts, in this widget.
  QPointF cellOf(const QString& a, const QString& b) const;

 signals:
  void picked(const QString& kind, const QString& name);
  /// Faces of the contacts under the pointer and the parts they belong to; nothing when it leaves.
  void lit(const QStringList& faces, const std::vector<int>& parts);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mouseMoveEvent(QMouseEvent* e) override;
  void mousePressEvent(QMouseEvent* e) override;
  void leaveEvent(QEvent*) override;

 private:
  struct Touch {
    std::string contact;
    std::vector<std::string> faces;
  };
  using Pair = std::pair<int, int>;  ///< of parts, the lesser first
  void gather();
  double cellSize(int width) const;
  QRectF cell(Pair at) const;
  std::optional<Pair> pairAt(const QPointF& at) const;
  void drawCell(class QPainter& p, Pair at, const std::vector<Touch>& touches) const;

  DocumentStore& document_;
  ResultStore& results_;
  std::vector<std::string> parts_;
  std::map<Pair, std::vector<Touch>> touches_;
  std::optional<Pair> hovered_;
  size_t next_ = 0;
};

}  // namespace anvil::app
