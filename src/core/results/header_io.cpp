#include "core/results/header_io.hpp"

namespace anvil::results {
namespace {

/// Throws Error when what a file says of itself does not hold.
void require(bool holds, const std::string& set) {
  if (!holds) throw Error("'" + set + "' does not fit the rest", {}, "The results file is damaged.");
}

/// A set that must have this many numbers.
template <class T>
std::vector<T> exactly(size_t count, hid_t f, const std::string& set) {
  auto v = hdf::readAll<T>(f, set);
  require(v.size() == count, set);
  return v;
}

void group(hid_t file, const std::string& name) {
  hdf::Id(H5Gcreate2(file, name.c_str(), H5P_DEFAULT, H5P_DEFAULT, H5P_DEFAULT), H5Gclose, name);
}

/// Lines and points of slender parts.
void writeLines(hid_t f, const mesh::Mesh& m) {
  if (m.lines.empty()) return;
  group(f, "mesh/lines");
  std::vector<std::string> names, spots;
  std::vector<int> about;
  for (size_t i = 0; i < m.lines.size(); ++i) {
    const auto& l = m.lines[i];
    names.push_back(l.name);
    hdf::writeFixed(f, numbered("mesh/lines/nodes ", i), l.nodes, 1);
    hdf::writeFixed(f, numbered("mesh/lines/turns ", i), l.turns, 1);
    hdf::writeFixed(f, numbered("mesh/lines/part ", i), std::vector<int>{l.part}, 1);
    std::vector<double> up, outline;
    for (const auto& v : l.up) up.insert(up.end(), v.data(), v.data() + 3);
    for (size_t k = 0; k < l.outline.size(); ++k)
      for (const auto& v : l.outline[k]) outline.insert(outline.end(), {double(k), v.x(), v.y()});
    hdf::writeFixed(f, numbered("mesh/lines/up ", i), up, 3);
    hdf::writeFixed(f, numbered("mesh/lines/outline ", i), outline, 3);
  }
  for (const auto& s : m.spots) spots.push_back(s.name), about.insert(about.end(), {s.part, s.node, s.turn});
  hdf::writeTexts(f, "mesh/line names", names);
  hdf::writeTexts(f, "mesh/point names", spots);
  hdf::writeFixed(f, "mesh/points", about, 3);
  hdf::writeFixed(f, "mesh/turns", m.turnNode, 1);
}

void readLines(hid_t f, mesh::Mesh& m) {
  if (!hdf::exists(f, "mesh/lines")) return;
  const auto names = hdf::readNames(f, "mesh/line names"), spots = hdf::readNames(f, "mesh/point names");
  for (size_t i = 0; i < names.size(); ++i) {
    mesh::Line l{names[i],
                 exactly<int>(1, f, numbered("mesh/lines/part ", i))[0],
                 hdf::readAll<int>(f, numbered("mesh/lines/nodes ", i)),
                 hdf::readAll<int>(f, numbered("mesh/lines/turns ", i)),
                 {},
                 {}};
    require(l.nodes.size() > 1 && (l.turns.empty() || l.turns.size() == l.nodes.size()), "mesh/lines");
    const auto up = exactly<double>(3 * l.count(), f, numbered("mesh/lines/up ", i));
    for (size_t k = 0; k < up.size(); k += 3) l.up.emplace_back(up[k], up[k + 1], up[k + 2]);
    const auto outline = hdf::readAll<double>(f, numbered("mesh/lines/outline ", i));
    for (size_t k = 0; k + 2 < outline.size(); k += 3) {
      if (outline[k] == double(l.outline.size())) l.outline.emplace_back();
      require(!l.outline.empty() && outline[k] == double(l.outline.size() - 1), "mesh/lines/outline");
      l.outline.back().emplace_back(outline[k + 1], outline[k + 2]);
    }
    m.lines.push_back(std::move(l));
  }
  const auto about = exactly<int>(3 * spots.size(), f, "mesh/points");
  for (size_t i = 0; i < spots.size(); ++i) m.spots.push_back({spots[i], about[3 * i], about[3 * i + 1], about[3 * i + 2]});
  m.turnNode = hdf::readAll<int>(f, "mesh/turns");
}

}  // namespace

void writeHeader(hid_t f, const Header& h) {
  for (const char* g : {"mesh", "contacts", "rigid", "fields", "restart", "latest", "latest/contacts", "latest/rigid",
                        "latest/fields", "latest/restart", "mesh/blocks", "mesh/faces"})
    group(f, g);
  hdf::writeText(f, "format", format + std::to_string(newestFormat));
  hdf::writeText(f, "model", h.model);
  hdf::writeText(f, "space", h.space);
  hdf::writeTexts(f, "steps", h.steps);
  hdf::writeFixed(f, "step ends", h.stepEnds, 1);  // s, as all times
  hdf::writeTexts(f, "fields left out", h.leftOut);
  hdf::writeTexts(f, "history names", h.historyNames);
  hdf::writeTexts(f, "history units", h.historyUnits);
  hdf::writeFixed(f, "yield stress", std::vector<double>{h.yieldStress}, 1);
  std::vector<double> x;
  for (const auto& p : h.mesh.x) x.insert(x.end(), {p.x(), p.y(), p.z()});
  hdf::writeFixed(f, "mesh/x", x, 3);
  hdf::writeTexts(f, "mesh/parts", h.mesh.parts);
  for (size_t i = 0; i < h.mesh.blocks.size(); ++i) {
    const auto& b = h.mesh.blocks[i];
    hdf::writeFixed(f, numbered("mesh/blocks/", i), b.nodes, hsize_t(mesh::info(b.type).nodes));
    hdf::writeFixed(f, numbered("mesh/blocks/about ", i), std::vector<int>{int(b.type), b.part, b.through}, 3);
    if (b.thin()) hdf::writeFixed(f, numbered("mesh/blocks/thickness ", i), std::vector<double>{b.thickness}, 1);
  }
  std::vector<int> twins;
  for (const auto& cut : h.mesh.cuts)
    for (size_t i = 0; i < cut.above.size(); ++i) twins.insert(twins.end(), {cut.below[i], cut.above[i]});
  if (!twins.empty()) hdf::writeFixed(f, "mesh/twins", twins, 2);
  std::vector<std::string> faceNames;
  for (size_t i = 0; i < h.mesh.faces.size(); ++i) {
    std::vector<int> facets;
    for (const auto& q : h.mesh.faces[i].facets) facets.insert(facets.end(), {q.block, q.cell, q.side});
    hdf::writeFixed(f, numbered("mesh/faces/", i), facets, 3);
    hdf::writeFixed(f, numbered("mesh/faces/part ", i), std::vector<int>{h.mesh.faces[i].part}, 1);
    faceNames.push_back(h.mesh.faces[i].name);
  }
  hdf::writeTexts(f, "mesh/face names", faceNames);
  writeLines(f, h.mesh);
  std::vector<std::string> contactNames, rigidNames;
  for (size_t i = 0; i < h.contacts.size(); ++i) {
    contactNames.push_back(h.contacts[i].name);
    hdf::writeFixed(f, numbered("contacts/nodes ", i), h.contacts[i].nodes, 1);
    hdf::writeFixed(f, numbered("contacts/segments ", i), h.contacts[i].segments, 2);
    hdf::writeFixed(f, numbered("contacts/carriers ", i), std::vector<int>{int(h.contacts[i].carriers)}, 1);
  }
  for (size_t i = 0; i < h.rigid.size(); ++i) {
    rigidNames.push_back(h.rigid[i].name);
    const auto& r = h.rigid[i];
    hdf::writeFixed(f, numbered("rigid/points ", i), r.points, 3);
    hdf::writeFixed(f, numbered("rigid/quads ", i), r.quads, 4);
    hdf::writeFixed(f, numbered("rigid/about ", i), std::vector<double>{r.pivot.x(), r.pivot.y(), r.pivot.z(), double(r.closed)},
                    4);
  }
  hdf::writeTexts(f, "contacts/names", contactNames);
  hdf::writeTexts(f, "rigid/names", rigidNames);
}

/// Throws Error unless all of `indices` count things of which there are `count`.
static void within(const std::vector<int>& indices, size_t count, const std::string& set) {
  for (int i : indices) require(i >= 0 && size_t(i) < count, set);
}

static void checkMesh(const mesh::Mesh& mesh) {
  for (const auto& b : mesh.blocks) {
    require(b.part >= 0 && size_t(b.part) < mesh.parts.size(), "mesh/blocks");
    require(b.nodes.size() % size_t(mesh::info(b.type).nodes) == 0, "mesh/blocks");
    within(b.nodes, mesh.x.size(), "mesh/blocks");
  }
  for (const auto& x : mesh.x) require(x.allFinite(), "mesh/x");
  for (const auto& cut : mesh.cuts)
    within(cut.below, mesh.x.size(), "mesh/twins"), within(cut.above, mesh.x.size(), "mesh/twins");
  within(mesh.turnNode, mesh.x.size(), "mesh/turns");
  for (const auto& l : mesh.lines) {
    require(l.part >= 0 && size_t(l.part) < mesh.parts.size(), "mesh/lines");
    within(l.nodes, mesh.x.size(), "mesh/lines"), within(l.turns, mesh.turnNode.size(), "mesh/lines");
  }
  for (const auto& s : mesh.spots) {
    require(s.part >= 0 && size_t(s.part) < mesh.parts.size() && s.turn >= -1, "mesh/points");
    within({s.node}, mesh.x.size(), "mesh/points");
    if (s.turn >= 0) within({s.turn}, mesh.turnNode.size(), "mesh/points");
  }
  for (const auto& face : mesh.faces) {
    require(face.part >= 0 && size_t(face.part) < mesh.parts.size(), "mesh/faces");
    for (const auto& q : face.facets) {
      require(q.block >= 0 && size_t(q.block) < mesh.blocks.size(), "mesh/faces");
      const auto& b = mesh.blocks[size_t(q.block)];
      require(q.cell >= 0 && size_t(q.cell) < b.count() && q.side >= 0 && q.side < mesh::info(b.type).sides, "mesh/faces");
    }
  }
}

static void checkSurfaces(const Header& h) {
  for (const auto& c : h.contacts) {
    require(c.carriers <= c.nodes.size() && c.segments.size() % 2 == 0, "contacts");
    within(c.nodes, h.mesh.x.size(), "contacts/nodes"), within(c.segments, h.mesh.x.size(), "contacts/segments");
  }
  for (const auto& r : h.rigid) {
    require(r.points.size() % 3 == 0 && r.quads.size() % 4 == 0, "rigid");
    within(r.quads, r.points.size() / 3, "rigid/quads");
  }
}

size_t rowLength(const Header& h, const std::string& set) {
  const size_t dim = size_t(h.mesh.dim);
  size_t points = 0;
  for (const auto& b : h.mesh.blocks) points += b.count() * size_t(b.points());
  if (set == "fields/displacement" || set == "fields/reaction") return dim * h.mesh.x.size();
  if (set == "fields/stress" || set == "fields/strain") return (dim == 2 ? 4 : 6) * points;
  if (set == "fields/plastic strain" || set == "fields/strain energy") return points;
  if (set == "fields/turn") return (dim == 2 ? 1 : 3) * h.mesh.turnNode.size();
  size_t cells = 0;
  for (const auto& l : h.mesh.lines) cells += l.count();
  if (set == "fields/slender") return 2 * slenderColumns * cells;
  if (set == "rigid/place") return (dim == 2 ? 3 : 6) * h.rigid.size();
  if (set == "histories") return h.historyNames.size();
  for (size_t i = 0; i < h.contacts.size(); ++i)
    if (set == numbered("contacts/state ", i)) return contactColumns * h.contacts[i].nodes.size();
  return 0;
}

Header readHeader(hid_t f) {
  Header h;
  h.model = hdf::readText(f, "model"), h.space = hdf::readText(f, "space");
  h.mesh.dim = h.space == "solid" ? 3 : 2;
  h.steps = hdf::readNames(f, "steps"), h.stepEnds = hdf::readAll<double>(f, "step ends");
  h.historyNames = hdf::readNames(f, "history names");
  if (hdf::exists(f, "history units")) h.historyUnits = hdf::readNames(f, "history units");
  if (hdf::exists(f, "fields left out")) h.leftOut = hdf::readNames(f, "fields left out");
  h.historyUnits.resize(h.historyNames.size());  // older files have none
  h.yieldStress = exactly<double>(1, f, "yield stress")[0];
  const auto x = hdf::readAll<double>(f, "mesh/x");
  for (size_t i = 0; i + 2 < x.size(); i += 3) h.mesh.x.emplace_back(x[i], x[i + 1], x[i + 2]);
  h.mesh.parts = hdf::readNames(f, "mesh/parts");
  for (size_t i = 0; hdf::exists(f, numbered("mesh/blocks/", i)); ++i) {
    auto about = hdf::readAll<int>(f, numbered("mesh/blocks/about ", i));
    if (about.size() == 2) about.push_back(0);  // before there were thin cells
    require(about.size() == 3 && about[0] >= 0 && about[0] <= int(mesh::Cell::wedge15), "mesh/blocks");
    const auto type = mesh::Cell(about[0]);
    require(about[2] == 0 || ((type == mesh::Cell::hex8 || type == mesh::Cell::wedge6) && about[2] >= mesh::fewestThrough &&
                              about[2] <= mesh::mostThrough),
            "mesh/blocks");
    h.mesh.blocks.push_back({type, about[1], hdf::readAll<int>(f, numbered("mesh/blocks/", i)), about[2]});
    if (about[2] > 0) h.mesh.blocks.back().thickness = exactly<double>(1, f, numbered("mesh/blocks/thickness ", i))[0];
  }
  if (hdf::exists(f, "mesh/twins")) {  // the nodes that cuts have doubled; no more of them is needed to show results
    mesh::Cut cut;
    const auto twins = hdf::readAll<int>(f, "mesh/twins");
    for (size_t i = 0; i + 1 < twins.size(); i += 2) cut.below.push_back(twins[i]), cut.above.push_back(twins[i + 1]);
    h.mesh.cuts.push_back(std::move(cut));
  }
  readLines(f, h.mesh);
  const auto faceNames = hdf::readNames(f, "mesh/face names");
  for (size_t i = 0; i < faceNames.size(); ++i) {
    mesh::Face face{faceNames[i], exactly<int>(1, f, numbered("mesh/faces/part ", i))[0], {}};
    const auto q = hdf::readAll<int>(f, numbered("mesh/faces/", i));
    for (size_t k = 0; k + 2 < q.size(); k += 3) face.facets.push_back({q[k], q[k + 1], q[k + 2]});
    h.mesh.faces.push_back(face);
  }
  const auto contactNames = hdf::readNames(f, "contacts/names"), rigidNames = hdf::readNames(f, "rigid/names");
  for (size_t i = 0; i < contactNames.size(); ++i) {
    ContactSurface c{contactNames[i], hdf::readAll<int>(f, numbered("contacts/nodes ", i)), 0,
                     hdf::readAll<int>(f, numbered("contacts/segments ", i))};
    c.carriers = size_t(exactly<int>(1, f, numbered("contacts/carriers ", i))[0]);  // too large when below zero
    h.contacts.push_back(std::move(c));
  }
  for (size_t i = 0; i < rigidNames.size(); ++i) {
    const auto about = exactly<double>(4, f, numbered("rigid/about ", i));
    h.rigid.push_back({rigidNames[i],
                       {about[0], about[1], about[2]},
                       hdf::readAll<double>(f, numbered("rigid/points ", i)),
                       about[3] != 0,
                       hdf::readAll<int>(f, numbered("rigid/quads ", i))});
  }
  require(h.space == "solid" || h.space == "plane strain" || h.space == "plane stress" || h.space == "axisymmetric", "space");
  require(h.steps.size() == h.stepEnds.size(), "steps");
  checkMesh(h.mesh), checkSurfaces(h);
  return h;
}

}  // namespace anvil::results
