#include "core/results/store.hpp"

#include <fcntl.h>
#include <fmt/chrono.h>
#include <sys/stat.h>
#include <unistd.h>
#include <chrono>
#include <filesystem>
#include <map>

#include "core/base/file_lock.hpp"
#include "core/base/files.hpp"
#include "core/base/text.hpp"
#include "core/results/hdf.hpp"
#include "core/results/header_io.hpp"
#include "core/results/writing_marks.hpp"

namespace anvil::results {
namespace {

/// No messages of the library, and no farewell: a file that a full disk has broken off cannot be closed, and trying it again at
/// the end of the program ends in a fault.
void quiet() {
  static const int once = H5dont_atexit();
  (void)once;
  H5Eset_auto2(H5E_DEFAULT, nullptr, nullptr);
}

constexpr size_t residualWidth = 40;
constexpr const char* others = "Wait for it, stop it, or give this run another file (--out).";

hdf::Id access() {
  hdf::Id property(H5Pcreate(H5P_FILE_ACCESS), H5Pclose, "access");
  H5Pset_libver_bounds(property, H5F_LIBVER_LATEST, H5F_LIBVER_LATEST);
  H5Pset_file_locking(property, false, true);  // we have our own, which does not keep readers away
  return property;
}

/// Blocks of the library's own that fit into a page do not cross from one to the next: a kill ends a write between pages, and
/// half of a block has a wrong checksum.
hid_t pages() {
  const hid_t property = H5Pcreate(H5P_FILE_CREATE);
  H5Pset_file_space_strategy(property, H5F_FSPACE_STRATEGY_PAGE, false, 1), H5Pset_file_space_page_size(property, 4096);
  return property;
}

/// Opens a file to read. While a run writes it, the library looks again where it meets half of a change, and waits twice as long
/// each time: 24 times are 17 ms, the 100 that it would take by itself never end where a file is damaged.
hid_t openToRead(const std::string& path) {
  const auto property = access();
  const bool written = isLocked(path);
  for (const bool live : {written, !written}) {
    H5Pset_metadata_read_attempts(property, written ? 24 : 1);
    const auto way = H5F_ACC_RDONLY | (live ? H5F_ACC_SWMR_READ : 0u);
    if (const hid_t id = H5Fopen(path.c_str(), way, property); id >= 0) return id;
  }
  return -1;
}

std::string unitOf(const std::string& set) {
  if (set == "fields/displacement") return "mm";
  if (set == "fields/reaction") return "N";
  if (set == "fields/stress") return "MPa";
  if (set == "fields/strain energy") return "N mm/mm3";
  if (set == "fields/strain" || set == "fields/plastic strain") return "1";
  if (set == "rigid/place") return "mm, rad";
  if (set == "fields/turn") return "rad";
  if (set == "fields/slender")
    return "per end: normal force, shear up, shear across N; torque, moment up, moment across N mm; stretch 1; twist, curvature "
           "up, "
           "curvature across 1/mm; greatest, least stress MPa; plastic strain 1; yielded share 1";
  if (set.starts_with("contacts/state ")) return "per node: pressure MPa, friction MPa, status, gap mm, slip mm, area mm2";
  if (set == "increments") return "step, increment, time s, size s, iterations, cutbacks";
  return {};  // histories have theirs in "history units"
}

}  // namespace

void refuseIfWritten(const std::string& path) {
  if (!isLocked(path)) return;
  std::string who;
  try {
    quiet();
    const hdf::Id file(openToRead(path), H5Fclose, path);
    who = " (" + hdf::readText(file, "writer") + ")";
  } catch (const Error&) {  // it has only begun
  }
  throw Error("another run" + who + " is writing this file", path, others);
}

struct Writer::Data {
  std::string path;              // as it was named
  std::filesystem::path to, at;  // where that leads, and what the file is called now
  FileLock lock;
  hdf::Id file;
  std::map<std::string, hdf::Id> sets;
  hsize_t rows = 0;
  bool streaming = false, broken = false;

