// Test data on the material page: read, shown, made a law; laws fitted to points.
#include <QApplication>
#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/materials/material_page.hpp"
#include "app/shown_units.hpp"
#include "app/typed.hpp"
#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/base/text.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/place_words.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {

using material::RubberForm, material::RubberTest, material::TestCurve, material::TestPoint;

namespace {

QPushButton* framed(const QString& text, const QString& object, const QString& tip, QWidget* parent) {
  auto* b = new QPushButton(text, parent);
  b->setObjectName(object), b->setProperty("framed", true), b->setToolTip(tip);
  return b;
}

QString percent(double share) { return QString::fromStdString(shortNumber(100 * share, 2)) + " %"; }

model::Entry rounded(double v, int digits = 6) { return model::Entry(QString::number(v, 'g', digits).toDouble()); }

}  // namespace

void MaterialPage::buildData(QVBoxLayout* side) {
  auto* label = new QLabel("TEST DATA", this);
  label->setObjectName("head");
  side->addWidget(label);
  auto* acts = new QHBoxLayout;
  auto* file = framed("CSV file…", "dataFile", "Columns of strain and stress, as test machines and sheets write them", this);
  auto* paste = framed("Paste", "dataPaste", "Columns copied from a sheet", this);
  connect(file, &QPushButton::clicked, this, &MaterialPage::openFile);
  connect(paste, &QPushButton::clicked, this, [this] { takeData(QApplication::clipboard()->text(), "pasted"); });
  acts->addWidget(file), acts->addWidget(paste), acts->addStretch();
  side->addLayout(acts);
  summary_ = new QLabel(this);
  summary_->setObjectName("dataSummary"), summary_->setWordWrap(true);
  side->addWidget(summary_);
  data_ = new QWidget(this);
  auto* box = new QVBoxLayout(data_);
  box->setContentsMargins(0, 0, 0, 0), box->setSpacing(4);
  auto* grid = new QGridLayout;
  const auto add = [&](int row, const QString& text, QWidget* w) {
    auto* l = new QLabel(text, data_);
    l->setBuddy(w), grid->addWidget(l, row, 0), grid->addWidget(w, row, 1);
  };
  strainUnit_ = new QComboBox(data_), stressUnit_ = new QComboBox(data_), dataIs_ = new QComboBox(data_);
  for (const auto& u : material::strainUnits())
    strainUnit_->addItem(u == "1" ? "plain number" : QString::fromStdString(u), QString::fromStdString(u));
  for (const auto& u : commonUnits(Kind::stress)) stressUnit_->addItem(QString::fromStdString(u), QString::fromStdString(u));
  dataIs_->addItem("engineering (load over first area)", true), dataIs_->addItem("true stress, log strain", false);
  strainUnit_->setObjectName("dataStrainUnit"), stressUnit_->setObjectName("dataStressUnit"), dataIs_->setObjectName("dataIs");
  const auto follow = [this](QComboBox* w, auto set) {
    connect(w, &QComboBox::activated, this, [this, w, set] {
      set(w->currentData());
      refresh();
    });
  };
  follow(strainUnit_, [this](const QVariant& v) { reading_.strainUnit = v.toString().toStdString(); });
  follow(stressUnit_, [this](const QVariant& v) { reading_.stressUnit = v.toString().toStdString(); });
  follow(dataIs_, [this](const QVariant& v) { reading_.engineering = v.toBool(); });
  auto* turn = framed("Turn columns round", "turnColumns", "What was read as strain is the stress", data_);
  connect(turn, &QPushButton::clicked, this, [this] {
    std::swap(reading_.strain, reading_.stress);
    if (reading_.strainUnit != "%" || reading_.stressUnit == "%") reading_.strainUnit = "1";
    refresh();
  });
  add(0, "Strain in", strainUnit_), add(1, "Stress in", stressUnit_), add(2, "They are", dataIs_), grid->addWidget(turn, 3, 1);
  box->addLayout(grid);
  dataBox_ = new QWidget(data_);
  auto* metal = new QGridLayout(dataBox_);
  metal->setContentsMargins(0, 0, 0, 0);
  modulus_ = new QLineEdit(dataBox_), yield_ = new QLineEdit(dataBox_);
  modulus_->setObjectName("dataModulus"), yield_->setObjectName("dataYield");
  modulus_->setToolTip("Young's modulus; empty: the material's own");
  yield_->setToolTip("Yield stress; empty: by the 0.2 % offset");
  for (auto* w : {modulus_, yield_}) connect(w, &QLineEdit::editingFinished, this, &MaterialPage::refresh);
  auto* own = framed("From the data", "modulusFromData", "The slope at the curve's begin, by least squares", dataBox_);
  connect(own, &QPushButton::clicked, this, [this] {
    if (!pasted_) return;
    try {
      const auto curve = material::curveOf(*pasted_, reading_);
      const double E = material::slopeAtStart(curve);
      edit("modulus", [&](model::Material& m) {
        m.elastic.E = rounded(conversion(document_.document().units.stress, Kind::stress).fromCore(E), 4);
      });
      say("Young's modulus is " + units().quantity(E, Kind::stress) + " now, the slope at the begin of the data.");
    } catch (const Error& e) {
      say(QString::fromStdString(model::inWords(e)));
    }
  });
  consistent_ = new QCheckBox("Begin on the elastic line", dataBox_);
  consistent_->setObjectName("consistent");
  consistent_->setToolTip("Plastic strains less what is plastic already at yield, so that the first point is consistent");
  connect(consistent_, &QCheckBox::toggled, this, &MaterialPage::refresh);
  metal->addWidget(new QLabel("Young's modulus", dataBox_), 0, 0), metal->addWidget(modulus_, 0, 1), metal->addWidget(own, 0, 2);
  metal->addWidget(new QLabel("Yield at", dataBox_), 1, 0), metal->addWidget(yield_, 1, 1, 1, 2);
  metal->addWidget(consistent_, 2, 0, 1, 3);
  connect(modulus_, &QLineEdit::editingFinished, this, [this] {
    const auto entry = typed(modulus_->text());
    modulus_->clear();
    if (!entry.given()) return;
    edit("modulus", [&](model::Material& m) {
      m.elastic.E = entry.number ? rounded(conversion(document_.document().units.stress, Kind::stress)
                                               .fromCore(units().toCore(*entry.number, Kind::stress)))
                                 : entry;
    });
  });
  box->addWidget(dataBox_);
  auto* end = new QHBoxLayout;
  take_ = framed("Take as law", "takeAsLaw", "Rows of true stress and plastic strain become the material's table", data_);
  auto* drop = framed("Drop the data", "dropData", "Forget it; the material stays as it is", data_);
  connect(take_, &QPushButton::clicked, this, &MaterialPage::takeAsLaw);
  connect(drop, &QPushButton::clicked, this, [this] { pasted_.reset(), say({}), refresh(); });
  end->addWidget(take_), end->addWidget(drop), end->addStretch();
  box->addLayout(end);
  side->addWidget(data_);
}

