// What a run tells as it goes, one line of JSON an event, and what it may be told meanwhile. The shell writes and hears it; the
// window and scripts read it and say it.
#pragma once
#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace anvil::job {

/// An event of a run. Which members an event has stands in the user guide; the others are as they were made.
struct Progress {
  enum class Event { start, meshing, iteration, increment, cut, note, paused, resumed, stopped, finished, failed };
  Event event = Event::note;
  std::string model, results;                 ///< start; results also of stopped and finished
  std::vector<std::string> steps;             ///< start: their names
  std::string step;                           ///< iteration, increment
  std::string text;                           ///< meshing, note
  std::string why;                            ///< cut
  std::string what, where, remedy, sentence;  ///< failed; the sentence is all of it, with the line of the file
  int increment = 0, attempt = 0, iteration = 0, contactChanges = 0, contactActive = 0, worstNode = -1, iterations = 0, cuts = 0;
  double time = 0, size = 0;                   ///< s
  double force = 0, forceLimit = 0;            ///< N
  double correction = 0, correctionLimit = 0;  ///< mm; -1 where there was none yet
  double gapError = 0;                         ///< mm
  bool operator==(const Progress&) const = default;
};

/// The event as a line, without its end.
std::string lineOf(const Progress& progress);

/// The event of a line; nothing for what is no event. What is missing or no number of its kind stays as it was made.
std::optional<Progress> progressOf(std::string_view line);

/// The words pause, resume and stop, a line each, as they come in pieces.
class Orders {
 public:
  /// Takes the next bytes; `changed` hears of what begins or ends to pause.
  void hear(std::string_view bytes, const std::function<void(Progress::Event)>& changed);
  /// Nobody is there to say more: goes on.
  void end() { paused_ = false; }
  bool paused() const { return paused_; }
  bool stopped() const { return stopped_; }

 private:
  std::string line_;
  bool paused_ = false, stopped_ = false;
};

}  // namespace anvil::job
