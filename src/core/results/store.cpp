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
#include "core/base/parallel.hpp"
#include "core/base/text.hpp"
#include "core/results/file_access.hpp"
#include "core/results/hdf.hpp"
#include "core/results/header_io.hpp"
#include "core/results/packing.hpp"
#include "core/results/writing_marks.hpp"

namespace anvil::results {
namespace {

constexpr const char* others = "Wait for it, stop it, or give this run another file (--out).";

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
  if (set.starts_with("latest/")) return unitOf(set.substr(7));
  if (set == "increments") return "step, increment, time s, size s, iterations, cutbacks, place among the stored";
  return {};  // histories have theirs in "history units"
}

/// Whether a set becomes much smaller by packing. What is everywhere a different number does not: a fifth is saved, and a run
/// waits for it, as the view does whenever it is read.
bool gainsByPacking(const std::string& set) {
  for (const char* dense : {"fields/displacement", "fields/stress", "fields/strain", "fields/strain energy",
                            "restart/displacement", "restart/travelled"})
    if (set == dense) return false;
  return true;
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
  hsize_t rows = 0, kept = 0, latest = 0;  ///< rows in all; of those stored for good; of those stored for a while
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
  void putForGood(const Row& row);
  void putLatest(const Row& row);
  void takeOver(const Row& row, const std::vector<double>& residuals, const std::vector<double>& about);
  template <class T>
  void open(const std::string& name, const std::vector<T>& v, bool packed = true) {
    if (!sets.count(name))
      sets.emplace(name, hdf::createGrowing<T>(file, name, v.size(), unitOf(name), packed && gainsByPacking(name)));
  }
  template <class F>
  void each(const Row& row, const F& f) {
    const auto unlessLeftOut = [&](const std::string& name, const auto& v) {
      if (std::find(header.leftOut.begin(), header.leftOut.end(), name) == header.leftOut.end()) f("fields/" + name, v);
    };
    f("fields/displacement", row.displacement), unlessLeftOut("reaction", row.reaction);
    unlessLeftOut("stress", row.stress), unlessLeftOut("strain", row.strain), unlessLeftOut("plastic strain", row.plastic),
        unlessLeftOut("strain energy", row.energyDensity);
    if (!header.mesh.lines.empty()) f("fields/turn", row.turn), f("fields/slender", row.slender);
    for (size_t i = 0; i < row.contacts.size(); ++i) f(numbered("contacts/state ", i), row.contacts[i]);
    f("rigid/place", row.rigid);
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
  const hid_t id = H5Fcreate(name.c_str(), H5F_ACC_EXCL, creation, fileAccess());
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
  each(row, [&](const std::string& name, const auto& v) {
    open(name, v);
    if (header.thinned) open("latest/" + name, v, false);
  });
  open("histories", row.histories), open("residuals", residuals), open("increments", about);
  hdf::check(H5Fflush(file, H5F_SCOPE_GLOBAL), "flush");
  hdf::check(H5Fstart_swmr_write(file), "stream");
  streaming = true;
}

void Writer::Data::putForGood(const Row& row) {
  struct Packing {
    hid_t set;
    const void* numbers;
    size_t count, each;
    std::vector<std::uint8_t> bytes;
  };
  std::vector<Packing> large;
  each(row, [&](const std::string& name, const auto& v) {
    if (hdf::worthPacking(v.size()) && gainsByPacking(name))
      large.push_back({sets.at(name), v.data(), v.size(), sizeof v[0], {}});
    else
      hdf::appendRow(sets.at(name), v.data(), v.size(), kept);
  });
  forEach(
      large.size(), [&](size_t i) { large[i].bytes = packed(large[i].numbers, large[i].count, large[i].each); }, 1);
  for (const auto& p : large) hdf::appendPackedRow(p.set, p.bytes, kept);
}

/// Of the two latest places the one that the last increment does not lie in.
void Writer::Data::putLatest(const Row& row) {
  each(row, [&](const std::string& name, const auto& v) {
    hdf::appendRow(sets.at("latest/" + name), v.data(), v.size(), latest % 2);
  });
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
  if (keep > 0 && !old.rows().at(keep - 1).stored)
    throw Error("increment " + std::to_string(keep) + " was not stored, so a run cannot go on from it", path,
                "The nearest one that was is " + std::to_string(old.storedNear(keep - 1) + 1) + ".");
  data_->header.leftOut = old.header().leftOut;  // what is not there cannot be stored from here on alone
  if (keep > 0 && !old.rows().front().stored) {  // a whole row tells how long rows are
    Row row = old.whole(keep - 1);
    row.histories.resize(header.historyNames.size());
    data_->takeOver(row, std::vector<double>(residualWidth, -1), std::vector<double>(aboutWidth, 0));
  }
  for (size_t i = 0; i < keep; ++i) {
    Row row = old.rows()[i].stored ? old.whole(i) : old.histories(i);
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
  const bool latest = row.keep == Keep::asLatest && d.header.thinned;
  const double slot = row.keep == Keep::historiesOnly ? notStored : latest ? -1 - double(d.latest % 2) : double(d.kept);
  const std::vector<double> about{double(row.step),       double(row.index),    row.time, row.size,
                                  double(row.iterations), double(row.cutbacks), slot};
  const bool first = !d.streaming, there = d.at == d.to;
  if (first) d.takeOver(row, residuals, about);
  const auto put = [&](const std::string& name, const auto& v) { hdf::appendRow(d.sets.at(name), v.data(), v.size(), d.rows); };
  if (row.keep != Keep::historiesOnly) latest ? d.putLatest(row) : d.putForGood(row);
  if (row.keep != Keep::historiesOnly) ++(latest ? d.latest : d.kept);
  put("histories", row.histories), put("residuals", residuals);
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

}  // namespace anvil::results
