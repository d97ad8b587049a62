// Thin parts in the real window: made of picked faces, offered for a solid that is one wall, looked at in the middle and on a
// side.
#include "app/view/vtk_canvas.hpp"
#include "core/model/actions.hpp"
#include "core/model/document.hpp"
#include "core/model/part.hpp"
#include "fixture.hpp"

namespace anvil::app {

static const char* const shelfPlate = R"({
  "anvil": 1, "title": "plate", "space": "solid",
  "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}},
  "parts": {"p": {"material": "steel", "mesh": {"size": 5}, "solid": [{"name": "plate", "box": {"size": [60, 40, 2]}}]}},
  "steps": {"press": {"increments": {"first": 1}}},
  "supports": {"wall": {"on": "p.plate.left", "fix": ["x", "y", "z"]}},
  "loads": {"weight": {"on": "p.plate.right", "kind": "force", "along": "z", "course": -1}}
})";

class SheetTest : public QObject, WindowFixture {
  Q_OBJECT
  void openPlate() {
    openFresh("plate", shelfPlate);
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_C);
    QTest::keyClick(w_.get(), Qt::Key_F);
  }
  QStringList click(double x, double y, double z) {
    QTest::mouseClick(w_->view()->canvas(), Qt::LeftButton, {},
                      w_->view()->canvas()->toScreen(Eigen::Vector3d(x, y, z)).toPoint());
    return w_->view()->pickedFaces();
  }
  void makeThin() {
    QCOMPARE(click(30, 20, 2), QStringList{"p.plate.back"});
    command("Make a thin part of the picked faces");
    auto* thickness = row<QLineEdit>("thin/thickness");
    QVERIFY(thickness);
    type(thickness, "1.5");
    QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current(), 60000);
  }

 private slots:
  void cleanup() { w_.reset(); }

  void pickedFacesBecomeASheet() {
    openPlate();
    command("Make a thin part of the picked faces");  // nothing is picked
    QVERIFY(!document().parts.front().second.thin);
    makeThin();
    const auto& thin = document().parts.front().second.thin;
    QVERIFY(thin && thin->faces == std::vector<std::string>{"plate.back"});
    const auto& mesh = w_->preparation().header().mesh;
    QVERIFY2(mesh.blocks.size() == 1 && mesh.blocks.front().thin(), qPrintable(w_->view()->trouble()));
    QCOMPARE(mesh.blocks.front().thickness, 1.5);
    QVERIFY(mesh.face("p.plate.left") && mesh.face("p.upper"));  // what held and loaded it goes on doing so
    QCOMPARE(click(30, 20, 2.75), QStringList{"p.plate.back upper"});
    undo(), undo();
    QVERIFY(!document().parts.front().second.thin);
  }

  void aWallIsOfferedAsAThinPart() {
    openPlate();
    command("Readiness");
    QPushButton* mend = nullptr;
    QTRY_VERIFY_WITH_TIMEOUT((mend = w_->desk()->findChild<QPushButton*>("mend")), 20000);
    QCOMPARE(mend->text(), QString("Make it a thin part"));
    reach(mend);
    QTest::mouseClick(mend, Qt::LeftButton);
    const auto& thin = document().parts.front().second.thin;
    QVERIFY(thin);
    QCOMPARE(*thin->thickness.number, 2.);
    QCOMPARE(int(thin->faces.size()), 1);
    QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current(), 60000);
    QVERIFY(w_->preparation().header().mesh.blocks.front().thin());
  }

  void stressIsLookedAtOnEitherSideOrInTheMiddle() {
    openPlate();
    makeThin();
    auto* place = w_->view()->findChild<QComboBox*>("sheetPlace");
    QVERIFY(place && place->isHidden());
    runToEnd();
    QTRY_VERIFY_WITH_TIMEOUT(w_->results().has(), 20000);
    w_->setFocus();
    QTest::keyClick(w_.get(), Qt::Key_End);
    takeChoice(w_->view()->fieldBox(), "stress x");
    QTRY_COMPARE(w_->results().moment().field, QString("stress x"));
    QVERIFY(!place->isHidden());
    const auto extent = [&] { return std::pair(w_->results().moment().least, w_->results().moment().greatest); };
    const auto [low, high] = extent();  // bending: pulled on the upper side, pressed on the lower one
    QVERIFY(high > 1 && low < -0.9 * high);
    const auto look = [&](const QString& words, const QString& field) {
      takeChoice(place, words);
      QTRY_COMPARE(w_->results().moment().field, field);
      QCOMPARE(w_->view()->fieldBox()->currentText(), QString("stress x"));
    };
    look("middle", "stress x in the middle");
    const auto middle = extent();
    QVERIFY(middle.second < 0.05 * high && middle.first > -0.05 * high);
    look("upper side", "stress x on the upper side");
    const auto upper = extent();
    QVERIFY(upper.second > 0.95 * high && upper.first > -0.2 * high);
    look("lower side", "stress x on the lower side");
    const auto lower = extent();
    QVERIFY(lower.first < 0.95 * low && lower.second < 0.2 * high);
    takeChoice(w_->view()->fieldBox(), "von Mises stress");  // the side stays
    QTRY_COMPARE(w_->results().moment().field, QString("von Mises stress on the lower side"));
    takeChoice(w_->view()->fieldBox(), "displacement");
    QTRY_COMPARE(w_->results().moment().field, QString("displacement"));
    QVERIFY(place->isHidden());
  }
};

QObject* makeSheetTest() { return new SheetTest; }

}  // namespace anvil::app

#include "sheet_window_test.moc"
