// Solids of features and from STEP files: volumes and areas in closed form, names that stay with their faces, faults in words.
#include <gtest/gtest.h>

#include <BRepAlgoAPI_Cut.hxx>
#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepFilletAPI_MakeFillet.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <Interface_Static.hxx>
#include <STEPControl_Controller.hxx>
#include <STEPControl_Writer.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Edge.hxx>
#include <TopoDS_Face.hxx>
#include <fstream>
#include <gp_Pln.hxx>
#include <map>
#include <numbers>

#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/geometry/solid.hpp"
#include "core/model/document.hpp"
#include "core/model/json.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "scratch.hpp"
#include "words.hpp"

using namespace anvil;

using geometry::Solid;

namespace {

using std::numbers::pi;

Solid built(const std::string& features, const std::string& more = "", const std::string& folder = "") {
  const auto d = model::parse(R"({"anvil": 1, "space": "solid", "parameters": {"r": 5, "t": 10}, "parts": {"part": {"solid": )" +
                              features + more + "}}}");
  return geometry::solid(d.parts.front().second, model::Quantities(d), folder, "parts/part");
}
std::string fault(const std::string& features, const std::string& folder = "") {
  return sentence([&] { built(features, "", folder); });
}
double faceArea(const Solid& s, const std::string& name) {
  double sum = 0;
  for (const auto& f : s.faces())
    if (f.name == name) sum += f.area;
  return sum;
}
int countOf(const Solid& s, const std::string& name) {
  return int(std::count_if(s.faces().begin(), s.faces().end(), [&](const auto& f) { return f.name == name; }));
}
const Solid::Face& faceOf(const Solid& s, const std::string& name) {
  for (const auto& f : s.faces())
    if (f.name == name) return f;
  ADD_FAILURE() << "no face " << name;
  return s.faces().front();
}

TEST(SolidShape, AnAngleHasItsLegsAndRoot) {
  const auto sharp = built(R"([{"angle": {"at": [1, 2, 3], "legs": [30, 20], "thickness": 4, "length": 50}, "name": "a"}])");
  EXPECT_NEAR(sharp.volume(), (30 * 4 + 16 * 4) * 50, 1e-6);
  EXPECT_NEAR(faceArea(sharp, "a.outer x"), 30 * 50, 1e-6);
  EXPECT_NEAR(faceArea(sharp, "a.outer y"), 20 * 50, 1e-6);
  EXPECT_NEAR(faceArea(sharp, "a.inner x"), 26 * 50, 1e-6);
  EXPECT_NEAR(faceArea(sharp, "a.inner y"), 16 * 50, 1e-6);
  EXPECT_NEAR(faceArea(sharp, "a.tip x") + faceArea(sharp, "a.tip y"), 2 * 4 * 50, 1e-6);
  EXPECT_NEAR((sharp.bounds().min() - Eigen::Vector3d(1, 2, 3)).norm(), 0, 1e-6);
  EXPECT_NEAR((sharp.bounds().max() - Eigen::Vector3d(31, 22, 53)).norm(), 0, 1e-6);
  const auto round = built(R"([{"angle": {"legs": [30, 20], "thickness": 4, "length": 50, "root": 5}, "name": "a"}])");
  EXPECT_NEAR(round.volume(), sharp.volume() + 25 * (1 - pi / 4) * 50, 1e-6);
  EXPECT_NEAR(faceArea(round, "a.root"), pi / 2 * 5 * 50, 1e-6);
  EXPECT_NEAR(faceArea(round, "a.inner y"), 11 * 50, 1e-6) << "names stay with their faces";
  EXPECT_SAYS(fault(R"([{"angle": {"legs": [30, 3], "thickness": 4, "length": 50}}])"), "no longer than the angle is thick");
  EXPECT_SAYS(fault(R"([{"angle": {"legs": [30, 20], "thickness": 4, "length": 50, "root": 17}}])"),
              "does not fit between the legs");
  EXPECT_SAYS(fault(R"([{"angle": {"legs": [30], "thickness": 4, "length": 50}}])"), "two legs");
}

TEST(SolidShape, PlatesHaveTheirPatternOfHoles) {
  const auto s = built(
      R"([{"plate": {"size": [60, 40, 5], "holes": {"at": [[10, 10]], "radius": 3, "pitch": [20, 20], "count": [3, 2]}},
        "name": "p"}])");
  EXPECT_NEAR(s.volume(), 60 * 40 * 5 - 6 * pi * 9 * 5, 1e-6);
  EXPECT_NEAR(faceArea(s, "p.hole 6"), 2 * pi * 3 * 5, 1e-6);
  EXPECT_NEAR(faceOf(s, "p.hole 6").centre.x(), 50, 1e-6);
  EXPECT_NEAR(faceOf(s, "p.hole 6").centre.y(), 30, 1e-6);
  EXPECT_SAYS(fault(R"([{"plate": {"size": [60, 40, 5], "holes": {"at": [[90, 10]], "radius": 3}}}])"), "beside the plate");
}

