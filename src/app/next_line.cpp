#include "app/next_line.hpp"

#include <QHBoxLayout>
#include <QLabel>
#include <QSettings>
#include <QToolButton>
#include <algorithm>

#include "app/theme.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/carriers.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"

namespace anvil::app {
namespace {

const char* const putAwayKey = "nextLinePutAway";

struct Stage {
  const char *key, *words, *help;
};
constexpr Stage stages[] = {{"part", "part", "Add a part"},
                            {"material", "material", "Give each part a material"},
                            {"supports", "supports", "Pick a face, then say how it is held"},
                            {"touching", "what touches", "Find faces that touch each other"},
                            {"steps", "steps", "Loads and motions, step by step"},
                            {"run", "run", "Solve it"}};

bool done(const model::Document& d, const std::string& stage) {
  if (stage == "part") return !d.parts.empty();
  if (stage == "material")
    return !d.parts.empty() && std::all_of(d.parts.begin(), d.parts.end(),
                                           [&](const auto& p) { return p.second.rigid || d.materials.find(p.second.material); });
  if (stage == "supports") return !d.supports.empty();
  if (stage == "touching") return !d.contacts.empty();
  if (stage == "steps")
    return !d.steps.empty() && !(d.loads.empty() && d.motions.empty() && d.bolts.empty() && d.temperatures.empty());
  return false;
}

}  // namespace

NextLine::NextLine(DocumentStore& document, QWidget* parent) : QWidget(parent), document_(document) {
  setObjectName("plain"), setAttribute(Qt::WA_StyledBackground);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(14, 2, 10, 2), row->setSpacing(2);
  row->addWidget(new QLabel("Next:", this));
  for (const auto& stage : stages) {
    if (!stages_.isEmpty()) row->addWidget(new QLabel("→", this));
    auto* b = new QToolButton(this);
    b->setText(stage.words), b->setToolTip(stage.help), b->setObjectName(QString("next-") + stage.key);
    connect(b, &QToolButton::clicked, this, [this, key = QString(stage.key)] { emit asked(key); });
    row->addWidget(b), stages_ << b;
  }
  row->addStretch();
  auto* away = new QToolButton(this);
  away->setText("Put away"), away->setObjectName("next-away"), away->setToolTip("Hides this line, in later models too");
  connect(away, &QToolButton::clicked, this, [this] {
    QSettings("GannetQuay", "UnyieldingAnvil").setValue(putAwayKey, true);
    hide();
  });
  row->addWidget(away);
  connect(&document_, &DocumentStore::changed, this, &NextLine::refresh);
  hide();
}

void NextLine::begin() {
  setVisible(!QSettings("GannetQuay", "UnyieldingAnvil").value(putAwayKey, false).toBool());
  refresh();
}

/// What is done is ticked; the first that is not stands out. One part touches nothing.
void NextLine::refresh() {
  const auto& d = document_.document();
  bool first = true;
  for (qsizetype i = 0; i < stages_.size(); ++i) {
    const bool ticked = done(d, stages[i].key), idle = stages[i].key == std::string("touching") && d.parts.size() < 2;
    stages_[i]->setText(QString(stages[i].words) + (ticked ? " ✓" : ""));
    const bool next = first && !ticked && !idle;
    stages_[i]->setStyleSheet(next             ? "font-weight: 600; color: " + theme().accentInk.name()
                              : ticked || idle ? "color: " + theme().faint.name()
                                               : QString());
    if (next) first = false;
  }
}

}  // namespace anvil::app
