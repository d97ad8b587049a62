#include <unistd.h>
#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <filesystem>

#include "core/base/text.hpp"
#include "core/results/file_access.hpp"
#include "core/results/header_io.hpp"
#include "core/results/store.hpp"

namespace anvil::results {

struct Reader::Data {
  std::string path;
  hdf::Id file;
  Header header;
  std::vector<RowInfo> rows;
  template <class T>
  std::vector<T> storedRow(const std::string& set, size_t row) const;
  template <class T>
  std::vector<T> rowOf(const std::string& set, size_t row) const;
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
  const size_t width = hdf::widthOf(data_->file, "increments");
  data_->rows.clear();
  for (size_t i = 0; i + width <= v.size() && width >= aboutWidth - 1; i += width) {
    if (v[i + 3] <= 0) break;  // the extent is there already, the row not yet
    const bool counts = v[i] >= 0 && v[i] < double(data_->header.steps.size()) && std::abs(v[i + 1]) < 1e9 &&
                        std::abs(v[i + 4]) < 1e9 && std::abs(v[i + 5]) < 1e9 && std::isfinite(v[i + 2]);
    if (!counts)
      throw Error("increment " + std::to_string(i / width + 1) + " is not in order", data_->path, "The results file is damaged.");
    const double slot = width < aboutWidth ? double(i / width) : v[i + 6];  // before format 4 all were stored
    if (!(slot >= notStored && slot < 1e9))
      throw Error("increment " + std::to_string(i / width + 1) + " is not in order", data_->path, "The results file is damaged.");
    data_->rows.push_back({int(v[i]), int(v[i + 1]), int(v[i + 4]), int(v[i + 5]), v[i + 2], v[i + 3], int(slot), slot >= 0});
  }
  if (!data_->rows.empty() && data_->rows.back().slot > notStored) data_->rows.back().stored = true;
  return data_->rows.size() != before;
}

std::string Reader::outcome() const {
  const auto stored = hdf::readAll<double>(data_->file, "outcome");
  const double code = stored.empty() ? 0 : stored[0];
  return code == 1 ? "finished" : code == 2 ? "stopped" : code == 3 ? "failed" : "";
}

/// An increment's row of a set, where it lies. Throws Error when it is not stored.
template <class T>
std::vector<T> Reader::Data::storedRow(const std::string& set, size_t row) const {
  if (row >= rows.size())
    throw Error("increment " + std::to_string(row + 1) + " of '" + set + "' is not there", path, "Choose an earlier one.");
  if (!rows[row].stored)
    throw Error("increment " + std::to_string(row + 1) + " was not stored, its histories alone", path,
                "Which ones are is said by \"results\" of the model.");
  const int slot = rows[row].slot;
  return hdf::readRow<T>(file, slot < 0 ? "latest/" + set : set, size_t(slot < 0 ? -1 - slot : slot));
}
/// The same; Throws Error when it is not as long as the header has it.
template <class T>
std::vector<T> Reader::Data::rowOf(const std::string& set, size_t row) const {
  auto v = storedRow<T>(set, row);
  if (v.size() != rowLength(header, set))
    throw Error("'" + set + "' does not fit the mesh", path, "The results file is damaged.");
  return v;
}

size_t Reader::storedNear(double time) const {
  size_t best = data_->rows.size();
  for (size_t i = 0; i < data_->rows.size(); ++i)
    if (data_->rows[i].stored &&
        (best == data_->rows.size() || std::abs(data_->rows[i].time - time) < std::abs(data_->rows[best].time - time)))
      best = i;
  if (best == data_->rows.size())
    throw Error("no increment is stored yet", data_->path, "Wait for the run, or run the model again.");
  return best;
}
size_t Reader::storedNear(size_t row) const { return data_->rows.at(row).stored ? row : storedNear(data_->rows[row].time); }

bool Reader::has(const std::string& field) const {
  const auto& out = data_->header.leftOut;
  return std::find(out.begin(), out.end(), field) == out.end();
}

std::vector<float> Reader::field(const std::string& name, size_t row) const {
  if (!has(name))
    throw Error("'" + name + "' is not stored", data_->path, "The model leaves it out of its results: run it again with it.");
  return data_->rowOf<float>("fields/" + name, row);
}
std::vector<float> Reader::contact(size_t contact, size_t row) const {
  return data_->rowOf<float>(numbered("contacts/state ", contact), row);
}
std::vector<double> Reader::rigid(size_t row) const { return data_->rowOf<double>("rigid/place", row); }

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

Row Reader::histories(size_t row) const {
  Row r;
  const auto& about = data_->rows.at(row);
  r.step = about.step, r.index = about.index, r.iterations = about.iterations, r.cutbacks = about.cutbacks, r.time = about.time,
  r.size = about.size;
  r.keep = Keep::historiesOnly, r.residuals = residuals(row), r.histories = hdf::readRow<double>(data_->file, "histories", row);
  if (r.histories.size() != data_->header.historyNames.size())
    throw Error("'histories' does not fit the mesh", data_->path, "The results file is damaged.");
  return r;
}

Row Reader::whole(size_t row) const {
  Row r = histories(row);
  r.keep = Keep::forGood;
  const auto unlessLeftOut = [&](const std::string& name) { return has(name) ? field(name, row) : std::vector<float>(); };
  r.displacement = field("displacement", row), r.reaction = unlessLeftOut("reaction"), r.stress = unlessLeftOut("stress"),
  r.strain = unlessLeftOut("strain");
  r.plastic = unlessLeftOut("plastic strain"), r.energyDensity = unlessLeftOut("strain energy");
  for (size_t i = 0; i < data_->header.contacts.size(); ++i) r.contacts.push_back(contact(i, row));
  if (!data_->header.mesh.lines.empty()) r.turn = field("turn", row), r.slender = field("slender", row);
  r.rigid = rigid(row), r.restart = restart(row);
  return r;
}

NamedVectors Reader::restart(size_t row) const {
  if (!hdf::exists(data_->file, "restart names"))
    throw Error("an older program wrote this file: it can be looked at, but a run cannot go on from it", data_->path,
                "Run from the start.");
  NamedVectors all;
  for (const auto& name : hdf::readNames(data_->file, "restart names"))
    all[name] = data_->storedRow<double>("restart/" + name, row);
  return all;
}

}  // namespace anvil::results
