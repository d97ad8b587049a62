#include "core/results/file_access.hpp"

#include "core/base/file_lock.hpp"

namespace anvil::results {

/// No messages of the library, and no farewell: a file that a full disk has broken off cannot be closed, and trying it again at
/// the end of the program ends in a fault.
void quiet() {
  static const int once = H5dont_atexit();
  (void)once;
  H5Eset_auto2(H5E_DEFAULT, nullptr, nullptr);
}

hdf::Id fileAccess() {
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

// Opens a file to read. While a run writes it, the library looks again where it meets half of a change, and waits twice as long
/// each time: 24 times are 17 ms, the 100 that it would take by itself never end where a file is damaged.
hid_t openToRead(const std::string& path) {
  const auto property = fileAccess();
  const bool written = isLocked(path);
  for (const bool live : {written, !written}) {
    H5Pset_metadata_read_attempts(property, written ? 24 : 1);
    const auto way = H5F_ACC_RDONLY | (live ? H5F_ACC_SWMR_READ : 0u);
    if (const hid_t id = H5Fopen(path.c_str(), way, property); id >= 0) return id;
  }
  return -1;
}

}  // namespace anvil::results
