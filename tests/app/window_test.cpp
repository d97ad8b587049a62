// The window as a whole: opening, saving, running, finding.
#include "core/model/actions.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "fixture.hpp"

#include <QFileInfo>

namespace anvil::app {

class WindowTest : public QObject, WindowFixture {
  Q_OBJECT
 private slots:
  void init() { open(); }
  void cleanup() { w_.reset(); }

  void startPageOffersTheExample() {
    w_->showPage(0);
    QVERIFY(w_->minimumSizeHint().height() <= 700);  // however many examples there are
    QTRY_VERIFY(!w_->findChildren<StartPage*>().front()->findChildren<QWidget*>().isEmpty());
    bool found = false;
    for (auto* c : w_->findChildren<StartPage*>().front()->findChildren<QWidget*>())
      if (c->accessibleName() == "ferrule-crimp") {
        found = true;
        QTest::mouseClick(c, Qt::LeftButton);
        break;
      }
    QVERIFY(found);
    QCOMPARE(w_->page(), 1);
    QCOMPARE(QString::fromStdString(w_->document().document().title), QString("Ferrule crimped on a rod end"));
  }

  void shelfShowsCardsAndADeskOpensOnClick() {
    QVERIFY(card("parts", "block") && card("materials", "steel") && card("contacts", "press") && card("supports", "base"));
    QTest::mouseClick(card("materials", "steel"), Qt::LeftButton);
    QCOMPARE(w_->desk()->kind(), QString("materials"));
    QVERIFY(row<QLineEdit>("plastic/yield"));
    QCOMPARE(row<QLineEdit>("plastic/yield")->text(), QString("260"));
    QTest::keyClicks(w_->shelf()->search(), "tool");
    QTRY_VERIFY(!card("materials", "steel"));
    QVERIFY(card("parts", "tool"));
  }

