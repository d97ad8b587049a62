#include "cli/commands.hpp"
namespace anvil::cli { void addVerify(CLI::App&) {} }
