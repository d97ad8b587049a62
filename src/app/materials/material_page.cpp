#include "app/materials/material_page.hpp"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QTableWidget>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/flow_layout.hpp"
#include "app/shown_units.hpp"
#include "app/typed.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/materials.hpp"
#include "core/model/place_words.hpp"
#include "core/model/quantities.hpp"
#include "core/model/typical_materials.hpp"

namespace anvil::app {

using material::TestPoint;

MaterialPage::MaterialPage(DocumentStore& document, QWidget* parent) : QWidget(parent), document_(document) {
  setObjectName("page");
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 10, 0, 10);
  auto* head = new QHBoxLayout;
  auto* back = new QPushButton("‹ Back to the model", this);
  back->setObjectName("framed");
  connect(back, &QPushButton::clicked, this, &MaterialPage::left);
  title_ = new QLabel(this);
  title_->setObjectName("title");
  auto* typical = new QPushButton("Typical values", this);
  typical->setObjectName("typicalValues");
  auto* menu = new QMenu(typical);
  QString group;
  for (size_t i = 0; i < model::typicalMaterials().size(); ++i) {
    const auto& t = model::typicalMaterials()[i];
    if (group != QString::fromStdString(t.group)) menu->addSection(group = QString::fromStdString(t.group));
    menu->addAction(QString::fromStdString(t.name), this, [this, i] { takeTypical(i); });
  }
  typical->setMenu(menu);
  typical->setToolTip("Values of textbooks, marked as typical, in place of what the material has now");
  head->addWidget(back), head->addSpacing(12), head->addWidget(title_, 1), head->addWidget(typical), head->addSpacing(16);
  layout->addLayout(head);
  auto* columns = new QHBoxLayout;
  auto* left = new QVBoxLayout;
  plot_ = new CurvePlot(this);
  left->addWidget(plot_, 1);
  auto* below = new QHBoxLayout;
  measure_ = new QComboBox(this);
  measure_->setObjectName("shownAs"), measure_->setAccessibleName("Curve is shown as");
  measure_->addItems({"True stress over plastic strain", "True stress over log strain", "Engineering stress over strain"});
  connect(measure_, &QComboBox::activated, this, &MaterialPage::refresh);
  below->addWidget(measure_);
  said_ = new QLabel(this);
  said_->setObjectName("said"), said_->setWordWrap(true);
  below->addWidget(said_, 1);
  left->addLayout(below);
  columns->addLayout(left, 1);
  auto* area = new QScrollArea(this);
  area->setWidgetResizable(true), area->setFixedWidth(404), area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* body = new QWidget(area);
  body->setObjectName("plain");
  auto* side = new QVBoxLayout(body);
  side->setContentsMargins(8, 0, 14, 0);
  metal_ = new QWidget(body);
  auto* metal = new QVBoxLayout(metal_);
  metal->setContentsMargins(0, 0, 0, 0);
  buildTable(metal), buildLaws(metal);
  rubber_ = new QWidget(body);
  auto* rubber = new QVBoxLayout(rubber_);
  rubber->setContentsMargins(0, 0, 0, 0);
  buildRubber(rubber);
  buildData(side);
  side->addWidget(metal_), side->addWidget(rubber_), side->addStretch();
  area->setWidget(body);
  columns->addWidget(area);
  layout->addLayout(columns, 1);

  connect(plot_, &CurvePlot::dragBegun, this, [this] { gesture_ = document_.newGesture(); });
  connect(plot_, &CurvePlot::pickChanged, this, [this] { slope_->setEnabled(plot_->picked().size() == 2); });
  connect(plot_, &CurvePlot::dragged, this, [this](int point, const QPointF& to) {
    const auto now = rows();
    const double E = young();
    if (size_t(point) >= now.size()) return;
    // back from what is shown to the plastic, true point, between its neighbours
    TestPoint p{to.x(), std::max(1e-6, to.y())};
    p = material::plasticTrue(p, {measure_->currentIndex() > 0, measure_->currentIndex() == 2}, E);
    const auto plastic = [&](size_t i) { return material::plasticTrue(now[i], meaning(), E); };
    const auto i = size_t(point);
    p.strain = i == 0 ? 0 : std::max(p.strain, plastic(i - 1).strain * (1 + 1e-6) + 1e-9);
    if (i + 1 < now.size()) p.strain = std::min(p.strain, plastic(i + 1).strain * (1 - 1e-6));
    if (i > 0) p.stress = std::max(p.stress, plastic(i - 1).stress);
    if (i + 1 < now.size()) p.stress = std::min(p.stress, plastic(i + 1).stress);
    document_.drag("a point of " + name_, gesture_, [&](model::Document& d) {
      if (auto* m = d.materials.find(name_.toStdString()))
        setRow(*m, i, material::asRow(p, meaning(), E), i > 0 || meaning().total, true);
    });
  });
  connect(&document_, &DocumentStore::changed, this, [this] {
    if (isVisible()) refresh();
  });
  connect(&units(), &ShownUnits::changed, this, [this] {
    if (isVisible()) refresh();
  });
}

