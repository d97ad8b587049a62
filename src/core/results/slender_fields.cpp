#include "core/results/slender_fields.hpp"

#include <algorithm>
#include <array>
#include <cmath>

namespace anvil::results {
namespace {

using Column = SlenderColumn;

struct SlenderField {
  const char *inSpace, *inPlane;
  Kind kind;
  bool isSigned;
  Column column;
  bool force;
};
constexpr std::array<SlenderField, 12> all{
    {{"normal force", "normal force", Kind::force, true, Column::normal, true},
     {"shear force up", "shear force", Kind::force, true, Column::shearUp, true},
     {"shear force across", "", Kind::force, true, Column::shearAcross, true},
     {"torque", "", Kind::moment, true, Column::torque, true},
     {"bending moment up", "bending moment", Kind::moment, true, Column::momentUp, true},
     {"bending moment across", "", Kind::moment, true, Column::momentAcross, true},
     {"twist", "", Kind::twist, true, Column::twist, false},
     {"curvature up", "curvature", Kind::curvature, true, Column::curveUp, false},
     {"curvature across", "", Kind::curvature, true, Column::curveAcross, false},
     {"greatest direct stress", "greatest direct stress", Kind::stress, true, Column::greatest, false},
     {"least direct stress", "least direct stress", Kind::stress, true, Column::least, false},
     {"yielded share of the section", "yielded share of the section", Kind::number, false, Column::yielded, false}}};

const SlenderField* fieldOf(const std::string& name) {
  for (const auto& f : all)
    if (name == f.inSpace || (*f.inPlane && name == f.inPlane)) return &f;
  return nullptr;
}

}  // namespace

std::vector<FieldInfo> slenderFields(const mesh::Mesh& mesh) {
  std::vector<FieldInfo> list;
  for (const auto& f : all)
    if (const std::string name = mesh.dim == 3 ? f.inSpace : f.inPlane; !mesh.lines.empty() && !name.empty())
      list.push_back({name, f.kind, f.isSigned, false});
  return list;
}

bool isSlenderField(const std::string& name) { return fieldOf(name); }
bool isSlenderForce(const std::string& name) { return fieldOf(name) && fieldOf(name)->force; }
bool isAcross(const std::string& name) { return name.ends_with(" across"); }

std::vector<double> slenderEnds(const Reader& reader, const std::string& name, size_t row, const std::vector<double>& nodal) {
  const auto& lines = reader.header().mesh.lines;
  std::vector<double> ends;
  if (lines.empty()) return ends;
  const auto* own = fieldOf(name);
  const bool stress = name == "von Mises stress", plastic = name == "equivalent plastic strain";
  const auto stored = reader.field("slender", row);
  const auto at = [&](size_t end, Column c) { return double(stored[slenderColumns * end + size_t(c)]); };
  for (const auto& l : lines)
    for (size_t c = 0; c < l.count(); ++c)
      for (const size_t side : {c, c + 1}) {
        const size_t end = ends.size();
        ends.push_back(own       ? at(end, own->column)
                       : stress  ? std::max(std::abs(at(end, Column::greatest)), std::abs(at(end, Column::least)))
                       : plastic ? at(end, Column::plastic)
                                 : nodal[size_t(l.nodes[side])]);
      }
  return ends;
}

void addSlenderNodes(const Reader& reader, const std::string& name, size_t row, std::vector<double>& nodal) {
  const auto ends = slenderEnds(reader, name, row, nodal);
  std::vector<bool> seen(nodal.size(), false);
  size_t end = 0;
  for (const auto& l : reader.header().mesh.lines)
    for (size_t c = 0; c < l.count(); ++c)
      for (const size_t side : {c, c + 1}) {
        const auto n = size_t(l.nodes[side]);
        const double v = ends[end++];
        if (!seen[n] || std::abs(v) > std::abs(nodal[n])) nodal[n] = v;
        seen[n] = true;
      }
}

}  // namespace anvil::results
