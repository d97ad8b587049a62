#include "core/model/beginnings.hpp"

#include <algorithm>
#include <map>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"

namespace anvil::model {
namespace {

using Parts = std::map<std::string, std::string>;

/// Parts by name, as a model file has them. Lengths in mm.
const Parts& planeParts() {
  static const Parts parts{
      {"rectangle", R"({"shape": {"rectangle": {"at": [0, 0], "size": [60, 20]}}})"},
      {"disc", R"({"shape": {"disc": {"center": [0, 0], "radius": 20}}})"},
      {"half ring", R"({"shape": {"ring": {"center": [0, 0], "inner": 20, "outer": 30, "from": 0, "to": 180}}})"},
      {"bracket", R"({"shape": {"profile": {"start": [80, 0], "path": [{"line": [80, 20], "name": "end"},
        {"line": [20, 20], "fillet": 10, "name": "inside"}, {"line": [20, 80], "name": "inside"},
        {"line": [0, 80], "name": "top"}, {"line": [0, 0], "name": "back"}, {"line": [80, 0], "name": "bottom"}],
        "sides": [["end"], ["inside"], ["top"], ["back", "bottom"]]}}, "mesh": {"size": 4}})"}};
  return parts;
}
const Parts& axisymmetricParts() {
  static const Parts parts{{"tube", R"({"shape": {"rectangle": {"at": [10, 0], "size": [5, 30]}}})"},
                           {"shaft", R"({"shape": {"rectangle": {"at": [0, 0], "size": [10, 40]}}})"},
                           {"ball", R"({"shape": {"disc": {"center": [0, 10], "radius": 10, "sector": "half"}}})"}};
  return parts;
}
const Parts& solidParts() {
  static const Parts parts{
      {"box", R"({"solid": [{"name": "box", "box": {"size": [60, 20, 40]}}]})"},
      {"cylinder", R"({"solid": [{"name": "cylinder", "cylinder": {"from": [0, 0, 0], "to": [0, 40, 0], "radius": 15}}]})"},
      {"tube", R"({"solid": [{"name": "tube", "tube": {"from": [0, 0, 0], "to": [0, 40, 0], "inner": 15, "outer": 20}}]})"},
      {"ball", R"({"solid": [{"name": "ball", "ball": {"center": [0, 0, 0], "radius": 15}}]})"},
      {"plate with a hole", R"({"solid": [{"name": "plate", "box": {"size": [80, 60, 6]}},
        {"name": "hole", "how": "cut", "cylinder": {"from": [40, 30, -1], "to": [40, 30, 7], "radius": 10}}]})"}};
  return parts;
}
const Parts& thinParts() {
  static const Parts parts{
      {"plate", R"({"shape": {"rectangle": {"at": [0, 0], "size": [120, 80]}}, "thin": {"thickness": 1}})"},
      {"gutter", R"({"shape": {"profile": {"start": [0, 40], "path": [{"line": [0, 0], "fillet": 8, "name": "left"},
        {"line": [60, 0], "fillet": 8, "name": "bottom"}, {"line": [60, 40], "name": "right"}]}}, "thin": {"thickness": 1},
        "extrude": {"depth": 120}})"},
      {"tube", R"({"shape": {"profile": {"start": [20, 0], "path": [{"line": [20, 100]}]}}, "thin": {"thickness": 1},
        "revolve": {"angle": 360}})"},
      {"cap", R"({"shape": {"profile": {"start": [0, 40], "path": [{"arc": [40, 0], "center": [0, 0], "turn": "right"}]}},
        "thin": {"thickness": 1}, "revolve": {"angle": 360}})"},
      {"tray", R"({"solid": [{"name": "tray", "box": {"size": [120, 20, 80]}}], "mesh": {"size": 6},
        "thin": {"thickness": 1, "faces": ["tray.bottom", "tray.left", "tray.right", "tray.front", "tray.back"]}})"}};
  return parts;
}

const Parts& partsOf(const std::string& kind) {
  return kind == "thin"           ? thinParts()
         : kind == "solid"        ? solidParts()
         : kind == "axisymmetric" ? axisymmetricParts()
                                  : planeParts();
}

}  // namespace

const std::vector<Beginning>& beginnings() {
  static const std::vector<Beginning> all{
      {"plane strain",
       "plane strain",
       "Long parts, alike all along and held lengthwise: a seal in its groove, a rolled strip.",
       {"rectangle", "disc", "half ring", "bracket"}},
      {"plane stress",
       "plane stress",
       "Flat plates loaded in their plane: a bracket, a hook, a link.",
       {"bracket", "rectangle", "disc", "half ring"}},
      {"axisymmetric",
       "axisymmetric",
       "Round parts, loaded alike all round: a press fit, a flange, a ball on a plate.",
       {"tube", "shaft", "ball"}},
      {"solid",
       "solid",
       "Everything else, in space: features, STEP geometry, bolts, sheets and beams.",
       {"box", "plate with a hole", "cylinder", "tube", "ball"}},
      {"thin",
       "solid",
       "Sheets in space: a lid, a tube, a tray, given by a surface and a thickness.",
       {"plate", "tray", "gutter", "tube", "cap"}}};
  return all;
}

Document begun(const std::string& kind, const std::string& part) {
  const auto& all = beginnings();
  std::vector<std::string> known;
  for (const auto& b : all) known.push_back(b.name);
  const auto own = std::find_if(all.begin(), all.end(), [&](const auto& b) { return b.name == kind; });
  if (own == all.end()) throw Error("there is no kind of model '" + kind + "'", {}, "Known: " + inProse(known) + ".");
  const auto& parts = partsOf(kind);
  if (!part.empty() && !parts.contains(part))
    throw Error("no " + kind + " model begins with '" + part + "'", {}, "Known: " + inProse(own->parts) + ".");
  const std::string one = part == "plate with a hole" ? "plate" : part;
  auto d = parse(R"({"anvil": 1, "title": "Untitled", "materials": {"steel": {"note": "typical", "elastic": {"E": "205 GPa",
    "nu": 0.3}}}, "parts": {)" +
                 (part.empty() ? std::string() : "\"" + one + "\": " + parts.at(part)) + "}, \"steps\": {\"load\": {}}}");
  d.space = own->space;
  if (part.empty()) d.materials.clear();
  for (auto& [name, p] : d.parts) p.material = "steel";
  return d;
}

}  // namespace anvil::model
