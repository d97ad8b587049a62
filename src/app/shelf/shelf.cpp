#include "app/shelf/shelf.hpp"

#include <QLabel>
#include <QLineEdit>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/desk/features.hpp"
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
  document_.edit("add to " + kind, [&](model::Document& d) {
    const auto fresh = [&](auto& list, const char* base) -> auto& {
      std::string name = base;
      for (int k = 2; list.find(name); ++k) name = base + std::string(" ") + std::to_string(k);
      made = QString::fromStdString(name);
      return list(name);
    };
    const auto firstEdge = [&] {  // what is picked in the view, else any
      if (!pickedFaces_.isEmpty()) {
        std::vector<std::string> on;
        for (const auto& f : pickedFaces_) on.push_back(f.toStdString());
        return on;
      }
      for (const auto& [n, part] : d.parts)
        if (!part.rigid) return std::vector<std::string>{n + ".bottom"};
      return std::vector<std::string>{};
    };
    if (kind == "materials") {
      auto& elastic = fresh(d.materials, "material").elastic;
      elastic.E = "205 GPa", elastic.nu = 0.3;
    }
    if (kind == "parts") {
      auto& part = fresh(d.parts, "part");
      if (!d.materials.empty()) part.material = d.materials.front().first;
      if (d.space == "solid") {
        addFeature(d, made.toStdString(), "box", {});
      } else {
        model::Shape s;
        s.rectangle = model::Rectangle{{0, 0}, {20, 10}};
        part.shape = {s};
      }
    }
    if (kind == "contacts") {
      auto& c = fresh(d.contacts, "contact");
      if (pickedFaces_.size() == 2) c.between = firstEdge();
    }
    if (kind == "supports") fresh(d.supports, "support") = {firstEdge(), {"y"}, {}, "held", {}};
    if (kind == "motions") {
      auto& m = fresh(d.motions, "motion");
      m.on = firstEdge(), m.along.axis = "y", m.course.value = 0;
    }
    if (kind == "loads") {
      auto& l = fresh(d.loads, "load");
      l.on = firstEdge(), l.course.value = 1;
    }
    if (kind == "temperatures") {
      auto& t = fresh(d.temperatures, "warming");
      for (const auto& [n, part] : d.parts)
        if (!part.rigid) t.on.push_back(n);
      t.rise.value = 50;
    }
    if (kind == "carriers") fresh(d.carriers, "carrier").on = firstEdge();
    if (kind == "bolts") {
      auto& b = fresh(d.bolts, "bolt");
      b.on = firstEdge();
      if (!d.steps.empty()) b.force.stages(d.steps.front().first) = {model::How::ramp, model::Entry("10 kN")};
    }
    if (kind == "springs") {
      auto& s = fresh(d.springs, "spring");
      if (!d.carriers.empty()) s.between = {d.carriers.front().first};
      s.along = "x", s.stiffness = 1000;
    }
    if (kind == "stabilisations") {
      auto& s = fresh(d.stabilisations, "stabilisation");
      for (const auto& [n, part] : d.parts)
        if (!part.rigid) s.on.push_back(n);
    }
  });
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
      draw->setText("Draw"), draw->setObjectName("drawLines"),
          draw->setToolTip("Draw lines of a slender part in the view: beams, frames, stays (D)");
      connect(draw, &QToolButton::clicked, this, &Shelf::linesAsked);
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
}

}  // namespace anvil::app
