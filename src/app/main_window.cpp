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

#include "app/theme.hpp"
#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/base/text.hpp"
#include "core/checks/fit_bolt.hpp"
#include "core/geometry/solid.hpp"
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
    if (!preparation_.current()) ready_->setText("meshing " + stage);
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
  updateBar();
}

// The widgets refer to the stores, which are members: they must go first.
MainWindow::~MainWindow() { delete takeCentralWidget(); }

void MainWindow::buildPages() {
  view_ = new ModelView(document_, preparation_, results_);
  history_ = new HistoryView(document_, results_, run_);
  desk_ = new Desk(document_, run_);
  shelf_ = new Shelf(document_, results_);
  curves_ = new CurvesPage(results_);
  start_ = new StartPage;

  auto* upper = new QSplitter(Qt::Horizontal);
  upper->addWidget(shelf_), upper->addWidget(view_), upper->addWidget(desk_);
  upper->setSizes({236, 744, 300});
  upper->setStretchFactor(1, 1), upper->setHandleWidth(1);
  shelf_->setMinimumWidth(190), desk_->setMinimumWidth(250);
  auto* whole = new QSplitter(Qt::Vertical);
  whole->addWidget(upper), whole->addWidget(history_);
  whole->setStretchFactor(0, 1), whole->setHandleWidth(1), whole->setSizes({540, 216});

  pages_ = new QStackedWidget;
  pages_->addWidget(start_), pages_->addWidget(whole), pages_->addWidget(curves_);

  connect(shelf_, &Shelf::picked, this, &MainWindow::select);
  connect(shelf_, &Shelf::sightChanged, view_, &ModelView::setSight);
  connect(shelf_, &Shelf::lit, view_, &ModelView::light);
  connect(shelf_, &Shelf::touchingAsked, this, &MainWindow::showTouching);
  connect(history_, &HistoryView::selected, this, &MainWindow::select);
  connect(history_, &HistoryView::said, this, &MainWindow::notice);
  connect(desk_, &Desk::placeAsked, this, &MainWindow::select);
  connect(desk_, &Desk::removed, this, [this] { select("model", {}); });
  connect(view_, &ModelView::facesPicked, desk_, &Desk::setPicked);
  connect(view_, &ModelView::facesPicked, this, [this](const QStringList& faces) {
    shelf_->setPickedFaces(faces);
    if (faces.isEmpty()) {
      notice({});
      return;
    }
    const QString word = document_.document().space == "solid" ? "face" : "edge";
    notice((faces.size() == 1 ? "Picked " + word + " " : QString("Picked %1 %2s: ").arg(faces.size()).arg(word)) + faces.join(", ") + ".  + on the shelf adds what acts there; Ctrl picks more, Shift draws a box.");
    shelf_->choose("parts", faces.back().section('.', 0, 0));
    desk_->showThing("parts", faces.back().section('.', 0, 0));
  });
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
    notice(same ? "Results of an earlier run are on show at the playhead's right." : "The stored results belong to an earlier version of this model.");
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
  connect(start_, &StartPage::newAsked, this, [this] {
    results_.close();
    document_.openNew();
    showPage(1);
  });
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
  menu->addAction("New", this, [this] { results_.close(), document_.openNew(), showPage(1); });
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
  notice_ = new QLabel(bar);
  notice_->setObjectName("help"), notice_->setMinimumWidth(40);
  notice_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  row->addSpacing(12), row->addWidget(notice_, 1);
  commandBox_ = new QLineEdit(bar);
  commandBox_->setObjectName("commandBox");
  commandBox_->setPlaceholderText("Find a command, part or result   Ctrl+K"), commandBox_->setFixedWidth(280);
  row->addWidget(commandBox_);
  ready_ = new QToolButton(bar);
  ready_->setObjectName("readiness");
  const auto list = [this] { preparation_.whenCurrent([this] { desk_->showReadiness(preparation_.readiness()), showPage(1); }); };
  connect(ready_, &QToolButton::clicked, this, list);
  connect(desk_, &Desk::readinessAsked, this, list);
  row->addWidget(ready_);
  runButton_ = new QPushButton("Run", bar);
  runButton_->setObjectName("run");
  connect(runButton_, &QPushButton::clicked, this, [this] { run_.active() ? run_.stop() : run(); });
  row->addWidget(runButton_);
  layout->addWidget(bar);
  layout->addWidget(pages_, 1);
  setCentralWidget(body);
  commandList_ = new QListWidget(body);
  commandList_->setObjectName("commandList");
  commandList_->hide();
  connect(commandBox_, &QLineEdit::textEdited, this, &MainWindow::filterCommands);
  connect(commandBox_, &QLineEdit::returnPressed, this, [this] {
    if (auto* item = commandList_->item(std::max(0, commandList_->currentRow()))) emit commandList_->itemClicked(item);
  });
  connect(commandList_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
    const auto act = commands_[size_t(item->data(Qt::UserRole).toInt())].act;
    commandList_->hide(), commandBox_->clear(), commandBox_->clearFocus();
    act();
  });
}

