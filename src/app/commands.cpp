// The window's commands: their keys, and the box that finds them and everything in the model by name.
#include <QAbstractButton>
#include <QCheckBox>
#include <QLineEdit>
#include <QMenu>
#include <QPointer>
#include <QPushButton>
#include <QRegularExpression>
#include <QShortcut>
#include <QStackedWidget>
#include <QToolButton>
#include <QUndoStack>

#include "app/main_window.hpp"
#include "app/new_page.hpp"
#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "app/typed.hpp"
#include "app/view/line_tool.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/carriers.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/place_words.hpp"
#include "core/model/things.hpp"

namespace anvil::app {

void MainWindow::command(const QString& name, const QString& keys, std::function<void()> act, const QString& help) {
  box_->add({name, keys, help, act});
  if (!keys.isEmpty()) connect(new QShortcut(QKeySequence(keys), this), &QShortcut::activated, this, act);
}

void MainWindow::buildCommands() {
  command(
      "Open…", "Ctrl+O", [this] { emit start_->openDialogAsked(); }, "A model file");
  command(
      "Bring in STEP geometry…", "Ctrl+I", [this] { askForGeometry(); }, "Import parts of a CAD file");
  command(
      "New model", "", [this] { askForKind(); }, "Plane strain, plane stress, axisymmetric, solid, thin");
  command(
      "Save as…", "Ctrl+Shift+S", [this] { saveAs(); }, "Write the model under another name");
  command(
      "Start page", "", [this] { start_->refresh(), showPage(0); }, "Examples, recent models");
  command(
      "Quit", "Ctrl+Q", [this] { close(); }, "Close the window; unsaved changes are kept");
  command(
      "Save", "Ctrl+S", [this] { save(); }, "Write the model file");
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
  command(
      "Run", "Ctrl+R", [this] { run(); }, "Solve, calculate");
  command(
      "Continue the run", "", [this] { run(true); }, "Resume, restart from the last increment");
  command("Pause or resume the run", "Ctrl+P",
          [this] { run_.state() == RunControl::State::paused ? run_.resume() : run_.pause(); });
  command("Play or halt the history", "Space", [this] { history_->play(!history_->playing()); });
  command("Next increment", "Right", [this] { results_.setRow(results_.row() + 1); });
  command("Previous increment", "Left", [this] { results_.setRow(results_.row() - 1); });
  command(
      "As built", "Home", [this] { results_.setRow(-1); }, "The model before loading");
  command(
      "Last increment", "End", [this] { results_.setRow(1 << 30); }, "The end of the loading");
  command(
      "Show everything", "F", [this] { view_->fit(); }, "Fit, zoom to all");
  command(
      "Element edges on or off", "M", [this] { view_->findChild<QToolButton*>("edges")->toggle(); }, "Mesh lines");
  command("Undeformed outline on or off", "U", [this] { view_->findChild<QToolButton*>("undeformed")->toggle(); });
  command("Swept display on or off", "W", [this] {
    if (document_.document().space == "axisymmetric") view_->findChild<QToolButton*>("sweep")->toggle();
  });
  command(
      "Colour bands on or off", "B", [this] { view_->setBands(!view_->bands()); }, "Contour steps instead of smooth colours");
  command(
      "Touch map on or off", "T", [this] { shelf_->showMap(!shelf_->showsMap()); }, "All contacts at once");
  command(
      "Find what touches", "K", [this] { showTouching(); }, "Contact pairs, search faces close to each other");
  command(
      "Mesh: counts, quality, cost", "Q", [this] { showMesh(); }, "Elements, nodes, unknowns, memory, shape");
  command("Fit a bolt to the picked hole", "Shift+B", [this] { fitBolt(); });
  command("Beam bolt between two picked faces", "Shift+N", [this] { addBeamBolt(); });
  command(
      "Make a thin part of the picked faces", "Shift+T", [this] { makeThin(); }, "Sheet, shell");
  command(
      "Make a slender part of the picked edges", "Shift+E", [this] { makeSlender(); }, "Beams along edges");
  command(
      "Draw the outline of a part", "O", [this] { drawOutline(false); }, "Plane profile, polygon by clicks");
  command(
      "Draw a rigid outline", "Shift+O", [this] { drawOutline(true); }, "Tool, die, punch by clicks");
  command(
      "Draw lines of a slender part", "D", [this] { drawLines(); }, "Beam, frame, stay by clicks");
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
  const auto hides = [this](const QString& what, const QString& keys, QWidget* w) {
    command(
        "Hide or show the " + what, keys, [w] { w->setVisible(w->isHidden()); }, "Room for the view");
  };
  hides("shelf", "F6", shelf_), hides("desk", "F7", desk_), hides("loading history", "F8", history_);
  command(
      "View alone, or all", "F9",
      [this] {
        const bool all = shelf_->isHidden() && desk_->isHidden() && history_->isHidden();
        for (QWidget* w : {static_cast<QWidget*>(shelf_), static_cast<QWidget*>(desk_), static_cast<QWidget*>(history_)})
          w->setVisible(all);
      },
      "Enlarge the picture: hides shelf, desk and history");
  command("Model page", "Ctrl+1", [this] { showPage(1); });
  command("Curves page", "Ctrl+2", [this] { showPage(2); });
  command(
      "Model settings and parameters", "", [this] { select("model", {}); }, "Title, kind, units, geometry, solver");
  command(
      "Readiness: faults and doubts", "", [this] { emit desk_->readinessAsked(); }, "Check the model before it runs");
  command(
      "Run monitor", "", [this] { showPage(1), desk_->showMonitor(); }, "Progress, residuals, iterations");
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
  command(
      "Pin the greatest value", "G", [this] { view_->pinExtreme(true); }, "Maximum, hot spot");
  command(
      "Pin the least value", "L", [this] { view_->pinExtreme(false); }, "Minimum");
  command("Go to the greatest value", "Shift+G", [this] { view_->goToExtreme(true); });
  command("Go to the least value", "Shift+L", [this] { view_->goToExtreme(false); });
  command(
      "Send the pins to Curves", "P", [this] { view_->sendPins(); }, "Plot the result over the history");
  box_->setMore([this] { return moreCommands(); });
  connect(new QShortcut(QKeySequence("Ctrl+K"), this), &QShortcut::activated, box_, &CommandBox::open);
  connect(new QShortcut(QKeySequence("Escape"), this), &QShortcut::activated, this, [this] {
    if (view_->lineTool()->active() && !box_->isOpen()) return view_->lineTool()->back();
    if (page() == 3 && !box_->isOpen()) emit new_->left();
    if (page() == 4 && !box_->isOpen()) showPage(1);
    box_->close(), setFocus();
  });
}

/// What a button is called in the box: its words; where it has a sign only, what its tip begins with.
static QString calledIn(const QAbstractButton& b) {
  const auto words = b.text().remove('&').section("   ", 0, 0).trimmed();
  if (words.size() > 2) return words;
  return b.toolTip().section(QRegularExpression("[:;(]"), 0, 0).trimmed();
}

/// Is it there on its page, seen or scrolled away?
static bool isOn(const QWidget& page, const QWidget& w) {
  for (const auto* p = &w; p && p != &page; p = p->parentWidget())
    if (p->isHidden()) return false;
  return page.isAncestorOf(&w);
}

/// Buttons and menus of the window that are no commands yet, things of the model, parameters, results.
std::vector<Command> MainWindow::moreCommands() {
  std::vector<Command> list;
  QStringList known;
  for (const auto& c : box_->fixed()) known << c.name.toLower();
  const auto offer = [&](const QString& name, const QString& help, std::function<void()> act) {
    if (name.size() < 3 || known.contains(name.toLower())) return;
    known << name.toLower();
    list.push_back({name, {}, help, std::move(act)});
  };
  for (int page = 0; page < pages_->count(); ++page) {
    if (page > 0 && !document_.isOpen()) continue;
    for (auto* b : pages_->widget(page)->findChildren<QAbstractButton*>()) {
      if (!isOn(*pages_->widget(page), *b) || !b->isEnabled() || qobject_cast<QCheckBox*>(b)) continue;
      auto* tool = qobject_cast<QToolButton*>(b);
      auto* push = qobject_cast<QPushButton*>(b);
      if (auto* menu = tool ? tool->menu() : push ? push->menu() : nullptr) {
        for (auto* action : menu->actions())
          offer(calledIn(*b) + ": " + action->text(), action->toolTip() == action->text() ? QString() : action->toolTip(),
                [action = QPointer<QAction>(action)] {
                  if (action) action->trigger();
                });
        continue;
      }
      offer(calledIn(*b), b->toolTip(), [this, page, b = QPointer<QAbstractButton>(b)] {
        showPage(page);
        if (b) b->click();
      });
    }
  }
  if (!document_.isOpen()) return list;
  const auto offerMenu = [&](int lane, int step, const QString& of) {
    const auto menu = std::make_shared<QMenu>();
    history_->fillMenu(*menu, lane, step);
    for (auto* action : menu->actions()) offer(action->text() + of, "Loading history", [menu, action] { action->trigger(); });
  };
  const auto& d = document_.document();
  for (int step = 0; step < int(d.steps.size()); ++step) offerMenu(-1, step, {});
  for (const auto& kind : model::kindsOfThings())
    for (const auto& own : model::namesOf(d, kind)) {
      const auto name = QString::fromStdString(own), words = QString::fromStdString(kind);
      list.push_back({name + "  (" + QString::fromStdString(model::kindInWords(kind)) + ")", {}, {}, [this, words, name] {
                        showPage(1), select(words, name);
                      }});
    }
  for (const auto& [own, value] : d.parameters) {
    const auto name = QString::fromStdString(own);
    list.push_back({name + "  (parameter)", {}, shown(value), [this, name] {
                      showPage(1), select("model", {});
                      desk_->reachRow("parameters/" + name);
                    }});
  }
  if (results_.isOpen())
    for (const auto& f : results::fieldList(results_.header())) {
      const auto name = QString::fromStdString(f.name);
      list.push_back({name + "  (result)", {}, "field, " + units().unit(f.kind), [this, name] {
                        showPage(1);
                        if (results_.row() < 0) results_.setRow(1 << 30);
                        results_.setField(name);
                      }});
    }
  return list;
}

}  // namespace anvil::app
