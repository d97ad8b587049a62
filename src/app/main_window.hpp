// The window: bar on top; shelf, view and desk over the loading history; Curves.
#pragma once
#include <QMainWindow>

#include "app/command_box.hpp"
#include "app/curves/curves_page.hpp"
#include "app/desk/desk.hpp"
#include "app/desk/mesh_page.hpp"
#include "app/desk/touching_list.hpp"
#include "app/document_store.hpp"
#include "app/history/history_view.hpp"
#include "app/preparation.hpp"
#include "app/result_store.hpp"
#include "app/run_control.hpp"
#include "app/shelf/shelf.hpp"
#include "app/start_page.hpp"
#include "app/view/model_view.hpp"
#include "core/geometry/draw_lines.hpp"
#include "core/geometry/path.hpp"
#include "core/geometry/solid.hpp"

class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QStackedWidget;
class QToolButton;

namespace anvil::app {

class NewPage;
class MaterialPage;
class NextLine;
class NoticeLabel;

class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  MainWindow();
  ~MainWindow() override;
  /// Opens a model and the results beside it, if any. False (with words in the window) when it cannot be read.
  bool openModel(const QString& path);
  void run(bool resume = false);
  bool save();
  bool saveAs();
  /// Makes a part of each solid in a STEP file, as one undoable act.
  void bringIn(const QString& stepFile);

  DocumentStore& document() { return document_; }
  const Preparation& preparation() const { return preparation_; }
  ResultStore& results() { return results_; }
  RunControl& control() { return run_; }
  ModelView* view() { return view_; }
  HistoryView* history() { return history_; }
  Desk* desk() { return desk_; }
  Shelf* shelf() { return shelf_; }
  TouchingList* touching() { return touching_; }
  MeshPage* meshPage() { return mesh_; }
  CurvesPage* curves() { return curves_; }
  MaterialPage* materialPage() { return material_; }
  void showMaterial(const QString& name);
  void showPage(int index);  ///< 0 start, 1 model, 2 curves, 3 new model, 4 a material
  int page() const;
  QString noticeText() const;
  void select(const QString& kind, const QString& name);
  /// The mesh page: counts, quality, what a run takes.
  void showMesh();

 protected:
  void closeEvent(QCloseEvent* e) override;

 private:
  void buildBar();
  void buildPages();
  void buildCommands();
  void command(const QString& name, const QString& keys, std::function<void()> act, const QString& help = {});
  std::vector<Command> moreCommands();
  void notice(const QString& text);
  void updateBar();
  void showReadiness();
  void showTouching();
  void fitBolt();
  void addBeamBolt();
  void makeThin();
  void makeSlender();
  void drawLines();
  void drawOutline(bool rigid);
  void addOutline(const std::vector<geometry::Point2>& points, bool rigid);
  void addLine(const geometry::LineEnd& from, const geometry::LineEnd& to);
  void askForKind();
  void beginModel(const QString& kind, const QString& part);
  void goOn(const QString& stage);
  void keepRegion();
  void keepBox();
  void keepAsRegion(const model::Region& region);
  void startRun(bool resume);
  QString geometryFile();
  void askForGeometry();
  void addSolids(const QString& file, const std::vector<geometry::StepContent>& solids, const QString& trouble);
  QString resultsPath() const;

  DocumentStore document_;
  Preparation preparation_;
  ResultStore results_;
  RunControl run_;
  StartPage* start_;
  NewPage* new_;
  NextLine* next_;
  MaterialPage* material_;
  TouchingList* touching_ = nullptr;
  MeshPage* mesh_ = nullptr;
  ModelView* view_;
  HistoryView* history_;
  Desk* desk_;
  Shelf* shelf_;
  CurvesPage* curves_;
  QStackedWidget* pages_;
  QToolButton *name_, *modelTab_, *curvesTab_, *ready_, *stopMeshing_;
  QPushButton* runButton_;
  NoticeLabel* notice_;
  CommandBox* box_;
  QString scratch_;
  std::string drawnPart_;  ///< that the lines drawn belong to
};

}  // namespace anvil::app
