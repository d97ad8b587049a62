#include "app/curves/curves_page.hpp"

#include <qcustomplot.h>
#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/base/text.hpp"

namespace anvil::app {
namespace {

QString number(double v) { return QString::fromStdString(shortNumber(v, 5)); }

const char* const lineColors[] = {"#C2501D", "#2B7F74", "#4C6A87", "#8A5A9E", "#8A7A4A", "#23282D"};

}  // namespace

Kind CurvesPage::kindOf(const QString& name) const {
  if (name == "time") return Kind::time;
  if (!results_.isOpen()) return Kind::number;
  for (const auto& t : results_.traces())
    if (t.name() == name) return results_.kindOf(t.field);
  const auto& h = results_.header();
  const auto at = std::find(h.historyNames.begin(), h.historyNames.end(), name.toStdString());
  return at == h.historyNames.end() ? Kind::number : kindOfCoreUnit(h.historyUnits[size_t(at - h.historyNames.begin())]);
}

std::vector<double> CurvesPage::inShownUnits(std::vector<double> values, Kind kind) {
  for (double& v : values) v = units().from(v, kind);
  return values;
}

CurvesPage::CurvesPage(ResultStore& results, QWidget* parent) : QWidget(parent), results_(results) {
  setObjectName("page");
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(16, 14, 16, 14), layout->setSpacing(14);
  auto* side = new QVBoxLayout;
  const auto head = [&](const QString& text) {
    auto* l = new QLabel(text, this);
    l->setObjectName("head");
    side->addWidget(l);
  };
  head("ACROSS");
  x_ = new QComboBox(this);
  x_->setObjectName("curveX"), x_->setAccessibleName("Horizontal axis");
  side->addWidget(x_);
  head("UP — TICK ONE OR SEVERAL");
  y_ = new QListWidget(this);
  y_->setObjectName("curveY"), y_->setAccessibleName("Curves");
  side->addWidget(y_);
  head("OTHER RUNS");
  runs_ = new QListWidget(this);
  runs_->setObjectName("laidRuns"), runs_->setMaximumHeight(112);
  runs_->setToolTip("Dashed. A double click takes one off.");
  side->addWidget(runs_);
  auto* both = new QHBoxLayout;
  keep_ = new QPushButton("Keep this one", this), add_ = new QPushButton("Add a run…", this);
  keep_->setToolTip("Keeps the curves of the run on show, so that those of the next lie over them.");
  for (auto* b : {keep_, add_}) b->setObjectName("framed"), both->addWidget(b);
  side->addLayout(both);
  connect(keep_, &QPushButton::clicked, this, &CurvesPage::keep);
  connect(add_, &QPushButton::clicked, this, [this] {
    if (const auto file = QFileDialog::getOpenFileName(this, "Add a run", {}, "Results (*.h5)"); !file.isEmpty()) add(file);
  });
  connect(runs_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
    if (filling_) return;
    laid_[size_t(runs_->row(item))].shown = item->checkState() == Qt::Checked;
    redraw();
  });
  connect(runs_, &QListWidget::itemDoubleClicked, this, [this](QListWidgetItem* item) { forget(runs_->row(item)); });
  y_->installEventFilter(this), runs_->installEventFilter(this);
  copy_ = new QPushButton("Copy as CSV", this), save_ = new QPushButton("Save CSV…", this);
  for (auto* b : {copy_, save_}) b->setObjectName("framed"), side->addWidget(b);
  auto* left = new QWidget(this);
  left->setLayout(side), left->setFixedWidth(290), side->setContentsMargins(0, 0, 0, 0);
  layout->addWidget(left);
  auto* right = new QVBoxLayout;
  plot_ = new QCustomPlot(this);
  plot_->setInteractions(QCP::iRangeDrag | QCP::iRangeZoom);
  right->addWidget(plot_, 1);
  read_ = new QLabel("Move over the plot to read values off.", this);
  read_->setObjectName("readOff");
  right->addWidget(read_);
  layout->addLayout(right, 1);
  connect(x_, &QComboBox::textActivated, this, &CurvesPage::redraw);
  connect(y_, &QListWidget::itemChanged, this, [this] {
    if (!filling_) redraw();
  });
  connect(&results_, &ResultStore::changed, this, &CurvesPage::reload);
  connect(&results_, &ResultStore::tracesChanged, this, &CurvesPage::reload);
  connect(&units(), &ShownUnits::changed, this, &CurvesPage::redraw);
  connect(plot_, &QCustomPlot::mouseMove, this,
          [this](QMouseEvent* e) { cursor(plot_->xAxis->pixelToCoord(e->position().x())); });
  connect(plot_, &QCustomPlot::mouseDoubleClick, this, [this] { plot_->rescaleAxes(), plot_->replot(); });
  connect(copy_, &QPushButton::clicked, this, [this] { QApplication::clipboard()->setText(csv()); });
  connect(save_, &QPushButton::clicked, this, [this] {
    const auto path = QFileDialog::getSaveFileName(this, "Save curves", "curves.csv", "Tables (*.csv)");
    if (path.isEmpty()) return;
    try {
      writeWhole(path.toStdString(), csv().toStdString());
    } catch (const Error& e) {
      read_->setText(e.what());
    }
  });
  reload();
}