void MainWindow::command(const QString& name, const QString& keys, std::function<void()> act) {
  commands_.push_back({name, keys, act});
  if (!keys.isEmpty()) connect(new QShortcut(QKeySequence(keys), this), &QShortcut::activated, this, act);
}

void MainWindow::buildCommands() {
  command("Open…", "Ctrl+O", [this] { emit start_->openDialogAsked(); });
  command("Bring in STEP geometry…", "Ctrl+I", [this] { askForGeometry(); });
  command("Save", "Ctrl+S", [this] { save(); });
  command("Undo", "Ctrl+Z", [this] {
    const auto what = document_.undoStack()->undoText();
    document_.undoStack()->undo();
    notice(what.isEmpty() ? "Nothing to undo." : "Undone: " + what);
  });
  command("Redo", "Ctrl+Shift+Z", [this] {
    const auto what = document_.undoStack()->redoText();
    document_.undoStack()->redo();
    notice(what.isEmpty() ? "Nothing to redo." : "Done again: " + what);
  });
  command("Run", "Ctrl+R", [this] { run(); });
  command("Continue the run", "", [this] { run(true); });
  command("Pause or resume the run", "Ctrl+P", [this] { run_.state() == RunControl::State::paused ? run_.resume() : run_.pause(); });
  command("Play or halt the history", "Space", [this] { history_->play(!history_->playing()); });
  command("Next increment", "Right", [this] { results_.setRow(results_.row() + 1); });
  command("Previous increment", "Left", [this] { results_.setRow(results_.row() - 1); });
  command("As built", "Home", [this] { results_.setRow(-1); });
  command("Last increment", "End", [this] { results_.setRow(1 << 30); });
  command("Show everything", "F", [this] { view_->fit(); });
  command("Element edges on or off", "M", [this] { view_->findChild<QToolButton*>("edges")->toggle(); });
  command("Undeformed outline on or off", "U", [this] { view_->findChild<QToolButton*>("undeformed")->toggle(); });
  command("Swept display on or off", "W", [this] { if (document_.document().space == "axisymmetric") view_->findChild<QToolButton*>("sweep")->toggle(); });
  command("Colour bands on or off", "B", [this] { view_->setBands(!view_->bands()); });
  command("Touch map on or off", "T", [this] { shelf_->showMap(!shelf_->showsMap()); });
  command("Find what touches", "K", [this] { showTouching(); });
  command("Fit a bolt to the picked hole", "Shift+B", [this] { fitBolt(); });
  command("Mirrored display on or off", "R", [this] {
    auto* b = view_->findChild<QToolButton*>("mirrored");
    b->isHidden() ? notice("No support makes a symmetry plane: nothing to mirror at.") : b->toggle();
  });
  command("Section on or off", "S", [this] {
    auto* b = view_->findChild<QToolButton*>("section");
    b->isHidden() ? notice("A section cuts solid models only.") : b->toggle();
  });
  command("Model page", "Ctrl+1", [this] { showPage(1); });
  command("Curves page", "Ctrl+2", [this] { showPage(2); });
  command("Model settings and parameters", "", [this] { select("model", {}); });
  command("Run monitor", "", [this] { showPage(1), desk_->showMonitor(); });
  command("Light or dark", "", [this] {
    applyTheme(*qApp, !theme().dark);
    for (auto* w : findChildren<QWidget*>()) w->update();
  });
  const auto look = [this](const QString& name, const QString& keys, const Eigen::Vector3d& from, const Eigen::Vector3d& up) {
    command(name, keys, [this, from, up] {
      if (document_.document().space == "solid") view_->canvas()->lookFrom(from, up);
      else notice("A plane model is seen from one side.");
    });
  };
  look("Look along x", "X", -Eigen::Vector3d::UnitX(), Eigen::Vector3d::UnitY());
  look("Look along y", "Y", -Eigen::Vector3d::UnitY(), -Eigen::Vector3d::UnitZ());
  look("Look along z", "Z", Eigen::Vector3d::UnitZ(), Eigen::Vector3d::UnitY());
  look("Look from the corner", "C", Eigen::Vector3d(0.7, 0.45, 0.8), Eigen::Vector3d::UnitY());
  command("Pin the greatest value", "G", [this] { view_->pinExtreme(true); });
  command("Pin the least value", "L", [this] { view_->pinExtreme(false); });
  command("Go to the greatest value", "Shift+G", [this] { view_->goToExtreme(true); });
  command("Go to the least value", "Shift+L", [this] { view_->goToExtreme(false); });
  command("Send the pins to Curves", "P", [this] { view_->sendPins(); });
  fixedCommands_ = commands_.size();
  connect(new QShortcut(QKeySequence("Ctrl+K"), this), &QShortcut::activated, this, &MainWindow::openCommandBox);
  connect(new QShortcut(QKeySequence("Escape"), this), &QShortcut::activated, this, [this] { commandList_->hide(), commandBox_->clear(), setFocus(); });
}

