// The document: what the engineer means, as plain values. Read from and written to *.anvil files (JSON).
// No meshes and no pointers in here; two documents are equal when every entry is equal.
#pragma once
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/base/units.hpp"
#include "core/model/comments.hpp"

namespace anvil::model {

/// One quantity as a person wrote it: a bare number in the file's units, "12 mm", or "=2*wall".
struct Entry {
  std::optional<double> number;
  std::string text;  ///< with a unit, or an expression; empty when `number` is set or nothing was given

  Entry() = default;
  Entry(double value) : number(value) {}
  Entry(int value) : number(value) {}
  Entry(std::string written) : text(std::move(written)) {}
  Entry(const char* written) : text(written) {}
  bool given() const { return number.has_value() || !text.empty(); }
  bool operator==(const Entry&) const = default;
};

/// Named things in the order of the file.
template <class T> struct Named : std::vector<std::pair<std::string, T>> {
  using std::vector<std::pair<std::string, T>>::vector;
  T* find(const std::string& name) {
    for (auto& [n, value] : *this)
      if (n == name) return &value;
    return nullptr;
  }
  const T* find(const std::string& name) const { return const_cast<Named*>(this)->find(name); }
  std::vector<std::string> names() const {
    std::vector<std::string> list;
    for (auto& [n, value] : *this) list.push_back(n);
    return list;
  }
  T& operator()(const std::string& name) {
    if (auto* t = find(name)) return *t;
    return this->emplace_back(name, T{}).second;
  }
};

using Point = std::vector<Entry>;  ///< two (or three) coordinates

// ---- materials -----------------------------------------------------------------------------------------------------

struct Elastic {
  Entry E, nu;
  std::vector<std::vector<Entry>> rows;   ///< elastic along a curve: [strain, stress] in tension
  std::string stress = "true";            ///< "true" or "engineering"
  bool operator==(const Elastic&) const = default;
};

/// Yield stress as a power of the plastic strain: yield (1 + strain/reference)^exponent.
struct PowerLaw {
  Entry reference, exponent;
  bool operator==(const PowerLaw&) const = default;
};

/// Yield stress that saturates: yield + gain (1 - exp(-rate strain)) + slope strain.
struct VoceLaw {
  Entry gain, rate, slope = 0;
  bool operator==(const VoceLaw&) const = default;
};

/// J2 plasticity. `rows` hold [strain, stress] pairs, read as `strain` and `stress` say.
struct Plastic {
  Entry yield;                       ///< first yield; taken from the first row when rows are given
  Entry tangent;                     ///< bilinear: slope of true stress against total strain after yield
  std::vector<std::vector<Entry>> rows;
  std::string strain = "plastic";    ///< "plastic" or "total"
  std::string stress = "true";       ///< "true" or "engineering"
  std::string hardening = "isotropic";  ///< "isotropic", "kinematic" or "mixed"
  Entry kinematicShare = 0.5;        ///< mixed: part of the hardening that moves the yield surface
  std::optional<PowerLaw> power;
  std::optional<VoceLaw> voce;
  std::vector<std::vector<Entry>> backStresses;  ///< saturating back stresses: [modulus C, recovery gamma] each
  bool operator==(const Plastic&) const = default;
};

/// A rubber by its energy: one of neo-Hookean, Mooney–Rivlin, Yeoh, Ogden.
struct Rubber {
  Entry neoHooke;                          ///< shear modulus
  std::vector<Entry> mooney;               ///< C10, C01
  std::vector<Entry> yeoh;                 ///< C1, C2, C3
  std::vector<std::vector<Entry>> ogden;   ///< [mu, alpha] each
  Entry bulk;                              ///< bulk modulus; 1000 times the shear modulus when left out
  bool operator==(const Rubber&) const = default;
};

struct Material {
  std::string note;
  Elastic elastic;
  std::optional<Plastic> plastic;
  std::optional<Rubber> rubber;
  Entry density;
  Entry expansion;                         ///< thermal
  bool operator==(const Material&) const = default;
};

// ---- shapes --------------------------------------------------------------------------------------------------------

/// One piece of a path. A line or arc to `line`/`arc`; `fillet` rounds the corner to the next piece.
struct PathPiece {
  Point line, arc;
  Point center;            ///< of the arc
  std::string turn = "left";  ///< the arc's sense: "left" (anticlockwise) or "right"
  Entry fillet;            ///< radius of the rounding at this piece's end
  std::string name;        ///< of the edge it makes; pieces may share a name
  Entry count;             ///< elements along it
  bool operator==(const PathPiece&) const = default;
};

struct Rectangle {
  Point at, size;
  bool operator==(const Rectangle&) const = default;
};

struct Ring {
  Point center;
  Entry inner, outer, from, to;
  bool operator==(const Ring&) const = default;
};

/// A disc divided without a pole: a square core and rings around it. Quarters and halves lie at x >= 0.
struct Disc {
  Point center;
  Entry radius;
  std::string sector = "full";     ///< "full", "half" (x >= 0) or "quarter" (x >= 0, y >= 0)
  bool operator==(const Disc&) const = default;
};

/// A path; closed for a deformable part (four sides of named edges make a mapped block), open or closed for a rigid one.
struct Profile {
  Point start;
  std::vector<PathPiece> path;
  std::vector<std::vector<std::string>> sides;  ///< names of the edges of each of the four sides, in path order
  bool operator==(const Profile&) const = default;
};

/// Rigid parts of solid models: a surface of triangles whose normals are smoothed except over sharp edges.
struct Facets {
  std::vector<Point> points;
  std::vector<std::vector<Entry>> triangles;   ///< numbers of three points, from 0, anticlockwise seen from outside
  Entry crease = 30;                           ///< angle between facets above which an edge stays sharp
  bool operator==(const Facets&) const = default;
};

/// How a block is divided: size, or counts along its first and second direction; grading > 1 makes last elements longer.
struct Division {
  Entry size;
  std::vector<Entry> count;
  std::vector<Entry> grading;
  bool operator==(const Division&) const = default;
};

struct Shape {
  std::optional<Rectangle> rectangle;
  std::optional<Ring> ring;
  std::optional<Disc> disc;
  std::optional<Profile> profile;
  std::optional<Facets> facets;
  std::vector<std::string> edges;  ///< own names for a rectangle's or ring's four edges, in their order
  Division mesh;
  bool operator==(const Shape&) const = default;
};

/// Solid models: the shapes, drawn in the x–y plane, pulled along z.
struct Extrude {
  Entry from = 0, depth;
  Entry count, grading = 1;        ///< layers; by the element size when left out
  bool operator==(const Extrude&) const = default;
};

/// Solid models: the shapes, drawn at x >= 0 in the x–y plane, turned about the y axis towards z.
struct Revolve {
  Entry from = 0, angle;
  Entry count;
  bool operator==(const Revolve&) const = default;
};

/// Features that solids are built of, one after the other. Coordinates are those of the part.
struct BoxFeature {
  Point at, size;
  bool operator==(const BoxFeature&) const = default;
};
struct CylinderFeature {
  Point from, to;                  ///< ends of its axis
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
  bool operator==(const StepFeature&) const = default;
};
/// Edges rounded or cut off: those between two faces, or all edges of one.
struct EdgeFeature {
  std::vector<std::string> between;
  Entry radius;                    ///< of the rounding; length of the chamfer's legs
  bool operator==(const EdgeFeature&) const = default;
};
/// Holes through a plate: at each centre, and again by `pitch` as often as `count` says.
struct HolePattern {
  std::vector<Point> at;           ///< centres [x, y], from the plate's corner
  Entry radius;
  std::vector<Entry> pitch, count; ///< along x and y; 1 when left out
  bool operator==(const HolePattern&) const = default;
};
struct PlateFeature {
  Point at, size;
  HolePattern holes;
  bool operator==(const PlateFeature&) const = default;
};
/// A bolt with head and nut; threads are not modelled: shank and nut are one.
struct BoltFeature {
  Point from, to;                  ///< the seats of head and nut
  Entry diameter;
  Entry head, headHeight;          ///< across the head and nut, 1.6 diameters, and height, 0.7 diameters, when left out
  Entry washer = 0;                ///< thickness of washers under both; 1.9 diameters across
  bool operator==(const BoltFeature&) const = default;
};
/// A plane that takes away what lies before it: halves for symmetry.
struct HalfFeature {
  Point at;
  std::vector<Entry> normal;       ///< points away from what stays
  bool operator==(const HalfFeature&) const = default;
};
struct Feature {
  std::string name, note;
  std::string how = "add";         ///< "add", "cut" or "common"
  std::optional<BoxFeature> box;
  std::optional<CylinderFeature> cylinder;
  std::optional<TubeFeature> tube;
  std::optional<BallFeature> ball;
  std::optional<PlateFeature> plate;
  std::optional<BoltFeature> bolt;
  std::optional<Profile> profile;  ///< drawn in the x–y plane; with one of the next two
  std::optional<Extrude> extrude;
  std::optional<Revolve> revolve;
  std::optional<StepFeature> step;
  std::optional<HalfFeature> half;
  std::optional<EdgeFeature> fillet, chamfer;
  bool operator==(const Feature&) const = default;
};

/// Where a part is put: turned about an axis through the origin, then shifted.
struct Place {
  std::string axis = "z";
  Entry angle = 0;
  Point shift;
  bool operator==(const Place&) const = default;
};

struct Part {
  std::string note, material;
  bool rigid = false;
  std::vector<std::string> loose;  ///< rigid: directions in which nothing holds it but loads, springs and contact
  Point pivot;                     ///< rigid: the point that motions turn about and moments refer to
  std::string element = "auto";    ///< quad8, quad4, tri6; in solid models hex20, hex8, tet10; auto: the quadratic one
  std::vector<Shape> shape;
  std::optional<Extrude> extrude;
  std::optional<Revolve> revolve;
  std::vector<Feature> solid;      ///< in place of shapes: a solid of features, meshed by tetrahedra
  std::optional<Place> place;
  Division mesh;                   ///< for shapes without an own division
  Named<Entry> faceSizes;          ///< element sizes on faces of a solid, by "feature.face" or "feature"
  std::string color;
  bool operator==(const Part&) const = default;
};

/// Faces in a plane, or in a box: all facets of the parts' outside that lie there.
struct PlaneRule {
  Point at;
  std::vector<Entry> normal;
  Entry within;                    ///< distance from the plane; a hundredth of the model's size when left out
  bool operator==(const PlaneRule&) const = default;
};
struct BoxRule {
  Point from, to;
  bool operator==(const BoxRule&) const = default;
};

/// Named faces, and others found by rule; all of them together.
struct Region {
  std::vector<std::string> edges;  ///< "part.edge"
  std::vector<std::string> cylinderOf;  ///< faces on the same cylinder as these
  std::vector<std::string> tangentTo;   ///< faces that go on from these without a corner
  std::optional<PlaneRule> plane;
  std::optional<BoxRule> box;
  std::vector<std::string> of;     ///< parts that plane and box look at; all when empty
  bool operator==(const Region&) const = default;
};

// ---- courses, steps, acting things ---------------------------------------------------------------------------------

enum class How { ramp, atOnce, hold, off };

struct Stage {
  How how = How::ramp;
  Entry value;
  bool operator==(const Stage&) const = default;
};

/// Value of an acting thing over the history. A single `value` is ramped over the first step and held. Otherwise one
/// stage per named step (inactive before the first one named, held after the last), or a table against time.
struct Course {
  Entry value;
  Named<Stage> stages;
  std::vector<std::vector<Entry>> table;
  bool given() const { return value.given() || !stages.empty() || !table.empty(); }
  bool operator==(const Course&) const = default;
};

/// An axis by name ("x", "y", "r", "z", "normal", "turn") or a vector.
struct Direction {
  std::string axis;
  std::vector<Entry> vector;
  bool operator==(const Direction&) const = default;
};

struct Increments {
  Entry first = 0.05, smallest = 1e-6, largest = 0.1;  ///< as parts of the step
  int most = 2000;
  bool operator==(const Increments&) const = default;
};

/// Ends an arc-length step where a watched displacement passes a value.
struct Until {
  std::string watch, along;
  Entry passes;
  bool operator==(const Until&) const = default;
};

struct Step {
  std::string note;
  Entry time = 1;
  std::string control = "time";       ///< what leads: "time", or the "arc length" of displacements
  Until until;
  Increments increments;
  bool operator==(const Step&) const = default;
};

struct Support {
  std::vector<std::string> on, fix;   ///< fix: axes, "normal", or in space "radial y", "around y"
  Point about;                        ///< a point of the axis of radial and around
  std::vector<std::string> during;    ///< steps; all when empty
  bool operator==(const Support&) const = default;
};

struct Motion {
  std::vector<std::string> on;
  Direction along;
  std::vector<Entry> axis;            ///< turn in space about any axis: its direction
  Point about;                        ///< turn of edges and faces: a point of the axis
  Course course;
  bool operator==(const Motion&) const = default;
};

struct Load {
  std::vector<std::string> on;
  std::string kind = "pressure";  ///< "pressure" (follows the surface), "force" (total, keeps its direction) or "moment"
  Direction along;                ///< of a force; axis of a moment
  Course course;
  bool operator==(const Load&) const = default;
};

/// A point that faces follow: it carries loads, motions, supports and springs.
struct Carrier {
  std::vector<std::string> on;
  Point at;                       ///< the faces' middle when left out
  std::string hold = "rigid";     ///< "rigid": the faces keep their shape; "mean": they follow in the mean and may deform
  bool operator==(const Carrier&) const = default;
};

/// A spring and dashpot between two carriers or rigid parts, or from one to a place in space.
struct Spring {
  std::vector<std::string> between;
  Point at;                       ///< place in space of the other end, when one body is named
  std::string along;              ///< an axis or "turn"; along the line between the ends when left out
  Entry stiffness;
  std::vector<std::vector<Entry>> rows;   ///< [extension, force]
  Entry damping = 0;
  bool operator==(const Spring&) const = default;
};

/// A bolt whose shank the program cuts across: tightened to a force or by a length, then held.
struct Bolt {
  std::vector<std::string> on;    ///< faces of its shank
  std::vector<Entry> along;       ///< its axis; from the faces when left out
  Entry cut = 0.5;                ///< where it is cut, as a share of the faces' length along the axis
  Course force;                   ///< steps with a value tighten to it; it keeps its length in all others, and is slack where off
  Course shortening;              ///< steps with a value draw it in by that much
  bool operator==(const Bolt&) const = default;
};

/// What happens to gaps and overlaps at the start.
struct ContactStart {
  Entry closeWithin;          ///< gaps and overlaps up to this are taken as touching, without strain
  std::string resolveOver;    ///< step over which an overlap is resolved gradually
  bool operator==(const ContactStart&) const = default;
};

struct Contact {
  std::vector<std::string> between;   ///< two surfaces: regions or "part.edge"; a rigid part by its own name; one: self contact; "everything"
  std::string kind = "touching";      ///< "touching", "tied", "rough" or "sliding" (never opens)
  Entry friction = 0;
  Entry shearLimit;                   ///< largest friction traction
  ContactStart start;
  Course interference;                ///< overlap given as a number, measured along the normal
  std::string pressureOn = "auto";    ///< which side carries the pressure unknowns: "auto", "first", "second"
  Entry search;                       ///< distance within which faces are looked for
  std::vector<std::string> during;
  bool operator==(const Contact&) const = default;
};

struct Stabilisation {
  std::vector<std::string> on;        ///< parts
  Entry strength = 1;                 ///< multiplies the self-chosen viscosity
  std::vector<std::string> during;
  bool operator==(const Stabilisation&) const = default;
};

/// A change of temperature against the start, the same all over its parts.
struct Temperature {
  std::vector<std::string> on;        ///< parts
  Course rise;                        ///< kelvin
  bool operator==(const Temperature&) const = default;
};

struct Watch {
  Point at;             ///< a point of a part; the nearest node is followed
  std::string part;
  bool operator==(const Watch&) const = default;
};

struct Solver {
  Entry forceTolerance = 1e-6;        ///< largest residual over the running average nodal force
  Entry correctionTolerance = 1e-4;   ///< last correction over the increment's largest displacement
  int mostIterations = 16, fewestIterations = 1, easyIterations = 6;
  Entry growth = 1.5, cut = 0.4;
  Entry plasticStrainLimit = 0.05;    ///< largest equivalent plastic strain increment at a point in one increment
  bool lineSearch = true, predictor = true;
  bool operator==(const Solver&) const = default;
};

struct FileUnits {
  std::string length = "mm", force = "N", stress = "MPa", time = "s", temperature = "K", angle = "deg", density = "t/mm3";
  bool operator==(const FileUnits&) const = default;
};

/// Where the model file lies: files that it names are looked for from there. No part of the model.
struct Home {
  std::string folder;
  bool operator==(const Home&) const { return true; }
};

struct Document {
  int anvil = 1;                      ///< version of the format
  std::string title, note;
  FileUnits units;
  Named<Entry> parameters;
  std::string space = "plane strain"; ///< "plane strain", "plane stress", "axisymmetric" or "solid"
  std::string geometry = "large";     ///< "large" or "small" displacements and strains
  Entry thickness = 1;
  std::string fineness = "usual";     ///< of all meshes: "draft", "usual" or "fine"
  Named<Material> materials;
  Named<Part> parts;
  Named<Region> regions;
  Named<Contact> contacts;
  Named<Step> steps;
  Named<Support> supports;
  Named<Motion> motions;
  Named<Load> loads;
  Named<Carrier> carriers;
  Named<Spring> springs;
  Named<Bolt> bolts;
  Named<Temperature> temperatures;
  Named<Stabilisation> stabilisations;
  Named<Watch> watch;
  Solver solver;
  std::vector<Comment> comments;      ///< of the file, kept in their places
  Home home;
  bool operator==(const Document&) const = default;
};

}  // namespace anvil::model
