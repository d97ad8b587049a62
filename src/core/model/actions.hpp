// What acts in a model: supports, motions, loads, carriers, springs, bolts, contacts, temperatures.
#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/model/history.hpp"

namespace anvil::model {

struct Support {
  std::vector<std::string> on, fix;  ///< fix: axes, "normal", or in space "radial y", "around y"
  Point about;                       ///< a point of the axis of radial and around
  std::vector<std::string> during;   ///< steps; all when empty
  bool operator==(const Support&) const = default;
};

struct Motion {
  std::vector<std::string> on;
  Direction along;
  std::vector<Entry> axis;  ///< turn in space about any axis: its direction
  Point about;              ///< turn of edges and faces: a point of the axis
  Course course;
  bool operator==(const Motion&) const = default;
};

struct Load {
  std::vector<std::string> on;
  std::string kind = "pressure";  ///< "pressure" (follows the surface), "force" (total, keeps its direction) or "moment"
  std::string of =
      "part";       ///< a force or moment is that of the modelled "part", or of the "whole" that symmetry planes make of it
  Direction along;  ///< of a force; axis of a moment
  Course course;
  bool operator==(const Load&) const = default;
};

/// A point that faces follow: it carries loads, motions, supports and springs.
struct Carrier {
  std::vector<std::string> on;
  Point at;                    ///< the faces' middle when left out
  std::string hold = "rigid";  ///< "rigid": the faces keep their shape; "mean": they follow in the mean and may deform
  bool operator==(const Carrier&) const = default;
};

/// A spring and dashpot between two carriers or rigid parts, or from one to a place in space.
struct Spring {
  std::vector<std::string> between;
  Point at;           ///< place in space of the other end, when one body is named
  std::string along;  ///< an axis or "turn"; along the line between the ends when left out
  Entry stiffness;
  std::vector<std::vector<Entry>> rows;  ///< [extension, force]
  Entry damping = 0;
  bool operator==(const Spring&) const = default;
};

/// A bolt that is not drawn: an elastic round beam whose ends are spread over the faces it presses.
struct BoltBeam {
  std::vector<std::string> head, nut;  ///< faces under head and nut
  Entry diameter;
  std::string material;  ///< its elastic part is taken
  bool operator==(const BoltBeam&) const = default;
};

/// A bolt, tightened to a force or by a length, then held: a drawn shank that the program cuts across, or a beam.
struct Bolt {
  std::vector<std::string> on;   ///< faces of its shank
  std::optional<BoltBeam> beam;  ///< in place of a shank
  std::string of =
      "part";  ///< force: of the "part" of the shank that is modelled, or of the "whole" bolt that symmetry planes cut
  std::vector<Entry> along;  ///< its axis; from the faces when left out
  Entry cut = 0.5;           ///< where it is cut, as a share of the faces' length along the axis
  Course force;              ///< steps with a value tighten to it; it keeps its length in all others, and is slack where off
  Course shortening;         ///< steps with a value draw it in by that much
  bool operator==(const Bolt&) const = default;
};

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

struct Stabilisation {
  std::vector<std::string> on;  ///< parts
  Entry strength = 1;           ///< multiplies the self-chosen viscosity
  std::vector<std::string> during;
  bool operator==(const Stabilisation&) const = default;
};

/// A change of temperature against the start, the same all over its parts.
struct Temperature {
  std::vector<std::string> on;  ///< parts
  Course rise;                  ///< kelvin
  bool operator==(const Temperature&) const = default;
};

}  // namespace anvil::model