void MainWindow::openCommandBox() {
  commandBox_->setFocus();
  filterCommands("");
}

void MainWindow::filterCommands(const QString& text) {
  commands_.resize(fixedCommands_);
  const auto& d = document_.document();
  const auto things = [&](const char* kind, const std::vector<std::string>& names) {
    for (const auto& n : names) {
      const auto name = QString::fromStdString(n);
      commands_.push_back({name + "  (" + QString(kind).chopped(1) + ")", {}, [this, kind = QString(kind), name] { showPage(1), select(kind, name); }});
    }
  };
  things("parts", d.parts.names()), things("materials", d.materials.names()), things("contacts", d.contacts.names()), things("steps", d.steps.names());
  things("motions", d.motions.names()), things("loads", d.loads.names()), things("supports", d.supports.names());
  things("carriers", d.carriers.names()), things("springs", d.springs.names()), things("bolts", d.bolts.names()), things("temperatures", d.temperatures.names()), things("stabilisations", d.stabilisations.names());
  if (results_.isOpen())
    for (const auto& f : results::fieldList(results_.header())) {
      const auto name = QString::fromStdString(f.name);
      commands_.push_back({name + "  (result)", {}, [this, name] {
        showPage(1);
        if (results_.row() < 0) results_.setRow(1 << 30);
        results_.setField(name);
      }});
    }
  commandList_->clear();
  for (size_t i = 0; i < commands_.size(); ++i) {
    if (!text.isEmpty() && !commands_[i].name.contains(text, Qt::CaseInsensitive)) continue;
    auto* item = new QListWidgetItem(commands_[i].name + (commands_[i].keys.isEmpty() ? "" : "\t" + commands_[i].keys), commandList_);
    item->setData(Qt::UserRole, int(i));
  }
  commandList_->setCurrentRow(0);
  const QPoint at = commandBox_->mapTo(centralWidget(), QPoint(-60, commandBox_->height() + 4));
  commandList_->setGeometry(at.x(), at.y(), 340, std::min(360, 26 * std::max(1, commandList_->count()) + 8));
  commandList_->raise(), commandList_->show();
}

