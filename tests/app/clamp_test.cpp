// The deck clamp from an empty document to a bolt's force, by hand in the window: shapes typed and copied, a rigid spar, bolts
// fitted to holes that are clicked in the view, what touches, supports, steps, the run, Curves; then a thicker flange without any
// repair.
#include <qcustomplot.h>
#include <QMenu>

#include "core/model/bolts.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/part.hpp"
#include "core/results/store.hpp"
#include "fixture.hpp"

namespace anvil::app {

class ClampTest : public QObject, WindowFixture {
  Q_OBJECT
  bool broken_ = false;
  void press(Qt::Key k, Qt::KeyboardModifiers m = {}) {
    backToWindow();
    w_->setFocus();
    QTest::keyClick(w_.get(), k, m);
  }
  void meshed() { QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current(), 120000); }
  void add(const char* kind) { QTest::mouseClick(w_->shelf()->findChild<QToolButton*>(QString("add-") + kind), Qt::LeftButton); }
  void rename(const QString& to) { type(w_->desk()->findChild<QLineEdit*>("thingName"), to); }
  void choose(const QString& key, const QString& value) {
    auto* box = row<QComboBox>(key);
    QVERIFY2(box, qPrintable(key));
    takeChoice(box, value);
  }
  void enter(const QString& key, const QString& text) {
    auto* box = row<QLineEdit>(key);
    QVERIFY2(box, qPrintable(key));
    type(box, text);
  }
  void addFeature(const QString& kind) {
    settle();
    takeFromMenu(w_->desk()->findChild<QPushButton*>("addFeature"), kind);
  }
  /// A shell with a flange on both sides, four holes in it.
  void drawUpper() {
    add("parts");
    rename("upper");
    enter("solid/1/box/at", "-64, 1, 0"), enter("solid/1/box/size", "128, =flange, 40"), enter("solid/1/name", "flange");
    addFeature("cylinder");
    enter("solid/2/cylinder/from", "0, 0, 0"), enter("solid/2/cylinder/to", "0, 0, 40"), enter("solid/2/cylinder/radius", "38"),
        enter("solid/2/name", "shell");
    addFeature("half");
    enter("solid/3/half/at", "0, 1, 0"), enter("solid/3/half/normal", "0, -1, 0");
    addFeature("hole");
    enter("solid/4/cylinder/from", "0, 0, -1"), enter("solid/4/cylinder/to", "0, 0, 41"), enter("solid/4/cylinder/radius", "30"),
        enter("solid/4/name", "bore");
    const char* const places[] = {"52, 0, 10", "-52, 0, 30", "52, 0, 30", "-52, 0, 10"};
    for (int k = 0; k < 4; ++k) {
      addFeature("hole");
      const QString feature = QString("solid/%1/").arg(5 + k), place = places[k];
      enter(feature + "cylinder/from", place),
          enter(feature + "cylinder/to", place.section(',', 0, 0) + ", =flange+5," + place.section(',', 2)),
          enter(feature + "cylinder/radius", "4.5");
      enter(feature + "name", QString("hole %1").arg(k + 1));
    }
    enter("mesh/size", "10");
  }
  /// Clicks a place where a face is seen.
  void clickFace(const QString& name) {
    auto* canvas = w_->view()->canvas();
    const auto& mesh = w_->preparation().header().mesh;
    const auto* face = mesh.face(name.toStdString());
    QVERIFY2(face, qPrintable(name));
    for (const auto& f : face->facets) {
      Eigen::Vector3d middle, normal;
      w_->view()->scene().facetFrame(f, middle, normal);
      if (normal.dot(canvas->viewer()) < 0.1) continue;
      QTest::mouseClick(canvas, Qt::LeftButton, {}, canvas->toScreen(middle).toPoint());
      if (w_->view()->pickedFaces() == QStringList(name)) return;
    }
    QFAIL(qPrintable(name + " is not seen"));
  }
  void solve() {
    clickRun();
    QTRY_VERIFY_WITH_TIMEOUT(w_->control().active(), 30000);
    QTRY_VERIFY_WITH_TIMEOUT(!w_->control().active(), 1400000);
    QVERIFY2(w_->control().state() == RunControl::State::finished, qPrintable(w_->control().message()));
    QTRY_VERIFY_WITH_TIMEOUT(w_->results().isOpen() && w_->results().last() >= 0 && w_->results().rows().back().time > 1.999,
                             20000);
  }
  /// Leaves one history ticked in Curves.
  void only(const QString& history) {
    auto* list = w_->curves()->findChild<QListWidget*>("curveY");
    QStringList ticked;
    for (int k = 0; k < list->count(); ++k)
      if (list->item(k)->checkState() == Qt::Checked && list->item(k)->text() != history) ticked << list->item(k)->text();
    for (const auto& name : ticked) tick(name);
    if (list->findItems(history, Qt::MatchExactly).value(0)->checkState() != Qt::Checked) tick(history);
  }
  double last(const QString& history) { return w_->results().history(history)->back(); }
  void noFaults() {
    for (const auto& f : w_->preparation().readiness().findings) QVERIFY2(!f.fault, (f.where + ": " + f.what).c_str());
  }

