// What a model asks for and cannot have: each is refused with what is wrong, where it stands in the document and what to do.
#include <gtest/gtest.h>

#include <nlohmann/json.hpp>

#include "core/base/error.hpp"
#include "run/small_runs.hpp"

using namespace anvil;
using Json = nlohmann::ordered_json;  // steps are in order

namespace {

/// A model's text changed by a patch: objects are gone into, null takes out, all else replaces.
struct Refused {
  const char* patch;
  const char* where;
  const char* wrong;  ///< a part of what is said
};

void PrintTo(const Refused& r, std::ostream* out) { *out << r.patch; }

const char* const plane = R"({
  "space": "plane strain", "thickness": 2,
  "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}, "plastic": {"yield": 300}, "expansion": 1.2e-5},
                "rubber": {"rubber": {"neo-hooke": 1}}},
  "parts": {"block": {"material": "steel", "element": "quad4", "mesh": {"count": [4, 2]}, "shape": {"rectangle": {"at": [0, 0],
              "size": [4, 2]}}},
            "pad": {"material": "rubber", "element": "quad4", "mesh": {"count": [4, 1]}, "shape": {"rectangle": {"at": [0, -1],
              "size": [4, 1]}}},
            "tool": {"rigid": true, "pivot": [2, 3], "shape": {"rectangle": {"at": [0, 2], "size": [4, 1]}}}},
  "contacts": {"press": {"between": ["block.top", "tool"], "friction": 0.1}, "seat": {"between": ["block.bottom", "pad.top"]}},
  "carriers": {"side": {"on": "block.right", "hold": "mean"}},
  "springs": {"back": {"between": ["side"], "along": "x", "stiffness": 10}},
  "steps": {"press": {}, "hold": {}},
  "supports": {"floor": {"on": "pad.bottom", "fix": ["x", "y"]}},
  "motions": {"down": {"on": "tool", "along": "y", "course": -0.1}},
  "loads": {"side": {"on": "block.left", "kind": "pressure", "course": 5}},
  "temperatures": {"warm": {"on": ["block"], "rise": 20}},
  "watch": {"corner": {"part": "block", "at": [4, 2]}}
})";

const char* const solid = R"({
  "space": "solid",
  "materials": {"steel": {"elastic": {"E": 200000, "nu": 0.3}}},
  "parts": {"plate": {"material": "steel", "element": "hex8", "mesh": {"count": [3, 2]}, "shape": {"rectangle": {"at": [0, 0],
              "size": [6, 4]}}, "extrude": {"depth": 2, "count": 2}},
            "cover": {"material": "steel", "element": "hex8", "mesh": {"count": [3, 2]}, "shape": {"rectangle": {"at": [0, 0],
              "size": [6, 4]}}, "extrude": {"from": 2, "depth": 2, "count": 2}}},
  "contacts": {"joint": {"between": ["plate.back", "cover.front"]}},
  "bolts": {"bolt": {"beam": {"head": ["cover.back"], "nut": ["plate.front"], "material": "steel", "diameter": 1}, "force": 100}},
  "steps": {"tighten": {}, "load": {}},
  "supports": {"wall": {"on": "plate.left", "fix": ["x", "y", "z"]}},
  "motions": {"pull": {"on": "cover.right", "along": "x", "course": {"load": 0.01}}}
})";

std::unique_ptr<Error> refusalOf(const char* model, const char* patch) {
  auto j = Json::parse(model);
  j.merge_patch(Json::parse(patch));
  try {
    lowered(j.dump());
  } catch (const Error& e) {
    return std::make_unique<Error>(e);
  }
  return nullptr;
}

void expectRefused(const char* model, const Refused& r) {
  const auto e = refusalOf(model, r.patch);
  ASSERT_TRUE(e) << "it was taken";
  EXPECT_EQ(e->where().substr(0, e->where().find(" (")), r.where) << e->what();
  EXPECT_NE(e->wrong().find(r.wrong), std::string::npos) << e->what();
  EXPECT_FALSE(e->remedy().empty()) << e->what();
}

class InThePlane : public ::testing::TestWithParam<Refused> {};
class InSpace : public ::testing::TestWithParam<Refused> {};

TEST_P(InThePlane, IsRefusedWithItsPlaceAndARemedy) { expectRefused(plane, GetParam()); }
TEST_P(InSpace, IsRefusedWithItsPlaceAndARemedy) { expectRefused(solid, GetParam()); }

TEST(Refusals, TheModelsThemselvesAreTaken) {
  EXPECT_FALSE(refusalOf(plane, "{}"));
  EXPECT_FALSE(refusalOf(solid, "{}"));
}

