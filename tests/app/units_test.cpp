// Units of choice: every number on every page follows, and nothing in the file or the results.
#include <QMenu>
#include <QTableWidget>
#include <QTextDocument>

#include "app/history/step_edits.hpp"
#include "app/materials/material_page.hpp"
#include "app/shown_units.hpp"
#include "core/base/error.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "fixture.hpp"

namespace anvil::app {

class UnitsTest : public QObject, WindowFixture {
  Q_OBJECT
  static void choose(const char* name) {
    for (const auto& set : unitSets())
      if (set.name == name) units().choose(set);
    settle();
  }
  /// All words in sight that hold a metric unit behind a number.
  QStringList metricWords() {
    static const QRegularExpression metric(R"(\d\s*(mm|mm²|mm³|MPa|GPa|kN|N|N mm|N m|N/mm|kg)(?![\w²³/]))");
    QStringList found;
    const auto look = [&](const QString& text, const QString& where) {
      QTextDocument plain;
      plain.setHtml(text);
      const auto words = Qt::mightBeRichText(text) ? plain.toPlainText() : text;
      if (metric.match(words).hasMatch()) found << where + ": " + words;
    };
    for (auto* l : w_->findChildren<QLabel*>())
      if (l->isVisible()) look(l->text(), l->objectName());
    for (auto* b : w_->findChildren<QAbstractButton*>())
      if (b->isVisible()) look(b->text(), b->objectName());
    for (auto* t : w_->findChildren<QTableWidget*>())
      for (int c = 0; c < t->columnCount() && t->isVisible(); ++c)
        if (auto* h = t->horizontalHeaderItem(c)) look("1 " + h->text().section(", ", 1), "table");
    return found;
  }

 private slots:
  void cleanup() { choose("mm N MPa"); }

  void everyPageSpeaksInTheUnitsOfChoice() {
    open();
    w_->resize(1280, 800);
    const auto before = w_->document().text();
    w_->run();
    QTRY_VERIFY_WITH_TIMEOUT(w_->control().state() == RunControl::State::finished, 120000);
    QTRY_VERIFY(w_->results().has());
    w_->results().setRow(w_->results().last());
    const auto core = w_->results().values();
    const auto history = *w_->results().history("motions/push/force y");
    choose("in lbf psi");
    // each desk, but for what was entered, which keeps its own units with its worth beside it
    for (const auto& [kind, name] : std::vector<std::pair<QString, QString>>{{"parts", "block"},
                                                                             {"materials", "steel"},
                                                                             {"contacts", "press"},
                                                                             {"supports", "base"},
                                                                             {"motions", "push"},
                                                                             {"steps", "press"},
                                                                             {"model", ""}}) {
      w_->select(kind, name);
      settle();
      QVERIFY2(metricWords().isEmpty(), qPrintable(kind + ": " + metricWords().join("\n")));
    }
    QVERIFY(row<QLineEdit>("thickness"));
    QCOMPARE(row<QLineEdit>("thickness")->text(), QString("1 mm"));
    w_->showMesh();
    QTRY_VERIFY(!w_->meshPage()->cost().startsWith("Working"));
    QVERIFY2(metricWords().isEmpty(), qPrintable(metricWords().join("\n")));
    w_->desk()->showReadiness(w_->preparation().readiness());
    QVERIFY2(metricWords().isEmpty(), qPrintable(metricWords().join("\n")));
    w_->showMaterial("steel");
    QVERIFY2(metricWords().isEmpty(), qPrintable(metricWords().join("\n")));
    // curves and their table
    w_->showPage(2);
    w_->curves()->plot("motions/push/travel", {"motions/push/force y"});
    const auto lines = w_->curves()->csv().split('\n', Qt::SkipEmptyParts);
    QCOMPARE(lines.front(), QString("\"motions/push/travel [in]\",\"motions/push/force y [lbf]\""));
    const auto last = lines.back().split(',');
    QVERIFY(std::abs(last[1].toDouble() * 4.4482216152605 - history.back()) < 1e-6 * std::max(1., std::abs(history.back())));
    // the file and the results are as they were
    QCOMPARE(w_->document().text(), before);
    QVERIFY(!w_->document().dirty());
    w_->results().setRow(w_->results().last());  // the mesh page had the model as built
    QTRY_COMPARE(w_->results().values(), core);
    QCOMPARE(*w_->results().history("motions/push/force y"), history);
    w_.reset();
  }

  void theShelfAndTheViewFollow() {
    open();
    const auto card = this->card("materials", "steel")->grab().toImage();
    const auto view = w_->view()->grab().toImage();
    choose("in kip ksi");
    QVERIFY(this->card("materials", "steel")->grab().toImage() != card);
    QVERIFY(w_->view()->grab().toImage() != view);  // the length to go by
    w_.reset();
  }

