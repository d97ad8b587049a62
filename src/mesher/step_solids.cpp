#include "mesher/step_solids.hpp"

#include <BRepBndLib.hxx>
#include <BRepBuilderAPI_MakeSolid.hxx>
#include <BRepBuilderAPI_Sewing.hxx>
#include <BRepCheck_Analyzer.hxx>
#include <BRepGProp.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRepTools.hxx>
#include <BRep_Builder.hxx>
#include <Bnd_Box.hxx>
#include <GProp_GProps.hxx>
#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_PrinterOStream.hxx>
#include <STEPCAFControl_Reader.hxx>
#include <STEPControl_Reader.hxx>
#include <ShapeAnalysis_ShapeTolerance.hxx>
#include <ShapeFix_Shape.hxx>
#include <StepRepr_RepresentationItem.hxx>
#include <TDF_LabelSequence.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <TopExp_Explorer.hxx>
#include <TopLoc_Location.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Solid.hxx>
#include <TransferBRep.hxx>
#include <Transfer_TransientProcess.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <XSControl_TransferReader.hxx>
#include <XSControl_WorkSession.hxx>
#include <algorithm>
#include <map>

#include "core/base/text.hpp"

namespace anvil::mesher {
namespace {

std::string trimmed(std::string name) {
  name.erase(0, name.find_first_not_of(" \t"));
  name.erase(name.find_last_not_of(" \t") + 1);
  return name == "NONE" ? "" : name;
}

/// Name of the entity that a shape was read from.
std::string nameOf(const STEPControl_Reader& reader, const TopoDS_Shape& shape) {
  const auto transfer = reader.WS()->TransferReader();
  const Handle(StepRepr_RepresentationItem) item =
      Handle(StepRepr_RepresentationItem)::DownCast(transfer->EntityFromShapeResult(shape, 1));
  if (item.IsNull() || item->Name().IsNull()) return {};
  return trimmed(item->Name()->ToCString());
}

/// Name of a product or of its place in an assembly; empty where the exporting program only counted.
std::string nameOf(const TDF_Label& label) {
  Handle(TDataStd_Name) name;
  if (!label.FindAttribute(TDataStd_Name::GetID(), name)) return {};
  std::string text(size_t(name->Get().LengthOfCString()) + 1, '\0');
  char* to = text.data();
  text.resize(size_t(name->Get().ToUTF8CString(to)));
  text = trimmed(text);
  const bool counted = text.starts_with("NAUO") || text.starts_with("=>[") || text.find("STEP translator") != std::string::npos ||
                       text.find_first_not_of("0123456789") == std::string::npos;
  const std::vector<std::string> kinds{"SOLID", "COMPOUND", "SHELL", "COMPSOLID"};
  return counted || std::find(kinds.begin(), kinds.end(), text) != kinds.end() ? "" : text;
}

/// Faces outside of solids and closed shells, sewn to shells where they meet.
std::vector<TopoDS_Shape> sheetsOf(const TopoDS_Shape& shape) {
  std::vector<TopoDS_Shape> sheets, loose;
  for (TopExp_Explorer e(shape, TopAbs_SHELL, TopAbs_SOLID); e.More(); e.Next())
    if (!e.Current().Closed()) loose.push_back(e.Current());
  for (TopExp_Explorer e(shape, TopAbs_FACE, TopAbs_SHELL); e.More(); e.Next()) loose.push_back(e.Current());
  if (loose.empty()) return {};
  BRepBuilderAPI_Sewing sewing(1e-3);
  for (const auto& s : loose) sewing.Add(s);
  sewing.Perform();
  TopoDS_Shape sewn = sewing.SewedShape();
  if (sewn.IsNull()) return loose;
  for (TopExp_Explorer e(sewn, TopAbs_SHELL); e.More(); e.Next()) sheets.push_back(e.Current());
  for (TopExp_Explorer e(sewn, TopAbs_FACE, TopAbs_SHELL); e.More(); e.Next()) {
    TopoDS_Shell shell;
    BRep_Builder builder;
    builder.MakeShell(shell), builder.Add(shell, e.Current());
    sheets.push_back(shell);
  }
  return sheets;
}

/// Walks products down to their solids.
class Assembly {
 public:
  Assembly(const STEPControl_Reader& reader, const Handle(XCAFDoc_ShapeTool) & tool) : reader_(reader), tool_(tool) {}
  void walk(const TDF_Label& label, const TopLoc_Location& at, const std::string& name) {
    TDF_Label product = label;
    tool_->GetReferredShape(label, product);
    if (tool_->IsAssembly(product)) {
      TDF_LabelSequence components;
      tool_->GetComponents(product, components);
      for (int i = 1; i <= components.Length(); ++i) {
        TDF_Label child;
        tool_->GetReferredShape(components(i), child);
        const std::string placed = nameOf(components(i)), own = nameOf(child);
        walk(components(i), at * tool_->GetLocation(components(i)), placed.empty() ? own : placed);
      }
      return;
    }
    const TopoDS_Shape shape = tool_->GetShape(product);
    if (shape.IsNull()) return;
    std::vector<TopoDS_Shape> found;
    for (TopExp_Explorer e(shape, TopAbs_SOLID); e.More(); e.Next()) found.push_back(e.Current());
    for (TopExp_Explorer e(shape, TopAbs_SHELL, TopAbs_SOLID); e.More(); e.Next())  // closed shells that nobody made a solid of
      if (e.Current().Closed()) found.push_back(BRepBuilderAPI_MakeSolid(TopoDS::Shell(e.Current())).Shape());
    const size_t bodies = found.size();
    for (const auto& s : sheetsOf(shape)) found.push_back(s);
    for (size_t k = 0; k < found.size(); ++k) {
      const auto& s = found[k];
      std::string own = found.size() > 1 || name.empty() ? nameOf(reader_, s) : "";
      if (own.empty()) own = name;
      const int before = ++uses_[own];
      if (!own.empty() && before > 1) own += " " + std::to_string(before);
      solids.push_back({own, s.Moved(at), {}, k >= bodies});
    }
  }
  std::vector<StepSolid> solids;

