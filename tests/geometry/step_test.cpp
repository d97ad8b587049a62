// STEP files of assemblies, and files that changed since they were taken in.
#include <gtest/gtest.h>

#include <BRepAlgoAPI_Cut.hxx>
#include <BRepBuilderAPI_Transform.hxx>
#include <BRepFilletAPI_MakeFillet.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRep_Builder.hxx>
#include <BRep_Tool.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <STEPControl_Writer.hxx>
#include <ShapeFix_ShapeTolerance.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopExp.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_IndexedMapOfShape.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Compound.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Vertex.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <gp_Ax2.hxx>
#include <gp_Trsf.hxx>
#include <set>

#include "core/checks/readiness.hpp"
#include "core/geometry/solid.hpp"
#include "core/geometry/solid_edge.hpp"
#include "core/geometry/step_parts.hpp"
#include "core/lower/lower.hpp"
#include "core/model/document.hpp"
#include "core/model/features.hpp"
#include "core/model/history.hpp"
#include "core/model/json.hpp"
#include "core/model/materials.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"
#include "core/problem/problem.hpp"
#include "meshes.hpp"
#include "scratch.hpp"
#include "words.hpp"

using namespace anvil;

namespace {

class StepFile : public Scratch {
 protected:
  std::string file(const char* name) const { return (folder / name).string(); }
  void write(const char* name, const TopoDS_Shape& shape) {
    STEPControl_Writer writer;
    writer.Transfer(shape, STEPControl_AsIs);
    ASSERT_EQ(writer.Write(file(name).c_str()), IFSelect_RetDone);
  }
};

TopoDS_Shape shifted(const TopoDS_Shape& s, double x, double y, double z) {
  gp_Trsf t;
  t.SetTranslation(gp_Vec(x, y, z));
  return BRepBuilderAPI_Transform(s, t, true).Shape();
}

/// A bracket: a plate of some thickness with two holes.
TopoDS_Shape bracket(double thickness, double hole = 4, bool notch = false) {
  const auto drilled = [&](const TopoDS_Shape& s, double x) {
    return BRepAlgoAPI_Cut(s, BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(x, 15, -1), gp_Dir(0, 0, 1)), hole, thickness + 2).Shape())
        .Shape();
  };
  TopoDS_Shape s = drilled(drilled(BRepPrimAPI_MakeBox(60., 30., thickness).Shape(), 15), 45);
  if (notch) s = BRepAlgoAPI_Cut(s, BRepPrimAPI_MakeBox(gp_Pnt(25, -1, -1), 10, 6, thickness + 2).Shape()).Shape();
  return s;
}

model::Document taken(const std::string& file) {
  model::Document d = model::parse(
      R"({"anvil": 1, "space": "solid", "materials": {"steel": {"elastic": {"E": 205000, "nu": 0.3}}}, "parts": {"part": {
        "material": "steel"}}, "steps": {"hold": {}}})");
  model::Feature f;
  f.name = "shape", f.step = model::StepFeature{file, "", {}};
  const auto contents = geometry::stepContents(file, "");
  for (const auto& mark : contents.front().faces) f.step->faces.emplace_back(mark.begin(), mark.end());
  d.parts.front().second.solid = {f};
  return d;
}
geometry::Solid solidIn(const model::Document& d) {
  return geometry::solid(d.parts.front().second, model::Quantities(d), "", "parts/part");
}
const geometry::Solid::Face* faceAt(const geometry::Solid& s, double x, double y, double z, geometry::Solid::Kind kind) {
  for (const auto& f : s.faces())
    if (f.kind == kind && (f.centre - Eigen::Vector3d(x, y, z)).norm() < 1) return &f;
  ADD_FAILURE() << "no face at " << x << " " << y << " " << z;
  return nullptr;
}

}  // namespace