void MaterialPage::openFile() {
  const auto path = QFileDialog::getOpenFileName(this, "Test data", {}, "Tables (*.csv *.txt *.tsv *.dat);;All files (*)");
  if (path.isEmpty()) return;
  try {
    takeData(QString::fromStdString(readWhole(path.toStdString())), QFileInfo(path).fileName());
  } catch (const Error& e) {
    say(QString::fromStdString(model::inWords(e)));
  }
}

void MaterialPage::takeData(const QString& text, const QString& from) {
  try {
    auto table = readPasted(text.toStdString());
    reading_ = material::guessReading(table);
    (void)material::curveOf(table, reading_);
    pasted_ = std::move(table), from_ = from;
    yield_->clear(), say({});
  } catch (const Error& e) {
    say("Not taken: " + QString::fromStdString(model::inWords(e)));
    return;
  }
  refresh();
}

TestCurve MaterialPage::trueData() const {
  const auto curve = material::curveOf(*pasted_, reading_);
  return reading_.engineering ? material::trueOf(material::upToGreatestLoad(curve)) : curve;
}

/// Entered, or by the 0.2 % offset of the engineering curve.
double MaterialPage::yieldOfData() const {
  const auto entry = typed(yield_->text());
  if (entry.number) return units().toCore(*entry.number, Kind::stress);
  if (entry.given()) return model::Quantities(document_.document())(entry, Kind::stress, "yield");
  const auto curve = material::curveOf(*pasted_, reading_);
  const auto at = material::offsetYield(reading_.engineering ? curve : material::engineeringOf(curve), young());
  return at.stress * (1 + at.strain);
}

