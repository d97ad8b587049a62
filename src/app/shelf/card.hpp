// A card of the shelf.
#pragma once
#include <QWidget>

#include "app/document_store.hpp"
#include "app/result_store.hpp"
#include "app/view/scene.hpp"

namespace anvil::app {

/// A card: painted summary of one thing; click selects, the eye hides a part.
class Card : public QWidget {
  Q_OBJECT
 public:
  Card(DocumentStore& document, ResultStore& results, QString kind, QString name, int index, QWidget* parent = nullptr);
  QString kind, name;
  bool chosen = false;
  Sight sight = Sight::shown;

  /// A contact's kind, or with a result its force and status.
  QString statusWords() const;

 signals:
  void picked(const QString& kind, const QString& name);
  void sightChanged(int index, Sight sight);

 protected:
  void paintEvent(QPaintEvent*) override;
  void mousePressEvent(QMouseEvent* e) override;
  bool event(QEvent* e) override;
  void keyPressEvent(QKeyEvent* e) override;
  void focusInEvent(QFocusEvent* e) override;
  void focusOutEvent(QFocusEvent*) override { byKeys_ = false, update(); }
  void enterEvent(QEnterEvent*) override { hover_ = true, update(); }
  void leaveEvent(QEvent*) override { hover_ = false, update(); }

 private:
  void turnSight();
  void part(class QPainter& p);
  QString kindOf(const model::Part& part) const;
  void material(QPainter& p);
  void contact(QPainter& p);
  QString forceWords() const;
  void acting(QPainter& p);
  DocumentStore& document_;
  ResultStore& results_;
  int index_;
  bool hover_ = false, byKeys_ = false;  ///< the focus came by keys
};

}  // namespace anvil::app
