// Runs the tests of the core and the shell in German, where numbers have a comma: nothing of what is read, computed or written
// may know it. ANVIL_LANGUAGE=plain runs them without.
#include <gtest/gtest.h>

#include <cstdlib>
#include <memory>

#include "german.hpp"

int main(int argc, char** argv) {
  testing::InitGoogleTest(&argc, argv);
  const char* wish = std::getenv("ANVIL_LANGUAGE");
  const auto german = wish && std::string(wish) == "plain" ? nullptr : std::make_unique<anvil::German>();
  return RUN_ALL_TESTS();
}
