// The model's parameters: name, value, unit, what it comes to, where it is used; changed ones are marked, one can be slid.
#pragma once
#include <QWidget>
#include <vector>

#include "app/document_store.hpp"

class QGridLayout;
class QLabel;
class QLineEdit;
class QSlider;
class QToolButton;

namespace anvil::app {

class ParameterTable : public QWidget {
  Q_OBJECT
 public:
  ParameterTable(DocumentStore& document, QWidget* parent = nullptr);
  /// Values and marks as the document has them now; the rows stay.
  void refresh();
  const QString& sliding() const { return sliding_; }

 signals:
  /// A value was typed (`gesture` 0) or slid: all of one gesture are one act.
  void valueAsked(const QString& name, const QString& text, int gesture);

 protected:
  bool eventFilter(QObject* object, QEvent* e) override;

 private:
  struct Row {
    QString name;
    QLabel* mark;
    QLineEdit* value;
    QToolButton* unit;
    QLabel *comes, *uses;
  };
  static QString numberOf(const model::Entry& e);
  QString withOwnUnit(const QString& name, const QString& text) const;
  void showUnit(const Row& row, const model::Entry& e) const;
  void offerUnits(const QString& name);
  void choose(const QString& name);
  void slide(int position);

  DocumentStore& document_;
  std::vector<Row> rows_;
  QGridLayout* grid_;
  QSlider* slider_;
  QString sliding_, unit_;  ///< the parameter that is slid, and the unit it is written in
  double low_ = 0, high_ = 1;
  int gesture_ = 0;
};

}  // namespace anvil::app
