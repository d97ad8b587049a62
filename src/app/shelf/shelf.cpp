#include "app/shelf/shelf.hpp"

#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/accessible.hpp"
#include "app/desk/features.hpp"
#include "app/new_thing.hpp"
#include "app/silhouette.hpp"
#include "app/theme.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/geometry/facets.hpp"
#include "core/geometry/recipes.hpp"
#include "core/lower/lower.hpp"
#include "core/model/actions.hpp"
#include "core/model/bolts.hpp"
#include "core/model/carriers.hpp"
#include "core/model/contacts.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/model/regions.hpp"
#include "core/model/shapes.hpp"
#include "core/problem/problem.hpp"

namespace anvil::app {

Shelf::Shelf(DocumentStore& document, ResultStore& results, QWidget* parent)
    : QWidget(parent), document_(document), results_(results) {
  setObjectName("side");
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(10, 10, 4, 6);
  search_ = new QLineEdit(this);
  search_->setPlaceholderText("Find on the shelf");
  search_->setObjectName("shelfSearch");
  layout->addWidget(search_);
  auto* area = new QScrollArea(this);
  area->setWidgetResizable(true);
  area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  body_ = new QWidget;
  body_->setObjectName("plain");
  list_ = new QVBoxLayout(body_);
  list_->setContentsMargins(0, 4, 8, 4), list_->setSpacing(6);
  area->setWidget(body_);
  layout->addWidget(area);
  connect(search_, &QLineEdit::textChanged, this, &Shelf::rebuild);
  connect(&document_, &DocumentStore::changed, this, &Shelf::rebuild);
  connect(&document_, &DocumentStore::opened, this, [this] { mapped_ = document_.document().contacts.size() > 8; });
  connect(&document_, &DocumentStore::opened, this, [this] { sights_.clear(), pickedFaces_.clear(); });
  connect(&results_, &ResultStore::rowChanged, this, [this] {
    for (auto* c : cards_) c->update();
    if (map_) map_->update();
  });
}

void Shelf::addMapButton(QWidget* head, QHBoxLayout* row) {
  auto* button = new QToolButton(head);
  button->setText("Map"), button->setFixedWidth(38), button->setCheckable(true), button->setChecked(mapped_),
      button->setObjectName("contactMap");
  button->setToolTip("All contacts at once, parts by parts (T)");
  connect(button, &QToolButton::clicked, this, [this](bool on) { showMap(on); });
  row->addWidget(button);
}

void Shelf::addMap() {
  map_ = new TouchMap(document_, results_, body_);
  connect(map_, &TouchMap::picked, this, [this](const QString& k, const QString& n) { choose(k, n), emit picked(k, n); });
  connect(map_, &TouchMap::lit, this, &Shelf::lit);
  list_->addWidget(map_);
}

void Shelf::showMap(bool on) {
  mapped_ = on;
  rebuild();
}

void Shelf::choose(const QString& kind, const QString& name) {
  kind_ = kind, name_ = name;
  for (auto* c : cards_) c->chosen = c->kind == kind && c->name == name, c->update();
}

void Shelf::add(const QString& kind) {
  if (kind == "regions") return emit regionAsked();
  QString made;
  document_.edit("add to " + kind, [&](model::Document& d) { made = addThing(d, kind, pickedFaces_); });
  if (!made.isEmpty()) emit picked(kind, made);
}

void Shelf::rebuild() {
  cards_.clear();
  if (map_) map_ = nullptr, emit lit({}, {});
  while (auto* item = list_->takeAt(0)) {
    if (item->widget()) item->widget()->hide(), item->widget()->deleteLater();
    delete item;
  }
  const auto& d = document_.document();
  const auto section = [&](const QString& title, const QString& kind, const std::vector<std::string>& names,
                           const QString& hint) {
    auto* head = new QWidget(body_);
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(2, 6, 0, 0), row->setSpacing(0);
    auto* label = new QLabel(title, head);
    label->setObjectName("head");
    auto* plus = new QToolButton(head);
    plus->setText("+"), plus->setFixedWidth(32), plus->setToolTip(hint), plus->setObjectName("add-" + kind);
    connect(plus, &QToolButton::clicked, this, [this, kind] { add(kind); });
    label->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);  // buttons beside it must not widen the shelf
    row->addWidget(label, 1);
    if (kind == "contacts") {
      auto* find = new QToolButton(head);
      find->setText("Find"), find->setFixedWidth(38), find->setObjectName("findContacts"),
          find->setToolTip("Find faces that touch, and make contacts of them (K)");
      connect(find, &QToolButton::clicked, this, &Shelf::touchingAsked);
      row->addWidget(find);
    }
    if (kind == "contacts" && !names.empty()) addMapButton(head, row);
    if (kind == "parts") {
      auto* draw = new QToolButton(head);
      draw->setText("Draw"), draw->setObjectName("drawLines");
      if (d.space == "solid") {
        draw->setToolTip("Draw beams and stays in the view (D)");
        connect(draw, &QToolButton::clicked, this, &Shelf::linesAsked);
      } else {
        draw->setToolTip("Draw in the view");
        auto* menu = new QMenu(draw);
        menu->addAction("Outline of a part  (O)", this, [this] { emit outlineAsked(false); });
        menu->addAction("Rigid outline  (Shift+O)", this, [this] { emit outlineAsked(true); });
        if (d.space != "axisymmetric") menu->addAction("Beams and stays  (D)", this, &Shelf::linesAsked);
        draw->setPopupMode(QToolButton::InstantPopup), draw->setMenu(menu);
        draw->setStyleSheet("QToolButton::menu-indicator { image: none; }");
      }
      row->addWidget(draw);
    }
    row->addWidget(plus);
    list_->addWidget(head);
    if (kind == "contacts" && mapped_ && !names.empty()) return addMap();
    for (size_t i = 0; i < names.size(); ++i) {
      const auto name = QString::fromStdString(names[i]);
      if (!search_->text().isEmpty() && !name.contains(search_->text(), Qt::CaseInsensitive)) continue;
      auto* card = new Card(document_, results_, kind, name, int(i), body_);
      card->chosen = kind == kind_ && name == name_;
      if (kind == "parts") card->sight = i < sights_.size() ? sights_[i] : Sight::shown;
      connect(card, &Card::picked, this, [this](const QString& k, const QString& n) { choose(k, n), emit picked(k, n); });
      connect(card, &Card::sightChanged, this, [this](int index, Sight sight) {
        if (sights_.size() <= size_t(index)) sights_.resize(size_t(index) + 1, Sight::shown);
        sights_[size_t(index)] = sight;
        emit sightChanged(index, sight);
      });
      list_->addWidget(card);
      cards_ << card;
    }
  };
  section("PARTS", "parts", d.parts.names(), "Add a part");
  section("MATERIALS", "materials", d.materials.names(), "Add a material");
  section("CONTACTS", "contacts", d.contacts.names(), "Add a contact");
  section("MOTIONS", "motions", d.motions.names(), "Add a motion");
  section("LOADS", "loads", d.loads.names(), "Add a load");
  section("SUPPORTS", "supports", d.supports.names(), "Add a support");
  if (d.space == "solid")
    section("BOLTS", "bolts", d.bolts.names(), "Add a bolt: cuts the shank that is picked, tightens it and holds it");
  section("REGIONS", "regions", d.regions.names(),
          "Keep what is picked as a region: faces by name or by rule, which later changes find again (Shift+R)");
  section("CARRIERS", "carriers", d.carriers.names(),
          "Add a carrier: a point that a face follows, for forces, moments and springs");
  section("SPRINGS", "springs", d.springs.names(), "Add a spring or dashpot");
  section("TEMPERATURES", "temperatures", d.temperatures.names(), "Add a temperature change");
  section("STABILISATIONS", "stabilisations", d.stabilisations.names(), "Add viscous help for parts that are loose at first");
  list_->addStretch();
  nameForAssistiveTools(this);
}

}  // namespace anvil::app
