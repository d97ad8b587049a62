#include "core/geometry/step_file.hpp"

#include <BRepBuilderAPI_MakeSolid.hxx>
#include <BRepCheck_Analyzer.hxx>
#include <BRepGProp.hxx>
#include <GProp_GProps.hxx>
#include <Interface_Static.hxx>
#include <Message.hxx>
#include <Message_Messenger.hxx>
#include <Message_PrinterOStream.hxx>
#include <STEPControl_Reader.hxx>
#include <ShapeFix_Shape.hxx>
#include <Standard_Failure.hxx>
#include <StepRepr_RepresentationItem.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <TopoDS_Shell.hxx>
#include <TopoDS_Solid.hxx>
#include <TransferBRep.hxx>
#include <Transfer_TransientProcess.hxx>
#include <XSControl_TransferReader.hxx>
#include <XSControl_WorkSession.hxx>
#include <filesystem>
#include <mutex>

#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/base/text.hpp"

namespace anvil::geometry {
namespace {

/// Name of the entity that a shape was read from.
std::string nameOf(const STEPControl_Reader& reader, const TopoDS_Shape& shape) {
  const auto transfer = reader.WS()->TransferReader();
  const Handle(StepRepr_RepresentationItem) item = Handle(StepRepr_RepresentationItem)::DownCast(transfer->EntityFromShapeResult(shape, 1));
  if (item.IsNull() || item->Name().IsNull()) return {};
  std::string name = item->Name()->ToCString();
  name.erase(0, name.find_first_not_of(" \t"));
  name.erase(name.find_last_not_of(" \t") + 1);
  return name == "NONE" ? "" : name;
}

TopoDS_Shape healed(const TopoDS_Shape& shape, const std::string& what, const std::string& path) {
  const auto volume = [](const TopoDS_Shape& s) {
    GProp_GProps g;
    BRepGProp::VolumeProperties(s, g);
    return g.Mass();
  };
  TopoDS_Shape s = shape;
  if (!BRepCheck_Analyzer(s).IsValid()) {
    ShapeFix_Shape fix(s);
    fix.Perform();
    s = fix.Shape();
    if (!BRepCheck_Analyzer(s).IsValid()) throw Error(what + " is not sound (its faces do not close it properly), and healing it failed", path, "Mend it where it was drawn, and export it again.");
  }
  if (volume(s) < 0) s.Reverse();
  if (!(volume(s) > 0)) throw Error(what + " has no volume", path, "Export a closed solid.");
  return s;
}

}  // namespace

std::vector<StepSolid> readStep(const std::string& file, const std::string& folder, const std::string& path) try {
  static std::mutex one;   // the kernel's reader keeps its settings in globals
  const std::lock_guard lock(one);
  Message::DefaultMessenger()->RemovePrinters(STANDARD_TYPE(Message_PrinterOStream));
  if (file.empty()) throw Error("no file is named", path, "Give the name of a STEP file.");
  const auto full = (std::filesystem::path(folder) / file).lexically_normal().string();
  const std::string text = readWhole(full);
  if (text.find_first_not_of(" \t\r\n") == std::string::npos) throw Error("the file " + full + " is empty", path, "Export it again.");
  if (text.substr(0, 200).find("ISO-10303-21") == std::string::npos) throw Error("the file " + full + " is no STEP file", path, "Export the shape as STEP (AP203, AP214 or AP242).");
  if (text.find("END-ISO-10303-21") == std::string::npos) throw Error("the file " + full + " ends in the middle; it may have been cut short", path, "Export or copy it again.");
  STEPControl_Reader reader;
  Interface_Static::SetCVal("xstep.cascade.unit", "MM");
  if (reader.ReadFile(full.c_str()) != IFSelect_RetDone) throw Error("the file " + full + " cannot be read as STEP", path, "It may be damaged: export it again.");
  reader.TransferRoots();
  std::vector<StepSolid> solids;
  for (int i = 1; i <= reader.NbShapes(); ++i) {
    const TopoDS_Shape whole = reader.Shape(i);
    for (TopExp_Explorer e(whole, TopAbs_SOLID); e.More(); e.Next()) solids.push_back({nameOf(reader, e.Current()), e.Current()});
    for (TopExp_Explorer e(whole, TopAbs_SHELL, TopAbs_SOLID); e.More(); e.Next())   // closed shells that nobody made a solid of
      if (e.Current().Closed()) solids.push_back({nameOf(reader, e.Current()), BRepBuilderAPI_MakeSolid(TopoDS::Shell(e.Current())).Shape()});
  }
  if (solids.empty()) throw Error("the file " + full + " holds no solid" + (reader.NbShapes() ? ", only faces or curves" : ""), path, "Export a closed solid.");
  for (size_t i = 0; i < solids.size(); ++i)
    solids[i].shape = healed(solids[i].shape, "the solid " + (solids[i].name.empty() ? std::to_string(i + 1) : "'" + solids[i].name + "'") + " in " + full, path);
  return solids;
} catch (const Standard_Failure& e) {
  throw Error("the file " + file + " cannot be read as STEP (" + e.GetMessageString() + ")", path, "It may be damaged: export it again.");
}

}  // namespace anvil::geometry
