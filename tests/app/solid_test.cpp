// Solid models in the window: turning, picking, faces, contact status.
#include "fixture.hpp"

namespace anvil::app {

namespace {
const char* const ballOnBlock = R"({
  "anvil": 1, "title": "Ball on a block", "space": "solid",
  "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}, "plastic": {"yield": 260, "tangent": 2000}}},
  "parts": {
    "block": {"material": "steel", "element": "hex8", "shape": {"rectangle": {"at": [0, 0], "size": [8, 4]}}, "mesh": {
      "count": [4, 2]}, "extrude": {"depth": 8, "count": 4}},
    "ball": {"rigid": true, "shape": {"profile": {"start": [0, -10], "path": [{"arc": [8, -6], "center": [0, 0]}]}}, "revolve": {
      "angle": 360}, "place": {"shift": [4, 14.05, 4]}}
  },
  "contacts": {"press": {"between": ["block.top", "ball"], "friction": 0.1}},
  "steps": {"press": {"increments": {"first": 0.25, "largest": 0.5}}},
  "supports": {"base": {"on": "block.bottom", "fix": ["x", "y", "z"]}},
  "motions": {"push": {"on": "ball", "along": "y", "course": -0.3}}
})";
}

class SolidTest : public QObject, WindowFixture {
  Q_OBJECT
  void look(Qt::Key key) {
    w_->setFocus();
    QTest::keyClick(w_.get(), key);
    w_->view()->fit();
  }

 private slots:
  void init() {
    open();
    const auto path = folder_.filePath("ball.anvil");
    write(path, ballOnBlock);
    QFile::remove(folder_.filePath("ball.results.h5"));
    QVERIFY(w_->openModel(path));
    prepared();
  }
  void cleanup() { w_.reset(); }