  void valuesAreEditedWithUnitsAndUndone() {
    QTest::mouseClick(card("materials", "steel"), Qt::LeftButton);
    type(row<QLineEdit>("plastic/yield"), "0.3 GPa");
    QCOMPARE(QString::fromStdString(w_->document().document().materials.front().second.plastic->yield.text), QString("0.3 GPa"));
    QVERIFY(w_->document().dirty());
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(w_->document().document().materials.front().second.plastic->yield.number.has_value());
    QCOMPARE(*w_->document().document().materials.front().second.plastic->yield.number, 260.);
    QVERIFY(w_->noticeText().contains("Undone: yield stress of steel"));
    QTest::keyClick(w_.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(!w_->document().document().materials.front().second.plastic->yield.number);
  }

  void aFaultIsSaidInTheDeskAndInReadiness() {
    QTest::mouseClick(card("materials", "steel"), Qt::LeftButton);
    type(row<QLineEdit>("plastic/yield"), "12 kg");
    settle();
    auto* said = w_->desk()->findChild<QLabel*>("trouble");
    QVERIFY2(said && said->text().contains("does not measure a stress"), said ? qPrintable(said->text()) : "");
    auto* ready = w_->findChild<QToolButton*>("readiness");
    QTRY_COMPARE(ready->text(), QString("1 to mend"));
    QTest::mouseClick(w_->findChild<QPushButton*>("run"), Qt::LeftButton);
    QVERIFY(!w_->control().active());
    QVERIFY(w_->noticeText().startsWith("Not run"));
  }

  void aCellOfTheHistoryIsEditedInPlace() {
    QTRY_COMPARE(int(w_->history()->lanes().size()), 3);
    const auto at = w_->history()->cellCenter(0, 0);
    QTest::mouseDClick(w_->history(), Qt::LeftButton, {}, at);
    auto* editor = w_->history()->findChild<QLineEdit*>("cellEditor");
    QTRY_VERIFY(editor->isVisible());
    QCOMPARE(editor->text(), QString("=-depth"));
    type(editor, "-0.2");
    QCOMPARE(*w_->document().document().motions.front().second.course.stages.find("press")->value.number, -0.2);
    QCOMPARE(w_->history()->lanes().front().cells[0], QString("-0.2"));
    QTest::mouseClick(w_->history(), Qt::LeftButton, {}, at);
    QCOMPARE(w_->desk()->name(), QString("push"));
  }

  void stepsAreEditedAndRenamedWithTheirReferences() {
    w_->select("steps", "release");
    type(row<QLineEdit>("increments/largest"), "0.25");
    QCOMPARE(*w_->document().document().steps.find("release")->increments.largest.number, 0.25);
    auto* name = w_->desk()->findChild<QLineEdit*>("thingName");
    type(name, "let go");
    QVERIFY(w_->document().document().steps.find("let go"));
    QVERIFY(w_->document().document().motions.front().second.course.stages.find("let go"));
  }

  void thingsAreAddedAndRemoved() {
    QTest::mouseClick(w_->shelf()->findChild<QToolButton*>("add-loads"), Qt::LeftButton);
    QCOMPARE(int(w_->document().document().loads.size()), 1);
    QCOMPARE(w_->desk()->kind(), QString("loads"));
    QTest::mouseClick(w_->desk()->findChild<QToolButton*>("removeThing"), Qt::LeftButton);
    QVERIFY(w_->document().document().loads.empty());
  }

  void savingWritesTheFileAndAutosaveRecovers() {
    QTest::mouseClick(card("materials", "steel"), Qt::LeftButton);
    type(row<QLineEdit>("elastic/nu"), "0.28");
    w_->document().autosave();
    w_.reset();  // closed without saving
    w_ = std::make_unique<MainWindow>();
    w_->show();
    QTest::qWait(1100);
    QVERIFY(w_->openModel(model()));
    QCOMPARE(*w_->document().document().materials.front().second.elastic.nu.number, 0.28);
    QVERIFY(w_->document().dirty());
    QVERIFY(w_->save());
    QVERIFY(!w_->document().dirty());
    QCOMPARE(*model::load(model().toStdString()).materials.front().second.elastic.nu.number, 0.28);
  }

  void aRunIsWatchedAndItsHistoryPlayed() {
    runToEnd();
    QCOMPARE(int(w_->control().state()), int(RunControl::State::finished));
    QVERIFY(w_->results().has());
    const int last = int(w_->results().rows().size()) - 1;
    QCOMPARE(w_->results().row(), last);
    QVERIFY(!w_->control().iterations().isEmpty());
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_Home);
    QCOMPARE(w_->results().row(), -1);
    QTest::keyClick(w_.get(), Qt::Key_Right);
    QCOMPARE(w_->results().row(), 0);
    QTest::keyClick(w_.get(), Qt::Key_Space);
    QTRY_COMPARE_WITH_TIMEOUT(w_->results().row(), last, 10000);
    // the playhead follows the mouse
    QTest::mousePress(w_->history(), Qt::LeftButton, {}, QPoint(195, 10));
    QCOMPARE(w_->results().row(), -1);
    QTest::mouseMove(w_->history(), QPoint(w_->history()->width() - 24, 10));
    QTest::mouseRelease(w_->history(), Qt::LeftButton, {}, QPoint(w_->history()->width() - 24, 10));
    w_->results().setRow(last);
    w_->results().setField("equivalent plastic strain");
    QVERIFY(w_->results().high() > 0.005);
    QCOMPARE(w_->view()->fieldBox()->currentText(), QString("equivalent plastic strain"));
  }

  void aPinFollowsTheValueAndThePictureIsNotBlank() {
    runToEnd();
    auto* canvas = w_->view()->canvas();
    const auto middle = canvas->toScreen(5, 2, 0).toPoint();
    QTest::mouseClick(canvas, Qt::LeftButton, {}, middle);
    QCOMPARE(int(w_->view()->pins().size()), 1);
    QTest::mouseClick(canvas, Qt::LeftButton, {}, middle);
    QCOMPARE(int(w_->view()->pins().size()), 0);
    const auto picture = canvas->grabFramebuffer();
    const auto paper = theme().paper.rgb();
    QVERIFY(picture.pixel(3, picture.height() / 2) == paper);
    QVERIFY2(picture.pixel(middle) != paper, "the block is drawn where it is");
    w_->view()->findChild<QToolButton*>("edges")->click();
    w_->view()->findChild<QToolButton*>("lock")->click();
    QVERIFY(w_->results().rangeLocked());
  }

