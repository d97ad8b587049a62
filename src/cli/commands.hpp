#pragma once
#include <CLI/CLI.hpp>

namespace anvil::cli {

/// Adds all verbs. Exit codes: 0 done, 1 bad model or file, 2 bad usage, 3 a step could not be solved (results up to
/// there are kept), 4 stopped on request, 5 check found faults, 6 verification over its limits.
void addCommands(CLI::App& app);

/// Exit code of the verb that ran.
int& exitCode();

void addRun(CLI::App& app);
void addCheck(CLI::App& app);
void addTable(CLI::App& app);
void addExport(CLI::App& app);
void addPoint(CLI::App& app);
void addImport(CLI::App& app);
void addVerify(CLI::App& app);

}  // namespace anvil::cli
