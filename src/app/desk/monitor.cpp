#include <qcustomplot.h>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/desk/desk.hpp"
#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "core/base/text.hpp"

namespace anvil::app {
Monitor::Monitor(RunControl& run, QWidget* parent) : QWidget(parent), run_(run) {
  setObjectName("plain");
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(14, 12, 12, 12);
  head_ = new QLabel("Run", this);
  head_->setObjectName("title");
  layout->addWidget(head_);
  facts_ = new QLabel(this);
  facts_->setWordWrap(true);
  layout->addWidget(facts_);
  plot_ = new QCustomPlot(this);
  plot_->setMinimumHeight(190);
  plot_->addGraph(), plot_->addGraph();
  plot_->yAxis->setScaleType(QCPAxis::stLogarithmic);
  plot_->yAxis->setTicker(QSharedPointer<QCPAxisTickerLog>(new QCPAxisTickerLog));
  plot_->yAxis->setNumberFormat("eb"), plot_->yAxis->setNumberPrecision(0);
  plot_->xAxis->setLabel("iteration"), plot_->yAxis->setLabel("over the limit");
  plot_->graph(0)->setPen(QPen(theme().accent, 1)), plot_->graph(0)->setScatterStyle(QCPScatterStyle(QCPScatterStyle::ssDisc, 4)),
      plot_->graph(0)->setName("residual");
  plot_->graph(1)->setPen(QPen(theme().good, 1)), plot_->graph(1)->setName("correction");
  layout->addWidget(plot_);
  auto* key = new QLabel(
      QString(
          "<span style='color:%1'>●</span> residual force  <span style='color:%2'>—</span> correction; both must fall below 1")
          .arg(theme().accentInk.name(), theme().good.name()),
      this);
  key->setObjectName("help"), key->setWordWrap(true);
  layout->addWidget(key);
  words_ = new QLabel(this);
  words_->setWordWrap(true), words_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  layout->addWidget(words_);
  notes_ = new QLabel(this);
  notes_->setWordWrap(true), notes_->setObjectName("help");
  layout->addWidget(notes_);
  auto* row = new QHBoxLayout;
  const auto button = [&](const QString& text, const QString& name) {
    auto* b = new QPushButton(text, this);
    b->setObjectName("framed"), b->setAccessibleName(name);
    row->addWidget(b);
    return b;
  };
  pause_ = button("Pause", "pause"), stop_ = button("Stop and keep", "stop"), resume_ = button("Continue", "continue");
  layout->addLayout(row);
  layout->addStretch();
  connect(pause_, &QPushButton::clicked, this,
          [this] { run_.state() == RunControl::State::paused ? run_.resume() : run_.pause(); });
  connect(stop_, &QPushButton::clicked, &run_, &RunControl::stop);
  connect(resume_, &QPushButton::clicked, this, &Monitor::continueAsked);
  connect(&run_, &RunControl::changed, this, &Monitor::refresh);
  connect(&run_, &RunControl::iterated, this, &Monitor::refresh);
  refresh();
}

void Monitor::refresh() {
  using State = RunControl::State;
  const auto s = run_.state();
  head_->setText(s == State::running    ? "Running"
                 : s == State::paused   ? "Paused"
                 : s == State::finished ? "Finished"
                 : s == State::stopped  ? "Stopped"
                 : s == State::failed   ? "The run ended early"
                                        : "Run");
  pause_->setVisible(run_.active()), stop_->setVisible(run_.active());
  resume_->setVisible(s == State::stopped || s == State::failed);
  pause_->setText(s == State::paused ? "Resume" : "Pause");
  words_->setText(units().inWords(run_.message()) +
                  (run_.remedy().isEmpty() ? "" : "<br><b>Try:</b> " + units().inWords(run_.remedy()).toHtmlEscaped()));
  notes_->setText(units().inWords(run_.notes().mid(std::max<qsizetype>(0, run_.notes().size() - 2)).join("\n")));
  const auto& list = run_.iterations();
  if (!list.isEmpty()) {
    const auto& l = list.back();
    facts_->setText(QString("step <b>%1</b>, increment %2, iteration %3<br>time %4, size %5%6")
                        .arg(l.step.toHtmlEscaped())
                        .arg(l.increment)
                        .arg(l.iteration)
                        .arg(units().quantity(l.time, Kind::time, 4), units().quantity(l.size, Kind::time, 4))
                        .arg(l.contactChanges
                                 ? QString("<br>%1 contact change%2").arg(l.contactChanges).arg(l.contactChanges == 1 ? "" : "s")
                                 : QString()));
    if (run_.active()) emit nodeAsked(l.worstNode);
  } else {
    facts_->setText(run_.active() ? "Starting…" : "Press Run to solve the model increment by increment.");
  }
  if (!run_.active()) emit nodeAsked(s == State::failed && !list.isEmpty() ? list.back().worstNode : -1);
  const int from = std::max<int>(0, int(list.size()) - 60);
  QVector<double> x, r, c;
  for (int i = from; i < list.size(); ++i) {
    x << i + 1;
    r << std::max(1e-6, list[i].force / std::max(list[i].forceLimit, 1e-300));
    c << std::max(1e-6, list[i].correction / std::max(list[i].correctionLimit, 1e-300));
  }
  plot_->graph(0)->setData(x, r, true), plot_->graph(1)->setData(x, c, true);
  plot_->xAxis->setRange(from + 0.5, std::max<int>(from + 10, int(list.size())) + 0.5);
  plot_->yAxis->setRange(1e-4, 1e8);
  for (auto* axis : {plot_->xAxis, plot_->yAxis}) {
    axis->setTickLabelColor(theme().faint), axis->setLabelColor(theme().faint), axis->setBasePen(QPen(theme().line)),
        axis->setTickPen(QPen(theme().line));
    axis->setSubTickPen(Qt::NoPen), axis->grid()->setPen(QPen(theme().line, 1, Qt::DotLine)),
        axis->grid()->setZeroLinePen(Qt::NoPen);
  }
  plot_->setBackground(theme().paper);
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

}  // namespace anvil::app