 private:
  const STEPControl_Reader& reader_;
  Handle(XCAFDoc_ShapeTool) tool_;
  std::map<std::string, int> uses_;
};

/// Mends what is not sound. Throws StepFault where that fails.
void heal(StepSolid& solid, int number) {
  const auto volume = [](const TopoDS_Shape& s) {
    GProp_GProps g;
    BRepGProp::VolumeProperties(s, g);
    return g.Mass();
  };
  TopoDS_Shape& s = solid.shape;
  const auto gap = [&] {
    return ShapeAnalysis_ShapeTolerance().Tolerance(s, 1);
  };  // the reader widens what does not meet until it does
  if (!BRepCheck_Analyzer(s).IsValid()) {
    ShapeFix_Shape fix(s);
    fix.Perform();
    s = fix.Shape();
    if (!BRepCheck_Analyzer(s).IsValid())
      throw StepFault("is not sound (its faces do not close it properly), and healing it failed",
                      "Mend it where it was drawn, and export it again.", number, solid.name);
    solid.healing = "was not sound as it was read; it was healed (gaps up to " + shortNumber(gap(), 2) + " mm between its faces)";
  } else if (gap() > 1e-3) {
    solid.healing = "was healed as it was read: its edges and corners miss each other by up to " + shortNumber(gap(), 2) + " mm";
  }
  if (solid.sheet) return;
  if (volume(s) < 0)
    s.Reverse(), solid.healing += std::string(solid.healing.empty() ? "" : " and ") + "was inside out, and was turned round";
  if (!(volume(s) > 0)) throw StepFault("has no volume", "Export a closed solid.", number, solid.name);
}

/// Does once what those who asked will do with the solid: where that ends in a fault, it is here and not with them.
void tryOut(const TopoDS_Shape& shape) {
  for (TopExp_Explorer e(shape, TopAbs_FACE); e.More(); e.Next()) {
    GProp_GProps g;
    BRepGProp::SurfaceProperties(e.Current(), g);
    Bnd_Box box;
    BRepBndLib::Add(e.Current(), box);
  }
  BRepMesh_IncrementalMesh(shape, 0.3, true, 0.8);
  BRepTools::Clean(shape);
}

}  // namespace

std::vector<StepSolid> solidsOfStep(const std::string& file) {
  Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
  Interface_Static::SetCVal("xstep.cascade.unit", "MM");
  STEPCAFControl_Reader reader;
  reader.SetNameMode(true), reader.SetColorMode(false), reader.SetLayerMode(false);
  if (reader.ReadFile(file.c_str()) != IFSelect_RetDone)
    throw StepFault("cannot be read as STEP", "It may be damaged: export it again.", 0, "");
  Handle(TDocStd_Document) document = new TDocStd_Document("XmlXCAF");
  reader.Transfer(document);
  const auto tool = XCAFDoc_DocumentTool::ShapeTool(document->Main());
  TDF_LabelSequence roots;
  tool->GetFreeShapes(roots);
  Assembly assembly(reader.Reader(), tool);
  for (int i = 1; i <= roots.Length(); ++i) assembly.walk(roots(i), TopLoc_Location(), nameOf(roots(i)));
  auto& solids = assembly.solids;
  if (solids.empty())
    throw StepFault("holds no solid and no sheet" + std::string(roots.Length() ? ", only curves or points" : ""),
                    "Export a closed solid, or surfaces.", 0, "");
  for (size_t i = 0; i < solids.size(); ++i) heal(solids[i], int(i) + 1), tryOut(solids[i].shape);
  return solids;
}

}  // namespace anvil::mesher
