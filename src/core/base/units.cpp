#include "core/base/units.hpp"

#include <locale.h>
#include <udunits2.h>
#include <charconv>
#include <cmath>
#include <map>
#include <memory>
#include <mutex>
#include <regex>

#include "core/base/error.hpp"
#include "core/base/text.hpp"

namespace anvil {
namespace {

struct KindInfo {
  const char* unit;
  const char* name;
  std::vector<std::string> common;
};

const std::map<Kind, KindInfo>& kinds() {
  static const std::map<Kind, KindInfo> table{
      {Kind::number, {"", "a plain number", {}}},
      {Kind::length, {"mm", "a length", {"mm", "m", "cm", "um", "in", "ft"}}},
      {Kind::force, {"N", "a force", {"N", "kN", "MN", "lbf", "kip", "kgf"}}},
      {Kind::stress, {"MPa", "a stress", {"MPa", "Pa", "kPa", "GPa", "bar", "psi", "ksi"}}},
      {Kind::time, {"s", "a time", {"s", "ms", "min", "h"}}},
      {Kind::temperature, {"K", "a temperature", {"K", "degC", "degF"}}},
      {Kind::angle, {"rad", "an angle", {"deg", "rad"}}},
      {Kind::density, {"t/mm3", "a density", {"t/mm3", "kg/m3", "g/cm3", "lb/in3"}}},
      {Kind::lineForce, {"N/mm", "a force per length", {"N/mm", "N/m", "kN/m", "lbf/in"}}},
      {Kind::moment, {"N mm", "a moment", {"N mm", "N m", "kN m", "lbf in"}}},
      {Kind::turnStiffness, {"N mm/rad", "a moment per angle", {"N mm/rad", "N m/rad", "N m/deg", "lbf in/rad"}}},
      {Kind::damping, {"N s/mm", "a force per speed", {"N s/mm", "N s/m", "lbf s/in"}}},
      {Kind::turnDamping, {"N mm s/rad", "a moment per turning speed", {"N mm s/rad", "N m s/rad", "lbf in s/rad"}}},
      {Kind::expansion, {"1/K", "an expansion coefficient", {"1/K", "um/m/K"}}},
      {Kind::work, {"N mm", "a work", {"N mm", "J"}}},
      {Kind::area, {"mm²", "an area", {"mm²", "m²", "in²"}}},
      {Kind::volume, {"mm³", "a volume", {"mm³", "m³", "in³"}}},
      {Kind::mass, {"t", "a mass", {"t", "kg", "lb"}}},
      {Kind::lineMoment, {"N mm/mm", "a moment per length", {"N mm/mm"}}},
      {Kind::curvature, {"1/mm", "a curvature", {"1/mm", "1/m", "1/in"}}},
      {Kind::twist, {"rad/mm", "a twist", {"rad/mm"}}},
      {Kind::energyDensity, {"MJ/m3", "an energy density", {"MJ/m3"}}},
      {Kind::percent, {"%", "a percentage", {"%"}}},
  };
  return table;
}
const KindInfo& info(Kind kind) { return kinds().at(kind); }

using UnitPtr = std::unique_ptr<ut_unit, decltype(&ut_free)>;

/// The unit table reads numbers in the language of its thread: here in none, for as long as it lives.
class PlainNumbers {
 public:
  PlainNumbers() : before_(::uselocale(plain())) {}
  ~PlainNumbers() { ::uselocale(before_); }

 private:
  static locale_t plain() {
    static const locale_t c = ::newlocale(LC_ALL_MASK, "C", locale_t{});
    return c;
  }
  locale_t before_;
};

ut_system* unitSystem() {
  static ut_system* const system = [] {
    ut_set_error_message_handler(ut_ignore);
    return ut_read_xml(nullptr);
  }();
  if (!system) throw Error("The unit table of udunits2 could not be read", {}, "Install the package libudunits2-0.");
  return system;
}

UnitPtr parse(const std::string& written) {
  const PlainNumbers plain;
  static const std::regex degrees(R"(\bdeg\b)");  // the unit table knows only the long name
  const auto text = written.find("deg") == std::string::npos ? written : std::regex_replace(written, degrees, "degree");
  return {ut_parse(unitSystem(), text.c_str(), UT_UTF8), &ut_free};
}

std::mutex unitMutex;  // udunits2 keeps its last status in a global

}  // namespace

const char* coreUnit(Kind kind) { return info(kind).unit; }
Kind kindOfCoreUnit(const std::string& unit) {
  for (const auto& [kind, about] : kinds())
    if (about.unit == unit) return kind;  // a moment stands before work
  return Kind::number;
}
const char* kindName(Kind kind) { return info(kind).name; }
std::vector<std::string> commonUnits(Kind kind) { return info(kind).common; }

bool splitQuantity(const std::string& text, double& number, std::string& unit) {
  size_t at = text.find_first_not_of(" \t");
  if (at == std::string::npos) return false;
  if (text[at] == '+') ++at;
  const auto [end, trouble] = std::from_chars(text.data() + at, text.data() + text.size(), number);  // in no language
  if (trouble != std::errc() || !std::isfinite(number)) return false;
  unit = text.substr(size_t(end - text.data()));
  unit.erase(0, unit.find_first_not_of(" \t"));
  unit.erase(unit.find_last_not_of(" \t") + 1);
  return true;
}

bool fits(const std::string& unit, Kind kind) {
  const std::lock_guard lock(unitMutex);
  const auto from = parse(unit), to = parse(*coreUnit(kind) ? coreUnit(kind) : "1");
  return from && to && ut_are_convertible(from.get(), to.get());
}

UnitConversion conversion(const std::string& unit, Kind kind) {
  const std::lock_guard lock(unitMutex);
  const auto from = parse(unit), to = parse(*coreUnit(kind) ? coreUnit(kind) : "1");
  const auto units = info(kind).common;
  const std::string offer = units.empty() ? "Leave the unit out." : "Use for example " + inProse(units) + ".";
  if (!from) throw Error("The unit '" + unit + "' is not known", {}, offer);
  if (!ut_are_convertible(from.get(), to.get())) throw Error("'" + unit + "' does not measure " + kindName(kind), {}, offer);
  std::unique_ptr<cv_converter, decltype(&cv_free)> c(ut_get_converter(from.get(), to.get()), &cv_free);
  const double zero = cv_convert_double(c.get(), 0.0), one = cv_convert_double(c.get(), 1.0);
  return {one - zero, zero};
}

}  // namespace anvil