TEST(SolidShape, BoltsAreOneBodyWithNamedSeats) {
  const auto s = built(R"([{"bolt": {"from": [0, 0, 20], "to": [0, 0, 0], "diameter": 8, "washer": 1.5}}])");
  EXPECT_NEAR(s.volume(), pi * (16 * 20 + 2 * 7.6 * 7.6 * 1.5 + 2 * 6.4 * 6.4 * 5.6), 1e-6);
  EXPECT_NEAR(faceArea(s, "bolt.shank"), 2 * pi * 4 * 20, 1e-6);
  EXPECT_NEAR(faceArea(s, "bolt.head seat"), pi * (7.6 * 7.6 - 16), 1e-6);
  EXPECT_NEAR(faceOf(s, "bolt.head seat").centre.z(), 20, 1e-9);
  EXPECT_NEAR(faceOf(s, "bolt.nut seat").centre.z(), 0, 1e-9);
  const auto plain = built(R"([{"bolt": {"from": [0, 0, 20], "to": [0, 0, 0], "diameter": 8}}])");
  EXPECT_NEAR(faceArea(plain, "bolt.nut seat"), pi * (6.4 * 6.4 - 16), 1e-6);
  EXPECT_SAYS(fault(R"([{"bolt": {"from": [0, 0, 20], "to": [0, 0, 0], "diameter": 8, "head": 7}}])"), "no wider than the shank");
}

TEST(SolidShape, ProfilesArePulledAndTurned) {
  const std::string angle =
      R"("profile": {"start": [0, 0], "path": [{"line": [30, 0], "name": "foot"}, {"line": [30, 4]}, {"line": [4, 4],
        "fillet": 3, "name": "step"}, {"line": [4, 20]}, {"line": [0, 20], "name": "tip"}]})";
  const auto pulled = built("[{" + angle + R"(, "extrude": {"from": -5, "depth": 10}, "name": "a"}])");
  EXPECT_NEAR(pulled.volume(), 10 * (30 * 4 + 4 * 16 + 9 * (1 - pi / 4)), 1e-6);
  EXPECT_NEAR(faceArea(pulled, "a.foot"), 300, 1e-6);
  EXPECT_NEAR(faceOf(pulled, "a.front").centre.z(), -5, 1e-9);
  EXPECT_NEAR(faceOf(pulled, "a.back").centre.z(), 5, 1e-9);
  const std::string ring =
      R"("profile": {"start": [10, 0], "path": [{"line": [14, 0]}, {"line": [14, 6], "name": "outside"}, {"line": [10, 6]}, {
        "line": [10, 0]}]})";
  EXPECT_NEAR(built("[{" + ring + R"(, "revolve": {"angle": 360}, "name": "r"}])").volume(), pi * (196 - 100) * 6, 1e-6);
  const auto quarter = built("[{" + ring + R"(, "revolve": {"from": 90, "angle": 90}, "name": "r"}])");
  EXPECT_NEAR(quarter.volume(), pi * 96 * 6 / 4, 1e-6);
  EXPECT_LT(faceOf(quarter, "r.outside").centre.x(), 0) << "it begins at z and goes on to -x";
  EXPECT_GT(faceOf(quarter, "r.outside").centre.z(), 0);
  EXPECT_SAYS(fault("[{" + ring + R"(, "name": "r"}])"), "either extruded or revolved");
}

