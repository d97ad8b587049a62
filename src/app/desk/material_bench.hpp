// A material on the desk: its curve, redrawn as it is typed, and a test machine for one point of it.
#pragma once
#include <QWidget>
#include <vector>

#include "app/document_store.hpp"

class QComboBox;
class QLineEdit;

namespace anvil::app {

class MaterialPlot : public QWidget {
 public:
  MaterialPlot(DocumentStore& document, QString name, QWidget* parent);
  /// Legs apart by ';' that the material is taken through; empty: its curve as entered.
  void setPath(const QString& legs);
  /// What is drawn: strain or stretch across, stress up; empty with words in `trouble` when it cannot be.
  const std::vector<QPointF>& points() const { return points_; }
  const QString& trouble() const { return trouble_; }
  /// Worked out anew from the document.
  void refresh();

 protected:
  void paintEvent(QPaintEvent*) override;

 private:
  void asEntered();
  void asDriven();
  DocumentStore& document_;
  QString name_, path_, across_, up_, trouble_;
  std::vector<QPointF> points_;
};

class MaterialBench : public QWidget {
  Q_OBJECT
 public:
  MaterialBench(DocumentStore& document, const QString& name, QWidget* parent = nullptr);
  MaterialPlot* plot() { return plot_; }

 private:
  MaterialPlot* plot_;
  QComboBox* test_;
  QLineEdit* path_;
};

}  // namespace anvil::app