void CurvesPage::keep() {
  if (!results_.isOpen() || results_.times().empty()) return;
  laid_.push_back(keptRun(results_));
  fillRuns();
  read_->setText("Kept: it stays, dashed, when the model is run again.");
}

void CurvesPage::add(const QString& file) {
  try {
    laid_.push_back(readRun(file));
  } catch (const Error& e) {
    read_->setText(e.what());
  }
  fillRuns();
}

void CurvesPage::forget(int run) {
  if (run < 0 || size_t(run) >= laid_.size()) return;
  laid_.erase(laid_.begin() + run);
  fillRuns();
}

/// Names by what sets the runs apart from the one on show.
void CurvesPage::fillRuns() {
  filling_ = true;
  runs_->clear();
  for (const auto& run : laid_) {
    auto* item =
        new QListWidgetItem(results_.isOpen() ? whatDiffers(run.model, results_.header().model, run.name) : run.name, runs_);
    item->setFlags(Qt::ItemIsUserCheckable | Qt::ItemIsEnabled), item->setCheckState(run.shown ? Qt::Checked : Qt::Unchecked);
  }
  filling_ = false;
  keep_->setEnabled(results_.isOpen());
  redraw();
}

std::vector<CurvesPage::Drawn> CurvesPage::drawn() const {
  std::vector<Drawn> list;
  int color = 0;
  for (int i = 0; i < y_->count(); ++i) {
    if (y_->item(i)->checkState() != Qt::Checked) continue;
    const QString name = y_->item(i)->text();
    const Kind kind = kindOf(name);
    list.push_back({name, kind, column(x_->currentText()), column(name), color, true});
    for (size_t k = 0; k < laid_.size(); ++k)
      if (auto y = laid_[k].column(name); laid_[k].shown && !y.empty())
        list.push_back({name + " · " + runs_->item(int(k))->text(), kind,
                        inShownUnits(laid_[k].column(x_->currentText()), kindOf(x_->currentText())),
                        inShownUnits(std::move(y), kind), color, false});
    ++color;
  }
  return list;
}

