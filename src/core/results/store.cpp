#include "core/results/store.hpp"

#include <fcntl.h>
#include <unistd.h>
#include <filesystem>
#include <map>
#include <sstream>

#include "core/base/text.hpp"
#include "core/results/hdf.hpp"

namespace anvil::results {
namespace {

std::string joined(const std::vector<std::string>& words) {
  std::string text;
  for (const auto& w : words) text += w + "\n";
  return text;
}
std::vector<std::string> lines(const std::string& text) {
  std::vector<std::string> words;
  std::istringstream in(text);
  for (std::string w; std::getline(in, w);) words.push_back(w);
  return words;
}
void group(hid_t file, const std::string& name) {
  hdf::Id(H5Gcreate2(file, name.c_str(), H5P_DEFAULT, H5P_DEFAULT, H5P_DEFAULT), H5Gclose, name);
}
std::string numbered(const std::string& base, size_t i) { return base + std::to_string(i); }

void writeHeader(hid_t f, const Header& h) {
  for (const char* g : {"mesh", "contacts", "rigid", "fields", "restart", "mesh/blocks", "mesh/faces"}) group(f, g);
  hdf::writeText(f, "format", "unyielding-anvil results 2");
  hdf::writeText(f, "model", h.model);
  hdf::writeText(f, "space", h.space);
  hdf::writeText(f, "steps", joined(h.steps));
  hdf::writeFixed(f, "step ends", h.stepEnds, 1);
  hdf::writeText(f, "history names", joined(h.historyNames));
  hdf::writeText(f, "history units", joined(h.historyUnits));
  hdf::writeFixed(f, "yield stress", std::vector<double>{h.yieldStress}, 1);
  std::vector<double> x;
  for (const auto& p : h.mesh.x) x.insert(x.end(), {p.x(), p.y(), p.z()});
  hdf::writeFixed(f, "mesh/x", x, 3);
  hdf::writeText(f, "mesh/parts", joined(h.mesh.parts));
  for (size_t i = 0; i < h.mesh.blocks.size(); ++i) {
    const auto& b = h.mesh.blocks[i];
    hdf::writeFixed(f, numbered("mesh/blocks/", i), b.nodes, hsize_t(mesh::info(b.type).nodes));
    hdf::writeFixed(f, numbered("mesh/blocks/about ", i), std::vector<int>{int(b.type), b.part}, 2);
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
  hdf::writeText(f, "mesh/face names", joined(faceNames));
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
  hdf::writeText(f, "contacts/names", joined(contactNames));
  hdf::writeText(f, "rigid/names", joined(rigidNames));
}

Header readHeader(hid_t f) {
  Header h;
  h.model = hdf::readText(f, "model"), h.space = hdf::readText(f, "space");
  h.mesh.dim = h.space == "solid" ? 3 : 2;
  h.steps = lines(hdf::readText(f, "steps")), h.stepEnds = hdf::readAll<double>(f, "step ends");
  h.historyNames = lines(hdf::readText(f, "history names"));
  if (hdf::exists(f, "history units")) h.historyUnits = lines(hdf::readText(f, "history units"));
  h.historyUnits.resize(h.historyNames.size());  // older files have none
  h.yieldStress = hdf::readAll<double>(f, "yield stress").at(0);
  const auto x = hdf::readAll<double>(f, "mesh/x");
  for (size_t i = 0; i + 2 < x.size(); i += 3) h.mesh.x.emplace_back(x[i], x[i + 1], x[i + 2]);
  h.mesh.parts = lines(hdf::readText(f, "mesh/parts"));
  for (size_t i = 0; hdf::exists(f, numbered("mesh/blocks/", i)); ++i) {
    const auto about = hdf::readAll<int>(f, numbered("mesh/blocks/about ", i));
    h.mesh.blocks.push_back({mesh::Cell(about.at(0)), about.at(1), hdf::readAll<int>(f, numbered("mesh/blocks/", i))});
  }
  if (hdf::exists(f, "mesh/twins")) {  // the nodes that cuts have doubled; no more of them is needed to show results
    mesh::Cut cut;
    const auto twins = hdf::readAll<int>(f, "mesh/twins");
    for (size_t i = 0; i + 1 < twins.size(); i += 2) cut.below.push_back(twins[i]), cut.above.push_back(twins[i + 1]);
    h.mesh.cuts.push_back(std::move(cut));
  }
  const auto faceNames = lines(hdf::readText(f, "mesh/face names"));
  for (size_t i = 0; i < faceNames.size(); ++i) {
    mesh::Face face{faceNames[i], hdf::readAll<int>(f, numbered("mesh/faces/part ", i)).at(0), {}};
    const auto q = hdf::readAll<int>(f, numbered("mesh/faces/", i));
    for (size_t k = 0; k + 2 < q.size(); k += 3) face.facets.push_back({q[k], q[k + 1], q[k + 2]});
    h.mesh.faces.push_back(face);
  }
  const auto contactNames = lines(hdf::readText(f, "contacts/names")), rigidNames = lines(hdf::readText(f, "rigid/names"));
  for (size_t i = 0; i < contactNames.size(); ++i) {
    ContactSurface c{contactNames[i], hdf::readAll<int>(f, numbered("contacts/nodes ", i)), 0,
                     hdf::readAll<int>(f, numbered("contacts/segments ", i))};
    c.carriers = size_t(hdf::readAll<int>(f, numbered("contacts/carriers ", i)).at(0));
    h.contacts.push_back(std::move(c));
  }
  for (size_t i = 0; i < rigidNames.size(); ++i) {
    const auto about = hdf::readAll<double>(f, numbered("rigid/about ", i));
    h.rigid.push_back({rigidNames[i],
                       {about.at(0), about.at(1), about.at(2)},
                       hdf::readAll<double>(f, numbered("rigid/points ", i)),
                       about.at(3) != 0,
                       hdf::readAll<int>(f, numbered("rigid/quads ", i))});
  }
  return h;
}

void quiet() { H5Eset_auto2(H5E_DEFAULT, nullptr, nullptr); }

constexpr size_t residualWidth = 40;

}  // namespace

struct Writer::Data {
  std::string path, at;  // what it is called in the end, and now
  hdf::Id file;
  std::map<std::string, hdf::Id> sets;
  hsize_t rows = 0;
  bool streaming = false;

