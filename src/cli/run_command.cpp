// anvil run: a readable progress table, or newline-delimited JSON for the window and scripts.
#include <fmt/format.h>
#include <poll.h>
#include <unistd.h>
#include <atomic>
#include <csignal>
#include <cstdlib>
#include <filesystem>
#include <functional>
#include <iostream>
#include <thread>

#include "cli/commands.hpp"
#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/base/memory.hpp"
#include "core/base/text.hpp"
#include "core/job/progress.hpp"
#include "core/job/run_model.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"

namespace anvil::cli {
namespace {

std::atomic<bool> stopAsked{false};
constexpr int stoppedCode = 4;

void onSignal(int) { stopAsked = true; }

using job::Progress;
using Event = Progress::Event;

void say(const Progress& progress) { std::cout << job::lineOf(progress) << "\n" << std::flush; }
Progress event(Event what) {
  Progress p;
  p.event = what;
  return p;
}
Progress withResults(Event what, const std::string& results) {
  auto p = event(what);
  p.results = results;
  return p;
}
Progress withText(Event what, const std::string& text) {
  auto p = event(what);
  p.text = text;
  return p;
}

/// Hears orders on standard input without waiting.
class Remote {
 public:
  /// Blocks while paused. True: stop.
  bool stop() {
    do {
      hear(orders_.paused() ? 100 : 0);
    } while (orders_.paused() && !orders_.stopped() && !stopAsked);
    if (orders_.stopped()) stopAsked = true;
    return stopAsked;
  }

 private:
  void hear(int milliseconds) {
    if (!listens_) return;
    pollfd fd{STDIN_FILENO, POLLIN, 0};
    if (::poll(&fd, 1, milliseconds) <= 0) return;
    char buffer[256];
    const auto n = ::read(STDIN_FILENO, buffer, sizeof buffer);
    if (n <= 0) {
      listens_ = false, orders_.end();
      return;
    }
    orders_.hear({buffer, size_t(n)}, [](Event what) { say(event(what)); });
  }
  bool listens_ = true;
  job::Orders orders_;
};

class TablePrinter : public analysis::Observer {
 public:
  explicit TablePrinter(const model::Document& d) : d_(d) {
    fmt::print("{:<12} {:>5} {:>10} {:>10} {:>4} {:>12} {:>8}\n", "step", "incr", "time", "size", "iter", "residual", "contact");
  }
  void iterated(const analysis::IterationReport& r) override { last_ = r; }
  void converged(const analysis::Increment& i) override {
    fmt::print("{:<12} {:>5} {:>10.6g} {:>10.3g} {:>4} {:>12.3g} {:>8}\n", d_.steps[size_t(i.step)].first, i.index, i.time,
               i.size, i.iterations, last_.forceLimit > 0 ? last_.force / last_.forceLimit : 0, last_.contactActive);
    std::fflush(stdout);
  }
  void cutBack(const analysis::IterationReport&, const std::string& why, double size) override {
    fmt::print("  shorter increment ({:.3g}): {}\n", size, why);
  }
  void warned(const std::string& text) override { fmt::print("  note: {}\n", text); }
  bool stop() override { return stopAsked; }

 private:
  const model::Document& d_;
  analysis::IterationReport last_;
};

class JsonPrinter : public analysis::Observer {
 public:
  explicit JsonPrinter(const model::Document& d) : d_(d) {}
  void iterated(const analysis::IterationReport& r) override {
    auto p = event(Event::iteration);
    p.step = d_.steps[size_t(r.step)].first;
    p.increment = r.increment, p.attempt = r.attempt, p.iteration = r.iteration, p.time = r.time, p.size = r.size;
    p.force = r.force, p.forceLimit = r.forceLimit;
    p.correction = r.correction < 1e200 ? r.correction : -1, p.correctionLimit = r.correctionLimit;
    p.contactChanges = r.contactChanges, p.contactActive = r.contactActive, p.gapError = r.gapError, p.worstNode = r.worstNode;
    say(p);
  }
  void converged(const analysis::Increment& i) override {
    auto p = event(Event::increment);
    p.step = d_.steps[size_t(i.step)].first, p.increment = i.index, p.time = i.time, p.size = i.size;
    p.iterations = i.iterations, p.cuts = i.cutbacks;
    say(p);
  }
  void cutBack(const analysis::IterationReport& r, const std::string& why, double size) override {
    auto p = event(Event::cut);
    p.time = r.time, p.size = size, p.why = why, p.worstNode = r.worstNode;
    say(p);
  }
  void warned(const std::string& text) override { say(withText(Event::note, text)); }
  bool stop() override { return remote_.stop(); }

