// Turns entries of the document into numbers in core units.
#pragma once
#include <map>
#include <string>

#include "core/base/curve.hpp"
#include "core/model/document.hpp"

namespace anvil::model {

/// Evaluates entries of one document: file units, parameters, expressions.
class Quantities {
public:
  /// Works out all parameters. Throws Error on an unknown unit, an unknown name, or parameters that need each other.
  explicit Quantities(const Document& document);

  /// Value in core units. `path` is named in errors.
  double operator()(const Entry& entry, Kind kind, const std::string& path) const;

  /// Like operator(), with a value for an entry that was not given.
  double orElse(const Entry& entry, Kind kind, double otherwise, const std::string& path) const;

  std::vector<double> list(const std::vector<Entry>& entries, Kind kind, const std::string& path) const;

  /// Parameter values in file units.
  const std::map<std::string, double>& parameters() const { return parameters_; }

  /// The file's unit for a kind.
  const std::string& unitOf(Kind kind) const;

private:
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

/// Splits "12.5 mm" into number and unit. False when it does not start with a number.
bool splitQuantity(const std::string& text, double& number, std::string& unit);

/// Sets a parameter from a command line or another document: "wall=3 mm". Throws Error on an unknown name.
void setParameter(Document& document, const std::string& assignment);

/// A course over global time, in core units.
struct TimedCourse {
  Curve curve;                 ///< value against global time
  std::vector<bool> active;    ///< per step
};

/// End times of the steps (first entry 0), size steps+1.
std::vector<double> stepTimes(const Document& document, const Quantities& quantities);

/// Lays a course over the document's steps. Throws Error naming unknown steps or faulty tables.
TimedCourse timed(const Course& course, Kind kind, const Document& document, const Quantities& quantities,
                  const std::string& path);

/// Per step whether it is listed in `during` (all when empty). Throws on an unknown step.
std::vector<bool> activeDuring(const std::vector<std::string>& during, const Document& document, const std::string& path);

}  // namespace anvil::model
