// The real window on a small model, and the hands that drive it.
#pragma once
#include <QtTest>

#include <QAbstractItemView>
#include <QComboBox>
#include <QContextMenuEvent>
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QTimer>
#include <QToolButton>
#include <cmath>

#include "app/main_window.hpp"
#include "app/theme.hpp"
#include "core/model/json.hpp"

namespace anvil::app {

inline const char* const pressedBlock = R"({
  "anvil": 1, "title": "Pressed block",
  "parameters": {"depth": 0.3},
  "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}, "plastic": {"yield": 260, "tangent": 2000}}},
  "parts": {
    "block": {"material": "steel", "element": "quad4", "shape": {"rectangle": {"at": [0, 0], "size": [10, 5]}}, "mesh": {
      "size": 1}},
    "tool": {"rigid": true, "shape": {"profile": {"start": [0, 10.1], "path": [{"arc": [10, 10.1], "center": [5, 10.1]}]}}}
  },
  "contacts": {"press": {"between": ["block.top", "tool"], "friction": 0.1}},
  "steps": {"press": {"increments": {"largest": 0.2}}, "release": {"increments": {"largest": 0.5}}},
  "supports": {"base": {"on": "block.bottom", "fix": ["x", "y"]}},
  "motions": {"push": {"on": "tool", "along": "y", "course": {"press": "=-depth", "release": 0}}}
})";

class WindowFixture {
 protected:
  QTemporaryDir folder_;
  std::unique_ptr<MainWindow> w_;

