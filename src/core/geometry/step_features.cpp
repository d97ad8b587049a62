#include "core/geometry/step_features.hpp"

#include <BRepAlgoAPI_Fuse.hxx>
#include <TopAbs_ShapeEnum.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_ListOfShape.hxx>

#include "core/base/error.hpp"
#include "core/base/text.hpp"
#include "core/geometry/solid.hpp"
#include "core/model/part.hpp"
#include "core/model/quantities.hpp"

namespace anvil::geometry {

/// All solids of a file as one body.
static StepSolid joined(std::vector<StepSolid> solids, const std::string& path) {
  std::erase_if(solids, [](const StepSolid& s) { return s.sheet; });
  if (solids.empty())
    throw Error("the file holds sheets only", path + "/solid", "Take them as parts, each by its name or number.");
  if (solids.size() == 1) return solids.front();
  BRepAlgoAPI_Fuse fuse;
  TopTools_ListOfShape first, others;
  first.Append(solids.front().shape);
  for (size_t i = 1; i < solids.size(); ++i) others.Append(solids[i].shape);
  fuse.SetArguments(first), fuse.SetTools(others), fuse.SetFuzzyValue(1e-5);
  fuse.Build();
  std::vector<TopoDS_Shape> bodies;
  if (fuse.IsDone())
    for (TopExp_Explorer e(fuse.Shape(), TopAbs_SOLID); e.More(); e.Next()) bodies.push_back(e.Current());
  if (bodies.size() == 1) return {"all", bodies.front(), {}};
  throw Error(bodies.empty() ? "the " + std::to_string(solids.size()) + " solids could not be joined"
                             : "the " + std::to_string(solids.size()) + " solids do not all touch: they make " +
                                   std::to_string(bodies.size()) + " bodies",
              path + "/solid", "Take them as parts, each by its name or number.");
}

StepSolid stepSolid(const model::StepFeature& s, const std::string& folder, const std::string& path) {
  const auto found = readStep(s.file, folder, path + "/file");
  int which = -1;
  for (size_t i = 0; i < found.size(); ++i)
    if (!s.solid.empty() && (s.solid == found[i].name || s.solid == std::to_string(i + 1))) which = int(i);
  if (s.solid.empty() && found.size() == 1) which = 0;
  if (which >= 0) return found[size_t(which)];
  if (s.solid == "all") return found.size() == 1 ? found.front() : joined(found, path);
  std::vector<std::string> known;
  for (size_t i = 0; i < found.size(); ++i)
    known.push_back(found[i].name.empty() ? std::to_string(i + 1) : "'" + found[i].name + "'");
  throw Error(s.solid.empty() ? "the file holds " + std::to_string(found.size()) + " solids"
                              : "the file holds no solid '" + s.solid + "'",
              path + "/solid", "Name one of them: " + inProse(known) + ".");
}

std::vector<FaceMark> knownFaces(const model::StepFeature& s, const model::Quantities& q, const std::string& path) {
  std::vector<FaceMark> known;
  for (size_t i = 0; i < s.faces.size(); ++i) {
    known.push_back(q.list(s.faces[i], Kind::number, path + "/faces/" + std::to_string(i + 1)));
    if (known.back().size() != 10)
      throw Error("a face's row has " + std::to_string(known.back().size()) + " numbers, not ten",
                  path + "/faces/" + std::to_string(i + 1), "Bring the file in again, or take \"faces\" out.");
  }
  return known;
}

std::vector<StepContent> stepContents(const std::string& file, const std::string& path) {
  std::vector<StepContent> list;
  for (const auto& s : readStep(file, "", path)) list.push_back({s.name, s.healing, marksOf(s.shape), s.sheet});
  return list;
}

std::vector<StepNote> stepNotes(const model::Part& part, const model::Quantities& q, const std::string& folder,
                                const std::string& path) {
  std::vector<StepNote> notes;
  for (size_t i = 0; i < part.solid.size(); ++i) {
    if (!part.solid[i].step) continue;
    const auto& feature = *part.solid[i].step;
    const std::string place = path + "/solid/" + std::to_string(i + 1) + "/step";
    const auto taken = stepSolid(feature, folder, place);
    if (!taken.healing.empty()) notes.push_back({int(i), taken.healing, {}});
    const auto known = knownFaces(feature, q, place);
    if (known.empty()) continue;
    auto marks = marksOf(taken.shape);
    const auto m = matched(known, marks);
    if (m.gone.empty() && m.fresh.empty()) continue;
    const auto faces = [](const std::vector<int>& numbers) {
      std::vector<std::string> words;
      for (int n : numbers) words.push_back(std::to_string(n));
      return (numbers.size() > 1 ? "faces " : "face ") + inProse(words);
    };
    std::string words = "the file " + feature.file + " has changed since it was taken in: ";
    if (!m.gone.empty()) words += faces(m.gone) + (m.gone.size() > 1 ? " are gone" : " is gone");
    if (!m.fresh.empty())
      words += std::string(m.gone.empty() ? "" : ", ") + faces(m.fresh) + (m.fresh.size() > 1 ? " are new" : " is new");
    for (size_t k = 0; k < marks.size(); ++k) marks[k][0] = m.number[k];
    notes.push_back({int(i), words, marks});
  }
  return notes;
}

}  // namespace anvil::geometry
