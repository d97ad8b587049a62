// The mesh page, bolts as beams, runs laid over each other: driven in the real window.
#include <qcustomplot.h>
#include <QCheckBox>
#include <filesystem>

#include "core/base/files.hpp"
#include "core/model/bolts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "fixture.hpp"

namespace anvil::app {

/// Two plates with a hole each, pressed together by a bolt that is a beam.
static const char* const joint = R"({
  "anvil": 1, "title": "two plates", "space": "solid", "fineness": "draft", "parameters": {"thick": 6},
  "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
  "parts": {
    "low": {"material": "steel", "solid": {"name": "p", "plate": {"at": [0, 0, "=-thick"], "size": [30, 30, "=thick"], "holes": {
      "at": [[15, 15]], "radius": 4.5}}}, "mesh": {"size": 6}},
    "high": {"material": "steel", "solid": {"name": "p", "plate": {"size": [30, 30, "=thick"], "holes": {"at": [[15, 15]],
      "radius": 4.5}}}, "mesh": {"size": 6}}
  },
  "contacts": {"joint": {"between": ["low.p.back", "high.p.front"], "kind": "tied"}},
  "steps": {"tighten": {}, "serve": {}},
  "supports": {"foot": {"on": "low.p.front", "fix": ["x", "y", "z"]}}
})";