/// What the data is taken for, in a sentence; its entries.
void MaterialPage::readData() {
  data_->setVisible(pasted_.has_value());
  const auto* m = material();
  if (!pasted_ || !m) {
    summary_->setText("A CSV file, or columns copied from a sheet: headers, units and decimal commas are understood.");
    return;
  }
  dataBox_->setVisible(!m->rubber), dataIs_->setVisible(!m->rubber),
      take_->setText(m->rubber ? "Add to the tests" : "Take as law");
  const auto chosen = [](QComboBox* box, const std::string& unit) {
    const auto text = QString::fromStdString(unit);
    if (box->findData(text) < 0) box->addItem(text, text);
    box->setCurrentIndex(box->findData(text));
  };
  chosen(strainUnit_, reading_.strainUnit), chosen(stressUnit_, reading_.stressUnit);
  dataIs_->setCurrentIndex(reading_.engineering ? 0 : 1);
  const auto nameOf = [&](size_t k) {
    const auto& n = pasted_->columns[k].name;
    return n.empty() ? QString("column %1").arg(k + 1) : "'" + QString::fromStdString(n) + "'";
  };
  QString words = QString("%1, %2 rows: strain is %3, stress %4%5.")
                      .arg(from_)
                      .arg(pasted_->rows())
                      .arg(nameOf(reading_.strain), nameOf(reading_.stress), pasted_->decimalComma ? "; decimal commas" : "");
  take_->setEnabled(true);
  if (!m->rubber) try {
      const auto curve = material::curveOf(*pasted_, reading_);
      const double E = young();
      modulus_->setPlaceholderText(units().quantity(E, Kind::stress));
      const double own = material::slopeAtStart(curve);
      if (std::abs(own / E - 1) > 0.1)
        words += QString(" Its slope at the begin is %1, Young's modulus %2.")
                     .arg(units().quantity(own, Kind::stress), units().quantity(E, Kind::stress));
      yield_->setPlaceholderText("0.2 % offset");
      const double at = yieldOfData();
      yield_->setPlaceholderText("0.2 % offset: " + units().quantity(at, Kind::stress));
      if (reading_.engineering && material::upToGreatestLoad(curve).size() < curve.size())
        words += " Points behind the greatest load are left out: the bar necks there.";
    } catch (const Error& e) {
      words += " <b>" + units().inWords(QString::fromStdString(model::inWords(e))).toHtmlEscaped() + "</b>";
      take_->setEnabled(false);
    }
  summary_->setText(words);
}

void MaterialPage::takeAsLaw() {
  const auto* m = material();
  if (!pasted_ || !m) return;
  try {
    const auto curve = material::curveOf(*pasted_, reading_);
    if (m->rubber) {
      tests_.push_back({RubberTest(rubberTest_->currentIndex()), curve});
      pasted_.reset();
      say(QString("%1 test%2 to fit to.").arg(tests_.size()).arg(tests_.size() == 1 ? "" : "s"));
      return refresh();
    }
    constexpr size_t most = 60;
    const auto own = trueData();
    const double yield = yieldOfData();
    auto rows = material::plasticRows(own, young(), yield, consistent_->isChecked());
    const auto all = rows.size();
    if (rows.size() > most) rows = material::thinned(rows);
    double level = 0;
    for (auto& r : rows) level = r.stress = std::max(r.stress, level);  // noise; a law does not soften
    edit("test data as the law", [&](model::Material& mat) {
      if (!mat.plastic) mat.plastic.emplace();
      auto& p = *mat.plastic;
      p.yield = p.tangent = model::Entry(), p.power.reset(), p.voce.reset(), p.strain = "plastic", p.stress = "true";
      p.rows.clear();
      for (const auto& r : rows) p.rows.push_back({0, 0}), setRow(mat, p.rows.size() - 1, r, true, true);
    });
    pasted_.reset();
    say(QString("%1 rows are the law now").arg(rows.size()) +
        (rows.size() < all ? QString(", of %1: the others lie on the lines between them.").arg(all) : "."));
    refresh();
  } catch (const Error& e) {
    say(QString::fromStdString(model::inWords(e)));
  }
}

