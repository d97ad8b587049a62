// From "New model" to an answer, by clicks, numbers and names alone: a bracket drawn by mouse, a press fit, a hatch lid. The
// answers are those of textbooks.
#include <cmath>
#include <numbers>

#include "app/command_box.hpp"
#include "app/new_page.hpp"
#include "app/view/outline_tool.hpp"
#include "core/model/actions.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/results/fields.hpp"
#include "fixture.hpp"

namespace anvil::app {

class FromNewTest : public QObject, WindowFixture {
  Q_OBJECT
  void begin(const QString& kind, const QString& part) {
    QDir(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/autosave").removeRecursively();
    w_ = std::make_unique<MainWindow>();
    w_->resize(1280, 800);
    w_->show();
    QVERIFY(QTest::qWaitForWindowExposed(w_.get()));
    backToWindow();
    command("New model");
    QCOMPARE(w_->page(), 3);
    auto* first = w_->findChild<QWidget*>("kind-" + kind);
    QVERIFY2(first, qPrintable(kind));
    QTest::mouseClick(first, Qt::LeftButton);
    auto* second = w_->findChild<QWidget*>("begin-" + part);
    QVERIFY2(second, qPrintable(part));
    QTest::mouseClick(second, Qt::LeftButton);
    QTRY_COMPARE(w_->page(), 1);
    ready();
  }
  void ready() { QTRY_VERIFY_WITH_TIMEOUT(w_->preparation().current(), 120000); }
  VtkCanvas* canvas() { return w_->view()->canvas(); }
  void clickAt(double x, double y, double z = 0, Qt::KeyboardModifiers keys = {}) {
    const auto p = canvas()->toScreen(x, y, z).toPoint();
    QTest::mouseMove(canvas(), p);
    QTest::mouseClick(canvas(), Qt::LeftButton, keys, p);
  }
  void add(const QString& kind) {
    settle();  // the shelf is built anew with each change
    auto* plus = w_->shelf()->findChild<QToolButton*>("add-" + kind);
    QVERIFY(plus);
    reach(plus);
    QTest::mouseClick(plus, Qt::LeftButton);
    settle();
  }
  /// The cell of a lane is given a value.
  void cell(const QString& kind, int step, const QString& value) {
    auto* history = w_->history();
    int lane = -1;
    for (size_t i = 0; i < history->lanes().size(); ++i)
      if (history->lanes()[i].kind == kind && lane < 0) lane = int(i);
    QVERIFY(lane >= 0);
    QTest::mouseDClick(history, Qt::LeftButton, {}, history->cellCenter(lane, step));
    auto* editor = history->findChild<QLineEdit*>("cellEditor");
    QVERIFY(editor && editor->isVisible());
    QTest::keyClick(editor, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(editor, value);
    QTest::keyClick(editor, Qt::Key_Return);
  }
  void material(const QString& young, const QString& poisson) {
    w_->select("materials", QString::fromStdString(document().materials.front().first));
    type(row<QLineEdit>("elastic/E"), young), type(row<QLineEdit>("elastic/nu"), poisson);
    if (auto* out = w_->desk()->findChild<QToolButton*>("without-plastic")) {
      reach(out);
      QTest::mouseClick(out, Qt::LeftButton);
    }
  }
  void run() {
    ready();
    for (const auto& f : w_->preparation().readiness().findings) QVERIFY2(!f.fault, f.what.c_str());
    QTest::mouseClick(w_->findChild<QPushButton*>("run"), Qt::LeftButton);
    QTRY_VERIFY_WITH_TIMEOUT(w_->control().state() == RunControl::State::finished, 300000);
    QTRY_VERIFY(w_->results().has());
    w_->results().setRow(w_->results().last());
    QTRY_COMPARE(w_->results().moment().row, w_->results().last());
  }
  void chooseField(const QString& name) {
    takeChoice(w_->view()->fieldBox(), name);
    QTRY_COMPARE(w_->results().moment().field, name);
  }
  double valueAt(double x, double y, double z = 0) {
    const auto& nodes = w_->results().header().mesh.x;
    size_t best = 0;
    for (size_t i = 0; i < nodes.size(); ++i)
      if ((nodes[i] - Eigen::Vector3d(x, y, z)).norm() < (nodes[best] - Eigen::Vector3d(x, y, z)).norm()) best = i;
    return w_->results().values()[best];
  }

 private slots:
  /// A cantilever's tip under a force, drawn point by point: F L³/3EI with shear.
  void aBracketDrawnByMouse() {
    begin("plane stress", "draw it");
    auto* tool = w_->view()->outlineTool();
    QTRY_VERIFY(tool->drawing());
    canvas()->goTo({40, 10, 0}, 40, 0);
    clickAt(0, 0), clickAt(80, 0), clickAt(80, 10), clickAt(0, 10), clickAt(0, 0);
    ready();
    // its sizes are typed where they stand
    const auto size = [&](size_t which, const QString& text) {
      QTest::mouseClick(canvas(), Qt::LeftButton, {},
                        tool->sizePlace(geometry::SizeMark::What::length, which).center().toPoint());
      auto* entry = canvas()->findChild<QLineEdit*>("size-entry");
      QVERIFY(entry->isVisible());
      QTest::keyClick(entry, Qt::Key_A, Qt::ControlModifier);
      QTest::keyClicks(entry, text);
      QTest::keyClick(entry, Qt::Key_Return);
      ready();
    };
    size(0, "100"), size(1, "8");
    w_->view()->fit();
    material("200000", "0.3");
    clickAt(0, 4);
    add("supports");
    toggle("fix", {"x", "y"});
    clickAt(100, 4);
    add("loads");
    takeChoice(row<QComboBox>("kind"), "force");
    settle();
    takeChoice(row<QComboBox>("along"), "-y");
    cell("loads", 0, "20");
    QTRY_VERIFY(w_->preparation().current());
    run();
    chooseField("displacement y");
    const double E = 200000, I = 8. * 8 * 8 / 12, bent = 20 * 1e6 / (3 * E * I), sheared = 1.2 * 20 * 100 / (E / 2.6 * 8);
    QVERIFY2(std::abs(valueAt(100, 4) / -(bent + sheared) - 1) < 0.01, qPrintable(QString::number(valueAt(100, 4))));
    w_.reset();
  }

  /// Two rings with an overlap of 0.02 on the radius: Lamé's pressure.
  void aPressFit() {
    begin("axisymmetric", "draw it");
    canvas()->goTo({25, 5, 0}, 30, 0);
    const auto draw = [&](double inner, double outer) {
      if (!w_->view()->outlineTool()->drawing()) QTest::keyClick(w_.get(), Qt::Key_O);
      QTRY_VERIFY(w_->view()->outlineTool()->drawing());
      auto* place = w_->view()->findChild<QLineEdit*>("outline-place");
      for (const auto& [r, z] : {std::pair{inner, 0.}, {outer, 0.}, {outer, 10.}, {inner, 10.}})
        type(place, QString("%1, %2").arg(r).arg(z));
      QTest::keyClick(place, Qt::Key_Return);  // nothing more: it is closed
      ready();
    };
    draw(10, 20), draw(20, 40);
    QCOMPARE(int(document().parts.size()), 2);
    w_->view()->fit();
    material("200000", "0.3");
    for (const auto& name : document().parts.names()) {
      w_->select("parts", QString::fromStdString(name));
      takeChoice(row<QComboBox>("material"), QString::fromStdString(document().materials.front().first));
    }
    ready();
    QTest::keyClick(w_.get(), Qt::Key_K);
    QTRY_VERIFY(w_->touching() && w_->touching()->isVisible());
    QCOMPARE(int(w_->touching()->found().size()), 1);
    takeChoice(w_->touching()->findChild<QComboBox*>("touchKind"), "touching");
    QTest::mouseClick(w_->touching()->findChild<QPushButton*>("makeContacts"), Qt::LeftButton);
    QCOMPARE(int(document().contacts.size()), 1);
    w_->select("contacts", QString::fromStdString(document().contacts.front().first));
    type(row<QLineEdit>("interference"), "0.02");
    for (const double r : {15., 30.}) {
      clickAt(r, 0);
      add("supports");
      toggle("fix", {"z"});
    }
    run();
    chooseField("contact pressure");
    // p = δ E / (b [(b²+a²)/(b²-a²) + (c²+b²)/(c²-b²)])
    const double a = 10, b = 20, c = 40,
                 p = 0.02 * 200000 / (b * ((b * b + a * a) / (b * b - a * a) + (c * c + b * b) / (c * c - b * b)));
    QVERIFY2(std::abs(valueAt(20, 5) / p - 1) < 0.02, qPrintable(QString("%1 of %2").arg(valueAt(20, 5)).arg(p)));
    w_.reset();
  }

  /// A square lid held all round under pressure: α p a⁴/D with α = 0.00126 (Timoshenko).
  void aHatchLid() {
    begin("thin", "plate");
    const auto name = QString::fromStdString(document().parts.front().first);
    w_->select("parts", name);
    type(row<QLineEdit>("shape/1/rectangle/at"), "0, 0");
    type(row<QLineEdit>("shape/1/rectangle/size"), "400, 400");
    type(row<QLineEdit>("thin/thickness"), "4");
    type(row<QLineEdit>("mesh/size"), "20");
    material("200000", "0.3");
    ready();
    w_->view()->fit();
    w_->view()->setPicking(Picking::faces);
    add("supports");
    settle();
    for (const auto& edge : {"bottom", "right", "top", "left"}) type(row<QLineEdit>("on"), name + "." + edge);
    for (auto* chip : w_->desk()->findChildren<QToolButton*>())
      if (chip->objectName().startsWith("chip-") && chip->property("chip").toBool() &&
          !QStringList({"chip-" + name + ".bottom", "chip-" + name + ".right", "chip-" + name + ".top", "chip-" + name + ".left"})
               .contains(chip->objectName()))
        chip->click();
    toggle("fix", {"x", "y", "z"});
    add("loads");
    settle();
    for (auto* chip : w_->desk()->findChildren<QToolButton*>())
      if (chip->property("chip").toBool()) chip->click();
    settle();
    type(row<QLineEdit>("on"), name + ".upper");
    cell("loads", 0, "0.002");
    run();
    chooseField("displacement z");
    const double D = 200000 * 64 / (12 * (1 - 0.09)), w = 0.00126 * 0.002 * std::pow(400, 4) / D;
    QVERIFY2(std::abs(valueAt(200, 200) / -w - 1) < 0.02, qPrintable(QString("%1 of %2").arg(valueAt(200, 200)).arg(w)));
    w_.reset();
  }
};

QObject* makeFromNewTest() { return new FromNewTest; }

}  // namespace anvil::app

#include "from_new_test.moc"
