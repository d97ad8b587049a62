// The results file: one HDF5 file, written while the run goes and readable at any time (single writer, many readers).
// Every quantity is a dataset that grows by one row per increment; the table "increments" is extended last, so its
// length says how many rows are whole. A killed run leaves all of them.
#pragma once
#include <map>
#include <memory>
#include <string>
#include <vector>

#include "core/mesh/mesh.hpp"

namespace anvil::results {

/// What is stored per node of a contact, in this order.
enum class ContactColumn : size_t { pressure, friction, status, gap, slip, area };
inline constexpr size_t contactColumns = 6;

/// What is stored of each end of a cell of slender parts, in this order; see element::BeamEnd.
enum class SlenderColumn : size_t {
  normal,
  shearUp,
  shearAcross,
  torque,
  momentUp,
  momentAcross,
  stretch,
  twist,
  curveUp,
  curveAcross,
  greatest,
  least,
  plastic,
  yielded
};
inline constexpr size_t slenderColumns = 14;

/// Both sides of a contact, for display of its fields.
struct ContactSurface {
  std::string name;
  std::vector<int> nodes;     ///< corners of the side that carries the unknowns, then of the side opposite
  size_t carriers = 0;        ///< how many of them are the first side's
  std::vector<int> segments;  ///< plane models: pairs of node numbers, the edges between them
};

/// A rigid body for display: a plane outline in order, or quads in space.
struct RigidShape {
  std::string name;
  Eigen::Vector3d pivot{0, 0, 0};
  std::vector<double> points;  ///< x, y, z in turn
  bool closed = false;
  std::vector<int> quads;  ///< four point numbers each
};

/// All that stands before the first increment.
struct Header {
  std::string model;  ///< the model file's text
  std::string space;  ///< as in the document
  mesh::Mesh mesh;
  std::vector<ContactSurface> contacts;
  std::vector<RigidShape> rigid;
  std::vector<std::string> steps, historyNames;
  std::vector<std::string> historyUnits;  ///< parallel; empty for plain numbers
  std::vector<double> stepEnds;
  double yieldStress = 0;                 ///< least first-yield stress of the model, 0 when elastic
  bool thinned = false;                   ///< not every increment is stored; said to the writer, not in the file
  std::vector<std::string> leftOut = {};  ///< fields that are not stored: "stress", "strain energy", …
};

/// What the solver goes on from: each vector by its name.
using NamedVectors = std::map<std::string, std::vector<double>>;

/// What becomes of an increment: it is stored; stored until the one after next, to go on from; or nothing but its histories.
enum class Keep { forGood, asLatest, historiesOnly };

/// One increment as stored. Sizes are fixed by the header, except on the first row, which sets those of `restart`.
struct Row {
  Keep keep = Keep::forGood;
  int step = 0, index = 0, iterations = 0, cutbacks = 0;
  double time = 0, size = 0;
  std::vector<float> displacement, reaction;  ///< 2 or 3 per node
  std::vector<float> stress, strain;          ///< per point 11, 22, 33, 12 and in space 23, 13
  std::vector<float> plastic, energyDensity;  ///< 1 per point
  std::vector<float> turn;                    ///< of slender parts: 1 or 3 per turn of the mesh, rad
  std::vector<float> slender;                 ///< slenderColumns per end, two ends per cell, line by line
  std::vector<double> rigid;                  ///< 3 or 6 per body: translations, then turns
  std::vector<std::vector<float>> contacts;   ///< contactColumns per node
  std::vector<double> histories, residuals;   ///< residual over limit after each iteration
  NamedVectors restart;                       ///< the same names in every row
};

/// Short facts of an increment.
struct RowInfo {
  int step, index, iterations, cutbacks;
  double time, size;
  int slot = 0;        ///< which of the stored ones it is; below zero: among the latest ones, or not stored
  bool stored = true;  ///< its fields can be read
};

/// Throws Error, with who it is, when a run writes this results file now.
void refuseIfWritten(const std::string& path);

/// While it lives no other writer, of this process or another, gets the file.
class Writer {
 public:
  /// Creates the file. Throws Error when the place cannot be written.
  Writer(const std::string& path, const Header& header);
  /// Takes up an earlier run (finished, stopped or killed) behind `keep` increments; later ones are dropped. `header`: of the
  /// model as it is now, with the same mesh and contacts.
  Writer(const std::string& path, size_t keep, const Header& header);
  ~Writer();
  /// Appends an increment and brings it to disk. Throws Error (disk full); what was appended before stays whole.
  void append(const Row& row);
  /// A closing word: "finished", "stopped", or why it failed.
  void finish(const std::string& outcome);

 private:
  struct Data;
  std::unique_ptr<Data> data_;
};

class Reader {
 public:
  /// Opens a results file, also of a run that goes on or was killed. Throws Error when it is none or is damaged.
  explicit Reader(const std::string& path);
  ~Reader();
  Reader(Reader&&) noexcept;
  Reader& operator=(Reader&&) noexcept;

  const Header& header() const;
  /// Looks for new increments; true when there are some.
  bool refresh();
  const std::vector<RowInfo>& rows() const;
  /// The stored increment next to a time, or to a row of which only histories are there. Throws Error when none is stored.
  size_t storedNear(double time) const;
  size_t storedNear(size_t row) const;
  /// Whether a field ("stress") is stored at all.
  bool has(const std::string& field) const;
  std::string outcome() const;  ///< empty while running or after a kill

  std::vector<float> field(const std::string& name, size_t row) const;  ///< "displacement", "stress", …
  std::vector<float> contact(size_t contact, size_t row) const;
  std::vector<double> rigid(size_t row) const;
  std::vector<double> residuals(size_t row) const;
  /// One history over all increments. Throws Error naming the nearest known one.
  std::vector<double> history(const std::string& name) const;
  /// All histories, row by row: as many numbers per increment as the header has names.
  std::vector<double> histories() const;
  std::vector<double> times() const;
  /// Throws Error when the file was written by a program that stored it otherwise.
  NamedVectors restart(size_t row) const;
  Row whole(size_t row) const;      ///< all that is stored of an increment
  Row histories(size_t row) const;  ///< what is there of every one: how it went and its histories

 private:
  struct Data;
  std::unique_ptr<Data> data_;
};

}  // namespace anvil::results
