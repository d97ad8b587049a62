// Materials of the document.
#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/model/entry.hpp"

namespace anvil::model {

struct Elastic {
  Entry E, nu;
  std::vector<std::vector<Entry>> rows;  ///< elastic along a curve: [strain, stress] in tension
  std::string stress = "true";           ///< "true" or "engineering"
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
  Entry yield;    ///< first yield; taken from the first row when rows are given
  Entry tangent;  ///< bilinear: slope of true stress against total strain after yield
  std::vector<std::vector<Entry>> rows;
  std::string strain = "plastic";       ///< "plastic" or "total"
  std::string stress = "true";          ///< "true" or "engineering"
  std::string hardening = "isotropic";  ///< "isotropic", "kinematic" or "mixed"
  Entry kinematicShare = 0.5;           ///< mixed: part of the hardening that moves the yield surface
  std::optional<PowerLaw> power;
  std::optional<VoceLaw> voce;
  std::vector<std::vector<Entry>> backStresses;  ///< saturating back stresses: [modulus C, recovery gamma] each
  bool operator==(const Plastic&) const = default;
};

/// A rubber by its energy: one of neo-Hookean, Mooney–Rivlin, Yeoh, Ogden.
struct Rubber {
  Entry neoHooke;                         ///< shear modulus
  std::vector<Entry> mooney;              ///< C10, C01
  std::vector<Entry> yeoh;                ///< C1, C2, C3
  std::vector<std::vector<Entry>> ogden;  ///< [mu, alpha] each
  Entry bulk;                             ///< bulk modulus; 1000 times the shear modulus when left out
  bool operator==(const Rubber&) const = default;
};

struct Material {
  std::string note;
  Elastic elastic;
  std::optional<Plastic> plastic;
  std::optional<Rubber> rubber;
  Entry density;
  Entry expansion;  ///< thermal
  bool operator==(const Material&) const = default;
};

}  // namespace anvil::model
