#include "core/model/typical_materials.hpp"

namespace anvil::model {
namespace {

constexpr const char* caution = "Typical values of textbooks, at room temperature. Take your own material's for a decision.";

Material metal(const char* E, double nu, const char* density, const char* expansion, const char* yield) {
  Material m;
  m.note = caution, m.elastic.E = E, m.elastic.nu = nu, m.density = density, m.expansion = expansion;
  m.plastic.emplace().yield = yield;
  return m;
}
Material bilinear(Material m, const char* tangent) {
  m.plastic->tangent = tangent;
  return m;
}
Material power(Material m, double reference, double exponent) {
  m.plastic->power = PowerLaw{reference, exponent};
  return m;
}
Material rubber(const char* shear, const char* bulk, const char* density) {
  Material m;
  m.note = caution, m.density = density;
  auto& r = m.rubber.emplace();
  r.neoHooke = shear, r.bulk = bulk;
  return m;
}

}  // namespace

// Moduli, densities and expansions as in tables of W. Callister, Materials Science and Engineering; strain hardening of annealed
// copper, K = 315 MPa and n = 0.54, of annealed stainless steel, K = 1275 MPa and n = 0.45, and of soft aluminium, K = 180 MPa
// and n = 0.2 (S. Kalpakjian, Manufacturing Engineering and Technology), written as yield (1 + strain/reference)^n.
const std::vector<TypicalMaterial>& typicalMaterials() {
  static const std::vector<TypicalMaterial> all{
      {"structural steel 235", "Steel", bilinear(metal("210 GPa", 0.3, "7850 kg/m3", "12 um/m/K", "235 MPa"), "1000 MPa")},
      {"structural steel 355", "Steel", bilinear(metal("210 GPa", 0.3, "7850 kg/m3", "12 um/m/K", "355 MPa"), "1000 MPa")},
      {"heat-treated steel", "Steel", bilinear(metal("210 GPa", 0.3, "7850 kg/m3", "11.5 um/m/K", "650 MPa"), "1500 MPa")},
      {"spring steel", "Steel", bilinear(metal("206 GPa", 0.3, "7850 kg/m3", "11 um/m/K", "1200 MPa"), "3000 MPa")},
      {"stainless steel, annealed", "Steel", power(metal("195 GPa", 0.3, "7950 kg/m3", "16.5 um/m/K", "215 MPa"), 0.0192, 0.45)},
      {"aluminium alloy, hardened", "Light and copper metals",
       bilinear(metal("69 GPa", 0.33, "2700 kg/m3", "23.5 um/m/K", "275 MPa"), "640 MPa")},
      {"aluminium, soft", "Light and copper metals",
       power(metal("69 GPa", 0.33, "2700 kg/m3", "23.5 um/m/K", "35 MPa"), 0.00028, 0.2)},
      {"tin bronze, cast", "Light and copper metals",
       bilinear(metal("110 GPa", 0.34, "8800 kg/m3", "18 um/m/K", "150 MPa"), "1300 MPa")},
      {"copper, annealed", "Light and copper metals",
       power(metal("117 GPa", 0.34, "8940 kg/m3", "17 um/m/K", "40 MPa"), 0.0219, 0.54)},
      {"rubber, 50 Shore A", "Rubber", rubber("0.75 MPa", "1500 MPa", "1100 kg/m3")},
      {"rubber, 70 Shore A", "Rubber", rubber("1.7 MPa", "2000 MPa", "1150 kg/m3")},
      {"polyethylene, high density", "Polymers", bilinear(metal("1 GPa", 0.42, "955 kg/m3", "150 um/m/K", "23 MPa"), "20 MPa")},
      {"polyamide 6, dry", "Polymers", bilinear(metal("2.8 GPa", 0.39, "1140 kg/m3", "85 um/m/K", "70 MPa"), "60 MPa")},
      {"acetal", "Polymers", bilinear(metal("2.8 GPa", 0.37, "1410 kg/m3", "110 um/m/K", "62 MPa"), "60 MPa")},
  };
  return all;
}

}  // namespace anvil::model
