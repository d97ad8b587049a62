// Looking at results: view, legend, pins, contact status, curves, shelf cards, themes.
#include "app/notice_label.hpp"
#include "fixture.hpp"

#include <qcustomplot.h>
#include <QApplication>
#include <QClipboard>
#include <QFileInfo>
#include <QJsonDocument>

#include <set>

#include "app/shots.hpp"
#include "core/model/actions.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/results/export.hpp"

namespace anvil::app {

class ReviewTest : public QObject, WindowFixture {
  Q_OBJECT
  QString results_;

  int last() const { return int(w_->results().rows().size()) - 1; }
  QImage picture() {
    QTest::qWait(60);
    return w_->view()->canvas()->grabFramebuffer();
  }
  int colouredPixels(const QImage& image, const QColor& c) {
    int n = 0;
    for (int y = 0; y < image.height(); ++y)
      for (int x = 0; x < image.width(); ++x) n += image.pixel(x, y) == c.rgb();
    return n;
  }

 private slots:
  void initTestCase() {  // one run for all
    open();
    runToEnd();
    results_ = folder_.filePath("kept.h5");
    QVERIFY(QFile::copy(w_->control().results(), results_));
    w_.reset();
  }
  void init() {
    open();
    w_->results().open(results_);
    QTRY_VERIFY(w_->results().has());
    w_->results().setRow(last());
  }
  void cleanup() { w_.reset(); }

  void everyFieldCanBeShownWithARangeThatHoldsItsValues() {
    auto* box = w_->view()->fieldBox();
    QVERIFY(box->count() >= 19);
    for (int i = 0; i < box->count(); ++i) {
      w_->results().setField(box->itemText(i));
      QCOMPARE(box->currentText(), box->itemText(i));
      QVERIFY(w_->results().low() < w_->results().high());
      for (const auto& b : w_->results().header().mesh.blocks)
        for (int n : b.nodes) {
          const double v = w_->results().values()[size_t(n)], slack = 1e-9 * (1 + std::abs(v));
          QVERIFY2(v >= w_->results().low() - slack && v <= w_->results().high() + slack, qPrintable(box->itemText(i)));
        }
      if (w_->results().isSigned()) QVERIFY(std::abs(w_->results().low() + w_->results().high()) < 1e-9 * w_->results().high());
    }
  }

  void coloursComeInBandsWhenAsked() {
    w_->results().setField("displacement");
    const auto colours = [&] {
      std::set<QRgb> seen;
      const auto image = picture();
      for (int y = 0; y < image.height(); ++y)
        for (int x = 0; x < image.width(); ++x) seen.insert(image.pixel(x, y));
      return seen.size();
    };
    w_->view()->setEdges(false);
    const auto smooth = colours();
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_B);
    QVERIFY(w_->view()->bands());
    QVERIFY2(colours() * 2 < smooth, qPrintable(QString::number(smooth)));
    QTest::keyClick(w_.get(), Qt::Key_B);
    QVERIFY(!w_->view()->bands());
  }

  void aHeldRangeStaysOverAllMoments() {
    w_->results().setRow(1);
    w_->results().lockRange(true);
    const double high = w_->results().high();
    w_->results().setRow(last());
    QCOMPARE(w_->results().high(), high);
    w_->results().lockRange(false);
    QVERIFY(w_->results().high() != high);
  }

