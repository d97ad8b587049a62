// The loading history: what it does to steps and courses, by mouse and menu and on plain documents.
#include "fixture.hpp"

#include <QMenu>

#include "app/history/lanes.hpp"
#include "app/history/step_edits.hpp"
#include "core/base/error.hpp"
#include "core/model/actions.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/quantities.hpp"
#include "core/model/timed_course.hpp"

namespace anvil::app {

class HistoryTest : public QObject, WindowFixture {
  Q_OBJECT
  static model::Document pressing() { return model::parse(pressedBlock); }
  /// Values of the tool's course at many moments, by the step they lie in.
  static std::vector<double> sampled(const model::Document& d) {
    const model::Quantities q(d);
    const auto t = model::timed(d.motions.front().second.course, Kind::length, d, q, "push");
    std::vector<double> v;
    for (int i = 0; i <= 200; ++i) v.push_back(t.curve(model::stepTimes(d, q).back() * i / 200));
    return v;
  }
  QAction* offered(int lane, int step, const QString& words) {
    menu_ = std::make_unique<QMenu>();
    w_->history()->fillMenu(*menu_, lane, step);
    for (auto* a : menu_->actions())
      if (a->text().startsWith(words)) return a;
    return nullptr;
  }
  std::unique_ptr<QMenu> menu_;

 private slots:
  void init() { open(); }
  void cleanup() { menu_.reset(), w_.reset(); }

  void eachThingThatActsHasALaneInTheOrderOfKinds() {
    auto d = pressing();
    d.stabilisations("calm").on = {"block"};
    d.stabilisations("calm").during = {"release"};
    const auto lanes = lanesOf(d);
    QStringList kinds;
    for (const auto& lane : lanes) {
      kinds << lane.kind;
      QCOMPARE(lane.active.size(), d.steps.size());
      QCOMPARE(size_t(lane.cells.size()), d.steps.size());
      QCOMPARE(lane.editable, lane.kind == "motions");
    }
    QCOMPARE(kinds.front(), QString("motions"));
    QCOMPARE(kinds.back(), QString("stabilisations"));
    QCOMPARE(lanes.back().active, (std::vector<bool>{false, true}));
    QCOMPARE(lanes.back().cells, (QStringList{"", ""}));
    QCOMPARE(lanes.front().t.size(), lanes.front().v.size());
    QVERIFY(lanes.front().t.size() >= 3);
  }

  void aLaneStaysWhereItsCourseCannotBeWorkedOut() {
    auto d = pressing();
    d.motions.front().second.course.stages("press").value = "=nothing";
    auto lanes = lanesOf(d);
    QVERIFY(lanes.front().v.empty());
    QVERIFY2(lanes.front().cells[0].endsWith(" ?"), qPrintable(lanes.front().cells[0]));
    d.parameters("a") = "=b", d.parameters("b") = "=a";  // then nothing can be worked out
    QCOMPARE(lanesOf(d).size(), lanes.size());
    QCOMPARE(shownTimes(d), (std::vector<double>{0, 1, 2}));
  }

  void aModelWithoutStepsHasLanesWithoutCells() {
    auto d = pressing();
    for (const auto& name : d.steps.names()) removeStep(d, name);
    for (const auto& lane : lanesOf(d)) QVERIFY(lane.cells.isEmpty() && lane.active.empty());
    QCOMPARE(shownTimes(d), std::vector<double>{0});
  }

  void splittingAStepLeavesTheCourseAsItWas() {
    auto d = pressing();
    const auto before = sampled(d);
    const auto second = splitStep(d, "press");
    QCOMPARE(int(d.steps.size()), 3);
    QCOMPARE(d.steps[1].first, second);
    QCOMPARE(*d.steps[0].second.time.number, 0.5);
    const auto after = sampled(d);
    for (size_t i = 0; i < before.size(); ++i) QVERIFY(std::abs(after[i] - before[i]) < 1e-12);
    splitStep(d, "release");
    const auto again = sampled(d);
    for (size_t i = 0; i < before.size(); ++i) QVERIFY(std::abs(again[i] - before[i]) < 1e-12);
  }

