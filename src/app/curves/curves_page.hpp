// Curves: any history against time or against any other, with a read-off cursor.
#pragma once
#include <QWidget>

#include "app/result_store.hpp"

class QComboBox;
class QCustomPlot;
class QLabel;
class QListWidget;
class QCPItemLine;
class QPushButton;

namespace anvil::app {

class CurvesPage : public QWidget {
  Q_OBJECT
public:
  explicit CurvesPage(ResultStore& results, QWidget* parent = nullptr);
  /// Shows y against x by history name ("time" for the time).
  void plot(const QString& x, const QStringList& y);
  QCustomPlot* plotWidget() { return plot_; }
  /// Table of the curves on show, as CSV.
  QString csv() const;
  /// Value of the first curve at x, by linear interpolation along it.
  double readOff(double x) const;

private:
  void reload();
  void redraw();
  void cursor(double x);
  std::vector<double> column(const QString& name) const;
  ResultStore& results_;
  QComboBox* x_;
  QListWidget* y_;
  QCustomPlot* plot_;
  QLabel* read_;
  QPushButton *copy_, *save_;
  std::vector<std::string> names_;   ///< offered
  bool filling_ = false;
};

}  // namespace anvil::app
