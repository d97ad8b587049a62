#include "app/units_button.hpp"

#include <QActionGroup>
#include <QMenu>

#include "app/shown_units.hpp"

namespace anvil::app {
namespace {

struct Base {
  const char* title;
  Kind kind;
  std::string UnitSet::*unit;
};
constexpr Base bases[] = {{"Length", Kind::length, &UnitSet::length}, {"Force", Kind::force, &UnitSet::force},
                          {"Stress", Kind::stress, &UnitSet::stress}, {"Angle", Kind::angle, &UnitSet::angle},
                          {"Time", Kind::time, &UnitSet::time},       {"Density", Kind::density, &UnitSet::density},
                          {"Mass", Kind::mass, &UnitSet::mass}};

}  // namespace

UnitsButton::UnitsButton(QWidget* parent) : QToolButton(parent) {
  setObjectName("units"), setPopupMode(InstantPopup), setAccessibleName("Units on show");
  setToolTip("Units in which all is shown and bare numbers are taken; the file keeps what was written");
  setStyleSheet("QToolButton::menu-indicator { image: none; }");
  setMenu(new QMenu(this));
  connect(&units(), &ShownUnits::changed, this, &UnitsButton::refresh);
  refresh();
}

void UnitsButton::refresh() {
  const auto now = units().set();
  setText(QString::fromStdString(now.name) + " ▾");
  menu()->clear();
  const auto check = [](QAction* action, bool on) { action->setCheckable(true), action->setChecked(on); };
  for (const auto& set : unitSets())
    check(menu()->addAction(QString::fromStdString(set.name), this, [set] { units().choose(set); }), set == now);
  menu()->addSeparator();
  for (const auto& base : bases) {  // a set of one's own, unit by unit
    auto* own = menu()->addMenu(base.title);
    for (const auto& unit : commonUnits(base.kind))
      check(own->addAction(QString::fromStdString(unit), this,
                           [base, unit] {
                             auto mix = units().set();
                             mix.*base.unit = unit;
                             mix.name = mix.length + " " + mix.force + " " + mix.stress;
                             for (const auto& usual : unitSets()) {  // it may be one of them again
                               auto named = mix;
                               named.name = usual.name;
                               if (named == usual) mix = usual;
                             }
                             units().choose(mix);
                           }),
            now.*base.unit == unit);
  }
}

}  // namespace anvil::app
