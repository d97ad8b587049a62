// Faces, edges, corners and parts picked in the view; by rule; kept as regions that later changes find again.
#include <QMenu>

#include "core/base/files.hpp"
#include "core/lower/lower.hpp"
#include "core/model/actions.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "core/problem/problem.hpp"
#include "fixture.hpp"

namespace anvil::app {

static const char* const lug = R"({
  "anvil": 1, "title": "lug", "space": "solid", "parameters": {"r": 3},
  "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
  "parts": {"lug": {"material": "steel", "mesh": {"size": 4}, "solid": [
    {"name": "b", "box": {"size": [20, 12, 8]}},
    {"name": "slot", "how": "cut", "box": {"at": [9, 8, -1], "size": [2, 10, 10]}},
    {"name": "hole", "how": "cut", "cylinder": {"from": [10, 6, -1], "to": [10, 6, 9], "radius": "=r"}}]}},
  "steps": {"pull": {}},
  "supports": {"foot": {"on": "lug.b.left", "fix": ["x", "y", "z"]}}
})";

class PickingTest : public QObject, WindowFixture {
  Q_OBJECT
  void openLug() {
    const auto path = folder_.filePath("lug.anvil");
    QFile::remove(folder_.filePath("lug.results.h5"));
    write(path, lug);
    QVERIFY(w_->openModel(path));
    w_->resize(1280, 800);
    prepared();
    press(Qt::Key_C);
    press(Qt::Key_F);
  }
  void press(Qt::Key k, Qt::KeyboardModifiers m = {}) {
    w_->setFocus();
    QTest::keyClick(w_.get(), k, m);
  }
  QPoint at(double x, double y, double z) { return w_->view()->canvas()->toScreen(Eigen::Vector3d(x, y, z)).toPoint(); }
  QStringList click(double x, double y, double z, Qt::KeyboardModifiers m = {}) {
    QTest::mouseClick(w_->view()->canvas(), Qt::LeftButton, m, at(x, y, z));
    return w_->view()->pickedFaces();
  }
  void add(const char* kind) { QTest::mouseClick(w_->shelf()->findChild<QToolButton*>(QString("add-") + kind), Qt::LeftButton); }
  /// Chooses an entry of the menu that a right click at a place opens; its entries otherwise.
  QStringList chooseInMenu(const QPoint& place, const QString& words) {
    QStringList seen;
    QTimer::singleShot(150, w_.get(), [&] {
      auto* menu = w_->view()->findChild<QMenu*>("pickMenu");
      if (!menu) return;
      for (auto* a : menu->actions()) {
        seen << a->text();
        if (!words.isEmpty() && a->text().contains(words)) a->trigger();
      }
      menu->close();
    });
    QTest::mouseClick(w_->view()->canvas(), Qt::RightButton, {}, place);
    QTest::qWait(250);
    return seen;
  }

 private slots:
  void init() { open(); }
  void cleanup() { w_.reset(); }

  void edgesAndCornersAndPartsArePickedWhereTheyAreSeen() {
    openLug();
    QCOMPARE(click(15, 6, 8), QStringList("lug.b.back"));
    press(Qt::Key_2);
    QCOMPARE(w_->view()->picking(), Picking::edges);
    QCOMPARE(click(20, 6, 8), QStringList("lug.b.back & lug.b.right"));
    QCOMPARE(click(4, 12, 8, Qt::ControlModifier), QStringList({"lug.b.back & lug.b.right", "lug.b.back & lug.b.top"}));
    QCOMPARE(click(4, 12, 8, Qt::ControlModifier), QStringList("lug.b.back & lug.b.right"));  // once more: off again
    press(Qt::Key_3);
    QCOMPARE(click(20, 12, 8), QStringList("lug.b.back & lug.b.right & lug.b.top"));
    press(Qt::Key_4);
    QCOMPARE(click(15, 6, 8), QStringList("lug"));
    press(Qt::Key_1);
    QCOMPARE(click(20, 6, 4), QStringList("lug.b.right"));
    QCOMPARE(click(20, 6, 400), QStringList());  // beside the part
  }