 private slots:
  void initTestCase() {
    open();
    takeFromMenu(w_->findChild<QToolButton*>("name"), "New");
    QTest::mouseClick(w_->findChild<QAbstractButton*>("kind-solid"), Qt::LeftButton);
    QTest::mouseClick(w_->findChild<QAbstractButton*>("begin-nothing yet"), Qt::LeftButton);
    QVERIFY(document().parts.empty());
    w_->resize(1280, 800);
  }
  void cleanupTestCase() { w_.reset(); }
  void init() {  // each goes on where the one before ended
    if (broken_) QSKIP("an earlier part failed");
  }
  void cleanup() { broken_ = broken_ || QTest::currentTestFailed(); }

  void shapes() {
    command("Model settings");
    choose("space", "solid"), choose("fineness", "draft");
    type(w_->desk()->findChild<QLineEdit*>("newParameter"), "flange = 12");
    add("materials");
    rename("bronze");
    enter("elastic/E", "110 GPa"), enter("elastic/nu", "0.34");
    drawUpper();
    QTest::mouseClick(w_->desk()->findChild<QToolButton*>("copyThing"), Qt::LeftButton);
    rename("lower");
    settle();
    takeFromMenu(w_->desk()->findChild<QPushButton*>("addPart"), "place");
    choose("place/axis", "z"), enter("place/angle", "180");
    add("parts");
    rename("spar");
    settle();
    QTest::mouseClick(w_->desk()->findChild<QToolButton*>("takeOut-1"), Qt::LeftButton);
    QVERIFY(document().parts.find("spar")->solid.empty());
    addFeature("cylinder");
    enter("solid/1/cylinder/from", "0, 0, -30"), enter("solid/1/cylinder/to", "0, 0, 70"), enter("solid/1/cylinder/radius", "30");
    auto* rigid = row<QCheckBox>("rigid");
    QVERIFY(rigid);
    reach(rigid);
    QTest::mouseClick(rigid, Qt::LeftButton, {}, QPoint(8, rigid->height() / 2));
    settle(), toggle("loose", {"y"});
    meshed();
    const auto& mesh = w_->preparation().header().mesh;
    QVERIFY2(mesh.blocks.size() == 2, qPrintable(w_->preparation().trouble()));  // the spar has no mesh
    QCOMPARE(int(w_->preparation().header().rigid.size()), 1);
  }

  void boltsThroughClickedHoles() {
    press(Qt::Key_C), turn({0, 60}), press(Qt::Key_F);
    for (int k = 1; k <= 4; ++k) {
      meshed();
      clickFace(QString("upper.hole %1.side").arg(k));
      press(Qt::Key_B, Qt::ShiftModifier);
      QTRY_COMPARE(int(document().bolts.size()), k);
      QVERIFY2(w_->noticeText().contains("through 2 holes"), qPrintable(w_->noticeText()));
    }
    meshed();
    QCOMPARE(int(w_->preparation().header().mesh.blocks.size()), 6);
  }

  void whatTouchesBecomesContacts() {
    press(Qt::Key_K);
    QTRY_VERIFY(w_->touching() && w_->touching()->isVisible());
    int seats = 0, bores = 0;
    for (const auto& t : w_->touching()->found()) seats += t.kind == checks::Touching::Kind::flat, bores += t.second == "spar";
    QCOMPARE(seats, 8);
    QCOMPARE(bores, 2);  // the shanks have play
    auto* kind = w_->touching()->findChild<QComboBox*>("touchKind");
    takeChoice(kind, "touching");
    type(w_->touching()->findChild<QLineEdit*>("touchFriction"), "0.25");
    QTest::mouseClick(w_->touching()->findChild<QPushButton*>("makeContacts"), Qt::LeftButton);
    QCOMPARE(int(document().contacts.size()), 10);
  }

