// Long work that tells how it goes, and can be ended.
#pragma once
#include <functional>
#include <string>

namespace anvil::mesh {

/// Told of the stages of the work, and now and then with nothing new ("") besides; returns false to end it.
using Working = std::function<bool(const std::string& stage)>;

}  // namespace anvil::mesh