  void pinsAreSetOnExtremesAndFollow() {
    w_->results().setField("displacement");
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_G);
    QCOMPARE(int(w_->view()->pins().size()), 1);
    const auto n = size_t(w_->view()->pins().front());
    QVERIFY(std::abs(w_->results().values()[n] - w_->results().high()) < 1e-9);
    QTest::keyClick(w_.get(), Qt::Key_G);
    QCOMPARE(int(w_->view()->pins().size()), 1);  // already there
    w_->results().setRow(0);
    QCOMPARE(int(w_->view()->pins().size()), 1);
  }

  void theShapeOnShowIsTheDeformedOneAtTrueScale() {
    const auto& mesh = w_->results().header().mesh;
    const auto row = size_t(w_->results().rowAt(1));
    w_->results().setRow(int(row));
    const auto u = w_->results().moment().displacement;
    auto* canvas = w_->view()->canvas();
    size_t lowest = 0;
    for (size_t i = 0; i < mesh.x.size(); ++i)
      if (u[2 * i + 1] < u[2 * lowest + 1]) lowest = i;
    QVERIFY(u[2 * lowest + 1] < -0.15);
    const auto shown = canvas->toScreen(mesh.x[lowest].x() + u[2 * lowest], mesh.x[lowest].y() + u[2 * lowest + 1], 0);
    QCOMPARE(w_->view()->nodeAt(shown), int(lowest));
  }

  void edgesUndeformedAndHidingChangeThePicture() {
    const auto plain = picture();
    w_->view()->findChild<QToolButton*>("edges")->click();
    const auto without = picture();
    QVERIFY(plain != without);
    w_->view()->findChild<QToolButton*>("undeformed")->click();
    QVERIFY(picture() != without);
    w_->view()->setSight(0, Sight::hidden);
    QVERIFY(colouredPixels(picture(), theme().paper) > colouredPixels(plain, theme().paper));
  }

  void theRowAboveThePictureFoldsWhereTheWindowIsNarrow() {
    const auto before = w_->size();
    const auto row = [&](const char* name) { return w_->view()->findChild<QWidget*>(name); };
    w_->resize(1400, 800), QTest::qWait(50);
    QCOMPARE(row("field")->geometry().center().y(), row("lock")->geometry().center().y());
    QVERIFY2(w_->minimumSizeHint().width() <= 1024, qPrintable(QString::number(w_->minimumSizeHint().width())));
    w_->resize(1024, 700), QTest::qWait(50);
    QCOMPARE(w_->width(), 1024);
    for (const char* name : {"field", "edges", "undeformed", "lock"}) {
      QVERIFY(row(name)->isVisible());
      QVERIFY(row(name)->parentWidget()->rect().contains(row(name)->geometry()));
      for (const char* other : {"field", "edges", "undeformed", "lock"})
        QVERIFY(name == other || !row(name)->geometry().intersects(row(other)->geometry()));
    }
    w_->resize(before), QTest::qWait(50);
  }

  void aNoticeLongerThanItsRoomEndsInAnEllipsis() {
    const auto before = w_->size();
    w_->resize(1024, 700), QTest::qWait(50);
    const QString words =
        "Results of an earlier run with other parameters are on show, and this sentence goes on for quite a while.";
    NoticeLabel* shown = nullptr;
    for (auto* label : w_->findChildren<QLabel*>())
      if (auto* notice = dynamic_cast<NoticeLabel*>(label)) shown = notice;
    QVERIFY(shown);
    shown->say(words);
    QCOMPARE(w_->noticeText(), words);
    QCOMPARE(shown->toolTip(), words);
    QVERIFY(shown->text().endsWith(QChar(0x2026)) && shown->text().size() < words.size());
    w_->resize(3000, 800), QTest::qWait(50);
    QCOMPARE(shown->text(), words);
    w_->resize(before), QTest::qWait(50);
    shown->say({});
  }

  void thePictureStaysWholeWhileTheWindowChangesUntilItIsMoved() {
    const auto before = w_->size();
    const auto& x = w_->results().header().mesh.x;
    const auto inside = [&] {
      const QRectF all = w_->view()->canvas()->rect();
      return std::all_of(x.begin(), x.end(),
                         [&](const auto& p) { return all.contains(w_->view()->canvas()->toScreen(p.x(), p.y(), 0)); });
    };
    w_->view()->fit();
    w_->resize(1024, 640), QTest::qWait(50);
    QVERIFY(inside());
    w_->resize(1400, 800), QTest::qWait(50);
    QVERIFY(inside());
    const QPointF middle = w_->view()->canvas()->rect().center();
    for (int i = 0; i < 12; ++i) {
      QWheelEvent nearer(middle, w_->view()->canvas()->mapToGlobal(middle), {}, {0, 120}, Qt::NoButton, Qt::NoModifier,
                         Qt::NoScrollPhase, false);
      QApplication::sendEvent(w_->view()->canvas(), &nearer);
    }
    QVERIFY(!inside());
    w_->resize(1024, 640), QTest::qWait(50);
    QVERIFY2(!inside(), "what the user looks at closely is not lost by a change of the window");
    w_->resize(before), QTest::qWait(50);
    w_->view()->fit();
  }

  void contactStatusIsDrawnForTheChosenContact() {
    w_->results().setRow(w_->results().rowAt(1));
    const auto before = w_->view()->grab().toImage();
    w_->select("contacts", "press");
    QTest::qWait(60);
    QVERIFY(w_->view()->grab().toImage() != before);
    const auto cards = w_->shelf()->cards();
    QVERIFY(std::any_of(cards.begin(), cards.end(), [](Card* c) { return c->kind == "contacts" && c->chosen; }));
  }

  void theWorstNodeIsMarked() {
    const auto before = w_->view()->grab().toImage();
    w_->view()->markNode(5);
    QTest::qWait(40);
    QVERIFY(w_->view()->grab().toImage() != before);
  }

  void zoomingWithTheWheelKeepsThePlaceUnderTheMouse() {
    auto* canvas = w_->view()->canvas();
    const auto at = canvas->toScreen(8, 4, 0);
    QWheelEvent wheel(at, canvas->mapToGlobal(at), {}, {0, 240}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(canvas, &wheel);
    const auto after = canvas->toScreen(8, 4, 0), other = canvas->toScreen(2, 4, 0);
    QVERIFY2(std::hypot(after.x() - at.x(), after.y() - at.y()) < 3, "the point stays");
    w_->view()->fit();
    QVERIFY(canvas->toScreen(2, 4, 0) != other);
  }

  void curvesPickQuantitiesAndCopyAsCsv() {
    w_->showPage(2);
    w_->curves()->plot("time", {"motions/push/force y", "contacts/press/force y"});
    QCOMPARE(w_->curves()->plotWidget()->plottableCount(), 2);
    for (auto* b : w_->curves()->findChildren<QPushButton*>())
      if (b->text() == "Copy as CSV") QTest::mouseClick(b, Qt::LeftButton);
    const auto lines = QApplication::clipboard()->text().split('\n', Qt::SkipEmptyParts);
    QCOMPARE(lines.front(), QString("\"time [s]\",\"motions/push/force y [N]\",\"contacts/press/force y [N]\""));
    QCOMPARE(int(lines.size()), last() + 2);
    for (const auto& line : lines.mid(1)) {  // the tool's force is the contact's: one on the tool, the other on the block
      const auto cells = line.split(',');
      QVERIFY(std::abs(cells[1].toDouble() - cells[2].toDouble()) < 1e-6 * (1 + std::abs(cells[1].toDouble())));
    }
  }

  void theCursorReadsEveryCrossing() {
    w_->showPage(2);
    w_->curves()->plot("motions/push/travel", {"motions/push/force y"});
    auto* plot = w_->curves()->plotWidget();
    QTest::qWait(50);
    QTest::mouseMove(plot, QPoint(int(plot->xAxis->coordToPixel(-0.25)), plot->height() / 2));
    auto* read = w_->curves()->findChild<QLabel*>("readOff");
    QTRY_VERIFY2(read->text().startsWith("at -0.2"), qPrintable(read->text()));
    QVERIFY2(read->text().contains(" / "), "loading and unloading differ");
    QVERIFY(std::isnan(w_->curves()->readOff(1e6)));
  }

  void tickingAQuantityByMouseDrawsIt() {
    w_->showPage(2);
    auto* list = w_->curves()->findChild<QListWidget*>("curveY");
    const int before = w_->curves()->plotWidget()->plottableCount();
    for (int i = 0; i < list->count(); ++i)
      if (list->item(i)->text() == "energy/plastic") list->item(i)->setCheckState(Qt::Checked);
    QCOMPARE(w_->curves()->plotWidget()->plottableCount(), before + 1);
  }

  void pinsAreSentToCurvesAndKeepTheirField() {
    w_->results().setField("displacement y");
    const int pin = w_->view()->nodeAt(w_->view()->canvas()->toScreen(5, 4.7, 0));
    QVERIFY(pin >= 0);
    w_->view()->togglePin(pin);
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_P);
    QTRY_VERIFY(!w_->results().busy());
    QCOMPARE(w_->page(), 2);
    QCOMPARE(int(w_->results().traces().size()), 1);
    const auto& trace = w_->results().traces().front();
    QCOMPARE(int(trace.values.size()), last() + 1);
    QCOMPARE(w_->curves()->plotWidget()->plottableCount(), 1);
    // the same numbers as on show, moment by moment
    w_->showPage(1);
    for (int row : {0, last() / 2, last()}) {
      w_->results().setRow(row);
      QTRY_VERIFY(!w_->results().busy());
      QCOMPARE(w_->results().values()[size_t(pin)], trace.values[size_t(row)]);
    }
    w_->results().setField("von Mises stress");
    w_->view()->sendPins();
    QTRY_VERIFY(!w_->results().busy());
    QCOMPARE(int(w_->results().traces().size()), 2);
    QVERIFY(w_->results().traces()[1].name().startsWith("von Mises stress at node"));
    QCOMPARE(w_->curves()->csv().split('\n').front().count(','), 2);
  }

  void scrubbingFastEndsOnTheNewestMoment() {
    for (int k = 0; k < 60; ++k) w_->results().setRow(k % (last() + 1));
    w_->results().setRow(1);
    QTRY_VERIFY(!w_->results().busy());
    QCOMPARE(w_->results().moment().row, 1);
    w_->results().setRow(-1);
    QCOMPARE(w_->results().moment().row, -1);
    QCOMPARE(w_->view()->shownTime(), 0.);
  }

  void aContactCardTellsItsForce() {
    auto* press = card("contacts", "press");
    const auto row = w_->results().rowAt(1);
    w_->results().setRow(row);
    QTRY_VERIFY(!w_->results().busy());
    const double force = std::abs((*w_->results().history("contacts/press/force y"))[size_t(row)]);
    QVERIFY(force > 100);
    QVERIFY2(press->statusWords().contains("N, "), qPrintable(press->statusWords()));
    w_->results().setRow(last());
    QTRY_VERIFY(!w_->results().busy());
    QCOMPARE(press->statusWords(), QString("open"));
  }

  void theDarkThemeCarriesOver() {
    applyTheme(*qApp, true);
    w_->view()->fit();
    QTest::qWait(60);
    const auto dark = w_->grab().toImage();
    QVERIFY(qGray(dark.pixel(8, 120)) < 90);
    applyTheme(*qApp, false);
    QTest::qWait(60);
    QVERIFY(qGray(w_->grab().toImage().pixel(8, 120)) > 160);
  }

  void theRunKeepsWorkingWhileEditing() {
    w_->results().close();
    clickRun();
    QTRY_VERIFY(w_->control().active());
    w_->document().edit("title", [](model::Document& d) { d.title = "Edited meanwhile"; });
    QTRY_VERIFY_WITH_TIMEOUT(!w_->control().active(), 60000);
    QCOMPARE(int(w_->control().state()), int(RunControl::State::finished));
    QVERIFY(w_->results().has());
    QVERIFY(w_->results().header().model.find("Edited meanwhile") == std::string::npos);
  }

  void theNewestEditWinsInThePreparation() {
    for (int i = 1; i <= 20; ++i)
      w_->document().edit("size", [i](model::Document& d) { d.parts.front().second.shape.front().rectangle->size[0] = 10 + i; });
    QVERIFY(!w_->preparation().current());
    prepared();
    double widest = 0;
    for (const auto& x : w_->preparation().header().mesh.x) widest = std::max(widest, x.x());
    QCOMPARE(widest, 30.);
  }

  void aFailedRunExplainsItselfAndMarksTheNode() {
    w_->results().close();
    w_->document().edit("too much", [](model::Document& d) {
      d.motions.clear(), d.contacts.clear();
      auto& l = d.loads("load");
      l.on = {"block.top"}, l.kind = "force", l.along.axis = "y", l.course.value = "900 kN";
      d.materials.front().second.plastic->tangent = 0;
      for (auto& [n, s] : d.steps) s.increments.smallest = 0.01;
    });
    prepared();
    clickRun();
    QTRY_VERIFY(w_->control().active());
    QTRY_VERIFY_WITH_TIMEOUT(!w_->control().active(), 60000);
    QCOMPARE(int(w_->control().state()), int(RunControl::State::failed));
    QVERIFY2(w_->control().message().contains("could not be solved"), qPrintable(w_->control().message()));
    QVERIFY(!w_->control().remedy().isEmpty());
    QVERIFY(w_->noticeText().contains("could not be solved"));
  }
};

QObject* makeReviewTest() { return new ReviewTest; }

}  // namespace anvil::app

#include "review_test.moc"
