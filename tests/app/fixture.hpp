// The real window on a small model, and the hands that drive it.
#pragma once
#include <QtTest>

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
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
    "block": {"material": "steel", "element": "quad4", "shape": {"rectangle": {"at": [0, 0], "size": [10, 5]}}, "mesh": {"size": 1}},
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
  void prepared() { QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current(), 20000); }
  const model::Document& document() const { return w_->document().document(); }
  Card* card(const QString& kind, const QString& name) {
    for (auto* c : w_->shelf()->cards())
      if (c->kind == kind && c->name == name) return c;
    return nullptr;
  }
  static void settle() { QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete); }
  template <class T> T* row(const QString& key) {
    settle();  // editors of the thing before are gone
    return w_->desk()->findChild<T*>("row-" + key);
  }
  void type(QLineEdit* box, const QString& text) {
    box->setFocus();
    box->selectAll();
    QTest::keyClicks(box, text);
    QTest::keyClick(box, Qt::Key_Return);
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
QObject* makeMeshPageTest();
QObject* makePickingTest();
QObject* makeClampTest();

}  // namespace anvil::app