INSTANTIATE_TEST_SUITE_P(
    Materials, InThePlane,
    ::testing::Values(
        Refused{R"({"materials": {"steel": {"elastic": {"E": 0}}}})", "materials/steel/elastic/E", "0 MPa"},
        Refused{R"({"materials": {"steel": {"elastic": {"nu": 0.5}}}})", "materials/steel/elastic/nu", "Poisson's ratio is 0.5"},
        Refused{R"({"materials": {"steel": {"elastic": {"E": "200 kN"}}}})", "materials/steel/elastic/E", "kN"},
        Refused{R"({"materials": {"steel": {"plastic": {"yield": null}}}})", "materials/steel/plastic/yield", "no yield stress"},
        Refused{R"({"materials": {"steel": {"plastic": {"yield": -1}}}})", "materials/steel/plastic/yield", "-1 MPa"},
        Refused{R"({"materials": {"steel": {"plastic": {"tangent": 200000}}}})", "materials/steel/plastic/tangent", "200000"},
        Refused{R"({"materials": {"steel": {"plastic": {"hardening": "mixed", "kinematic share": 2}}}})",
                "materials/steel/plastic/kinematic share", "share is 2"},
        Refused{R"({"materials": {"steel": {"plastic": {"rows": [[0, 300]]}}}})", "materials/steel/plastic", "both a table"},
        Refused{R"({"materials": {"steel": {"plastic": {"yield": null, "rows": [[0.01, 300]], "strain": "plastic"}}}})",
                "materials/steel/plastic/rows/1", "does not begin at yield"},
        Refused{
            R"({"materials": {"steel": {"plastic": {"yield": null, "rows": [[0, 300], [0.1, 400], [0.1, 410]],
            "strain": "plastic"}}}})",
            "materials/steel/plastic/rows/3", "turns back"},
        Refused{R"({"materials": {"steel": {"plastic": {"yield": null, "rows": [[0, 300], [0.1, 290]], "strain": "plastic"}}}})",
                "materials/steel/plastic/rows/2", "softens"},
        Refused{R"({"materials": {"steel": {"plastic": {"power": {"reference": 0.002, "exponent": 2}}}}})",
                "materials/steel/plastic/power", "exponent from 0 to 1"},
        Refused{R"({"materials": {"steel": {"plastic": {"back stresses": [[1000]]}}}})",
                "materials/steel/plastic/back stresses/1", "modulus and a recovery rate"},
        Refused{R"({"materials": {"steel": {"elastic": {"rows": [[0.1, 5]]}}}})", "materials/steel", "along a curve and plastic"},
        Refused{R"({"materials": {"rubber": {"rubber": {"mooney": [1, 1]}}}})", "materials/rubber/rubber", "is one of"},
        Refused{R"({"materials": {"rubber": {"rubber": {"neo-hooke": null, "mooney": [1]}}}})", "materials/rubber/rubber/mooney",
                "two constants"},
        Refused{R"({"materials": {"rubber": {"rubber": {"neo-hooke": null, "mooney": [1, -2]}}}})", "materials/rubber/rubber",
                "shear modulus comes out as -2"},
        Refused{R"({"materials": {"rubber": {"rubber": {"neo-hooke": null, "ogden": [[1, 0]]}}}})",
                "materials/rubber/rubber/ogden/1", "exponent of zero"},
        Refused{R"({"materials": {"rubber": {"rubber": {"bulk": 1}}}})", "materials/rubber/rubber/bulk", "not above the shear"},
        Refused{R"({"materials": {"rubber": {"elastic": {"E": 1}}}})", "materials/rubber", "no elastic constants"},
        Refused{R"({"materials": {"steel": {"expansion": null}}})", "materials/steel/expansion", "no thermal expansion"}));

