#include "app/desk/touching_list.hpp"

#include <QCheckBox>
#include <QComboBox>
#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/shown_units.hpp"
#include "app/theme.hpp"
#include "app/typed.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/document.hpp"
#include "core/model/place_words.hpp"
#include "core/model/quantities.hpp"

namespace anvil::app {

TouchingList::TouchingList(DocumentStore& document, Preparation& preparation, QWidget* parent)
    : QWidget(parent), document_(document), preparation_(preparation) {
  setObjectName("plain");
  auto* outer = new QVBoxLayout(this);
  outer->setContentsMargins(14, 12, 12, 12);
  auto* title = new QLabel("What touches", this);
  title->setObjectName("title");
  outer->addWidget(title);

  const auto row = [&](const QString& name, QWidget* editor) {
    auto* line = new QHBoxLayout;
    auto* label = new QLabel(name, this);
    label->setMinimumWidth(96);
    line->addWidget(label), line->addWidget(editor, 1);
    outer->addLayout(line);
  };
  distance_ = new QLineEdit(this), distance_->setObjectName("touchDistance");
  distance_->setToolTip(
      "Faces of different parts that look at each other and are no further apart than this. Too large a distance finds faces "
      "that should not touch, such as a shank in its hole.");
  row("closer than", distance_);
  kind_ = new QComboBox(this), kind_->setObjectName("touchKind"), kind_->setAccessibleName("Kind of the contacts");
  kind_->addItems({"touching", "tied", "rough", "sliding"});
  row("become", kind_);
  friction_ = new QLineEdit("0.15", this), friction_->setObjectName("touchFriction");
  friction_->setAccessibleName("Friction coefficient");
  row("friction", friction_);
  size_ = new QLineEdit(this), size_->setObjectName("touchSize");
  size_->setToolTip(
      "Length of elements on the faces of the pairs that are made into contacts, where they are coarser: pressures need several "
      "elements across the zone that touches. As they are when left empty.");
  row("elements there", size_);
  connect(distance_, &QLineEdit::editingFinished, this, &TouchingList::find);
  connect(kind_, &QComboBox::currentTextChanged, this,
          [this](const QString& kind) { friction_->setEnabled(kind == "touching" || kind == "sliding"); });

  words_ = new QLabel(this);
  words_->setObjectName("help"), words_->setWordWrap(true);
  outer->addWidget(words_);
  body_ = new QWidget;
  body_->setObjectName("plain");
  list_ = new QVBoxLayout(body_);
  list_->setContentsMargins(0, 0, 0, 0), list_->setSpacing(2);
  auto* scroll = new QScrollArea(this);
  scroll->setWidget(body_), scroll->setWidgetResizable(true), scroll->setFrameShape(QFrame::NoFrame),
      scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  outer->addWidget(scroll, 1);
  make_ = new QPushButton("Make contacts", this);
  make_->setObjectName("makeContacts");
  outer->addWidget(make_);
  connect(make_, &QPushButton::clicked, this, &TouchingList::make);
}

void TouchingList::find() {
  const auto& d = document_.document();
  const auto& mesh = preparation_.header().mesh;
  found_.clear();
  if (mesh.x.empty()) {
    words_->setText("There is no mesh to look at: " + preparation_.trouble());
    return fill();
  }
  try {
    const model::Quantities q(d);
    if (distance_->text().trimmed().isEmpty())
      distance_->setText(QString::fromStdString(
          shortNumber(conversion(q.unitOf(Kind::length), Kind::length).fromCore(checks::usualTolerance(mesh)), 2)));
    const double distance = q(typed(distance_->text()), Kind::length, "the distance");
    if (!(distance > 0)) throw Error("the distance is not above zero", {}, "Give a length.");
    found_ = checks::findTouching(mesh, d, distance);
    const double finer = checks::finerSize(d, mesh, found_);
    size_->setEnabled(finer > 0);
    size_->setPlaceholderText(
        finer > 0 ? "as they are; half: " +
                        QString::fromStdString(shortNumber(conversion(q.unitOf(Kind::length), Kind::length).fromCore(finer), 2))
                  : "as they are");
    words_->setText(found_.empty() ? "No faces of different parts lie so close to each other. Allow more distance." : QString());
  } catch (const Error& e) {
    words_->setText(QString::fromStdString(model::inWords(e)));
  }
  fill();
}

void TouchingList::fill() {
  rows_.clear();
  while (auto* item = list_->takeAt(0)) {
    if (item->widget()) item->widget()->hide(), item->widget()->deleteLater();
    delete item;
  }
  for (const auto& t : found_) {
    auto* box = new QWidget(body_);
    box->setObjectName("touchRow");
    box->installEventFilter(this);
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(2, 3, 2, 3);
    auto* wanted = new QCheckBox(box);
    const bool clear = t.gap == 0;  // apart by design, until someone says otherwise
    wanted->setChecked(t.contact.empty() && clear), wanted->setEnabled(t.contact.empty());
    connect(wanted, &QCheckBox::toggled, this, [this] { count(); });
    const QString apart = t.overlap > 0 ? "overlap " + units().quantity(t.overlap, Kind::length, 2)
                          : t.gap > 0   ? "gap " + units().quantity(t.gap, Kind::length, 2)
                                        : "touch";
    const QString shape = t.kind == checks::Touching::Kind::flat ? "flat"
                          : t.kind == checks::Touching::Kind::cylindrical
                              ? "round, r " + units().number(t.radius, Kind::length, 3)
                              : "curved";
    const Kind measure = document_.document().space == "solid" ? Kind::area : Kind::length;
    auto* text = new QLabel(
        QString("%1<br>%2<br><span style='color:%3'>%4 · %5 · %6%7</span>")
            .arg(QString::fromStdString(t.first).toHtmlEscaped(), QString::fromStdString(t.second).toHtmlEscaped(),
                 theme().faint.name(), apart, units().quantity(t.area, measure, 3), shape,
                 t.contact.empty() ? QString() : " · in <b>" + QString::fromStdString(t.contact).toHtmlEscaped() + "</b>"),
        box);
    text->setWordWrap(true);
    line->addWidget(wanted, 0, Qt::AlignTop), line->addWidget(text, 1);
    list_->addWidget(box);
    rows_.push_back({box, wanted});
  }
  list_->addStretch();
  count();
}

void TouchingList::count() {
  int n = 0;
  for (const auto& r : rows_) n += r.wanted->isChecked() && r.wanted->isEnabled();
  make_->setEnabled(n > 0);
  make_->setText(n == 0   ? "Make contacts"
                 : n == 1 ? "Make a contact of this pair"
                          : QString("Make contacts of these %1 pairs").arg(n));
}

void TouchingList::make() {
  std::vector<checks::Touching> wanted;
  for (size_t i = 0; i < rows_.size(); ++i)
    if (rows_[i].wanted->isChecked() && rows_[i].wanted->isEnabled()) wanted.push_back(found_[i]);
  if (wanted.empty()) return;
  const model::Entry friction = typed(friction_->text());
  std::vector<std::string> made, finer;
  const auto text = size_->text().trimmed();
  const auto mesh = preparation_.header().mesh;  // the preparation may begin anew within the edit
  try {
    document_.edit("contacts of what touches", [&](model::Document& d) {
      made = checks::makeContacts(d, mesh, wanted, kind_->currentText().toStdString(), friction);
      if (!text.isEmpty()) finer = checks::refineAt(d, mesh, wanted, typed(text));
    });
  } catch (const Error& e) {
    words_->setText(QString::fromStdString(model::inWords(e)));
    return;
  }
  const QString more = finer.empty()
                           ? QString()
                           : QString(" %1 finer elements.")
                                 .arg(finer.size() == 1 ? "One face gets" : QString::number(finer.size()) + " faces get");
  emit said((made.size() == 1 ? "Made contact " + QString::fromStdString(made.front()) + "."
                              : QString("Made %1 contacts, one for each two parts.").arg(made.size())) +
            more);
  if (!made.empty()) emit picked("contacts", QString::fromStdString(made.front()));
}

bool TouchingList::eventFilter(QObject* object, QEvent* e) {
  if (e->type() == QEvent::Enter || e->type() == QEvent::Leave)
    for (size_t i = 0; i < rows_.size(); ++i)
      if (rows_[i].box == object) {
        if (e->type() == QEvent::Enter)
          emit lit({QString::fromStdString(found_[i].first), QString::fromStdString(found_[i].second)},
                   {found_[i].firstPart, found_[i].secondPart});
        else
          emit lit({}, {});
      }
  return QWidget::eventFilter(object, e);
}

}  // namespace anvil::app
