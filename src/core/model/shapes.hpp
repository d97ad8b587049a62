// Plane shapes of the document, how they are divided, and how they become solids.
#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/model/entry.hpp"

namespace anvil::model {

/// One piece of a path. A line or arc to `line`/`arc`; `fillet` rounds the corner to the next piece.
struct PathPiece {
  Point line, arc;
  Point center;               ///< of the arc
  std::string turn = "left";  ///< the arc's sense: "left" (anticlockwise) or "right"
  Entry fillet;               ///< radius of the rounding at this piece's end
  std::string name;           ///< of the edge it makes; pieces may share a name
  Entry count;                ///< elements along it
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
  std::string sector = "full";  ///< "full", "half" (x >= 0) or "quarter" (x >= 0, y >= 0)
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
  std::vector<std::vector<Entry>> triangles;  ///< numbers of three points, from 0, anticlockwise seen from outside
  Entry crease = 30;                          ///< angle between facets above which an edge stays sharp
  bool operator==(const Facets&) const = default;
};

/// How a block is divided: size, or counts along its first and second direction; grading > 1 makes last elements longer.
struct Division {
  Entry size;
  std::vector<Entry> count;
  std::vector<Entry> grading;
  bool operator==(const Division&) const = default;
};

/// A smaller element size round a place, in solids of features.
struct NearSize {
  Point at;
  Entry within, size;  ///< radius about the place; edge length there
  bool operator==(const NearSize&) const = default;
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
  Entry count, grading = 1;  ///< layers; by the element size when left out
  Entry twist;               ///< turn about the z axis from one end to the other
  bool operator==(const Extrude&) const = default;
};

/// Solid models: the shapes go round the y axis and along it: springs. Their origin lies on the coil, x points away from its
/// axis.
struct Coil {
  Entry radius, pitch, turns;  ///< radius of the middle line; distance from turn to turn
  std::string hand = "right";  ///< "right" as usual screws, or "left"
  Entry count;                 ///< layers; by the element size when left out
  bool operator==(const Coil&) const = default;
};

/// Solid models: the shapes go along a path in space, square to it; their origin lies on the path.
struct SpacePath {
  Point start;
  std::vector<PathPiece> path;  ///< lines and arcs to points in space; `fillet` rounds corners between lines
  Entry count;                  ///< layers; by the element size when left out
  bool operator==(const SpacePath&) const = default;
};

/// Solid models: the shapes, drawn at x >= 0 in the x–y plane, turned about the y axis towards z.
struct Revolve {
  Entry from = 0, angle;
  Entry count;
  bool operator==(const Revolve&) const = default;
};

}  // namespace anvil::model
