// What touches what, and how.
#pragma once
#include <string>
#include <vector>

#include "core/model/history.hpp"

namespace anvil::model {

/// What happens to gaps and overlaps at the start.
struct ContactStart {
  Entry closeWithin;        ///< gaps and overlaps up to this are taken as touching, without strain
  std::string resolveOver;  ///< step over which an overlap is resolved gradually
  bool operator==(const ContactStart&) const = default;
};

struct Contact {
  std::vector<std::string>
      between;  ///< two surfaces: regions or "part.edge"; a rigid part by its own name; one: self contact; "everything"
  std::string kind = "touching";  ///< "touching", "tied", "rough", "sliding" (never opens) or "cyclic"
  Entry friction = 0;
  Entry shearLimit;  ///< largest friction traction
  ContactStart start;
  Course interference;              ///< overlap given as a number, measured along the normal
  std::string pressureOn = "auto";  ///< which side carries the pressure unknowns: "auto", "first", "second"
  Entry search;                     ///< distance within which faces are looked for
  Direction axis;                   ///< cyclic: the axis that the one face is turned about to lie on the other
  Point about;                      ///< cyclic: a point of it; the origin when left out
  std::vector<std::string> during;
  bool operator==(const Contact&) const = default;
};

}  // namespace anvil::model