  void hidingAPartTakesItOutOfThePicture() {
    QTest::mouseClick(card("parts", "block"), Qt::LeftButton, {}, QPoint(card("parts", "block")->width() - 21, 18));
    QCOMPARE(int(w_->view()->sight(0)), int(Sight::faded));
    QTest::qWait(50);
    QVERIFY(w_->view()->canvas()->grabFramebuffer().pixel(w_->view()->canvas()->toScreen(5, 2, 0).toPoint()) ==
            theme().paper.rgb());
    QTest::mouseClick(card("parts", "block"), Qt::LeftButton, {}, QPoint(card("parts", "block")->width() - 21, 18));
    QCOMPARE(int(w_->view()->sight(0)), int(Sight::hidden));
    QTest::qWait(50);
    auto* canvas = w_->view()->canvas();
    QVERIFY(canvas->grabFramebuffer().pixel(canvas->toScreen(5, 2, 0).toPoint()) == theme().paper.rgb());
  }

  void clickingAnEdgeInTheViewNamesIt() {
    auto* canvas = w_->view()->canvas();
    QStringList picked;
    connect(w_->view(), &ModelView::facesPicked, this, [&](const QStringList& f) { picked = f; });
    QTest::mouseClick(canvas, Qt::LeftButton, {}, canvas->toScreen(10, 2.6, 0).toPoint());
    QCOMPARE(picked, QStringList("block.right"));
    QTest::mouseClick(canvas, Qt::LeftButton, Qt::ControlModifier, canvas->toScreen(0, 2.6, 0).toPoint());
    QCOMPARE(picked, (QStringList{"block.right", "block.left"}));
    // what is added acts on what is picked
    QTest::mouseClick(w_->shelf()->findChild<QToolButton*>("add-supports"), Qt::LeftButton);
    QCOMPARE(document().supports.find("support")->on, (std::vector<std::string>{"block.right", "block.left"}));
  }

  void aBoxPicksEdgesAndReadsAResult() {
    auto* canvas = w_->view()->canvas();
    const auto drag = [&](QPoint a, QPoint b) {
      QTest::mousePress(canvas, Qt::LeftButton, Qt::ShiftModifier, a);
      QMouseEvent move(QEvent::MouseMove, QPointF(b), canvas->mapToGlobal(QPointF(b)), Qt::NoButton, Qt::LeftButton,
                       Qt::ShiftModifier);
      QApplication::sendEvent(canvas, &move);
      QTest::mouseRelease(canvas, Qt::LeftButton, Qt::ShiftModifier, b);
    };
    const auto at = [&](double x, double y) { return canvas->toScreen(x, y, 0).toPoint(); };
    drag(at(9.5, 6), at(10.5, -0.5));
    QCOMPARE(w_->view()->pickedFaces(), QStringList("block.right"));
    drag(at(-1, 6), at(11, -1));
    QCOMPARE(int(w_->view()->pickedFaces().size()), 4);
    runToEnd();
    w_->results().setField("displacement y");
    QTRY_VERIFY(!w_->results().busy());
    drag(at(-1, 0.4), at(11, -1));  // the held edge: eleven nodes that do not move
    QCOMPARE(int(w_->view()->boxedNodes().size()), 11);
    QVERIFY2(w_->noticeText().startsWith("11 nodes: displacement y from 0 to 0, mean 0 mm"), qPrintable(w_->noticeText()));
    drag(at(30, 30), at(31, 31));
    QCOMPARE(w_->noticeText(), QString("No nodes in the box."));
  }

