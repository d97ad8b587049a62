#include "app/desk/mesh_page.hpp"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHelpEvent>
#include <QLabel>
#include <QPainter>
#include <QPointer>
#include <QPushButton>
#include <QScrollArea>
#include <QThread>
#include <QToolTip>
#include <QVBoxLayout>
#include <cmath>

#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "core/base/text.hpp"
#include "core/checks/estimate.hpp"
#include "core/model/document.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {
namespace {

constexpr int classes = 20;

QString number(double v, int digits) { return QString::fromStdString(shortNumber(v, digits)); }

}  // namespace

QualityBars::QualityBars(QWidget* parent) : QWidget(parent) {
  setObjectName("qualityBars");
  setMinimumHeight(116), setMouseTracking(true);
}

void QualityBars::setCounts(const std::vector<int>& counts) {
  counts_ = counts;
  update();
}

QRectF QualityBars::bar(int i) const {
  int most = 1;
  for (int c : counts_) most = std::max(most, c);
  const double w = double(width()) / classes, foot = height() - 20, full = foot - 14;
  const double h = counts_[size_t(i)] ? std::max(3., full * std::log1p(counts_[size_t(i)]) / std::log1p(most)) : 0;
  return {i * w + 1, foot - h, w - 2, h};
}

int QualityBars::classAt(const QPointF& at) const { return std::clamp(int(at.x() / width() * classes), 0, classes - 1); }

void QualityBars::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const double foot = height() - 20;
  for (int i = 0; i < classes && size_t(i) < counts_.size(); ++i) {
    p.setPen(Qt::NoPen), p.setBrush(qualityColor((i + 0.5) / classes));
    p.drawRect(bar(i));
  }
  p.setPen(theme().line), p.drawLine(QPointF(0, foot + 0.5), QPointF(width(), foot + 0.5));
  const QPen wanted(theme().accent, 1, Qt::DashLine);
  p.setPen(wanted), p.drawLine(QPointF(0.1 * width(), 2), QPointF(0.1 * width(), foot));
  p.setPen(theme().faint);
  for (const double at : {0., 0.1, 0.5, 1.}) {
    const QString text = number(at, 2);
    const double w = p.fontMetrics().horizontalAdvance(text);
    p.drawText(QPointF(std::clamp(at * width() - w / 2, 0., width() - w), height() - 5), text);
  }
}

bool QualityBars::event(QEvent* e) {
  if (e->type() != QEvent::ToolTip || counts_.empty()) return QWidget::event(e);
  const auto* help = static_cast<QHelpEvent*>(e);
  const int i = classAt(help->pos());
  QToolTip::showText(
      help->globalPos(),
      QString("%1 elements from %2 to %3").arg(counts_[size_t(i)]).arg(i / double(classes)).arg((i + 1) / double(classes)), this);
  return true;
}

MeshPage::MeshPage(DocumentStore& document, Preparation& preparation, QWidget* parent)
    : QWidget(parent), document_(document), preparation_(preparation) {
  setObjectName("plain");
  auto* outer = new QVBoxLayout(this);
  outer->setContentsMargins(14, 12, 12, 12);
  const auto label = [&](const char* name, const char* style) {
    auto* l = new QLabel(this);
    l->setObjectName(style), l->setWordWrap(true), l->setProperty("part", name);
    outer->addWidget(l);
    return l;
  };
  auto* title = label("title", "title");
  title->setText("Mesh");
  counts_ = label("counts", "words");
  cost_ = label("cost", "help");
  auto* line = new QHBoxLayout;
  line->addWidget(new QLabel("Fineness", this));
  fineness_ = new QComboBox(this), fineness_->setObjectName("fineness");
  fineness_->addItems({"draft", "usual", "fine"});
  fineness_->setToolTip(
      "All meshes of the model at once: draft has elements 1.6 times as long and about half as many round a circle, fine 0.6 "
      "times.");
  line->addWidget(fineness_, 1);
  outer->addLayout(line);
  connect(fineness_, &QComboBox::activated, this, [this] {
    const auto wanted = fineness_->currentText().toStdString();
    if (wanted != document_.document().fineness)
      document_.edit("fineness " + fineness_->currentText(), [&](model::Document& d) { d.fineness = wanted; });
  });
  auto* head = label("head", "head");
  head->setText("ELEMENTS BY SCALED JACOBIAN");
  bars_ = new QualityBars(this);
  outer->addWidget(bars_);
  least_ = label("least", "help");
  body_ = new QWidget;
  body_->setObjectName("plain");
  list_ = new QVBoxLayout(body_);
  list_->setContentsMargins(0, 0, 0, 0), list_->setSpacing(1);
  auto* scroll = new QScrollArea(this);
  scroll->setWidget(body_), scroll->setWidgetResizable(true), scroll->setFrameShape(QFrame::NoFrame),
      scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  outer->addWidget(scroll, 1);
  connect(&preparation_, &Preparation::ready, this, [this] {
    if (isVisible()) examine();
  });
}