  void splittingMindsTheUnitsOfTheFile() {
    auto d = pressing();
    d.units.length = "in", d.units.time = "min";
    d.motions.front().second.course.stages("press").value = "-25.4 mm";
    splitStep(d, "press");
    QCOMPARE(*d.motions.front().second.course.stages.find("press")->value.number, -0.5);  // inches
    QCOMPARE(*d.steps[0].second.time.number, 0.5);                                        // minutes
  }

  void aSingleValueIsSplitToo() {
    auto d = pressing();
    d.motions.front().second.course = {};
    d.motions.front().second.course.value = -0.4;
    const auto before = sampled(d);
    splitStep(d, "press");
    const auto after = sampled(d);
    for (size_t i = 0; i < before.size(); ++i) QVERIFY(std::abs(after[i] - before[i]) < 1e-12);
  }

  void whatActsInAStepActsInBothHalvesAndInItsRepeat() {
    auto d = pressing();
    d.supports.front().second.during = {"press", "release"};
    d.contacts.front().second.during = {"release"};
    const auto half = splitStep(d, "press");
    const auto again = repeatStep(d, "release");
    const std::vector<std::string> all{"press", half, "release", again}, late{"release", again};
    QCOMPARE(d.supports.front().second.during, all);
    QCOMPARE(d.contacts.front().second.during, late);
  }

  void repeatingAStepCopiesItsCells() {
    auto d = pressing();
    const auto again = repeatStep(d, "press");
    QCOMPARE(d.steps[1].first, again);
    const auto& course = d.motions.front().second.course;
    QVERIFY(course.stages.find(again)->value == course.stages.find("press")->value);
    QCOMPARE(repeatStep(d, "press"), "press again 2");  // names stay different
  }

  void movingAStepTakesItsCellsAlong() {
    auto d = pressing();
    moveStep(d, "release", 0);
    QCOMPARE(d.steps.front().first, "release");
    QCOMPARE(d.motions.front().second.course.stages.front().first, "release");
    moveStep(d, "release", 7);  // beyond the end is the end
    QVERIFY(d == pressing());
  }

  void movingKeepsASingleValueWithItsStep() {
    auto d = pressing();
    d.motions.front().second.course = {};
    d.motions.front().second.course.value = -0.4;
    moveStep(d, "press", 1);
    QCOMPARE(*d.motions.front().second.course.stages.find("press")->value.number, -0.4);
  }

  void takingAStepOutTakesAllThatIsSaidOfItOut() {
    auto d = pressing();
    d.supports.front().second.during = {"press", "release"};
    d.contacts.front().second.start.resolveOver = "release";
    removeStep(d, "release");
    QCOMPARE(int(d.motions.front().second.course.stages.size()), 1);
    QCOMPARE(d.supports.front().second.during, std::vector<std::string>{"press"});
    QVERIFY(d.contacts.front().second.start.resolveOver.empty());
  }

  void aDurationMustBeAboveZero() {
    auto d = pressing();
    QVERIFY_EXCEPTION_THROWN(setStepTime(d, "press", 0), Error);
    setStepTime(d, "press", 2.5);
    QCOMPARE(*d.steps.front().second.time.number, 2.5);
  }

  void cellsSpeakAllTheWordsOfACourse() {
    model::Document d = pressing();
    model::Course c;
    for (const char* words : {"0.5", "3 mm", "=2*depth", "hold", "off", "at once 0.25", "at once =depth"}) {
      setCell(c, "press", 0, words, d);
      QCOMPARE(cellWords(c, "press", 0), QString(words));
    }
    setCell(c, "press", 0, "  ", d);
    QVERIFY(c.stages.empty());
    c.table = {{0, 0}, {1, 5}};
    QCOMPARE(cellWords(c, "press", 0), QString("table"));
  }

  void menuSplitsRepeatsMovesAndUndoes() {
    const auto before = document();
    offered(-1, 0, "Split 'press'")->trigger();
    QCOMPARE(int(document().steps.size()), 3);
    undo();
    QVERIFY(document() == before);
    QVERIFY(w_->noticeText().contains("split press"));
    offered(-1, 1, "Repeat 'release'")->trigger();
    QCOMPARE(document().steps.back().first, "release again");
    offered(-1, 2, "Move 'release again' earlier")->trigger();
    QCOMPARE(document().steps[1].first, "release again");
    QVERIFY(!offered(-1, 0, "Move 'press' earlier"));
    offered(-1, 1, "Take 'release again' out")->trigger();
    offered(-1, 1, "Add a step behind")->trigger();
    QCOMPARE(int(document().steps.size()), 3);
    QCOMPARE(int(w_->history()->lanes().front().cells.size()), 3);
  }