TEST(SolidShape, AHalfIsWhatLiesBehindThePlane) {
  const auto s =
      built(R"([{"ball": {"radius": 10}, "name": "b"}, {"half": {"at": [0, 0, 4], "normal": [0, 0, 1]}, "name": "h"}])");
  EXPECT_NEAR(s.volume(), 4. / 3 * pi * 1000 - pi * 36 * (30 - 6) / 3, 1e-5);
  EXPECT_NEAR(faceArea(s, "h.cut"), pi * 84, 1e-6);
  EXPECT_GT(faceArea(s, "b.surface"), 0);
  EXPECT_SAYS(fault(R"([{"ball": {"radius": 10}}, {"half": {"at": [0, 0, 14], "normal": [0, 0, 1]}}])"), "cuts nothing away");
}

TEST(SolidShape, ACircleOnAFacePartsIt) {
  const std::string plate = R"([{"box": {"size": [40, 30, 2]}, "name": "plate"}, {"name": "hole", "how": "cut",
    "cylinder": {"from": [15, 15, -1], "to": [15, 15, 3], "radius": 4}}, )";
  const auto s = built(plate + R"({"name": "washer", "imprint": {"on": "plate.back", "center": [15, 15, 9], "radius": 8}}])");
  EXPECT_NEAR(s.volume(), 2 * (1200 - 16 * pi), 1e-6);
  EXPECT_NEAR(faceArea(s, "washer.inside"), pi * (64 - 16), 1e-6);
  EXPECT_NEAR(faceArea(s, "plate.back"), 1200 - 64 * pi, 1e-6);
  EXPECT_NEAR(faceArea(s, "plate.front"), 1200 - 16 * pi, 1e-6);
  // over the edge of the face: the piece within it
  const auto half = built(plate + R"({"name": "spot", "imprint": {"on": "plate.front", "center": [40, 20, 0], "radius": 5}}])");
  EXPECT_NEAR(faceArea(half, "spot.inside"), 25 * pi / 2, 1e-6);
  EXPECT_SAYS(fault(plate + R"({"imprint": {"on": "plate.back", "center": [15, 15, 2], "radius": 80}}])"),
              "does not part the face");
  EXPECT_SAYS(fault(plate + R"({"imprint": {"on": "plate.bakc", "center": [15, 15, 2], "radius": 8}}])"), "'plate.back'");
  EXPECT_SAYS(fault(plate + R"({"imprint": {"on": "hole.side", "center": [15, 15, 2], "radius": 8}}])"), "is not plane");
  EXPECT_SAYS(fault(plate + R"({"imprint": {"on": "plate.back", "center": [15, 15, 2], "radius": 0}}])"), "radius");
  EXPECT_SAYS(fault(R"([{"imprint": {"on": "plate.back", "center": [15, 15, 2], "radius": 8}}])"), "nothing yet");
}

TEST(SolidShape, PrimitivesHaveTheirVolumesAreasAndFaces) {
  const auto box = built(R"({"box": {"at": [1, 2, 3], "size": [40, 20, "=t"]}})");
  EXPECT_NEAR(box.volume(), 8000, 1e-8);
  EXPECT_EQ(box.faces().size(), 6u);
  EXPECT_NEAR(box.bounds().min().y(), 2, 1e-6);
  EXPECT_NEAR(box.bounds().max().x(), 41, 1e-6);
  for (const auto& [name, x, y, z, area] : {std::tuple{"box.left", -1, 0, 0, 200},
                                            {"box.right", 1, 0, 0, 200},
                                            {"box.bottom", 0, -1, 0, 400},
                                            {"box.top", 0, 1, 0, 400},
                                            {"box.front", 0, 0, -1, 800},
                                            {"box.back", 0, 0, 1, 800}}) {
    EXPECT_NEAR(faceArea(box, name), area, 1e-8) << name;
    EXPECT_LT((faceOf(box, name).axis - Eigen::Vector3d(x, y, z)).norm(), 1e-12) << name << ": outwards";
  }
  const auto cylinder = built(R"({"cylinder": {"from": [0, 0, 0], "to": [0, 30, 0], "radius": "=r"}, "name": "pin"})");
  EXPECT_NEAR(cylinder.volume(), pi * 25 * 30, 1e-8);
  EXPECT_NEAR(faceOf(cylinder, "pin.side").radius, 5, 1e-12);
  EXPECT_EQ(faceOf(cylinder, "pin.side").kind, Solid::Kind::cylinder);
  EXPECT_NEAR(faceOf(cylinder, "pin.end").centre.y(), 30, 1e-9);
  EXPECT_NEAR(faceOf(cylinder, "pin.start").centre.y(), 0, 1e-9);
  const auto tube = built(R"({"tube": {"from": [0, 0, 0], "to": [1, 1, 0], "inner": 3, "outer": 5}})");
  EXPECT_NEAR(tube.volume(), pi * 16 * std::sqrt(2.), 1e-8);
  EXPECT_NEAR(faceArea(tube, "tube.inner"), 2 * pi * 3 * std::sqrt(2.), 1e-8);
  EXPECT_NEAR(built(R"({"ball": {"radius": 3}})").volume(), 36 * pi, 1e-8);
}