void MaterialPage::show(const QString& name) {
  if (name != name_) pasted_.reset(), tests_.clear();
  name_ = name;
  say({});
  refresh();
}

void MaterialPage::say(const QString& words) { said_->setText(words); }

const model::Material* MaterialPage::material() const { return document_.document().materials.find(name_.toStdString()); }

double MaterialPage::young() const {
  const auto* m = material();
  if (!m || !m->elastic.E.given()) throw Error("Young's modulus is missing", {}, "Give it first.");
  return model::Quantities(document_.document())(m->elastic.E, Kind::stress, "materials/" + name_.toStdString() + "/elastic/E");
}

material::RowMeaning MaterialPage::meaning() const {
  const auto* m = material();
  if (!m || !m->plastic) return {};
  return {m->plastic->strain == "total", m->plastic->stress == "engineering"};
}

std::vector<TestPoint> MaterialPage::rows() const {
  std::vector<TestPoint> list;
  const auto* m = material();
  if (!m || !m->plastic) return list;
  const model::Quantities q(document_.document());
  for (const auto& row : m->plastic->rows)
    if (row.size() == 2) list.push_back({q(row[0], Kind::number, "rows"), q(row[1], Kind::stress, "rows")});
  return list;
}

void MaterialPage::setRow(model::Material& m, size_t row, const TestPoint& value, bool strain, bool stress) const {
  if (!m.plastic || row >= m.plastic->rows.size()) return;
  auto& cells = m.plastic->rows[row];
  const auto rounded = [](double v) { return model::Entry(QString::number(v, 'g', 6).toDouble()); };
  const auto& unit = document_.document().units.stress;
  if (strain) cells[0] = rounded(value.strain);
  if (stress) cells[1] = rounded(conversion(unit, Kind::stress).fromCore(value.stress));
}

QPointF MaterialPage::shown(const TestPoint& p) const {
  const auto row = material::asRow(p, {measure_->currentIndex() > 0, measure_->currentIndex() == 2}, young());
  return {row.strain, row.stress};
}

void MaterialPage::edit(const QString& what, const std::function<void(model::Material&)>& change) {
  try {
    document_.edit(what + " of " + name_, [&](model::Document& d) {
      if (auto* m = d.materials.find(name_.toStdString())) change(*m);
    });
  } catch (const Error& e) {
    say(QString::fromStdString(model::inWords(e)));
  }
}

