// Thin ownership over HDF5's C interface.
#pragma once
#include <hdf5.h>

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

/// A fixed dataset written at once.
template <class T>
void writeFixed(hid_t file, const std::string& name, const std::vector<T>& values, hsize_t columns) {
  const hsize_t dims[2] = {columns ? values.size() / columns : 0, columns};
  Id space(H5Screate_simple(2, dims, nullptr), H5Sclose, name);
  Id set(H5Dcreate2(file, name.c_str(), typeOf<T>(), space, H5P_DEFAULT, H5P_DEFAULT, H5P_DEFAULT), H5Dclose, name);
  if (!values.empty()) check(H5Dwrite(set, typeOf<T>(), H5S_ALL, H5S_ALL, H5P_DEFAULT, values.data()), name.c_str());
}
template <class T>
std::vector<T> readAll(hid_t file, const std::string& name) {
  const Id set = openSet(file, name);
  H5Drefresh(set);  // it may have grown since the file was opened
  size_t n = 1;
  for (hsize_t d : sizeOf(set)) n *= size_t(d);
  std::vector<T> values(n);
  if (n && H5Dread(set, typeOf<T>(), H5S_ALL, H5S_ALL, H5P_DEFAULT, values.data()) < 0)
    throw Error("'" + name + "' cannot be read", {}, "The results file is damaged.");
  return values;
}

inline void writeText(hid_t file, const std::string& name, const std::string& text) {
  const hsize_t n = text.size();
  Id space(H5Screate_simple(1, &n, nullptr), H5Sclose, name);
  Id set(H5Dcreate2(file, name.c_str(), H5T_NATIVE_CHAR, space, H5P_DEFAULT, H5P_DEFAULT, H5P_DEFAULT), H5Dclose, name);
  if (n) check(H5Dwrite(set, H5T_NATIVE_CHAR, H5S_ALL, H5S_ALL, H5P_DEFAULT, text.data()), name.c_str());
}
inline std::string readText(hid_t file, const std::string& name) {
  const Id set = openSet(file, name);
  std::string text(size_t(sizeOf(set).at(0)), ' ');
  if (!text.empty() && H5Dread(set, H5T_NATIVE_CHAR, H5S_ALL, H5S_ALL, H5P_DEFAULT, text.data()) < 0)
    throw Error("'" + name + "' cannot be read", {}, "The results file is damaged.");
  return text;
}

/// A dataset of rows of fixed length that grows.
template <class T>
Id createGrowing(hid_t file, const std::string& name, hsize_t width) {
  const hsize_t dims[2] = {0, width}, most[2] = {H5S_UNLIMITED, width}, chunk[2] = {1, width ? width : 1};
  Id space(H5Screate_simple(2, dims, most), H5Sclose, name);
  Id property(H5Pcreate(H5P_DATASET_CREATE), H5Pclose, name);
  hsize_t rows = width < 64 ? 64 : 1;
  const hsize_t chunks[2] = {rows, chunk[1]};
  H5Pset_chunk(property, 2, chunks);
  if (width >= 256) H5Pset_shuffle(property), H5Pset_deflate(property, 1);
  return {H5Dcreate2(file, name.c_str(), typeOf<T>(), space, H5P_DEFAULT, property, H5P_DEFAULT), H5Dclose, name};
}
template <class T>
void appendRow(hid_t set, const T* values, hsize_t width, hsize_t row) {
  const hsize_t dims[2] = {row + 1, width};
  check(H5Dset_extent(set, dims), "extend");
  if (!width) return;
  Id space(H5Dget_space(set), H5Sclose, "space");
  const hsize_t at[2] = {row, 0}, count[2] = {1, width};
  H5Sselect_hyperslab(space, H5S_SELECT_SET, at, nullptr, count, nullptr);
  Id memory(H5Screate_simple(2, count, nullptr), H5Sclose, "memory");
  check(H5Dwrite(set, typeOf<T>(), memory, space, H5P_DEFAULT, values), "write");
}
template <class T>
std::vector<T> readRow(hid_t file, const std::string& name, size_t row) {
  const Id set = openSet(file, name);
  H5Drefresh(set);
  const auto dims = sizeOf(set);
  if (dims.size() != 2 || row >= dims[0])
    throw Error("increment " + std::to_string(row + 1) + " of '" + name + "' is not there", {}, "Choose an earlier one.");
  std::vector<T> values(static_cast<size_t>(dims[1]));
  if (values.empty()) return values;
  Id space(H5Dget_space(set), H5Sclose, "space");
  const hsize_t at[2] = {row, 0}, count[2] = {1, dims[1]};
  H5Sselect_hyperslab(space, H5S_SELECT_SET, at, nullptr, count, nullptr);
  Id memory(H5Screate_simple(2, count, nullptr), H5Sclose, "memory");
  if (H5Dread(set, typeOf<T>(), memory, space, H5P_DEFAULT, values.data()) < 0)
    throw Error("'" + name + "' cannot be read", {}, "The results file is damaged there.");
  return values;
}

}  // namespace anvil::results::hdf