TEST_F(StepFile, AssembliesGiveTheirPartsNamesAndPlaces) {
  const Handle(TDocStd_Document) document = new TDocStd_Document("XmlXCAF");
  const auto tool = XCAFDoc_DocumentTool::ShapeTool(document->Main());
  const auto named = [](const TDF_Label& l, const char* name) { TDataStd_Name::Set(l, name); };
  const TDF_Label whole = tool->NewShape(), half = tool->NewShape();
  named(whole, "clamp"), named(half, "upper half");
  const TDF_Label plate = tool->AddShape(BRepPrimAPI_MakeBox(10., 10., 2.).Shape(), false),
                  pin = tool->AddShape(BRepPrimAPI_MakeCylinder(1, 5).Shape(), false);
  named(plate, "plate"), named(pin, "pin");
  const auto at = [](double x) {
    gp_Trsf t;
    t.SetTranslation(gp_Vec(x, 0, 0));
    return TopLoc_Location(t);
  };
  named(tool->AddComponent(half, plate, at(0)), "flange");
  tool->AddComponent(half, pin, at(20));
  tool->AddComponent(whole, half, at(100));
  tool->AddComponent(whole, pin, at(-50));
  tool->UpdateAssemblies();
  STEPCAFControl_Writer writer;
  writer.SetNameMode(true);
  writer.Transfer(document);
  ASSERT_EQ(writer.Write(file("clamp.step").c_str()), IFSelect_RetDone);

  const auto contents = geometry::stepContents(file("clamp.step"), "");
  ASSERT_EQ(contents.size(), 3u);
  std::set<std::string> names;
  for (const auto& c : contents) {
    names.insert(c.name);
    EXPECT_TRUE(c.healing.empty()) << c.healing;
  }
  EXPECT_EQ(names, (std::set<std::string>{"flange", "pin", "pin 2"}));
  const auto middle = [&](const char* solid) {
    const auto d = model::parse(R"({"anvil": 1, "space": "solid", "parts": {"part": {"solid": {"step": {"file": ")" +
                                file("clamp.step") + R"(", "solid": ")" + solid + "\"}}}}}");
    return geometry::solid(d.parts.front().second, model::Quantities(d), "", "").bounds().center().x();
  };
  EXPECT_NEAR(middle("flange"), 105, 1e-6) << "where the assemblies put it";
  EXPECT_NEAR(std::max(middle("pin"), middle("pin 2")), 120, 1e-6);
  EXPECT_NEAR(std::min(middle("pin"), middle("pin 2")), -50, 1e-6);
}

