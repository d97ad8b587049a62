// Ways of looking: mirrored, cut open, the touch map.
#include "fixture.hpp"

#include <QSlider>

namespace anvil::app {

namespace {
/// An eighth of a cube under a rigid lid, held in its three planes, beside a second block that touches nothing.
const char* const eighth = R"({
  "anvil": 1, "title": "Eighth of a cube", "space": "solid",
  "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
  "parts": {
    "cube": {"material": "steel", "element": "hex8", "shape": {"rectangle": {"at": [0, 0], "size": [4, 4]}}, "mesh": {
      "count": [2, 2]}, "extrude": {"depth": 4, "count": 2}},
    "spare": {"material": "steel", "element": "tet10", "shape": {"rectangle": {"at": [6, 0], "size": [2, 2]}}, "mesh": {
      "count": [1, 1]}, "extrude": {"depth": 3, "count": 1}},
    "lid": {"rigid": true, "shape": {"profile": {"start": [-1, 4], "path": [{"line": [5, 4]}]}}, "extrude": {"depth": 6},
      "place": {"shift": [0, 0, -1]}}
  },
  "contacts": {"seat": {"between": ["cube.top", "lid"]}, "side": {"between": ["cube.right", "spare.left"], "friction": 0.2},
    "foot": {"between": ["cube.right", "spare.bottom"]}},
  "steps": {"press": {}},
  "supports": {"planes": {"on": ["cube.left", "cube.bottom", "cube.front"], "fix": "normal"}, "spare": {"on": "spare.bottom",
    "fix": ["x", "y", "z"]}},
  "motions": {"push": {"on": "lid", "along": "y", "course": -0.1}}
})";
}  // namespace

class DisplayTest : public QObject, WindowFixture {
  Q_OBJECT
  ModelView* view() { return w_->view(); }
  QToolButton* button(const char* name) { return view()->findChild<QToolButton*>(name); }
  void openEighth() {
    const auto path = folder_.filePath("eighth.anvil");
    write(path, eighth);
    QVERIFY(w_->openModel(path));
    prepared();
  }
  Eigen::Vector3d drawnSize() {
    double b[6];
    view()->scene().bounds(b);
    return {b[1] - b[0], b[3] - b[2], b[5] - b[4]};
  }
  void hover(const QPointF& at) {
    auto* map = w_->shelf()->touchMap();
    QMouseEvent move(QEvent::MouseMove, at, map->mapToGlobal(at), Qt::NoButton, Qt::NoButton, {});
    QApplication::sendEvent(map, &move);
  }

 private slots:
  void init() { open(); }
  void cleanup() { w_.reset(); }