void MeshPage::examine() {
  const auto& mesh = preparation_.header().mesh;
  fineness_->setCurrentText(QString::fromStdString(document_.document().fineness));
  while (auto* item = list_->takeAt(0)) {
    if (item->widget()) item->widget()->hide(), item->widget()->deleteLater();
    delete item;
  }
  std::vector<int> counts(classes, 0);
  size_t cells = 0;
  for (const auto& b : mesh.blocks)
    for (size_t c = 0; c < b.count(); ++c, ++cells)
      ++counts[size_t(std::clamp(int(mesh::scaledJacobian(mesh, b, c) * classes), 0, classes - 1))];
  bars_->setCounts(counts);
  worst_ = mesh::worstCells(mesh, 12);
  for (const auto& l : mesh.lines) cells += l.count();
  if (cells == 0) {
    counts_->setText("There is no mesh yet.");
    cost_->setText(preparation_.trouble()), least_->clear();
    return;
  }
  const QLocale plain(QLocale::C);
  const auto grouped = [&](size_t n) { return plain.toString(qulonglong(n)).replace(",", " "); };
  const size_t turns = mesh.turnNode.size() * (mesh.dim == 2 ? 1 : 3);
  counts_->setText(grouped(mesh.x.size() * size_t(mesh.dim) + turns) + " unknowns · " + grouped(mesh.x.size()) + " nodes · " +
                   grouped(cells) + " elements");
  const int bad = counts[0] + counts[1];
  least_->setText((mesh.blocks.empty() ? QString("Slender elements have no shape to be bad.")
                   : bad               ? QString("%1 below 0.1, the least that is sound.").arg(bad)
                                       : QString("All above 0.1, the least that is sound.")) +
                  (mesh.blocks.empty() ? QString() : QString(" Heights are logarithmic.")));
  const auto add = [&](QWidget* w) { list_->addWidget(w); };
  const auto heading = [&](const QString& text) {
    auto* l = new QLabel(text, body_);
    l->setObjectName("head");
    add(l);
  };
  heading("PARTS");
  for (const auto& line : mesh.lines) {
    double length = 0;
    for (size_t c = 0; c < line.count(); ++c)
      length += (mesh.x[size_t(line.nodes[c + 1])] - mesh.x[size_t(line.nodes[c])]).norm();
    auto* l = new QLabel(QString("%1<br><span style='color:%2'>%3 slender · edges %4</span>")
                             .arg(QString::fromStdString(line.name).toHtmlEscaped(), theme().faint.name(), grouped(line.count()),
                                  units().quantity(length / double(line.count()), Kind::length, 3)),
                         body_);
    add(l);
  }
  for (const auto& b : mesh.blocks) {
    const auto q = mesh::quality(mesh, b);
    const QString warp = b.thin() ? " · warped by up to " + number(q.greatestWarp, 2) + "°" : QString();
    auto* l = new QLabel(QString("%1<br><span style='color:%2'>%3 %4 · edges %5 to %6 · from %7 · aspect up to %8%9</span>")
                             .arg(QString::fromStdString(mesh.parts[size_t(b.part)]).toHtmlEscaped(), theme().faint.name(),
                                  grouped(b.count()), mesh::info(b.type).name, units().number(q.shortestEdge, Kind::length, 2),
                                  units().quantity(q.longestEdge, Kind::length, 2), number(q.leastScaledJacobian, 2))
                             .arg(number(q.greatestAspect, 2), warp),
                         body_);
    l->setWordWrap(true), l->setContentsMargins(2, 2, 2, 2);
    add(l);
  }
  heading("THE WORST");
  for (const auto& w : worst_) {
    const auto& block = mesh.blocks[size_t(w.block)];
    auto* b = new QPushButton(
        QString("%1   %2, near %3, %4")
                .arg(number(w.scaledJacobian, 2), QString::fromStdString(mesh.parts[size_t(block.part)]),
                     units().number(w.middle.x(), Kind::length, 3), units().number(w.middle.y(), Kind::length, 3)) +
            (mesh.dim == 3 ? ", " + units().number(w.middle.z(), Kind::length, 3) : QString()),
        body_);
    b->setObjectName("row"), b->setFlat(true), b->setStyleSheet("text-align:left;padding:3px 2px"), b->setToolTip("Show it");
    const double size =
        6 * mesh::quality(
                mesh,
                {block.type, block.part, {block.cell(size_t(w.cell)), block.cell(size_t(w.cell)) + mesh::info(block.type).nodes}})
                .longestEdge;
    connect(b, &QPushButton::clicked, this, [this, at = w.middle, size] { emit looked(at, size); });
    add(b);
  }
  list_->addStretch();
  askCost();
  if (isVisible()) emit colouring(true);
}

/// The symbolic factorisation takes its time on large meshes: beside the window.
void MeshPage::askCost() {
  cost_->setText("Working out what a run takes …");
  const auto number = ++asked_;
  auto* worker = QThread::create(
      [self = QPointer<MeshPage>(this), number, document = document_.document(), mesh = preparation_.header().mesh] {
        QString words;
        try {
          words = "A run takes " + QString::fromStdString(checks::inWords(checks::estimate(document, mesh))) + ".";
        } catch (const std::exception& e) {
          words = e.what();
        }
        QMetaObject::invokeMethod(
            qApp,
            [self, number, words] {
              if (self && self->asked_ == number) self->cost_->setText(words);
            },
            Qt::QueuedConnection);
      });
  connect(worker, &QThread::finished, worker, &QObject::deleteLater);
  worker->start();
}

QString MeshPage::cost() const { return cost_->text(); }
void MeshPage::showEvent(QShowEvent*) { emit colouring(true); }
void MeshPage::hideEvent(QHideEvent*) { emit colouring(false); }

}  // namespace anvil::app