  /// A bare number is one of the units on show, and is written so that the file says the same.
  void entriesAreTakenInTheUnitsOnShow() {
    open();
    w_->select("materials", "steel");
    auto* yield = row<QLineEdit>("plastic/yield");
    QCOMPARE(yield->text(), QString("260"));
    choose("in kip ksi");
    yield = row<QLineEdit>("plastic/yield");
    QCOMPARE(yield->text(), QString("260 MPa"));
    type(yield, "40");
    const auto& entry = document().materials.front().second.plastic->yield;
    QCOMPARE(entry.text, std::string("40 ksi"));
    const model::Quantities q(document());
    QVERIFY(std::abs(q(entry, Kind::stress, "") - 275.790) < 1e-3);
    type(row<QLineEdit>("plastic/yield"), "300 MPa");
    QCOMPARE(document().materials.front().second.plastic->yield.text, std::string("300 MPa"));
    // looked at and left, it is as it was
    const auto before = w_->document().text();
    auto* tangent = row<QLineEdit>("plastic/tangent");
    reach(tangent), tangent->setFocus();
    QTest::keyClick(tangent, Qt::Key_Return);
    QCOMPARE(w_->document().text(), before);
    w_.reset();
  }

  /// Cells of the history too: bare numbers of the file have its unit, and what is typed is of the set.
  void cellsOfTheHistoryFollow() {
    open();
    w_->resize(1280, 800);
    auto* history = w_->history();
    w_->document().edit("a number", [](model::Document& d) { setCell(*courseOf(d, "motions", "push"), "press", 0, "-0.3", d); });
    QCOMPARE(history->lanes().front().cells[0], QString("-0.3"));
    choose("in lbf psi");
    QCOMPARE(history->lanes().front().cells[0], QString("-0.3 mm"));
    QTest::mouseDClick(history, Qt::LeftButton, {}, history->cellCenter(0, 0));
    auto* editor = history->findChild<QLineEdit*>("cellEditor");
    QTest::keyClick(editor, Qt::Key_A, Qt::ControlModifier);
    QTest::keyClicks(editor, "-0.01");
    QTest::keyClick(editor, Qt::Key_Return);
    QVERIFY(QString::fromStdString(w_->document().text()).contains("\"press\": \"-0.01 in\""));
    w_.reset();
  }

  void formulasShowTheirWorth() {
    open();
    w_->document().edit("a formula", [](model::Document& d) { d.thickness = model::Entry("=2*depth"); });
    w_->select("model", {});
    auto* box = row<QLineEdit>("thickness");
    auto* worth = box->parentWidget()->findChild<QLabel*>("worth");
    QVERIFY(worth);
    QCOMPARE(worth->text(), QString("= 0.6 mm"));
    choose("m N Pa");
    box = row<QLineEdit>("thickness");
    QCOMPARE(box->parentWidget()->findChild<QLabel*>("worth")->text(), QString("= 0.0006 m"));
    w_.reset();
  }

  void aMixOfOnesOwnIsChosenFromTheMenu() {
    open();
    auto* button = w_->findChild<QToolButton*>("units");
    QVERIFY(button && button->isVisible());
    QMenu* stress = nullptr;
    for (auto* action : button->menu()->actions())
      if (action->menu() && action->text() == "Stress") stress = action->menu();
    QVERIFY(stress);
    for (auto* action : stress->actions())
      if (action->text() == "ksi") action->trigger();
    QCOMPARE(units().unit(Kind::stress), QString("ksi"));
    QCOMPARE(units().unit(Kind::length), QString("mm"));
    QVERIFY(button->text().startsWith("mm N ksi"));
    UnitSet wrong = units().set();
    wrong.stress = "mm";
    QVERIFY_EXCEPTION_THROWN(units().choose(wrong), Error);
    QCOMPARE(units().unit(Kind::stress), QString("ksi"));
    w_.reset();
  }

  void sentencesOfTheCoreFollow() {
    QCOMPARE(units().inWords("gap of 25.4 mm, 6.894757293168 MPa"), QString("gap of 25.4 mm, 6.894757293168 MPa"));
    choose("in kip ksi");
    QCOMPARE(units().inWords("gap of 25.4 mm, from 50.8 to 76.2 mm, at 6.894757 MPa; 3 mm3 are not meant"),
             QString("gap of 1 in, from 2 to 3 in, at 1 ksi; 3 mm3 are not meant"));
  }
};

QObject* makeUnitsTest() { return new UnitsTest; }

}  // namespace anvil::app

#include "units_test.moc"