 private:
  const model::Document& d_;
  Remote remote_;
};

std::string defaultOut(const std::string& model) {
  return std::filesystem::path(model).replace_extension(".results.h5").string();
}

struct RunArguments {
  std::string model, out, progress = "table";
  std::vector<std::string> set;
  int threads = 0, from = 0;
  std::uint64_t memory = 0;  // bytes; 0: what is free
  bool resume = false, quiet = false, timing = false;
};

void runCommand(const RunArguments& a) {
  std::signal(SIGINT, onSignal), std::signal(SIGTERM, onSignal), std::signal(SIGPIPE, SIG_IGN);
  auto document = model::load(a.model);
  for (const auto& s : a.set) model::setParameter(document, s);
  const auto out = a.out.empty() ? defaultOut(a.model) : a.out;
  keepApart(out, a.model, "the results");
  for (const auto& file : model::filesOf(document)) keepApart(out, file, "the results");
  job::RunOptions options{out, a.threads, a.resume, {}};
  options.meshing = [&](const std::string& stage) {
    if (stage.empty()) return !stopAsked.load();
    if (a.progress == "json")
      say(withText(Event::meshing, stage));
    else if (!a.quiet)
      fmt::print("meshing {}\n", stage), std::fflush(stdout);
    return !stopAsked.load();
  };
  options.remember = true, options.memory = double(a.memory) / (1 << 20);
  options.stopAsked = [] { return stopAsked.load(); };
  const auto sayStopped = [&] {
    if (a.progress == "json")
      say(withResults(Event::stopped, options.out));
    else if (!a.quiet)
      fmt::print("Stopped; results up to here: {}\n", options.out), std::fflush(stdout);
  };
  options.leave = [&] {
    sayStopped();
    std::_Exit(stoppedCode);
  };
  if (a.from > 0) options.resumeFrom = size_t(a.from);
  const bool json = a.progress == "json";
  std::unique_ptr<analysis::Observer> printer;
  if (json)
    printer = std::make_unique<JsonPrinter>(document);
  else if (!a.quiet)
    printer = std::make_unique<TablePrinter>(document);
  if (json) {
    auto p = withResults(Event::start, options.out);
    p.model = a.model;
    for (const auto& n : document.steps.names()) p.steps.push_back(n);
    say(p);
  }
  analysis::Timing timing;
  try {
    const auto outcome = job::runModel(document, options, printer.get(), &timing);
    const bool stopped = outcome == analysis::Outcome::stopped;
    if (stopped)
      exitCode() = stoppedCode, sayStopped();
    else if (json)
      say(withResults(Event::finished, options.out));
    else if (!a.quiet)
      fmt::print("Done; results: {}\n", options.out);
    if (a.timing)
      fmt::print(
          "iterations {}; seconds: elements {:.3f}, contact {:.3f}, assembly {:.3f}, factorisation {:.3f}, solution {:.3f}, "
          "storing {:.3f}; {:.0f} MB of memory at most\n",
          timing.iterations, timing.elements, timing.contact, timing.assembly, timing.factorisation, timing.solution,
          timing.storing, mostUsedMemory());
  } catch (const Error& e) {
    if (stopAsked) {  // while it was meshing: no fault of anything
      exitCode() = stoppedCode;
      return sayStopped();
    }
    exitCode() = e.where().starts_with("step '") ? 3 : 1;
    const auto sentence = model::sentenceWithLine(e, readWhole(a.model));
    if (json) {
      auto p = event(Event::failed);
      p.what = e.wrong(), p.where = e.where(), p.remedy = e.remedy(), p.sentence = sentence;
      say(p);
    }
    throw Error(sentence);
  }
}

}  // namespace

int& exitCode() {
  static int code = 0;
  return code;
}

void addRun(CLI::App& app) {
  auto a = std::make_shared<RunArguments>();
  auto* c = app.add_subcommand(
      "run", "Solve a model, increment by increment.\n  anvil run crimp.anvil --set friction=0.2 --threads 2 --out crimp.h5");
  c->add_option("model", a->model, "Model file (*.anvil)")->required();
  c->add_option("--set", a->set, "Give a parameter another value: name=value, also with a unit: wall=\"3 mm\"");
  c->add_option("--threads", a->threads, "Number of threads; all when left out")->check(CLI::Range(0, 1024));
  c->add_option("--memory", a->memory,
                "Most memory the run takes, as \"6 GB\"; what is free when left out. Factors that do not fit lie on disk, in the "
                "folder of the results or in TMPDIR")
      ->transform([](std::string text) {
        const std::string given = text;
        try {
          if (CLI::AsSizeValue(false)(text).empty()) return text;
        } catch (const CLI::ValidationError&) {
        }
        throw CLI::ValidationError("'" + brief(given) + "' is no size of memory. Give it as \"6 GB\" or \"800 MB\".");
      });
  c->add_option("--out", a->out, "Results file; beside the model when left out");
  c->add_option("--progress", a->progress,
                "table, or json: one event per line; then \"pause\", \"resume\" and \"stop\" are read from standard input")
      ->check(CLI::IsMember({"table", "json"}));
  c->add_flag("--continue", a->resume, "Go on from the last stored increment of the results file");
  c->add_option("--continue-from", a->from, "Go on from this increment (counted from 1); later ones are dropped")
      ->check(CLI::Range(1, 1000000000));
  c->add_flag("--quiet", a->quiet, "No table");
  c->add_flag("--timing", a->timing, "Say where the time went");
  c->callback([a] { runCommand(*a); });
}

void addCommands(CLI::App& app) {
  addRun(app), addImport(app), addCheck(app), addTable(app), addExport(app), addPoint(app), addVerify(app);
}

}  // namespace anvil::cli
