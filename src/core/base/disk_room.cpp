#include "core/base/disk_room.hpp"

#include <fstream>
#include <utility>

#include "core/base/error.hpp"
#include "core/base/text.hpp"

namespace anvil {
namespace {

namespace fs = std::filesystem;

fs::path roomy;  // of DiskPlace
constexpr const char *folderBegins = ".anvil-factors-", *lockName = "held";

/// Folders of ours that nobody holds any more.
void sweepLeft(const fs::path& folder) {
  std::error_code none;
  for (const auto& f : fs::directory_iterator(folder, none)) {
    const auto lock = f.path() / lockName;
    if (f.path().filename().string().starts_with(folderBegins) && fs::is_regular_file(lock, none) && !isLocked(lock))
      fs::remove_all(f.path(), none);
  }
}

}  // namespace

DiskPlace::DiskPlace(fs::path folder) : before_(std::exchange(roomy, std::move(folder))) {}
DiskPlace::~DiskPlace() { roomy = before_; }
fs::path DiskPlace::now() { return roomy.empty() ? temporaryPlace() : roomy; }

DiskFolder::DiskFolder(double megabytes) {
  const auto in = DiskPlace::now();
  const FolderLock turn(in);  // between making the folder and holding it nobody takes it away
  sweepLeft(in);
  std::error_code fault;
  if (const auto space = fs::space(in, fault); !fault && double(space.available) < 1e6 * megabytes)
    throw Error("the factors of the equations do not fit into memory, and need about " + sizeInWords(megabytes) +
                    " of disk, where " + sizeInWords(1e-6 * double(space.available)) + " are free",
                in.string(), "Give it a folder on a disk with room (TMPDIR), use a coarser mesh, or a machine with more memory.");
  folder_.emplace(in, folderBegins);
  std::ofstream(path() / lockName).put('\n');
  lock_ = FileLock(path() / lockName);
}

}  // namespace anvil