void MaterialPage::buildTable(QVBoxLayout* side) {
  auto* label = new QLabel("TABLE", this);
  label->setObjectName("head");
  side->addWidget(label);
  auto* are = new QHBoxLayout;
  strainIs_ = new QComboBox(this), stressIs_ = new QComboBox(this);
  strainIs_->addItem("Plastic strains", "plastic"), strainIs_->addItem("Total strains", "total");
  stressIs_->addItem("True stresses", "true"), stressIs_->addItem("Engineering stresses", "engineering");
  strainIs_->setObjectName("tableStrains"), stressIs_->setObjectName("tableStresses");
  connect(strainIs_, &QComboBox::activated, this, [this] {
    edit("strains", [this](model::Material& m) {
      if (m.plastic) m.plastic->strain = strainIs_->currentData().toString().toStdString();
    });
  });
  connect(stressIs_, &QComboBox::activated, this, [this] {
    edit("stresses", [this](model::Material& m) {
      if (m.plastic) m.plastic->stress = stressIs_->currentData().toString().toStdString();
    });
  });
  are->addWidget(strainIs_), are->addWidget(stressIs_);
  side->addLayout(are);
  table_ = new QTableWidget(0, 4, this);
  table_->setObjectName("hardeningTable"), table_->setAccessibleName("Hardening table");
  table_->verticalHeader()->setDefaultSectionSize(26), table_->verticalHeader()->setVisible(false);
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
  table_->setMinimumHeight(190);
  connect(table_, &QTableWidget::cellChanged, this, &MaterialPage::cellEdited);
  side->addWidget(table_);
  auto* acts = new QHBoxLayout;
  const auto button = [&](const QString& text, const QString& object, auto act) {
    auto* b = new QPushButton(text, this);
    b->setObjectName(object), b->setProperty("framed", true);
    connect(b, &QPushButton::clicked, this, act);
    acts->addWidget(b);
    return b;
  };
  button("Add a row", "addTableRow", [this] {
    edit("a row more", [this](model::Material& m) {
      if (!m.plastic) return;
      auto& rows = m.plastic->rows;
      if (rows.size() < 2)
        return void(
            rows.push_back(rows.empty() ? std::vector<model::Entry>{0, 250} : std::vector<model::Entry>{0.1, rows.back()[1]}));
      const auto now = this->rows();
      rows.push_back(rows.back());
      setRow(m, rows.size() - 1, {2 * now.back().strain - now[now.size() - 2].strain, now.back().stress}, true, false);
    });
  });
  button("Take rows out", "removeTableRows", [this] {
    std::vector<int> chosen = plot_->picked();
    for (const auto* item : table_->selectedItems()) chosen.push_back(item->row());
    if (chosen.empty() && table_->currentRow() >= 0) chosen = {table_->currentRow()};
    std::sort(chosen.begin(), chosen.end(), std::greater<>()),
        chosen.erase(std::unique(chosen.begin(), chosen.end()), chosen.end());
    edit("rows less", [&](model::Material& m) {
      for (int row : chosen)
        if (m.plastic && size_t(row) < m.plastic->rows.size()) m.plastic->rows.erase(m.plastic->rows.begin() + row);
    });
  });
  acts->addStretch();
  side->addLayout(acts);
}

void MaterialPage::buildLaws(QVBoxLayout* side) {
  auto* label = new QLabel("LAWS", this);
  label->setObjectName("head");
  side->addWidget(label);
  auto* box = new QWidget(this);
  auto* flow = new FlowLayout(box, 6);
  const auto button = [&](const QString& text, const QString& object, const QString& tip, auto act) {
    auto* b = new QPushButton(text, box);
    b->setObjectName(object), b->setProperty("framed", true), b->setToolTip(tip);
    connect(b, &QPushButton::clicked, this, act);
    flow->addWidget(b);
    return b;
  };
  button("Make a table", "makeTable", "Rows along the law as it is now", [this] { makeTable(); });
  slope_ = button("Slope through two points", "bilinear", "Click two points of the curve: a straight law through them",
                  [this] { bilinear(); });
  slope_->setEnabled(false);
  button("Fit a power law", "fitPower", "yield (1 + strain/reference)^exponent through the rows", [this] { fitHardening(true); });
  button("Fit a saturating law", "fitVoce", "yield + gain (1 - exp(-rate strain)) + slope strain through the rows",
         [this] { fitHardening(false); });
  side->addWidget(box);
}

void MaterialPage::fillTable() {
  filling_ = true;
  const auto* m = material();
  const bool tabled = m && m->plastic && !m->plastic->rows.empty();
  const auto mean = meaning();
  strainIs_->setCurrentIndex(mean.total), stressIs_->setCurrentIndex(mean.engineering);
  for (auto* w : {strainIs_, stressIs_}) w->setEnabled(tabled);
  const auto unit = units().unit(Kind::stress);
  table_->setHorizontalHeaderLabels({"Strain", "Stress, " + unit, "Plastic, log", "True, " + unit});
  std::vector<TestPoint> now;
  double E = 0;
  try {
    now = rows(), E = young();
  } catch (const Error& e) {
    say(QString::fromStdString(model::inWords(e)));
  }
  table_->setRowCount(int(now.size()));
  for (int i = 0; i < int(now.size()); ++i) {
    const auto own = material::plasticTrue(now[size_t(i)], mean, E);
    const QString texts[4] = {
        app::shown(now[size_t(i)].strain, 6), app::shown(units().from(now[size_t(i)].stress, Kind::stress), 6),
        app::shown(std::abs(own.strain) < 1e-12 ? 0 : own.strain, 5), app::shown(units().from(own.stress, Kind::stress), 5)};
    for (int k = 0; k < 4; ++k) {
      auto* item = new QTableWidgetItem(texts[k]);
      item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      if (k > 1) item->setFlags(Qt::ItemIsEnabled), item->setForeground(palette().brush(QPalette::PlaceholderText));
      table_->setItem(i, k, item);
    }
  }
  filling_ = false;
}

