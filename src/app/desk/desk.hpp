// The desk: the editor of what is selected, the run's monitor, or the readiness list.
#pragma once
#include <QMap>
#include <QWidget>

#include "app/desk/form.hpp"
#include "app/document_store.hpp"
#include "app/preparation.hpp"
#include "app/run_control.hpp"
#include "core/checks/readiness.hpp"

class QLabel;
class QStackedWidget;
class QVBoxLayout;
class QCustomPlot;
class QPushButton;

namespace anvil::app {

class RowEditor;

/// Residuals and corrections per iteration, words on the state, pause and stop.
class Monitor : public QWidget {
  Q_OBJECT
 public:
  Monitor(RunControl& run, QWidget* parent = nullptr);

 signals:
  void continueAsked();
  void nodeAsked(int node);

 private:
  void refresh();
  RunControl& run_;
  QLabel *head_, *facts_, *words_, *notes_;
  QCustomPlot* plot_;
  QPushButton *pause_, *stop_, *resume_;
};

class Desk : public QWidget {
  Q_OBJECT
 public:
  Desk(DocumentStore& document, const Preparation& preparation, RunControl& run, QWidget* parent = nullptr);
  void showThing(const QString& kind, const QString& name);
  void showMonitor();
  void showReadiness(const checks::Report& report);
  /// Goes to the editor of an entry ("parameters/wall") of what is shown.
  void reachRow(const QString& key);
  /// Opens the headings that an entry lies under.
  void unfold(QWidget* row);
  /// An entry takes what is picked in the view; false when none waits for it.
  bool takePicked(const QStringList& names);
  /// Names that can be typed where places are asked for.
  void setPlaces(const QStringList& names);
  /// Another page of the desk, owned by it from then on.
  void showOther(QWidget* page);
  const QString& kind() const { return kind_; }
  const QString& name() const { return name_; }
  Monitor* monitor() { return monitor_; }

 public slots:
  /// Faces picked in the view: what new fillets and chamfers work on.
  void setPicked(const QStringList& faces) { picked_ = faces; }

 signals:
  void placeAsked(const QString& kind, const QString& name);
  void readinessAsked();
  void removed();
  void curveAsked(const QString& material);        ///< the material's curve and table, large
  void placesPointedAt(const QStringList& names);  ///< to be lit in the view
  void pickingAsked();                             ///< an entry waits for what is picked in the view

 private:
  QStringList picked_;
  /// What of a page scrolls when the page is low.
  static QWidget* scrolled(QWidget* page);
  void rebuildForm();
  void addHead(QVBoxLayout* layout, QWidget* body);
  void addMaterialBench(QVBoxLayout* layout, QWidget* body);
  void addFeatureMenu(QVBoxLayout* layout, QWidget* body);
  QVBoxLayout* addSectionHead(QVBoxLayout* layout, QWidget* body, const FormSection& section);
  void showEffects();
  static QString effectWords(const checks::Effect& effect);
  void say(const QString& trouble);
  void refresh();
  bool inEditor() const;
  void addRow(QVBoxLayout* layout, const FormRow& row);
  void addParameters(QVBoxLayout* layout, QWidget* body);
  void addAbsentMenu(QVBoxLayout* layout, QWidget* body);
  void commit(const FormRow& row, const QString& text);
  /// Paths of the entries that the thing has at present.
  QStringList shownRows() const;
  DocumentStore& document_;
  const Preparation& preparation_;
  QStackedWidget* pages_;
  QWidget *form_ = nullptr, *list_ = nullptr;
  Monitor* monitor_;
  QLabel *trouble_ = nullptr, *effects_ = nullptr;
  std::vector<RowEditor*> editors_;
  QStringList places_;
  QMap<QString, bool> opened_;  ///< headings, as they were left
  QString kind_ = "model", name_;
  QStringList rows_;  ///< paths of the entries on show
  bool editing_ = false;
};

}  // namespace anvil::app
