#include "core/results/export.hpp"

#include <fmt/format.h>
#include <filesystem>

#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/base/text.hpp"
#include "core/results/fields.hpp"

namespace anvil::results {

static std::string vtu(const Reader& reader, size_t row) {
  const auto& h = reader.header();
  size_t cells = 0;
  for (const auto& b : h.mesh.blocks) cells += b.count();
  for (const auto& l : h.mesh.lines) cells += l.count();
  std::string s = fmt::format(
      "<?xml version=\"1.0\"?>\n<VTKFile type=\"UnstructuredGrid\" version=\"1.0\" "
      "byte_order=\"LittleEndian\">\n<UnstructuredGrid>\n"
      "<Piece NumberOfPoints=\"{}\" NumberOfCells=\"{}\">\n",
      h.mesh.x.size(), cells);
  s += "<Points><DataArray type=\"Float64\" NumberOfComponents=\"3\" format=\"ascii\">\n";
  for (const auto& x : h.mesh.x) s += fmt::format("{:.9g} {:.9g} {:.9g}\n", x.x(), x.y(), x.z());
  s += "</DataArray></Points>\n<Cells><DataArray type=\"Int32\" Name=\"connectivity\" format=\"ascii\">\n";
  std::string offsets, types, parts;
  size_t at = 0;
  for (const auto& b : h.mesh.blocks)
    for (size_t c = 0; c < b.count(); ++c) {
      const auto& info = mesh::info(b.type);
      for (int i = 0; i < info.nodes; ++i) s += fmt::format("{} ", b.cell(c)[i]);
      s += '\n';
      offsets += fmt::format("{} ", at += size_t(info.nodes));
      types += fmt::format("{} ", info.vtk), parts += fmt::format("{} ", b.part);
    }
  for (const auto& l : h.mesh.lines)
    for (size_t c = 0; c < l.count(); ++c) {
      s += fmt::format("{} {}\n", l.nodes[c], l.nodes[c + 1]);
      offsets += fmt::format("{} ", at += 2);
      types += "3 ", parts += fmt::format("{} ", l.part);
    }
  s += "</DataArray><DataArray type=\"Int32\" Name=\"offsets\" format=\"ascii\">\n" + offsets +
       "\n</DataArray><DataArray type=\"UInt8\" Name=\"types\" format=\"ascii\">\n" + types +
       "\n</DataArray></Cells>\n<PointData>\n";
  const auto u = reader.field("displacement", row);
  s += "<DataArray type=\"Float32\" Name=\"displacement\" NumberOfComponents=\"3\" format=\"ascii\">\n";
  const auto D = size_t(h.mesh.dim);
  for (size_t i = 0; i + D <= u.size(); i += D)
    s += fmt::format("{:.7g} {:.7g} {:.7g}\n", u[i], u[i + 1], D == 3 ? u[i + 2] : 0.f);
  s += "</DataArray>\n";
  for (const auto& f : fieldList(h)) {
    if (f.name == "displacement") continue;
    s += fmt::format("<DataArray type=\"Float32\" Name=\"{}\" format=\"ascii\">\n", xmlText(f.name));
    for (double v : nodalField(reader, f.name, row)) s += fmt::format("{:.7g} ", v);
    s += "\n</DataArray>\n";
  }
  s += "</PointData>\n<CellData><DataArray type=\"Int32\" Name=\"part\" format=\"ascii\">\n" + parts +
       "\n</DataArray></CellData>\n</Piece>\n</UnstructuredGrid>\n</VTKFile>\n";
  return s;
}

std::vector<std::string> exportVtu(const Reader& reader, const std::string& base, std::vector<size_t> rows) {
  if (reader.rows().empty())
    throw Error("no increment is stored in these results, so there is nothing to export", base,
                "Let the run get through its first increment.");
  if (rows.empty())
    for (size_t i = 0; i < reader.rows().size(); ++i)
      if (reader.rows()[i].stored) rows.push_back(i);
  std::vector<std::string> paths;
  std::string series =
      "<?xml version=\"1.0\"?>\n<VTKFile type=\"Collection\" version=\"0.1\" byte_order=\"LittleEndian\">\n<Collection>\n";
  for (size_t row : rows) {
    paths.push_back(fmt::format("{}_{:04}.vtu", base, row + 1));
    writeWhole(paths.back(), vtu(reader, row));
    series += fmt::format("<DataSet timestep=\"{:.12g}\" part=\"0\" file=\"{}\"/>\n", reader.rows()[row].time,
                          xmlText(std::filesystem::path(paths.back()).filename().string()));
  }
  paths.push_back(base + ".pvd");
  writeWhole(paths.back(), series + "</Collection>\n</VTKFile>\n");
  return paths;
}

std::string historiesCsv(const Reader& reader) {
  const auto& names = reader.header().historyNames;
  std::string s = "time";
  std::vector<std::vector<double>> columns;
  for (const auto& n : names) s += "," + csvCell(n), columns.push_back(reader.history(n));
  s += "\n";
  const auto t = reader.times();
  for (size_t r = 0; r < t.size(); ++r) {
    s += fmt::format("{:.12g}", t[r]);
    for (const auto& c : columns) s += fmt::format(",{:.12g}", c[r]);
    s += "\n";
  }
  return s;
}

}  // namespace anvil::results
