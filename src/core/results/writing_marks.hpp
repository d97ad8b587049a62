// What HDF5 marks a file with while it is written.
#pragma once
namespace anvil::results {

/// Takes the marks "is being written" off an HDF5 file, so that general tools open it also while a run goes on or after it was
/// killed. What is brought to disk increment by increment is whole without them, and our own lock keeps other writers away.
/// `fd`: open for reading and writing. The superblock of version 3: HDF5 File Format Specification 3.0, II.A. Does nothing to
/// other files.
void dropWritingMarks(int fd);

}  // namespace anvil::results