TEST_F(StepFile, FacesKeepTheirNumbersWhenTheFileChanges) {
  using Kind = geometry::Solid::Kind;
  write("bracket.step", bracket(6));
  const auto d = taken(file("bracket.step"));
  const auto before = solidIn(d);
  const std::string top = faceAt(before, 30, 15, 6, Kind::plane)->name, left = faceAt(before, 15, 15, 3, Kind::cylinder)->name,
                    right = faceAt(before, 45, 15, 3, Kind::cylinder)->name;
  EXPECT_TRUE(checks::readiness(d).findings.empty() ||
              checks::readiness(d).findings.front().what.find("changed") == std::string::npos);

  write("bracket.step", shifted(bracket(9), 0, 0, 0));  // thicker: written anew, all faces of the old kind
  const auto thicker = solidIn(d);
  EXPECT_EQ(faceAt(thicker, 30, 15, 9, Kind::plane)->name, top);
  EXPECT_EQ(faceAt(thicker, 15, 15, 4.5, Kind::cylinder)->name, left);
  EXPECT_TRUE(geometry::stepNotes(d.parts.front().second, model::Quantities(d), "", "").empty());

  write("bracket.step", BRepAlgoAPI_Cut(BRepPrimAPI_MakeBox(60., 30., 6.).Shape(),
                                        BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(45, 15, -1), gp_Dir(0, 0, 1)), 4, 12).Shape())
                            .Shape());
  EXPECT_EQ(faceAt(solidIn(d), 45, 15, 3, Kind::cylinder)->name, right) << "the other hole is the one that went";
  auto notes = geometry::stepNotes(d.parts.front().second, model::Quantities(d), "", "");
  ASSERT_EQ(notes.size(), 1u);
  EXPECT_SAYS(notes[0].words, "face " + left.substr(left.find('.') + 1) + " is gone");

  write("bracket.step", bracket(6, 4, true));
  const auto notched = solidIn(d);
  EXPECT_EQ(faceAt(notched, 15, 15, 3, Kind::cylinder)->name, left);
  notes = geometry::stepNotes(d.parts.front().second, model::Quantities(d), "", "");
  ASSERT_EQ(notes.size(), 1u);
  EXPECT_SAYS(notes[0].words, "are new");
  // readiness tells, and keeps the new state on request
  auto kept = d;
  const auto report = checks::readiness(d);
  const auto told = std::find_if(report.findings.begin(), report.findings.end(),
                                 [](const auto& f) { return f.what.find("has changed since") != std::string::npos; });
  ASSERT_NE(told, report.findings.end());
  EXPECT_EQ(told->where, "parts/part/solid/1/step");
  told->mend(kept);
  EXPECT_TRUE(geometry::stepNotes(kept.parts.front().second, model::Quantities(kept), "", "").empty());
  EXPECT_EQ(faceAt(solidIn(kept), 15, 15, 3, Kind::cylinder)->name, left) << "old numbers stay";
  EXPECT_EQ(model::parse(model::print(kept)), kept);
}

TEST_F(StepFile, SeveralSolidsAreTakenAsOneBodyOrAsParts) {
  BRep_Builder builder;
  TopoDS_Compound both, apart;
  builder.MakeCompound(both), builder.MakeCompound(apart);
  const TopoDS_Shape low = BRepPrimAPI_MakeBox(20., 20., 5.).Shape();
  builder.Add(both, low), builder.Add(both, BRepPrimAPI_MakeBox(gp_Pnt(5, 5, 5), 10, 10, 8).Shape());
  builder.Add(apart, low), builder.Add(apart, BRepPrimAPI_MakeBox(gp_Pnt(5, 5, 6), 10, 10, 8).Shape());
  write("both.step", both), write("apart.step", apart);
  model::Document d;
  EXPECT_EQ(geometry::addStepParts(d, file("both.step"), geometry::stepContents(file("both.step"), "")).size(), 2u);
  EXPECT_EQ(d.parts.size(), 2u);
  for (const auto& [name, part] : d.parts)
    EXPECT_GT(geometry::solid(part, model::Quantities(d), "", "parts/" + name).volume(), 790) << name;
  model::Document whole;
  geometry::addStepParts(whole, file("both.step"), geometry::stepContents(file("both.step"), ""), true);
  ASSERT_EQ(whole.parts.size(), 1u);
  EXPECT_EQ(whole.parts.front().second.solid[0].step->solid, "all");
  const auto one = solidIn(whole);
  EXPECT_NEAR(one.volume(), 20 * 20 * 5 + 10 * 10 * 8, 1e-6);
  EXPECT_EQ(one.faces().size(), 11u) << "the faces that touch are gone";
  whole.parts.front().second.solid[0].step->file = file("apart.step");
  EXPECT_SAYS(sentence([&] { (void)solidIn(whole); }), "do not all touch: they make 2 bodies");
}

