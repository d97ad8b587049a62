// What comes next in a new model, on one line, until it has run or is put away.
#pragma once
#include <QWidget>

#include "app/document_store.hpp"

class QToolButton;

namespace anvil::app {

class NextLine : public QWidget {
  Q_OBJECT
 public:
  explicit NextLine(DocumentStore& document, QWidget* parent = nullptr);
  /// Shows itself, unless it was put away for good.
  void begin();

 signals:
  void asked(const QString& what);  ///< "part", "material", "supports", "touching", "steps" or "run"

 private:
  void refresh();
  DocumentStore& document_;
  QList<QToolButton*> stages_;
};

}  // namespace anvil::app
