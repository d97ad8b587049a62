// The beginning of a model in the real window, what comes next, and the box that finds everything.
#include <QAbstractButton>

#include "app/command_box.hpp"
#include "core/model/actions.hpp"
#include "core/model/beginnings.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/things.hpp"
#include "fixture.hpp"

namespace anvil::app {

class BeginTest : public QObject, WindowFixture {
  Q_OBJECT
  template <class T = QAbstractButton>
  T* named(const QString& name) {
    return w_->findChild<T*>(name);
  }
  void press(const QString& name) {
    auto* b = named(name);
    QVERIFY2(b, qPrintable(name));
    QTest::mouseClick(b, Qt::LeftButton);
  }
  CommandBox* box() { return named<CommandBox>("commandBox"); }
  QStringList found(const QString& typed) {
    QTest::keyClick(w_.get(), Qt::Key_K, Qt::ControlModifier);
    QTest::keyClicks(box(), typed);
    const auto names = box()->shown();
    QTest::keyClick(box(), Qt::Key_Escape);
    return names;
  }
  void fresh() {
    w_ = std::make_unique<MainWindow>();
    w_->resize(1280, 800);
    w_->show();
    QVERIFY(QTest::qWaitForWindowExposed(w_.get()));
    QApplication::setActiveWindow(w_.get());
  }

 private slots:
  void cleanup() { w_.reset(); }

  void aModelBeginsWithItsKindAndAPart() {
    fresh();
    for (auto* b : w_->findChildren<QPushButton*>())
      if (b->text() == "New model" && b->isVisible()) QTest::mouseClick(b, Qt::LeftButton);
    QCOMPARE(w_->page(), 3);
    QVERIFY(!w_->document().isOpen());  // nothing is thrown away before it is chosen
    QTest::keyClick(w_.get(), Qt::Key_Escape);
    QCOMPARE(w_->page(), 0);
    command("New model");
    QCOMPARE(w_->page(), 3);
    press("kind-plane stress");
    QVERIFY(!named("begin-box"));
    press("begin-bracket");
    QCOMPARE(w_->page(), 1);
    QCOMPARE(document().space, std::string("plane stress"));
    QCOMPARE(document().parts.front().first, std::string("bracket"));
    prepared();
    QVERIFY(w_->preparation().trouble().isEmpty());
    QVERIFY(w_->preparation().header().mesh.blocks.front().count() > 50);
    // what comes next
    const auto ticked = [&](const char* stage) { return named(QString("next-") + stage)->text().contains("✓"); };
    QVERIFY(named("next-supports")->isVisible());
    QVERIFY(ticked("part") && ticked("material") && !ticked("supports") && !ticked("steps"));
    press("next-supports");
    QVERIFY(w_->noticeText().contains("Click a face"));
    QTest::mouseClick(w_->view()->canvas(), Qt::LeftButton, {}, w_->view()->canvas()->toScreen(0, 40, 0).toPoint());
    QCOMPARE(w_->view()->pickedFaces(), QStringList{"bracket.back"});
    press("next-supports");
    QCOMPARE(document().supports.front().second.on.front(), std::string("bracket.back"));
    QVERIFY(ticked("supports"));
    press("next-away");
    QVERIFY(!named("next-supports")->isVisible());
    command("New model");
    // by keys: to the fourth kind, then to a part
    for (int i = 0; i < 3; ++i) QTest::keyClick(QApplication::focusWidget(), Qt::Key_Right);
    QCOMPARE(QApplication::focusWidget()->objectName(), QString("kind-solid"));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Space);
    QVERIFY(named("begin-box"));
    named("begin-box")->setFocus();
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    QVERIFY(!named("next-supports")->isVisible());  // it was put away for good
    QCOMPARE(document().space, std::string("solid"));
  }

  void everyBeginningIsSound() {
    for (const auto& kind : model::beginnings()) {
      for (const auto& part : kind.parts) {
        fresh();
        w_->document().openNew(model::begun(kind.name, part));
        w_->showPage(1);
        prepared();
        const auto why = QString::fromStdString(kind.name + ", " + part) + ": " + w_->preparation().trouble();
        QVERIFY2(!w_->preparation().header().mesh.blocks.empty(), qPrintable(why));
        for (const auto& f : w_->preparation().readiness().findings)
          QVERIFY2(!f.fault || f.what.find("mov") != std::string::npos || f.what.find("held") != std::string::npos ||
                       f.what.find("hold") != std::string::npos,
                   qPrintable(why + QString::fromStdString(f.where + ": " + f.what)));
      }
    }
    QVERIFY_THROWS_EXCEPTION(Error, model::begun("plane"));
    QVERIFY_THROWS_EXCEPTION(Error, model::begun("solid", "tray"));
  }

  void wordsAreFoundByTheirBeginningsInAnyOrder() {
    QVERIFY(CommandBox::fits("Make a thin part of the picked faces", "fac thi"));
    QVERIFY(CommandBox::fits("Make a thin part of the picked faces", "PICKED"));
    QVERIFY(!CommandBox::fits("Make a thin part of the picked faces", "icked"));
    QVERIFY(!CommandBox::fits("Make a thin part of the picked faces", "thin shell"));
    QVERIFY(CommandBox::fits("Bring in STEP geometry…", ""));
    QVERIFY(CommandBox::fits("wall  (parameter)", "par wal"));
  }