void MaterialPage::makeTable() {
  const auto* m = material();
  if (!m) return;
  try {
    std::vector<TestPoint> rows{{0, 250}, {0.1, 300}};
    if (m->plastic) {
      const auto law = analysis::plasticLaw(*m, model::Quantities(document_.document()), "materials/" + name_.toStdString());
      const double end = std::max(0.1, law.hardening.span());
      const bool straight = law.hardening.form == material::Hardening::Form::table;
      rows.clear();
      for (double t : straight ? std::vector<double>{0, 1} : std::vector<double>{0, .004, .012, .03, .06, .12, .25, .45, .7, 1})
        rows.push_back({end * t, law.yieldAt(end * t)});
    }
    edit("a table", [&](model::Material& mat) {
      if (!mat.plastic) mat.plastic.emplace();
      auto& p = *mat.plastic;
      if (!p.rows.empty()) return;
      p.yield = p.tangent = model::Entry(), p.power.reset(), p.voce.reset(), p.strain = "plastic", p.stress = "true";
      for (const auto& r : rows) p.rows.push_back({0, 0}), setRow(mat, p.rows.size() - 1, r, true, true);
    });
  } catch (const Error& e) {
    say(QString::fromStdString(model::inWords(e)));
  }
}

/// The line through two points, of true stress over total log strain, down to where it meets the elastic one.
void MaterialPage::bilinear() {
  if (plot_->picked().size() != 2) return;
  try {
    const auto now = rows();
    const double E = young();
    auto a = material::plasticTrue(now.at(size_t(plot_->picked()[0])), meaning(), E),
         b = material::plasticTrue(now.at(size_t(plot_->picked()[1])), meaning(), E);
    if (a.strain > b.strain) std::swap(a, b);
    const double ea = a.strain + a.stress / E, eb = b.strain + b.stress / E, slope = (b.stress - a.stress) / (eb - ea);
    const double yield = (a.stress - slope * ea) / (1 - slope / E);
    if (!(yield > 0 && slope >= 0 && slope < E))
      return say("The line through these two points does not meet the elastic line above zero: pick two others.");
    const auto in = conversion(document_.document().units.stress, Kind::stress);
    edit("a straight law", [&](model::Material& m) {
      m.plastic->rows.clear(), m.plastic->power.reset(), m.plastic->voce.reset();
      m.plastic->yield = rounded(in.fromCore(yield)), m.plastic->tangent = rounded(in.fromCore(slope));
    });
    say("Yield " + units().quantity(yield, Kind::stress) + ", slope " + units().quantity(slope, Kind::stress) + ".");
  } catch (const Error& e) {
    say(QString::fromStdString(model::inWords(e)));
  }
}

