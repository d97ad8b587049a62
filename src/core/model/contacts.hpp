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
  std::string kind = "touching";  ///< "touching", "tied", "rough" or "sliding" (never opens)
  Entry friction = 0;
  Entry shearLimit;  ///< largest friction traction
  ContactStart start;
  Course interference;              ///< overlap given as a number, measured along the normal
  std::string pressureOn = "auto";  ///< which side carries the pressure unknowns: "auto", "first", "second"
  Entry search;                     ///< distance within which faces are looked for
  std::vector<std::string> during;
  bool operator==(const Contact&) const = default;
};

}  // namespace anvil::model