  void create(const Header& header);
  void putInPlace();
  template <class T>
  void put(const std::string& name, const std::vector<T>& v) {
    auto it = sets.find(name);
    if (it == sets.end())
      it = sets.emplace(name, hdf::exists(file, name) ? hdf::openSet(file, name) : hdf::createGrowing<T>(file, name, v.size()))
               .first;
    hdf::appendRow(it->second, v.data(), v.size(), rows);
  }
  template <class F>
  void each(const Row& row, const F& f) {
    f("fields/displacement", row.displacement), f("fields/reaction", row.reaction);
    f("fields/stress", row.stress), f("fields/strain", row.strain), f("fields/plastic strain", row.plastic),
        f("fields/strain energy", row.energyDensity);
    for (size_t i = 0; i < row.contacts.size(); ++i) f(numbered("contacts/state ", i), row.contacts[i]);
    f("rigid/place", row.rigid), f("histories", row.histories);
    for (const auto& [name, v] : row.restart) f("restart/" + name, v);
  }
};

static hdf::Id accessLatest() {
  hdf::Id access(H5Pcreate(H5P_FILE_ACCESS), H5Pclose, "access");
  H5Pset_libver_bounds(access, H5F_LIBVER_LATEST, H5F_LIBVER_LATEST);
  return access;
}

/// The file grows beside its place. Who watches for it (the window, a script) may open it at any moment and would hold
/// it locked just when the library wants the lock of a new file: a run must not fail of being looked at.
void Writer::Data::create(const Header& header) {
  at = path + ".part";
  const auto access = accessLatest();
  const hid_t id = H5Fcreate(at.c_str(), H5F_ACC_TRUNC, H5P_DEFAULT, access);
  if (id < 0)
    throw Error("the results file cannot be created", path,
                "Check that the folder exists and can be written to, and that no other run writes this file.");
  file = {id, H5Fclose, path};
  writeHeader(file, header);
  hdf::writeFixed(file, "outcome", std::vector<double>{0}, 1);
  hdf::check(H5Fflush(file, H5F_SCOPE_GLOBAL), "flush");
}

void Writer::Data::putInPlace() {
  if (std::rename(at.c_str(), path.c_str()) != 0) {
    std::remove(at.c_str());
    throw Error("the results file cannot be put in place", path,
                "Check that nothing else has this name and that the folder can be written to.");
  }
  at = path;
}

Writer::Writer(const std::string& path, const Header& header) : data_(std::make_unique<Data>()) {
  quiet();
  data_->path = path;
  data_->create(header);
  data_->putInPlace();
}

/// A killed writer's file is sound to read but not to write on: what is whole is copied to a new file, which then takes
/// the old one's place.
Writer::Writer(const std::string& path, size_t keep) : data_(std::make_unique<Data>()) {
  quiet();
  data_->path = path;
  const Reader old(path);
  data_->create(old.header());
  for (size_t i = 0; i < keep; ++i) append(old.whole(i));
  data_->putInPlace();
}

Writer::~Writer() = default;

void Writer::append(const Row& row) {
  auto& d = *data_;
  const bool first = !d.streaming;
  std::vector<double> residuals(residualWidth, -1);
  for (size_t i = 0; i < std::min(residualWidth, row.residuals.size()); ++i) residuals[i] = row.residuals[i];
  const std::vector<double> about{double(row.step), double(row.index),      row.time,
                                  row.size,         double(row.iterations), double(row.cutbacks)};
  if (first) {  // all datasets must exist before the file is opened for readers
    const hsize_t rows = d.rows;
    const auto create = [&](const std::string& name, const auto& v) {
      using T = typename std::decay_t<decltype(v)>::value_type;
      if (!d.sets.count(name))
        d.sets.emplace(name,
                       hdf::exists(d.file, name) ? hdf::openSet(d.file, name) : hdf::createGrowing<T>(d.file, name, v.size()));
    };
    if (!hdf::exists(d.file, "restart names")) {
      std::vector<std::string> names;
      for (const auto& [name, v] : row.restart) names.push_back(name);
      hdf::writeText(d.file, "restart names", joined(names));
    }
    d.each(row, create);
    create("residuals", residuals), create("increments", about);
    d.rows = rows;
    hdf::check(H5Fflush(d.file, H5F_SCOPE_GLOBAL), "flush");
    hdf::check(H5Fstart_swmr_write(d.file), "stream");
    d.streaming = true;
  }
  d.each(row, [&](const std::string& name, const auto& v) { d.put(name, v); });
  d.put("residuals", residuals);
  for (auto& [name, set] : d.sets) hdf::check(H5Dflush(set), "flush");
  d.put("increments", about);
  hdf::check(H5Fflush(d.file, H5F_SCOPE_GLOBAL), "flush");
  if (const int fd = ::open(d.at.c_str(), O_RDONLY | O_CLOEXEC); fd >= 0) {
    const int synced = ::fdatasync(fd);
    ::close(fd);
    if (synced != 0)
      throw Error("an increment could not be brought to disk", d.path,
                  "Check that the disk has room; what was stored before is whole.");
  }
  ++d.rows;
}

void Writer::finish(const std::string& outcome) {
  const double code = outcome == "finished" ? 1 : outcome == "stopped" ? 2 : 3;
  H5Dwrite(hdf::openSet(data_->file, "outcome"), H5T_NATIVE_DOUBLE, H5S_ALL, H5S_ALL, H5P_DEFAULT, &code);
  H5Fflush(data_->file, H5F_SCOPE_GLOBAL);
}

struct Reader::Data {
  std::string path;
  hdf::Id file;
  Header header;
  std::vector<RowInfo> rows;
};

Reader::Reader(const std::string& path) : data_(std::make_unique<Data>()) {
  quiet();
  data_->path = path;
  if (!std::filesystem::exists(path)) throw Error("there is no such results file", path, "Run the model first.");
  hid_t id = H5Fopen(path.c_str(), H5F_ACC_RDONLY | H5F_ACC_SWMR_READ, H5P_DEFAULT);
  if (id < 0) id = H5Fopen(path.c_str(), H5F_ACC_RDONLY, H5P_DEFAULT);
  if (id < 0)
    throw Error("this is not a results file, or it was cut short before the first increment", path, "Run the model again.");
  data_->file = {id, H5Fclose, path};
  try {
    if (!hdf::readText(id, "format").starts_with("unyielding-anvil results 2"))
      throw Error("this results file has another format", path, "Use a matching program version.");
    data_->header = readHeader(id);
  } catch (const Error& e) {
    throw Error(e.wrong(), path, e.remedy());
  }
  refresh();
}
Reader::~Reader() = default;
Reader::Reader(Reader&&) noexcept = default;
Reader& Reader::operator=(Reader&&) noexcept = default;

const Header& Reader::header() const { return data_->header; }
const std::vector<RowInfo>& Reader::rows() const { return data_->rows; }

bool Reader::refresh() {
  // Opened anew: what a reader has cached of a growing dataset's index may be behind its extent.
  data_->file = {};
  hid_t id = H5Fopen(data_->path.c_str(), H5F_ACC_RDONLY | H5F_ACC_SWMR_READ, H5P_DEFAULT);
  if (id < 0) id = H5Fopen(data_->path.c_str(), H5F_ACC_RDONLY, H5P_DEFAULT);
  if (id < 0) throw Error("the results file cannot be opened again", data_->path, "Was it moved or deleted?");
  data_->file = {id, H5Fclose, data_->path};
  if (!hdf::exists(data_->file, "increments")) return false;  // before the first increment
  const size_t before = data_->rows.size();
  const auto v = hdf::readAll<double>(data_->file, "increments");
  data_->rows.clear();
  for (size_t i = 0; i + 5 < v.size(); i += 6) {
    if (v[i + 3] <= 0) break;  // the extent is there already, the row not yet
    data_->rows.push_back({int(v[i]), int(v[i + 1]), int(v[i + 4]), int(v[i + 5]), v[i + 2], v[i + 3]});
  }
  return data_->rows.size() != before;
}

std::string Reader::outcome() const {
  const double code = hdf::readAll<double>(data_->file, "outcome").at(0);
  return code == 1 ? "finished" : code == 2 ? "stopped" : code == 3 ? "failed" : "";
}

std::vector<float> Reader::field(const std::string& name, size_t row) const {
  return hdf::readRow<float>(data_->file, "fields/" + name, row);
}
std::vector<float> Reader::contact(size_t contact, size_t row) const {
  return hdf::readRow<float>(data_->file, numbered("contacts/state ", contact), row);
}
std::vector<double> Reader::rigid(size_t row) const { return hdf::readRow<double>(data_->file, "rigid/place", row); }

std::vector<double> Reader::residuals(size_t row) const {
  auto v = hdf::readRow<double>(data_->file, "residuals", row);
  while (!v.empty() && v.back() < 0) v.pop_back();
  return v;
}

std::vector<double> Reader::history(const std::string& name) const {
  const auto& names = data_->header.historyNames;
  const auto it = std::find(names.begin(), names.end(), name);
  if (it == names.end()) {
    const auto near = nearest(name, names);
    throw Error("there is no history '" + name + "'", data_->path,
                near.empty() ? "Known: " + inProse(names) + "." : "Did you mean '" + near + "'?");
  }
  const auto all = histories();
  std::vector<double> values;
  for (size_t r = 0; r < data_->rows.size(); ++r) values.push_back(all.at(r * names.size() + size_t(it - names.begin())));
  return values;
}

std::vector<double> Reader::histories() const {
  if (data_->rows.empty()) return {};
  auto all = hdf::readAll<double>(data_->file, "histories");
  all.resize(std::min(all.size(), data_->rows.size() * data_->header.historyNames.size()));
  return all;
}

std::vector<double> Reader::times() const {
  std::vector<double> t;
  for (const auto& r : data_->rows) t.push_back(r.time);
  return t;
}

Row Reader::whole(size_t row) const {
  Row r;
  const auto& about = data_->rows.at(row);
  r.step = about.step, r.index = about.index, r.iterations = about.iterations, r.cutbacks = about.cutbacks, r.time = about.time,
  r.size = about.size;
  r.displacement = field("displacement", row), r.reaction = field("reaction", row), r.stress = field("stress", row),
  r.strain = field("strain", row);
  r.plastic = field("plastic strain", row), r.energyDensity = field("strain energy", row);
  for (size_t i = 0; i < data_->header.contacts.size(); ++i) r.contacts.push_back(contact(i, row));
  r.rigid = rigid(row), r.histories = hdf::readRow<double>(data_->file, "histories", row), r.residuals = residuals(row),
  r.restart = restart(row);
  return r;
}

NamedVectors Reader::restart(size_t row) const {
  if (!hdf::exists(data_->file, "restart names"))
    throw Error("an older program wrote this file: it can be looked at, but a run cannot go on from it", data_->path,
                "Run from the start.");
  NamedVectors all;
  for (const auto& name : lines(hdf::readText(data_->file, "restart names")))
    all[name] = hdf::readRow<double>(data_->file, "restart/" + name, row);
  return all;
}

}  // namespace anvil::results
