// The document: what the engineer means, as plain values. Read from and written to *.anvil files (JSON).
// No meshes and no pointers in here; two documents are equal when every entry is equal.
// What the named things are stands in headers of their own (part.hpp, contacts.hpp, …): include those that you look into, so
// that a new key compiles anew only what knows the things it belongs to.
#pragma once
#include <string>
#include <vector>

#include "core/model/comments.hpp"
#include "core/model/entry.hpp"
#include "core/model/file_units.hpp"
#include "core/model/forward.hpp"

namespace anvil::model {

struct Watch {
  Point at;  ///< a point of a part; the nearest node is followed
  std::string part;
  bool operator==(const Watch&) const = default;
};

struct Solver {
  Entry forceTolerance = 1e-6;       ///< largest residual over the running average nodal force
  Entry correctionTolerance = 1e-4;  ///< last correction over the increment's largest displacement
  int mostIterations = 16, fewestIterations = 1, easyIterations = 6;
  Entry growth = 1.5, cutback = 0.4;
  Entry plasticStrainLimit = 0.05;  ///< largest equivalent plastic strain increment at a point in one increment
  bool lineSearch = true, predictor = true;
  bool operator==(const Solver&) const = default;
};

/// What of a run is stored. Histories are of all increments, and the last one is always there to go on from.
struct Storage {
  std::string increments = "all";     ///< "all", "each n-th", "at times" or "step ends"
  int every = 5;                      ///< each n-th, counted in its step; step ends besides
  std::vector<Entry> times;           ///< of the run; the first increment that reaches one, and step ends
  std::vector<std::string> leaveOut;  ///< fields that are not stored
  bool operator==(const Storage&) const = default;
};

/// Where the model file lies: files that it names are looked for from there. No part of the model.
struct Home {
  std::string folder;
  bool operator==(const Home&) const { return true; }
};

struct Document {
  int anvil = 1;  ///< version of the format
  std::string title, note;
  FileUnits units;
  Named<Entry> parameters;
  std::string space = "plane strain";  ///< "plane strain", "plane stress", "axisymmetric" or "solid"
  std::string geometry = "large";      ///< "large" or "small" displacements and strains
  Entry thickness = 1;
  std::string fineness = "usual";  ///< of all meshes: "draft", "usual" or "fine"
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
  Storage results;
  Solver solver;
  std::vector<Comment> comments;  ///< of the file, kept in their places
  Home home;
  Document();
  ~Document();
  Document(const Document&);
  Document(Document&&) noexcept;
  Document& operator=(const Document&);
  Document& operator=(Document&&) noexcept;
  bool operator==(const Document&) const;
};

}  // namespace anvil::model