TEST(SolidShape, CutsKeepTheNamesOfWhatIsLeft) {
  const auto s = built(R"([{"box": {"size": [40, 20, 10]}, "name": "plate"},
    {"cylinder": {"from": [10, 10, -1], "to": [10, 10, 11], "radius": "=r"}, "name": "hole", "how": "cut"},
    {"box": {"at": [25, -1, 6], "size": [5, 22, 5]}, "name": "slot", "how": "cut"}])");
  EXPECT_NEAR(s.volume(), 8000 - pi * 250 - 5 * 20 * 4, 1e-6);
  EXPECT_NEAR(faceArea(s, "hole.side"), 2 * pi * 5 * 10, 1e-6);
  EXPECT_EQ(countOf(s, "plate.back"), 2) << "the slot parts it; both keep the name";
  EXPECT_NEAR(faceArea(s, "plate.back"), 800 - pi * 25 - 100, 1e-6);
  EXPECT_NEAR(faceArea(s, "slot.front"), 100, 1e-6) << "the ground of the slot";
  for (const auto& f : s.faces()) EXPECT_FALSE(f.name.empty());
}

TEST(SolidShape, EdgesAreRoundedAndCutOff) {
  const std::string plate = R"({"box": {"size": [40, 20, 10]}, "name": "plate"})";
  const auto one = built("[" + plate + R"(, {"fillet": {"between": ["plate.top", "plate.front"], "radius": 3}}])");
  EXPECT_NEAR(one.volume(), 8000 - (1 - pi / 4) * 9 * 40, 1e-6);
  EXPECT_NEAR(faceArea(one, "fillet.round"), pi / 2 * 3 * 40, 1e-6);
  EXPECT_EQ(faceOf(one, "fillet.round").kind, Solid::Kind::cylinder);
  EXPECT_NEAR(faceArea(one, "plate.top"), 400 - 40 * 3, 1e-6);
  const auto all = built("[" + plate + R"(, {"chamfer": {"between": "plate.front", "radius": 2}, "name": "bevel"}])");
  EXPECT_EQ(countOf(all, "bevel.slope"), 4);
  EXPECT_NEAR(faceArea(all, "plate.front"), 36 * 16, 1e-6);
}

TEST(SolidShape, PartsArePlacedWithTheirNames) {
  const auto s = built(R"({"box": {"size": [1, 2, 3]}})", R"(, "place": {"axis": "z", "angle": 90, "shift": [10, 0, 0]})");
  EXPECT_NEAR(s.bounds().min().x(), 8, 1e-6);
  EXPECT_NEAR(s.bounds().max().y(), 1, 1e-6);
  EXPECT_LT((faceOf(s, "box.right").axis - Eigen::Vector3d(0, 1, 0)).norm(), 1e-12);
}

