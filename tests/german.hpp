// The German language, in which numbers have a comma, for tests of what must not depend on it.
#pragma once
#include <clocale>
#include <cstdlib>

namespace anvil {

/// Sets the language for the process and what it starts, until the end of its life; `there` is false where the system had no
/// sources to make it of (package locales) when the tests were built.
class German {
 public:
  German() {
    setenv("LOCPATH", ANVIL_GERMAN, 1), setenv("LC_ALL", "de_DE.UTF-8", 1);
    there = std::setlocale(LC_ALL, "") != nullptr;
    if (!there) leave();
  }
  ~German() { leave(); }
  German(const German&) = delete;
  bool there = false;

 private:
  static void leave() {
    std::setlocale(LC_ALL, "C");
    unsetenv("LOCPATH"), unsetenv("LC_ALL");
  }
};

}  // namespace anvil