  void aSheetHasItsThicknessOnItsDeskAndItsFieldsInTheView() {
    const auto path = folder_.filePath("leaf.anvil");
    write(path, R"({
      "anvil": 1, "title": "Leaf", "space": "solid", "materials": {"spring": {"elastic": {"E": 200000, "nu": 0.3}}},
      "parts": {"leaf": {"material": "spring", "mesh": {"count": [4, 1]}, "shape": {"rectangle": {"at": [0, 0], "size": [8, 2]}},
        "thin": {"thickness": 0.5}}},
      "steps": {"pull": {"increments": {"first": 1}}},
      "supports": {"left": {"on": "leaf.left", "fix": ["x", "y", "z"]}},
      "motions": {"right": {"on": "leaf.right", "along": "x", "course": 0.4}}
    })");
    QVERIFY(w_->openModel(path));
    prepared();
    QVERIFY(std::abs(drawnSize().z() - 0.5) < 1e-9);
    w_->select("parts", "leaf");
    auto* thickness = row<QLineEdit>("thin/thickness");
    QVERIFY(thickness);
    type(thickness, "0.8 mm");
    QTRY_VERIFY_WITH_TIMEOUT(std::abs(drawnSize().z() - 0.8) < 1e-6, 20000);
    clickRun();
    QTRY_COMPARE_WITH_TIMEOUT(int(w_->control().state()), int(RunControl::State::finished), 60000);
    QTRY_VERIFY_WITH_TIMEOUT(w_->results().has(), 20000);
    auto* field = view()->findChild<QComboBox*>("field");
    QVERIFY(field->findText("thickness") >= 0 && field->findText("bending moment 1") >= 0);
    auto* place = view()->findChild<QComboBox*>("sheetPlace");  // the field is there once, the place is chosen beside
    QVERIFY(field->findText("von Mises stress in the middle") < 0 && place->findText("middle") >= 0);
  }

  void theMirroredPictureIsTwiceAsLarge() {
    openEighth();
    view()->setSight(1, Sight::hidden), view()->setSight(2, Sight::hidden);
    QVERIFY(button("mirrored")->isVisible());
    QVERIFY((drawnSize() - Eigen::Vector3d(4, 4, 4)).norm() < 1e-9);
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_R);
    QVERIFY(button("mirrored")->isChecked());
    // spare lies beyond x = 0 and y = 0 and z = 0 on the same side, so all three planes stand
    QVERIFY((drawnSize() - Eigen::Vector3d(8, 8, 8)).norm() < 1e-9);
    QTest::keyClick(w_.get(), Qt::Key_R);
    QVERIFY((drawnSize() - Eigen::Vector3d(4, 4, 4)).norm() < 1e-9);
  }

  void aModelWithoutSymmetryOffersNoMirror() {
    QVERIFY(!button("mirrored")->isVisible());
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_R);
    QVERIFY(w_->noticeText().contains("symmetry"));
    QTest::keyClick(w_.get(), Qt::Key_S);
    QVERIFY(w_->noticeText().contains("solid"));
    QVERIFY(!view()->sectionBar()->isVisible());
  }

  void aSectionCutsTheSolidOpen() {
    openEighth();
    view()->setSight(2, Sight::hidden);
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_S);
    QVERIFY(view()->sectionBar()->isVisible());
    auto* bar = view()->sectionBar();
    // across z in the middle: the whole cross-sections of the cube (4 × 4) and of the spare block (2 × 2)
    QCOMPARE(bar->section().axis, 2);
    QVERIFY2(std::abs(view()->scene().sectionArea() - 20) < 1e-9, qPrintable(QString::number(view()->scene().sectionArea())));
    auto* place = bar->findChild<QLineEdit*>("section-place");
    type(place, "0.35 cm");  // behind the spare block
    QVERIFY2(std::abs(view()->scene().sectionArea() - 16) < 1e-9, qPrintable(QString::number(view()->scene().sectionArea())));
    QTest::mouseClick(bar->findChild<QToolButton*>("section-x"), Qt::LeftButton);
    type(place, "7");
    QVERIFY2(std::abs(view()->scene().sectionArea() - 6) < 1e-9, qPrintable(QString::number(view()->scene().sectionArea())));
    type(place, "seven");  // not understood: stays, and says why
    QCOMPARE(bar->section().at, 7.);
    QVERIFY(place->toolTip().contains("seven"));
    bar->findChild<QSlider*>("section-slider")->setValue(0);
    QCOMPARE(bar->section().at, 0.);
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_S);
    QCOMPARE(view()->scene().sectionArea(), 0.);
    QVERIFY(!bar->isVisible());
  }

  void theSectionShowsTheMirroredHalvesToo() {
    openEighth();
    view()->setSight(1, Sight::hidden), view()->setSight(2, Sight::hidden);
    view()->setMirrored(true);
    view()->setSection(true);
    auto* bar = view()->sectionBar();
    QTest::mouseClick(bar->findChild<QToolButton*>("section-z"), Qt::LeftButton);
    type(bar->findChild<QLineEdit*>("section-place"), "1");
    QVERIFY2(std::abs(view()->scene().sectionArea() - 64) < 1e-9, qPrintable(QString::number(view()->scene().sectionArea())));
    type(bar->findChild<QLineEdit*>("section-place"), "-3");  // there is only the mirrored half
    QVERIFY2(std::abs(view()->scene().sectionArea() - 64) < 1e-9, qPrintable(QString::number(view()->scene().sectionArea())));
  }

  void pickingSeesWhatTheSectionLeaves() {
    openEighth();
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_Z);
    view()->fit();
    QStringList picked;
    connect(view(), &ModelView::facesPicked, this, [&](const QStringList& f) { picked = f; });
    auto* canvas = view()->canvas();
    const auto click = [&] { QTest::mouseClick(canvas, Qt::LeftButton, {}, canvas->toScreen(1, 2, 4).toPoint()); };
    view()->setSight(2, Sight::hidden);
    click();
    QCOMPARE(picked, QStringList("cube.back"));
    view()->setSection(true);
    click();
    QVERIFY(picked.isEmpty());  // the back face is cut away
  }

  void aNegativeForceIsDrawnTheOtherWay() {
    // an arrow's colour lies nearer to its head than to the middle of its length
    const auto headIsAbove = [&](const char* on, int force) {
      auto text = QByteArray(pressedBlock);
      text.replace(
          R"("motions": {"push": {"on": "tool", "along": "y", "course": {"press": "=-depth", "release": 0}}})",
          QString(R"("loads": {"f": {"on": "%1", "kind": "force", "along": "y", "course": %2}})").arg(on).arg(force).toUtf8());
      const auto path = folder_.filePath(QString("force %1 %2.anvil").arg(on).arg(force));
      write(path, text);
      if (!w_->openModel(path)) return -1;
      prepared();
      QTest::qWait(50);
      const auto image = view()->canvas()->grab().toImage();
      const QColor wanted = laneColor("loads");
      std::map<int, int> rows;  // pixels of the colour
      int x0 = -1;
      for (int x = 0; x < image.width(); ++x)  // of the first arrow only
        for (int y = 0; y < image.height(); ++y)
          if (image.pixelColor(x, y) == wanted && (x0 < 0 || x < x0 + 12)) x0 = x0 < 0 ? x : x0, ++rows[y];
      double sum = 0, n = 0;
      for (const auto& [y, count] : rows) sum += double(y) * count, n += count;
      return n > 0 ? int(sum / n < (rows.begin()->first + rows.rbegin()->first) / 2.) : -2;
    };
    for (const char* on : {"tool", "block.top"}) {
      QCOMPARE(headIsAbove(on, 100), 1);
      QCOMPARE(headIsAbove(on, -100), 0);
    }
  }

  void theTouchMapLightsBothFacesAndFadesTheRest() {
    openEighth();
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_T);
    QVERIFY(w_->shelf()->showsMap());
    auto* map = w_->shelf()->touchMap();
    QVERIFY(map);
    QTRY_VERIFY(map->isVisible() && map->height() > 40);
    QVERIFY(!card("contacts", "seat"));
    const auto before = view()->canvas()->grabFramebuffer();
    hover(map->cellOf("cube", "spare"));
    QVERIFY(map->toolTip().contains("side, foot"));
    QTest::qWait(50);
    QVERIFY(view()->canvas()->grabFramebuffer() != before);
    QVERIFY(!view()->isHidden(0) && !view()->isHidden(1));
    QVERIFY(view()->isHidden(2));  // faded while the pointer stands there
    QCOMPARE(view()->sight(2), Sight::shown);
    hover(map->cellOf("spare", "lid"));
    QVERIFY(map->toolTip().contains("not made to touch"));
    QVERIFY(!view()->isHidden(2));
    QEvent leave(QEvent::Leave);
    hover(map->cellOf("cube", "lid"));
    QVERIFY(view()->isHidden(1));
    QApplication::sendEvent(map, &leave);
    QVERIFY(!view()->isHidden(1));
  }

  void clicksOnTheTouchMapGoThroughThePairsContacts() {
    openEighth();
    w_->shelf()->showMap(true);
    auto* map = w_->shelf()->touchMap();
    QTRY_VERIFY(map->isVisible() && map->height() > 40);
    QStringList picked;
    connect(w_->shelf(), &Shelf::picked, this, [&](const QString& kind, const QString& name) { picked << kind + " " + name; });
    for (int k = 0; k < 3; ++k) QTest::mouseClick(map, Qt::LeftButton, {}, map->cellOf("cube", "spare").toPoint());
    QTest::mouseClick(map, Qt::LeftButton, {}, map->cellOf("lid", "lid").toPoint());
    QCOMPARE(picked, QStringList({"contacts side", "contacts foot", "contacts side", "parts lid"}));
    auto* button = w_->shelf()->findChild<QToolButton*>("contactMap");
    QTest::mouseClick(button, Qt::LeftButton);
    QVERIFY(!w_->shelf()->showsMap());
    QVERIFY(card("contacts", "seat"));
  }

  void allSectorsOfAWheelAreShown() {
    write(model(), QByteArray(R"({"space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
      "parts": {"wheel": {"material": "m", "mesh": {"count": [2, 2]}, "shape": {"rectangle": {"at": [10, 0], "size": [20, 6]}},
        "revolve": {"from": 20, "angle": 60, "count": 8}}},
      "contacts": {"round": {"between": ["wheel.front", "wheel.back"], "kind": "cyclic", "axis": "y"}},
      "steps": {"s": {}}, "supports": {"hub": {"on": "wheel.left", "fix": ["x", "y", "z"]}}})"));
    QVERIFY(w_->openModel(model()));
    prepared();
    QVERIFY(button("mirrored")->isVisible());
    QCOMPARE(button("mirrored")->text(), QString("All sectors"));
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_R);
    QVERIFY((drawnSize() - Eigen::Vector3d(60, 6, 60)).cwiseAbs().maxCoeff() < 0.1);  // 48 flat sides
    view()->setSection(true);
    QTest::mouseClick(view()->sectionBar()->findChild<QToolButton*>("section-y"), Qt::LeftButton);
    type(view()->sectionBar()->findChild<QLineEdit*>("section-place"), "3");
    const double whole =
        6 * 8 * 0.5 * std::sin(M_PI / 24) * (30 * 30 - 10 * 10);  // of the polygon of quadratic elements' corners
    const double seen = view()->scene().sectionArea();
    QVERIFY2(std::abs(seen / (M_PI * 800) - 1) < 0.01 && seen > 0.999 * whole, qPrintable(QString::number(seen)));
    type(view()->sectionBar()->findChild<QLineEdit*>("section-place"), "0");
    QTest::mouseClick(view()->sectionBar()->findChild<QToolButton*>("section-x"), Qt::LeftButton);
    type(view()->sectionBar()->findChild<QLineEdit*>("section-place"), "0");
    QVERIFY2(std::abs(view()->scene().sectionArea() / 240 - 1) < 0.02,  // two of 20 by 6, where no own sector lies
             qPrintable(QString::number(view()->scene().sectionArea())));
  }

  void aPlaneModelShowsItsToolsMirrored() {
    auto text = QByteArray(pressedBlock);
    text.replace(
        "\"base\": {\"on\": \"block.bottom\", \"fix\": [\"x\", \"y\"]}",
        "\"base\": {\"on\": \"block.bottom\", \"fix\": \"y\"}, \"middle\": {\"on\": \"block.left\", \"fix\": \"normal\"}");
    write(model(), text);
    QVERIFY(w_->openModel(model()));
    prepared();
    view()->setMirrored(true);
    QVERIFY((drawnSize().head<2>() - Eigen::Vector2d(20, 20.2)).norm() < 0.3);
  }
};

QObject* makeDisplayTest() { return new DisplayTest; }

}  // namespace anvil::app

#include "display_test.moc"
