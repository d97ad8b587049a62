// The set of units in which the window shows and takes quantities: one for all windows, remembered.
#pragma once
#include <QObject>
#include <QString>
#include <array>

#include "core/base/unit_set.hpp"

namespace anvil::app {

class ShownUnits : public QObject {
  Q_OBJECT
 public:
  static ShownUnits& all();
  const UnitSet& set() const { return set_; }
  /// Throws Error, and changes nothing, when a unit is unknown or measures something else.
  void choose(const UnitSet& set);
  /// Value of a quantity in the set's unit; the value itself of plain numbers.
  double from(double core, Kind kind) const { return conversions_[size_t(kind)].fromCore(core); }
  double toCore(double shown, Kind kind) const { return conversions_[size_t(kind)].toCore(shown); }
  QString unit(Kind kind) const { return QString::fromStdString(set_.unitOf(kind)); }
  /// "12.3", in the set's unit.
  QString number(double core, Kind kind, int digits = 4) const;
  /// "12.3 mm". Large ones in N, N mm and MPa are given in kN, N m and GPa.
  QString quantity(double core, Kind kind, int digits = 4) const;
  /// A sentence of the core, which speaks of mm, MPa and N, with its quantities in the set's units.
  QString inWords(const QString& sentence) const;
  /// A bare number that is in the file's unit, as it is shown: with that unit behind it where the set has another.
  QString withFileUnit(const QString& text, Kind kind, const std::string& fileUnit) const;
  /// What was typed, as it is written into a file with that unit: a bare number is one of the set.
  QString asWritten(const QString& text, Kind kind, const std::string& fileUnit) const;
  /// "  MPa" behind a name; nothing for plain numbers.
  QString behind(Kind kind) const { return unit(kind).isEmpty() ? QString() : "  " + unit(kind); }

 signals:
  void changed();

 private:
  ShownUnits();
  UnitSet set_;
  std::array<UnitConversion, size_t(Kind::percent) + 1> conversions_;
};

inline ShownUnits& units() { return ShownUnits::all(); }

}  // namespace anvil::app