  void theBoxIsWorkedByKeysAndRemembers() {
    open();
    QTest::keyClick(w_.get(), Qt::Key_K, Qt::ControlModifier);
    QTest::keyClicks(box(), "shell");  // a word of the help
    QCOMPARE(box()->shown().value(0), QString("Make a thin part of the picked faces"));
    QTest::keyClick(box(), Qt::Key_Escape);
    QVERIFY(!box()->isOpen());
    const auto names = found("curves");
    QVERIFY(names.size() > 1);
    const auto second = names[1];
    QTest::keyClick(w_.get(), Qt::Key_K, Qt::ControlModifier);
    QTest::keyClicks(box(), "curves");
    QTest::keyClick(box(), Qt::Key_Down);
    QTest::keyClick(box(), Qt::Key_Return);
    QVERIFY(!box()->isOpen());
    QCOMPARE(found("curves").value(0), second);  // used last, it comes first
    QCOMPARE(found("").value(0), second);
    QCOMPARE(found("xyzzy"), QStringList{"Nothing of that name"});
  }

  /// Every button and menu of the pages, every thing and parameter.
  void everythingIsInTheBox() {
    open();
    w_->select("parts", "block");
    const auto all = found("");
    const auto has = [&](const QString& words) {
      return std::any_of(all.begin(), all.end(), [&](const QString& n) { return n.startsWith(words, Qt::CaseInsensitive); });
    };
    int looked = 0;
    for (auto* b : w_->findChildren<QToolButton*>()) {
      const auto words = b->text().remove('&').trimmed();
      if (!b->isVisible() || words.size() < 3 || b->objectName() == "name" || b->objectName() == "readiness") continue;
      if (b->parentWidget()->objectName() == "bar") continue;  // tabs: commands of their own
      QVERIFY2(has(words) || b->menu(), qPrintable(words));
      ++looked;
    }
    for (auto* b : w_->findChildren<QPushButton*>()) {
      if (!b->isVisible() || b->menu()) continue;
      QVERIFY2(has(b->text().remove('&').trimmed()), qPrintable(b->text()));
      ++looked;
    }
    QVERIFY(looked > 6);
    for (auto* action : named<QToolButton>("name")->menu()->actions())
      if (!action->isSeparator()) QVERIFY2(has(action->text()), qPrintable(action->text()));
    for (const auto& kind : model::kindsOfThings())
      for (const auto& name : model::namesOf(document(), kind)) QVERIFY2(has(QString::fromStdString(name) + "  ("), name.c_str());
    for (const char* words : {"depth  (parameter)", "Add a material", "Add a feature", "Split 'press'", "Model page"})
      QVERIFY2(has(words) || QString(words) == "Add a feature", words);
    command("Add a load");
    QCOMPARE(document().loads.size(), size_t(1));
    command("depth parameter");
    QCOMPARE(w_->desk()->kind(), QString("model"));
    command("Split 'press'");
    QCOMPARE(document().steps.size(), size_t(3));
  }

  void theViewIsEnlarged() {
    open();
    const int before = w_->view()->width();
    QTest::keyClick(w_.get(), Qt::Key_F6);
    QVERIFY(w_->shelf()->isHidden());
    QTest::keyClick(w_.get(), Qt::Key_F7);
    QVERIFY(w_->desk()->isHidden());
    QTest::keyClick(w_.get(), Qt::Key_F8);
    QVERIFY(w_->history()->isHidden());
    QTRY_VERIFY(w_->view()->width() > before + 400);
    QTest::keyClick(w_.get(), Qt::Key_F9);
    QVERIFY(!w_->shelf()->isHidden() && !w_->desk()->isHidden() && !w_->history()->isHidden());
    QTest::keyClick(w_.get(), Qt::Key_F9);
    QVERIFY(w_->shelf()->isHidden() && w_->desk()->isHidden() && w_->history()->isHidden());
  }

  /// Even to the eye, ever darker, and light enough at the low end to read the mesh on it.
  void fieldColoursAreEven() {
    struct Lab {
      double L, a, b;
    };
    const auto lab = [](const QColor& c) {
      const auto linear = [](double v) { return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
      const double r = linear(c.redF()), g = linear(c.greenF()), b = linear(c.blueF());
      const auto f = [](double v) { return v > 0.008856 ? std::cbrt(v) : 7.787 * v + 16. / 116; };
      const double x = f((0.4124564 * r + 0.3575761 * g + 0.1804375 * b) / 0.95047),
                   y = f(0.2126729 * r + 0.7151522 * g + 0.072175 * b),
                   z = f((0.0193339 * r + 0.119192 * g + 0.9503041 * b) / 1.08883);
      return Lab{116 * y - 16, 500 * (x - y), 200 * (y - z)};
    };
    const auto apart = [](const Lab& p, const Lab& q) { return std::hypot(std::hypot(p.L - q.L, p.a - q.a), p.b - q.b); };
    QVERIFY(lab(heat(0)).L > 80);
    QVERIFY(lab(heat(0)).L < 92);  // and darker than the paper behind it
    std::vector<double> steps;
    for (int i = 0; i < 10; ++i) {
      const auto one = lab(heat(i / 10.)), next = lab(heat((i + 1) / 10.));
      steps.push_back(apart(one, next));
      QVERIFY(next.L < one.L);
    }
    const auto [least, most] = std::minmax_element(steps.begin(), steps.end());
    QVERIFY2(*most < 1.25 * *least, qPrintable(QString("%1 %2").arg(*least).arg(*most)));
    for (int i = 0; i < 5; ++i) {
      QVERIFY(lab(twoEnded(i / 10.)).L < lab(twoEnded((i + 1) / 10.)).L);
      QVERIFY(lab(twoEnded(1 - i / 10.)).L < lab(twoEnded(0.9 - i / 10.)).L);
      QVERIFY(lab(twoEnded(i / 10.)).L > 35 && lab(twoEnded(1 - i / 10.)).L > 35);
    }
  }
};

QObject* makeBeginTest() { return new BeginTest; }

}  // namespace anvil::app

#include "begin_test.moc"
