// How much memory there is to be had.
#pragma once

namespace anvil {

/// Memory that can be taken without swapping, in MB, as the system tells; 1e300 when it does not.
double availableMemory();

}  // namespace anvil
