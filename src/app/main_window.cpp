#include "app/main_window.hpp"

#include <QApplication>
#include <QPointer>
#include <QThread>

#include <QCloseEvent>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QShortcut>
#include <QSplitter>
#include <QStackedWidget>
#include <QStandardPaths>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/accessible.hpp"
#include "app/materials/material_page.hpp"
#include "app/new_page.hpp"
#include "app/next_line.hpp"
#include "app/notice_label.hpp"
#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "app/units_button.hpp"
#include "app/view/feature_tool.hpp"
#include "app/view/line_tool.hpp"
#include "app/view/outline_tool.hpp"
#include "core/base/cache.hpp"
#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/base/text.hpp"
#include "core/checks/fit_bolt.hpp"
#include "core/geometry/solid.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/carriers.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"

namespace anvil::app {

MainWindow::MainWindow() : document_(this), preparation_(document_, this), results_(this), run_(this) {
  setWindowTitle("Unyielding Anvil");
  resize(1280, 800);
  buildPages();
  buildBar();
  buildCommands();
  connect(&document_, &DocumentStore::changed, this, &MainWindow::updateBar);
  connect(&preparation_, &Preparation::started, this, &MainWindow::showReadiness);
  connect(&preparation_, &Preparation::ready, this, &MainWindow::showReadiness);
  connect(&preparation_, &Preparation::meshing, this, [this](const QString& stage) {
    if (!preparation_.current()) ready_->setText("meshing " + stage), stopMeshing_->show();
  });
  connect(&document_, &DocumentStore::recovered, this, &MainWindow::notice);
  connect(&run_, &RunControl::changed, this, [this] {
    updateBar();
    if (!run_.active() && run_.state() == RunControl::State::finished) notice("The run is finished. Space plays the history.");
    if (run_.state() == RunControl::State::failed) notice(run_.message());
  });
  connect(&run_, &RunControl::incremented, this, [this] {
    if (!results_.isOpen() && !results_.busy()) results_.open(run_.results());
    results_.refresh(run_.active() || run_.state() == RunControl::State::finished);
  });
  connect(desk_->monitor(), &Monitor::continueAsked, this, [this] { run(true); });
  connect(desk_->monitor(), &Monitor::nodeAsked, view_, &ModelView::markNode);
  nameForAssistiveTools(this);
  updateBar();
}

// The widgets refer to the stores, which are members: they must go first.
MainWindow::~MainWindow() { delete takeCentralWidget(); }

void MainWindow::buildPages() {
  view_ = new ModelView(document_, preparation_, results_);
  history_ = new HistoryView(document_, results_, run_);
  desk_ = new Desk(document_, preparation_, run_);
  shelf_ = new Shelf(document_, results_);
  curves_ = new CurvesPage(results_);
  start_ = new StartPage;

  auto* upper = new QSplitter(Qt::Horizontal);
  upper->addWidget(shelf_), upper->addWidget(view_), upper->addWidget(desk_);
  upper->setSizes({236, 744, 300});
  upper->setStretchFactor(1, 1), upper->setHandleWidth(1);
  shelf_->setMinimumWidth(210), desk_->setMinimumWidth(250);
  auto* whole = new QSplitter(Qt::Vertical);
  whole->addWidget(upper), whole->addWidget(history_);
  whole->setStretchFactor(0, 1), whole->setHandleWidth(1), whole->setSizes({540, 216});

  next_ = new NextLine(document_);
  new_ = new NewPage;
  material_ = new MaterialPage(document_);
  auto* modelPage = new QWidget;
  auto* column = new QVBoxLayout(modelPage);
  column->setContentsMargins(0, 0, 0, 0), column->setSpacing(0);
  column->addWidget(next_), column->addWidget(whole, 1);

  pages_ = new QStackedWidget;
  pages_->addWidget(start_), pages_->addWidget(modelPage), pages_->addWidget(curves_), pages_->addWidget(new_),
      pages_->addWidget(material_);

  connect(shelf_, &Shelf::picked, this, &MainWindow::select);
  connect(shelf_, &Shelf::sightChanged, view_, &ModelView::setSight);
  connect(shelf_, &Shelf::lit, view_, &ModelView::light);
  connect(shelf_, &Shelf::touchingAsked, this, &MainWindow::showTouching);
  connect(shelf_, &Shelf::linesAsked, this, &MainWindow::drawLines);
  connect(view_->lineTool(), &LineTool::drawn, this, &MainWindow::addLine);
  connect(view_->outlineTool(), &OutlineTool::drawn, this, &MainWindow::addOutline);
  connect(view_->outlineTool(), &OutlineTool::said, this, &MainWindow::notice);
  connect(view_->featureTool(), &FeatureTool::said, this, &MainWindow::notice);
  connect(shelf_, &Shelf::outlineAsked, this, &MainWindow::drawOutline);
  connect(view_, &ModelView::slenderAsked, this, &MainWindow::makeSlender);
  connect(shelf_, &Shelf::regionAsked, this, &MainWindow::keepRegion);
  connect(history_, &HistoryView::selected, this, &MainWindow::select);
  connect(history_, &HistoryView::said, this, &MainWindow::notice);
  connect(desk_, &Desk::placeAsked, this, &MainWindow::select);
  connect(desk_, &Desk::removed, this, [this] { select("model", {}); });
  connect(view_, &ModelView::facesPicked, desk_, &Desk::setPicked);
  connect(desk_, &Desk::curveAsked, this, &MainWindow::showMaterial);
  connect(material_, &MaterialPage::left, this, [this] {
    if (page() == 4) showPage(1);
  });
  connect(desk_, &Desk::placesPointedAt, view_, &ModelView::highlightFaces);
  connect(desk_, &Desk::pickingAsked, this, [this] {
    results_.setRow(-1);  // places are picked as built
    notice("Click in the view; Ctrl takes more, Shift draws a box.");
  });
  connect(&preparation_, &Preparation::ready, this, [this] {
    QStringList places;
    for (const auto& face : preparation_.header().mesh.faces) places << QString::fromStdString(face.name);
    for (const auto& line : preparation_.header().mesh.lines) places << QString::fromStdString(line.name);
    desk_->setPlaces(places);
  });
  connect(&units(), &ShownUnits::changed, this, [this] {
    for (auto* w : findChildren<QWidget*>()) w->update();
    view_->refreshUnits();
  });
  connect(view_, &ModelView::facesPicked, this, [this](const QStringList& faces) {
    shelf_->setPickedFaces(faces);
    if (desk_->takePicked(faces)) return;
    if (faces.isEmpty()) {
      notice({});
      return;
    }
    notice((faces.size() == 1 ? QString("Picked ") : QString("Picked %1: ").arg(faces.size())) + faces.join(", ") +
           ".  + on the shelf adds what acts there; Ctrl picks more, Shift draws a box" +
           (document_.document().space == "solid" ? ", a right click picks by rule." : "."));
    shelf_->choose("parts", faces.back().section('.', 0, 0));
    desk_->showThing("parts", faces.back().section('.', 0, 0));
    view_->showShapesOf(faces.back().section('.', 0, 0));
  });
  connect(view_, &ModelView::regionAsked, this, &MainWindow::keepRegion);
  connect(view_, &ModelView::thinAsked, this, &MainWindow::makeThin);
  connect(view_, &ModelView::boxRegionAsked, this, &MainWindow::keepBox);
  connect(view_, &ModelView::boxRead, this, &MainWindow::notice);
  connect(view_, &ModelView::pinsSent, this, [this] { showPage(2); });
  connect(&results_, &ResultStore::tracesChanged, this, [this] {
    QStringList names;
    for (const auto& t : results_.traces()) names << t.name();
    if (!names.isEmpty() && page() == 2) curves_->plot("time", names);
  });
  connect(&results_, &ResultStore::refused, this, &MainWindow::notice);
  connect(&results_, &ResultStore::opened, this, [this] {
    if (run_.active()) return;
    const bool same = results_.header().model == model::print(document_.document());
    notice(same ? "Results of an earlier run are on show at the playhead's right."
                : "The stored results belong to an earlier version of this model.");
  });
  connect(start_, &StartPage::openAsked, this, &MainWindow::openModel);
  connect(start_, &StartPage::openDialogAsked, this, [this] {
    const auto path = QFileDialog::getOpenFileName(this, "Open a model", {}, "Models (*.anvil)");
    if (!path.isEmpty()) openModel(path);
  });
  connect(start_, &StartPage::geometryAsked, this, [this] {
    const auto path = geometryFile();
    if (path.isEmpty()) return;
    results_.close();
    document_.openNew();
    bringIn(path);
  });
  connect(start_, &StartPage::newAsked, this, &MainWindow::askForKind);
  connect(new_, &NewPage::chosen, this, &MainWindow::beginModel);
  connect(new_, &NewPage::geometryAsked, this, [this](const QString& kind) {
    const auto path = geometryFile();
    if (path.isEmpty()) return;
    beginModel(kind, {});
    bringIn(path);
  });
  connect(new_, &NewPage::drawAsked, this, [this](const QString& kind) {
    beginModel(kind, {});
    drawOutline(false);
  });
  connect(new_, &NewPage::left, this, [this] { showPage(document_.isOpen() ? 1 : 0); });
  connect(next_, &NextLine::asked, this, &MainWindow::goOn);
  connect(&run_, &RunControl::incremented, next_, &QWidget::hide);
}

void MainWindow::buildBar() {
  auto* body = new QWidget;
  auto* layout = new QVBoxLayout(body);
  layout->setContentsMargins(0, 0, 0, 0), layout->setSpacing(0);
  auto* bar = new QWidget(body);
  bar->setObjectName("bar"), bar->setFixedHeight(48);
  auto* row = new QHBoxLayout(bar);
  row->setContentsMargins(10, 4, 12, 4), row->setSpacing(4);
  name_ = new QToolButton(bar);
  name_->setPopupMode(QToolButton::InstantPopup), name_->setObjectName("name");
  name_->setStyleSheet("QToolButton { font-weight: 600; } QToolButton::menu-indicator { image: none; }");
  auto* menu = new QMenu(name_);
  menu->addAction("New", this, &MainWindow::askForKind);
  menu->addAction("Open…", this, [this] { emit start_->openDialogAsked(); });
  menu->addAction("Bring in STEP geometry…", this, &MainWindow::askForGeometry);
  menu->addAction("Save", this, &MainWindow::save);
  menu->addAction("Save as…", this, &MainWindow::saveAs);
  menu->addSeparator();
  menu->addAction("Start page", this, [this] { start_->refresh(), showPage(0); });
  menu->addAction("Quit", this, &QWidget::close);
  name_->setMenu(menu);
  row->addWidget(name_);
  const auto tab = [&](const QString& text, int page) {
    auto* b = new QToolButton(bar);
    b->setText(text), b->setCheckable(true), b->setAutoExclusive(true);
    connect(b, &QToolButton::clicked, this, [this, page] { showPage(page); });
    row->addWidget(b);
    return b;
  };
  modelTab_ = tab("Model", 1), curvesTab_ = tab("Curves", 2);
  notice_ = new NoticeLabel(bar);
  notice_->setObjectName("help"), notice_->setMinimumWidth(40);
  notice_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  row->addSpacing(12), row->addWidget(notice_, 1);
  box_ = new CommandBox(body);
  box_->setFixedWidth(280);
  row->addWidget(box_);
  ready_ = new QToolButton(bar);
  ready_->setObjectName("readiness");
  const auto list = [this] { preparation_.whenCurrent([this] { desk_->showReadiness(preparation_.readiness()), showPage(1); }); };
  connect(ready_, &QToolButton::clicked, this, list);
  connect(desk_, &Desk::readinessAsked, this, list);
  stopMeshing_ = new QToolButton(bar);
  stopMeshing_->setObjectName("stopMeshing"), stopMeshing_->setText("Stop"),
      stopMeshing_->setToolTip("Ends the meshing; it begins anew with the next change"), stopMeshing_->hide();
  connect(stopMeshing_, &QToolButton::clicked, this, [this] { preparation_.stop(); });
  row->addWidget(new UnitsButton(bar)), row->addWidget(stopMeshing_), row->addWidget(ready_);
  runButton_ = new QPushButton("Run", bar);
  runButton_->setObjectName("run");
  connect(runButton_, &QPushButton::clicked, this, [this] { run_.active() ? run_.stop() : run(); });
  row->addWidget(runButton_);
  layout->addWidget(bar);
  layout->addWidget(pages_, 1);
  setCentralWidget(body);
}

void MainWindow::notice(const QString& text) { notice_->say(text); }
QString MainWindow::noticeText() const { return notice_->words(); }

void MainWindow::select(const QString& kind, const QString& name) {
  shelf_->choose(kind, name);
  desk_->showThing(kind, name);
  const auto& d = document_.document();
  QStringList on;
  const auto n = name.toStdString();
  const auto take = [&](const std::vector<std::string>& names) {
    for (const auto& own : names) on << QString::fromStdString(own);
  };
  if (kind == "supports" && d.supports.find(n)) take(d.supports.find(n)->on);
  if (kind == "motions" && d.motions.find(n)) take(d.motions.find(n)->on);
  if (kind == "loads" && d.loads.find(n)) take(d.loads.find(n)->on);
  if (kind == "carriers" && d.carriers.find(n)) take(d.carriers.find(n)->on);
  if (kind == "contacts" && d.contacts.find(n)) take(d.contacts.find(n)->between);
  if (const auto* b = kind == "bolts" ? d.bolts.find(n) : nullptr)
    take(b->on), b->beam ? (take(b->beam->head), take(b->beam->nut)) : void();
  if (kind == "regions" && d.regions.find(n))
    on << name, shelf_->setPickedFaces(on), desk_->setPicked(on);  // what is added acts on it
  view_->highlightFaces(on);
  view_->showShapesOf(kind == "parts" ? name : QString());
  view_->showContact(kind == "contacts" ? name : QString());
}

void MainWindow::showMaterial(const QString& name) {
  showPage(4);
  material_->show(name);
  material_->setFocus();
}

void MainWindow::showPage(int index) {
  pages_->setCurrentIndex(index);
  updateBar();
}
int MainWindow::page() const { return pages_->currentIndex(); }

void MainWindow::updateBar() {
  const bool open = document_.isOpen();
  const auto title = open ? QString::fromStdString(document_.document().title) : QString("Unyielding Anvil");
  name_->setText((title.isEmpty() ? QFileInfo(document_.path()).completeBaseName() : title) + (document_.dirty() ? " •" : "") +
                 "  ▾");
  for (QWidget* w : {static_cast<QWidget*>(modelTab_), static_cast<QWidget*>(curvesTab_), static_cast<QWidget*>(ready_),
                     static_cast<QWidget*>(runButton_)})
    w->setVisible(open);
  modelTab_->setChecked(page() == 1 || page() == 4), curvesTab_->setChecked(page() == 2);
  runButton_->setText(run_.active() ? "Stop" : "Run");
  setWindowTitle((title.isEmpty() ? "" : title + " – ") + "Unyielding Anvil");
}

void MainWindow::showReadiness() {
  if (!preparation_.current()) {
    ready_->setText("checking …"), ready_->setStyleSheet("");
    return;
  }
  stopMeshing_->hide();
  int faults = 0;
  for (const auto& f : preparation_.readiness().findings) faults += f.fault;
  const int doubts = int(preparation_.readiness().findings.size()) - faults;
  ready_->setText(faults   ? QString("%1 to mend").arg(faults)
                  : doubts ? QString("ready, %1 doubt%2").arg(doubts).arg(doubts > 1 ? "s" : "")
                           : "ready");
  ready_->setStyleSheet(faults ? "color: " + theme().accentInk.name() : "");
}

QString MainWindow::resultsPath() const {
  if (document_.path().isEmpty()) return scratch_ + "/untitled.results.h5";
  const QFileInfo f(document_.path());
  const QFileInfo folder(f.absolutePath());
  // examples may lie where nothing can be written
  const auto base =
      folder.isWritable() && !f.absoluteFilePath().startsWith(QFileInfo(StartPage::examplesFolder()).absoluteFilePath())
          ? f.absolutePath()
          : scratch_;
  return base + "/" + f.completeBaseName() + ".results.h5";
}

bool MainWindow::openModel(const QString& path) {
  notice({}), next_->hide();
  scratch_ = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/runs";
  makePrivate(scratch_.toStdString());
  try {
    document_.open(path);
  } catch (const Error& e) {
    notice(e.what());
    return false;
  }
  StartPage::remember(QFileInfo(path).absoluteFilePath());
  results_.close();
  showPage(1);
  if (QFileInfo::exists(resultsPath())) results_.open(resultsPath());
  return true;
}

bool MainWindow::save() {
  if (document_.path().isEmpty()) return saveAs();
  try {
    document_.save();
    notice("Saved.");
    return true;
  } catch (const Error& e) {
    notice(e.what());
    return false;
  }
}

bool MainWindow::saveAs() {
  const auto path = QFileDialog::getSaveFileName(this, "Save the model", document_.path(), "Models (*.anvil)");
  if (path.isEmpty()) return false;
  try {
    document_.save(path.endsWith(".anvil") ? path : path + ".anvil");
    StartPage::remember(document_.path());
    return true;
  } catch (const Error& e) {
    notice(e.what());
    return false;
  }
}

void MainWindow::run(bool resume) {
  if (run_.active() || !document_.isOpen()) return;
  if (!preparation_.current()) notice("Checking the model …");
  preparation_.whenCurrent([this, resume] { startRun(resume); });
}

void MainWindow::startRun(bool resume) {
  if (run_.active()) return;
  for (const auto& f : preparation_.readiness().findings)
    if (f.fault) {
      desk_->showReadiness(preparation_.readiness());
      notice("Not run: " + QString::fromStdString(f.what));
      return;
    }
  if (scratch_.isEmpty()) scratch_ = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/runs";
  makePrivate(scratch_.toStdString());
  const auto file = resultsPath(), modelFile = QString(file).replace(".results.h5", ".running.anvil");
  try {  // the run reads its own copy, so that editing can go on
    writeWhole(modelFile.toStdString(),
               model::print(model::rehomed(document_.document(), QFileInfo(modelFile).absolutePath().toStdString())));
  } catch (const Error& e) {
    notice(e.what());
    return;
  }
  results_.close(true);  // the run needs the file to itself to open it; it is on show again with the next increment
  if (!resume) QFile::remove(file);
  showPage(1);
  desk_->showMonitor();
  run_.start(modelFile, file, resume);
  notice({});
}

void MainWindow::closeEvent(QCloseEvent* e) {
  document_.autosave();  // unsaved changes are taken up at the next opening
  e->accept();
}

}  // namespace anvil::app
