// The material page in the real window: test data becomes a law, tables are typed and dragged, laws fitted.
#include <QCheckBox>
#include <QClipboard>
#include <QHeaderView>
#include <QTableWidget>

#include "app/materials/material_page.hpp"
#include "app/shown_units.hpp"
#include "core/base/error.hpp"
#include "core/base/units.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/quantities.hpp"
#include "core/model/typical_materials.hpp"
#include "fixture.hpp"

namespace anvil::app {
namespace {

const char* const germanTest =
    "Probe 4;\nDehnung [%];Spannung [MPa]\n0,0;0\n0,05;102,5\n0,1;205\n0,3;260,5\n1,0;281\n5,0;342\n12,0;388,5\n16,0;370\n";

}  // namespace

class MaterialPageTest : public QObject, WindowFixture {
  Q_OBJECT
  int clicks_ = 0;

  void click(QWidget* w) {
    QVERIFY(w);
    reach(w);
    QTest::mouseClick(w, Qt::LeftButton);
    ++clicks_;
  }
  QPushButton* button(const QString& name) { return w_->materialPage()->findChild<QPushButton*>(name); }
  void openPage() {
    open();
    w_->resize(1280, 800);
    w_->select("materials", "steel");
    settle();
    click(w_->desk()->findChild<QPushButton*>("curveAndTable"));
    QCOMPARE(w_->page(), 4);
  }
  const model::Plastic& plastic() const { return *document().materials.front().second.plastic; }

 private slots:
  /// In six clicks at most; the rows are those of a calculation by hand.
  void aCsvWithDecimalCommasBecomesALaw() {
    open();
    const auto file = folder_.filePath("zug.csv");
    write(file, germanTest);
    clicks_ = 0;
    click(card("materials", "steel"));
    settle();
    click(w_->desk()->findChild<QPushButton*>("curveAndTable"));
    answerFileDialog(file, QDialogButtonBox::Open, [this] { click(button("dataFile")); });
    ++clicks_;  // the dialog's
    auto* summary = w_->materialPage()->findChild<QLabel*>("dataSummary");
    QVERIFY2(summary->text().contains("decimal commas") && summary->text().contains("'Dehnung'"), qPrintable(summary->text()));
    QVERIFY(summary->text().contains("greatest load"));
    click(button("takeAsLaw"));
    QVERIFY2(clicks_ <= 6, qPrintable(QString::number(clicks_)));
    // by hand, E 205 000: the offset line 205000 (e - 0.002) meets 260.5 + (281 - 260.5)/0.007 (e - 0.003) at
    const double rise = (281 - 260.5) / 0.007, e = (260.5 - rise * 0.003 + 205000 * 0.002) / (205000 - rise),
                 s = 205000 * (e - 0.002);
    const auto& rows = plastic().rows;
    QCOMPARE(int(rows.size()), 4);
    QCOMPARE(*rows[0][0].number, 0.);
    QVERIFY(std::abs(*rows[0][1].number - s * (1 + e)) < 1e-3);
    const double strains[] = {0.01, 0.05, 0.12}, stresses[] = {281, 342, 388.5};
    for (size_t i = 0; i < 3; ++i) {
      const double t = stresses[i] * (1 + strains[i]), p = std::log(1 + strains[i]) - t / 205000;
      QVERIFY2(std::abs(*rows[i + 1][0].number / p - 1) < 1e-5, qPrintable(QString::number(*rows[i + 1][0].number)));
      QVERIFY(std::abs(*rows[i + 1][1].number / t - 1) < 1e-5);
    }
    QCOMPARE(plastic().strain, "plastic");
    QVERIFY(!plastic().yield.given() && !plastic().tangent.given());
    // one act, and undone as one
    w_->document().undoStack()->undo();
    QVERIFY(plastic().rows.empty());
    w_.reset();
  }

