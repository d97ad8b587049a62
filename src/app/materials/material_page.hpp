// The material desk, large: a law's curve beside its table; test data becomes a law; laws fitted to points; usual values.
#pragma once
#include <QWidget>
#include <optional>

#include "app/document_store.hpp"
#include "app/materials/curve_plot.hpp"
#include "core/base/pasted_table.hpp"
#include "core/material/rubber_fit.hpp"
#include "core/material/test_reading.hpp"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTableWidget;
class QToolButton;
class QVBoxLayout;

namespace anvil::app {

class MaterialPage : public QWidget {
  Q_OBJECT
 public:
  explicit MaterialPage(DocumentStore& document, QWidget* parent = nullptr);
  void show(const QString& material);
  const QString& name() const { return name_; }
  CurvePlot* plot() { return plot_; }
  /// Takes test data as it stands in a file or on the clipboard; says what is wrong with it where it is none.
  void takeData(const QString& text, const QString& from);

 signals:
  void left();

 private:
  void buildTable(QVBoxLayout* side);
  void buildData(QVBoxLayout* side);
  void buildLaws(QVBoxLayout* side);
  void buildRubber(QVBoxLayout* side);
  void refresh();
  void fillTable();
  void cellEdited(int row, int column);
  void readData();
  void takeAsLaw();
  void makeTable();
  void bilinear();
  void fitHardening(bool power);
  void fitRubber(material::RubberForm form);
  void takeTypical(size_t which);
  void openFile();
  void say(const QString& words);
  void edit(const QString& what, const std::function<void(model::Material&)>& change);
  const model::Material* material() const;
  double young() const;
  material::RowMeaning meaning() const;
  std::vector<material::TestPoint> rows() const;  ///< as they stand in the table, in core units
  void setRow(model::Material& m, size_t row, const material::TestPoint& value, bool strain, bool stress) const;
  /// A plastic, true point as it is shown.
  QPointF shown(const material::TestPoint& plasticTrue) const;
  /// The data as true stress over log strain, up to the greatest load; and its yield stress, true.
  material::TestCurve trueData() const;
  double yieldOfData() const;

  DocumentStore& document_;
  QString name_;
  CurvePlot* plot_;
  QComboBox *measure_, *strainIs_, *stressIs_, *strainUnit_, *stressUnit_, *dataIs_, *rubberTest_, *rubberForm_;
  QTableWidget* table_;
  QLabel *title_, *summary_, *said_;
  QWidget *metal_, *data_, *dataBox_, *rubber_;
  QLineEdit *modulus_, *yield_;
  QCheckBox* consistent_;
  QPushButton *take_, *slope_;
  std::optional<PastedTable> pasted_;
  QString from_;
  material::TestReading reading_;
  std::vector<material::RubberData> tests_;
  bool filling_ = false;
  int gesture_ = 0;
};

}  // namespace anvil::app