void CurvesPage::reload() {
  keep_->setEnabled(results_.isOpen());
  if (!results_.isOpen()) {
    filling_ = true, x_->clear(), y_->clear(), names_.clear(), filling_ = false;
    redraw();
    return;
  }
  std::vector<std::string> names = results_.header().historyNames;
  for (const auto& t : results_.traces()) names.push_back(t.name().toStdString());
  if (names != names_) {
    const bool fresh = names_.empty();
    names_ = names;
    filling_ = true;
    const QString x = x_->currentText();
    QStringList ticked;
    for (int i = 0; i < y_->count(); ++i)
      if (y_->item(i)->checkState() == Qt::Checked) ticked << y_->item(i)->text();
    x_->clear(), y_->clear();
    x_->addItem("time");
    QString firstForce, firstTravel;
    for (const auto& n : names) {
      const auto name = QString::fromStdString(n);
      x_->addItem(name);
      auto* item = new QListWidgetItem(name, y_);
      item->setFlags(Qt::ItemIsUserCheckable | Qt::ItemIsEnabled);
      item->setCheckState(ticked.contains(name) ? Qt::Checked : Qt::Unchecked);
      if (firstTravel.isEmpty() && name.startsWith("motions/") && name.endsWith("travel")) firstTravel = name;
    }
    x_->setCurrentText(x.isEmpty() ? "time" : x);
    // force against displacement of the first motion to begin with
    if (fresh && !firstTravel.isEmpty()) {
      const auto prefix = firstTravel.chopped(6);
      double most = -1;
      for (const auto& n : names) {
        const auto name = QString::fromStdString(n);
        if (!name.startsWith(prefix + "force")) continue;
        double size = 0;
        for (double v : column(name)) size = std::max(size, std::abs(v));
        if (size > most) most = size, firstForce = name;
      }
      x_->setCurrentText(firstTravel);
      for (auto* item : y_->findItems(firstForce, Qt::MatchExactly)) item->setCheckState(Qt::Checked);
    }
    filling_ = false;
  }
  fillRuns();
}

std::vector<double> CurvesPage::column(const QString& name) const {
  if (name == "time") return inShownUnits(results_.times(), Kind::time);
  for (const auto& t : results_.traces())
    if (t.name() == name) return inShownUnits(t.values, kindOf(name));
  const auto* values = results_.history(name);
  return values ? inShownUnits(*values, kindOf(name)) : std::vector<double>{};
}

void CurvesPage::plot(const QString& x, const QStringList& y) {
  filling_ = true;
  x_->setCurrentText(x);
  for (int i = 0; i < y_->count(); ++i) y_->item(i)->setCheckState(y.contains(y_->item(i)->text()) ? Qt::Checked : Qt::Unchecked);
  filling_ = false;
  redraw();
}

void CurvesPage::redraw() {
  plot_->clearPlottables(), plot_->clearItems();
  QString yLabel;
  QStringList labels;
  int n = 0, quantities = 0;
  for (const auto& d : drawn()) {
    auto* curve = new QCPCurve(plot_->xAxis, plot_->yAxis);
    QVector<double> t, x, y;
    for (size_t k = 0; k < std::min(d.x.size(), d.y.size()); ++k)
      if (!std::isnan(d.y[k])) t << double(k), x << d.x[k], y << d.y[k];  // a pin has no value where its field is not stored
    curve->setData(t, x, y, true);
    curve->setPen(QPen(QColor(lineColors[d.color % 6]), d.current ? 1 : 1.4, d.current ? Qt::SolidLine : Qt::DashLine));
    if (d.current) curve->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, 4));
    curve->setName(d.name);
    if (d.current) labels << units().unit(d.kind), yLabel = quantities++ == 0 ? d.name : QString();
    ++n;
  }
  labels.removeDuplicates();  // one for all of them, or none
  if (labels.size() == 1 && !labels.front().isEmpty()) yLabel += (yLabel.isEmpty() ? "[" : "  [") + labels.front() + "]";
  const auto unit = units().unit(kindOf(x_->currentText()));
  plot_->xAxis->setLabel(x_->currentText() + (unit.isEmpty() ? "" : "  [" + unit + "]"));
  plot_->yAxis->setLabel(yLabel);
  plot_->legend->setVisible(n > 1);
  plot_->legend->setBrush(theme().raised), plot_->legend->setBorderPen(QPen(theme().line)),
      plot_->legend->setTextColor(theme().ink);
  plot_->setBackground(theme().paper), plot_->axisRect()->setBackground(theme().raised);
  for (auto* axis : {plot_->xAxis, plot_->yAxis}) {
    axis->setTickLabelColor(theme().ink), axis->setLabelColor(theme().ink), axis->setBasePen(QPen(theme().line)),
        axis->setTickPen(QPen(theme().line));
    axis->setSubTickPen(Qt::NoPen), axis->grid()->setPen(QPen(theme().line, 1)),
        axis->grid()->setZeroLinePen(QPen(theme().faint, 1));
  }
  if (n == 0) {
    auto* hint = new QCPItemText(plot_);
    hint->position->setType(QCPItemPosition::ptAxisRectRatio), hint->position->setCoords(0.5, 0.5);
    hint->setText(results_.isOpen() ? "Tick a quantity on the left." : "Curves of the results appear here after a run."),
        hint->setColor(theme().faint);
  }
  plot_->rescaleAxes();
  for (auto* axis : {plot_->xAxis, plot_->yAxis}) axis->scaleRange(1.08);
  plot_->replot();
}