  void aCellIsCopiedAlong() {
    offered(-1, 1, "Add a step behind")->trigger();
    const int lane = 0;
    offered(lane, 0, "Copy this cell to all later steps")->trigger();
    for (int i = 0; i < 3; ++i) QCOMPARE(w_->history()->lanes()[lane].cells[i], QString("=-depth"));
    undo();
    offered(lane, 0, "Copy this cell to 'release'")->trigger();
    QCOMPARE(w_->history()->lanes()[lane].cells[1], QString("=-depth"));
    QCOMPARE(w_->history()->lanes()[lane].cells[2], QString());
  }

  void aFaultyCourseIsSaidWhenAStepIsSplit() {
    w_->document().edit("spoil", [](model::Document& d) { d.motions.front().second.course.stages("press").value = "=-depht"; });
    offered(-1, 0, "Split 'press'")->trigger();
    QVERIFY2(w_->noticeText().contains("depth"), qPrintable(w_->noticeText()));
    QCOMPARE(int(document().steps.size()), 2);
  }

  void pullingAStepsEndChangesItsDuration() {
    auto* h = w_->history();
    const auto from = h->edgePoint(0), last = h->edgePoint(1);
    const QPoint to(from.x() - (last.x() - from.x()) / 2, from.y());
    QTest::mousePress(h, Qt::LeftButton, {}, from);
    QTest::mouseMove(h, to);
    QTest::mouseRelease(h, Qt::LeftButton, {}, to);
    QVERIFY(document().steps.front().second.time.number.has_value());
    QVERIFY2(std::abs(*document().steps.front().second.time.number - 0.5) < 0.02,
             qPrintable(QString::number(*document().steps.front().second.time.number)));
    QCOMPARE(*document().steps.back().second.time.number, 1.);
    undo();
    QCOMPARE(*document().steps.front().second.time.number, 1.);
  }

  void aClickOnAnEndChangesNothing() {
    const auto before = document();
    QTest::mouseClick(w_->history(), Qt::LeftButton, {}, w_->history()->edgePoint(0));
    QVERIFY(document() == before);
  }

  void clickingAHeadingOpensTheStep() {
    auto* h = w_->history();
    QTest::mouseClick(h, Qt::LeftButton, {}, QPoint(h->edgePoint(0).x() + 60, 12));
    QCOMPARE(w_->desk()->kind(), QString("steps"));
    QCOMPARE(w_->desk()->name(), QString("release"));
  }

  void returnAndTabKeepWhatIsTypedAndEscapeDropsIt() {
    auto* editor = w_->history()->findChild<QLineEdit*>("cellEditor");
    const auto type = [&](const char* words, Qt::Key end) {
      w_->history()->editCell(0, 1);
      QVERIFY(editor->isVisible());
      QTest::keyClicks(editor, words);
      QTest::keyClick(editor, end);
      QVERIFY(!editor->isVisible());
    };
    const auto value = [&] { return *document().motions.front().second.course.stages.find("release")->value.number; };
    type("0.1", Qt::Key_Return);
    QCOMPARE(value(), 0.1);
    type("0.7", Qt::Key_Escape);
    QCOMPARE(value(), 0.1);
    type("0.2", Qt::Key_Tab);
    QCOMPARE(value(), 0.2);
    undo();
    QCOMPARE(value(), 0.1);
  }

  void lanesShowWhereThingsAct() {
    w_->document().edit("during", [](model::Document& d) { d.supports.front().second.during = {"release"}; });
    for (const auto& lane : w_->history()->lanes())
      if (lane.kind == "supports") {
        QVERIFY(!lane.active[0]);
        QVERIFY(lane.active[1]);
      }
    QVERIFY(!w_->history()->grab().isNull());
  }
};

QObject* makeHistoryTest() { return new HistoryTest; }

}  // namespace anvil::app

#include "history_test.moc"
