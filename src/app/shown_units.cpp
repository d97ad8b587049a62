#include "app/shown_units.hpp"

#include <QRegularExpression>
#include <QSettings>
#include <cmath>

#include "app/typed.hpp"
#include "core/base/error.hpp"
#include "core/base/text.hpp"

namespace anvil::app {
namespace {

struct Member {
  const char* key;
  std::string UnitSet::*unit;
};
constexpr Member members[] = {
    {"length", &UnitSet::length},           {"force", &UnitSet::force}, {"stress", &UnitSet::stress},   {"time", &UnitSet::time},
    {"temperature", &UnitSet::temperature}, {"angle", &UnitSet::angle}, {"density", &UnitSet::density}, {"mass", &UnitSet::mass}};

}  // namespace

ShownUnits& ShownUnits::all() {
  static ShownUnits one;
  return one;
}

ShownUnits::ShownUnits() {
  UnitSet kept = unitSets().front();
  const QSettings settings("GannetQuay", "UnyieldingAnvil");
  for (const auto& m : members)
    kept.*m.unit = settings.value(QString("units/") + m.key, QString::fromStdString(kept.*m.unit)).toString().toStdString();
  kept.name = settings.value("units/name", QString::fromStdString(kept.name)).toString().toStdString();
  try {
    choose(kept);
  } catch (const Error&) {  // settings of another program, or damaged
    choose(unitSets().front());
  }
}

void ShownUnits::choose(const UnitSet& set) {
  auto conversions = conversions_;
  for (size_t k = 0; k < conversions.size(); ++k) conversions[k] = set.conversionOf(Kind(k));
  const bool other = !(set == set_);
  set_ = set, conversions_ = conversions;
  QSettings settings("GannetQuay", "UnyieldingAnvil");
  settings.setValue("units/name", QString::fromStdString(set.name));
  for (const auto& m : members) settings.setValue(QString("units/") + m.key, QString::fromStdString(set.*m.unit));
  if (other) emit changed();
}

/// Without a power of ten up to ten millions.
static QString plain(double value, int digits) {
  const double size = std::abs(value);
  if (size < std::pow(10, digits) || size >= 1e7) return QString::fromStdString(shortNumber(value, digits));
  const double unit = std::pow(10, std::floor(std::log10(size)) + 1 - digits);
  return QString::number(std::round(value / unit) * unit, 'f', 0);
}

QString ShownUnits::number(double core, Kind kind, int digits) const { return plain(from(core, kind), digits); }

QString ShownUnits::quantity(double core, Kind kind, int digits) const {
  const double value = from(core, kind);
  const auto own = set_.unitOf(kind);
  if (std::abs(value) >= 1e4 && own == "N") return QString::fromStdString(shortNumber(value / 1e3, digits)) + " kN";
  if (std::abs(value) >= 1e4 && own == "N mm") return QString::fromStdString(shortNumber(value / 1e3, digits)) + " N m";
  if (std::abs(value) >= 1e4 && own == "MPa") return QString::fromStdString(shortNumber(value / 1e3, digits)) + " GPa";
  return plain(value, digits) + (own.empty() ? QString() : " " + QString::fromStdString(own));
}

QString ShownUnits::withFileUnit(const QString& text, Kind kind, const std::string& fileUnit) const {
  const bool other = !fileUnit.empty() && fileUnit != set_.unitOf(kind) && typed(text).number;
  return other ? text.trimmed() + " " + QString::fromStdString(fileUnit) : text;
}
QString ShownUnits::asWritten(const QString& text, Kind kind, const std::string& fileUnit) const {
  const bool other = !fileUnit.empty() && fileUnit != set_.unitOf(kind) && typed(text).number;
  return other ? text.trimmed() + " " + unit(kind) : text;
}

QString ShownUnits::inWords(const QString& sentence) const {
  if (set_ == unitSets().front()) return sentence;
  static const QRegularExpression quantities(
      R"((-?\d+(?:\.\d+)?(?:e[+-]?\d+)?)( to -?\d+(?:\.\d+)?(?:e[+-]?\d+)?)? (mm²|mm³|N mm|N/mm|mm|MPa|N)(?![\w²³/]))");
  QString text;
  qsizetype done = 0;
  for (auto all = quantities.globalMatch(sentence); all.hasNext();) {
    const auto m = all.next();
    const Kind kind = kindOfCoreUnit(m.captured(3).toStdString());
    text += sentence.mid(done, m.capturedStart() - done) + number(m.captured(1).toDouble(), kind);
    if (!m.captured(2).isEmpty()) text += " to " + number(m.captured(2).mid(4).toDouble(), kind);
    text += " " + unit(kind), done = m.capturedEnd();
  }
  return text + sentence.mid(done);
}

}  // namespace anvil::app