  void heldAndTightened() {
    press(Qt::Key_Home);
    meshed();
    press(Qt::Key_Y), press(Qt::Key_F);
    clickFace("lower.shell.side");
    add("supports");
    toggle("fix", {"x", "y", "z"});
    add("stabilisations");
    auto* history = w_->history();
    takeFromMenuAt(history, history->edgePoint(0) - QPoint(20, 0), "Add a step behind");
    QCOMPARE(int(document().steps.size()), 2);
    // the first bolt is tightened again in the second step
    const auto& lanes = history->lanes();
    int lane = -1;
    for (size_t i = 0; i < lanes.size(); ++i)
      if (lanes[i].kind == "bolts" && lane < 0) lane = int(i);
    QVERIFY(lane >= 0);
    const auto cell = [&](int l, int step, const QString& words) {
      for (int k = 0; k < 40 && history->cellCenter(l, step).y() > history->height() - 12; ++k) {  // roll it into sight
        QWheelEvent e(history->rect().center(), history->mapToGlobal(history->rect().center()), {}, QPoint(0, -120), Qt::NoButton,
                      Qt::NoModifier, Qt::NoScrollPhase, false);
        QApplication::sendEvent(history, &e);
      }
      QTest::mouseDClick(history, Qt::LeftButton, {}, history->cellCenter(l, step));
      auto* editor = history->findChild<QLineEdit*>("cellEditor");
      QVERIFY(editor && editor->isVisible());
      QTest::keyClick(editor, Qt::Key_A, Qt::ControlModifier);
      QTest::keyClicks(editor, words);
      QTest::keyClick(editor, Qt::Key_Return);
    };
    for (int k = 0; k < 4; ++k) cell(lane + k, 0, "tighten 4 kN");
    cell(lane, 1, "tighten 6 kN");
    saveAs(folder_.filePath("clamp.anvil"));
    meshed();
    noFaults();
    solve();
    QVERIFY(std::abs(last("bolts/bolt/force") - 6000) < 1e-3);
    // what the first gains its neighbour on the same flange loses in part; the heads' contacts carry what the shanks do
    QVERIFY(last("bolts/bolt 3/force") < 3800);
    double seats = 0, shanks = 0;
    for (const auto& [name, c] : document().contacts)
      if (name.starts_with("upper on bolt")) seats += std::abs(last("contacts/" + QString::fromStdString(name) + "/force y"));
    for (const auto& name : document().bolts.names()) shanks += last("bolts/" + QString::fromStdString(name) + "/force");
    QVERIFY2(std::abs(seats / shanks - 1) < 1e-3, qPrintable(QString("%1 and %2").arg(seats).arg(shanks)));
    press(Qt::Key_2, Qt::ControlModifier);
    QCOMPARE(w_->curves()->findChild<QComboBox*>("curveX")->currentText(), QString("time"));
    only("bolts/bolt/force");
    auto* plot = w_->curves()->plotWidget();
    QTest::mouseMove(plot, QPoint(int(plot->xAxis->coordToPixel(1.999)), plot->height() / 2));
    auto* read = w_->curves()->findChild<QLabel*>("readOff");
    QTRY_VERIFY2(read->text().contains("bolts/bolt/force = "), qPrintable(read->text()));
    const auto value = read->text().section("bolts/bolt/force = ", 1).section(' ', 0, 0);
    QVERIFY2(std::abs(value.toDouble() - 6000) < 40, qPrintable(read->text()));  // the cursor stands on a pixel
  }

  void aThickerFlangeNeedsNoRepair() {
    const double before = last("bolts/bolt/shortening");
    QPushButton* keep = nullptr;
    for (auto* b : w_->curves()->findChildren<QPushButton*>())
      if (b->text() == "Keep this one") keep = b;
    QVERIFY(keep);
    QTest::mouseClick(keep, Qt::LeftButton);
    press(Qt::Key_1, Qt::ControlModifier);
    command("Model settings");
    enter("parameters/flange", "16");
    meshed();
    noFaults();
    const auto& mesh = w_->preparation().header().mesh;
    double high = -1e300;
    for (int n : mesh.nodesOf(mesh.face("bolt.bolt.head seat")->facets)) high = std::max(high, mesh.x[size_t(n)].y());
    QVERIFY2(std::abs(high - 17) < 1e-6, qPrintable(QString::number(high)));  // the bolts are longer
    solve();
    QVERIFY(std::abs(last("bolts/bolt/force") - 6000) < 1e-3);
    QVERIFY(last("bolts/bolt/shortening") != before);
    press(Qt::Key_2, Qt::ControlModifier);
    only("bolts/bolt 3/force");
    QCOMPARE(w_->curves()->findChild<QListWidget*>("laidRuns")->item(0)->text(), QString("flange = 12"));
    QCOMPARE(w_->curves()->plotWidget()->plottableCount(), 2);
  }
};

QObject* makeClampTest() { return new ClampTest; }

}  // namespace anvil::app

#include "clamp_test.moc"