  void pastedColumnsAreTurnedRoundAndYieldIsEntered() {
    openPage();
    QApplication::clipboard()->setText("205\t0.1\n260.5\t0.3\n281\t1\n342\t5\n");
    click(button("dataPaste"));
    auto* unit = w_->materialPage()->findChild<QComboBox*>("dataStrainUnit");
    QCOMPARE(unit->currentData().toString(), QString("%"));  // by its size
    click(button("turnColumns"));
    QVERIFY(!button("takeAsLaw")->isEnabled());  // strains of 205 are none
    click(button("turnColumns"));
    takeChoice(unit, "%");
    QVERIFY(button("takeAsLaw")->isEnabled());
    type(w_->materialPage()->findChild<QLineEdit*>("dataYield"), "230");
    auto* consistent = w_->materialPage()->findChild<QCheckBox*>("consistent");
    reach(consistent);
    QTest::mouseClick(consistent, Qt::LeftButton, {}, QPoint(8, consistent->height() / 2));
    click(button("takeAsLaw"));
    QCOMPARE(*plastic().rows[0][1].number, 230.);
    // begun on the elastic line: less what is plastic where the curve passes 230 (true)
    const double a = std::log(1.001), sa = 205 * 1.001, b = std::log(1.003), sb = 260.5 * 1.003;
    const double at = a + (230 - sa) / (sb - sa) * (b - a) - 230. / 205000;
    QVERIFY(std::abs(*plastic().rows[1][0].number - (b - sb / 205000 - at)) < 1e-8);
    w_.reset();
  }

  void whatIsNoDataIsSaid() {
    openPage();
    w_->materialPage()->takeData("strain;stress\n0,1;two\n", "pasted");
    auto* said = w_->materialPage()->findChild<QLabel*>("said");
    QVERIFY2(said->text().contains("Line 2 has 'two'") || said->text().contains("no number"), qPrintable(said->text()));
    QVERIFY(!button("takeAsLaw")->isVisible());
    w_.reset();
  }

  void theTableIsTypedAndItsMeaningShown() {
    openPage();
    click(button("makeTable"));
    QVERIFY(plastic().rows.size() >= 2);
    auto* table = w_->materialPage()->findChild<QTableWidget*>("hardeningTable");
    QCOMPARE(table->rowCount(), int(plastic().rows.size()));
    table->item(1, 1)->setText("400 MPa");
    QCOMPARE(plastic().rows[1][1].text, std::string("400 MPa"));
    table->item(1, 1)->setText("410");
    QCOMPARE(*plastic().rows[1][1].number, 410.);
    const double strain = *plastic().rows[1][0].number;
    takeChoice(w_->materialPage()->findChild<QComboBox*>("tableStresses"), "Engineering stresses");
    QCOMPARE(plastic().stress, "engineering");
    // as it is typed, so it is converted beside
    const double total = strain + 410. / 205000;
    QVERIFY(std::abs(table->item(1, 3)->text().toDouble() - 410 * (1 + total)) < 0.02);
    QVERIFY(!(table->item(1, 3)->flags() & Qt::ItemIsEditable));
    click(button("addTableRow"));
    QCOMPARE(int(plastic().rows.size()), 3);
    table->setCurrentCell(2, 0);
    click(button("removeTableRows"));
    QCOMPARE(int(plastic().rows.size()), 2);
    w_.reset();
  }

  void pointsAreDraggedAsOneAct() {
    openPage();
    click(button("makeTable"));
    auto* plot = w_->materialPage()->plot();
    const auto before = plastic().rows[1];
    const int acts = w_->document().undoStack()->count();
    const auto from = plot->place(plot->content().table[1]).toPoint();
    QTest::mousePress(plot, Qt::LeftButton, {}, from);
    for (int k = 1; k <= 5; ++k) QTest::mouseMove(plot, from - QPoint(4 * k, 6 * k));
    QTest::mouseRelease(plot, Qt::LeftButton, {}, from - QPoint(20, 30));
    QVERIFY(plastic().rows[1] != before);
    QVERIFY(*plastic().rows[1][1].number > *before[1].number && *plastic().rows[1][0].number < *before[0].number);
    QCOMPARE(w_->document().undoStack()->count(), acts + 1);
    w_->document().undoStack()->undo();
    QVERIFY(plastic().rows[1] == before);
    w_.reset();
  }

