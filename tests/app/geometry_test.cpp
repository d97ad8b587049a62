// Geometry in the window: STEP files brought in, features edited, meshed beside the window.
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <STEPControl_Writer.hxx>

#include <QMenu>

#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "fixture.hpp"

namespace anvil::app {

class GeometryTest : public QObject, WindowFixture {
  Q_OBJECT
  /// A plate with a hole, and a pin in it.
  QString stepFile() {
    const auto path = folder_.filePath("lug.step");
    const gp_Ax2 axis(gp_Pnt(20, 10, -1), gp_Dir(0, 0, 1));
    STEPControl_Writer writer;
    writer.Transfer(
        BRepAlgoAPI_Cut(BRepPrimAPI_MakeBox(40., 20., 6.).Shape(), BRepPrimAPI_MakeCylinder(axis, 5, 12).Shape()).Shape(),
        STEPControl_AsIs);
    writer.Transfer(BRepPrimAPI_MakeCylinder(axis, 5, 9).Shape(), STEPControl_AsIs);
    writer.Write(path.toUtf8());
    return path;
  }
  void fresh() {
    w_->document().openNew();
    prepared();
  }

 private slots:
  void init() { open(); }
  void cleanup() { w_.reset(); }

  void whereAPartCannotBeMeshedIsShownOnItsOutside() {
    const auto path = folder_.filePath("wedge.anvil");
    write(path, R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
      "parts": {"p": {"material": "m", "element": "tet10", "mesh": {"size": 3}, "solid": [
        {"box": {"size": [20, 10, 6]}, "name": "b"}, {"half": {"normal": [-0.01, 1, 0]}, "name": "h"}]}}, "steps": {"s": {}}})");
    QVERIFY(w_->openModel(path));
    QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current(), 120000);
    QVERIFY(w_->view()->trouble().contains("no sound mesh"));
    const auto& refused = w_->preparation().refused();
    QCOMPARE(int(refused.size()), 1);
    QCOMPARE(int(w_->preparation().header().rigid.size()), 1);
    // the outside is drawn, in sight as a whole, and the place is ringed on it
    double b[6];
    w_->view()->scene().bounds(b);
    QVERIFY(std::abs(b[1] - b[0] - 20) < 1e-6 && std::abs(b[5] - b[4] - 6) < 1e-6);
    const QImage shot = w_->view()->grab().toImage();
    const QPointF at = w_->view()->canvas()->toScreen(refused.front().at);
    QVERIFY(QRectF(w_->view()->canvas()->rect()).contains(at));
    const QPoint place = w_->view()->canvas()->mapTo(w_->view(), at.toPoint());
    int ringed = 0;
    for (int dx = -12; dx <= 12; ++dx)
      for (int dy = -12; dy <= 12; ++dy) ringed += shot.pixelColor(place + QPoint(dx, dy)) == theme().accent;
    QVERIFY2(ringed > 20, qPrintable(QString::number(ringed)));
    // mended, it is meshed as ever
    w_->document().edit("Mend", [](model::Document& d) { d.parts.front().second.solid.pop_back(); });
    QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current(), 120000);
    QVERIFY(w_->preparation().refused().empty());
    QCOMPARE(int(w_->preparation().header().mesh.blocks.size()), 1);
  }

  void aStepFileBecomesPartsInOneUndoableAct() {
    fresh();
    w_->bringIn(stepFile());
    QTRY_COMPARE(int(document().parts.size()), 2);
    QCOMPARE(document().space, std::string("solid"));
    QVERIFY(document().materials.find(document().parts.front().second.material));
    prepared();
    const auto& mesh = w_->preparation().header().mesh;
    QCOMPARE(int(mesh.blocks.size()), 2);
    QVERIFY2(mesh.x.size() > 100, qPrintable(w_->preparation().trouble()));
    double high = 0;
    for (const auto& x : mesh.x) high = std::max(high, x.z());
    QCOMPARE(high, 8.0);
    w_->document().undoStack()->undo();
    QVERIFY(document().parts.empty());
  }

  void whatCannotBeBroughtInIsSaid() {
    w_->bringIn(stepFile());  // the open model is plane
    QTRY_VERIFY(w_->noticeText().contains("only be brought into a model in space"));
    fresh();
    const auto empty = folder_.filePath("empty.step");
    write(empty, "");
    w_->bringIn(empty);
    QTRY_VERIFY(w_->noticeText().contains("is empty"));
    QVERIFY(document().parts.empty());
  }

  void aModelSavedElsewhereStillFindsItsFiles() {
    stepFile();
    write(folder_.filePath("lug.anvil"),
          R"({"anvil": 1, "space": "solid", "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
      "parts": {"lug": {"material": "steel", "solid": {"step": {"file": "lug.step", "solid": "1"}}, "mesh": {"size": 5}}},
        "steps": {"load": {}}})");
    QVERIFY(w_->openModel(folder_.filePath("lug.anvil")));
    prepared();
    QVERIFY2(!w_->preparation().header().mesh.blocks.empty(), qPrintable(w_->preparation().trouble()));
    QDir(folder_.path()).mkpath("deeper/down");
    w_->document().save(folder_.filePath("deeper/down/lug.anvil"));
    QCOMPARE(document().parts.front().second.solid.front().step->file, std::string("../../lug.step"));
    w_->document().edit("coarser", [](model::Document& d) { d.parts.front().second.mesh.size = 6; });
    prepared();
    QVERIFY2(!w_->preparation().header().mesh.blocks.empty(), qPrintable(w_->preparation().trouble()));
  }

  void featuresAreEditedAtTheDesk() {
    write(folder_.filePath("plate.anvil"),
          R"({"anvil": 1, "space": "solid", "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
      "parts": {"plate": {"material": "steel", "solid": [{"box": {"size": [40, 20, 6]}, "name": "body"},
        {"cylinder": {"from": [20, 10, -1], "to": [20, 10, 7], "radius": 5}, "how": "cut", "name": "hole"}], "mesh": {"size": 5},
        "sizes": {"hole": 2}}}, "steps": {"load": {}}})");
    QVERIFY(w_->openModel(folder_.filePath("plate.anvil")));
    prepared();
    const auto before = w_->preparation().header().mesh.x.size();
    w_->select("parts", "plate");
    type(row<QLineEdit>("solid/2/cylinder/radius"), "3");
    QCOMPARE(*document().parts.front().second.solid[1].cylinder->radius.number, 3.0);
    prepared();
    const auto* hole = w_->preparation().header().mesh.face("plate.hole.side");
    QVERIFY(hole);
    const auto nodes = w_->preparation().header().mesh.nodesOf(hole->facets);
    size_t off = 0;  // middles that were drawn back for their elements' sake
    for (int n : nodes) {
      const auto& x = w_->preparation().header().mesh.x[size_t(n)];
      off += std::abs(std::hypot(x.x() - 20, x.y() - 10) - 3) > 1e-6;
    }
    QVERIFY2(off * 20 < nodes.size(), qPrintable(QString("%1 of %2").arg(off).arg(nodes.size())));
    QVERIFY(w_->preparation().header().mesh.x.size() != before);
  }

  void theWheelScrollsTheDeskAndChangesNothing() {
    w_->select("parts", "block");
    auto* box = row<QComboBox>("element");
    QWheelEvent turn(QPointF(5, 5), box->mapToGlobal(QPointF(5, 5)), {}, {0, -120}, Qt::NoButton, Qt::NoModifier,
                     Qt::NoScrollPhase, false);
    QApplication::sendEvent(box, &turn);
    QCOMPARE(document().parts.front().second.element, std::string("quad4"));
  }

  void featuresAreAddedAndTakenOut() {
    fresh();
    w_->document().edit("in space", [](model::Document& d) {
      d.space = "solid";
      auto& elastic = d.materials("steel").elastic;
      elastic.E = 205000, elastic.nu = 0.3;
    });
    QTest::mouseClick(w_->shelf()->findChild<QToolButton*>("add-parts"), Qt::LeftButton);
    w_->select("parts", "part");
    const auto choose = [&](const QString& kind) {
      auto* button = w_->desk()->findChild<QPushButton*>("addFeature");
      QVERIFY(button);
      for (auto* action : button->menu()->actions())
        if (action->text() == kind) action->trigger();
      prepared();
      QVERIFY2(w_->preparation().header().mesh.blocks.size() == 1, qPrintable(w_->preparation().trouble()));
    };
    const auto face = [&](const char* name) { return w_->preparation().header().mesh.face(name) != nullptr; };
    for (const auto& kind : {"hole", "cylinder", "box", "tube", "ball"}) choose(kind);
    QVERIFY(face("part.hole.side") && face("part.cylinder.side") && face("part.ball.surface"));
    w_->desk()->setPicked({"part.box.front", "part.box.left"});
    choose("fillet");
    QVERIFY(face("part.fillet.round"));
    QCOMPARE(document().parts.front().second.solid.back().fillet->between, (std::vector<std::string>{"box.front", "box.left"}));
    QTest::mouseClick(w_->desk()->findChild<QToolButton*>("takeOut-2"), Qt::LeftButton);
    prepared();
    QVERIFY(!face("part.hole.side") && face("part.cylinder.side"));
    w_->document().undoStack()->undo();
    prepared();
    QVERIFY(face("part.hole.side"));
  }
};

QObject* makeGeometryTest() { return new GeometryTest; }

}  // namespace anvil::app

#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "geometry_test.moc"
