// Plane shapes drawn and changed with the mouse in the real window.
#include "app/shown_units.hpp"
#include "app/view/feature_tool.hpp"
#include "app/view/outline_tool.hpp"
#include "core/model/actions.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "fixture.hpp"

namespace anvil::app {

using geometry::Grip, geometry::SizeMark;

class OutlineTest : public QObject, WindowFixture {
  Q_OBJECT
  OutlineTool* tool() { return w_->view()->outlineTool(); }
  VtkCanvas* canvas() { return w_->view()->canvas(); }
  QPoint at(double x, double y) { return canvas()->toScreen(x, y, 0).toPoint(); }
  void click(double x, double y) {
    QTest::mouseMove(canvas(), at(x, y));
    QTest::mouseClick(canvas(), Qt::LeftButton, {}, at(x, y));
  }
  void drag(const QPointF& from, const QPointF& to, Qt::KeyboardModifiers keys = {}) {
    QTest::mouseMove(canvas(), from.toPoint());
    QTest::mousePress(canvas(), Qt::LeftButton, keys, from.toPoint());
    for (int k = 1; k <= 6; ++k) {
      const auto p = (from + (to - from) * k / 6).toPoint();
      QMouseEvent move(QEvent::MouseMove, p, canvas()->mapToGlobal(p), Qt::NoButton, Qt::LeftButton, keys);
      QApplication::sendEvent(canvas(), &move);
    }
    QTest::mouseRelease(canvas(), Qt::LeftButton, keys, to.toPoint());
  }
  void typeSize(SizeMark::What what, size_t which, const QString& text) {
    const auto label = tool()->sizePlace(what, which);
    QVERIFY(!label.isEmpty());
    QTest::mouseClick(canvas(), Qt::LeftButton, {}, label.center().toPoint());
    auto* entry = canvas()->findChild<QLineEdit*>("size-entry");
    QVERIFY(entry->isVisible());
    QTest::keyClick(entry, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(entry, text);
    QTest::keyClick(entry, Qt::Key_Return);
    prepared();
  }
  const model::Shape& shape(const char* part) const { return document().parts.find(part)->shape.front(); }

 private slots:
  void aRectangleIsDraggedAndTyped() {
    open();
    w_->resize(1280, 800);
    w_->select("parts", "block");
    settle(), w_->view()->fit();
    // a corner, to the grid; one act of undo
    const int acts = w_->document().undoStack()->count();
    drag(tool()->gripPlace(Grip::What::point, 2), at(12.02, 6.01));
    QCOMPARE(*shape("block").rectangle->size[0].number, 12.);
    QCOMPARE(*shape("block").rectangle->size[1].number, 6.);
    QCOMPARE(w_->document().undoStack()->count(), acts + 1);
    prepared();
    typeSize(SizeMark::What::width, 0, "=40*depth");
    QCOMPARE(shape("block").rectangle->size[0].text, std::string("=40*depth"));
    // what a formula gives is not dragged away
    drag(tool()->gripPlace(Grip::What::point, 1), at(14, 0));
    QCOMPARE(shape("block").rectangle->size[0].text, std::string("=40*depth"));
    // a click on the edge still picks it
    click(12, 3);
    QCOMPARE(w_->view()->pickedFaces(), QStringList("block.right"));
    w_.reset();
  }

  void sizesAreTypedInTheUnitsOnShow() {
    open();
    w_->resize(1280, 800);
    w_->select("parts", "block");
    settle();
    units().choose(unitSets()[2]);
    typeSize(SizeMark::What::width, 0, "0.5");
    QCOMPARE(shape("block").rectangle->size[0].text, std::string("0.5 in"));
    units().choose(unitSets()[0]);
    w_.reset();
  }

  void anOutlineIsDrawnAndChanged() {
    open();
    w_->resize(1280, 800);
    canvas()->goTo({30, 25, 0}, 40, 0);
    QTest::keyClick(w_.get(), Qt::Key_O);
    QTRY_VERIFY(tool()->drawing());
    // round the wrong way, with one point taken back and one typed
    click(20, 20), click(20, 50), click(30, 50);
    QTest::keyClick(canvas(), Qt::Key_Backspace);
    click(28, 50);
    auto* place = w_->view()->findChild<QLineEdit*>("outline-place");
    type(place, "@0, -22");
    canvas()->setFocus();
    click(60, 28), click(60, 20);
    click(20, 20);  // the first point closes it
    QVERIFY(!tool()->drawing());
    const auto* part = document().parts.find("part");
    QVERIFY(part && part->shape.front().profile);
    QCOMPARE(int(part->shape.front().profile->path.size()), 6);
    QCOMPARE(part->material, std::string("steel"));
    prepared();
    QVERIFY2(w_->preparation().trouble().isEmpty(), qPrintable(w_->preparation().trouble()));
    QVERIFY(w_->preparation().header().mesh.blocks.size() == 2);
    w_->view()->fit();
    // which grip is the inner corner
    const auto corner = [&] {
      for (size_t i = 0; i <= 6; ++i) {
        const auto p = tool()->gripPlace(Grip::What::point, i);
        if ((p - QPointF(at(28, 28))).manhattanLength() < 4) return i;
      }
      return size_t(99);
    }();
    QVERIFY(corner >= 1 && corner < 7);
    // its rounding is pulled out of it, then typed
    const auto grip = tool()->gripPlace(Grip::What::fillet, corner - 1);
    drag(grip, QPointF(at(31, 31)));
    QVERIFY(shape("part").profile->path[corner - 1].fillet.given());
    prepared();
    typeSize(SizeMark::What::fillet, corner - 1, "3");
    QCOMPARE(*shape("part").profile->path[corner - 1].fillet.number, 3.);
    QVERIFY2(w_->preparation().trouble().isEmpty(), qPrintable(w_->preparation().trouble()));
    // an edge is named, and what refers to it follows
    click(20, 35);
    QCOMPARE(w_->view()->pickedFaces().size(), 1);
    const auto old = w_->view()->pickedFaces().front();
    w_->document().edit("held", [&](model::Document& d) { d.supports("hold") = {{old.toStdString()}, {"x"}, {}, "held", {}}; });
    auto* name = w_->view()->findChild<QLineEdit*>("edge-name");
    QVERIFY(name->isVisible());
    type(name, "wall");
    QCOMPARE(document().supports.find("hold")->on, std::vector<std::string>{"part.wall"});
    prepared();
    QVERIFY(w_->preparation().header().mesh.face("part.wall"));
    w_.reset();
  }

  void linesBecomeArcsFromTheMenu() {
    open();
    w_->resize(1280, 800);
    canvas()->goTo({30, 25, 0}, 40, 0);
    QTest::keyClick(w_.get(), Qt::Key_O);
    QTRY_VERIFY(tool()->drawing());
    click(20, 20), click(50, 20), click(50, 40), click(20, 40);
    QTest::keyClick(canvas(), Qt::Key_Return);
    QVERIFY(!tool()->drawing());
    prepared();
    takeFromMenu("Make an arc of it", [&] { emit canvas()->menuAsked(tool()->gripPlace(Grip::What::edge, 1)); });
    QVERIFY(!shape("part").profile->path[1].arc.empty());
    prepared();
    typeSize(SizeMark::What::radius, 1, "20");
    const model::Quantities q(document());
    const auto& piece = shape("part").profile->path[1];
    const double dx = q(piece.center[0], Kind::length, "") - 50, dy = q(piece.center[1], Kind::length, "") - 40;
    QVERIFY(std::abs(std::hypot(dx, dy) - 20) < 1e-6);
    takeFromMenu("Put a point here", [&] { emit canvas()->menuAsked(tool()->gripPlace(Grip::What::edge, 0)); });
    QCOMPARE(int(shape("part").profile->path.size()), 5);
    takeFromMenu("Take this point out", [&] { emit canvas()->menuAsked(tool()->gripPlace(Grip::What::point, 1)); });
    QCOMPARE(int(shape("part").profile->path.size()), 4);
    w_.reset();
  }

  void aRigidToolIsDrawnAndPicked() {
    open();
    w_->resize(1280, 800);
    canvas()->goTo({5, 8, 0}, 12, 0);
    QTest::keyClick(w_.get(), Qt::Key_O, Qt::ShiftModifier);
    QTRY_VERIFY(tool()->drawing());
    click(-2, 14), click(12, 14);
    QTest::keyClick(canvas(), Qt::Key_Return);
    const auto* made = document().parts.find("part");
    QVERIFY(made && made->rigid && made->material.empty());
    prepared();
    QCOMPARE(int(w_->preparation().header().rigid.size()), 2);
    // a contact's faces are chosen in the view
    w_->select("contacts", "press");
    settle();
    auto* pick = w_->desk()->findChild<QToolButton*>("pick-between");
    QVERIFY(pick);
    QTest::mouseClick(pick, Qt::LeftButton);
    click(5, 0);
    QCOMPARE(document().contacts.front().second.between, std::vector<std::string>{"block.bottom"});
    QTest::mouseMove(canvas(), at(5, 5));
    QTest::mouseClick(canvas(), Qt::LeftButton, Qt::ControlModifier, at(5, 5));
    QCOMPARE(document().contacts.front().second.between, (std::vector<std::string>{"block.bottom", "block.top"}));
    QCOMPARE(w_->desk()->kind(), QString("contacts"));  // the desk stays
    auto* chip = w_->desk()->findChild<QToolButton*>("chip-block.bottom");
    QVERIFY(chip);
    QTest::mouseClick(chip, Qt::LeftButton);
    QCOMPARE(document().contacts.front().second.between, std::vector<std::string>{"block.top"});
    auto* typedName = row<QLineEdit>("between");
    type(typedName, "tool");
    QCOMPARE(document().contacts.front().second.between, (std::vector<std::string>{"block.top", "tool"}));
    w_.reset();
  }

  /// In space: the sizes of the feature whose face is picked, typed and dragged.
  void aFeaturesSizesAreTypedAndDragged() {
    openFresh("block", R"({"anvil": 1, "space": "solid", "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
      "parts": {"body": {"material": "steel", "solid": [{"name": "base", "box": {"size": [40, 20, 30]}},
        {"name": "pin", "cylinder": {"from": [20, 20, 15], "to": [20, 35, 15], "radius": 6}}], "mesh": {"size": 8}}},
      "steps": {"s": {}}})");
    auto* sizes = w_->view()->featureTool();
    w_->select("parts", "body");
    QVERIFY(sizes->labelPlace("size 1").isEmpty());  // of two features neither is meant
    w_->view()->highlightFaces({"body.base.top"});
    w_->view()->showShapesOf("body");
    const auto label = sizes->labelPlace("size 2");
    QVERIFY(!label.isEmpty());
    QTest::mouseClick(canvas(), Qt::LeftButton, {}, label.center().toPoint());
    auto* entry = canvas()->findChild<QLineEdit*>("feature-entry");
    QVERIFY(entry->isVisible());
    QTest::keyClick(entry, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(entry, "18 mm");
    QTest::keyClick(entry, Qt::Key_Return);
    QCOMPARE(document().parts.front().second.solid[0].box->size[1].text, std::string("18 mm"));
    QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current(), 60000);
    w_->view()->highlightFaces({"body.pin.side"});
    w_->view()->showShapesOf("body");
    const int acts = w_->document().undoStack()->count();
    const auto tip = sizes->tipPlace("radius");
    QVERIFY(tip.x() > 0);
    const auto each = canvas()->toScreen(1, 0, 0) - canvas()->toScreen(0, 0, 0);
    drag(tip, tip + 3 * each);
    const double radius = *document().parts.front().second.solid[1].cylinder->radius.number;
    QVERIFY2(std::abs(radius - 9) < 1.1, qPrintable(QString::number(radius)));
    QCOMPARE(w_->document().undoStack()->count(), acts + 1);
    w_.reset();
  }

  void escapeEndsTheDrawing() {
    open();
    QTest::keyClick(w_.get(), Qt::Key_O);
    QTRY_VERIFY(tool()->drawing());
    click(20, 20);
    QTest::keyClick(canvas(), Qt::Key_Escape);
    QVERIFY(!tool()->drawing());
    QCOMPARE(int(document().parts.size()), 2);
    w_.reset();
  }
};

QObject* makeOutlineTest() { return new OutlineTest; }

}  // namespace anvil::app

#include "outline_test.moc"
