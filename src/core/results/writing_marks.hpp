// What HDF5 marks a file with while it is written.
#pragma once
#include <string>

namespace anvil::results {

/// Takes the marks "is being written" off an HDF5 file, so that general tools open it also while a run goes on or after it was
/// killed. What is brought to disk increment by increment is whole without them, and our own lock keeps other writers away.
/// The superblock of versions 3: HDF5 File Format Specification 3.0, II.A. Does nothing to other files.
void dropWritingMarks(const std::string& path);

}  // namespace anvil::results
