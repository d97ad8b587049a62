// The deck clamp from an empty document to a bolt's force, by hand in the window: shapes typed and copied, a rigid spar, bolts fitted to holes
// that are clicked in the view, what touches, supports, steps, the run, Curves; then a thicker flange without any repair.
#include <QMenu>
#include <qcustomplot.h>

#include "core/results/store.hpp"
#include "fixture.hpp"

namespace anvil::app {

class ClampTest : public QObject, WindowFixture {
  Q_OBJECT
  bool broken_ = false;
  void press(Qt::Key k, Qt::KeyboardModifiers m = {}) {
    w_->setFocus();
    QTest::keyClick(w_.get(), k, m);
  }
  void meshed() { QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current(), 120000); }
  void add(const char* kind) { QTest::mouseClick(w_->shelf()->findChild<QToolButton*>(QString("add-") + kind), Qt::LeftButton); }
  void rename(const QString& to) { type(w_->desk()->findChild<QLineEdit*>("thingName"), to); }
  void choose(const QString& key, const QString& value) {
    auto* box = row<QComboBox>(key);
    QVERIFY2(box, qPrintable(key));
    box->setCurrentText(value);
    emit box->textActivated(value);
  }
  void enter(const QString& key, const QString& text) {
    auto* box = row<QLineEdit>(key);
    QVERIFY2(box, qPrintable(key));
    type(box, text);
  }
  void addFeature(const QString& kind) {
    for (auto* action : w_->desk()->findChild<QPushButton*>("addFeature")->menu()->actions())
      if (action->text() == kind) return action->trigger();
    QFAIL(qPrintable(kind));
  }
  /// A shell with a flange on both sides, four holes in it.
  void drawUpper() {
    add("parts");
    rename("upper");
    enter("solid/1/box/at", "-64, 1, 0"), enter("solid/1/box/size", "128, =flange, 40"), enter("solid/1/name", "flange");
    addFeature("cylinder");
    enter("solid/2/cylinder/from", "0, 0, 0"), enter("solid/2/cylinder/to", "0, 0, 40"), enter("solid/2/cylinder/radius", "38"), enter("solid/2/name", "shell");
    addFeature("half");
    enter("solid/3/half/at", "0, 1, 0"), enter("solid/3/half/normal", "0, -1, 0");
    addFeature("hole");
    enter("solid/4/cylinder/from", "0, 0, -1"), enter("solid/4/cylinder/to", "0, 0, 41"), enter("solid/4/cylinder/radius", "30"), enter("solid/4/name", "bore");
    const char* const places[] = {"52, 0, 10", "-52, 0, 30", "52, 0, 30", "-52, 0, 10"};
    for (int k = 0; k < 4; ++k) {
      addFeature("hole");
      const QString feature = QString("solid/%1/").arg(5 + k), place = places[k];
      enter(feature + "cylinder/from", place), enter(feature + "cylinder/to", place.section(',', 0, 0) + ", =flange+5," + place.section(',', 2)), enter(feature + "cylinder/radius", "4.5");
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
  void look(const Eigen::Vector3d& from, const Eigen::Vector3d& up) { w_->view()->canvas()->lookFrom(from, up), w_->view()->fit(); }
  void solve() {
    clickRun();
    QTRY_VERIFY_WITH_TIMEOUT(w_->control().active(), 30000);
    QTRY_VERIFY_WITH_TIMEOUT(!w_->control().active(), 800000);
    QVERIFY2(w_->control().state() == RunControl::State::finished, qPrintable(w_->control().message()));
    QTRY_VERIFY_WITH_TIMEOUT(w_->results().isOpen() && w_->results().last() >= 0 && w_->results().rows().back().time > 1.999, 20000);
  }
  double last(const QString& history) { return w_->results().history(history)->back(); }
  void noFaults() {
    for (const auto& f : w_->preparation().readiness().findings) QVERIFY2(!f.fault, (f.where + ": " + f.what).c_str());
  }

private slots:
  void initTestCase() {
    open();
    for (auto* action : w_->findChild<QToolButton*>("name")->menu()->actions())
      if (action->text() == "New") action->trigger();
    QVERIFY(document().parts.empty());
    w_->resize(1280, 800);
  }
  void cleanupTestCase() { w_.reset(); }
  void init() {   // each goes on where the one before ended
    if (broken_) QSKIP("an earlier part failed");
  }
  void cleanup() { broken_ = broken_ || QTest::currentTestFailed(); }

  void shapes() {
    w_->select("model", {});
    choose("space", "solid"), choose("fineness", "draft");
    type(w_->desk()->findChild<QLineEdit*>("newParameter"), "flange = 12");
    add("materials");
    rename("bronze");
    enter("elastic/E", "110 GPa"), enter("elastic/nu", "0.34");
    drawUpper();
    QTest::mouseClick(w_->desk()->findChild<QToolButton*>("copyThing"), Qt::LeftButton);
    rename("lower");
    for (auto* action : w_->desk()->findChild<QPushButton*>("addPart")->menu()->actions())
      if (action->text() == "place") action->trigger();
    choose("place/axis", "z"), enter("place/angle", "180");
    add("parts");
    rename("spar");
    QTest::mouseClick(w_->desk()->findChild<QToolButton*>("takeOut-1"), Qt::LeftButton);
    addFeature("cylinder");
    enter("solid/1/cylinder/from", "0, 0, -30"), enter("solid/1/cylinder/to", "0, 0, 70"), enter("solid/1/cylinder/radius", "30");
    auto* rigid = row<QCheckBox>("rigid");
    QVERIFY(rigid);
    rigid->click();
    enter("loose", "y");
    meshed();
    const auto& mesh = w_->preparation().header().mesh;
    QVERIFY2(mesh.blocks.size() == 2, qPrintable(w_->preparation().trouble()));   // the spar has no mesh
    QCOMPARE(int(w_->preparation().header().rigid.size()), 1);
  }

  void boltsThroughClickedHoles() {
    look({0.35, 0.75, 0.55}, Eigen::Vector3d::UnitY());
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
    QCOMPARE(bores, 2);   // the shanks have play
    auto* kind = w_->touching()->findChild<QComboBox*>("touchKind");
    kind->setCurrentText("touching");
    type(w_->touching()->findChild<QLineEdit*>("touchFriction"), "0.25");
    QTest::mouseClick(w_->touching()->findChild<QPushButton*>("makeContacts"), Qt::LeftButton);
    QCOMPARE(int(document().contacts.size()), 10);
  }

  void heldAndTightened() {
    press(Qt::Key_Home);
    meshed();
    look({0.3, -0.9, 0.2}, Eigen::Vector3d::UnitZ());
    clickFace("lower.shell.side");
    add("supports");
    enter("fix", "x, y, z");
    add("stabilisations");
    QMenu menu;
    w_->history()->fillMenu(menu, -1, 0);
    for (auto* action : menu.actions())
      if (action->text() == "Add a step behind") action->trigger();
    QCOMPARE(int(document().steps.size()), 2);
    // the first bolt is tightened again in the second step
    const auto& lanes = w_->history()->lanes();
    int lane = -1;
    for (size_t i = 0; i < lanes.size(); ++i)
      if (lanes[i].kind == "bolts" && lane < 0) lane = int(i);
    QVERIFY(lane >= 0);
    const auto cell = [&](int l, int step, const QString& words) {
      w_->history()->editCell(l, step);
      auto* editor = w_->history()->findChild<QLineEdit*>("cellEditor");
      editor->selectAll();
      QTest::keyClicks(editor, words);
      QTest::keyClick(editor, Qt::Key_Return);
    };
    for (int k = 0; k < 4; ++k) cell(lane + k, 0, "tighten 4 kN");
    cell(lane, 1, "tighten 6 kN");
    w_->document().save(folder_.filePath("clamp.anvil"));
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
    w_->showPage(2);
    w_->curves()->plot("time", {"bolts/bolt/force"});
    QVERIFY(std::abs(w_->curves()->readOff(1.9999) - 6000) < 5);
  }

  void aThickerFlangeNeedsNoRepair() {
    const double before = last("bolts/bolt/shortening");
    QPushButton* keep = nullptr;
    for (auto* b : w_->curves()->findChildren<QPushButton*>())
      if (b->text() == "Keep this one") keep = b;
    QVERIFY(keep);
    QTest::mouseClick(keep, Qt::LeftButton);
    w_->showPage(1);
    w_->select("model", {});
    enter("parameters/flange", "16");
    meshed();
    noFaults();
    const auto& mesh = w_->preparation().header().mesh;
    double high = -1e300;
    for (int n : mesh.nodesOf(mesh.face("bolt.bolt.head seat")->facets)) high = std::max(high, mesh.x[size_t(n)].y());
    QVERIFY2(std::abs(high - 17) < 1e-6, qPrintable(QString::number(high)));   // the bolts are longer
    solve();
    QVERIFY(std::abs(last("bolts/bolt/force") - 6000) < 1e-3);
    QVERIFY(last("bolts/bolt/shortening") != before);
    w_->showPage(2);
    w_->curves()->plot("time", {"bolts/bolt 3/force"});
    QCOMPARE(w_->curves()->findChild<QListWidget*>("laidRuns")->item(0)->text(), QString("flange = 12"));
    QCOMPARE(w_->curves()->plotWidget()->plottableCount(), 2);
  }
};

QObject* makeClampTest() { return new ClampTest; }

}  // namespace anvil::app

#include "clamp_test.moc"
