// The mesh at a glance: how much there is, what a run will cost, how well shaped the elements are, and which are worst.
#pragma once
#include <Eigen/Core>
#include <QWidget>

#include "app/document_store.hpp"
#include "app/preparation.hpp"
#include "core/mesh/quality.hpp"

class QComboBox;
class QLabel;
class QVBoxLayout;

namespace anvil::app {

/// How many elements have which shape, in twenty classes; heights by the logarithm, so that a single bad one shows.
class QualityBars : public QWidget {
  Q_OBJECT
 public:
  explicit QualityBars(QWidget* parent = nullptr);
  void setCounts(const std::vector<int>& counts);
  const std::vector<int>& counts() const { return counts_; }

 protected:
  void paintEvent(QPaintEvent*) override;
  bool event(QEvent* e) override;

 private:
  int classAt(const QPointF& at) const;
  QRectF bar(int i) const;
  std::vector<int> counts_;
};

class MeshPage : public QWidget {
  Q_OBJECT
 public:
  MeshPage(DocumentStore& document, Preparation& preparation, QWidget* parent = nullptr);
  /// Reads the mesh as it is now.
  void examine();
  const QualityBars* bars() const { return bars_; }
  const std::vector<mesh::CellQuality>& worst() const { return worst_; }
  QString cost() const;

 signals:
  /// The view is to colour elements by their shape, or no longer.
  void colouring(bool on);
  void looked(const Eigen::Vector3d& place, double size);

 protected:
  void showEvent(QShowEvent*) override;
  void hideEvent(QHideEvent*) override;

 private:
  void askCost();
  DocumentStore& document_;
  Preparation& preparation_;
  QLabel *counts_, *cost_, *least_;
  QComboBox* fineness_;
  QualityBars* bars_;
  QVBoxLayout* list_;
  QWidget* body_;
  std::vector<mesh::CellQuality> worst_;
  quint64 asked_ = 0;
};

}  // namespace anvil::app
