// Turns entries of the document into numbers in core units.
#pragma once
#include <array>
#include <map>
#include <string>

#include "core/base/units.hpp"
#include "core/model/entry.hpp"
#include "core/model/file_units.hpp"
#include "core/model/forward.hpp"

namespace anvil::model {

/// Evaluates entries of one document: file units, parameters, expressions.
class Quantities {
 public:
  /// Works out all parameters. Throws Error on an unknown unit, an unknown name, or parameters that need each other.
  explicit Quantities(const Document& document);

  /// Value in core units. `path` is named in errors.
  double operator()(const Entry& entry, Kind kind, const std::string& path) const;

  /// Like operator(), but bare numbers and formulas are in core units, whatever the file's units are.
  double inCoreUnits(const Entry& entry, Kind kind, const std::string& path) const;

  /// Like operator(), with a value for an entry that was not given.
  double orElse(const Entry& entry, Kind kind, double otherwise, const std::string& path) const;

  /// A whole number within limits. Throws Error on any other; with `rounded`, as for elements along a side, what a formula gives
  /// is taken to the nearest.
  int whole(const Entry& entry, int least, int most, const std::string& path, bool rounded = false) const;

  std::vector<double> list(const std::vector<Entry>& entries, Kind kind, const std::string& path) const;

  /// Unit vector of a direction in space: x, -x, y, -y, z, -z or three numbers. Throws Error with `example` as advice.
  std::array<double, 3> inSpace(const Direction& direction, const std::string& path, const std::string& example) const;

  /// Parameter values in file units.
  const std::map<std::string, double>& parameters() const { return parameters_; }

  /// The file's unit for a kind.
  const std::string& unitOf(Kind kind) const;

 private:
  void workOut(const Named<Entry>& parameters);
  double inFileUnits(const Entry& entry, const std::string& path) const;
  void checkMeasure(const std::string& formula, Kind kind) const;
  void learnMeasure(const std::string& name, const Entry& entry);
  /// What is known of a parameter's unit, and the parameter in whose value it was written.
  struct Measure {
    Kind kind;
    std::string origin, value;
  };
  FileUnits units_;
  std::map<std::string, double> parameters_;
  std::map<std::string, Measure> measures_;
};

/// What a unit measures, as of parameters; plain numbers where it is none of an entry's.
Kind kindOfUnit(const std::string& unit);

/// The unit of a file's bare numbers of a kind; empty for plain numbers.
const std::string& fileUnit(const FileUnits& units, Kind kind);

/// Sets a parameter from a command line or another document: "wall=3 mm". Throws Error on an unknown name.
void setParameter(Document& document, const std::string& assignment);

}  // namespace anvil::model