  void aPickedEdgeIsSeen() {
    openLug();
    const auto marked = [&] {  // pixels of the accent along the edge
      int n = 0;
      const auto image = w_->view()->canvas()->grab().toImage();  // with what is painted over it
      for (double y = 1; y < 11; y += 0.1) {
        const QPoint p = at(20, y, 8);
        bool here = false;
        for (int dx = -3; dx <= 3; ++dx)
          for (int dy = -3; dy <= 3; ++dy) {
            const QColor c = image.pixelColor(p + QPoint(dx, dy));
            here = here || (std::abs(c.red() - theme().accent.red()) < 12 && std::abs(c.green() - theme().accent.green()) < 12 &&
                            std::abs(c.blue() - theme().accent.blue()) < 12);
          }
        n += here;
      }
      return n;
    };
    QCOMPARE(marked(), 0);
    press(Qt::Key_2);
    QCOMPARE(click(20, 6, 8), QStringList("lug.b.back & lug.b.right"));
    QVERIFY2(marked() > 90, qPrintable(QString::number(marked())));
  }

  void whatIsAddedActsOnThePickedEdge() {
    openLug();
    press(Qt::Key_2);
    click(20, 6, 8);
    add("loads");
    const auto& load = document().loads.front().second;
    QCOMPARE(load.on, std::vector<std::string>{"lug.b.back & lug.b.right"});
    w_->document().edit(
        "as a force", [](model::Document& d) { d.loads.front().second.kind = "force", d.loads.front().second.along.axis = "x"; });
    prepared();
    for (const auto& f : w_->preparation().readiness().findings) QVERIFY2(!f.fault, f.what.c_str());
    // a pressure on an edge is refused in words
    w_->document().edit("as a pressure",
                        [](model::Document& d) { d.loads.front().second.kind = "pressure", d.loads.front().second.along = {}; });
    prepared();
    QVERIFY(w_->preparation().readiness().findings.size() > 0);
    QVERIFY2(QString::fromStdString(w_->preparation().readiness().findings.front().what).contains("no area"),
             w_->preparation().readiness().findings.front().what.c_str());
    undo();
    // the part's new name is that of its edges too
    w_->select("parts", "lug");
    auto* name = w_->desk()->findChild<QLineEdit*>("thingName");
    type(name, "eye");
    QCOMPARE(document().loads.front().second.on, std::vector<std::string>{"eye.b.back & eye.b.right"});
    prepared();
    for (const auto& f : w_->preparation().readiness().findings) QVERIFY2(!f.fault, f.what.c_str());
  }

  void aRightClickPicksByRuleAndTheRegionSurvivesAChange() {
    openLug();
    const auto entries = chooseInMenu(at(2, 6, 8), "in this plane");
    QVERIFY2(entries.join("|").contains("cylinder"), qPrintable(entries.join("|")));
    QCOMPARE(w_->view()->pickedFaces(), QStringList("lug.b.back"));
    press(Qt::Key_R, Qt::ShiftModifier);
    QTRY_COMPARE(int(document().regions.size()), 1);
    QVERIFY(document().regions.front().second.plane);
    QVERIFY(document().regions.front().second.edges.empty());
    // the hole: its wall is cut by the slot and still one cylinder
    w_->view()->pickByRule("lug.hole.side", "cylinder");
    QVERIFY(w_->view()->pickedFaces().contains("lug.hole.side"));
    press(Qt::Key_R, Qt::ShiftModifier);
    QTRY_COMPARE(int(document().regions.size()), 2);
    QCOMPARE(document().regions.back().second.cylinderOf, std::vector<std::string>{"lug.hole.side"});
    prepared();
    QTRY_COMPARE(w_->desk()->name(), QString("region 2"));
    add("supports");  // the region is what is picked now
    QCOMPARE(document().supports.back().second.on, std::vector<std::string>{"region 2"});
    const auto count = [&] {
      const auto& mesh = w_->preparation().header().mesh;
      double most = 0;
      for (const auto& f : analysis::facetsOf({"region 2"}, document(), mesh, ""))
        for (int n : mesh.nodesOf(f)) most = std::max(most, (mesh.x[size_t(n)].head<2>() - Eigen::Vector2d(10, 6)).norm());
      return most;
    };
    prepared();
    QVERIFY(std::abs(count() - 3) < 1e-6);
    w_->document().edit("wider", [](model::Document& d) { d.parameters("r") = 4; });
    prepared();
    QVERIFY(std::abs(count() - 4) < 1e-6);
    for (const auto& f : w_->preparation().readiness().findings) QVERIFY2(!f.fault, f.what.c_str());
    // all that lies in a box: the wall, and nothing of the slot above it
    w_->view()->highlightFaces({"lug.b.right"});
    w_->document().edit("narrower", [](model::Document& d) { d.parameters("r") = 3; });
    prepared();
    const auto menu = chooseInMenu(at(20, 6, 4), "box round it");
    QTRY_VERIFY2(document().regions.size() == 3, qPrintable(menu.join("|")));
    const auto& boxed = document().regions.back().second;
    QVERIFY(boxed.box && boxed.of == std::vector<std::string>{"lug"});
    prepared();
    const auto& mesh = w_->preparation().header().mesh;
    const auto facets = analysis::facetsOf({"region 3"}, document(), mesh, "");
    QCOMPARE(facets.size(), mesh.face("lug.b.right")->facets.size());
    // what is no cylinder is said
    w_->view()->pickByRule("lug.b.top", "cylinder");
    QVERIFY2(w_->noticeText().contains("no cylinder"), qPrintable(w_->noticeText()));
  }

