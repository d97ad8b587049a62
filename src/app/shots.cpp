#include "app/shots.hpp"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QFile>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QStandardPaths>
#include <QTimer>
#include <QToolButton>
#include <cstdio>

#include "app/main_window.hpp"
#include "app/new_page.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"

namespace anvil::app {

namespace {

void settle(int milliseconds) {
  QEventLoop loop;  // sleeps between events, so that a run has the machine to itself
  QTimer::singleShot(milliseconds, &loop, &QEventLoop::quit);
  loop.exec();
}

/// Takes pictures of a window, example by example.
class Camera {
 public:
  Camera(MainWindow& window, const QString& folder) : w(window), folder_(folder) {}
  void take(const char* name) {
    settle(500);
    const auto path = folder_ + "/" + name + ".png";
    const bool saved = w.grab().save(path);
    std::printf("%s %s\n", saved ? "wrote" : "could not write", qPrintable(path));
    std::fflush(stdout);
    good_ &= saved;
  }
  bool good() const { return good_; }

  void ferruleCrimp() {
    if (!open("ferrule-crimp")) return;
    w.select("materials", "bronze");
    take("as-built");
    w.showMaterial("bronze");
    take("material");
    w.showPage(1);
    w.select("parts", "die");
    take("outline");
    startRun();
    QElapsedTimer timer;
    timer.start();
    while (timer.elapsed() < 60000 && w.control().active() && (!w.results().has() || w.results().rows().size() < 22)) settle(50);
    take("running");
    if (!finishRun()) return;
    w.results().setRow(w.results().rowAt(2));
    w.results().setField("equivalent plastic strain");
    button("undeformed")->setChecked(true);
    w.select("contacts", "grip");
    take("permanent-shape");
    w.results().setField("contact pressure");
    w.view()->setSweep(true);
    button("sweep")->setChecked(true);
    w.results().setField("von Mises stress");
    take("swept");
    button("sweep")->setChecked(false);
    w.showPage(2);
    take("curves");
  }

  void chainplatePin() {
    if (!open("chainplate-pin")) return;
    button("undeformed")->setChecked(false);
    w.select("parts", "plate");
    settle(300);
    for (auto* area : w.desk()->findChildren<QScrollArea*>())  // to the features
      if (auto* add = area->findChild<QPushButton*>("addFeature"))
        area->verticalScrollBar()->setValue(add->mapTo(area->widget(), QPoint(0, 0)).y() - 8);
    w.view()->setPicking(Picking::edges);
    w.view()->highlightFaces({"plate.hole.side & plate.plate.back", "plate.plate.left & plate.plate.back",
                              "plate.plate.back & plate.plate.right & plate.plate.top"});
    take("features");
    w.view()->setPicking(Picking::faces);
  }

  void deckClamp() {
    if (!open("deck-clamp")) return;
    w.document().edit("contacts to be found again", [](model::Document& d) { d.contacts.clear(); });  // never saved
    prepared();
    w.shelf()->touchingAsked();
    settle(1000);
    take("joint");
    w.document().undoStack()->undo();
    prepared();
    w.showMesh();
    settle(3000);  // what a run takes is worked out beside the window
    take("mesh");
    w.document().edit("tightening only, never saved", [](model::Document& d) {
      while (d.steps.size() > 2) d.steps.erase(d.steps.end() - 1);
      for (auto& [name, b] : d.bolts) std::erase_if(b.force.stages, [&](const auto& s) { return !d.steps.find(s.first); });
      d.loads.clear(), d.motions.clear();
    });
    prepared();
    startRun();
    if (!finishRun()) return;
    w.results().setField("von Mises stress");
    w.select("bolts", "bolt 1");
    take("bolts");
  }

  void newModel() {
    auto* page = w.findChild<NewPage*>();
    page->begin();
    page->findChild<QAbstractButton*>("kind-axisymmetric")->click();
    w.showPage(3);
    take("new-model");
  }

  void hatchDent() {
    if (!open("hatch-dent")) return;
    w.select("parts", "lid");
    startRun();
    if (!finishRun()) return;
    w.results().setField("thinning");
    w.view()->setMirrored(true);
    take("sheet");
    w.view()->setMirrored(false);
  }

  void batten() {
    if (!open("batten")) return;
    w.select("parts", "batten");
    startRun();
    if (!finishRun()) return;
    w.results().setField("bending moment");
    w.view()->fit();
    take("slender");
  }

  void rudderBush() {
    if (!open("rudder-bush")) return;
    button("undeformed")->setChecked(false);
    w.select("supports", "seat");
    take("solid-as-built");
    startRun();
    if (!finishRun()) return;
    w.results().setField("von Mises stress");
    take("solid-result");
    w.view()->setSight(0, Sight::faded);
    w.select("contacts", "seam");
    take("solid-contact");
    w.view()->setSight(0, Sight::shown);
    w.results().setField("equivalent plastic strain");
    w.view()->setSection(true);
    w.view()->setMirrored(true);
    w.shelf()->showMap(true);
    take("solid-section");
    w.view()->setSection(false);
    w.view()->setMirrored(false);
    w.shelf()->showMap(false);
  }

 private:
  QToolButton* button(const char* name) { return w.view()->findChild<QToolButton*>(name); }
  void prepared() {
    while (!w.preparation().current()) settle(50);
  }
  /// Opens an example as if it had never been run.
  bool open(const QString& example) {
    QFile::remove(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/runs/" + example + ".results.h5");
    const bool opened = w.openModel(StartPage::examplesFolder() + "/" + example + "/" + example + ".anvil");
    if (opened) prepared();
    good_ &= opened;
    return opened;
  }
  void startRun() {
    w.run();
    QElapsedTimer timer;
    timer.start();
    while (timer.elapsed() < 10000 && !w.control().active()) settle(20);
  }
  /// Waits for the run's end; says so where it is no good one.
  bool finishRun() {
    QElapsedTimer timer;
    timer.start();
    while (timer.elapsed() < 900000 && w.control().active()) settle(50);
    const bool finished = w.control().state() == RunControl::State::finished;
    if (!finished) std::printf("the run did not finish: %s\n", qPrintable(w.control().message()));
    good_ &= finished;
    return finished;
  }
  MainWindow& w;
  QString folder_;
  bool good_ = true;
};

}  // namespace

int takeShots(QApplication&, MainWindow& w, const QString& folder, bool demoOnly) {
  QDir().mkpath(folder);
  w.resize(1280, 800);
  Camera camera(w, folder);
  camera.take("start");
  camera.newModel();
  camera.ferruleCrimp();
  if (!demoOnly && camera.good())
    camera.chainplatePin(), camera.deckClamp(), camera.hatchDent(), camera.batten(), camera.rudderBush();
  return camera.good() ? 0 : 1;
}

}  // namespace anvil::app