void MaterialPage::cellEdited(int row, int column) {
  if (filling_ || column > 1) return;
  const auto text = table_->item(row, column)->text();
  const auto entry = typed(text);
  if (!entry.given()) return fillTable();
  edit(column ? "a stress" : "a strain", [&](model::Material& m) {
    if (!m.plastic || size_t(row) >= m.plastic->rows.size()) return;
    if (entry.number)
      setRow(m, size_t(row), {*entry.number, units().toCore(*entry.number, Kind::stress)}, column == 0, column == 1);
    else
      m.plastic->rows[size_t(row)][size_t(column)] = entry;
  });
  fillTable();
}

/// Everything as the material has it now.
void MaterialPage::refresh() {
  title_->setText(name_ + ": curve and table");
  const auto* m = material();
  if (!m) return emit left();  // it was taken out, or renamed
  metal_->setVisible(!m->rubber), rubber_->setVisible(m->rubber.has_value()), measure_->setVisible(!m->rubber);
  fillTable();
  CurvePlot::Content c;
  c.across = m->rubber                       ? "nominal strain"
             : measure_->currentIndex() == 0 ? "plastic strain"
             : measure_->currentIndex() == 1 ? "log strain"
                                             : "engineering strain";
  const std::string path = "materials/" + name_.toStdString();
  try {
    const model::Quantities q(document_.document());
    if (m->rubber) {
      const auto law = analysis::rubberLaw(*m, q, path);
      double end = 1;
      for (const auto& t : tests_)
        for (const auto& p : t.points) end = std::max(end, p.strain);
      for (const auto& t : tests_) {
        auto& dots = c.tests.emplace_back();
        auto& line = c.fitted.emplace_back();
        for (const auto& p : t.points) dots.emplace_back(p.strain, p.stress);
        for (int i = 0; i <= 80; ++i) line.emplace_back(end * i / 80, material::nominalStress(law, t.test, end * i / 80));
      }
      if (tests_.empty())
        for (int i = 0; i <= 80; ++i)
          c.law.emplace_back(2. * i / 80, material::nominalStress(law, material::RubberTest::oneWay, 2. * i / 80));
    } else if (m->plastic) {
      const auto now = rows();
      for (const auto& r : now) c.table.push_back(shown(material::plasticTrue(r, meaning(), young())));
      const auto law = analysis::plasticLaw(*m, q, path);
      const double end = std::max({0.02, law.hardening.span() * (now.empty() ? 1 : 1.05)});
      if (measure_->currentIndex() > 0) c.law.emplace_back(0, 0);
      for (int i = 0; i <= 200; ++i) c.law.push_back(shown({end * i / 200, law.yieldAt(end * i / 200)}));
    } else {
      c.law = {{0, 0}, {0.005, 0.005 * young()}};
    }
  } catch (const Error& e) {
    c.trouble = units().inWords(QString::fromStdString(model::inWords(e)));
  }
  if (pasted_) {
    try {
      const auto curve = material::curveOf(*pasted_, reading_);
      auto& dots = c.tests.emplace_back();
      if (m->rubber) {
        for (const auto& p : curve) dots.emplace_back(p.strain, p.stress);
      } else {
        const double E = young();
        const auto own = trueData();
        for (const auto& p : own)
          if (p.strain > -0.9) dots.push_back(shown({p.strain - p.stress / E, p.stress}));
        const double at = yieldOfData();
        c.yield = shown({0, at});
      }
    } catch (const Error&) {  // said beside the data
    }
  }
  plot_->setContent(std::move(c));
  slope_->setEnabled(plot_->picked().size() == 2);
  readData();
}

void MaterialPage::takeTypical(size_t which) {
  const auto& t = model::typicalMaterials().at(which);
  edit("typical values", [&](model::Material& m) { m = t.material; });
  say("Values as for " + QString::fromStdString(t.name) + ", typical of textbooks. Take your own for a decision.");
}

}  // namespace anvil::app