  void meshingCanBeStoppedAndBegunAgain() {
    openLug();
    auto* stop = w_->findChild<QToolButton*>("stopMeshing");
    QVERIFY(stop && !stop->isVisible());
    w_->document().edit("very fine", [](model::Document& d) {
      d.parts.front().second.mesh.size = 0.25, d.parts.front().second.element = "tet10";
    });
    QTRY_VERIFY_WITH_TIMEOUT(stop->isVisible(), 20000);
    QTest::mouseClick(stop, Qt::LeftButton);
    QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current(), 20000);
    QVERIFY(!stop->isVisible());
    QVERIFY2(w_->preparation().trouble().contains("meshing was stopped"), qPrintable(w_->preparation().trouble()));
    const auto& findings = w_->preparation().readiness().findings;
    QVERIFY(std::any_of(findings.begin(), findings.end(),
                        [](const auto& f) { return f.fault && f.what.find("stopped") != std::string::npos; }));
    w_->document().edit("coarse again", [](model::Document& d) { d.parts.front().second.mesh.size = 4; });
    prepared();
    QVERIFY(!w_->preparation().header().mesh.blocks.empty());
  }

  void aRightDragMovesAndOpensNoMenu() {
    openLug();
    auto* canvas = w_->view()->canvas();
    const auto before = canvas->toScreen(Eigen::Vector3d::Zero());
    const QPoint from = at(10, 3, 8);
    QTest::mousePress(canvas, Qt::RightButton, {}, from);
    QMouseEvent move(QEvent::MouseMove, from + QPoint(30, 10), canvas->mapToGlobal(from + QPoint(30, 10)), Qt::NoButton,
                     Qt::RightButton, {});
    QApplication::sendEvent(canvas, &move);
    QTest::mouseRelease(canvas, Qt::RightButton, {}, from + QPoint(30, 10));
    QVERIFY(!w_->view()->findChild<QMenu*>("pickMenu"));
    QVERIFY((canvas->toScreen(Eigen::Vector3d::Zero()) - before - QPointF(30, 10)).manhattanLength() < 2);
  }

  void boxesTakeWhatIsPicked() {
    openLug();
    press(Qt::Key_Z);
    press(Qt::Key_F);
    press(Qt::Key_3);
    auto* canvas = w_->view()->canvas();
    const QPoint a = at(17, 14, 8), b = at(22, -2, 8);  // round the right end
    QTest::mousePress(canvas, Qt::LeftButton, Qt::ShiftModifier, a);
    QMouseEvent move(QEvent::MouseMove, b, canvas->mapToGlobal(b), Qt::NoButton, Qt::LeftButton, Qt::ShiftModifier);
    QApplication::sendEvent(canvas, &move);
    QTest::mouseRelease(canvas, Qt::LeftButton, Qt::ShiftModifier, b);
    QCOMPARE(w_->view()->pickedFaces().size(), 4);
  }

  void thingsAreCopiedAndParametersAdded() {
    openLug();
    w_->select("parts", "lug");
    QTest::mouseClick(w_->desk()->findChild<QToolButton*>("copyThing"), Qt::LeftButton);
    QVERIFY(document().parts.find("lug copy"));
    QVERIFY(*document().parts.find("lug copy") == *document().parts.find("lug"));
    QCOMPARE(w_->desk()->name(), QString("lug copy"));
    undo();
    QVERIFY(!document().parts.find("lug copy"));
    w_->select("model", {});
    type(w_->desk()->findChild<QLineEdit*>("newParameter"), "wall = 0.5 in");
    QVERIFY(document().parameters.find("wall"));
    QCOMPARE(document().parameters.find("wall")->text, std::string("0.5 in"));
    settle();
    type(w_->desk()->findChild<QLineEdit*>("newParameter"), "2wall = 3");
    QVERIFY(document().parameters.size() == 2);
    QVERIFY(w_->desk()->findChild<QLabel*>("trouble")->text().contains("name and a value"));
  }
};

QObject* makePickingTest() { return new PickingTest; }

}  // namespace anvil::app

#include "picking_test.moc"