  void twoPickedPointsGiveAStraightLaw() {
    openPage();
    click(button("makeTable"));
    auto* plot = w_->materialPage()->plot();
    QVERIFY(!button("bilinear")->isEnabled());
    for (size_t i : {size_t(0), size_t(1)})
      QTest::mouseClick(plot, Qt::LeftButton, {}, plot->place(plot->content().table[i]).toPoint());
    QVERIFY(button("bilinear")->isEnabled());
    click(button("bilinear"));
    QVERIFY(plastic().rows.empty());
    QVERIFY2(std::abs(*plastic().yield.number / 260 - 1) < 1e-4, qPrintable(QString::number(*plastic().yield.number)));
    QVERIFY2(std::abs(*plastic().tangent.number / 2000 - 1) < 1e-3, qPrintable(QString::number(*plastic().tangent.number)));
    w_.reset();
  }

  void lawsAreFittedToTheRows() {
    openPage();
    w_->document().edit("a table", [](model::Document& d) {
      auto& p = *d.materials.front().second.plastic;
      p.yield = p.tangent = model::Entry();
      for (double a : {0., 0.005, 0.02, 0.06, 0.15, 0.3}) p.rows.push_back({a, 200 * std::pow(1 + a / 0.01, 0.2)});
    });
    click(button("fitPower"));
    QVERIFY(plastic().power && plastic().rows.empty());
    QVERIFY(std::abs(*plastic().power->exponent.number - 0.2) < 1e-3);
    QVERIFY(w_->materialPage()->findChild<QLabel*>("said")->text().contains("Fitted"));
    (void)analysis::plasticLaw(document().materials.front().second, model::Quantities(document()), "");
    w_->document().undoStack()->undo();
    click(button("fitVoce"));
    QVERIFY(plastic().voce && !plastic().power);
    w_.reset();
  }

  void rubberIsFittedAndWarnedOf() {
    openPage();
    w_->document().edit("rubber", [](model::Document& d) {
      d.materials.front().second = {};
      d.materials.front().second.rubber.emplace().neoHooke = 0.5;
    });
    QVERIFY(button("fitRubber")->isVisible() && !button("fitPower")->isVisible());
    // a Mooney rubber pulled one way: C10 0.4, C01 0.05
    QString text = "stretch;nominal stress [MPa]\n";
    for (double l = 1.1; l < 2.6; l += 0.1)
      text += QString("%1;%2\n").arg(l, 0, 'g', 12).arg(2 * (l - 1 / l / l) * (0.4 + 0.05 / l), 0, 'g', 12);
    w_->materialPage()->takeData(text, "pasted");
    click(button("takeAsLaw"));
    click(button("fitRubber"));
    const auto& rubber = *document().materials.front().second.rubber;
    QCOMPARE(int(rubber.mooney.size()), 2);
    QVERIFY(std::abs(*rubber.mooney[0].number - 0.4) < 1e-4 && std::abs(*rubber.mooney[1].number - 0.05) < 1e-4);
    auto* said = w_->materialPage()->findChild<QLabel*>("said");
    QVERIFY(!said->text().contains("unstable"));
    click(button("forgetTests"));
    // stress that falls: a fit of Yeoh's that cannot be trusted
    w_->materialPage()->takeData("strain;stress [MPa]\n0,2;0,5\n0,5;0,8\n1;0,85\n1,5;0,7\n2;0,4\n", "pasted");
    click(button("takeAsLaw"));
    takeChoice(w_->materialPage()->findChild<QComboBox*>("rubberForm"), "Yeoh");
    click(button("fitRubber"));
    QVERIFY2(said->text().contains("unstable"), qPrintable(said->text()));
    w_.reset();
  }

  void typicalValuesAreMarkedAndCanBeUsed() {
    openPage();
    takeFromMenu(button("typicalValues"), "copper, annealed");
    QVERIFY(QString::fromStdString(document().materials.front().second.note).startsWith("Typical"));
    for (const auto& t : model::typicalMaterials()) {
      QVERIFY2(QString::fromStdString(t.material.note).contains("Typical"), t.name.c_str());
      (void)analysis::materialLaw(t.material, model::Quantities(document()), "materials/" + t.name);
    }
    QTest::keyClick(w_.get(), Qt::Key_Escape);
    QCOMPARE(w_->page(), 1);
    w_.reset();
  }
};

QObject* makeMaterialPageTest() { return new MaterialPageTest; }

}  // namespace anvil::app

#include "material_page_test.moc"