INSTANTIATE_TEST_SUITE_P(
    PartsAndWhatActs, InThePlane,
    ::testing::Values(
        Refused{R"({"thickness": 0})", "thickness", "0 mm"},
        Refused{R"({"parts": {"block": {"material": "stel"}}})", "parts/block/material", "stel"},
        Refused{R"({"parts": {"block": {"material": null}}})", "parts/block/material", "no material"},
        Refused{R"({"parts": {"block": {"around": {"count": 2}}}, "space": "axisymmetric"})", "parts/block/around", "all round"},
        Refused{R"({"parts": {"tool": {"around": {"count": 2}}}})", "parts/tool/around", "one body and is not repeated"},
        Refused{R"({"parts": {"tool": {"shape": null, "solid": [{"box": {"size": [1, 1, 1]}}]}}})", "parts/tool/solid",
                "the model is plane"},
        Refused{R"({"parts": {"tool": {"extrude": {"depth": 1}}}})", "parts/tool", "only parts of solid models"},
        Refused{R"({"parts": {"tool": {"pivot": [1, 2, 3]}}})", "parts/tool/pivot", "two coordinates"},
        Refused{R"({"carriers": {"tool": {"on": "block.right"}}})", "carriers/tool", "same name"},
        Refused{R"({"springs": {"back": {"between": ["side", "tool", "side"]}}})", "springs/back/between", "one or two ends"},
        Refused{R"({"springs": {"back": {"between": ["sde"]}}})", "springs/back/between", "no carrier or rigid part 'sde'"},
        Refused{R"({"springs": {"back": {"stiffness": null}}})", "springs/back", "neither stiffness nor rows"},
        Refused{R"({"springs": {"back": {"rows": [[0, 0], [1, 1]]}}})", "springs/back", "a stiffness and rows"},
        Refused{R"({"springs": {"back": {"stiffness": null, "rows": [[0, 0]]}}})", "springs/back/rows", "no curve"},
        Refused{R"({"springs": {"back": {"stiffness": null, "rows": [[0, 0], [0, 1]]}}})", "springs/back/rows/2",
                "does not rise"},
        Refused{R"({"springs": {"back": {"damping": -1}}})", "springs/back/damping", "below zero"},
        Refused{R"({"contacts": {"press": {"friction": -0.1}}})", "contacts/press/friction", "-0.1"},
        Refused{R"({"contacts": {"press": {"search": 0}}})", "contacts/press/search", "0 mm"},
        Refused{R"({"contacts": {"press": {"between": ["block.top", "tool", "pad"]}}})", "contacts/press/between",
                "between two surfaces"},
        Refused{R"({"contacts": {"press": {"between": ["tool"]}}})", "contacts/press/between", "cannot touch itself"},
        Refused{R"({"contacts": {"press": {"between": ["block.top", "block.top"]}}})", "contacts/press/between", "share faces"},
        Refused{R"({"contacts": {"press": {"between": ["block.tp", "tool"]}}})", "contacts/press/between", "block.tp"},
        Refused{R"({"contacts": {"press": {"between": ["block.top", "tool.botom"]}}})", "contacts/press/between",
                "no face 'botom'"},
        Refused{R"({"supports": {"floor": {"fix": []}}})", "supports/floor/fix", "no direction"},
        Refused{R"({"supports": {"floor": {"fix": ["z"]}}})", "supports/floor/fix", "direction"},
        Refused{R"({"supports": {"floor": {"on": []}}})", "supports/floor/on", "acts on nothing"},
        Refused{R"({"supports": {"floor": {"during": ["prss"]}}})", "supports/floor/during", "no step 'prss'"},
        Refused{R"({"motions": {"down": {"course": null}}})", "motions/down/course", "no course"},
        Refused{R"({"motions": {"down": {"along": "turn", "axis": [0, 0, 1]}}})", "motions/down/axis", "turn in space"},
        Refused{R"({"loads": {"side": {"course": null}}})", "loads/side/course", "no course"},
        Refused{R"({"loads": {"side": {"kind": "moment"}}})", "loads/side/on", "no carrier or rigid part 'block.left'"},
        Refused{R"({"loads": {"side": {"of": "whole"}}})", "loads/side/of", "pressure is the same"},
        Refused{R"({"loads": {"side": {"kind": "force", "along": "x", "of": "whole"}}})", "loads/side/of", "no symmetry plane"},
        Refused{R"({"loads": {"side": {"course": {"table": [[0, 0], [1, 5], [1, 6]]}}}})", "loads/side/course/table/3",
                "does not go on"},
        Refused{R"({"temperatures": {"warm": {"on": []}}})", "temperatures/warm/on", "no part"},
        Refused{R"({"temperatures": {"warm": {"on": ["tool"]}}})", "temperatures/warm/on", "rigid"},
        Refused{R"({"temperatures": {"warm": {"rise": null}}})", "temperatures/warm/rise", "no course"},
        Refused{R"({"watch": {"corner": {"part": "tool"}}})", "watch/corner/part", "no nodes"},
        Refused{R"({"steps": {"press": null, "hold": null}})", "steps", "no step"},
        Refused{R"({"steps": {"press": {"time": 0}}})", "steps/press/time", "0 s"},
        Refused{R"({"steps": {"press": {"increments": {"first": 2}}}})", "steps/press/increments", "do not fit together"},
        Refused{R"({"steps": {"press": {"increments": {"at": [2]}}}})", "steps/press/increments/at/1", "outside the step"},
        Refused{R"({"steps": {"press": {"until": {"watch": "corner"}}}})", "steps/press/until", "only an arc-length step"},
        Refused{R"({"steps": {"hold": {"control": "arc length", "until": {"watch": "corner", "along": "q", "passes": 1}}}})",
                "steps/hold/until/along", "direction 'q'"},
        Refused{R"({"solver": {"growth": 0.5}})", "solver", "growth be at least 1"},
        Refused{R"({"solver": {"force tolerance": 0}})", "solver", "above zero"}));

