// Thin ownership over HDF5's C interface.
#pragma once
#include <hdf5.h>

#include <algorithm>
#include <cstdint>
#include <string>
#include <utility>
#include <vector>

#include "core/base/error.hpp"

namespace anvil::results::hdf {

/// An HDF5 identifier that closes itself.
class Id {
 public:
  Id() = default;
  Id(hid_t id, herr_t (*close)(hid_t), const std::string& what) : id_(id), close_(close) {
    if (id < 0)
      throw Error("the results file does not hold what is expected (" + what + ")", {},
                  "It may be damaged or made by another program.");
  }
  Id(Id&& o) noexcept : id_(std::exchange(o.id_, -1)), close_(o.close_) {}
  Id& operator=(Id&& o) noexcept {
    std::swap(id_, o.id_), std::swap(close_, o.close_);
    return *this;
  }
  ~Id() {
    if (id_ >= 0) close_(id_);
  }
  operator hid_t() const { return id_; }
  /// Leaves it open for good.
  void leave() { id_ = -1; }

 private:
  hid_t id_ = -1;
  herr_t (*close_)(hid_t) = nullptr;
};

template <class T>
hid_t typeOf();
template <>
inline hid_t typeOf<float>() {
  return H5T_NATIVE_FLOAT;
}
template <>
inline hid_t typeOf<double>() {
  return H5T_NATIVE_DOUBLE;
}
template <>
inline hid_t typeOf<int>() {
  return H5T_NATIVE_INT;
}

inline Id openSet(hid_t file, const std::string& name) { return {H5Dopen2(file, name.c_str(), H5P_DEFAULT), H5Dclose, name}; }
inline bool exists(hid_t file, const std::string& name) { return H5Lexists(file, name.c_str(), H5P_DEFAULT) > 0; }

inline std::vector<hsize_t> sizeOf(hid_t set) {
  Id space(H5Dget_space(set), H5Sclose, "space");
  std::vector<hsize_t> dims(size_t(H5Sget_simple_extent_ndims(space)));
  H5Sget_simple_extent_dims(space, dims.data(), nullptr);
  return dims;
}

inline void check(herr_t status, const char* what) {
  if (status < 0)
    throw Error(std::string("the results file could not be written (") + what + ")", {},
                "Check that the disk has room; what was stored before is whole.");
}

/// Throws Error when a set claims more than a file of this size can hold, however well it is packed.
inline void plausible(hid_t set, size_t count, size_t each) {
  const Id file(H5Iget_file_id(set), H5Fclose, "file");
  hsize_t bytes = 0;
  H5Fget_filesize(file, &bytes);
  if (each && count > (2000 * size_t(bytes) + (1 << 20)) / each)
    throw Error("a part of it claims to be larger than the whole", {}, "The results file is damaged.");
}

/// How a set of fixed size is kept: in pieces with a checksum each.
inline Id checkedPieces(hsize_t rows, hsize_t columns, size_t each, const std::string& name) {
  Id property(H5Pcreate(H5P_DATASET_CREATE), H5Pclose, name);
  if (!rows || !columns) return property;
  const hsize_t piece[2] = {std::min<hsize_t>(rows, std::max<hsize_t>(1, (hsize_t(1) << 26) / (columns * each))), columns};
  H5Pset_chunk(property, 2, piece), H5Pset_fletcher32(property);
  return property;
}

/// A fixed dataset written at once. Only what is written once can carry checksums that readers at any time find right.
template <class T>
void writeFixed(hid_t file, const std::string& name, const std::vector<T>& values, hsize_t columns, bool once = true) {
  const hsize_t dims[2] = {columns ? values.size() / columns : 0, columns};
  Id space(H5Screate_simple(2, dims, nullptr), H5Sclose, name);
  const Id pieces = checkedPieces(once ? dims[0] : 0, dims[1], sizeof(T), name);
  Id set(H5Dcreate2(file, name.c_str(), typeOf<T>(), space, H5P_DEFAULT, pieces, H5P_DEFAULT), H5Dclose, name);
  if (!values.empty()) check(H5Dwrite(set, typeOf<T>(), H5S_ALL, H5S_ALL, H5P_DEFAULT, values.data()), name.c_str());
}
template <class T>
std::vector<T> readAll(hid_t file, const std::string& name) {
  const Id set = openSet(file, name);
  H5Drefresh(set);  // it may have grown since the file was opened
  size_t n = 1;
  for (hsize_t d : sizeOf(set)) {
    if (d && n > (size_t(1) << 48) / d) throw Error("'" + name + "' is too large to be true", {}, "The results file is damaged.");
    n *= size_t(d);
  }
  plausible(set, n, sizeof(T));
  std::vector<T> values(n);
  if (n && H5Dread(set, typeOf<T>(), H5S_ALL, H5S_ALL, H5P_DEFAULT, values.data()) < 0)
    throw Error("'" + name + "' cannot be read", {}, "The results file is damaged.");
  return values;
}

/// Texts in UTF-8, all as long in the file as the longest.
inline void writeTexts(hid_t file, const std::string& name, const std::vector<std::string>& texts) {
  size_t longest = 1;
  for (const auto& t : texts) longest = std::max(longest, t.size());
  Id type(H5Tcopy(H5T_C_S1), H5Tclose, name);
  H5Tset_size(type, longest), H5Tset_cset(type, H5T_CSET_UTF8), H5Tset_strpad(type, H5T_STR_NULLPAD);
  const hsize_t dims[2] = {texts.size(), 1};
  Id space(H5Screate_simple(2, dims, nullptr), H5Sclose, name);
  const Id pieces = checkedPieces(dims[0], 1, longest, name);
  Id set(H5Dcreate2(file, name.c_str(), type, space, H5P_DEFAULT, pieces, H5P_DEFAULT), H5Dclose, name);
  std::string all(longest * texts.size(), '\0');
  for (size_t i = 0; i < texts.size(); ++i) texts[i].copy(all.data() + i * longest, longest);
  if (!all.empty()) check(H5Dwrite(set, type, H5S_ALL, H5S_ALL, H5P_DEFAULT, all.data()), name.c_str());
}
inline void writeText(hid_t file, const std::string& name, const std::string& text) { writeTexts(file, name, {text}); }

inline std::vector<std::string> readTexts(hid_t file, const std::string& name) {
  const Id set = openSet(file, name);
  const Id type(H5Dget_type(set), H5Tclose, name);
  const auto dims = sizeOf(set);
  const size_t count = dims.empty() ? 1 : size_t(dims[0]), length = H5Tget_size(type);
  const bool characters = H5Tget_class(type) == H5T_INTEGER && length == 1;  // as format 2 had them
  if (!characters && H5Tget_class(type) != H5T_STRING)
    throw Error("'" + name + "' holds no text", {}, "The results file is damaged.");
  plausible(set, count, length);
  std::string all(count * length, '\0');
  if (!all.empty() && H5Dread(set, type, H5S_ALL, H5S_ALL, H5P_DEFAULT, all.data()) < 0)
    throw Error("'" + name + "' cannot be read", {}, "The results file is damaged.");
  if (characters) return {all};
  std::vector<std::string> texts;
  for (size_t i = 0; i < count; ++i) {
    texts.push_back(all.substr(i * length, length));
    texts.back().resize(std::min(texts.back().find('\0'), texts.back().size()));
  }
  return texts;
}
inline std::string readText(hid_t file, const std::string& name) {
  const auto texts = readTexts(file, name);
  return texts.empty() ? "" : texts.front();
}
/// A list of names: a text each, in format 2 a line each of one.
inline std::vector<std::string> readNames(hid_t file, const std::string& name) {
  auto texts = readTexts(file, name);
  if (texts.size() == 1 && texts.front().empty()) return {};
  if (texts.size() != 1 || texts.front().back() != '\n') return texts;
  std::vector<std::string> names;
  const std::string all = texts.front();
  for (size_t from = 0, to; from < all.size() && (to = all.find('\n', from)) != std::string::npos; from = to + 1)
    names.push_back(all.substr(from, to - from));
  return names;
}

/// Says in the file what the numbers of a set are.
inline void describe(hid_t set, const char* attribute, const std::string& words) {
  if (words.empty()) return;
  Id type(H5Tcopy(H5T_C_S1), H5Tclose, attribute);
  H5Tset_size(type, words.size()), H5Tset_cset(type, H5T_CSET_UTF8), H5Tset_strpad(type, H5T_STR_NULLPAD);
  Id space(H5Screate(H5S_SCALAR), H5Sclose, attribute);
  Id at(H5Acreate2(set, attribute, type, space, H5P_DEFAULT, H5P_DEFAULT), H5Aclose, attribute);
  check(H5Awrite(at, type, words.data()), attribute);
}

inline bool worthPacking(hsize_t width) { return width >= 256; }

/// A dataset of rows of fixed length that grows. Rows of a set that is not `packed` can be written again in their place.
template <class T>
Id createGrowing(hid_t file, const std::string& name, hsize_t width, const std::string& unit, bool packed = true) {
  const hsize_t dims[2] = {0, width}, most[2] = {H5S_UNLIMITED, width}, chunk[2] = {1, width ? width : 1};
  Id space(H5Screate_simple(2, dims, most), H5Sclose, name);
  Id property(H5Pcreate(H5P_DATASET_CREATE), H5Pclose, name);
  H5Pset_chunk(property, 2, chunk);  // a row is written once and never touched again: neither kills nor readers meet half of one
  if (packed && worthPacking(width)) H5Pset_shuffle(property), H5Pset_deflate(property, 1);
  if (width) H5Pset_fletcher32(property);
  const Id access(H5Pcreate(H5P_DATASET_ACCESS), H5Pclose, name);
  H5Pset_chunk_cache(access, 0, 0, 1);  // what is written once is not kept in memory
  Id set(H5Dcreate2(file, name.c_str(), typeOf<T>(), space, H5P_DEFAULT, property, access), H5Dclose, name);
  describe(set, "unit", unit);
  return set;
}
template <class T>
void appendRow(hid_t set, const T* values, hsize_t width, hsize_t row) {
  const hsize_t dims[2] = {row + 1, width};
  if (sizeOf(set)[0] <= row) check(H5Dset_extent(set, dims), "extend");
  if (!width) return;
  Id space(H5Dget_space(set), H5Sclose, "space");
  const hsize_t at[2] = {row, 0}, count[2] = {1, width};
  H5Sselect_hyperslab(space, H5S_SELECT_SET, at, nullptr, count, nullptr);
  Id memory(H5Screate_simple(2, count, nullptr), H5Sclose, "memory");
  check(H5Dwrite(set, typeOf<T>(), memory, space, H5P_DEFAULT, values), "write");
}
/// A row of a packed set, as results::packed made it.
inline void appendPackedRow(hid_t set, const std::vector<std::uint8_t>& bytes, hsize_t row) {
  auto dims = sizeOf(set);
  const hsize_t at[2] = {row, 0};
  if (dims[0] <= row) dims[0] = row + 1, check(H5Dset_extent(set, dims.data()), "extend");
  check(H5Dwrite_chunk(set, H5P_DEFAULT, 0, at, bytes.size(), bytes.data()), "write");
}
inline size_t rowsOf(hid_t file, const std::string& name) {
  const Id set = openSet(file, name);
  H5Drefresh(set);  // it may have grown since the file was opened
  const auto dims = sizeOf(set);
  return dims.empty() ? 0 : size_t(dims[0]);
}
inline size_t widthOf(hid_t file, const std::string& name) {
  const auto dims = sizeOf(openSet(file, name));
  return dims.size() < 2 ? 0 : size_t(dims[1]);
}
/// Rows of a set that grows, one after another. Not more than are known to be whole: what comes behind may be half written.
template <class T>
std::vector<T> readRows(hid_t file, const std::string& name, size_t first, size_t rows) {
  const Id set = openSet(file, name);
  H5Drefresh(set);
  const auto dims = sizeOf(set);
  if (dims.size() != 2 || rows > dims[0] || first > dims[0] - rows)
    throw Error("increment " + std::to_string(first + rows) + " of '" + name + "' is not there", {}, "Choose an earlier one.");
  plausible(set, size_t(dims[1]) * rows, sizeof(T));
  std::vector<T> values(static_cast<size_t>(dims[1]) * rows);
  if (values.empty()) return values;
  Id space(H5Dget_space(set), H5Sclose, "space");
  const hsize_t at[2] = {first, 0}, count[2] = {rows, dims[1]};
  H5Sselect_hyperslab(space, H5S_SELECT_SET, at, nullptr, count, nullptr);
  Id memory(H5Screate_simple(2, count, nullptr), H5Sclose, "memory");
  if (H5Dread(set, typeOf<T>(), memory, space, H5P_DEFAULT, values.data()) < 0)
    throw Error("'" + name + "' cannot be read", {}, "The results file is damaged there.");
  return values;
}
template <class T>
std::vector<T> readRow(hid_t file, const std::string& name, size_t row) {
  return readRows<T>(file, name, row, 1);
}

}  // namespace anvil::results::hdf
