// The German language, in which numbers have a comma, for tests of what must not depend on it.
#pragma once
#include <clocale>
#include <cstdlib>
#include <filesystem>
#include <string>

namespace anvil {

/// Makes the language in a folder and sets it for the process until the end of its life; `there` is false where the system has
/// no sources to make it of (package locales).
class German {
 public:
  explicit German(const std::filesystem::path& folder) {
    const auto made = folder / "de_DE.UTF-8";
    if (std::system(("localedef -i de_DE -f UTF-8 " + made.string() + " >/dev/null 2>&1").c_str()) > 1 << 8) return;
    setenv("LOCPATH", folder.c_str(), 1);
    there = std::setlocale(LC_ALL, "de_DE.UTF-8") != nullptr;
  }
  ~German() {
    std::setlocale(LC_ALL, "C");
    unsetenv("LOCPATH");
  }
  German(const German&) = delete;
  bool there = false;
};

}  // namespace anvil