void MaterialPage::fitHardening(bool power) {
  try {
    const double E = young();
    std::vector<TestPoint> points;
    for (const auto& r : rows()) points.push_back(material::plasticTrue(r, meaning(), E));
    if (points.empty() && pasted_) {
      const auto own = trueData();
      points = material::plasticRows(own, E, yieldOfData(), consistent_->isChecked());
    }
    if (points.empty()) return say("There are no points to fit to: make a table, or bring in test data.");
    const auto fit = power ? material::fitPower(points) : material::fitVoce(points);
    const auto in = conversion(document_.document().units.stress, Kind::stress);
    edit(power ? "a power law" : "a saturating law", [&](model::Material& m) {
      if (!m.plastic) m.plastic.emplace();
      auto& p = *m.plastic;
      p.rows.clear(), p.tangent = model::Entry(), p.power.reset(), p.voce.reset(), p.strain = "plastic", p.stress = "true";
      p.yield = rounded(in.fromCore(fit.law.yield));
      if (power)
        p.power = model::PowerLaw{rounded(fit.law.strain), rounded(fit.law.exponent)};
      else
        p.voce = model::VoceLaw{rounded(in.fromCore(fit.law.gain)), rounded(fit.law.rate), rounded(in.fromCore(fit.law.slope))};
    });
    say(QString("Fitted; off the points by %1 of the greatest stress (root of the mean square). Undo brings the table back.")
            .arg(percent(fit.error)));
  } catch (const Error& e) {
    say(QString::fromStdString(model::inWords(e)));
  }
}

void MaterialPage::buildRubber(QVBoxLayout* side) {
  auto* label = new QLabel("TESTS AND FIT", this);
  label->setObjectName("head");
  side->addWidget(label);
  rubberTest_ = new QComboBox(this), rubberForm_ = new QComboBox(this);
  rubberTest_->setObjectName("rubberTest"), rubberForm_->setObjectName("rubberForm");
  rubberTest_->addItems({"pulled one way", "pulled two ways", "pulled, width held", "sheared"});
  rubberForm_->addItems({"Neo-Hooke", "Mooney-Rivlin", "Yeoh", "Ogden, one term", "Ogden, two terms", "Ogden, three terms"});
  rubberForm_->setCurrentIndex(1);
  auto* grid = new QGridLayout;
  grid->addWidget(new QLabel("The data was", this), 0, 0), grid->addWidget(rubberTest_, 0, 1);
  grid->addWidget(new QLabel("Law", this), 1, 0), grid->addWidget(rubberForm_, 1, 1);
  side->addLayout(grid);
  auto* fit = framed("Fit to the tests", "fitRubber", "Constants by least squares; each test counts alike", this);
  connect(fit, &QPushButton::clicked, this, [this] { fitRubber(RubberForm(rubberForm_->currentIndex())); });
  auto* forget = framed("Forget the tests", "forgetTests", "The law stays as it is", this);
  connect(forget, &QPushButton::clicked, this, [this] { tests_.clear(), say({}), refresh(); });
  auto* acts = new QHBoxLayout;
  acts->addWidget(fit), acts->addWidget(forget), acts->addStretch();
  side->addLayout(acts);
}

void MaterialPage::fitRubber(RubberForm form) {
  try {
    if (tests_.empty()) return say("There are no tests to fit to: bring in data and add it to the tests.");
    const auto fit = material::fitRubber(form, tests_);
    const auto in = conversion(document_.document().units.stress, Kind::stress);
    const auto stress = [&](double v) { return rounded(in.fromCore(v)); };
    edit("fitted constants", [&](model::Material& m) {
      if (!m.rubber) return;
      auto& r = *m.rubber;
      r.neoHooke = model::Entry(), r.mooney.clear(), r.yeoh.clear(), r.ogden.clear();
      const auto& c = fit.constants;
      if (form == RubberForm::neoHooke) r.neoHooke = stress(c[0]);
      if (form == RubberForm::mooney) r.mooney = {stress(c[0]), stress(c[1])};
      if (form == RubberForm::yeoh) r.yeoh = {stress(c[0]), stress(c[1]), stress(c[2])};
      if (form >= RubberForm::ogden1)
        for (size_t k = 0; k + 1 < c.size(); k += 2) r.ogden.push_back({stress(c[k]), rounded(c[k + 1])});
    });
    say(QString("Fitted; off the points by %1 of each test's greatest stress.%2")
            .arg(percent(fit.error), fit.unstable.empty() ? QString()
                                                          : " It is unstable " + QString::fromStdString(fit.unstable) +
                                                                ": do not go so far, or take a law of fewer constants."));
  } catch (const Error& e) {
    say(QString::fromStdString(model::inWords(e)));
  }
}

}  // namespace anvil::app