  void stressAtThinElementsIsMarked() {
    const auto path = folder_.filePath("kite.anvil");
    QFile::remove(folder_.filePath("kite.results.h5"));
    write(path, R"({"anvil": 1, "space": "solid", "materials": {"m": {"elastic": {"E": 1000, "nu": 0.3}}},
      "parts": {"p": {"material": "m", "element": "hex8", "mesh": {"count": [3, 3]}, "extrude": {"depth": 4, "count": 2},
        "shape": {"profile": {"start": [0, 0], "path": [{"line": [10, 0], "name": "a"}, {"line": [10, 10], "name": "b"},
          {"line": [4.8, 5.2], "name": "c"}, {"line": [0, 0], "name": "d"}], "sides": [["a"], ["b"], ["c"], ["d"]]}}}},
      "steps": {"pull": {"increments": {"first": 1, "largest": 1}}},
      "supports": {"foot": {"on": "p.front", "fix": ["x", "y", "z"]}},
      "motions": {"pull": {"on": "p.back", "along": "z", "course": 0.1}}})");
    QVERIFY(w_->openModel(path));
    prepared();
    runToEnd();
    w_->results().setField("displacement x");
    QTRY_COMPARE(w_->results().moment().field, QString("displacement x"));
    QVERIFY(!w_->results().rough());
    w_->results().setField("von Mises stress");
    QTRY_COMPARE(w_->results().moment().field, QString("von Mises stress"));
    const auto* rough = w_->results().rough();
    QVERIFY(rough);
    const auto& mesh = w_->results().header().mesh;
    for (size_t n = 0; n < mesh.x.size(); ++n) {
      if ((mesh.x[n].head<2>() - Eigen::Vector2d(4.8, 5.2)).norm() < 1e-9) QVERIFY((*rough)[n]);
      if ((mesh.x[n].head<2>() - Eigen::Vector2d(10, 0)).norm() < 1e-9) QVERIFY(!(*rough)[n]);
    }
    // triangles are painted on the near end; from the side without thin elements there is none
    look(Qt::Key_Z);
    w_->view()->grab();
    QVERIFY(w_->view()->showsThinElements());
    w_->view()->setSight(0, Sight::hidden);
    w_->view()->grab();
    QVERIFY(!w_->view()->showsThinElements());
  }

  void facesArePickedWhereTheyAreSeen() {
    auto* canvas = w_->view()->canvas();
    QVERIFY(!canvas->plane());
    QStringList picked;
    connect(w_->view(), &ModelView::facesPicked, this, [&](const QStringList& f) { picked = f; });
    w_->view()->setSight(1, Sight::hidden);
    const auto at = [&](Qt::Key key, const Eigen::Vector3d& x) {
      look(key);
      QTest::mouseClick(canvas, Qt::LeftButton, {}, canvas->toScreen(x).toPoint());
      return picked;
    };
    QCOMPARE(at(Qt::Key_Z, {4, 2, 8}), QStringList("block.back"));
    QCOMPARE(at(Qt::Key_X, {0, 2, 4}), QStringList("block.left"));
    QCOMPARE(at(Qt::Key_C, {4, 4, 4}), QStringList("block.top"));
    QCOMPARE(at(Qt::Key_C, {8, 2, 4}), QStringList("block.right"));
  }

  void draggingTurnsTheViewAndTheRightButtonMovesIt() {
    auto* canvas = w_->view()->canvas();
    const auto before = canvas->viewer();
    const QPoint middle(canvas->width() / 2, canvas->height() / 2);
    QTest::mousePress(canvas, Qt::LeftButton, {}, middle);
    QMouseEvent move(QEvent::MouseMove, QPointF(middle + QPoint(60, 20)), canvas->mapToGlobal(QPointF(middle + QPoint(60, 20))),
                     Qt::NoButton, Qt::LeftButton, {});
    QApplication::sendEvent(canvas, &move);
    QTest::mouseRelease(canvas, Qt::LeftButton, {}, middle + QPoint(60, 20));
    QVERIFY((canvas->viewer() - before).norm() > 0.1);
  }

  void aRunIsShownWithStressPinsAndContactStatus() {
    runToEnd();
    QCOMPARE(int(w_->control().state()), int(RunControl::State::finished));
    w_->results().setField("displacement y");
    QTRY_VERIFY(w_->results().low() < -0.15);  // fields are read beside the window
    look(Qt::Key_C);
    w_->view()->setSight(1, Sight::hidden);
    auto* canvas = w_->view()->canvas();
    // the node under the ball is nearest to the viewer there
    const auto& mesh = w_->results().header().mesh;
    int under = -1;
    for (size_t i = 0; i < mesh.x.size(); ++i)
      if ((mesh.x[i] - Eigen::Vector3d(4, 4, 4)).norm() < 1e-9) under = int(i);
    const auto u = w_->results().moment().displacement;
    const auto at = canvas->toScreen(mesh.x[size_t(under)] +
                                     Eigen::Vector3d(u[3 * size_t(under)], u[3 * size_t(under) + 1], u[3 * size_t(under) + 2]));
    QCOMPARE(w_->view()->nodeAt(at), under);
    QTest::mouseClick(canvas, Qt::LeftButton, {}, at.toPoint());
    QCOMPARE(int(w_->view()->pins().size()), 1);
    QTest::qWait(60);
    const auto plain = canvas->grabFramebuffer();
    w_->select("contacts", "press");
    QTest::qWait(60);
    const auto marked = canvas->grabFramebuffer();
    QVERIFY(marked != plain);
    int status = 0;
    for (int y = 0; y < marked.height(); y += 2)
      for (int x = 0; x < marked.width(); x += 2) {
        const QColor c = marked.pixelColor(x, y);
        for (int s : {1, 2})
          status += std::abs(c.red() - contactColor(s).red()) + std::abs(c.green() - contactColor(s).green()) +
                        std::abs(c.blue() - contactColor(s).blue()) <
                    12;
      }
    QVERIFY2(status > 50, qPrintable(QString::number(status)));
  }

  void theEndsOfTheLegendLeadToWhereTheyAre() {
    runToEnd();
    w_->results().setField("displacement y");
    QTRY_VERIFY(w_->results().low() < -0.15);
    look(Qt::Key_Y);  // from below: the deepest place is on the far side
    auto* canvas = w_->view()->canvas();
    const auto nodeOf = [&](bool greatest) {
      const auto& values = w_->results().values();
      const auto it = greatest ? std::max_element(values.begin(), values.end()) : std::min_element(values.begin(), values.end());
      return int(it - values.begin());
    };
    QVERIFY2(w_->view()->isBehind(nodeOf(false)), "the tag there says so");
    const auto placeOf = [&](bool greatest) {
      const auto n = size_t(nodeOf(greatest));
      const auto& u = w_->results().moment().displacement;
      return Eigen::Vector3d(w_->results().header().mesh.x[n] + Eigen::Vector3d(u[3 * n], u[3 * n + 1], u[3 * n + 2]));
    };
    const QPoint middle((canvas->width() - 170) / 2, canvas->height() / 2);
    const double before = canvas->pixelLength();
    QTest::mouseClick(canvas, Qt::LeftButton, {}, QPoint(canvas->width() - 50, 34 + std::max(120, canvas->height() - 110)));
    QVERIFY2(canvas->viewer().y() > 0.3, "seen from its outside");
    QVERIFY(!w_->view()->isBehind(nodeOf(false)));
    QVERIFY((canvas->toScreen(placeOf(false)) - middle).manhattanLength() < 3);
    QVERIFY(canvas->pixelLength() < 0.6 * before);
    QVERIFY(w_->view()->pins().empty());  // looking is not pinning
    QTest::mouseClick(canvas, Qt::LeftButton, {}, QPoint(canvas->width() - 50, 34));
    QVERIFY((canvas->toScreen(placeOf(true)) - middle).manhattanLength() < 3);
    look(Qt::Key_Y);
    QTest::keyClick(w_.get(), Qt::Key_L, Qt::ShiftModifier);
    QVERIFY((canvas->toScreen(placeOf(false)) - middle).manhattanLength() < 3);
  }

  void formsOfferTheSolidRecipes() {
    w_->select("parts", "block");
    QVERIFY(row<QLineEdit>("extrude/depth"));
    type(row<QLineEdit>("extrude/depth"), "10");
    prepared();
    double deepest = 0;
    for (const auto& x : w_->preparation().header().mesh.x) deepest = std::max(deepest, x.z());
    QCOMPARE(deepest, 10.);
  }

  void aPlaneModelAfterASolidOneLiesFlatAgain() {
    QVERIFY(w_->openModel(model()));
    prepared();
    QVERIFY(w_->view()->canvas()->plane());
    QTest::keyClick(w_.get(), Qt::Key_X);
    QVERIFY(w_->noticeText().contains("plane model"));
  }
};

QObject* makeSolidTest() { return new SolidTest; }

}  // namespace anvil::app

#include "solid_test.moc"
