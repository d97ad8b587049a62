// Slender parts: lines between named points, with sections. Beams, frames, stays.
#pragma once
#include <string>
#include <vector>

#include "core/model/entry.hpp"

namespace anvil::model {

/// What a slender part looks like when it is cut across. Height goes along the section's up, width across it.
struct Section {
  std::string form = "rectangle";  ///< "rectangle", "round", "tube", "I", "channel", "angle" or "polygon"
  Entry width, height, diameter;
  Entry wall;                 ///< of tubes, channels and angles; web of an I
  Entry flange;               ///< thickness of an I's or channel's flanges; the wall's when left out
  Entry torsion;              ///< torsion constant, where a catalogue has a better one, mm⁴
  std::vector<Point> points;  ///< of a polygon, anticlockwise: [across, up]
  Point shift;                ///< of the section's middle from the line: [across, up]
  bool operator==(const Section&) const = default;
};

struct SlenderLine {
  std::string from, to;         ///< names of points
  Point by;                     ///< a point that the line goes by: an arc of a circle; straight when left out
  std::string section;          ///< name; the part's first when left out
  Point up;                     ///< direction of the section's up; y, or in plane models what lies on the line's left
  std::string hinged = "none";  ///< ends that turn freely: "none", "from", "to" or "both"
  std::string carries = "all";  ///< "all": forces and moments; "pull and push" or "pull": a bar's or a stay's normal force
  Entry tension = 0;            ///< normal force it has at the start
  Entry count;                  ///< elements along it
  std::string edge;             ///< edge of another part's solid or sheet that it runs along: "part.face & part.face"
  bool operator==(const SlenderLine&) const = default;
};

struct Slender {
  Named<Point> points;
  Named<SlenderLine> lines;
  Named<Section> sections;
  bool operator==(const Slender&) const = default;
};

}  // namespace anvil::model
