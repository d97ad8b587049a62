// Curves: any history against time or against any other, of one run or several laid over each other, with a read-off cursor.
#pragma once
#include <QWidget>

#include "app/curves/laid_runs.hpp"
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
  /// Keeps the run on show, to lie under those that follow.
  void keep();
  /// Lays the run of a results file over the one on show.
  void add(const QString& file);
  const std::vector<LaidRun>& laid() const { return laid_; }

 protected:
  bool eventFilter(QObject* object, QEvent* e) override;

 private:
  /// As the run recorded it.
  Kind kindOf(const QString& name) const;
  static std::vector<double> inShownUnits(std::vector<double> values, Kind kind);
  void reload();
  void redraw();
  void cursor(double x);
  void fillRuns();
  void forget(int run);
  /// A curve on show: its name, and both columns in the units on show.
  struct Drawn {
    QString name;
    Kind kind;
    std::vector<double> x, y;
    int color;
    bool current;
  };
  std::vector<Drawn> drawn() const;
  std::vector<double> column(const QString& name) const;  ///< in the units on show
  ResultStore& results_;
  QComboBox* x_;
  QListWidget* y_;
  QCustomPlot* plot_;
  QLabel* read_;
  QPushButton *copy_, *save_;
  QListWidget* runs_;
  QPushButton *keep_, *add_;
  std::vector<LaidRun> laid_;
  std::vector<std::string> names_;  ///< offered
  bool filling_ = false;
};

}  // namespace anvil::app
