#include "app/shots.hpp"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QStandardPaths>
#include <QToolButton>
#include <cstdio>

#include "app/main_window.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"

namespace anvil::app {

static void settle(int milliseconds) {
  QElapsedTimer timer;
  timer.start();
  while (timer.elapsed() < milliseconds) QApplication::processEvents(QEventLoop::AllEvents, 20);
}

int takeShots(QApplication&, MainWindow& w, const QString& folder, bool demoOnly) {
  QDir().mkpath(folder);
  const auto take = [&](const char* name) {
    settle(500);
    const auto path = folder + "/" + name + ".png";
    const bool saved = w.grab().save(path);
    std::printf("%s %s\n", saved ? "wrote" : "could not write", qPrintable(path));
    std::fflush(stdout);
    return saved;
  };
  w.resize(1280, 800);
  bool good = take("start");
  QFile::remove(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/runs/ferrule-crimp.results.h5");
  if (!w.openModel(StartPage::examplesFolder() + "/ferrule-crimp/ferrule-crimp.anvil")) return 1;
  while (!w.preparation().current()) settle(50);
  w.select("materials", "bronze");
  good &= take("as-built");
  w.run();
  QElapsedTimer timer;
  timer.start();
  while (timer.elapsed() < 10000 && !w.control().active()) settle(20);
  while (timer.elapsed() < 60000 && w.control().active() && (!w.results().has() || w.results().rows().size() < 22)) settle(50);
  good &= take("running");
  while (timer.elapsed() < 900000 && w.control().active()) settle(50);
  if (w.control().state() != RunControl::State::finished) {
    std::printf("the demo did not finish: %s\n", qPrintable(w.control().message()));
    return 1;
  }
  w.results().setRow(w.results().rowAt(2));
  w.results().setField("equivalent plastic strain");
  w.view()->findChild<QToolButton*>("undeformed")->setChecked(true);
  w.select("contacts", "grip");
  good &= take("permanent-shape");
  w.results().setField("contact pressure");
  w.view()->setSweep(true);
  w.view()->findChild<QToolButton*>("sweep")->setChecked(true);
  w.results().setField("von Mises stress");
  good &= take("swept");
  w.view()->findChild<QToolButton*>("sweep")->setChecked(false);
  w.showPage(2);
  good &= take("curves");
  if (demoOnly) return good ? 0 : 1;

  QFile::remove(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/runs/chainplate-pin.results.h5");
  if (!w.openModel(StartPage::examplesFolder() + "/chainplate-pin/chainplate-pin.anvil")) return 1;
  while (!w.preparation().current()) settle(50);
  w.view()->findChild<QToolButton*>("undeformed")->setChecked(false);
  w.select("parts", "plate");
  settle(300);
  for (auto* area : w.desk()->findChildren<QScrollArea*>())  // to the features
    if (auto* add = area->findChild<QPushButton*>("addFeature"))
      area->verticalScrollBar()->setValue(add->mapTo(area->widget(), QPoint(0, 0)).y() - 8);
  w.view()->setPicking(Picking::edges);
  w.view()->highlightFaces({"plate.hole.side & plate.plate.back", "plate.plate.left & plate.plate.back",
                            "plate.plate.back & plate.plate.right & plate.plate.top"});
  good &= take("features");
  w.view()->setPicking(Picking::faces);

  QFile::remove(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/runs/deck-clamp.results.h5");
  if (!w.openModel(StartPage::examplesFolder() + "/deck-clamp/deck-clamp.anvil")) return 1;
  while (!w.preparation().current()) settle(50);
  w.document().edit("contacts to be found again", [](model::Document& d) { d.contacts.clear(); });  // never saved
  while (!w.preparation().current()) settle(50);
  w.shelf()->touchingAsked();
  settle(1000);
  good &= take("joint");
  w.document().undoStack()->undo();
  while (!w.preparation().current()) settle(50);
  w.showMesh();
  settle(3000);  // what a run takes is worked out beside the window
  good &= take("mesh");
  w.document().edit("tightening only, never saved", [](model::Document& d) {
    while (d.steps.size() > 2) d.steps.erase(d.steps.end() - 1);
    for (auto& [name, b] : d.bolts) std::erase_if(b.force.stages, [&](const auto& s) { return !d.steps.find(s.first); });
    d.loads.clear(), d.motions.clear();
  });
  while (!w.preparation().current()) settle(50);
  w.run();
  timer.restart();
  while (timer.elapsed() < 10000 && !w.control().active()) settle(20);
  while (timer.elapsed() < 900000 && w.control().active()) settle(50);
  w.results().setField("von Mises stress");
  w.select("bolts", "bolt 1");
  good &= take("bolts");

  QFile::remove(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/runs/rudder-bush.results.h5");
  if (!w.openModel(StartPage::examplesFolder() + "/rudder-bush/rudder-bush.anvil")) return 1;
  while (!w.preparation().current()) settle(50);
  w.view()->findChild<QToolButton*>("undeformed")->setChecked(false);
  w.select("supports", "seat");
  good &= take("solid-as-built");
  w.run();
  timer.restart();
  while (timer.elapsed() < 10000 && !w.control().active()) settle(20);
  while (timer.elapsed() < 900000 && w.control().active()) settle(50);
  w.results().setField("von Mises stress");
  good &= take("solid-result");
  w.view()->setSight(0, Sight::faded);
  w.select("contacts", "seam");
  good &= take("solid-contact");
  w.view()->setSight(0, Sight::shown);
  w.results().setField("equivalent plastic strain");
  w.view()->setSection(true);
  w.view()->setMirrored(true);
  w.shelf()->showMap(true);
  good &= take("solid-section");
  w.view()->setSection(false);
  w.view()->setMirrored(false);
  w.shelf()->showMap(false);
  return good ? 0 : 1;
}

}  // namespace anvil::app
