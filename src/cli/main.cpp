// The shell interface: anvil run, check, table, export, schema, verify.
#include <CLI/CLI.hpp>
#include <cstdio>
#include <cstdlib>
#include <iostream>
#include <new>

#include "cli/commands.hpp"
#include "core/base/error.hpp"
#include "core/base/process.hpp"

/// The exit code, unless what was said did not arrive: on a full disk, say.
static int told(int code) {
  std::cout.flush();
  if (std::fflush(stdout) == 0 && !std::ferror(stdout) && std::cout) return code;
  std::cerr << "anvil: the standard output cannot be written to. Check that its disk has room.\n";
  return code ? code : 1;
}

static int act(int argc, char** argv) {
  CLI::App app{
      "Unyielding Anvil: contact, yielding and large deflection, increment by increment.\n\n"
      "Examples:\n"
      "  anvil import part.step part.anvil                   a model of the bodies in a STEP file\n"
      "  anvil check part.anvil                              is anything missing or doubtful?\n"
      "  anvil run part.anvil --set wall=3                   run with another parameter\n"
      "  anvil table part.results.h5 \"contact pressure\" --on sleeve.bore --time 2\n"
      "  anvil table part.results.h5 \"motions/pull/force z\"  a history over all increments\n"
      "  anvil export part.results.h5 --vtu out/part         for general viewers\n"};
  app.require_subcommand(1);
  app.set_version_flag("--version", "unyielding anvil 0.1.0");
  anvil::cli::addCommands(app);
  try {
    app.parse(argc, argv);
    return anvil::cli::exitCode();
  } catch (const CLI::ParseError& e) {
    const int code = app.exit(e);
    return code == 0 ? 0 : 2;
  } catch (const anvil::Error& e) {
    std::cerr << "anvil: " << e.what() << "\n";
    return anvil::cli::exitCode() ? anvil::cli::exitCode() : 1;
  } catch (const std::bad_alloc&) {
    std::cerr << "anvil: there is not enough memory. Use coarser elements, close other programs, or take a larger machine.\n";
    return 1;
  } catch (const std::exception& e) {
    std::cerr << "anvil: unexpected trouble: " << e.what() << "\n";
    return 70;
  }
}

int main(int argc, char** argv) {
  anvil::secureProcess();
  const int code = told(act(argc, argv));
  std::cerr.flush();
  // all is written: the libraries need not tidy up, which one of them does not come to the end of when it is short of memory
  std::_Exit(code);
}