void MainWindow::fitBolt() {
  const auto picked = shelf_->pickedFaces();
  if (picked.isEmpty()) return notice("Pick the inside of a hole first.");
  preparation_.whenCurrent([this, face = picked.back().toStdString()] {
    try {
      const auto fit = checks::fitToHole(preparation_.header().mesh, face);
      std::string made;
      document_.edit("a bolt in " + QString::fromStdString(face), [&](model::Document& d) { made = checks::addBolt(d, fit); });
      select("bolts", QString::fromStdString(made));
      notice(QString("Bolt of %1 mm through %2 hole%3. Find what touches (K) makes the contacts under its head and nut.")
                 .arg(QString::fromStdString(shortNumber(fit.diameter))).arg(fit.holes.size()).arg(fit.holes.size() == 1 ? "" : "s"));
    } catch (const Error& e) {
      notice(QString::fromStdString(e.what()));
    }
  });
}

void MainWindow::showTouching() {
  preparation_.whenCurrent([this] {
    if (!touching_) {
      touching_ = new TouchingList(document_, preparation_);
      connect(touching_, &TouchingList::lit, view_, &ModelView::light);
      connect(touching_, &TouchingList::picked, this, &MainWindow::select);
      connect(touching_, &TouchingList::said, this, &MainWindow::notice);
    }
    showPage(1);
    touching_->find();
    desk_->showOther(touching_);
  });
}

void MainWindow::notice(const QString& text) { notice_->setText(text), notice_->setToolTip(text); }
QString MainWindow::noticeText() const { return notice_->text(); }

void MainWindow::select(const QString& kind, const QString& name) {
  shelf_->choose(kind, name);
  desk_->showThing(kind, name);
  const auto& d = document_.document();
  QString face;
  const auto first = [&](const std::vector<std::string>& on) { return on.empty() ? QString() : QString::fromStdString(on.front()); };
  const auto n = name.toStdString();
  if (kind == "supports" && d.supports.find(n)) face = first(d.supports.find(n)->on);
  if (kind == "motions" && d.motions.find(n)) face = first(d.motions.find(n)->on);
  if (kind == "loads" && d.loads.find(n)) face = first(d.loads.find(n)->on);
  if (kind == "carriers" && d.carriers.find(n)) face = first(d.carriers.find(n)->on);
  if (kind == "bolts" && d.bolts.find(n)) face = first(d.bolts.find(n)->on);
  if (kind == "contacts" && d.contacts.find(n)) face = first(d.contacts.find(n)->between);
  view_->highlightFace(face);
  view_->showContact(kind == "contacts" ? name : QString());
}

void MainWindow::showPage(int index) {
  pages_->setCurrentIndex(index);
  updateBar();
}
int MainWindow::page() const { return pages_->currentIndex(); }

void MainWindow::updateBar() {
  const bool open = document_.isOpen();
  const auto title = open ? QString::fromStdString(document_.document().title) : QString("Unyielding Anvil");
  name_->setText((title.isEmpty() ? QFileInfo(document_.path()).completeBaseName() : title) + (document_.dirty() ? " •" : "") + "  ▾");
  for (QWidget* w : {static_cast<QWidget*>(modelTab_), static_cast<QWidget*>(curvesTab_), static_cast<QWidget*>(ready_), static_cast<QWidget*>(runButton_)}) w->setVisible(open);
  modelTab_->setChecked(page() == 1), curvesTab_->setChecked(page() == 2);
  runButton_->setText(run_.active() ? "Stop" : "Run");
  setWindowTitle((title.isEmpty() ? "" : title + " – ") + "Unyielding Anvil");
}

void MainWindow::showReadiness() {
  if (!preparation_.current()) {
    ready_->setText("checking …"), ready_->setStyleSheet("");
    return;
  }
  int faults = 0;
  for (const auto& f : preparation_.readiness().findings) faults += f.fault;
  const int doubts = int(preparation_.readiness().findings.size()) - faults;
  ready_->setText(faults ? QString("%1 to mend").arg(faults) : doubts ? QString("ready, %1 doubt%2").arg(doubts).arg(doubts > 1 ? "s" : "") : "ready");
  ready_->setStyleSheet(faults ? "color: " + theme().accent.name() : "");
}

