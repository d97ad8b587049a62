// The window's commands: their keys, and the box that finds them and everything in the model by name.
#include <QLineEdit>
#include <QListWidget>
#include <QShortcut>
#include <QToolButton>
#include <QUndoStack>

#include "app/main_window.hpp"
#include "app/theme.hpp"
#include "app/view/line_tool.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/carriers.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"

namespace anvil::app {

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
  command("Pause or resume the run", "Ctrl+P",
          [this] { run_.state() == RunControl::State::paused ? run_.resume() : run_.pause(); });
  command("Play or halt the history", "Space", [this] { history_->play(!history_->playing()); });
  command("Next increment", "Right", [this] { results_.setRow(results_.row() + 1); });
  command("Previous increment", "Left", [this] { results_.setRow(results_.row() - 1); });
  command("As built", "Home", [this] { results_.setRow(-1); });
  command("Last increment", "End", [this] { results_.setRow(1 << 30); });
  command("Show everything", "F", [this] { view_->fit(); });
  command("Element edges on or off", "M", [this] { view_->findChild<QToolButton*>("edges")->toggle(); });
  command("Undeformed outline on or off", "U", [this] { view_->findChild<QToolButton*>("undeformed")->toggle(); });
  command("Swept display on or off", "W", [this] {
    if (document_.document().space == "axisymmetric") view_->findChild<QToolButton*>("sweep")->toggle();
  });
  command("Colour bands on or off", "B", [this] { view_->setBands(!view_->bands()); });
  command("Touch map on or off", "T", [this] { shelf_->showMap(!shelf_->showsMap()); });
  command("Find what touches", "K", [this] { showTouching(); });
  command("Mesh: counts, quality, cost", "Q", [this] { showMesh(); });
  command("Fit a bolt to the picked hole", "Shift+B", [this] { fitBolt(); });
  command("Beam bolt between two picked faces", "Shift+N", [this] { addBeamBolt(); });
  command("Make a thin part of the picked faces", "Shift+T", [this] { makeThin(); });
  command("Make a slender part of the picked edges", "Shift+E", [this] { makeSlender(); });
  command("Draw lines of a slender part", "D", [this] { drawLines(); });
  command("Stop meshing", "", [this] { preparation_.stop(); });
  command("Mesh again", "", [this] { preparation_.again(); });
  command("Keep the box round what is picked as a region", "", [this] { keepBox(); });
  command("Keep what is picked as a region", "Shift+R", [this] { keepRegion(); });
  const char* const kinds[] = {"faces", "edges", "corners", "parts"};
  for (int k = 0; k < 4; ++k)
    command(QString("Pick ") + kinds[k], QString::number(k + 1), [this, k] { view_->setPicking(Picking(k)); });
  const auto ruled = [this](const QString& name, const QString& rule) {
    command(name, "", [this, rule] {
      const auto picked = view_->pickedFaces();
      picked.isEmpty() ? notice("Pick a face first.") : view_->pickByRule(picked.back(), rule);
    });
  };
  ruled("Pick all faces of the same cylinder", "cylinder"), ruled("Pick all faces that go on without a corner", "smooth"),
      ruled("Pick all faces in the same plane", "plane");
  command("Show the whole, mirrored and in all sectors, or the model", "R", [this] {
    auto* b = view_->findChild<QToolButton*>("mirrored");
    b->isHidden() ? notice("No support makes a symmetry plane and no contact is cyclic: this is the whole.") : b->toggle();
  });
  command("Section on or off", "S", [this] {
    auto* b = view_->findChild<QToolButton*>("section");
    b->isHidden() ? notice("A section cuts solid models only.") : b->toggle();
  });
  command("Model page", "Ctrl+1", [this] { showPage(1); });
  command("Curves page", "Ctrl+2", [this] { showPage(2); });
  command("Model settings and parameters", "", [this] { select("model", {}); });
  command("Readiness: faults and doubts", "", [this] { emit desk_->readinessAsked(); });
  command("Run monitor", "", [this] { showPage(1), desk_->showMonitor(); });
  command("Light or dark", "", [this] {
    applyTheme(*qApp, !theme().dark);
    for (auto* w : findChildren<QWidget*>()) w->update();
  });
  const auto look = [this](const QString& name, const QString& keys, const Eigen::Vector3d& from, const Eigen::Vector3d& up) {
    command(name, keys, [this, from, up] {
      if (document_.document().space == "solid")
        view_->canvas()->lookFrom(from, up);
      else
        notice("A plane model is seen from one side.");
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
  connect(new QShortcut(QKeySequence("Escape"), this), &QShortcut::activated, this, [this] {
    if (view_->lineTool()->active() && commandList_->isHidden()) return view_->lineTool()->back();
    commandList_->hide(), commandBox_->clear(), setFocus();
  });
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
      commands_.push_back({name + "  (" + QString(kind).chopped(1) + ")", {}, [this, kind = QString(kind), name] {
                             showPage(1), select(kind, name);
                           }});
    }
  };
  things("parts", d.parts.names()), things("materials", d.materials.names()), things("contacts", d.contacts.names()),
      things("steps", d.steps.names());
  things("motions", d.motions.names()), things("loads", d.loads.names()), things("supports", d.supports.names());
  things("carriers", d.carriers.names()), things("springs", d.springs.names()), things("bolts", d.bolts.names()),
      things("regions", d.regions.names()), things("temperatures", d.temperatures.names()),
      things("stabilisations", d.stabilisations.names());
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
    auto* item =
        new QListWidgetItem(commands_[i].name + (commands_[i].keys.isEmpty() ? "" : "\t" + commands_[i].keys), commandList_);
    item->setData(Qt::UserRole, int(i));
  }
  if (commandList_->count() == 0) (new QListWidgetItem("Nothing is called that", commandList_))->setFlags(Qt::NoItemFlags);
  commandList_->setCurrentRow(0);
  const QPoint at = commandBox_->mapTo(centralWidget(), QPoint(-60, commandBox_->height() + 4));
  commandList_->setGeometry(at.x(), at.y(), 340, std::min(360, 26 * std::max(1, commandList_->count()) + 8));
  commandList_->raise(), commandList_->show();
}

}  // namespace anvil::app
