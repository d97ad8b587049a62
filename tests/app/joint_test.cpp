// A bolted joint from an empty document to the bolt's force, by hand in the window: shapes, holes, a bolt fitted to them, what
// touches, supports, the run, Curves.
#include <QCheckBox>
#include <QMenu>

#include "core/model/bolts.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/results/store.hpp"
#include "fixture.hpp"

namespace anvil::app {

class JointTest : public QObject, WindowFixture {
  Q_OBJECT
  void addShape(const QString& part, const QString& at) {
    QTest::mouseClick(w_->shelf()->findChild<QToolButton*>("add-parts"), Qt::LeftButton);
    w_->select("parts", part);
    type(row<QLineEdit>("solid/1/box/at"), at);
    type(row<QLineEdit>("solid/1/box/size"), "30, 30, 8");
    for (auto* action : w_->desk()->findChild<QPushButton*>("addFeature")->menu()->actions())
      if (action->text() == "hole") action->trigger();
    prepared();
  }
  void pick(const QStringList& faces) { emit w_->view()->facesPicked(faces); }
  void add(const char* kind) { QTest::mouseClick(w_->shelf()->findChild<QToolButton*>(QString("add-") + kind), Qt::LeftButton); }
  void key(Qt::Key k, Qt::KeyboardModifiers with = {}) {
    w_->setFocus();
    QTest::keyClick(w_.get(), k, with);
  }

 private slots:
  void init() { open(); }
  void cleanup() { w_.reset(); }

  void aJointFromNothingToTheBoltsForce() {
    w_->document().openNew();
    prepared();
    w_->document().edit("in space", [](model::Document& d) {
      d.space = "solid";
      auto& elastic = d.materials("steel").elastic;
      elastic.E = 205000, elastic.nu = 0.3;
    });
    w_->select("model", {});
    takeChoice(row<QComboBox>("fineness"), "draft");
    addShape("part", "0, 0, 0");
    addShape("part 2", "0, 0, 8");
    QCOMPARE(document().fineness, std::string("draft"));

    pick({"part.hole.side"});  // one hole stands for both
    key(Qt::Key_B, Qt::ShiftModifier);
    QTRY_COMPARE(int(document().bolts.size()), 1);
    QVERIFY2(w_->noticeText().contains("through 2 holes"), qPrintable(w_->noticeText()));
    const auto& bolt = *document().parts.find("bolt")->solid.front().bolt;
    QCOMPARE(bolt.through.size(), size_t(2));  // it follows the holes
    prepared();
    const auto reach = [&](const char* face) {
      double low = 1e300, high = -1e300;
      const auto& mesh = w_->preparation().header().mesh;
      for (int n : mesh.nodesOf(mesh.face(face)->facets))
        low = std::min(low, mesh.x[size_t(n)].z()), high = std::max(high, mesh.x[size_t(n)].z());
      return std::pair(low, high);
    };
    QVERIFY(std::abs(reach("bolt.bolt.shank").second - reach("bolt.bolt.shank").first - 16) < 1e-6);
    QVERIFY(std::abs(reach("bolt.bolt.head seat").first - 16) < 1e-6);

    key(Qt::Key_K);
    QTRY_VERIFY(w_->touching() && w_->touching()->isVisible());
    QCOMPARE(int(w_->touching()->found().size()), 3);  // the seam and both seats; the shank has play
    QTest::mouseClick(w_->touching()->findChild<QPushButton*>("makeContacts"), Qt::LeftButton);
    QCOMPARE(int(document().contacts.size()), 3);
    undo();
    QCOMPARE(int(document().contacts.size()), 0);
    key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(int(document().contacts.size()), 3);

    pick({"part.box.left"});
    add("supports");
    w_->select("supports", "support");
    toggle("fix", {"x", "y", "z"});
    add("stabilisations");
    const int lane = [&] {
      const auto& lanes = w_->history()->lanes();
      for (int i = 0; i < int(lanes.size()); ++i)
        if (lanes[size_t(i)].kind == "bolts") return i;
      return -1;
    }();
    QVERIFY(lane >= 0);
    QVERIFY2(w_->history()->lanes()[size_t(lane)].cells[0].startsWith("tighten"),
             qPrintable(w_->history()->lanes()[size_t(lane)].cells[0]));
    w_->document().edit("a lower force",
                        [](model::Document& d) { d.bolts.front().second.force.stages.front().second.value = "9 kN"; });
    w_->document().save(folder_.filePath("joint.anvil"));
    prepared();
    for (const auto& f : w_->preparation().readiness().findings) QVERIFY2(!f.fault, f.what.c_str());
    clickRun();
    QTRY_VERIFY(w_->control().active());
    QTRY_VERIFY_WITH_TIMEOUT(!w_->control().active(), 240000);
    QTRY_VERIFY_WITH_TIMEOUT(w_->results().isOpen() && w_->results().last() >= 0, 10000);
    const results::Reader reader(folder_.filePath("joint.results.h5").toStdString());
    QVERIFY(std::abs(reader.history("bolts/bolt/force").back() - 9000) < 1e-3);
    QVERIFY(reader.history("bolts/bolt/shortening").back() > 0);
    double seam = 0;
    for (const auto& [name, c] : document().contacts)
      if (name == "part on part 2") seam = std::abs(reader.history("contacts/" + name + "/force z").back());
    QVERIFY2(std::abs(seam - 9000) < 9, qPrintable(QString::number(seam)));  // the viscous help has faded
    w_->showPage(2);
    QVERIFY(w_->curves()->isVisible());
  }

  void boltsAreFittedToHolesOnly() {
    w_->document().openNew();
    w_->document().edit("in space", [](model::Document& d) {
      d.space = "solid", d.materials("steel").elastic.E = 205000, d.materials("steel").elastic.nu = 0.3;
    });
    key(Qt::Key_B, Qt::ShiftModifier);
    QVERIFY(w_->noticeText().contains("Pick the inside of a hole"));
    addShape("part", "0, 0, 0");
    pick({"part.box.left"});
    key(Qt::Key_B, Qt::ShiftModifier);
    QTRY_VERIFY2(w_->noticeText().contains("no round hole"), qPrintable(w_->noticeText()));
    QVERIFY(document().bolts.empty());
  }
};

QObject* makeJointTest() { return new JointTest; }

}  // namespace anvil::app

#include "joint_test.moc"
