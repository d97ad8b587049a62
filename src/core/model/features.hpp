// Features that solids of the document are built of, one after the other. Coordinates are those of the part.
#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/model/pattern.hpp"
#include "core/model/shapes.hpp"

namespace anvil::model {

struct BoxFeature {
  Point at, size;
  bool operator==(const BoxFeature&) const = default;
};
struct CylinderFeature {
  Point from, to;  ///< ends of its axis
  Entry radius;
  bool operator==(const CylinderFeature&) const = default;
};
struct TubeFeature {
  Point from, to;
  Entry inner, outer;
  bool operator==(const TubeFeature&) const = default;
};
struct BallFeature {
  Point center;
  Entry radius;
  bool operator==(const BallFeature&) const = default;
};
/// A solid out of a STEP file, by the name it has there.
struct StepFeature {
  std::string file, solid;
  /// What the faces were when the file was taken in: [number, kind, area, x, y, z] each. Faces of a newer file that are the same
  /// keep their number.
  std::vector<std::vector<Entry>> faces;
  bool operator==(const StepFeature&) const = default;
};
/// Edges rounded or cut off: those between two faces, or all edges of one.
struct EdgeFeature {
  std::vector<std::string> between;
  Entry radius;  ///< of the rounding; length of the chamfer's legs
  bool operator==(const EdgeFeature&) const = default;
};
/// Holes through a plate: at each centre, and again by `pitch` as often as `count` says.
struct HolePattern {
  std::vector<Point> at;  ///< centres [x, y], from the plate's corner
  Entry radius;
  std::vector<Entry> pitch, count;  ///< along x and y; 1 when left out
  bool operator==(const HolePattern&) const = default;
};
struct PlateFeature {
  Point at, size;
  HolePattern holes;
  bool operator==(const PlateFeature&) const = default;
};
/// An L-shaped bar: its profile in the x-y plane with the outer corner at `at`, pulled along z.
struct AngleFeature {
  Point at;
  std::vector<Entry> legs;  ///< along x and y, measured over the outside
  Entry thickness, length;
  Entry root = 0;  ///< radius between the legs
  bool operator==(const AngleFeature&) const = default;
};
/// A bolt with head and nut; threads are not modelled: shank and nut are one.
struct BoltFeature {
  Point from, to;                    ///< the seats of head and nut; from the holes when left out
  Entry diameter;                    ///< the largest usual one for the holes when left out
  std::vector<std::string> through;  ///< holes of other parts that it goes through, "part.feature.face"
  Entry head, headHeight;            ///< across the head and nut, 1.6 diameters, and height, 0.7 diameters, when left out
  Entry washer = 0;                  ///< thickness of washers under both; 1.9 diameters across
  bool operator==(const BoltFeature&) const = default;
};
/// The largest usual diameter of bolts that goes into a hole; both in mm.
double boltFor(double hole);
/// A plane that takes away what lies before it: halves for symmetry.
struct HalfFeature {
  Point at;
  Direction normal;  ///< points away from what stays
  bool operator==(const HalfFeature&) const = default;
};
/// A circle on a plane face: what lies inside becomes a face of its own, for washers and places that are pressed.
struct ImprintFeature {
  std::string on;  ///< "feature.face"
  Point center;
  Entry radius;
  bool operator==(const ImprintFeature&) const = default;
};
struct Feature {
  std::string name, note;
  std::string how = "add";  ///< "add", "cut" or "common"
  std::optional<BoxFeature> box;
  std::optional<CylinderFeature> cylinder;
  std::optional<TubeFeature> tube;
  std::optional<BallFeature> ball;
  std::optional<PlateFeature> plate;
  std::optional<AngleFeature> angle;
  std::optional<BoltFeature> bolt;
  std::optional<Profile> profile;  ///< drawn in the x–y plane; with one of the next two
  std::optional<Extrude> extrude;
  std::optional<Revolve> revolve;
  std::optional<StepFeature> step;
  std::optional<HalfFeature> half;
  std::optional<ImprintFeature> imprint;
  std::optional<EdgeFeature> fillet, chamfer;
  std::optional<RoundPattern> around;
  bool operator==(const Feature&) const = default;
};

}  // namespace anvil::model