  void curvesShowForceAgainstTravelAndReadOff() {
    runToEnd();
    w_->showPage(2);
    w_->curves()->plot("motions/push/travel", {"motions/push/force y"});
    const double f = w_->curves()->readOff(-0.25);
    QVERIFY(std::isfinite(f) && std::abs(f) > 100);
    const auto lines = w_->curves()->csv().split('\n', Qt::SkipEmptyParts);
    QCOMPARE(int(lines.size()), int(w_->results().rows().size()) + 1);
    for (double v : *w_->results().history("motions/push/force y")) QVERIFY(std::abs(v) < 1e6);
  }

  void stoppingKeepsWhatIsSolvedAndContinues() {
    QVERIFY(w_->openModel(StartPage::examplesFolder() + "/ferrule-crimp/ferrule-crimp.anvil"));
    clickRun();
    QTRY_VERIFY_WITH_TIMEOUT(w_->results().has() && w_->results().rows().size() >= 3, 30000);
    w_->control().pause();
    QCOMPARE(int(w_->control().state()), int(RunControl::State::paused));
    int paused = -1;  // it ends the iteration that it is at
    const auto atRest = [&] {
      const int before = paused;
      QTest::qWait(600);
      return (paused = int(w_->control().iterations().size())) == before;
    };
    QTRY_VERIFY_WITH_TIMEOUT(atRest(), 20000);
    QTest::qWait(600);
    QCOMPARE(int(w_->control().iterations().size()), paused);
    w_->control().resume();
    QTRY_VERIFY_WITH_TIMEOUT(int(w_->control().iterations().size()) > paused, 20000);
    QTest::mouseClick(w_->findChild<QPushButton*>("run"), Qt::LeftButton);
    QTRY_COMPARE_WITH_TIMEOUT(int(w_->control().state()), int(RunControl::State::stopped), 20000);
    const auto kept = w_->results().rows().size();
    QVERIFY(kept >= 3);
    w_->run(true);
    QTRY_VERIFY_WITH_TIMEOUT(w_->results().has() && w_->results().rows().size() > kept, 30000);
    w_->control().stop();
    QTRY_VERIFY_WITH_TIMEOUT(!w_->control().active(), 20000);
  }

  void theCommandBoxFindsThings() {
    auto* box = w_->findChild<QLineEdit*>("commandBox");
    QTest::keyClick(w_.get(), Qt::Key_K, Qt::ControlModifier);
    QTRY_VERIFY(box->hasFocus());
    QTest::keyClicks(box, "steel");
    QVERIFY(w_->findChild<QListWidget*>("commandList")->isVisible());
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(w_->desk()->kind(), QString("materials"));
    QCOMPARE(w_->desk()->name(), QString("steel"));
    QTest::keyClick(w_.get(), Qt::Key_K, Qt::ControlModifier);
    QTest::keyClicks(box, "no such thing");
    QCOMPARE(w_->findChild<QListWidget*>("commandList")->item(0)->text(), QString("Nothing of that name"));
    QTest::keyClick(box, Qt::Key_Return);
    QCOMPARE(w_->desk()->name(), QString("steel"));
    box->clear();
    QTest::keyClicks(box, "doubts");
    QTest::keyClick(box, Qt::Key_Return);
    const auto shown = [&] {
      for (const auto* label : w_->desk()->findChildren<QLabel*>())
        if (label->isVisible() && (label->text() == "Before it runs" || label->text() == "Ready to run")) return true;
      return false;
    };
    QTRY_VERIFY_WITH_TIMEOUT(shown(), 10000);
  }

  void aDamagedFileIsRefusedInWords() {
    const auto path = folder_.filePath("cut.anvil");
    QFile file(path);
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(QByteArray(pressedBlock).left(300));
    file.close();
    QVERIFY(!w_->openModel(path));
    QVERIFY2(w_->noticeText().contains("cut short"), qPrintable(w_->noticeText()));
    QCOMPARE(QString::fromStdString(w_->document().document().title), QString("Pressed block"));
  }
};

QObject* makeWindowTest() { return new WindowTest; }

}  // namespace anvil::app

#include "window_test.moc"