QString MainWindow::resultsPath() const {
  if (document_.path().isEmpty()) return scratch_ + "/untitled.results.h5";
  const QFileInfo f(document_.path());
  const QFileInfo folder(f.absolutePath());
  // examples may lie where nothing can be written
  const auto base = folder.isWritable() && !f.absoluteFilePath().startsWith(QFileInfo(StartPage::examplesFolder()).absoluteFilePath()) ? f.absolutePath() : scratch_;
  return base + "/" + f.completeBaseName() + ".results.h5";
}

bool MainWindow::openModel(const QString& path) {
  notice({});
  scratch_ = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/runs";
  QDir().mkpath(scratch_);
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
  QDir().mkpath(scratch_);
  const auto file = resultsPath(), modelFile = QString(file).replace(".results.h5", ".running.anvil");
  try {  // the run reads its own copy, so that editing can go on
    writeWhole(modelFile.toStdString(), model::print(model::rehomed(document_.document(), QFileInfo(modelFile).absolutePath().toStdString())));
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

QString MainWindow::geometryFile() { return QFileDialog::getOpenFileName(this, "Bring in geometry", {}, "STEP files (*.step *.stp *.STEP *.STP)"); }

void MainWindow::askForGeometry() {
  if (!document_.isOpen()) {
    emit start_->geometryAsked();
    return;
  }
  if (const auto path = geometryFile(); !path.isEmpty()) bringIn(path);
}

void MainWindow::bringIn(const QString& path) {
  const auto file = QFileInfo(path).absoluteFilePath();
  notice("Reading " + QFileInfo(path).fileName() + " …");
  // large assemblies take their time: read beside the window
  auto* worker = QThread::create([self = QPointer<MainWindow>(this), file] {
    std::vector<geometry::StepContent> solids;
    QString trouble;
    try {
      solids = geometry::stepContents(file.toStdString(), "import");
    } catch (const Error& e) {
      trouble = QString::fromStdString(e.what());
    }
    QMetaObject::invokeMethod(qApp, [self, file, solids, trouble] { if (self) self->addSolids(file, solids, trouble); }, Qt::QueuedConnection);
  });
  connect(worker, &QThread::finished, worker, &QObject::deleteLater);
  worker->start();
}

void MainWindow::addSolids(const QString& file, const std::vector<geometry::StepContent>& solids, const QString& trouble) {
  if (!trouble.isEmpty()) return notice(trouble);
  const bool fresh = document_.document().parts.empty();
  if (!fresh && document_.document().space != "solid") return notice("This model is plane: solids can only be brought into a model in space.");
  document_.edit("bring in " + QFileInfo(file).fileName(), [&](model::Document& d) {
    d.space = "solid";
    if (d.materials.empty()) {
      auto& elastic = d.materials("steel").elastic;
      elastic.E = "205 GPa", elastic.nu = 0.3;
    }
    const std::string base = QFileInfo(file).completeBaseName().toStdString();
    for (size_t i = 0; i < solids.size(); ++i) {
      const std::string own = solids[i].name.empty() ? base : solids[i].name;
      std::string name = own;
      std::replace(name.begin(), name.end(), '.', ' ');   // dots part the names of parts and faces
      for (int k = 2; d.parts.find(name); ++k) name = own + " " + std::to_string(k);
      model::Feature f;
      f.name = "shape", f.step = model::StepFeature{file.toStdString(), solids.size() > 1 ? solids[i].name.empty() ? std::to_string(i + 1) : solids[i].name : "", {}};
      for (const auto& mark : solids[i].faces) f.step->faces.emplace_back(mark.begin(), mark.end());
      auto& part = d.parts(name);
      part.material = d.materials.front().first, part.solid = {f};
    }
  });
  showPage(1);
  const auto healed = std::count_if(solids.begin(), solids.end(), [](const auto& s) { return !s.healing.empty(); });
  notice(QString("%1 part%2 brought in from %3.").arg(solids.size()).arg(solids.size() > 1 ? "s" : "").arg(QFileInfo(file).fileName()) +
         (healed ? QString(" %1 had to be healed: see Readiness.").arg(healed) : QString()));
}

void MainWindow::closeEvent(QCloseEvent* e) {
  document_.autosave();  // unsaved changes are taken up at the next opening
  e->accept();
}

}  // namespace anvil::app
