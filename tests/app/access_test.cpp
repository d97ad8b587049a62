// The window without a mouse and without eyes for detail: contrast of words, names for assistive tools, the way of the Tab key,
// small windows.
#include <QCheckBox>
#include <QSlider>
#include <QTableWidget>
#include <cmath>

#include "app/materials/material_page.hpp"
#include "core/model/document.hpp"
#include "fixture.hpp"

namespace anvil::app {
namespace {

/// Relative luminance and contrast of the WCAG, 2.1.
double luminance(const QColor& c) {
  const auto part = [](double v) { return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
  return 0.2126 * part(c.redF()) + 0.7152 * part(c.greenF()) + 0.0722 * part(c.blueF());
}
double contrast(const QColor& a, const QColor& b) {
  const double x = luminance(a), y = luminance(b);
  return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

}  // namespace

class AccessTest : public QObject, WindowFixture {
  Q_OBJECT
  QList<QWidget*> focusable() {
    QList<QWidget*> all;
    for (auto* w : w_->findChildren<QWidget*>())
      if (w->isVisible() && w->isEnabled() && w->focusPolicy() & Qt::TabFocus && !w->focusProxy() &&
          !qobject_cast<QScrollArea*>(w) && w->objectName() != "qt_scrollarea_viewport")
        all << w;
    return all;
  }
  static QString about(QWidget* w) {
    return QString("%1 '%2' in %3")
        .arg(w->metaObject()->className(), w->objectName(),
             w->parentWidget() ? w->parentWidget()->metaObject()->className() : "");
  }
  template <class Look>
  void onEveryPage(const Look& look) {
    for (const auto& [kind, name] : std::vector<std::pair<QString, QString>>{{"parts", "block"},
                                                                             {"materials", "steel"},
                                                                             {"contacts", "press"},
                                                                             {"supports", "base"},
                                                                             {"motions", "push"},
                                                                             {"model", ""}}) {
      w_->select(kind, name);
      settle();
      look(kind);
    }
    w_->showMesh();
    look("mesh");
    QTest::keyClick(w_.get(), Qt::Key_K);
    QTRY_VERIFY(w_->touching() && w_->touching()->isVisible());
    look("what touches");
    w_->showMaterial("steel");
    w_->materialPage()->takeData("strain;stress [MPa]\n0,001;205\n0,01;280\n0,1;340\n", "pasted");
    look("material");
    for (int page : {2, 3, 0}) w_->showPage(page), settle(), look("page " + QString::number(page));
  }

 private slots:
  void wordsStandOutInBothThemes() {
    for (const bool dark : {false, true}) {
      applyTheme(*qApp, dark);
      const auto& t = theme();
      for (const auto& back : {t.paper, t.raised, t.hover})
        for (const auto& words : {t.ink, t.faint, t.accentInk, t.good, t.warn})
          QVERIFY2(contrast(words, back) >= 4.5, qPrintable(words.name() + " on " + back.name()));
      QVERIFY(contrast(Qt::white, t.accent) >= 4.5);  // Run
    }
    applyTheme(*qApp, false);
  }

  void whatTakesKeysHasAName() {
    open();
    w_->resize(1280, 800);
    int seen = 0;
    onEveryPage([&](const QString& page) {
      for (auto* w : focusable()) {
        const auto* button = qobject_cast<QAbstractButton*>(w);
        QVERIFY2(!w->accessibleName().isEmpty() || (button && button->text().size() > 1), qPrintable(page + ": " + about(w)));
        ++seen;
      }
    });
    QVERIFY(seen > 150);
    w_.reset();
  }

  void tabComesByEverything() {
    open();
    w_->resize(1280, 800);
    onEveryPage([&](const QString& page) {
      const auto all = focusable();
      if (all.isEmpty()) return;
      all.front()->setFocus(Qt::TabFocusReason);
      QSet<QWidget*> met;
      auto* now = QApplication::focusWidget();
      for (int k = 0; k < 4 * all.size() && now; ++k) {
        met << now;
        QTest::keyClick(now, Qt::Key_Tab);
        now = QApplication::focusWidget();
      }
      for (auto* w : all) {
        const auto* button = qobject_cast<QAbstractButton*>(w);
        if (button && button->autoExclusive() && !button->isChecked())
          continue;  // arrow keys go among those that exclude each other
        QVERIFY2(met.contains(w), qPrintable(page + ": " + about(w)));
      }
    });
    w_.reset();
  }

  void cardsAndCellsAreWorkedByKeys() {
    open();
    w_->resize(1280, 800);
    card("parts", "block")->setFocus(Qt::TabFocusReason);
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Down);
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    QCOMPARE(w_->desk()->name(), QString("tool"));
    settle();
    card("parts", "block")->setFocus(Qt::TabFocusReason);
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_E);
    QVERIFY(w_->view()->isHidden(0));
    auto* history = w_->history();
    history->setFocus(Qt::TabFocusReason);
    QTest::keyClick(history, Qt::Key_Down), QTest::keyClick(history, Qt::Key_Up);
    QCOMPARE(w_->desk()->name(), QString("push"));
    QTest::keyClick(history, Qt::Key_Right, Qt::ControlModifier);
    QTest::keyClick(history, Qt::Key_Return);
    auto* editor = history->findChild<QLineEdit*>("cellEditor");
    QVERIFY(editor->isVisible());
    QTest::keyClicks(editor, "0.05");
    QTest::keyClick(editor, Qt::Key_Return);
    QVERIFY(QString::fromStdString(w_->document().text()).contains("\"release\": 0.05"));
    w_.reset();
  }

  /// In a window of 1024 by 700 everything is inside it, or inside something that scrolls.
  void smallWindowsKeepAllInReach() {
    open();
    w_->resize(1024, 700);
    settle();
    QVERIFY(w_->width() <= 1024 && w_->height() <= 700);
    onEveryPage([&](const QString& page) {
      const QRect window = w_->rect();
      for (auto* w : focusable()) {
        bool scrolls = false;
        for (auto* up = w->parentWidget(); up; up = up->parentWidget())
          scrolls = scrolls || qobject_cast<QAbstractScrollArea*>(up);
        const QRect place(w->mapTo(w_.get(), QPoint(0, 0)), w->size());
        QVERIFY2(scrolls || window.contains(place), qPrintable(page + ": " + about(w)));
      }
      QVERIFY2(w_->width() <= 1024 && w_->height() <= 700, qPrintable(page));
    });
    w_.reset();
  }
};

QObject* makeAccessTest() { return new AccessTest; }

}  // namespace anvil::app

#include "access_test.moc"
