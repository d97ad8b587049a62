// Slender parts in the real window: seen, picked, changed at the desk, run, shown with their diagram.
#include "app/view/line_tool.hpp"
#include "app/view/vtk_canvas.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "fixture.hpp"

namespace anvil::app {

static const char* const crane = R"({
  "anvil": 1, "title": "crane",
  "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
  "parts": {"arm": {"material": "steel", "slender": {
    "points": {"wall": [0, 0], "middle": [500, 0], "tip": [1000, 0]},
    "lines": {"inner": {"from": "wall", "to": "middle", "count": 8}, "outer": {"from": "middle", "to": "tip", "count": 8}},
    "sections": {"bar": {"width": 20, "height": 40}}}}},
  "steps": {"lift": {}},
  "supports": {"wall": {"on": "arm.wall", "fix": ["all"]}},
  "loads": {"weight": {"on": "arm.tip", "kind": "force", "along": "y", "course": -100}}
})";

class SlenderTest : public QObject, WindowFixture {
  Q_OBJECT
  void openCrane() { openFresh("crane", crane); }
  QPointF at(double x, double y) { return w_->view()->canvas()->toScreen(x, y, 0); }
  QStringList click(double x, double y) {
    QTest::mouseClick(w_->view()->canvas(), Qt::LeftButton, {}, at(x, y).toPoint());
    return w_->view()->pickedFaces();
  }
  /// Pixels of a colour near a place of the picture.
  int pixels(const QPointF& place, int reach, const std::function<bool(QRgb)>& is) {
    const auto picture = w_->view()->canvas()->grabFramebuffer();
    int count = 0;
    for (int y = -reach; y <= reach; ++y)
      for (int x = -reach; x <= reach; ++x) {
        const QPoint p = place.toPoint() + QPoint(x, y);
        if (picture.rect().contains(p)) count += is(picture.pixel(p));
      }
    return count;
  }

 private slots:
  void cleanup() { w_.reset(); }

  void linesAndPointsArePicked() {
    openCrane();
    w_->view()->setPicking(Picking::edges);
    QCOMPARE(click(250, 0), QStringList{"arm.inner"});
    QCOMPARE(click(750, 0), QStringList{"arm.outer"});
    w_->view()->setPicking(Picking::corners);
    QCOMPARE(click(1000, 0), QStringList{"arm.tip"});
    QCOMPARE(click(500, 0), QStringList{"arm.middle"});
    QVERIFY(pixels(at(250, 0), 4, [](QRgb c) { return c != theme().paper.rgb(); }) > 5);  // it is seen
  }

  void pointsAndLinesChangeAtTheDesk() {
    openCrane();
    QTest::mouseClick(card("parts", "arm"), Qt::LeftButton);
    auto* points = row<QPlainTextEdit>("slender/points");
    QVERIFY(points);
    QCOMPARE(points->toPlainText(), QString("wall\t0\t0\nmiddle\t500\t0\ntip\t1000\t0"));
    reach(points);
    QTest::mouseClick(points->viewport(), Qt::LeftButton);
    QTest::keyClick(points, Qt::Key_End, Qt::ControlModifier);
    QTest::keyClick(points, Qt::Key_Backspace);
    QTest::keyClicks(points, "50");  // tip 1000, 50
    QCOMPARE(*document().parts.front().second.slender->points.find("tip")->back().number, 50.);
    prepared();
    QVERIFY(
        (w_->view()->scene().place(w_->preparation().header().mesh.spot("arm.tip")->node) - Eigen::Vector3d(1000, 50, 0)).norm() <
        1e-9);
    // a line that is renamed letter by letter keeps what it is
    auto* lines = row<QPlainTextEdit>("slender/lines");
    QVERIFY(lines);
    reach(lines);
    QTest::mouseClick(lines->viewport(), Qt::LeftButton);
    QTest::keyClick(lines, Qt::Key_Home, Qt::ControlModifier);
    QTest::keyClicks(lines, "the ");
    const auto& slender = *document().parts.front().second.slender;
    QVERIFY(slender.lines.find("the inner") && slender.lines.find("outer") && slender.lines.size() == 2);
    QCOMPARE(*slender.lines.find("the inner")->count.number, 8.);
    auto* hinge = row<QComboBox>("slender/lines/outer/hinged");
    QVERIFY(hinge);
    takeChoice(hinge, "to");
    QCOMPARE(document().parts.front().second.slender->lines.find("outer")->hinged, std::string("to"));
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(document().parts.front().second.slender->lines.find("outer")->hinged, std::string("none"));
  }

