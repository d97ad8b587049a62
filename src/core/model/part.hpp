// Parts: of what they are, what they look like, how they are meshed, where they are put.
#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/model/pattern.hpp"
#include "core/model/shapes.hpp"
#include "core/model/slender.hpp"
#include "core/model/thin.hpp"

namespace anvil::model {

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
  std::optional<Thin> thin;        ///< solid models: the shapes are those of a sheet; swept, the line it is made of
  std::optional<Slender> slender;  ///< in place of shapes: lines with sections
  std::optional<Extrude> extrude;
  std::optional<Revolve> revolve;
  std::optional<Coil> coil;
  std::optional<SpacePath> along;
  std::vector<Feature> solid;  ///< in place of shapes: a solid of features, swept or filled with tetrahedra
  std::optional<Place> place;
  std::optional<RoundPattern> around;  ///< the part again round an axis, where it is placed
  Division mesh;                       ///< for shapes without an own division
  Named<Entry> faceSizes;              ///< element sizes on faces of a solid, by "feature.face" or "feature"
  std::vector<NearSize> near;          ///< smaller elements round places of a solid
  std::string color;
  Part();
  ~Part();
  Part(const Part&);
  Part(Part&&) noexcept;
  Part& operator=(const Part&);
  Part& operator=(Part&&) noexcept;
  bool operator==(const Part&) const;
};

}  // namespace anvil::model