TEST_F(StepFile, HealingIsReported) {
  TopoDS_Shape box = BRepPrimAPI_MakeBox(10., 10., 10.).Shape();
  ShapeFix_ShapeTolerance().SetTolerance(box, 1e-7);
  TopTools_IndexedMapOfShape vertices;
  TopExp::MapShapes(box, TopAbs_VERTEX, vertices);
  const auto corner = TopoDS::Vertex(vertices(1));
  BRep_Builder().UpdateVertex(corner, BRep_Tool::Pnt(corner).Translated(gp_Vec(0.02, 0.01, 0)),
                              1e-7);  // a corner that its edges miss
  write("gap.step", box);
  const auto contents = geometry::stepContents(file("gap.step"), "");
  ASSERT_EQ(contents.size(), 1u);
  EXPECT_SAYS(contents[0].healing, "healed");
  EXPECT_NEAR(solidIn(taken(file("gap.step"))).volume(), 1000, 10);
  const auto report = checks::readiness(taken(file("gap.step")));
  EXPECT_TRUE(std::any_of(report.findings.begin(), report.findings.end(),
                          [](const auto& f) { return f.what.find("healed") != std::string::npos; }));
}

TEST_F(StepFile, SheetsBecomeThinParts) {
  TopoDS_Compound both;
  BRep_Builder builder;
  builder.MakeCompound(both);
  const TopoDS_Shape box = BRepPrimAPI_MakeBox(20., 10., 5.).Shape();
  TopoDS_Shell tray;
  builder.MakeShell(tray);
  int k = 0;
  for (TopExp_Explorer e(box, TopAbs_FACE); e.More(); e.Next())
    if (++k != 6) builder.Add(tray, e.Current());
  builder.Add(both, tray), builder.Add(both, shifted(box, 50, 0, 0));
  write("mixed.step", both);
  const auto contents = geometry::stepContents(file("mixed.step"), "");
  ASSERT_EQ(contents.size(), 2u);
  const size_t sheet = contents[0].sheet ? 0 : 1;
  EXPECT_TRUE(contents[sheet].sheet);
  EXPECT_FALSE(contents[1 - sheet].sheet);
  model::Document d;
  const auto names = geometry::addStepParts(d, file("mixed.step"), contents);
  auto& part = *d.parts.find(names[sheet]);
  ASSERT_TRUE(part.thin);
  EXPECT_FALSE(d.parts.find(names[1 - sheet])->thin);
  const model::Quantities q(d);
  const auto solid = geometry::solid(part, q, "", "parts/sheet");
  EXPECT_TRUE(solid.sheet());
  EXPECT_EQ(solid.faces().size(), 5u);
  // without a thickness it says so; a part that is not thin cannot be a sheet
  d.steps("hold");
  EXPECT_SAYS(sentence([&] { analysis::lower(d); }), "has no thickness");
  part.thin->thickness = 0.5;
  std::erase_if(d.parts, [&](const auto& p) { return p.first != names[sheet]; });
  const auto p = analysis::lower(d);
  double volume = 0;
  for (const auto& b : p->mesh.blocks) EXPECT_TRUE(b.thin());
  volume = volumeOf(p->mesh);
  EXPECT_NEAR(volume, 20.5 * 10.5 * 5.25 - 19.5 * 9.5 * 4.75, 1e-6);
  EXPECT_TRUE(p->mesh.face(names[sheet] + ".edge 1"));
  // lines run along its free edges by the numbers that its mesh has
  int found = 0;
  for (const auto& own : solid.faces())
    for (int n = 1; n <= 4; ++n) {
      const std::string number = "edge " + std::to_string(n);
      std::unique_ptr<geometry::SolidEdge> edge;
      if (sentence([&] { edge = geometry::edgeBetween(solid, own.name, number, "x"); }) != "no error") continue;
      ++found;
      Eigen::Vector3d middle = Eigen::Vector3d::Zero();
      const auto nodes = p->mesh.nodesOf(p->mesh.face(names[sheet] + "." + number)->facets);
      for (int k : nodes) middle += p->mesh.x[size_t(k)] / double(nodes.size());
      EXPECT_LT((middle - edge->at(0.5)).norm(), 0.3) << number;
    }
  EXPECT_EQ(found, 4);
  d.parts.front().second.thin.reset();
  EXPECT_SAYS(sentence([&] { analysis::lower(d); }), "a surface without a volume");
}