TEST(SolidShape, FaultsAreSentencesWithTheirPlace) {
  const std::string plate = R"({"box": {"size": [40, 20, 10]}, "name": "plate"})";
  for (const auto& [features, what, where] :
       {std::tuple{std::string(R"({"box": {"size": [40, 0, 10]}})"), "no extent along y", "parts/part/solid/1/box/size"},
        {R"({"cylinder": {"from": [0, 0, 0], "to": [0, 0, 0], "radius": 1}})", "same point", "solid/1/cylinder/to"},
        {R"({"cylinder": {"to": [0, 0, 9], "radius": -1}})", "-1 mm", "radius"},
        {R"({"tube": {"to": [0, 0, 9], "inner": 5, "outer": 5}})", "not above the inner one", "outer"},
        {R"({"box": {"size": [1, 1]}})", "three coordinates", "size"},
        {"[" + plate + R"(, {"box": {"at": [50, 0, 0], "size": [1, 1, 1]}, "how": "cut"}])", "cuts nothing away", "solid/2"},
        {"[" + plate + R"(, {"box": {"at": [-1, -1, -1], "size": [99, 99, 99]}, "how": "cut"}])", "nothing is left", "solid/2"},
        {"[" + plate + R"(, {"box": {"at": [50, 0, 0], "size": [1, 1, 1]}}])", "does not touch", "solid/2"},
        {"[" + plate + R"(, {"box": {"at": [50, 0, 0], "size": [1, 1, 1]}, "how": "common"}])", "nothing is left", "solid/2"},
        {"[" + plate + R"(, {"box": {"at": [10, -1, -1], "size": [5, 30, 30]}, "how": "cut"}])", "falls into 2 pieces",
         "parts/part/solid"},
        {"[" + plate + ", " + plate + "]", "two features are called 'plate'", "solid"},
        {R"({"box": {"size": [1, 1, 1]}, "name": "a.b"})", "holds a dot", "solid"},
        {R"({"how": "cut", "box": {"size": [1, 1, 1]}})", "nothing yet", "how"},
        {R"({"name": "x"})", "is one of box", "solid/1"},
        {R"({"fillet": {"between": "a.b", "radius": 1}})", "nothing yet", "solid/1"},
        {"[" + plate + R"(, {"fillet": {"between": ["plate.topp"], "radius": 1}}])", "Did you mean 'plate.top'?", "between/1"},
        {"[" + plate + R"(, {"fillet": {"between": ["plate.top", "plate.bottom"], "radius": 1}}])", "no edge in common",
         "between"},
        {"[" + plate + R"(, {"fillet": {"between": ["plate.top"], "radius": 30}}])", "smaller radius", "solid/2/fillet"}}) {
    const auto words = fault(features);
    EXPECT_SAYS(words, what);
    EXPECT_SAYS(words, where);
  }
}

class StepShape : public Scratch {
 protected:
  void write(const std::string& name, const std::vector<TopoDS_Shape>& shapes, const char* unit = "MM") {
    STEPControl_Controller::Init();  // makes the setting known
    Interface_Static::SetCVal("write.step.unit", unit);
    STEPControl_Writer writer;
    for (const auto& s : shapes) writer.Transfer(s, STEPControl_AsIs);
    ASSERT_EQ(writer.Write((folder / name).c_str()), IFSelect_RetDone);
    Interface_Static::SetCVal("write.step.unit", "MM");
  }
  std::string said(const std::string& name, const std::string& more = "") {
    return fault(R"({"step": {"file": ")" + name + "\"" + more + "}}", folder.string());
  }
};

/// A plate with a hole and a rounded edge.
TopoDS_Shape plate() {
  BRepAlgoAPI_Cut cut(BRepPrimAPI_MakeBox(40., 20., 10.).Shape(),
                      BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(20, 10, -1), gp_Dir(0, 0, 1)), 5, 12).Shape());
  BRepFilletAPI_MakeFillet fillet(cut.Shape());
  fillet.Add(2, TopoDS::Edge(TopExp_Explorer(cut.Shape(), TopAbs_EDGE).Current()));
  return fillet.Shape();
}

TEST_F(StepShape, SolidsAreReadInMillimetresWhateverTheFilesUnit) {
  write("plate.step", {plate()});
  write("inches.step", {plate()}, "INCH");
  const auto s = built(R"({"step": {"file": "plate.step"}})", "", folder.string()),
             t = built(R"({"step": {"file": "inches.step"}})", "", folder.string());
  EXPECT_NEAR(s.volume(), t.volume(), 1e-6 * s.volume());
  EXPECT_NEAR(s.bounds().max().x(), 40, 1e-6);
  EXPECT_NEAR(t.bounds().max().x(), 40, 1e-4);
  EXPECT_EQ(s.faces().size(), t.faces().size());
  int hole = 0;
  for (const auto& f : s.faces()) hole += f.kind == Solid::Kind::cylinder && std::abs(f.radius - 5) < 1e-9;
  EXPECT_EQ(hole, 1);
  const auto cut = built(
      R"([{"step": {"file": "plate.step"}}, {"box": {"at": [30, -1, -1], "size": [30, 30, 30]}, "how": "cut", "name": "end"}])",
      "", folder.string());
  EXPECT_NEAR(cut.bounds().max().x(), 30, 1e-6) << "features go on from an imported solid";
}