  ~Data() {
    if (broken) {  // what is stored is whole as it lies there; what the library still holds back is not to be written
      for (auto& [name, set] : sets) set.leave();
      file.leave();
    }
    if (at != to) ::unlink(at.c_str());
  }
  Header header;
  void create();
  void putInPlace();
  void takeOver(const Row& row, const std::vector<double>& residuals, const std::vector<double>& about);
  template <class T>
  void open(const std::string& name, const std::vector<T>& v) {
    if (!sets.count(name)) sets.emplace(name, hdf::createGrowing<T>(file, name, v.size(), unitOf(name)));
  }
  template <class F>
  void each(const Row& row, const F& f) {
    f("fields/displacement", row.displacement), f("fields/reaction", row.reaction);
    f("fields/stress", row.stress), f("fields/strain", row.strain), f("fields/plastic strain", row.plastic),
        f("fields/strain energy", row.energyDensity);
    if (!header.mesh.lines.empty()) f("fields/turn", row.turn), f("fields/slender", row.slender);
    for (size_t i = 0; i < row.contacts.size(); ++i) f(numbered("contacts/state ", i), row.contacts[i]);
    f("rigid/place", row.rigid), f("histories", row.histories);
    for (const auto& [name, v] : row.restart) f("restart/" + name, v);
  }
  void flush() {
    hdf::check(H5Fflush(file, H5F_SCOPE_GLOBAL), "flush");
    if (const int fd = ::open(at.c_str(), O_RDWR | O_CLOEXEC); fd >= 0) {
      dropWritingMarks(fd);
      const int synced = ::fdatasync(fd);
      ::close(fd);
      hdf::check(synced, "to disk");
    }
  }
};

/// The file grows beside its place until what stands before the first increment is whole.
void Writer::Data::create() {
  to = leadsTo(path);
  struct stat there {};
  const bool replaces = ::stat(to.c_str(), &there) == 0;
  if (replaces && !S_ISREG(there.st_mode)) throw Error("results need a plain file of their own", path, "Give another name.");
  if (replaces && ::access(to.c_str(), W_OK) != 0)
    throw Error("the file is write-protected", path, "Change its rights, or give another name.");
  if (!lock.held()) refuseIfWritten(path);
  sweepBegun(to.parent_path());
  const auto name = nameBeside(to);
  const hdf::Id creation(pages(), H5Pclose, "creation");
  const hid_t id = H5Fcreate(name.c_str(), H5F_ACC_EXCL, creation, access());
  if (id < 0)
    throw Error("the results file cannot be created", path,
                "Check that the folder exists and can be written to, and that the disk has room.");
  file = {id, H5Fclose, path}, at = name;
  if (replaces) ::chmod(at.c_str(), there.st_mode & 07777);
  writeHeader(file, header);
  const std::time_t now = std::time(nullptr);
  hdf::writeText(file, "writer", fmt::format("process {}, since {:%Y-%m-%d %H:%M:%S}", ::getpid(), fmt::localtime(now)));
  hdf::writeFixed(file, "outcome", std::vector<double>{0}, 1, false);
  flush();
}

void Writer::Data::putInPlace() {
  FileLock mine(at);
  const FolderLock turn(to.parent_path());
  if (!lock.held()) refuseIfWritten(path);  // by one that was begun since
  if (std::rename(at.c_str(), to.c_str()) != 0)
    throw Error("the results file cannot be put in place", path,
                "Check that nothing else has this name and that the folder can be written to.");
  at = to, lock = std::move(mine);
}

/// All sets must exist before the library keeps order among its writes, and until then a kill can leave anything: what grows is
/// made beside the file that is there, and takes its place once it is so far.
void Writer::Data::takeOver(const Row& row, const std::vector<double>& residuals, const std::vector<double>& about) {
  if (at == to) create();
  std::vector<std::string> names;
  for (const auto& [name, v] : row.restart) names.push_back(name);
  hdf::writeTexts(file, "restart names", names);
  each(row, [&](const std::string& name, const auto& v) { open(name, v); });
  open("residuals", residuals), open("increments", about);
  hdf::check(H5Fflush(file, H5F_SCOPE_GLOBAL), "flush");
  hdf::check(H5Fstart_swmr_write(file), "stream");
  streaming = true;
}

Writer::Writer(const std::string& path, const Header& header) : data_(std::make_unique<Data>()) {
  quiet();
  data_->path = path, data_->header = header;
  data_->create();
  data_->putInPlace();
}

/// A killed writer's file is sound to read but not to write on: what is whole is copied to a new file, which then takes
/// the old one's place.
Writer::Writer(const std::string& path, size_t keep, const Header& header) : data_(std::make_unique<Data>()) {
  quiet();
  data_->path = path;
  refuseIfWritten(path);
  const Reader old(path);
  data_->header = header;
  data_->create();
  std::vector<size_t> place;  // of each history in the old rows; beyond them: it recorded nothing yet
  for (const auto& name : header.historyNames) {
    const auto& before = old.header().historyNames;
    place.push_back(size_t(std::find(before.begin(), before.end(), name) - before.begin()));
  }
  for (size_t i = 0; i < keep; ++i) {
    Row row = old.whole(i);
    std::vector<double> histories;
    for (size_t k : place) histories.push_back(k < row.histories.size() ? row.histories[k] : 0);
    row.histories = histories;
    append(row);
  }
  data_->putInPlace();
}

Writer::~Writer() = default;

void Writer::append(const Row& row) try {
  auto& d = *data_;
  std::vector<double> residuals(residualWidth, -1);
  for (size_t i = 0; i < std::min(residualWidth, row.residuals.size()); ++i) residuals[i] = row.residuals[i];
  const std::vector<double> about{double(row.step), double(row.index),      row.time,
                                  row.size,         double(row.iterations), double(row.cutbacks)};
  const bool first = !d.streaming, there = d.at == d.to;
  if (first) d.takeOver(row, residuals, about);
  const auto put = [&](const std::string& name, const auto& v) { hdf::appendRow(d.sets.at(name), v.data(), v.size(), d.rows); };
  d.each(row, put);
  put("residuals", residuals);
  for (auto& [name, set] : d.sets) hdf::check(H5Dflush(set), "flush");
  put("increments", about);
  d.flush();
  if (first && there) d.putInPlace();
  ++d.rows;
} catch (const Error& e) {
  data_->broken = true;
  throw Error(e.wrong(), data_->path, e.remedy());
}

void Writer::finish(const std::string& outcome) {
  if (data_->broken) return;
  const double code = outcome == "finished" ? 1 : outcome == "stopped" ? 2 : 3;
  H5Dwrite(hdf::openSet(data_->file, "outcome"), H5T_NATIVE_DOUBLE, H5S_ALL, H5S_ALL, H5P_DEFAULT, &code);
  data_->flush();
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
  if (std::filesystem::is_directory(path)) throw Error("this is a folder, no results file", path, "Give the name of a file.");
  if (::access(path.c_str(), R_OK) != 0) throw Error("the file cannot be read: you have no right to", path, "Change its rights.");
  std::error_code none;
  if (std::filesystem::file_size(path, none) == 0)
    throw Error("this file is still empty", path, "Wait for the run that writes it, or run the model again.");
  const hid_t id = openToRead(path);
  if (id < 0)
    throw Error("this is not a results file, or it was cut short before the first increment", path, "Run the model again.");
  data_->file = {id, H5Fclose, path};
  try {
    const std::string written = hdf::readText(id, "format"), known = format;
    const int version = written.starts_with(known) ? std::atoi(written.c_str() + known.size()) : 0;
    if (version > newestFormat)
      throw Error("a newer version of this program wrote this file", path, "Open it with that version, or run the model again.");
    if (version < 2) throw Error("this results file has another format", path, "Run the model again.");
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

/// All rows of increments; without the last where a kill has left only a part of it: where the run came to no end.
static std::vector<double> wholeIncrements(hid_t file, bool ended) {
  const size_t rows = hdf::rowsOf(file, "increments");
  try {
    return hdf::readRows<double>(file, "increments", 0, rows);
  } catch (const Error&) {
    if (rows == 0 || ended) throw;
  }
  return hdf::readRows<double>(file, "increments", 0, rows - 1);
}

bool Reader::refresh() {
  // Opened anew: what a reader has cached of a growing dataset's index may be behind its extent.
  data_->file = {};
  const hid_t id = openToRead(data_->path);
  if (id < 0) throw Error("the results file cannot be opened again", data_->path, "Was it moved or deleted?");
  data_->file = {id, H5Fclose, data_->path};
  if (!hdf::exists(data_->file, "increments")) return false;  // before the first increment
  const size_t before = data_->rows.size();
  const auto v = wholeIncrements(data_->file, !outcome().empty());
  data_->rows.clear();
  for (size_t i = 0; i + 5 < v.size(); i += 6) {
    if (v[i + 3] <= 0) break;  // the extent is there already, the row not yet
    const bool counts = v[i] >= 0 && v[i] < double(data_->header.steps.size()) && std::abs(v[i + 1]) < 1e9 &&
                        std::abs(v[i + 4]) < 1e9 && std::abs(v[i + 5]) < 1e9 && std::isfinite(v[i + 2]);
    if (!counts)
      throw Error("increment " + std::to_string(i / 6 + 1) + " is not in order", data_->path, "The results file is damaged.");
    data_->rows.push_back({int(v[i]), int(v[i + 1]), int(v[i + 4]), int(v[i + 5]), v[i + 2], v[i + 3]});
  }
  return data_->rows.size() != before;
}

std::string Reader::outcome() const {
  const auto stored = hdf::readAll<double>(data_->file, "outcome");
  const double code = stored.empty() ? 0 : stored[0];
  return code == 1 ? "finished" : code == 2 ? "stopped" : code == 3 ? "failed" : "";
}

/// A row of a set; Throws Error when it is not as long as the header has it.
template <class T>
static std::vector<T> rowOf(const hdf::Id& file, const Header& header, const std::string& path, const std::string& set,
                            size_t row) {
  auto v = hdf::readRow<T>(file, set, row);
  if (v.size() != rowLength(header, set))
    throw Error("'" + set + "' does not fit the mesh", path, "The results file is damaged.");
  return v;
}

std::vector<float> Reader::field(const std::string& name, size_t row) const {
  return rowOf<float>(data_->file, data_->header, data_->path, "fields/" + name, row);
}
std::vector<float> Reader::contact(size_t contact, size_t row) const {
  return rowOf<float>(data_->file, data_->header, data_->path, numbered("contacts/state ", contact), row);
}
std::vector<double> Reader::rigid(size_t row) const {
  return rowOf<double>(data_->file, data_->header, data_->path, "rigid/place", row);
}

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
  for (size_t r = 0; r < data_->rows.size(); ++r) values.push_back(all[r * names.size() + size_t(it - names.begin())]);
  return values;
}

std::vector<double> Reader::histories() const {
  if (data_->rows.empty()) return {};
  auto all = hdf::readRows<double>(data_->file, "histories", 0, data_->rows.size());
  if (all.size() != data_->rows.size() * data_->header.historyNames.size())
    throw Error("histories are missing", data_->path, "The results file is damaged.");
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
  if (!data_->header.mesh.lines.empty()) r.turn = field("turn", row), r.slender = field("slender", row);
  r.rigid = rigid(row), r.histories = rowOf<double>(data_->file, data_->header, data_->path, "histories", row),
  r.residuals = residuals(row), r.restart = restart(row);
  return r;
}

NamedVectors Reader::restart(size_t row) const {
  if (!hdf::exists(data_->file, "restart names"))
    throw Error("an older program wrote this file: it can be looked at, but a run cannot go on from it", data_->path,
                "Run from the start.");
  NamedVectors all;
  for (const auto& name : hdf::readNames(data_->file, "restart names"))
    all[name] = hdf::readRow<double>(data_->file, "restart/" + name, row);
  return all;
}

}  // namespace anvil::results
