// A desktop whose language writes numbers with a comma: models are as everywhere, entries take and show commas.
#include "fixture.hpp"

#include <clocale>

#include "app/shelf/card.hpp"
#include "app/shelf/shelf.hpp"
#include "app/typed.hpp"
#include "core/base/process.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "german.hpp"

namespace anvil::app {

class LanguageTest : public QObject, WindowFixture {
  Q_OBJECT
  std::unique_ptr<German> german_;

 private slots:
  void init() {
    german_ = std::make_unique<German>();
    secureProcess();  // as the program does once the toolkit has set the person's language
    QLocale::setDefault(QLocale(QLocale::German, QLocale::Germany));
    open();
  }
  void cleanup() {
    w_.reset(), german_.reset();
    QLocale::setDefault(QLocale::c());
  }

  void aModelIsReadAndReadyAsEverywhere() {
    if (!german_->there) QSKIP("the German language cannot be made: package locales");
    QCOMPARE(std::string(std::localeconv()->decimal_point), std::string("."));
    for (const auto& f : w_->preparation().readiness().findings) QVERIFY2(!f.fault, f.what.c_str());
    QCOMPARE(w_->preparation().header().mesh.blocks.at(0).count(), size_t(50));
  }

  void anEntryTakesAndShowsACommaAndTheFileAPoint() {
    auto* grip = card("contacts", "press");
    QVERIFY(grip);
    QTest::mouseClick(grip, Qt::LeftButton);
    auto* friction = row<QLineEdit>("friction");
    QVERIFY(friction);
    QCOMPARE(friction->text(), QString("0,1"));
    type(friction, "0,25");
    QCOMPARE(*document().contacts.find("press")->friction.number, 0.25);
    QCOMPARE(row<QLineEdit>("friction")->text(), QString("0,25"));
    QVERIFY(model::print(document()).find("\"friction\": 0.25") != std::string::npos);
    type(row<QLineEdit>("friction"), "0.3");  // a point is taken too
    QCOMPARE(*document().contacts.find("press")->friction.number, 0.3);
    prepared();
    for (const auto& f : w_->preparation().readiness().findings) QVERIFY2(!f.fault, f.what.c_str());
  }

  void quantitiesFormulasAndLists() {
    QCOMPARE(typed("0,5 mm").text, std::string("0.5 mm"));
    QCOMPARE(typed("-1,5e-3").number.value(), -1.5e-3);
    QCOMPARE(typed("1,2e-5 1/K").text, std::string("1.2e-5 1/K"));
    QCOMPARE(typed("3,2 kg/m3").text, std::string("3.2 kg/m3"));
    QCOMPARE(typed("=min(a, 2)").text, std::string("=min(a, 2)"));
    QCOMPARE(typed("=0,3").text, std::string("=0,3"));  // which reading refuses in words
    QCOMPARE(shown(model::Entry("2.5 mm")), QString("2,5 mm"));
    QCOMPARE(shown(model::Entry("=2.5*a")), QString("=2.5*a"));
    QCOMPARE(shown(model::Entry(1e-3)), QString("0,001"));
    for (const QStringList& list : {QStringList{"1,5", "2"}, QStringList{"0,1", "-2,5", "3"}})
      QCOMPARE(typedList(shownList(list)), list);
    QCOMPARE(typedList("1,5, 2,5"), (QStringList{"1,5", "2,5"}));
    QCOMPARE(typedCells("0,1\t250,5"), (QStringList{"0,1", "250,5"}));
    QLocale::setDefault(QLocale::c());
    QCOMPARE(typedList("1, 2,3"), (QStringList{"1", "2", "3"}));
    QCOMPARE(typedCells("0.1, 250"), (QStringList{"0.1", "250"}));
    QCOMPARE(typed("0,5").text, std::string("0,5"));  // told as no number, not taken as five
  }
};

QObject* makeLanguageTest() { return new LanguageTest; }

}  // namespace anvil::app

#include "language_test.moc"
