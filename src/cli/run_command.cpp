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
#include <nlohmann/json.hpp>
#include <thread>

#include "cli/commands.hpp"
#include "core/base/error.hpp"
#include "core/base/files.hpp"
#include "core/base/text.hpp"
#include "core/job/run_model.hpp"
#include "core/model/document.hpp"
#include "core/model/history.hpp"
#include "core/model/json.hpp"
#include "core/model/quantities.hpp"

namespace anvil::cli {
namespace {

using Json = nlohmann::ordered_json;
std::atomic<bool> stopAsked{false};
constexpr int stoppedCode = 4;

void onSignal(int) { stopAsked = true; }

/// Reads "pause", "resume" and "stop" from standard input without waiting.
class Remote {
 public:
  Remote(bool listens, std::function<void(const char*)> told) : listens_(listens), told_(std::move(told)) {}
  /// Blocks while paused. True: stop.
  bool stop() {
    do {
      read(paused_ ? 100 : 0);
    } while (paused_ && !stopAsked);
    return stopAsked;
  }

 private:
  void read(int milliseconds) {
    if (!listens_) return;
    pollfd fd{STDIN_FILENO, POLLIN, 0};
    if (::poll(&fd, 1, milliseconds) <= 0) return;
    char buffer[256];
    const auto n = ::read(STDIN_FILENO, buffer, sizeof buffer);
    if (n <= 0) {
      listens_ = false, paused_ = false;
      return;
    }
    text_.append(buffer, size_t(n));
    for (size_t end; (end = text_.find('\n')) != std::string::npos; text_.erase(0, end + 1)) {
      const auto word = text_.substr(0, end);
      if (word == "pause" && !paused_) paused_ = true, told_("paused");
      if (word == "resume" && paused_) paused_ = false, told_("resumed");
      if (word == "stop") stopAsked = true;
    }
  }
  bool listens_, paused_ = false;
  std::function<void(const char*)> told_;
  std::string text_;
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
  static void say(const Json& j) { std::cout << j.dump(-1, ' ', false, Json::error_handler_t::replace) << "\n" << std::flush; }
  void iterated(const analysis::IterationReport& r) override {
    say({{"event", "iteration"},
         {"step", d_.steps[size_t(r.step)].first},
         {"increment", r.increment},
         {"attempt", r.attempt},
         {"iteration", r.iteration},
         {"time", r.time},
         {"size", r.size},
         {"force", r.force},
         {"force limit", r.forceLimit},
         {"correction", finite(r.correction)},
         {"correction limit", r.correctionLimit},
         {"contact changes", r.contactChanges},
         {"contact active", r.contactActive},
         {"gap error", r.gapError},
         {"worst node", r.worstNode}});
  }
  void converged(const analysis::Increment& i) override {
    say({{"event", "increment"},
         {"step", d_.steps[size_t(i.step)].first},
         {"increment", i.index},
         {"time", i.time},
         {"size", i.size},
         {"iterations", i.iterations},
         {"cuts", i.cutbacks}});
  }
  void cutBack(const analysis::IterationReport& r, const std::string& why, double size) override {
    say({{"event", "cut"}, {"time", r.time}, {"size", size}, {"why", why}, {"worst node", r.worstNode}});
  }
  void warned(const std::string& text) override { say({{"event", "note"}, {"text", text}}); }
  bool stop() override { return remote_.stop(); }

 private:
  static double finite(double v) { return v < 1e200 ? v : -1; }
  const model::Document& d_;
  Remote remote_{true, [](const char* what) { say({{"event", what}}); }};
};

std::string defaultOut(const std::string& model) {
  return std::filesystem::path(model).replace_extension(".results.h5").string();
}

struct RunArguments {
  std::string model, out, progress = "table";
  std::vector<std::string> set;
  int threads = 0, from = 0;
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
      JsonPrinter::say({{"event", "meshing"}, {"text", stage}});
    else if (!a.quiet)
      fmt::print("meshing {}\n", stage), std::fflush(stdout);
    return !stopAsked.load();
  };
  options.remember = true;
  options.stopAsked = [] { return stopAsked.load(); };
  const auto sayStopped = [&] {
    if (a.progress == "json")
      JsonPrinter::say({{"event", "stopped"}, {"results", options.out}});
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
    Json steps = Json::array();
    for (const auto& n : document.steps.names()) steps.push_back(n);
    JsonPrinter::say({{"event", "start"}, {"model", a.model}, {"results", options.out}, {"steps", steps}});
  }
  analysis::Timing timing;
  try {
    const auto outcome = job::runModel(document, options, printer.get(), &timing);
    const bool stopped = outcome == analysis::Outcome::stopped;
    if (stopped)
      exitCode() = stoppedCode, sayStopped();
    else if (json)
      JsonPrinter::say({{"event", "finished"}, {"results", options.out}});
    else if (!a.quiet)
      fmt::print("Done; results: {}\n", options.out);
    if (a.timing)
      fmt::print(
          "iterations {}; seconds: elements {:.3f}, contact {:.3f}, assembly {:.3f}, factorisation {:.3f}, solution {:.3f}\n",
          timing.iterations, timing.elements, timing.contact, timing.assembly, timing.factorisation, timing.solution);
  } catch (const Error& e) {
    if (stopAsked) {  // while it was meshing: no fault of anything
      exitCode() = stoppedCode;
      return sayStopped();
    }
    exitCode() = e.where().starts_with("step '") ? 3 : 1;
    const auto sentence = model::sentenceWithLine(e, readWhole(a.model));
    if (json)
      JsonPrinter::say(
          {{"event", "failed"}, {"what", e.wrong()}, {"where", e.where()}, {"try", e.remedy()}, {"sentence", sentence}});
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