  QString model() const { return folder_.filePath("block.anvil"); }
  static void write(const QString& path, const QByteArray& text) {
    QFile file(path);
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(text);
  }
  /// A fresh window with the pressed block open.
  void open() {
    QFile::remove(folder_.filePath("block.results.h5"));
    write(model(), pressedBlock);
    QDir(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/autosave").removeRecursively();
    w_ = std::make_unique<MainWindow>();
    w_->show();
    QVERIFY(QTest::qWaitForWindowExposed(w_.get()));
    QApplication::setActiveWindow(w_.get());  // a bare display has no window manager to do it
    QVERIFY(w_->openModel(model()));
    prepared();
  }
  /// A fresh window of usual size with this model open, as FILE of the test's folder; results of before are gone.
  void openFresh(const QString& name, const QByteArray& text) {
    const auto file = folder_.filePath(name + ".anvil");
    QFile::remove(folder_.filePath(name + ".results.h5"));
    write(file, text);
    w_ = std::make_unique<MainWindow>();
    w_->resize(1280, 800);
    w_->show();
    QVERIFY(QTest::qWaitForWindowExposed(w_.get()));
    QApplication::setActiveWindow(w_.get());
    QVERIFY(w_->openModel(file));
    QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current(), 60000);
  }
  void prepared() { QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current(), 20000); }
  const model::Document& document() const { return w_->document().document(); }
  Card* card(const QString& kind, const QString& name) {
    for (auto* c : w_->shelf()->cards())
      if (c->kind == kind && c->name == name) return c;
    return nullptr;
  }
  /// What was put off until the next turn of the loop is done: entries that a choice brings, editors that go.
  static void settle() {
    QCoreApplication::processEvents();
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
  }
  template <class T>
  T* row(const QString& key) {
    settle();  // editors of the thing before are gone
    auto* found = w_->desk()->findChild<T*>("row-" + key);
    if (found) w_->desk()->unfold(found), settle();
    return found;
  }
  /// Presses the buttons of an entry until these words are chosen and no others.
  void toggle(const QString& key, const QStringList& words) {
    auto* box = row<QWidget>(key);
    QVERIFY2(box, qPrintable(key));
    for (auto* b : box->findChildren<QToolButton*>()) {
      if (b->isChecked() == words.contains(b->text())) continue;
      reach(b);
      QTest::mouseClick(b, Qt::LeftButton);
    }
  }
  /// Scrolls until a widget of the desk or a list is in sight.
  static void reach(QWidget* widget) {
    for (auto* up = widget->parentWidget(); up; up = up->parentWidget())
      if (auto* area = qobject_cast<QScrollArea*>(up)) area->ensureWidgetVisible(widget);
  }
  /// Clicks a field and writes into it.
  void type(QLineEdit* box, const QString& text) {
    reach(box);
    QTest::mouseClick(box, Qt::LeftButton);
    QTest::keyClick(box, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(box, text);
    QTest::keyClick(box, Qt::Key_Return);
  }
  /// Opens a box of choices with the mouse and takes one with the keys.
  void takeChoice(QComboBox* box, const QString& words) {
    const int at = box->findText(words);
    QVERIFY2(at >= 0, qPrintable("no choice " + words));
    reach(box);
    // of one that can be typed into, the arrow opens it
    QTest::mouseClick(box, Qt::LeftButton, {}, box->isEditable() ? QPoint(box->width() - 10, box->height() / 2) : QPoint());
    auto* list = box->view();
    QTRY_VERIFY(list->isVisible());
    QTest::keyClick(list, Qt::Key_Home);
    for (int k = 0; k < at; ++k) QTest::keyClick(list, Qt::Key_Down);
    QTest::keyClick(list, Qt::Key_Return);
    backToWindow();
  }
  /// A bare display has no window manager that gives the keys back when a menu or dialog has closed.
  void backToWindow() {
    QCoreApplication::processEvents();
    QApplication::setActiveWindow(w_.get());
    QTRY_VERIFY(w_->isActiveWindow());
  }
  /// Clicks a line of the menu that opens while act() runs; the menu holds act() until then.
  template <class Act>
  void takeFromMenu(const QString& words, const Act& act) {
    bool taken = false;
    QTimer hand;
    hand.setInterval(20);
    QObject::connect(&hand, &QTimer::timeout, [&] {
      auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
      if (!menu) return;
      hand.stop();
      for (auto* action : menu->actions())
        if (action->text() == words && action->isEnabled()) {
          taken = true;
          QTest::mouseMove(menu, menu->actionGeometry(action).center());
          QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(action).center());
        }
      if (menu->isVisible()) menu->close();
    });
    hand.start();
    act();
    backToWindow();
    QVERIFY2(taken, qPrintable("not in the menu: " + words));
  }
  void takeFromMenu(QAbstractButton* button, const QString& words) {
    QVERIFY(button);
    reach(button);
    takeFromMenu(words, [button] { QTest::mouseClick(button, Qt::LeftButton); });
  }
  /// A right click at a place of a widget, and a line of its menu.
  void takeFromMenuAt(QWidget* widget, const QPoint& at, const QString& words) {
    takeFromMenu(words, [&] {
      QContextMenuEvent e(QContextMenuEvent::Mouse, at, widget->mapToGlobal(at));
      QApplication::sendEvent(widget, &e);
    });
  }
  /// Runs a command by its name: Ctrl+K, the name, Enter.
  void command(const QString& name) {
    backToWindow();
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_K, Qt::ControlModifier);
    auto* box = w_->findChild<QLineEdit*>("commandBox");
    QTRY_VERIFY(box->hasFocus());
    QTest::keyClicks(box, name);
    QTest::keyClick(box, Qt::Key_Return);
  }
  /// A name is written into the file dialog that act() opens, and a button of it clicked.
  template <class Act>
  void answerFileDialog(const QString& path, QDialogButtonBox::StandardButton button, const Act& act) {
    bool written = false;
    int looks = 0;
    QTimer hand;
    hand.setInterval(20);
    QObject::connect(&hand, &QTimer::timeout, [&] {
      auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
      auto* box = dialog ? dialog->findChild<QLineEdit*>("fileNameEdit") : nullptr;
      if (!box) return;
      if (++looks > 250) return dialog->reject();
      if (box->text() != path) {
        QTest::mouseClick(box, Qt::LeftButton);
        QTest::keyClick(box, Qt::Key_A, Qt::ControlModifier);
        QTest::keyClicks(box, path);
        return;
      }
      written = true;
      QTest::mouseClick(dialog->findChild<QDialogButtonBox*>()->button(button), Qt::LeftButton);
    });
    backToWindow();
    hand.start();
    act();
    backToWindow();
    QVERIFY(written);
  }
  /// Saves under a name, which is asked for when the model has none yet.
  void saveAs(const QString& path) {
    answerFileDialog(path, QDialogButtonBox::Save, [this] {
      w_->setFocus();
      QTest::keyClick(w_.get(), Qt::Key_S, Qt::ControlModifier);
    });
    QVERIFY(QFile::exists(path));
  }
  /// Ticks a history in Curves, or takes its tick away.
  void tick(const QString& history) {
    auto* list = w_->curves()->findChild<QListWidget*>("curveY");
    const auto items = list->findItems(history, Qt::MatchExactly);
    QVERIFY2(items.size() == 1, qPrintable("no history " + history));
    list->scrollToItem(items[0]);
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(items[0]).center());
    QTest::keyClick(list, Qt::Key_Space);
  }
  /// Turns the view: a drag over its empty or full parts alike.
  void turn(const QPoint& by) {
    auto* canvas = w_->view()->canvas();
    const QPoint from = canvas->rect().center();
    const auto send = [&](QEvent::Type type, const QPoint& at, Qt::MouseButton button, Qt::MouseButtons held) {
      QMouseEvent e(type, at, canvas->mapToGlobal(at), button, held, Qt::NoModifier);
      QApplication::sendEvent(canvas, &e);
    };
    send(QEvent::MouseButtonPress, from, Qt::LeftButton, Qt::LeftButton);
    for (int k = 1; k <= 8; ++k) send(QEvent::MouseMove, from + by * k / 8, Qt::NoButton, Qt::LeftButton);
    send(QEvent::MouseButtonRelease, from + by, Qt::LeftButton, Qt::NoButton);
  }
  void undo() {
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_Z, Qt::ControlModifier);
  }
  void clickRun() { QTest::mouseClick(w_->findChild<QPushButton*>("run"), Qt::LeftButton); }
  void runToEnd() {
    clickRun();
    QTRY_VERIFY(w_->control().active());
    QTRY_VERIFY_WITH_TIMEOUT(!w_->control().active(), 60000);
  }
};

/// One per test file.
QObject* makeWindowTest();
QObject* makeHistoryTest();
QObject* makeDeskTest();
QObject* makeReviewTest();
QObject* makeSolidTest();
QObject* makeGeometryTest();
QObject* makeJointTest();
QObject* makeDisplayTest();
QObject* makeSlenderTest();
QObject* makeSheetTest();
QObject* makeLanguageTest();
QObject* makeMeshPageTest();
QObject* makePickingTest();
QObject* makeClampTest();
QObject* makeBeginTest();
QObject* makeMaterialPageTest();
QObject* makeUnitsTest();
QObject* makeOutlineTest();
QObject* makeFromNewTest();
QObject* makeAccessTest();

}  // namespace anvil::app
