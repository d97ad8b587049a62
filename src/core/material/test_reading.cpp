#include "core/material/test_reading.hpp"

#include <algorithm>
#include <cmath>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/base/units.hpp"

namespace anvil::material {
namespace {

bool anyOf(const std::string& text, std::initializer_list<const char*> words) {
  return std::any_of(words.begin(), words.end(), [&](const char* w) { return text.find(w) != std::string::npos; });
}
/// ASCII letters alone; others stand as they are in the words that are looked for.
std::string lower(std::string text) {
  for (char& c : text)
    if (c >= 'A' && c <= 'Z') c = char(c - 'A' + 'a');
  return text;
}
bool saysStrain(const std::string& name) {
  return anyOf(name, {"strain", "dehn", "elong", "ε", "eps", "stretch", "deformation", "allong", "deformaz", "alarg"});
}
bool saysStress(const std::string& name) {
  return anyOf(name, {"stress", "spannung", "σ", "sigma", "contrainte", "tensione", "tensión", "esfuerzo"});
}
double greatest(const PastedColumn& c) {
  double most = 0;
  for (double v : c.values) most = std::max(most, std::abs(v));
  return most;
}

}  // namespace

const std::vector<std::string>& strainUnits() {
  static const std::vector<std::string> units{"1", "%", "mm/m", "um/m", "stretch"};
  return units;
}

TestReading guessReading(const PastedTable& t) {
  if (t.columns.size() < 2) throw Error("there is only one column of numbers", {}, "A curve needs two: strain and stress.");
  TestReading r;
  int strain = -1, stress = -1;
  for (size_t k = 0; k < t.columns.size(); ++k) {
    const auto& c = t.columns[k];
    const auto name = lower(c.name);
    if (stress < 0 && (saysStress(name) || (!c.unit.empty() && !saysStrain(name) && fits(c.unit, Kind::stress)))) stress = int(k);
    if (strain < 0 && int(k) != stress && (saysStrain(name) || c.unit == "%")) strain = int(k);
  }
  if (strain < 0 && stress < 0) {  // by their size, among the first two
    stress = greatest(t.columns[0]) > greatest(t.columns[1]) ? 0 : 1, strain = 1 - stress;
  } else if (strain < 0 || stress < 0) {
    int& missing = strain < 0 ? strain : stress;
    for (int k = 0; k < int(t.columns.size()) && missing < 0; ++k)
      if (k != std::max(strain, stress)) missing = k;
  }
  r.strain = size_t(strain), r.stress = size_t(stress);
  const auto &a = t.columns[r.strain], &b = t.columns[r.stress];
  const auto name = lower(a.name);
  if (!a.unit.empty())
    r.strainUnit = a.unit;
  else if (anyOf(name, {"stretch", "ratio"}))
    r.strainUnit = "stretch";
  else
    r.strainUnit = greatest(a) > 1.5 ? "%" : "1";
  if (!b.unit.empty()) r.stressUnit = b.unit;
  r.engineering = !anyOf(name + lower(b.name), {"true", "wahr", "vraie", "log"});
  return r;
}

TestCurve curveOf(const PastedTable& t, const TestReading& r) {
  if (r.strain >= t.columns.size() || r.stress >= t.columns.size())
    throw Error("there is no such column", {}, "Choose two of those that the table has.");
  const bool stretch = r.strainUnit == "stretch";
  const auto strain = stretch ? UnitConversion{1, -1} : conversion(r.strainUnit == "%" ? "0.01" : r.strainUnit, Kind::number);
  const auto stress = conversion(r.stressUnit, Kind::stress);
  TestCurve curve;
  for (size_t i = 0; i < t.rows(); ++i)
    curve.push_back({strain.toCore(t.columns[r.strain].values[i]), stress.toCore(t.columns[r.stress].values[i])});
  if (curve.size() > 1 && curve.front().strain > curve.back().strain) std::reverse(curve.begin(), curve.end());
  for (const auto& p : curve)
    if (!(p.strain > -1))
      throw Error("a strain of " + shortNumber(p.strain) + " would leave nothing of the bar", {},
                  "Check which column is the strain, and its unit.");
  return curve;
}

}  // namespace anvil::material