INSTANTIATE_TEST_SUITE_P(
    PartsAndWhatActs, InSpace,
    ::testing::Values(
        Refused{R"({"parts": {"plate": {"solid": [{"box": {"size": [1, 1, 1]}}]}}})", "parts/plate/solid", "shapes and a solid"},
        Refused{R"({"parts": {"plate": {"extrude": null}}})", "parts/plate", "plane shape"},
        Refused{R"({"parts": {"ball": {"rigid": true, "shape": {"rectangle": {"at": [0, 9], "size": [1, 1]}}}}})", "parts/ball",
                "only a plane shape"},
        Refused{R"({"bolts": {"bolt": {"on": ["plate.left"]}}})", "bolts/bolt", "has a shank and is a beam"},
        Refused{R"({"bolts": {"bolt": {"beam": {"diameter": 0}}}})", "bolts/bolt/beam/diameter", "0 mm"},
        Refused{R"({"bolts": {"bolt": {"beam": {"nut": ["cover.back"]}}}})", "bolts/bolt/beam/nut", "the same place"},
        Refused{R"({"bolts": {"bolt": {"beam": {"nut": []}}}})", "bolts/bolt/beam/nut", "are not said"},
        Refused{R"({"bolts": {"bolt": {"of": "whole"}}})", "bolts/bolt/of", "stands for its whole shank"},
        Refused{R"({"bolts": {"bolt": {"force": {"table": [[0, 0], [1, 5]]}}}})", "bolts/bolt/force/table", "step by step"},
        Refused{R"({"bolts": {"bolt": {"force": {"tighten": 100}, "shortening": {"tighten": 0.1}}}})",
                "bolts/bolt/shortening/tighten", "in the same step"},
        Refused{R"({"bolts": {"bolt": {"force": {"tighten": 100}, "shortening": {"load": "off"}}}})",
                "bolts/bolt/shortening/load", "not switched off"},
        Refused{R"({"contacts": {"joint": {"kind": "cyclic", "axis": "z"}}})", "contacts/joint/between", "0 degrees apart"},
        Refused{R"({"contacts": {"joint": {"axis": "z"}}})", "contacts/joint/kind", "an axis is given"},
        Refused{R"({"motions": {"pull": {"along": "turn"}}})", "motions/pull/along", "axis of the turn"},
        Refused{R"({"motions": {"pull": {"along": [0, 0, 0]}}})", "motions/pull/along", "direction"},
        Refused{R"({"regions": {"low": {"plane": {"at": [0, 9, 0], "normal": "y"}}}, "motions": {"pull": {"on": "low"}}})",
                "regions/low/plane", "no face lies in the plane"},
        Refused{R"({"regions": {"low": {"box": {"from": [9, 9, 9], "to": [10, 10, 10]}}}, "motions": {"pull": {"on": "low"}}})",
                "regions/low/box", "no face lies in the box"},
        Refused{R"({"regions": {"low": {"cylinder of": ["plate.left"]}}, "motions": {"pull": {"on": "low"}}})",
                "regions/low/cylinder of", "is no cylinder"},
        Refused{R"({"regions": {"low": {"plane": {"at": [0, 0, 0], "normal": "y"}, "of": ["plte"]}}, "motions":
            {"pull": {"on": "low"}}})",
                "regions/low/of", "no deformable part 'plte'"},
        Refused{R"({"motions": {"pull": {"on": "cover.right & plate.left"}}})", "motions/pull/on", "faces"},
        Refused{R"({"supports": {"wall": {"on": "plate.left & plate.front", "fix": "normal"}}})", "supports/wall/fix",
                "no normal of its own"},
        Refused{R"({"loads": {"push": {"on": "plate.left & plate.front", "kind": "pressure", "course": 1}}})", "loads/push/on",
                "no area"}));

}  // namespace
