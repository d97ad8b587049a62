#include "core/geometry/step_file.hpp"

#include <BRepBuilderAPI_MakeSolid.hxx>
#include <BRepCheck_Analyzer.hxx>
#include <BRepGProp.hxx>
#include <GProp_GProps.hxx>
#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_PrinterOStream.hxx>
#include <STEPCAFControl_Reader.hxx>
#include <STEPControl_Reader.hxx>
#include <ShapeAnalysis_ShapeTolerance.hxx>
#include <ShapeFix_Shape.hxx>
#include <Standard_Failure.hxx>
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
#include <filesystem>
#include <map>
#include <mutex>

#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/base/text.hpp"

namespace anvil::geometry {
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
    for (const auto& s : found) {
      std::string own = found.size() > 1 || name.empty() ? nameOf(reader_, s) : "";
      if (own.empty()) own = name;
      const int before = ++uses_[own];
      if (!own.empty() && before > 1) own += " " + std::to_string(before);
      solids.push_back({own, s.Moved(at), {}});
    }
  }
  std::vector<StepSolid> solids;

 private:
  const STEPControl_Reader& reader_;
  Handle(XCAFDoc_ShapeTool) tool_;
  std::map<std::string, int> uses_;
};

void heal(StepSolid& solid, const std::string& what, const std::string& path) {
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
      throw Error(what + " is not sound (its faces do not close it properly), and healing it failed", path,
                  "Mend it where it was drawn, and export it again.");
    solid.healing =
        what + " was not sound as it was read; it was healed (gaps up to " + shortNumber(gap(), 2) + " mm between its faces)";
  } else if (gap() > 1e-3) {
    solid.healing =
        what + " was healed as it was read: its edges and corners miss each other by up to " + shortNumber(gap(), 2) + " mm";
  }
  if (volume(s) < 0)
    s.Reverse(), solid.healing += std::string(solid.healing.empty() ? what : " and") + " was inside out, and was turned round";
  if (!(volume(s) > 0)) throw Error(what + " has no volume", path, "Export a closed solid.");
}

/// The last files read.
struct Kept {
  std::string file;
  std::filesystem::file_time_type time;
  std::uintmax_t size;
  std::vector<StepSolid> solids;
};

}  // namespace

std::vector<StepSolid> readStep(const std::string& file, const std::string& folder, const std::string& path) try {
  static std::mutex one;  // the kernel's reader keeps its settings in globals
  const std::lock_guard lock(one);
  Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
  if (file.empty()) throw Error("no file is named", path, "Give the name of a STEP file.");
  const auto full = (std::filesystem::path(folder) / file).lexically_normal().string();
  static std::vector<Kept> kept;
  std::error_code none;
  const auto time = std::filesystem::last_write_time(full, none);
  const auto size = std::filesystem::file_size(full, none);
  for (const auto& k : kept)
    if (k.file == full && k.time == time && k.size == size && !none) return k.solids;
  const std::string text = readWhole(full);
  if (text.find_first_not_of(" \t\r\n") == std::string::npos)
    throw Error("the file " + full + " is empty", path, "Export it again.");
  if (text.substr(0, 200).find("ISO-10303-21") == std::string::npos)
    throw Error("the file " + full + " is no STEP file", path, "Export the shape as STEP (AP203, AP214 or AP242).");
  if (text.find("END-ISO-10303-21") == std::string::npos)
    throw Error("the file " + full + " ends in the middle; it may have been cut short", path, "Export or copy it again.");
  Interface_Static::SetCVal("xstep.cascade.unit", "MM");
  STEPCAFControl_Reader reader;
  reader.SetNameMode(true), reader.SetColorMode(false), reader.SetLayerMode(false);
  if (reader.ReadFile(full.c_str()) != IFSelect_RetDone)
    throw Error("the file " + full + " cannot be read as STEP", path, "It may be damaged: export it again.");
  Handle(TDocStd_Document) document = new TDocStd_Document("XmlXCAF");
  reader.Transfer(document);
  const auto tool = XCAFDoc_DocumentTool::ShapeTool(document->Main());
  TDF_LabelSequence roots;
  tool->GetFreeShapes(roots);
  Assembly assembly(reader.Reader(), tool);
  for (int i = 1; i <= roots.Length(); ++i) assembly.walk(roots(i), TopLoc_Location(), nameOf(roots(i)));
  auto& solids = assembly.solids;
  if (solids.empty())
    throw Error("the file " + full + " holds no solid" + (roots.Length() ? ", only faces or curves" : ""), path,
                "Export a closed solid.");
  for (size_t i = 0; i < solids.size(); ++i)
    heal(solids[i], "the solid " + (solids[i].name.empty() ? std::to_string(i + 1) : "'" + solids[i].name + "'") + " in " + full,
         path);
  if (kept.size() > 3) kept.erase(kept.begin());
  kept.push_back({full, time, size, solids});
  return solids;
} catch (const Standard_Failure& e) {
  throw Error("the file " + file + " cannot be read as STEP (" + e.GetMessageString() + ")", path,
              "It may be damaged: export it again.");
}

}  // namespace anvil::geometry