class MeshPageTest : public QObject, WindowFixture {
  Q_OBJECT
  void openJoint() {
    openFresh("joint", joint);
    QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current() && !w_->preparation().header().mesh.blocks.empty(), 60000);
  }
  void pressKey(Qt::Key k, Qt::KeyboardModifiers m = {}) {
    w_->setFocus();
    QTest::keyClick(w_.get(), k, m);
  }
  void solve() {
    clickRun();
    QTRY_VERIFY(w_->control().active());
    QTRY_VERIFY_WITH_TIMEOUT(!w_->control().active(), 120000);
    QTRY_VERIFY_WITH_TIMEOUT(w_->results().has() && w_->results().rows().back().time > 1.999, 20000);
  }

 private slots:
  void cleanup() { w_.reset(); }

  void meshIsCountedColouredAndItsWorstElementsShown() {
    openJoint();
    pressKey(Qt::Key_Q);
    QTRY_VERIFY(w_->meshPage() && w_->meshPage()->isVisible());
    auto* page = w_->meshPage();
    const auto& mesh = w_->preparation().header().mesh;
    int counted = 0, cells = 0;
    for (int c : page->bars()->counts()) counted += c;
    for (const auto& b : mesh.blocks) cells += int(b.count());
    QCOMPARE(counted, cells);
    QVERIFY(cells > 20);
    QVERIFY2(mesh.blocks.front().type == mesh::Cell::hex20, "plates are swept by themselves");
    QTRY_VERIFY_WITH_TIMEOUT(page->cost().contains("an iteration"), 20000);
    QVERIFY(w_->view()->showsQuality());
    // the worst first, and a click goes there
    QVERIFY(!page->worst().empty());
    for (size_t i = 1; i < page->worst().size(); ++i)
      QVERIFY(page->worst()[i - 1].scaledJacobian <= page->worst()[i].scaledJacobian);
    QPushButton* first = nullptr;
    for (auto* b : page->findChildren<QPushButton*>("row"))
      if (!first && b->isVisibleTo(page)) first = b;
    QVERIFY(first);
    QTest::mouseClick(first, Qt::LeftButton);
    const QPointF there = w_->view()->canvas()->toScreen(page->worst().front().middle);
    QVERIFY(QRectF(w_->view()->canvas()->rect()).contains(there));
    // finer at once, undone as any edit
    auto* fineness = page->findChild<QComboBox*>("fineness");
    fineness->setCurrentText("usual");
    emit fineness->activated(fineness->currentIndex());
    QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current(), 60000);
    int fine = 0;
    for (const auto& b : w_->preparation().header().mesh.blocks) fine += int(b.count());
    QVERIFY(fine > cells);
    // the colours go with the page
    w_->select("parts", "low");
    QVERIFY(!w_->view()->showsQuality());
  }

  void aBeamBoltIsMadeOfTwoPickedFacesAndEditedInTheHistory() {
    openJoint();
    pressKey(Qt::Key_N, Qt::ShiftModifier);
    QVERIFY(w_->noticeText().contains("two faces"));
    w_->view()->highlightFaces({"low.p.front", "high.p.back"});
    QVERIFY(w_->view()->pickedFaces().size() == 2);
    pressKey(Qt::Key_N, Qt::ShiftModifier);
    const auto* bolt = w_->document().document().bolts.find("bolt");
    QVERIFY(bolt && bolt->beam);
    QCOMPARE(bolt->beam->material, std::string("steel"));
    QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current(), 60000);
    for (const auto& f : w_->preparation().readiness().findings) QVERIFY2(!f.fault, f.what.c_str());
    // shortened instead, in the loading history's own words
    const auto write = [&](int step, const QString& words) {
      auto* history = w_->history();
      int lane = -1;
      for (size_t i = 0; i < history->lanes().size(); ++i)
        if (history->lanes()[i].name == "bolt") lane = int(i);
      QVERIFY(lane >= 0);
      history->editCell(lane, step);
      auto* editor = history->findChild<QLineEdit*>("cellEditor");
      QVERIFY(editor->isVisible());
      editor->selectAll();
      QTest::keyClicks(editor, words);
      QTest::keyClick(editor, Qt::Key_Return);
    };
    write(0, "shorten 0.02");
    bolt = w_->document().document().bolts.find("bolt");
    QVERIFY(!bolt->force.stages.find("tighten"));
    QVERIFY(bolt->shortening.stages.find("tighten"));
    write(0, "tighten 8 kN");
    bolt = w_->document().document().bolts.find("bolt");
    QVERIFY(bolt->force.stages.find("tighten") && bolt->force.stages.find("tighten")->value.text == "8 kN");
    QVERIFY(!bolt->shortening.stages.find("tighten"));
    write(1, "slack");
    QVERIFY(w_->document().document().bolts.find("bolt")->force.stages.find("serve")->how == model::How::off);
    write(1, "hold");
    QVERIFY(!w_->document().document().bolts.find("bolt")->force.stages.find("serve"));
  }

  void twoRunsLieOverEachOtherInCurves() {
    openJoint();
    w_->document().edit("bolt", [](model::Document& d) {
      auto& b = d.bolts("bolt");
      b.beam = model::BoltBeam{{"low.p.front"}, {"high.p.back"}, 8, "steel"};
      b.force.stages("tighten") = {model::How::ramp, model::Entry("8 kN")};
    });
    solve();
    auto* curves = w_->curves();
    w_->showPage(2);
    curves->plot("time", {"bolts/bolt/shortening"});
    const double before = w_->results().history("bolts/bolt/shortening")->back();
    QPushButton* keep = nullptr;
    for (auto* b : curves->findChildren<QPushButton*>())
      if (b->text() == "Keep this one") keep = b;
    QVERIFY(keep && keep->isEnabled());
    QTest::mouseClick(keep, Qt::LeftButton);
    QCOMPARE(curves->laid().size(), 1u);
    // thicker plates: nothing else is touched
    w_->document().edit("thicker", [](model::Document& d) { d.parameters("thick") = 9; });
    QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current(), 60000);
    for (const auto& f : w_->preparation().readiness().findings) QVERIFY2(!f.fault, f.what.c_str());
    solve();
    const double after = w_->results().history("bolts/bolt/shortening")->back();
    QVERIFY2(after > 1.2 * before, "a longer bolt stretches more");
    w_->showPage(2);
    curves->plot("time", {"bolts/bolt/shortening"});
    auto* runs = curves->findChild<QListWidget*>("laidRuns");
    QCOMPARE(runs->count(), 1);
    QCOMPARE(runs->item(0)->text(), QString("thick = 6"));
    QCOMPARE(curves->plotWidget()->plottableCount(), 2);
    QCOMPARE(curves->laid().front().column("bolts/bolt/shortening").back(), before);
    const auto table = curves->csv();
    QVERIFY(table.startsWith(
        "\"time [s]\",\"bolts/bolt/shortening [mm]\",\"time [s] · thick = 6\",\"bolts/bolt/shortening · thick = 6 [mm]\""));
    runs->item(0)->setCheckState(Qt::Unchecked);
    QCOMPARE(curves->plotWidget()->plottableCount(), 1);
    // a run from its file
    const auto file = folder_.filePath("other.h5");
    std::filesystem::copy_file(folder_.filePath("joint.results.h5").toStdString(), file.toStdString());
    curves->add(file);
    QCOMPARE(curves->laid().size(), 2u);
    QCOMPARE(runs->item(1)->text(), QString("other"));
    curves->add(folder_.filePath("joint.anvil"));
    QCOMPARE(curves->laid().size(), 2u);
  }
};

QObject* makeMeshPageTest() { return new MeshPageTest; }

}  // namespace anvil::app

#include "mesh_page_test.moc"