  void linesAreDrawnByClicks() {
    openFresh("fresh", R"({"anvil": 1, "title": "fresh", "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}}})");
    QTest::keyClick(w_.get(), Qt::Key_D);
    auto* tool = w_->view()->lineTool();
    QTRY_VERIFY(tool->active());
    QVERIFY(w_->view()->findChild<QLabel*>("line-words")->isVisible());
    click(0, 0);
    QCOMPARE(document().parts.size(), size_t(0));  // a point is no line yet
    click(100, 0);
    QCOMPARE(document().parts.size(), size_t(1));
    QCOMPARE(document().parts.front().second.material, std::string("steel"));
    prepared();
    const auto& mesh = w_->preparation().header().mesh;
    QCOMPARE(mesh.lines.size(), size_t(1));
    QVERIFY((mesh.x[size_t(mesh.spot("beam.p2")->node)] - Eigen::Vector3d(100, 0, 0)).norm() < 1e-9);  // kept to the grid
    click(100, 60);
    prepared();
    const auto beam = [&] { return *document().parts.find("beam")->slender; };
    QCOMPARE(beam().lines.size(), size_t(2));
    QCOMPARE(beam().lines[1].second.from, std::string("p2"));
    // what is under the pointer is the point that is there
    QCOMPARE(tool->under(at(1, 1)).point, std::string("beam.p1"));
    click(1, 1);
    prepared();
    QCOMPARE(beam().points.size(), size_t(3));
    QCOMPARE(beam().lines[2].second.to, std::string("p1"));
    // typed, with a unit
    auto* place = w_->view()->findChild<QLineEdit*>("line-place");
    QTest::mouseClick(place, Qt::LeftButton);
    QTest::keyClicks(place, "-2 cm, 10");
    QTest::keyClick(place, Qt::Key_Return);
    prepared();
    QCOMPARE(*beam().points.find("p4")->front().number, -20.);
    QTest::keyClicks(place, "5");
    QTest::keyClick(place, Qt::Key_Return);
    QVERIFY(w_->view()->findChild<QLabel*>("line-words")->text().contains("Two coordinates"));
    place->clear();
    w_->view()->canvas()->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(beam().lines.size(), size_t(3));
    QTest::keyClick(w_.get(), Qt::Key_Escape);
    QVERIFY(tool->active());
    QTest::keyClick(w_.get(), Qt::Key_Escape);
    QVERIFY(!tool->active() && tool->isHidden());
    click(100, 60);  // picks again
    QCOMPARE(beam().lines.size(), size_t(3));
  }

  void aDrawnLineIsJoinedToAnotherPart() {
    openCrane();
    auto* button = w_->shelf()->findChild<QToolButton*>("drawLines");
    QVERIFY(button);
    w_->select("model", {});
    takeFromMenu(button, "Beams and stays  (D)");
    QTRY_VERIFY(w_->view()->lineTool()->active());
    click(1000, 0), click(1000, 300);
    const auto* part = document().parts.find("beam");
    QVERIFY(part);
    QCOMPARE(part->slender->points.front().second.front().text, std::string("arm.tip"));
    prepared();
    QVERIFY(w_->preparation().trouble().isEmpty());
  }

  void pickedEdgesBecomeLines() {
    openFresh("post",
              R"({"anvil": 1, "title": "post", "space": "solid", "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
      "parts": {"post": {"material": "steel", "solid": [{"name": "b", "box": {"at": [0, 0, 0], "size": [20, 60, 20]}}],
      "mesh": {"size": 10}}}})");
    w_->view()->canvas()->lookFrom(Eigen::Vector3d(0.7, 0.45, 0.8), Eigen::Vector3d::UnitY());
    QCoreApplication::processEvents();
    w_->view()->setPicking(Picking::edges);
    const auto place = w_->view()->canvas()->toScreen(20, 33, 20);
    QTest::mouseClick(w_->view()->canvas(), Qt::LeftButton, {}, place.toPoint());
    QCOMPARE(w_->view()->pickedFaces().size(), qsizetype(1));
    const auto edge = w_->view()->pickedFaces().front();
    QVERIFY(edge.contains("post.b.right") && edge.contains("post.b.back"));
    QTest::keyClick(w_.get(), Qt::Key_E, Qt::ShiftModifier);
    const auto* beam = document().parts.find("beam");
    QVERIFY(beam);
    QCOMPARE(QString::fromStdString(beam->slender->lines.front().second.edge), edge);
    prepared();
    const auto& mesh = w_->preparation().header().mesh;
    QCOMPARE(mesh.lines.size(), size_t(1));
    for (int n : mesh.lines.front().nodes) QVERIFY(std::hypot(mesh.x[size_t(n)].x() - 20, mesh.x[size_t(n)].z() - 20) < 1e-9);
  }

  void whatRefersToAPointFollowsWhenItIsRenamed() {
    openCrane();
    QTest::mouseClick(card("parts", "arm"), Qt::LeftButton);
    auto* points = row<QPlainTextEdit>("slender/points");
    reach(points);
    QTest::mouseClick(points->viewport(), Qt::LeftButton);
    QTest::keyClick(points, Qt::Key_End, Qt::ControlModifier);
    QTest::keyClick(points, Qt::Key_Home);
    QTest::keyClicks(points, "far ");
    QCOMPARE(document().parts.front().second.slender->lines.find("outer")->to, std::string("far tip"));
    QCOMPARE(document().loads.find("weight")->on.front(), std::string("arm.far tip"));
    prepared();
    QVERIFY(w_->preparation().trouble().isEmpty());
  }

  void momentsAreDrawnAlongTheLines() {
    openCrane();
    QTest::keyClick(w_.get(), Qt::Key_D);
    QTRY_VERIFY(w_->view()->lineTool()->active());
    clickRun();
    QTRY_VERIFY(w_->control().active());
    QTRY_VERIFY_WITH_TIMEOUT(!w_->control().active(), 60000);
    QTRY_VERIFY_WITH_TIMEOUT(w_->results().has(), 20000);
    QTRY_VERIFY(!w_->view()->lineTool()->active());  // lines are drawn on the model as built
    w_->results().setField("bending moment");
    QTRY_COMPARE(w_->results().moment().field, QString("bending moment"));
    QTRY_VERIFY(!w_->results().moment().ends.empty());
    QVERIFY(std::abs(w_->results().moment().ends.front() + 100 * 1000) < 200);  // hangs down: it bends away from up
    QVERIFY(std::abs(w_->results().moment().ends.back()) < 1e-3);
    w_->view()->fit();
    QCoreApplication::processEvents();
    // the diagram stands on the stretched side, above the arm, and falls to nothing at the tip
    const auto isInk = [](QRgb c) { return c == theme().ink.rgb(); };
    const QPointF root = at(60, 0), tip = at(980, 0);
    const int up = 12;  // pixels off the line
    QVERIFY(pixels(root - QPointF(0, up + 10), 10, isInk) > 3);
    QCOMPARE(pixels(root + QPointF(0, up + 10), 10, isInk), 0);
    QCOMPARE(pixels(tip - QPointF(0, up + 10), 10, isInk), 0);
    w_->results().setField("displacement");
    QTRY_COMPARE(w_->results().moment().field, QString("displacement"));
    QCoreApplication::processEvents();
    QTRY_COMPARE(pixels(root - QPointF(0, up + 10), 10, isInk), 0);
  }
};

QObject* makeSlenderTest() { return new SlenderTest; }

}  // namespace anvil::app

#include "slender_window_test.moc"