TEST_F(StepShape, OneOfSeveralSolidsIsTakenByNumber) {
  write("two.step", {BRepPrimAPI_MakeBox(1., 1., 1.).Shape(), BRepPrimAPI_MakeBox(2., 2., 2.).Shape()});
  EXPECT_EQ(geometry::stepContents((folder / "two.step").string(), "").size(), 2u);
  EXPECT_NEAR(built(R"({"step": {"file": "two.step", "solid": "2"}})", "", folder.string()).volume(), 8, 1e-9);
  EXPECT_SAYS(said("two.step"), "holds 2 solids");
  EXPECT_SAYS(said("two.step", R"(, "solid": "lid")"), "no solid 'lid'");
}

TEST_F(StepShape, FaultyFilesAreAnsweredInWords) {
  EXPECT_SAYS(said("nowhere.step"), "nowhere.step");
  writeWhole((folder / "empty.step").string(), "");
  EXPECT_SAYS(said("empty.step"), "is empty");
  writeWhole((folder / "text.step").string(), "solid of mine\n");
  EXPECT_SAYS(said("text.step"), "no STEP file");
  write("plate.step", {plate()});
  const auto text = readWhole((folder / "plate.step").string());
  writeWhole((folder / "cut.step").string(), text.substr(0, text.size() / 2));
  EXPECT_SAYS(said("cut.step"), "cut short");
  auto broken = text;
  const auto at = broken.find("DATA;");
  for (size_t i = at; i < broken.size() - 40; i += 7) broken[i] = '#';
  writeWhole((folder / "broken.step").string(), broken);
  EXPECT_SAYS(said("broken.step"), "broken.step");
  write("face.step", {BRepBuilderAPI_MakeFace(gp_Pln(), 0, 1, 0, 1).Face()});
  EXPECT_SAYS(said("face.step"), "a surface without a volume");
}

}  // namespace

TEST(Solid, AFeatureIsRepeatedRoundAnAxis) {
  const auto flange = [](const std::string& around) {
    const auto d = model::parse(R"({"space": "solid", "parameters": {"n": 6}, "parts": {"p": {"solid": [
      {"name": "disc", "cylinder": {"from": [0, 0, 0], "to": [0, 0, 5], "radius": 40}},
      {"name": "hole", "how": "cut", "cylinder": {"from": [30, 0, -1], "to": [30, 0, 6], "radius": 3}, "around": )" +
                                around + "}]}}}");
    return geometry::solid(d.parts.front().second, model::Quantities(d), "", "parts/p");
  };
  const double disc = std::numbers::pi * 1600 * 5, hole = std::numbers::pi * 9 * 5;
  const auto six = flange(R"({"axis": [0, 0, 1], "count": "=n"})");
  EXPECT_NEAR(six.volume(), disc - 6 * hole, 1e-6 * disc);
  std::map<std::string, Eigen::Vector3d> centre;
  for (const auto& f : six.faces()) centre[f.name] = f.centre;
  for (int k = 0; k < 6; ++k) {
    const auto name = k ? "hole " + std::to_string(k + 1) + ".side" : std::string("hole.side");
    ASSERT_TRUE(centre.contains(name)) << name;
    const double angle = k * std::numbers::pi / 3;
    EXPECT_NEAR((centre[name].head<2>() - 30 * Eigen::Vector2d(std::cos(angle), std::sin(angle))).norm(), 0, 1e-6) << name;
  }
  EXPECT_NEAR(flange(R"({"axis": [0, 0, 1], "count": 3, "angle": 20})").volume(), disc - 3 * hole, 1e-6 * disc);
  EXPECT_NEAR(flange(R"({"axis": [0, 1, 0], "at": [0, 0, 2.5], "count": 2})").volume(), disc - 2 * hole, 1e-6 * disc);
  EXPECT_NE(sentence([&] { flange(R"({"axis": [0, 0, 1], "count": 2.5})"); }).find("whole number"), std::string::npos);
  EXPECT_NE(sentence([&] { flange(R"({"axis": [0, 0, 0], "count": 2})"); }).find("axis"), std::string::npos);
  EXPECT_NE(sentence([&] { flange(R"({"axis": [1, 0, 0], "at": [0, 0, 50], "count": 2})"); }).find("number 2: it cuts nothing"),
            std::string::npos);
}
