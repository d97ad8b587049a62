// Solids of a CAD kernel, built of features or read from STEP files, whose faces keep the names of what made them.
#pragma once
#include <Eigen/Geometry>
#include <memory>
#include <string>
#include <vector>

#include "core/model/entry.hpp"
#include "core/model/forward.hpp"

namespace anvil::geometry {

class Solid {
 public:
  enum class Kind { plane, cylinder, cone, sphere, torus, other };
  struct Face {
    std::string name;  ///< "feature.face"; faces that were one once share a name
    Kind kind = Kind::other;
    double area = 0;  ///< mm²
    Eigen::Vector3d centre{0, 0, 0};
    Eigen::Vector3d axis{0, 0, 0};    ///< outward normal of a plane, axis of a cylinder, cone or torus
    double radius = 0;                ///< of a cylinder, sphere or torus (its tube), mm
    Eigen::Vector3d origin{0, 0, 0};  ///< of a cylinder: a point of its axis,
    double low = 0, high = 0;         ///< and where it begins and ends along `axis` from there, mm
  };

  /// In the order in which the kernel explores the shape, which BREP text keeps.
  const std::vector<Face>& faces() const { return faces_; }
  double volume() const { return volume_; }  ///< mm³; of a sheet 0
  /// A surface without a volume.
  bool sheet() const { return sheet_; }
  const Eigen::AlignedBox3d& bounds() const { return bounds_; }
  /// The shape as BREP text, for the mesher.
  const std::string& brep() const { return brep_; }

 private:
  friend class SolidBuilder;
  std::vector<Face> faces_;
  double volume_ = 0;
  bool sheet_ = false;
  Eigen::AlignedBox3d bounds_;
  std::string brep_;
};

/// Builds a part's solid. `folder`: where STEP files named without a path are looked for. Throws Error with the place in the
/// document: a feature that cannot be made, cuts nothing or everything away, a part in several pieces, a faulty STEP file.
Solid solid(const model::Part& part, const model::Quantities& quantities, const std::string& folder, const std::string& path);

/// A solid of a STEP file.
struct StepContent {
  std::string name;                        ///< "" where the file gives none
  std::string healing;                     ///< what had to be mended, a sentence without its full stop
  std::vector<std::vector<double>> faces;  ///< what they are, as StepFeature::faces keeps it
  bool sheet = false;                      ///< a surface without a volume
};
/// The solids and sheets of a STEP file, in its order. Throws Error.
std::vector<StepContent> stepContents(const std::string& file, const std::string& path);

/// What there is to say about a part's imported solids: what was healed, which faces are gone or new since the file was taken in.
/// A sentence each, without its full stop; empty for most. Throws Error as `solid` does.
struct StepNote {
  int feature;  ///< from 0
  std::string words;
  std::vector<std::vector<double>> faces;  ///< what they are now, numbered as before; empty when none changed
};
std::vector<StepNote> stepNotes(const model::Part& part, const model::Quantities& quantities, const std::string& folder,
                                const std::string& path);

}  // namespace anvil::geometry
