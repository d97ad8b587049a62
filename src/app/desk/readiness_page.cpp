// What is wrong or doubtful before a run, at the desk.
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "app/desk/desk.hpp"
#include "app/desk/desk_words.hpp"
#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "core/model/document.hpp"
#include "core/model/place_words.hpp"

namespace anvil::app {

/// A sentence of the core as it is said in the window.
static QString said(const std::string& sentence, const std::string& where) {
  return inDeskWords(units().inWords(QString::fromStdString(sentence)), QString::fromStdString(where));
}

void Desk::showReadiness(const checks::Report& report) {
  if (list_) pages_->removeWidget(list_), list_->deleteLater();
  list_ = new QWidget(pages_);
  auto* body = scrolled(list_);
  auto* outer = new QVBoxLayout(body);
  outer->setContentsMargins(14, 12, 12, 12);
  auto* title = new QLabel(report.findings.empty() ? "Ready to run" : "Before it runs", body);
  title->setObjectName("title");
  outer->addWidget(title);
  for (const auto& f : report.findings) {
    auto words = QString::fromStdString(f.where.empty() ? std::string() : model::placeInWords(f.where));
    if (!words.isEmpty()) words[0] = words[0].toUpper();
    auto* box = new QLabel(QString("<b style='color:%1'>%2</b> <b>%6</b><br>%3<br><span style='color:%4'>%5</span>")
                               .arg((f.fault ? theme().accentInk : theme().warn).name(), f.fault ? "Fault" : "Doubt",
                                    said(f.what, f.where).toHtmlEscaped(), theme().faint.name(),
                                    said(f.remedy, f.where).toHtmlEscaped(), words.toHtmlEscaped()),
                           body);
    box->setWordWrap(true);
    outer->addWidget(box);
    const auto place = QString::fromStdString(f.where).split('/');
    if (place.size() >= 2) {
      auto* acts = new QHBoxLayout;
      auto* show = new QPushButton("Show " + place[1], body);
      show->setObjectName("framed");
      connect(show, &QPushButton::clicked, this, [this, place] { emit placeAsked(place[0], place[1]); });
      acts->addWidget(show);
      if (f.mend) {
        auto* mend = new QPushButton(QString::fromStdString(f.fix), body);
        mend->setObjectName("mend");
        connect(mend, &QPushButton::clicked, this, [this, mend, f, what = QString::fromStdString(f.fix)] {
          mend->setEnabled(false);  // the list is drawn anew when the model has been looked at again
          document_.edit(what, f.mend);
          emit readinessAsked();
        });
        acts->addWidget(mend);
      }
      acts->addStretch();
      outer->addLayout(acts);
    }
    outer->addSpacing(8);
  }
  auto* facts = new QLabel("FACTS", body);
  facts->setObjectName("head");
  outer->addWidget(facts);
  for (const auto& line : report.facts) {
    auto* label = new QLabel(units().inWords(QString::fromStdString(line)), body);
    label->setWordWrap(true), label->setObjectName("help");
    outer->addWidget(label);
  }
  outer->addStretch();
  pages_->addWidget(list_);
  pages_->setCurrentWidget(list_);
}

}  // namespace anvil::app
