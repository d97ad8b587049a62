// What every program of ours does first.
#pragma once

namespace anvil {

/// Makes a process safe to write files from: standard descriptors that were closed lead nowhere, so that no file is opened in
/// their place; a limit of file size ends in an error of the write instead of the program; numbers are read and written without
/// regard to the person's language. To be called at the beginning of main, and again after a toolkit has set the language.
void secureProcess();

}  // namespace anvil