double CurvesPage::readOff(double x) const {
  const auto xs = column(x_->currentText());
  for (int i = 0; i < y_->count(); ++i) {
    if (y_->item(i)->checkState() != Qt::Checked) continue;
    const auto ys = column(y_->item(i)->text());
    for (size_t k = 0; k + 1 < std::min(xs.size(), ys.size()); ++k)
      if ((xs[k] - x) * (xs[k + 1] - x) <= 0 && xs[k] != xs[k + 1])
        return ys[k] + (ys[k + 1] - ys[k]) * (x - xs[k]) / (xs[k + 1] - xs[k]);
  }
  return std::nan("");
}

/// In a list the space bar ticks the line; elsewhere it plays the history.
bool CurvesPage::eventFilter(QObject* object, QEvent* e) {
  if (e->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(e)->key() == Qt::Key_Space) e->accept();
  return QWidget::eventFilter(object, e);
}

void CurvesPage::cursor(double x) {
  plot_->clearItems();
  auto* line = new QCPItemStraightLine(plot_);
  line->point1->setCoords(x, 0), line->point2->setCoords(x, 1), line->setPen(QPen(theme().faint, 1, Qt::DashLine));
  QStringList words{QString("at %1%2:").arg(number(x), units().behind(kindOf(x_->currentText())).mid(1))};
  for (const auto& d : drawn()) {
    QStringList found;  // every crossing: loading and unloading differ
    for (size_t k = 0; k + 1 < std::min(d.x.size(), d.y.size()); ++k)
      if ((d.x[k] - x) * (d.x[k + 1] - x) < 0)
        found << number(d.y[k] + (d.y[k + 1] - d.y[k]) * (x - d.x[k]) / (d.x[k + 1] - d.x[k]));
    words << d.name + " = " + (found.isEmpty() ? "–" : found.mid(0, 4).join(" / ") + units().behind(d.kind).mid(1));
  }
  read_->setText(words.join("   "));
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

/// Columns side by side; a run laid over brings its own x, as its increments are others.
QString CurvesPage::csv() const {
  const auto withUnit = [](const QString& name, Kind kind) {
    return units().unit(kind).isEmpty() ? name : name + " [" + units().unit(kind) + "]";
  };
  const auto across = withUnit(x_->currentText(), kindOf(x_->currentText()));
  QStringList heads{across};
  std::vector<std::vector<double>> columns{column(x_->currentText())};
  for (const auto& d : drawn()) {
    if (!d.current) heads << across + d.name.mid(d.name.indexOf(" · ")), columns.push_back(d.x);
    heads << withUnit(d.name, d.kind), columns.push_back(d.y);
  }
  size_t rows = 0;
  for (const auto& c : columns) rows = std::max(rows, c.size());
  QString text = "\"" + heads.join("\",\"") + "\"\n";
  for (size_t k = 0; k < rows; ++k) {
    QStringList row;
    for (const auto& c : columns) row << (k < c.size() && !std::isnan(c[k]) ? QString::number(c[k], 'g', 12) : QString());
    text += row.join(",") + "\n";
  }
  return text;
}

}  // namespace anvil::app
